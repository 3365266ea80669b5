"""Every limit of a plan at once, and the rows of those that are found elsewhere."""

from __future__ import annotations

from dataclasses import replace
from math import floor

from imbuto.core.basics.units import number_text
from imbuto.core.limits.assumed_ends import STATION, assumes, at_ends
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


# Families that only switch the output off: past them by what is assumed alone, a plan may trip. All others stand on
# the careful figure.
MAY = frozenset({"together", "leg", "start", "all_at_once", "place", "nested"})


def fit(part: Part, outage: Outage) -> list[Limit]:
    """Every limit of a plan in an outage, in the order of the guide, at the end of what is assumed that asks most.

    Where one breaks there and holds at the other end, it is said as *may*, with the figure to find out.
    """
    if not assumes(part):
        return _fit(part, outage)
    assumed = {f.load.id for f in part.fed if f.load.start_is_assumed}
    found = [replace(x, evidence="default") if x.load in assumed else x for x in _fit(at_ends(part), outage)]
    if not any(x.severity == "broken" and not x.ok and x.family in MAY for x in found):
        return found
    least = {x.id: x for x in _fit(at_ends(part, None), outage)}
    return [_certain(x, least.get(x.id), part, outage) for x in found]


def _certain(x: Limit, best: Limit | None, part: Part, outage: Outage) -> Limit:
    """A limit as surely as it is known: broken even at best, or perhaps, with what would settle it."""
    if x.ok or x.severity != "broken" or x.family not in MAY or best is None:
        return x
    if not best.ok:
        return replace(best, evidence=x.evidence)
    return replace(x, severity="may", evidence="default", sentence=f"{x.sentence} {_settles(x, part, outage)}")


def _settles(x: Limit, part: Part, outage: Outage) -> str:
    """Name the one figure to measure or look up, with the value up to which the limit holds."""
    loads = {f.load.id: f.load for f in part.fed if not f.assumed and f.load.start_is_assumed}
    hardest = sorted(loads.values(), key=lambda load: (load.id != x.load, -load.start_range_va[2]))
    for load in hardest:
        if _holds(x, at_ends(part, frozenset({load.id})), outage):
            most = load.start_range_va[2] - (x.used - x.limit)
            upto = f" Up to {number_text(floor(most / 10) * 10)} VA fits." if most > load.start_range_va[0] else ""
            return f"Measure the start of {load.name}, or enter its label's.{upto}"
    if _holds(x, at_ends(part, frozenset({STATION})), outage):
        return f"Look up how long the surge of {part.station.name} holds. It fits from 1 second on."
    names = [load.name for load in hardest[:3]] or list(dict.fromkeys(f.load.name for f in part.fed))[:3]
    return f"Measure {' and '.join(names)}: what they run at and start at."


def _holds(x: Limit, tried: Part, outage: Outage) -> bool:
    """Whether the limit holds in this part."""
    return next((y.ok for y in _fit(tried, outage) if y.id == x.id), True)


def _fit(part: Part, outage: Outage) -> list[Limit]:
    """Every limit of a part as it stands."""
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
