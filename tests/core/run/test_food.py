"""How warm a cold box gets, against the usual guidance and by hand."""

from dataclasses import replace

import numpy as np
import pytest

from imbuto.core.home.loads import Use
from imbuto.core.run.food_warming import FREEZER, FRIDGE, food, may_off_h
from imbuto.core.run.run import simulate
from tests.support import OUTAGE, STATION, corded, load

FRIDGE_LOAD = load(
    "fridge", 140, 62, use=Use(kind="cycling"), kind="compressor", rest_w=4, thermostatic=True, purpose="food"
)


def test_a_shut_refrigerator_keeps_about_four_hours_and_a_freezer_about_two_days():
    assert FRIDGE.warms_h * np.log((20 - 3) / (20 - 4.44)) == pytest.approx(4, abs=0.2)  # to 40 °F
    assert may_off_h(FREEZER, 20) == pytest.approx(43, abs=3)
    assert may_off_h(FRIDGE, 2.0) == float("inf")  # a room that is colder keeps it by itself


def test_off_for_good_it_follows_the_curve_to_the_room():
    run = simulate(corded(FRIDGE_LOAD, station=STATION), replace(OUTAGE, hours=12, goal_hours=12))
    (found,) = food(run, {})
    assert found.longest_off_h == pytest.approx(12)
    assert found.warmest_c == pytest.approx(25 - 22 * np.exp(-12 / FRIDGE.warms_h))
    assert found.over_h == pytest.approx(12 - may_off_h(FRIDGE, 25), abs=0.1)
    assert not found.fed
    (kept,) = food(run, {"fridge": np.ones(run.steps.n, dtype=bool)})
    assert kept.safe
    assert kept.warmest_c == FRIDGE.set_c
