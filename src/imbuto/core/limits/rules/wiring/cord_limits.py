"""Limit 11: extension cords, by ampacity, voltage drop, and how they are laid."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.units import number_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.wires import GOOD_DROP, MOST_DROP, START_DROP, Cord, drop_v, wires
from imbuto.core.limits.instants import Instants
from imbuto.core.limits.limit_registry import LimitRow
from imbuto.core.limits.rules.power_limits import on_leg
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.system import Part


def _cords(part: Part, station: Station, now: Instants) -> Iterator[Limit]:
    """11: ampacity by size, volts lost running and starting, no coils and no chains."""
    volts = station.leg_volts
    if part.equipment.traits.wired:
        if part.inlet_cord is not None and now.fed:
            amps = max(now.most(now.va / volts * on_leg(now, leg)[:, None]) for leg in station.legs)
            yield from _cord(part.inlet_cord, "inlet", "The inlet's cord", amps, 0.0, volts)
        return
    for i, item in enumerate(now.fed):
        cord = item.feed.cord
        if cord is not None:
            start = item.load.run_va + item.load.start_extra_va
            name = f"The cord to {item.load.name}"
            yield from _cord(
                cord, item.feed.id, name, now.most(now.va, [i]) / item.volts, start / item.volts, item.volts
            )


def _cord(cord: Cord, ident: str, name: str, amps: float, start_a: float, volts: float) -> Iterator[Limit]:
    wire = wires()[cord.wire]
    yield Limit(
        id=f"cord_amps:{ident}",
        family="cord",
        title=name,
        used=amps,
        limit=wire.amps,
        unit="A",
        ok=amps <= wire.amps,
        evidence="default",
        sentence=f"{name}, {wire.name}: {number_text(amps)} of {wire.amps:g} A.",
    )
    lost = drop_v(wire.ohm_per_km, cord.length_m, amps)
    share = lost / volts
    yield Limit(
        id=f"cord_drop:{ident}",
        family="cord",
        title=f"{name}: volts lost",
        used=100 * share,
        limit=100 * MOST_DROP,
        unit="%",
        ok=share <= MOST_DROP,
        evidence="default",
        severity="broken",
        sentence=f"{name} loses {number_text(lost)} V of {volts:g}, {number_text(100 * share)}%"
        + (
            " over its length."
            if share <= GOOD_DROP
            else f". {100 * GOOD_DROP:g}% is good, and {100 * MOST_DROP:g}% is the most. Use a thicker or shorter cord."
        ),
    )
    if start_a > amps:
        dip = drop_v(wire.ohm_per_km, cord.length_m, start_a) / volts
        yield Limit(
            id=f"cord_start:{ident}",
            family="cord",
            title=f"{name}: starting",
            used=100 * dip,
            limit=100 * START_DROP,
            unit="%",
            ok=dip <= START_DROP,
            evidence="default",
            severity="caution",
            sentence=f"{name} dips {number_text(100 * dip)}% at a start; over {100 * START_DROP:g}% a motor "
            f"may not start.",
        )
    if cord.coiled or cord.chained:
        what = (
            "a cord on its reel overheats, so unroll all of it"
            if cord.coiled
            else "cords plugged into each other loosen and overheat, so use one long cord"
        )
        yield Limit(
            id=f"cord_laid:{ident}",
            family="cord_laid",
            title=f"{name}: how it lies",
            kind="yes_no",
            severity="caution",
            ok=False,
            sentence=f"{name}: {what}.",
        )


ROWS = (
    LimitRow(
        number=11,
        page="cords",
        families=("cord", "cord_laid"),
        state="misfit",
        each_device=True,
        check=lambda c: _cords(c.part, c.station, c.now),
    ),
)
