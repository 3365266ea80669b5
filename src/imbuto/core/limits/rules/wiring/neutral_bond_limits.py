"""Limit 15: neutral and ground are bonded in exactly one place. A licensed electrician decides."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.limit_registry import LimitRow, is_ticked
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.system import Part


def _bond(part: Part, station: Station) -> Iterator[Limit]:
    """15: neutral and ground meet once, in one place, whatever feeds the house."""
    if not part.equipment.traits.wired:
        return
    switched = part.equipment.switched_neutral
    settled = is_ticked(part, "bond")
    if station.bonded_neutral and not switched:
        rule = (
            f"{station.name} bonds neutral and ground. So does the house, because this switch doesn't switch the "
            "neutral. "
            "Ground-fault devices may trip, or current may flow on the ground wire unnoticed. Have an electrician "
            "resolve it."
        )
    elif not station.bonded_neutral and switched:
        rule = (
            f"{station.name} doesn't bond neutral and ground, and this switch disconnects the house's bond. A fault "
            "would "
            "then open no breaker. Have an electrician resolve it."
        )
    else:
        yield Limit(
            id="bond",
            family="bond",
            title="Neutral and ground",
            kind="yes_no",
            severity="refuse",
            ok=True,
            sentence="Neutral and ground are bonded once, " + ("in the station." if switched else "in the house."),
        )
        return
    yield Limit(
        id="bond",
        family="bond",
        title="Neutral and ground",
        kind="yes_no",
        severity="refuse",
        ok=settled,
        tick="bond",
        sentence=rule,
    )


ROWS = (
    LimitRow(
        number=15,
        page="bond",
        families=("bond",),
        answers=(),
        each_device=True,
        check=lambda c: _bond(c.part, c.station),
    ),
)
