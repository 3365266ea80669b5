"""The circuit schedule: switch slots, breakers, wires, cords."""

from __future__ import annotations

from imbuto.core.basics.units import number_text
from imbuto.core.plan.system import Part
from imbuto.formats.printing.paper import Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest, place_words
from imbuto.services.papers.sheets.work.parts_list import cord_words


def schedule(a: SheetRequest) -> Sheet:
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
        "Circuit in each switch slot, and load on each cord",
        SheetPart(
            "Places",
            (TableRows(("place", "circuit", "slots", "breaker", "wire", "leg", "all running"), tuple(rows)),)
            if rows
            else (),
        ),
        SheetPart("Cords", (TableRows(("from", "to", "gauge and length", "at most"), tuple(cords)),) if cords else ()),
        SheetPart("Inlets", (TableRows(("of", "gauge and length"), inlets),) if inlets else ()),
    )


KIND = SheetKind(
    "schedule",
    "Circuit schedule",
    "Places, breakers, wires, cords",
    "the person who switches, the electrician",
    schedule,
    lambda a: [
        f"the wire of {c.name}"
        for c in a.documents.home.circuits.values()
        if not c.wire and any(f.circuit == c.id for f in a.plan.feeds.values())
    ][:6],
    ("csv",),
)
