"""Loads, their use, and circuits."""

from dataclasses import replace
from datetime import datetime

import numpy as np
import pytest

from imbuto.core.basics.clock import Window, grid, share_of_day
from imbuto.core.basics.errors import InvalidValue, UnknownReference
from imbuto.core.basics.evidence import spread_of_range
from imbuto.core.home.circuits import Circuit, breaker_amps, leg_of_slot, neutral_amps, panel_leg
from imbuto.core.home.home import Home, Service, Site, check_home
from imbuto.core.home.loads import Use, check_load, duty, is_continuous, mean_w, turns_average_w, use_watts
from imbuto.core.home.typical import typical
from imbuto.core.plan.load_states import fed_watts
from tests.support import load


def test_metered_average_and_duty_of_the_check_figures():
    average = 1000 * 0.43 / 6.5
    assert average == pytest.approx(66.15, abs=0.005)
    assert duty(average, 118, 5) == pytest.approx(0.5412, abs=0.00005)


def test_duty_is_clamped_just_outside_and_refused_beyond():
    assert duty(101, 100, 0) == 1.0
    assert duty(3.9, 104, 4) == 0.0
    for average, run, rest in [(120, 100, 0), (1, 100, 20), (50, 10, 10)]:
        with pytest.raises(InvalidValue):
            duty(average, run, rest)


@pytest.mark.parametrize(("share", "expected"), [(1 / 2, 55.8), (1 / 3, 46.67)])
def test_a_thermostat_in_turns_catches_up(share, expected):
    assert turns_average_w(62, 140, share, thermostatic=True) == pytest.approx(expected, abs=0.005)
    assert turns_average_w(62, 140, share, thermostatic=False) == pytest.approx(62 * share)


DAY = grid(datetime(2026, 11, 24), "UTC", 24)  # a Tuesday


@pytest.mark.parametrize(
    ("use", "expected_wh"),
    [
        (Use(), 2400),
        (Use(kind="windows", windows=(Window(start_h=22, end_h=7),)), 900 + 15 * 10),
        (Use(kind="windows", windows=(Window(start_h=9, end_h=17, days="weekend"),)), 240),
        (Use(kind="tasks", times=(7, 23.99), minutes=25), 24 * 10 + 90 * 50 / 60),
    ],
)
def test_energy_of_a_day_in_use(use, expected_wh):
    item = load("x", run_w=100, rest_w=10, use=use)
    assert use_watts(item, DAY).sum() / 12 == pytest.approx(expected_wh)


def test_a_task_that_starts_inside_a_step_is_split_between_steps():
    watts = use_watts(load("x", run_w=600, use=Use(kind="tasks", times=(7 + 3 / 60,), minutes=5)), DAY)
    assert list(watts[84:87]) == pytest.approx([240, 360, 0])


def test_weekly_mean_counts_weekdays_and_weekends():
    office = load("x", run_w=100, use=Use(kind="windows", windows=(Window(start_h=9, end_h=17, days="weekday"),)))
    assert mean_w(office) == pytest.approx(100 * 8 * 5 / 168)
    assert share_of_day((Window(start_h=0, end_h=24),)) == pytest.approx(1)


def test_turns_by_the_clock_give_a_thermostat_its_catch_up_inside_the_window():
    item = replace(load("x", run_w=140, average_w=62, thermostatic=True), use=Use(kind="cycling"))
    watts = fed_watts(item, "turns", (Window(start_h=0, end_h=12),), 0.5, DAY)
    assert watts.mean() == pytest.approx(55.8)
    assert watts[144:].max() == 0


def test_a_night_with_a_clock_change_has_the_local_hours_it_has():
    """25 h from midnight to midnight when clocks go back: the hour from 1 to 2 comes twice."""
    steps = grid(datetime(2026, 11, 1), "America/Los_Angeles", 25)
    assert np.count_nonzero((steps.hour >= 1) & (steps.hour < 2)) == 24
    assert steps.moment(25).hour == 0
    assert steps.moment(25).day == 2


def test_contradictions_in_a_load_are_told_with_its_name():
    with pytest.raises(
        InvalidValue, match=r"Kettle, average watts: 200 can't be used\. The average can't be above the 100 W"
    ):
        check_load(load("kettle", run_w=100, average_w=200))
    with pytest.raises(InvalidValue, match="at least one time window"):
        check_load(load("kettle", use=Use(kind="windows")))
    with pytest.raises(InvalidValue, match="At rest it can't draw more"):
        check_load(load("kettle", run_w=10, rest_w=20))


def test_continuous_is_three_hours_or_more():
    assert not is_continuous(load("x", use=Use(kind="tasks", times=(7,), minutes=5)))
    assert is_continuous(load("x", use=Use(kind="windows", windows=(Window(start_h=22, end_h=7),))))
    assert not is_continuous(load("x", run_w=100, average_w=40, use=Use(kind="cycling")))


def test_breakers_legs_and_neutrals_of_the_check_figures():
    assert breaker_amps(1800 / 120, 600 / 120) == pytest.approx(23.75)
    assert breaker_amps(10, 5, full_rating=True) == 15
    assert [leg_of_slot(s) for s in (1, 2, 3, 4, 5, 6)] == ["A", "A", "B", "B", "A", "A"]
    assert panel_leg(Circuit(id="x", name="x", slots=(3,), leg="A")) == "A"
    assert neutral_amps(13, 11, split_phase=True) == 13
    assert neutral_amps(13, 11, split_phase=False) == 24


@pytest.mark.parametrize(
    ("home", "error", "words"),
    [
        (Home(id="h", name="H", site=Site(time_zone="Mars/Base")), UnknownReference, "time zone"),
        (
            Home(id="h", name="H", service=Service(slots=4), circuits={"a": Circuit(id="a", name="A", slots=(5,))}),
            InvalidValue,
            "The main panel has 4 slots",
        ),
        (
            Home(
                id="h",
                name="H",
                service=Service(slots=4),
                circuits={k: Circuit(id=k, name=k, slots=(1,)) for k in "ab"},
            ),
            InvalidValue,
            "A is already there",
        ),
        (
            Home(id="h", name="H", loads={"x": load("x", circuit="zz")}),
            UnknownReference,
            "This home doesn't have that circuit",
        ),
        (Home(id="h", name="H", loads={"y": load("x")}), InvalidValue, "the two must be the same"),
    ],
)
def test_a_home_that_contradicts_itself_is_refused(home, error, words):
    with pytest.raises(error, match=words):
        check_home(home)


def test_every_typical_load_stands_and_is_shown_as_a_guess():
    table = typical()
    assert len(table) >= 60
    for row in table.values():
        for volts in (120, 230):
            item = row.load(row.id, 1, volts)
            check_load(item)
            assert item.evidence == "guess"
            assert row.low_w < row.usual_w < row.high_w
            assert item.spread == pytest.approx(spread_of_range(row.low_w, row.usual_w, row.high_w), abs=0.001)
            assert row.reason
