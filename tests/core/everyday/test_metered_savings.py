"""What was really saved: energy is neither lost nor made by cutting it into quarter hours, and money is that of the
day."""

from __future__ import annotations

from datetime import UTC, date, datetime

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from imbuto.core.everyday.metered_savings import by_quarter_hours, metered_period, period_steps
from imbuto.core.home.tariff import Rate, Tariff
from tests.core.everyday.test_everyday import FLAT, TWO

MARCH = datetime(2026, 3, 1, tzinfo=UTC).timestamp()


@given(st.sampled_from([60, 300, 900, 1800, 3600, 1000, 7200]), st.integers(2, 200), st.integers(0, 899))
@settings(max_examples=80)
def test_energy_is_neither_lost_nor_made_by_cutting_it_into_quarter_hours(step_s, n, begins):
    seconds = MARCH + begins + step_s * np.arange(n, dtype=float)
    watts = np.random.default_rng(n).uniform(0, 3000, n)
    found = by_quarter_hours(seconds, watts, None)
    first, last = np.ceil(seconds[0] / 900) * 900, np.floor((seconds[-1] + step_s) / 900) * 900
    assert sorted(found) == list(range(int(first // 900), int(last // 900)))
    at = np.arange(first, last)  # second by second, by hand
    by_hand = watts[np.minimum(((at + 0.5 - seconds[0]) // step_s).astype(int), n - 1)].sum() / 3600
    assert sum(found.values()) == pytest.approx(by_hand, rel=1e-6, abs=1e-6)


def test_a_gap_is_told_as_one_and_never_filled():
    seconds = MARCH + 900 * np.array([0, 1, 2, 40, 41], dtype=float)
    found = by_quarter_hours(seconds, np.full(5, 400.0), None)
    assert sorted(q - round(MARCH / 900) for q in found) == [0, 1, 2, 40, 41]
    assert by_quarter_hours(np.zeros(0), np.zeros(0), None) == {}


def steady(zone: str, first: date, last: date, **watts: float) -> dict:
    """Wh by quarter hour of each role at steady W."""
    steps, _, _ = period_steps(first, last, zone)
    begin = round(steps.start.timestamp() / 900)
    return {role: {begin + i: w / 4 for i in range(steps.n)} for role, w in watts.items()}


def test_a_month_by_hand_at_its_tariff_and_at_another_price():
    first, last = date(2026, 4, 1), date(2026, 4, 30)
    energy = steady("Europe/Rome", first, last, house=1000, bought=600, sent=50, sun=500)
    x = metered_period(first, last, "Europe/Rome", energy, {"f": FLAT}, 0.5)
    kwh = 30 * 24
    assert x.kwh["house"] == pytest.approx(kwh)
    assert x.saved == pytest.approx(0.4 * kwh * 0.3)
    assert x.at_price == pytest.approx(0.4 * kwh * 0.5)
    assert x.by_sun == pytest.approx(0.4)
    assert (x.told, x.at_most, x.worked_out) == (1.0, False, False)
    dearer = Tariff(id="n", name="New", since=date(2026, 4, 16), rates={"a": Rate(id="a", name="All", price=0.6)})
    both = metered_period(first, last, "Europe/Rome", energy, {"f": FLAT, "n": dearer}, None)
    assert both.saved == pytest.approx(0.4 * kwh * (0.3 + 0.6) / 2)  # each day at the tariff of that day
    assert both.at_price is None
    night = metered_period(first, last, "Europe/Rome", energy, {"t": TWO}, None)
    assert night.saved == pytest.approx(0.4 * 30 * (7 * 0.19 + 17 * 0.48))


@pytest.mark.parametrize(("day", "hours"), [(date(2026, 3, 29), 23), (date(2026, 10, 25), 25)])
def test_a_day_on_which_the_clock_changes_has_its_own_hours(day, hours):
    energy = steady("Europe/Rome", day, day, house=1000, bought=1000)
    x = metered_period(day, day, "Europe/Rome", energy, {"f": FLAT}, None)
    assert x.kwh["house"] == pytest.approx(hours)
    assert x.saved == pytest.approx(0)


def test_what_the_house_used_is_worked_out_from_the_others_and_said_so():
    first = last = date(2026, 5, 5)
    energy = steady("UTC", first, last, bought=300, sun=700, sent=200, charged=150, delivered=100)
    x = metered_period(first, last, "UTC", energy, {"f": FLAT}, None)
    assert x.worked_out is True
    assert x.kwh["house"] == pytest.approx(24 * (0.3 + 0.7 - 0.2 - 0.15 + 0.1))
    less = {k: v for k, v in energy.items() if k in ("bought", "sun")}
    y = metered_period(first, last, "UTC", less, {"f": FLAT}, None)
    assert (y.saved, y.kwh["house"], y.at_most) == (None, None, True)
    assert y.by_sun == pytest.approx(0.7)


def test_hours_that_are_not_metered_count_in_neither_bill():
    first = last = date(2026, 5, 5)
    energy = steady("UTC", first, last, house=1000, bought=500)
    begin = min(energy["bought"])
    for i in range(48):
        del energy["bought"][begin + i]
    x = metered_period(first, last, "UTC", energy, {"f": FLAT}, None)
    assert x.told == pytest.approx(0.5)
    assert x.saved == pytest.approx(12 * 0.5 * 0.3)
