"""Limits 13 and 16: an output that turns itself off at low power, and a weight one person can't lift."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.measures import mass_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.limit_registry import LimitRow, is_ticked
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.system import Part

ONE_PERSON_KG = 23.0


def _auto_off(part: Part, station: Station) -> Iterator[Limit]:
    """13: an output that switches itself off loses a refrigerator between its cycles."""
    if station.auto_off_below_w > 0:
        yield Limit(
            id="auto_off",
            family="auto_off",
            title="Auto-off",
            kind="yes_no",
            severity="caution",
            ok=is_ticked(part, "auto_off"),
            tick="auto_off",
            sentence=f"{station.name} switches its output off below {station.auto_off_below_w:g} W for "
            f"{station.auto_off_after_h:g} h, even between a refrigerator's cycles. Turn that off for backup.",
        )


def _weight(part: Part, station: Station) -> Iterator[Limit]:
    """16: what one person does not lift."""
    kg = max(station.weight_kg, station.module_weight_kg if part.source.modules else 0)
    if kg > ONE_PERSON_KG and not station.vehicle:
        yield Limit(
            id="weight",
            family="weight",
            title="Weight",
            kind="yes_no",
            severity="caution",
            evidence="default",
            ok=is_ticked(part, "weight"),
            tick="weight",
            sentence=f"One piece weighs {mass_text(kg)}. Use two people and a cart, and never carry it on "
            "stairs alone.",
        )


ROWS = (
    LimitRow(number=13, page="auto-off", families=("auto_off",), check=lambda c: _auto_off(c.part, c.station)),
    LimitRow(number=16, page="weight", families=("weight",), check=lambda c: _weight(c.part, c.station)),
)
