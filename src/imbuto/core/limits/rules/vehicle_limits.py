"""Limit 18: a car as a source, and the charge it keeps for a drive."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.units import number_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.limit_registry import LimitRow
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.system import Part


def _vehicle(part: Part, station: Station) -> Iterator[Limit]:
    """A car feeds a house only through what both makers list; it keeps what the drive needs."""
    gateway = part.equipment.traits.from_vehicle
    if station.vehicle or gateway:
        both = station.vehicle and gateway
        yield Limit(
            id="vehicle",
            family="vehicle",
            title="Car as power source",
            kind="yes_no",
            severity="refuse",
            ok=both,
            sentence=f"{station.name} supplies power through {part.equipment.name}, as both manufacturers list."
            if both
            else f"{station.name} on {part.equipment.name}: a car may power a house only through a two-way charger and "
            "gateway that both manufacturers list for it, and such a gateway works with nothing else.",
        )
    if station.vehicle:
        kept = part.source.drive_wh
        yield Limit(
            id="drive",
            family="vehicle",
            title="The drive to a charger",
            kind="yes_no",
            severity="caution",
            ok=kept > 0,
            evidence="default",
            sentence=(
                f"{number_text(1.3 * kept)} Wh stay in the car, which is 1.3 times the drive entered and at least 20%."
            )
            if kept > 0
            else (
                "Enter the energy of the drive to a working charger, with a detour. At least 20% of the charge "
                "is always kept."
            ),
        )


ROWS = (LimitRow(number=18, page="vehicle", families=("vehicle",), check=lambda c: _vehicle(c.part, c.station)),)
