"""What a load draws over time: by schedule, by turn, and in each of its states."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from imbuto.core.basics.clock import TYPICAL_DAYS, BoolArray, FloatArray, Grid, Window, inside
from imbuto.core.home.loads import Load, Use, in_use, may_run, turns_average_w, use_watts
from imbuto.core.plan.plan import Stance

MOST_KEPT = 1024  # a house of a thousand loads fits; up to 16 kB each


@lru_cache(maxsize=MOST_KEPT)
def fed_watts(load: Load, stance: Stance, windows: tuple[Window, ...], share: float, steps: Grid) -> FloatArray:
    """Mean W of a load in each step, with its turns; shape (n,). The array is shared: do not write to it."""
    base = use_watts(load, steps)
    if stance == "keep_on":
        return base
    if not windows:
        if load.thermostatic:
            used = in_use(load.use, steps)
            average = turns_average_w(load.average_w, load.run_w, share, thermostatic=True)
            return load.count * (average * used + load.rest_w * share * (1 - used))
        return base * share
    open_ = inside(windows, steps.hour, steps.weekend)
    if not load.thermostatic:
        return base * open_
    used = in_use(load.use, steps)
    part = _share_open(load.use, windows)
    average = turns_average_w(load.average_w, load.run_w, part, thermostatic=True)
    on = load.count * (average / part * used + load.rest_w * (1 - used)) if part > 0 else np.zeros(steps.n)
    return np.where(open_, on, 0.0)


def _share_open(use: Use, windows: tuple[Window, ...]) -> float:
    """The share of its own hours of use that the windows of its turns are open, over an average week; 0 to 1."""
    days = TYPICAL_DAYS
    used, open_ = in_use(use, days), inside(windows, days.hour, days.weekend)
    each = np.where(days.weekend, 2.0, 5.0)
    asked = float((used * each).sum())
    return float((used * open_ * each).sum()) / asked if asked > 0 else 0.0


@lru_cache(maxsize=MOST_KEPT)
def states(load: Load, stance: Stance, windows: tuple[Window, ...]) -> tuple[FloatArray, BoolArray]:
    """Over a typical weekday and weekend day: W drawn while running where it may run, rest W elsewhere it is fed,
    and where it may start; shapes (576,). Instantaneous, for limits."""
    days = TYPICAL_DAYS
    active = may_run(load, days)
    open_ = np.ones(days.n, dtype=bool)
    if stance == "turns" and windows:
        open_ = inside(windows, days.hour, days.weekend)
    active = active & open_
    return np.where(active, load.count * load.run_w, load.count * load.rest_w * open_), active


@lru_cache(maxsize=MOST_KEPT)
def changes(load: Load, stance: Stance, windows: tuple[Window, ...]) -> NDArray[np.int_]:
    """The states of ``states`` that differ from the one before."""
    drawn, active = states(load, stance, windows)
    return np.flatnonzero((np.diff(drawn) != 0) | np.diff(active)) + 1
