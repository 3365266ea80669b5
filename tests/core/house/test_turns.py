"""What a load draws in its turns, step by step."""

from __future__ import annotations

from datetime import datetime

import numpy as np
import pytest

from imbuto.core.basics.clock import Window, grid
from imbuto.core.home.loads import Load, Use
from imbuto.core.measuring.log_analysis import _edges
from imbuto.core.plan.load_states import fed_watts

DAY = grid(datetime(2026, 11, 24), "UTC", 24)


def at(watts: np.ndarray, hour: float) -> float:
    return float(watts[round(hour / DAY.step_h)])


def test_a_load_rests_in_its_turn_while_it_is_not_in_use():
    """In use from 8 to 12; its turn is from 6 to 10: half of what it is used falls into it, at 80 W on average."""
    use = Use(kind="windows", windows=(Window(start_h=8, end_h=12),))
    load = Load(id="x", name="X", kind="heater", average_w=80, rest_w=6, run_w=400, thermostatic=True, use=use)
    watts = fed_watts(load, "turns", (Window(start_h=6, end_h=10),), 0.5, DAY)
    assert at(watts, 7) == pytest.approx(6)  # fed, not in use
    # Half of its hours: it catches up to 55.8 of 62 (the check figure), in half of the time.
    assert at(watts, 9) == pytest.approx(80 * 55.8 / 62 / 0.5)
    assert at(watts, 11) == 0  # in use, not its turn
    assert at(watts, 20) == 0


def test_a_plain_load_has_in_its_turn_what_it_always_has():
    load = Load(id="x", name="X", average_w=50, rest_w=0, run_w=50)
    watts = fed_watts(load, "turns", (Window(start_h=6, end_h=10),), 0.5, DAY)
    assert (at(watts, 7), at(watts, 11)) == (50, 0)
    assert fed_watts(load, "turns", (), 0.25, DAY).mean() == pytest.approx(12.5)


def test_a_ramp_is_one_edge_and_up_and_down_are_two():
    flat = np.full(40, 100.0)
    ramp = np.concatenate([flat, [200.0, 300.0], np.full(40, 400.0)])
    whole = np.concatenate([flat, [400.0], flat])
    none = np.zeros(len(ramp) - 1, dtype=bool)
    assert _edges(ramp, none) == [(40, 300.0)]
    assert _edges(whole, np.zeros(len(whole) - 1, dtype=bool)) == [(40, 300.0), (41, -300.0)]
