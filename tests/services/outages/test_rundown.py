"""A run-down at two levels finds what a station is really like; a best hour, what its panels give."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.outages.proving.test_lessons import run_down, suns_factor
from imbuto.devices.protocols import SimulatedHousehold
from imbuto.devices.simulated import FastClock
from imbuto.devices.station import Label, SimulatedStation, station_truth
from tests.breadth import breadth

AT = datetime(2026, 11, 24, 8, tzinfo=UTC)
EFFICIENCY = 0.93


def readings(label: Label, truth, load_w: float, start: float, seed: int) -> list[tuple[float, float]]:
    """Ten points of a gauge, each noted within a minute of its change, at a steady load."""
    now = [0.0]
    steady = type(truth)(truth.wh, truth.idle_w, 1.0)
    base = AT.timestamp() + seed * 86_400
    station = SimulatedStation(
        label,
        steady,
        FastClock(lambda: now[0], base),
        SimulatedHousehold(AT, 1.0, (load_w,), (0.0,), grid=False),
        start,
    )
    found, last = [], station.read().charge
    while len(found) < 11:
        now[0] += 60
        shown = station.read().charge
        if shown != last:
            found.append((now[0] / 3600, shown))
            last = shown
    return found


def finds(seed: int) -> bool:
    """Whether own draw comes within 2 W and 5%, and capacity within 3%."""
    wh, idle = (1680.0, 4600.0, 12_400.0)[seed % 3], (9.0, 21.0, 38.0)[seed % 2]
    label = Label(wh, EFFICIENCY, idle, 900, 0.92, 0.05)
    truth = station_truth(label, seed)
    nothing = readings(label, truth, 0.0, 0.985, seed)
    loaded = readings(label, truth, wh / 8, 0.82, seed)
    found = run_down(nothing, loaded, wh / 8, EFFICIENCY)
    return abs(found.own_w - truth.idle_w) <= 2 + 0.05 * truth.idle_w and abs(found.wh - truth.wh) <= 0.03 * truth.wh


def test_seeded_run_downs():
    """A minute is long where ten points take three quarters of an hour: now and then one is off."""
    many = breadth(40, 200)
    assert sum(finds(seed) for seed in range(many)) >= 0.98 * many


def test_what_is_too_little_is_refused_with_a_sentence():
    line = [(h, 0.9 - 0.01 * h) for h in range(11)]
    steeper = [(h, 0.9 - 0.03 * h) for h in range(11)]
    found = run_down(line, steeper, 100, 1.0)
    assert (found.wh, found.own_w) == (pytest.approx(5000), pytest.approx(50))
    for nothing, loaded, watts in (
        (line[:3], steeper, 100),
        (line, line, 100),
        (line, steeper, 0),
        ([(h, 0.9) for h in range(11)], steeper, 100),
    ):
        with pytest.raises(InvalidValue) as refused:
            run_down(nothing, loaded, watts, 1.0)
        assert refused.value.sentence.endswith(".")


def test_a_best_hour_that_was_clipped_or_dark_says_nothing():
    assert suns_factor(700, 1000, 2000) == 0.7
    for measured, expected, most in ((1990, 2400, 2000), (100, 0, 2000), (100, 1000, 2000)):
        with pytest.raises(InvalidValue):
            suns_factor(measured, expected, most)
