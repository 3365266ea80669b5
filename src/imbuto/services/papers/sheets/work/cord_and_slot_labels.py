"""The labels to cut out: both ends of every cord, a number at every switch slot."""

from __future__ import annotations

from imbuto.core.basics.units import number_text
from imbuto.core.plan.plan import places_of
from imbuto.core.plan.system import Part
from imbuto.formats.printing.labels import marks
from imbuto.formats.printing.paper import Sheet, SheetPart, Tags
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest
from imbuto.services.papers.sheets.work.parts_list import cord_words


def labels(a: SheetRequest) -> Sheet:
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
                    ("station cord only", cord_words(d.cord)),
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
        "One for both ends of every cord, and one next to every breaker",
        SheetPart("Cords", (Tags(tuple(c for c in cords for _ in range(2))),) if cords else ()),
        SheetPart("Switch slots", (Tags(tuple(places)),) if places else ()),
    )


KIND = SheetKind(
    "labels",
    "Labels to cut out",
    "For both ends of every cord and for every switch slot",
    "the person who connects and switches",
    labels,
    lambda a: [
        f"the cord to {x.target_names[f.id]}"
        for x in a.each
        for f in x.plan.feeds.values()
        if not f.circuit and not f.cord
    ][:6],
)
