"""What hangs at the panel and on the refrigerator: the run card, the household sheet, the switch's schedule, the test
sheet."""

from __future__ import annotations

from imbuto.core.basics.units import hours_text, number_text
from imbuto.core.home.loads import Load
from imbuto.core.plan.plan import places_of
from imbuto.core.plan.system import Part
from imbuto.core.run.food_warming import FREEZER, box_of, safe_text
from imbuto.formats.printing.labels import marks
from imbuto.formats.printing.paper import Bullets, Sheet, SheetPart, TableRows, Tags, Words
from imbuto.services.outages.test_views import trials_of
from imbuto.services.papers.electrician_sheets import cord_words
from imbuto.services.papers.run_card import calls, run_card
from imbuto.services.papers.sheet_registry import Asked, Kind, place_words
from imbuto.services.papers.work_sheets import as_built

FOOD = (
    "Doors shut. The thermometer decides, never the smell.",
    "Perishables that were above {safe} for two hours are thrown away.",
    "A full freezer keeps about two days shut, a refrigerator about four hours.",
)


def household(a: Asked) -> Sheet:
    """In plain words, for everybody in the house."""
    fed = {f.load.id: f.load for x in a.each for f in x.fed if not f.assumed}
    off = [x for x in a.documents.home.loads.values() if x.id not in fed]
    people = a.documents.home.household.people.values()
    life = [x for x in a.documents.home.loads.values() if x.purpose == "life"]
    rooms: dict[str, list[str]] = {}
    for load in fed.values():
        rooms.setdefault(load.room or "elsewhere", []).append(load.name)
    return a.sheet(
        "household",
        "When the power is out",
        a.planner.verdict(a.home_id, a.plan.id, a.outage_id).headline.short,
        SheetPart("First of all", tuple(_medical(life))),
        SheetPart(
            "What works",
            (TableRows(("room", "what"), tuple((r.capitalize(), ", ".join(n)) for r, n in sorted(rooms.items()))),),
        ),
        SheetPart("What does not", (Words(", ".join(x.name for x in off) or "Everything works."),)),
        SheetPart(
            "Who does what",
            (
                Bullets(
                    tuple(
                        f"{p.name}: {'switches over, by the card' if p.can_switch else 'stays away from the panel'}"
                        for p in people
                    )
                    or ("Nobody is entered yet: settle who switches, and who stands in.",)
                ),
            ),
        ),
        SheetPart("Who to call", (TableRows(("", ""), tuple(calls(a))),)),
        SheetPart(
            "Food",
            (
                Bullets(
                    (
                        *(line.format(safe=safe_text()) for line in FOOD),
                        *(f"{x.name}: {'keeps its doors shut' if x.id not in fed else 'goes on'}" for x in _cold(a)),
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
                        "An open flame left alone.",
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
        else f"{x.name}: the second supply, now"
        for x in life
    ]
    return [
        Bullets(
            (
                *lines,
                "Call the supplier now, and settle where to go. Leave two hours before it may be dark; never "
                "wait for it.",
                "Never the only backup for what a life depends on.",
            ),
            boxed=True,
        )
    ]


def _cold(a: Asked) -> list[Load]:
    found = [x for x in a.documents.home.loads.values() if x.purpose == "food" and x.kind == "compressor"]
    return sorted(found, key=lambda x: (box_of(x) is FREEZER, x.name))


def schedule(a: Asked) -> Sheet:
    """Places, circuits, and the labels of cords."""
    home, rows, cords = a.documents.home, [], []
    for x in a.each:
        station = x.station.name if isinstance(x, Part) else "station"
        for feed in sorted(x.plan.feeds.values(), key=lambda f: f.place):
            watts = sum(f.load.count * f.load.run_w for f in x.fed if f.feed.id == feed.id)
            circuit = home.circuits.get(feed.circuit or "")
            if circuit is None:
                cords.append((station, x.target_names[feed.id], cord_words(feed.cord), f"{number_text(watts)} W"))
                continue
            slots = ", ".join(map(str, circuit.slots))
            legs = (
                "both"
                if circuit.poles == 2
                else "/".join(dict.fromkeys(leg for f in x.fed if f.feed.id == feed.id for leg in f.legs))
            )
            rows.append(
                (
                    place_words(x, feed),
                    circuit.name,
                    slots,
                    f"{circuit.breaker_a:g} A",
                    circuit.wire or "not known",
                    legs,
                    f"{number_text(watts)} W",
                )
            )
    known = a.documents.catalogue.transfer
    inlets = tuple((known[d.equipment].name, cord_words(d.cord)) for d in a.plan.devices.values() if d.cord is not None)
    return a.sheet(
        "schedule",
        "Circuit schedule",
        "What is at which place, and what each cord carries",
        SheetPart(
            "Places",
            (TableRows(("place", "circuit", "slots", "breaker", "wire", "leg", "all running"), tuple(rows)),)
            if rows
            else (),
        ),
        SheetPart("Cords", (TableRows(("from", "to", "gauge and length", "at most"), tuple(cords)),) if cords else ()),
        SheetPart("Inlets", (TableRows(("of", "gauge and length"), inlets),) if inlets else ()),
    )


def labels(a: Asked) -> Sheet:
    """To cut out: one for both ends of every cord, and a number for every place."""
    cords: list[tuple[str, tuple[str, ...]]] = []
    places: list[tuple[str, tuple[str, ...]]] = []
    for x in a.each:
        station = x.station.name if isinstance(x, Part) else "station"
        for feed in x.plan.feeds.values():
            watts = sum(f.load.count * f.load.run_w for f in x.fed if f.feed.id == feed.id)
            if feed.circuit is None:
                cords.append(
                    (
                        x.target_names[feed.id],
                        (
                            f"from {station}, outlet {feed.place}",
                            cord_words(feed.cord),
                            f"at most {number_text(watts)} W",
                        ),
                    )
                )
    for d in a.plan.devices.values():
        if d.cord is not None:
            cords.append(
                (
                    f"Inlet of {a.documents.catalogue.transfer[d.equipment].name}",
                    ("source cord, and no other", cord_words(d.cord)),
                )
            )
    several = len(a.plan.devices) > 1
    for x in a.each:
        for feed in sorted(x.plan.feeds.values(), key=lambda f: f.place):
            if feed.circuit is not None and (device := x.plan.device_of(feed)) is not None:
                number = " · ".join(map(str, places_of(feed, a.documents.home)))
                places.append(
                    (number, (x.target_names[feed.id], *((x.equipments[device.id].name,) if several else ())))
                )
    places += [(m.text, (m.name, "off, or moved together")) for m in marks(a.documents.home, a.plan) if m.off]
    return a.sheet(
        "labels",
        "Labels to cut out",
        "One for both ends of every cord; one beside every breaker",
        SheetPart("Cords", (Tags(tuple(c for c in cords for _ in range(2))),) if cords else ()),
        SheetPart("Places", (Tags(tuple(places)),) if places else ()),
    )


def tests(a: Asked) -> Sheet:
    """Each line with what is expected, to be filled in by hand."""
    parts = []
    for p in trials_of(a.planner, a.home_id, a.plan.id, a.outage_id):
        one = p.procedure
        if one.refused:
            continue
        rows = tuple(
            (
                x.what,
                "yes"
                if x.unit == "yes"
                else f"{number_text(x.expected)} ± {number_text(x.within)} {x.unit}"
                if x.expected is not None
                else x.unit,
                "",
                x.fails,
            )
            for x in one.lines
        )
        first = (
            (Bullets((*one.cautions, *((f"Stop: {one.stop}",) if one.stop else ())), boxed=True),)
            if one.cautions or one.stop
            else ()
        )
        parts.append(
            SheetPart(
                one.title,
                (
                    Words(f"{one.why} By {p.by}."),
                    *first,
                    TableRows(("line", "expected", "found", "where it is not so"), rows),
                ),
            )
        )
    return a.sheet(
        "tests", "Tests and commissioning", "In this order; what fails is a defect in the logbook", *parts, *as_built(a)
    )


def _no_hands(a: Asked) -> list[str]:
    able = [p for p in a.documents.home.household.people.values() if p.can_switch]
    return [] if able else ["who switches (Goals)"]


def _no_station(a: Asked) -> list[str]:
    return [] if any(x.fed for x in a.parts) else ["a station, and something on it"]


KINDS = (
    Kind(
        "run-card",
        "Run card",
        "Taped to the panel: going over, coming back, low",
        "whoever switches",
        "",
        run_card,
        lambda a: [*_no_station(a), *_no_hands(a)],
    ),
    Kind(
        "household",
        "Household sheet",
        "What works, what does not, who does what",
        "everybody in the house",
        "health, and who is there",
        household,
        lambda a: [*_no_station(a), *([] if a.documents.home.household.people else ["the people (Goals)"])],
    ),
    Kind(
        "schedule",
        "Circuit schedule",
        "Places, breakers, wires, cords",
        "whoever switches, the electrician",
        "",
        schedule,
        lambda a: [
            f"the wire of {c.name}"
            for c in a.documents.home.circuits.values()
            if not c.wire and any(f.circuit == c.id for f in a.plan.feeds.values())
        ][:6],
        ("csv",),
    ),
    Kind(
        "labels",
        "Labels to cut out",
        "Both ends of every cord, a number at every place",
        "whoever joins and switches",
        "",
        labels,
        lambda a: [
            f"the cord to {x.target_names[f.id]}"
            for x in a.each
            for f in x.plan.feeds.values()
            if not f.circuit and not f.cord
        ][:6],
    ),
    Kind(
        "tests",
        "Test and commissioning sheet",
        "Each line with what is expected, to be filled in",
        "whoever tests, the electrician",
        "",
        tests,
        _no_station,
    ),
)
