"""More panels, or the same ones wired otherwise."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from imbuto.core.advice.moves.move import (
    Move,
)
from imbuto.core.limits.rules.solar_input_limits import layouts
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.sources import Array
from imbuto.core.plan.system import Part


def with_array(plan: Plan, array: Array) -> Plan:
    return replace(plan, arrays=plan.arrays | {array.id: array})


def more_panels_moves(part: Part) -> Iterator[Move]:
    """One string more, or one panel more in each string."""
    for array in part.plan.arrays.values():
        panel = part.panels[array.panel]
        for more in (
            replace(array, parallel=min(array.parallel + 1, 20)),
            replace(array, series=min(array.series + 1, 30)),
        ):
            extra = more.count - array.count
            if extra:
                label = f"{extra} more {panel.name} on {array.name}, {more.series} in series × {more.parallel}"
                yield Move(
                    f"panels:{array.id}:{more.series}:{more.parallel}",
                    "sun",
                    label,
                    with_array(part.plan, more),
                )


def other_layout_moves(part: Part) -> Iterator[Move]:
    """The same panels wired otherwise, some left over if it must be; or the array left away."""
    station = part.station
    for array in part.plan.arrays.values():
        used = {a.input for a in part.plan.arrays.values() if a.id != array.id}
        for free in (array.input, *(i for i in range(1, station.solar_inputs + 1) if i not in used | {array.input})):
            for found in layouts(array, part.panels[array.panel], station, part.home.site)[:2]:
                laid = replace(array, series=found.series, parallel=found.parallel, input=free)
                where = "" if free == array.input else f" on input {free}"
                label = f"{array.name} as {found.series} in series × {found.parallel}{where}"
                yield Move(
                    f"layout:{array.id}:{free}:{found.series}:{found.parallel}",
                    f"layout:{array.id}",
                    label,
                    with_array(part.plan, laid),
                    0.05 + 0.05 * found.left_over,
                )
        rest = {k: a for k, a in part.plan.arrays.items() if k != array.id}
        yield Move(
            f"array:{array.id}", f"array:{array.id}", f"without {array.name}", replace(part.plan, arrays=rest), 1
        )
