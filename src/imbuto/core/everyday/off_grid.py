"""Could it run alone? A year without any grid: on which days it comes up short, what lacks, and the next steps."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from imbuto.core.everyday.ordinary_year import year_of
from imbuto.core.everyday.year_ground import STEP_H, Ground
from imbuto.core.plan.everyday_policy import Everyday

SHORT_WH = 1.0  # a day that lacks less is served
MORE = 2.0  # times the storage, or the sun, to find out which of them lacks; planning default


@dataclass(frozen=True, slots=True)
class OffGrid:
    """A year without any grid.

    short: days on which something is not served
    longest: the longest run of them, and since: its first day, None where there is none
    unserved_kwh: in the year
    engine_h, fuel_l: hours of a generator, and what it burned
    """

    short: int
    longest: int
    since: date | None
    unserved_kwh: float
    engine_h: float
    fuel_l: float


def off_grid(g: Ground, everyday: Everyday) -> OffGrid:
    """A year on the same network with no grid at all; a generator of the plan runs, refuelled as it burns."""
    y = year_of(g, replace(everyday, no_grid=True))
    short = np.bincount(g.day, weights=y.unserved_w * STEP_H, minlength=len(g.days)) > SHORT_WH
    longest, since, run = 0, None, 0
    for i, lacks in enumerate(short):
        run = run + 1 if lacks else 0
        if run > longest:
            longest, since = run, g.days[i - run + 1]
    engine_h, fuel_l = float(y.trace.engine_h.sum()), float(y.trace.fuel_l.sum())
    return OffGrid(int(short.sum()), longest, since, y.unserved_wh / 1000, engine_h, fuel_l)


def without_engine(g: Ground) -> Ground:
    """The same year without the plan's generator."""
    line = tuple(replace(x, plan=replace(x.plan, engine=None)) for x in g.line)
    return replace(g, line=line if len(line) == 1 else (replace(line[0], line=line), *line[1:]))


def with_storage(g: Ground, times: float) -> Ground:
    """The same year with so many times the storage of the station that was asked for."""
    station = g.part.station
    more = replace(station, nominal_wh=times * station.nominal_wh, module_wh=times * station.module_wh)
    line = tuple(replace(x, station=more) if i == g.rank else x for i, x in enumerate(g.line))
    return replace(g, line=line if len(line) == 1 else (replace(line[0], line=line), *line[1:]))


def with_sun(g: Ground, times: float) -> Ground:
    """The same year with so many times the sun."""
    return replace(g, suns_w=g.suns_w * times, alone_more_w=g.alone_more_w * times, roof_w=g.roof_w * times)


def lacks_most(g: Ground, everyday: Everyday, now: OffGrid) -> str:
    """Which of storage and sun leaves fewer days short where there is twice as much: “storage”, “sun”, or “both” where
    neither alone does."""
    if now.short == 0:
        return ""
    storage = off_grid(with_storage(g, MORE), everyday).short
    sun = off_grid(with_sun(g, MORE), everyday).short if g.alone_suns_w.any() else now.short
    if min(storage, sun) >= now.short:
        return "both"
    return "storage" if storage < sun else "sun"
