"""Every limit of a plan at once, and the rows of those that are found elsewhere."""

from __future__ import annotations

from dataclasses import replace

from imbuto.core.limits.instants import instants
from imbuto.core.limits.limit_registry import LimitCase, LimitRow, rows
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import Part

ROWS = (
    # What may be linked is settled where units and modules are joined to one source.
    LimitRow(
        number=12,
        page="linking",
        families=("linking",),
        answers=("larger_station", "unlink"),
        check=lambda c: c.part.linked,
    ),
    LimitRow(number=19, page="on-and-off", families=("flutters",), check=None),  # the run tells
)


def fit(part: Part, outage: Outage) -> list[Limit]:
    """Every limit of a plan in an outage, in the order of the guide."""
    each = part.ports
    alone = LimitCase(part if len(each) > 1 else each[0], part.station, outage, instants(part))
    ports = tuple(LimitCase(x, part.station, outage, instants(x)) for x in each) if len(each) > 1 else (alone,)
    case = replace(alone, ports=ports)
    found = []
    for row in rows():
        if row.check is not None and row.each_device:
            found += [_named(x, i, c) for i, c in enumerate(ports) for x in row.check(c)]
        elif row.check is not None:
            found += row.check(case)
    return [replace(x, evidence="default") if _assumed(x, part) else x for x in found]


# Which figures of a station a family of limits leans on.
LEANS: dict[str, tuple[str, ...]] = {
    "together": ("rated_va",),
    "leg": ("leg_a",),
    "start": ("surge_va", "leg_surge_va"),
    "place": ("outlet_a",),
}


def _assumed(x: Limit, part: Part) -> bool:
    """Whether a limit leans on a figure of the station that nobody lists."""
    return any(name in part.assumed for name in LEANS.get(x.family, ()))


def _named(x: Limit, i: int, c: LimitCase) -> Limit:
    """A limit of one device among several says of which; those of the first keep their names."""
    if i == 0:
        return x
    device = c.part.device
    return replace(x, id=f"{x.id}#{device.id if device else 'cords'}", title=f"{c.part.equipment.name}: {x.title}")
