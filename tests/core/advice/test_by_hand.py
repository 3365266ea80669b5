"""Sums by hand with one's own numbers, and the night list."""

from dataclasses import replace

import pytest

from imbuto.core.advice.by_hand import KnownNumbers, filled, hand_sums, night_sum, night_wh
from imbuto.core.basics.clock import Window
from imbuto.core.home.loads import Use
from imbuto.core.plan.entered.own_numbers import NightList, OwnNumbers
from imbuto.core.run.run import simulate
from tests.support import OUTAGE, corded, load

KNOWN = KnownNumbers(day_wh=5_000, days=1, module_wh=1_000, most_modules=5, continuous_w=1_500, station="Keg")


def test_storage_panels_and_watts_are_rounded_up_to_whole_pieces():
    """9,300 Wh x 2 days / 2,700 Wh = 6.9; 9,300 / (4 h x 1) = 2,325 W / 400 W = 5.8; 9,300 / 6 h = 1,550 W."""
    own = OwnNumbers(day_wh=9_300, days=2, module_wh=2_700, sun_hours=4, panel_w=400, panel_factor=1, running_h=6)
    store, panels, watts = hand_sums(own, KNOWN)
    assert (store.value, store.pieces) == (18_600, 7)
    assert (panels.value, panels.pieces) == (2_325, 6)
    assert watts.value == 1_550
    assert store.limit == "Keg takes 5."
    assert watts.limit == "Keg supplies 1,500 W."
    assert panels.limit == ""  # its solar inputs are not listed


def test_a_sum_that_comes_out_even_is_not_rounded_up_again():
    store, *_ = hand_sums(OwnNumbers(day_wh=1_000, days=3, margin=0.1, module_wh=1_100), KNOWN)
    assert store.pieces == 3  # 3,300 / 1,100
    assert "= 3, so 3." in store.formula
    store, *_ = hand_sums(OwnNumbers(day_wh=1_001, days=5, module_wh=1_000), KNOWN)
    assert "= just over 5, so 6." in store.formula


def test_a_field_left_empty_is_the_plans_and_nothing_known_is_asked_for():
    used = filled(OwnNumbers(days=3), KNOWN)
    assert (used.day_wh, used.days, used.module_wh) == (5_000, 3, 1_000)
    store, panels, _ = hand_sums(OwnNumbers(), KNOWN)
    assert store.pieces == 5
    assert panels.value is None
    assert panels.lacks == "Enter the sun hours per day."
    (only,) = hand_sums(OwnNumbers(), replace(KNOWN, day_wh=None))
    assert only.lacks == "Enter the energy per day."


def test_panels_beyond_the_solar_inputs_are_said():
    own = OwnNumbers(day_wh=9_300, sun_hours=4, panel_w=400, panel_factor=1)
    limit = next(s for s in hand_sums(own, replace(KNOWN, input_w=2_000)) if s.part == "solar").limit
    assert limit.startswith("2,400 W of panels are more than the 2,000 W")


def test_a_night_list_adds_up_over_midnight():
    night = NightList(from_h=22, to_h=7, loads=("fan", "lamp", "kettle"), told_w=600, told_wh=1_000)
    loads = {
        "fan": load("fan", 50),
        "lamp": load("lamp", 20, count=2, use=Use(kind="windows", windows=(Window(start_h=18, end_h=23),))),
        "kettle": load("kettle", 1_200, use=Use(kind="windows", windows=(Window(start_h=8, end_h=9),))),
    }
    assert night_wh(loads["fan"], night) == pytest.approx(450)  # 50 W x 9 h
    assert night_wh(loads["lamp"], night) == pytest.approx(40)  # 2 x 20 W x 1 h
    found = night_sum(night, loads, [])
    assert found.wh == pytest.approx(490)
    assert found.average_w == pytest.approx(490 / 9)
    assert found.together_w == 50 + 40 + 1_200
    assert found.says[0].startswith("You were told 600 W; the list adds up to 1,290 W. The total leaves something out")
    assert "Something is missing in the list" in found.says[1]


def test_hours_of_a_night_list_are_usable_energy_over_watts_with_the_stations_own_use():
    fan, radio = load("fan", 90, 50), load("radio", 30, 20)
    run = simulate(corded(fan, radio), OUTAGE)
    found = night_sum(NightList(loads=("fan", "radio")), {"fan": fan, "radio": radio}, [run])
    (station,) = found.stations
    own, share = run.store.idle_w, run.store.efficiency
    assert station.hours == pytest.approx(run.usable_wh / (70 / share + own))
    assert station.hours_together == pytest.approx(run.usable_wh / (120 / share + own))
    assert found.lines[0].without == (pytest.approx(run.usable_wh / (20 / share + own)),)
