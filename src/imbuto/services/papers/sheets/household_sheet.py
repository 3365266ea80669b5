"""The household sheet: what works, what does not, who does what."""

from __future__ import annotations

from imbuto.core.basics.units import hours_text
from imbuto.core.home.loads import Load
from imbuto.core.run.food_warming import FREEZER, box_of, safe_text
from imbuto.core.switching.running_acts import running_acts
from imbuto.formats.printing.paper import Bullets, Paragraph, Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest, lacks_station
from imbuto.services.papers.sheets.run_card import calls

FOOD = (
    "Keep the doors closed. Trust the thermometer, never the smell.",
    "Perishables that were above {safe} for two hours are thrown away.",
    "With the doors closed, a full freezer keeps food about two days, a refrigerator about four hours.",
)


def household(a: SheetRequest) -> Sheet:
    """In plain words, for everyone in the house."""
    fed = {f.load.id: f.load for x in a.each for f in x.fed if not f.assumed}
    off = [x for x in a.documents.home.loads.values() if x.id not in fed]
    people = a.documents.home.household.people.values()
    life = [x for x in a.documents.home.loads.values() if x.purpose == "life"]
    acts = running_acts(a.parts)
    rooms: dict[str, list[str]] = {}
    for load in fed.values():
        rooms.setdefault(load.room or "elsewhere", []).append(load.name)
    return a.sheet(
        "household",
        "When the power is out",
        a.planner.verdict(a.home_id, a.plan.id, a.outage_id).headline.short,
        SheetPart("First", tuple(_medical(life))),
        SheetPart(
            "What works",
            (TableRows(("room", "what"), tuple((r.capitalize(), ", ".join(n)) for r, n in sorted(rooms.items()))),),
        ),
        SheetPart("What doesn't work", (Paragraph(", ".join(x.name for x in off) or "Everything works."),)),
        SheetPart(
            "Who does what",
            (
                Bullets(
                    tuple(
                        f"{p.name}: {'switches to backup by the card' if p.can_switch else 'stays away from the panel'}"
                        for p in people
                    )
                    or ("No one is entered yet. Decide who switches, and who does it if that person is away.",)
                ),
            ),
        ),
        *([SheetPart("While it runs", (Bullets(tuple(acts)),))] if acts else []),
        SheetPart("Who to call", (TableRows(("", ""), tuple(calls(a))),)),
        SheetPart(
            "Food",
            (
                Bullets(
                    (
                        *(line.format(safe=safe_text()) for line in FOOD),
                        *(f"{x.name}: {'keeps its doors closed' if x.id not in fed else 'stays on'}" for x in _cold(a)),
                    )
                ),
            ),
        ),
        SheetPart(
            "Never",
            (
                Bullets(
                    (
                        "An engine indoors, in a garage or under a window.",
                        "A cord from a generator or station into a wall outlet.",
                        "An unattended flame.",
                    ),
                    boxed=True,
                ),
            ),
        ),
        pt=12.5,
    )


def _medical(life: list[Load]) -> list[Bullets]:
    if not life:
        return []
    lines = [
        f"{x.name}: on its own battery {hours_text(x.own_battery_h)}"
        if x.own_battery_h
        else f"{x.name}: use the second supply now"
        for x in life
    ]
    return [
        Bullets(
            (
                *lines,
                "Call the supplier now, and decide where to go. "
                "Leave two hours before the power may run out. Don't wait until it does.",
                "This must never be the only backup for a life.",
            ),
            boxed=True,
        )
    ]


def _cold(a: SheetRequest) -> list[Load]:
    found = [x for x in a.documents.home.loads.values() if x.purpose == "food" and x.kind == "compressor"]
    return sorted(found, key=lambda x: (box_of(x) is FREEZER, x.name))


KIND = SheetKind(
    "household",
    "Household sheet",
    "What works, what doesn't, and who does what",
    "everyone in the house",
    household,
    lambda a: [*lacks_station(a), *([] if a.documents.home.household.people else ["the people (Needs and people)"])],
)
