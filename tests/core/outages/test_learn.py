"""A gauge that teaches: on seeded outages of a station whose truth is known."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest

from imbuto.core.outages.gauge_learning import GaugeReading, capped_at_full, learn

STEP_H = 5 / 60
N = int(96 / STEP_H)


def story(seed: int):
    """A planned load over four days, and what a station with a truth of its own does with it."""
    rng = random.Random(seed)
    full, floor, efficiency, idle = rng.choice([1680.0, 4600.0, 12_400.0]), 0.1, 0.93, rng.choice([13.0, 34.0])
    hours = rng.uniform(12, 40)
    base = full * 0.9 / hours
    hour = np.arange(N) * STEP_H + 18
    planned = base * (0.6 + 0.4 * (np.sin((hour - 10) / 24 * 2 * math.pi) + 1))
    truth = {
        "scale": rng.lognormvariate(0, 0.12),
        "idle": idle * rng.uniform(0.75, 1.25),
        "full": full * rng.gauss(1, 0.03),
    }
    noise = np.repeat([rng.lognormvariate(0, 0.14) for _ in range(96)], N // 96)
    real = truth["scale"] * planned * noise / efficiency + truth["idle"]
    charge = 1 - np.concatenate([[0], np.cumsum(real) * STEP_H]) / truth["full"]
    dark = float(np.interp(-floor, -charge, np.arange(N + 1) * STEP_H))
    return {"full_wh": full, "efficiency": efficiency, "idle_w": idle, "floor": floor}, planned, charge, dark


def gauge(charge: np.ndarray, hours: list[float]) -> list[GaugeReading]:
    """Whole percents, as a display shows them."""
    ends = np.arange(len(charge)) * STEP_H
    return [GaugeReading(h, math.floor(100 * float(np.interp(h, ends, charge)) + 0.5) / 100) for h in hours]


def fits(seed: int, count: int) -> tuple[bool, bool]:
    """Whether the hours to dark are within the larger of 5% and twice the gauge's error once 15 points have gone,
    and whether it goes on at least as long as is quoted."""
    known, planned, charge, dark = story(seed)
    fifteen = float(np.interp(-0.85, -charge, np.arange(len(charge)) * STEP_H))
    seen = gauge(charge, [0.0, *(fifteen * (i + 1) / count for i in range(count))])
    found = learn(seen, planned, np.zeros(N), STEP_H, **known)
    assert found.dark_h is not None
    left = dark - fifteen
    gauge_h = left * (0.01 / 0.15)  # one step over the points that have gone
    inside = dark >= (found.early_h or 0)
    return abs(found.dark_h - dark) <= max(0.05 * left, 2 * gauge_h), inside


@pytest.mark.parametrize(("count", "wanted"), [(60, 0.9), (4, 0.8)], ids=["streamed", "by hand"])
def test_two_hundred_seeded_outages(count, wanted):
    each = [fits(seed, count) for seed in range(200)]
    assert sum(ok for ok, _ in each) / 200 >= wanted
    assert 0.85 <= sum(inside for _, inside in each) / 200 <= 0.95  # it goes on past what is quoted 9 times in 10


def test_a_steady_load_moves_scale_and_own_draw_and_says_it_cannot_tell_them_apart():
    planned = np.full(N, 100.0)
    known = {"full_wh": 1000.0, "efficiency": 1.0, "idle_w": 10.0, "floor": 0.1}
    charge = 1 - np.arange(N + 1) * STEP_H * (120 + 10) / 1000
    found = learn(gauge(charge, [0, 0.5, 1, 1.5, 2, 2.5, 3]), planned, np.zeros(N), STEP_H, **known)
    assert not found.apart
    assert found.scale * 100 + found.idle_w == pytest.approx(130, rel=0.05)
    assert found.dark_h == pytest.approx(900 / 130, rel=0.05)


def test_a_load_that_varies_tells_the_own_draw_apart():
    planned = np.where(np.arange(N) * STEP_H % 6 < 3, 40.0, 400.0)
    known = {"full_wh": 20_000.0, "efficiency": 1.0, "idle_w": 60.0, "floor": 0.1}
    real = 0.9 * planned + 90
    charge = 1 - np.concatenate([[0], np.cumsum(real) * STEP_H]) / 20_000
    found = learn(gauge(charge, [float(h) for h in np.arange(0, 40, 0.5)]), planned, np.zeros(N), STEP_H, **known)
    assert found.apart
    assert found.scale == pytest.approx(0.9, abs=0.08)  # drawn toward 1 by what it was believed to be
    assert found.idle_w == pytest.approx(90, abs=18)
    assert found.idle_error < 18


def test_what_comes_in_is_not_taken_for_thrift():
    planned, came = np.full(N, 100.0), np.full(N, 60.0)
    known = {"full_wh": 1000.0, "efficiency": 1.0, "idle_w": 10.0, "floor": 0.1}
    charge = 1 - np.arange(N + 1) * STEP_H * 50 / 1000
    found = learn(gauge(charge, [0, 1, 2, 3, 4]), planned, came, STEP_H, **known)
    assert found.scale == pytest.approx(1.0, abs=0.05)
    assert found.dark_h == pytest.approx(18, rel=0.05)


def test_below_twenty_percent_the_band_is_wider_and_at_the_floor_it_is_dark():
    planned = np.full(N, 100.0)
    known = {"full_wh": 1000.0, "efficiency": 1.0, "idle_w": 0.0, "floor": 0.1}
    high = learn([GaugeReading(0, 0.6), GaugeReading(1, 0.5)], planned, np.zeros(N), STEP_H, **known)
    low = learn([GaugeReading(0, 0.19), GaugeReading(1, 0.15)], planned, np.zeros(N), STEP_H, **known)
    assert low.charge_error > 1.3 * high.charge_error
    assert learn(
        [GaugeReading(0, 0.5), GaugeReading(4, 0.09)], planned, np.zeros(N), STEP_H, **known
    ).dark_h == pytest.approx(4, abs=0.2)
    with pytest.raises(ValueError, match="no reading"):
        learn([], planned, np.zeros(N), STEP_H, **known)


def test_a_counter_tells_the_load_from_the_own_draw_where_a_gauge_cannot():
    """A steady load: the gauge alone says their sum; with what was counted the two are told apart, wherever it began
    to count."""
    planned = np.full(N, 100.0)
    known = {"full_wh": 10_000.0, "efficiency": 0.9, "idle_w": 30.0, "floor": 0.1}
    charge = 1 - np.arange(N + 1) * STEP_H * (115 / 0.9 + 45) / 10_000
    hours = [0.0, 4, 8, 12, 16, 20]
    plain = gauge(charge, hours)
    counted = [GaugeReading(s.hour, s.charge, 7_000 + 115 * s.hour) for s in plain]
    alone, told = (learn(x, planned, np.zeros(N), STEP_H, **known) for x in (plain, counted))
    assert told.scale == pytest.approx(1.15, abs=0.03)
    assert told.idle_w == pytest.approx(45, abs=4)
    assert abs(alone.idle_w - 45) > abs(told.idle_w - 45)
    assert told.idle_error < alone.idle_error


def test_what_would_go_beyond_full_is_lost():
    planned, came = np.full(N, 100.0), np.where(np.arange(N) * STEP_H < 24, 500.0, 0.0)
    known = {"full_wh": 2000.0, "efficiency": 1.0, "idle_w": 0.0, "floor": 0.1}
    found = learn([GaugeReading(0, 0.9)], planned, came, STEP_H, **known)
    assert found.dark_h == pytest.approx(24 + 18, rel=0.02)
    assert capped_at_full(np.array([5.0, 12, 11, 14, 3]), 10).tolist() == [5, 10, 9, 10, -1]
