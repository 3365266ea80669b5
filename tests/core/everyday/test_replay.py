"""A meter's year: its own draw takes the model's place where it tells it, and what it did not see is an outage."""

from __future__ import annotations

import numpy as np
import pytest

from imbuto.core.everyday.meter_replay import hours_carried, with_metered_draw
from imbuto.core.everyday.ordinary_year import year_of
from imbuto.core.everyday.readiness import lasts
from imbuto.core.everyday.year_ground import STEP_H
from imbuto.core.plan.everyday_policy import Everyday
from tests.core.everyday.test_everyday import year_ground

QUARTER = 900.0


def meter(g, hours: int, watts: float, step_s: float = QUARTER):
    """From the first moment of the year on."""
    n = int(hours * 3600 / step_s)
    return g.steps.start.timestamp() + np.arange(n) * step_s, np.full(n, watts)


@pytest.mark.parametrize("step_s", [900.0, 1800.0, 3600.0, 60.0])
def test_its_watts_are_shared_as_the_model_would(step_s):
    g = year_ground(watts=200.0)
    half = g.rest_w + 200.0  # as much beside the station as on it
    from dataclasses import replace

    m = with_metered_draw(replace(g, rest_w=half), *meter(g, 240, 1000.0, step_s))
    told = m.there
    assert told.sum() == 240 * 4
    assert m.ground.fed_w[told] == pytest.approx(500)
    assert m.ground.rest_w[told] == pytest.approx(500)
    assert m.ground.asked_w[told] == pytest.approx(500)
    assert m.ground.fed_w[~told] == pytest.approx(200)
    assert m.gone == ()


@pytest.mark.parametrize("how", ["nothing", "missing"])
def test_what_it_did_not_see_is_an_outage_and_is_carried_or_not(how):
    g = year_ground(watts=100.0)
    seconds, watts = meter(g, 480, 300.0)
    short, long = slice(400, 406), slice(900, 980)  # an hour and a half, and twenty hours
    if how == "nothing":
        watts[short] = watts[long] = 0.0
    else:
        keep = np.ones(len(seconds), dtype=bool)
        keep[short] = keep[long] = False
        seconds, watts = seconds[keep], watts[keep]
    m = with_metered_draw(g, seconds, watts)
    assert m.gone == ((400, 6), (900, 80))
    y = year_of(m.ground, Everyday())
    found = hours_carried(y, m.gone)
    assert found[0] == pytest.approx(2, abs=0.5)
    assert found[1] < 20
    assert found[1] == pytest.approx(float(lasts(y, 20)[225]))


def test_a_blink_is_no_outage():
    g = year_ground(watts=100.0)
    seconds, watts = meter(g, 100, 300.0)
    watts[40] = 0.0
    assert with_metered_draw(g, seconds, watts).gone == ()
    assert STEP_H == 0.25
