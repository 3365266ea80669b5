"""Circuits that are off at set hours while the grid is there: what their loads draw then, and afterwards."""

from __future__ import annotations

import numpy as np

from imbuto.core.basics.clock import FloatArray, Grid, inside
from imbuto.core.home.home import Home
from imbuto.core.home.loads import Load, use_watts
from imbuto.core.plan.everyday_policy import CircuitSchedule

TURNS = 2  # through the steps: the second begins with what the first left to make up


def load_watts(home: Home, schedules: dict[str, CircuitSchedule], steps: Grid) -> dict[str, FloatArray]:
    """AC W of each load of a home in each step on ordinary days, shape (n,), with its circuit off by its schedule."""
    return {
        key: _off_at_times(load, schedules[load.circuit], steps)
        if load.circuit in schedules
        else use_watts(load, steps)
        for key, load in home.loads.items()
    }


def _off_at_times(load: Load, schedule: CircuitSchedule, steps: Grid) -> FloatArray:
    asked = use_watts(load, steps)
    off = inside(schedule.off, steps.hour, steps.weekend)
    found = np.where(off, 0.0, asked)
    if not schedule.later:
        return found
    return _made_up(asked, off, np.maximum(load.count * load.run_w - asked, 0.0))


def _made_up(asked_w: FloatArray, off: np.ndarray, room_w: FloatArray) -> FloatArray:
    """What was missed while off is drawn as soon as it is on again, as fast as the load runs; steps follow each other
    in a ring, so that nothing is lost at their end. What has no room is not made up: it runs all the time anyway."""
    asked, rooms, dark = asked_w.tolist(), room_w.tolist(), off.tolist()
    found = [0.0] * len(asked)
    owed = 0.0
    for _ in range(TURNS):
        for i, w in enumerate(asked):
            if dark[i]:
                owed += w
            else:
                more = min(owed, rooms[i])
                owed -= more
                found[i] = w + more
    return np.array(found)
