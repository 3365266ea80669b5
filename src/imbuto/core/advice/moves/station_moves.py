"""Other stations, more units and modules, or where a station stands."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from imbuto.core.advice.moves.move import (
    Move,
    with_source,
)
from imbuto.core.basics.units import number_text
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.power_station import Station
from imbuto.core.plan.system import Part


def indoors_move(part: Part) -> Iterator[Move]:
    if part.source.spot != "indoors":
        inside = replace(part.source, spot="indoors")
        yield Move("indoors", "spot", "bring the station indoors", with_source(part.plan, inside), 0.05)


def one_more_module_move(part: Part) -> Iterator[Move]:
    source, station = part.source, part.station
    if source.modules < station.max_modules:
        more = replace(source, modules=source.modules + 1)
        label = f"one more {station.module_name or 'module'}"
        yield Move(
            "module",
            "store",
            label,
            with_source(part.plan, more),
        )


def swap_station_move(part: Part, station: Station, family: str) -> Iterator[Move]:
    source, old = part.source, part.station
    modules = min(source.modules, station.max_modules)
    new = replace(
        source, station=station.id, modules=modules, module=None, units=1, link="parallel", owned=False, owned_units=1
    )
    yield Move(
        f"station:{station.id}",
        family,
        f"{station_by_size(station)} instead of {old.name}",
        with_source(part.plan, new),
    )


def more_units_move(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    """One unit more, where the maker lets them stand side by side."""
    source, station = part.source, part.unit
    if source.link == "parallel" and source.units < station.parallel_most:
        more = replace(source, units=source.units + 1)
        yield Move(
            "unit",
            "unit",
            f"{more.units} {station.name} side by side",
            with_source(part.plan, more),
        )


def coupler_move(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    """Two of the same, a leg each, where the maker has a coupler."""
    source, station = part.source, part.unit
    if station.coupler and part.home.service.legs == 2:
        pair = replace(source, units=2, link="coupler")
        yield Move(
            "pair",
            "station",
            f"two {station.name} with the {station.coupler}",
            with_source(part.plan, pair),
        )


def unlink_moves(part: Part) -> Iterator[Move]:
    """Back to one unit, and to modules of the station's own kind."""
    source, whole = part.source, part.station
    if source.units > 1:
        per_unit = whole.max_modules // source.units
        one = replace(source, units=1, link="parallel", modules=min(source.modules, per_unit))
        yield Move("one-unit", "unit", "one unit alone", with_source(part.plan, one), 0.5)
    if source.module is not None:
        yield Move(
            "own-module",
            "module",
            "modules of the station's own kind",
            with_source(part.plan, replace(source, module=None)),
            0.1,
        )


def suited_stations(part: Part, catalogue: Catalogue) -> list[Station]:
    """Stations of the house's own voltage, by size; a car only behind a gateway made for one."""
    volts, car = part.home.service.volts, part.equipment.traits.from_vehicle
    fits = [s for s in catalogue.stations.values() if s.leg_volts == volts and s.vehicle == car]
    return sorted(fits, key=lambda s: (s.nominal_wh, s.id))


def next_station_move(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    old = part.station
    bigger = [
        s for s in suited_stations(part, catalogue) if s.nominal_wh > old.nominal_wh and len(s.legs) >= len(old.legs)
    ]
    if bigger:
        yield from swap_station_move(part, bigger[0], "station")


def larger_station_moves(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    old = part.station
    for station in suited_stations(part, catalogue):
        if station.continuous_w > old.continuous_w:
            yield from swap_station_move(part, station, "station")


def right_volts_moves(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    for station in suited_stations(part, catalogue):
        if station.id != part.station.id:
            yield from swap_station_move(part, station, "station")


def station_by_size(station: Station) -> str:
    """Name a station; one that ships is made up, so it is an example of its size."""
    if station.id not in shipped().stations:
        return station.name
    return f"{number_text(station.nominal_wh / 1000)} kWh, such as {station.name} (made up),"
