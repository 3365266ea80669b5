"""The brief for quotes: the same question to every electrician."""

from __future__ import annotations

from imbuto.core.basics.measures import length_text
from imbuto.core.basics.units import hours_text, number_text
from imbuto.core.home.circuits import panel_leg
from imbuto.core.home.home import Home
from imbuto.core.plan.sources import SPOT_WORDS
from imbuto.formats.printing.paper import Bullets, Paragraph, Sheet, SheetPart, TableRows
from imbuto.services.papers.private_details import for_strangers, private_words
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest

QUESTIONS = (
    "What does each item cost: equipment, labor, permit, inspection, delivery, tax?",
    "Which equipment, by rating and listing, and is it listed for this exact panel?",
    "Which circuits move, at which breakers, on which leg; what stays where it is?",
    "How many minutes is each circuit without power during the work, and does the utility have to disconnect?",
    "Who pulls the permit, and who is there for the inspection?",
    "Which circuit is moved first, as a test, before the others?",
    "What do you measure and record before you hand it over?",
    "What may the owner do, and what not?",
)


def brief(a: SheetRequest) -> Sheet:
    """Comparable by construction: everybody is asked the same. Nothing of health or absence, no serials."""
    home, outage = a.documents.home, a.documents.outages[a.outage_id]
    rows = _circuits(a)
    service = "120/240 V" if home.service.legs == 2 else f"{home.service.volts} V"
    sun = [f"{x.name}: {x.count} panels" for x in a.plan.arrays.values() if x.owned]
    made = a.sheet(
        "brief",
        "Brief for quotes",
        f"{service} service, {home.service.main_a:g} A main, {home.service.slots or '?'} slots",
        SheetPart(
            "The job",
            (
                Paragraph(
                    f"{hours_text(outage.goal_hours)} without the grid for the circuits below, in weather like "
                    f"“{outage.name}”."
                ),
                Paragraph("Existing solar: " + (", ".join(sun) if sun else "none entered.")),
                Paragraph("Generator: " + (_generator(a) or "none entered.")),
                Paragraph("Cable route: " + _way(a)),
                Paragraph("To stay within: ________________  Answer by: ________________"),
            ),
        ),
        SheetPart(
            "Circuits to move",
            (TableRows(("panel", "slots", "circuit", "breaker", "leg", "wire", "running", "start"), tuple(rows)),)
            if rows
            else (Paragraph("None: everything is on cords."),),
        ),
        SheetPart(
            "Photos to take, with covers on",
            (
                Bullets(
                    (
                        "The panel with its door open and its cover on.",
                        "Its directory.",
                        "The wall next to the panel, with a tape measure in the photo.",
                        "The station's place, and the path to it.",
                        "The meter.",
                    ),
                    ticks=True,
                ),
            ),
        ),
        SheetPart("Please answer", (Bullets(_questions(home), ticks=True),)),
    )
    return for_strangers(made, private_words(home))


def _circuits(a: SheetRequest) -> list[tuple[str, ...]]:
    """A row for each circuit that is to be moved."""
    home = a.documents.home
    rows: list[tuple[str, ...]] = []
    fed = {f.circuit for f in a.plan.feeds.values() if f.circuit}
    for c in (c for c in home.circuits.values() if c.id in fed):
        loads = home.loads_on(c.id)
        start = max((x.run_va + x.start_extra_va for x in loads if x.start_extra_va), default=0.0)
        rows.append(
            (
                home.panel_name(c.panel),
                ", ".join(map(str, c.slots)),
                c.name,
                f"{c.breaker_a:g} A{' 240 V' if c.poles == 2 and home.service.legs == 2 else ''}",
                "both" if c.poles == 2 else panel_leg(c),
                c.wire or "to check",
                f"{number_text(sum(x.count * x.run_w for x in loads))} W",
                f"{start / 1000:.1f} kVA" if start >= 300 else "",
            )
        )
    return rows


def _questions(home: Home) -> tuple[str, ...]:
    """Of a house with one leg nobody asks on which."""
    one = home.service.legs == 1
    return tuple(
        q.replace(", at which breakers, on which leg;", ", at which breakers;") if one else q for q in QUESTIONS
    )


def _generator(a: SheetRequest) -> str:
    made = next((x.generator for x in a.parts if x.generator is not None), None)
    if made is None or a.plan.engine is None:
        return ""
    there = "already owned" if a.plan.engine.owned else "to buy"
    return f"{made.name}, {number_text(made.running_w)} W, {there}."


def _way(a: SheetRequest) -> str:
    """From where the station stands to the panel, as far as it is known."""
    panel = a.documents.home.household.panel
    stands = ", ".join(dict.fromkeys(SPOT_WORDS[x.source.spot] for x in a.parts)) or "not decided"
    far = f"about {length_text(panel.distance_m)}" if panel.distance_m else "________"
    return f"the station is {stands}; from there to the panel {far}, {panel.route or 'through ________________'}."


def _unwired(a: SheetRequest) -> list[str]:
    fed = {f.circuit for f in a.plan.feeds.values()}
    return [f"the slots of {c.name}" for c in a.documents.home.circuits.values() if c.id in fed and not c.slots][:6]


KIND = SheetKind(
    "brief",
    "Brief for quotes",
    "The same questions for every electrician",
    "electricians",
    brief,
    _unwired,
)
