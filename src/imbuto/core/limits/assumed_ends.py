"""The two ends of what a plan assumes: the one that asks most of a station, and the one that asks least.

A start, a power factor or a surge that nobody measured or lists is a range and not a figure. A limit is judged at the
end that asks most; where it breaks there and holds at the other, the plan *may* trip, and the figure to find out is
named.
"""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from imbuto.core.home.loads import Load
from imbuto.core.plan.system import Part

HELD_S = 3.0  # how long an unlisted surge holds at best; planning default
SURGE_SHARE = 2.0  # of what it carries for long, an unlisted surge gives at best; planning default


STATION = "station"  # stands for the surge of the station among ids of loads


def at_ends(part: Part, least: frozenset[str] | None = frozenset()) -> Part:
    """Put everything that a part assumes at the end that asks most, but for some of it.

    least: ids of loads, and ``STATION`` for its surge, that are put at the end that asks least; None for all of them
    """
    fed = tuple(
        f if f.assumed else replace(f, load=load_at(f.load, least=least is None or f.load.id in least))
        for f in part.fed
    )
    station = part.station
    if least is None or STATION in least:
        surge, leg_surge = station.surge_va, station.leg_surge_va
        if "surge_va" in part.assumed:
            surge = SURGE_SHARE * station.rated_va
        if "leg_surge_va" in part.assumed:
            leg_surge = min(surge, SURGE_SHARE * station.leg_a * station.leg_volts)
        held = HELD_S if station.surge_s is None else station.surge_s
        station = replace(station, surge_va=surge, leg_surge_va=leg_surge, surge_s=held)
    return replace(part, fed=fed, station=station)


@lru_cache(maxsize=4096)
def load_at(load: Load, *, least: bool) -> Load:
    """Put one load at the end of what is assumed of it that asks least, or most."""
    low, _, high = load.start_range_va
    return replace(load, start_va=low if least else high, power_factor=load.best_pf if least else load.pf)


def assumes(part: Part) -> bool:
    """Whether any start, power factor or surge of a part is assumed at all."""
    if part.station.surge_s is None or {"surge_va", "leg_surge_va"} & part.assumed:
        return True
    return any(not f.assumed and (f.load.start_is_assumed or f.load.best_pf != f.load.pf) for f in part.fed)
