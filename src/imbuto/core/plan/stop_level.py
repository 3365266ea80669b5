"""The charge at which a station's output stops: one answer for the run, the year, the card, the tests and the page."""

from __future__ import annotations

from dataclasses import replace

from imbuto.core.equipment.power_station import Station
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.sources import Source
from imbuto.core.plan.system import Part

VEHICLE_KEEPS, VEHICLE_MARGIN = 0.20, 1.3  # of its charge, and times the drive, whichever is more; planning defaults


def floor_of(plan: Plan, source: Source, station: Station, available_wh: float) -> float:
    """Return the charge a source stops at, 0 to 1: the plan's, nothing in an emergency; a vehicle always keeps its
    drive, out of the Wh it really holds."""
    floor = 0.0 if plan.below_floor else plan.floor
    if not station.vehicle:
        return floor
    return min(max(floor, VEHICLE_KEEPS, VEHICLE_MARGIN * source.drive_wh / available_wh), 1.0)


def stop_level(x: Part) -> float:
    """Return the charge at which a station's output stops as it is set on ordinary days, 0 to 1, from what it holds at
    25 °C."""
    held_wh = x.station.stored_wh(x.source.modules) * x.source.deliverable * x.source.health
    return floor_of(replace(x.plan, below_floor=False), x.source, x.station, held_wh)
