"""Logs with a known truth: averages within 2%, duty within 3 points, starts within 5%."""

from dataclasses import dataclass

import numpy as np
import pytest

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.measuring.log_analysis import analyse

DAYS = 7


@dataclass
class Truth:
    watts: np.ndarray
    duty: float
    starts_a_day: float
    run_w: float | None = None


def on_off(rng, step_s, on_min, off_min, jitter=0.15, days=DAYS):
    """Whether a thing is on at each sample, and how often it started."""
    n = round(days * 86400 / step_s)
    on = np.zeros(n, dtype=bool)
    at, starts = rng.uniform(0, off_min) * 60, 0
    while at < days * 86400:
        length = on_min * 60 * (1 + jitter * rng.standard_normal())
        a, b = round(at / step_s), round((at + max(length, step_s * 3)) / step_s)
        on[a:b] = True
        starts += 1
        at += length + off_min * 60 * max(0.2, 1 + jitter * rng.standard_normal())
    return on, starts / days


def cycling(rng, step_s=60, run=131, rest=4, on_min=18, off_min=25):
    on, starts = on_off(rng, step_s, on_min, off_min)
    return Truth(np.where(on, run, rest).astype(float), on.mean(), starts, run)


def fridge_with_defrost(rng):
    truth = cycling(rng)
    for day in range(DAYS):
        for hour in (3, 15):
            i = day * 1440 + hour * 60
            truth.watts[i : i + 22] += 320
    return truth


def fine_pump(rng):
    on, starts = on_off(rng, 10, 3, 115)
    return Truth(np.where(on, 640, 0.5), on.mean(), starts, 640)


def furnace_by_weather(rng):
    """Duty follows the outdoor temperature: long runs at night, short ones by day."""
    n, on, starts, at = DAYS * 1440, [], 0, 0
    while len(on) < n:
        duty = 0.45 + 0.3 * np.cos(2 * np.pi * (at % 1440) / 1440)
        on += [True] * round(40 * duty) + [False] * round(40 * (1 - duty))
        starts += 1
        at = len(on)
    on = np.array(on[:n])
    return Truth(np.where(on, 480, 6).astype(float), on.mean(), starts / DAYS, 480)


def two_appliances(rng):
    """A refrigerator, and a heater that rides on its circuit: the one with more energy is the main one."""
    fridge, heater = cycling(rng), on_off(rng, 60, 12, 47)
    return Truth(fridge.watts + 400 * heater[0], heater[0].mean(), heater[1], 404)


def noisy(truth, rng, part):
    return Truth(
        np.clip(truth.watts + part * rng.standard_normal(len(truth.watts)), 0, None),
        truth.duty,
        truth.starts_a_day,
        truth.run_w,
    )


def with_spikes(rng):
    truth = cycling(rng)
    truth.watts[rng.integers(0, len(truth.watts), 60)] += 900
    return truth


CASES = {
    "refrigerator": lambda rng: cycling(rng),
    "refrigerator with defrost": fridge_with_defrost,
    "freezer, long runs": lambda rng: cycling(rng, run=108, rest=1, on_min=45, off_min=70),
    "pump, rare and short, 10 s samples": fine_pump,
    "furnace by weather": furnace_by_weather,
    "two appliances on one circuit": two_appliances,
    "noisy sensor": lambda rng: noisy(cycling(rng), rng, 4.0),
    "noisy pump": lambda rng: noisy(fine_pump(rng), rng, 6.0),
    "standby base": lambda rng: Truth(np.full(DAYS * 1440, 6.0), 1.0, 0.0),
    "steady and noisy": lambda rng: Truth(62 + rng.standard_normal(DAYS * 1440), 1.0, 0.0),
    "inrush spikes": with_spikes,
    "nearly always on": lambda rng: cycling(rng, run=90, rest=5, on_min=80, off_min=12),
}


@pytest.mark.parametrize("name", CASES)
@pytest.mark.parametrize("seed", [1, 2, 3])
def test_the_truth_is_found(name, seed):
    rng = np.random.default_rng(seed)
    truth = CASES[name](rng)
    n = len(truth.watts)
    found = analyse(np.arange(n) * (DAYS * 86400 / n), truth.watts)
    assert found.average_w == pytest.approx(truth.watts.mean(), rel=0.02)
    assert found.duty == pytest.approx(truth.duty, abs=0.03)
    assert found.starts_a_day == pytest.approx(truth.starts_a_day, rel=0.05)
    if truth.run_w:
        assert found.run_w == pytest.approx(truth.run_w, rel=0.06)
    assert found.hours == pytest.approx(24 * DAYS)


def test_a_defrost_bump_is_told_apart_and_not_taken_for_the_run_level():
    found = analyse(np.arange(DAYS * 1440) * 60.0, fridge_with_defrost(np.random.default_rng(1)).watts)
    bump = next(p for p in found.parts if p.kind == "bump")
    assert bump.w == pytest.approx(320, rel=0.05)
    assert bump.starts_a_day == pytest.approx(2, abs=0.3)
    assert bump.minutes == pytest.approx(22, abs=2)
    assert found.shape == "cycling"


def test_a_rider_is_told_apart():
    found = analyse(np.arange(DAYS * 1440) * 60.0, two_appliances(np.random.default_rng(2)).watts)
    rider = next(p for p in found.parts if p.kind == "rider")
    assert rider.w == pytest.approx(127, rel=0.06)


@pytest.mark.parametrize(
    ("name", "shape"),
    [("pump, rare and short, 10 s samples", "events"), ("standby base", "steady"), ("refrigerator", "cycling")],
)
def test_shapes(name, shape):
    truth = CASES[name](np.random.default_rng(4))
    assert analyse(np.arange(len(truth.watts)) * (DAYS * 86400 / len(truth.watts)), truth.watts).shape == shape


def test_utility_intervals_give_averages_and_profiles_only():
    seconds = np.arange(96 * DAYS) * 900.0
    watts = np.where((seconds / 3600 % 24) >= 18, 800.0, 200.0)
    found = analyse(seconds, watts)
    assert (found.shape, found.parts) == ("profile", ())
    assert found.average_w == pytest.approx(350)
    assert found.profile_w[17] == 200
    assert found.profile_w[18] == 800


def test_a_gap_is_counted_and_not_filled():
    truth = cycling(np.random.default_rng(5))
    seconds = np.arange(len(truth.watts)) * 60.0
    keep = (seconds < 2 * 86400) | (seconds > 3 * 86400)
    found = analyse(seconds[keep], truth.watts[keep])
    assert found.gaps == 1
    assert found.hours == pytest.approx(24 * (DAYS - 1), abs=0.1)
    assert found.average_w == pytest.approx(truth.watts[keep].mean(), rel=0.001)


@pytest.mark.parametrize(
    ("seconds", "watts", "words"),
    [
        (range(5), [1] * 5, "At least 12 samples"),
        (range(20), [1] * 19 + [-3], "sample 20: -3.0 can't be used. A load draws at least 0"),
        ([*range(19), 5], [1] * 20, "sample 20"),
        (range(20), [1] * 19 + [float("nan")], "a number"),
    ],
)
def test_a_log_that_cannot_be_is_refused_with_its_sample(seconds, watts, words):
    with pytest.raises(InvalidValue, match=words):
        analyse(np.array(list(seconds), dtype=float), np.array(watts, dtype=float))


def test_runs_shorter_than_the_steps_hide_what_they_draw():
    seconds = np.arange(0, 3 * 86_400, 300.0)
    for width in (1, 2):  # a minute or two at 620 W, seen as means of five
        pump = np.where(np.arange(len(seconds)) % 19 < width, 65.0, 0.5)
        found = analyse(seconds, pump)
        assert (found.shape, found.run_seen) == ("events" if width == 1 else "cycling", False)
        assert found.starts_a_day == pytest.approx(288 / 19, rel=0.05)
    slow = np.where(np.arange(len(seconds)) % 19 < 8, 131.0, 4.0)
    assert analyse(seconds, slow).run_seen
