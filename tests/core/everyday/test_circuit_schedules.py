"""Circuits that are off at set hours while the grid is there."""

from dataclasses import replace

import numpy as np
import pytest

from imbuto.core.basics.clock import TYPICAL_DAYS, Window, inside
from imbuto.core.basics.errors import ImbutoError
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.everyday.circuit_schedules import load_watts
from imbuto.core.everyday.ordinary_year import year_of
from imbuto.core.home.loads import use_watts
from imbuto.core.limits.all_limits import fit
from imbuto.core.plan.everyday_policy import CircuitSchedule, Everyday
from imbuto.core.plan.plan_checks import check_plan
from tests.core.everyday.test_ordinary_network import shifting, year_ground
from tests.core.run.test_several import device, feeds, house, plan, source
from tests.support import STATION, load, switched

CATALOGUE = Catalogue(stations={STATION.id: STATION}).over(shipped())
PEAK = (Window(start_h=17, end_h=21, days="weekday"),)


def home_with(average_w: float, run_w: float):
    part, _ = switched((1, [load("heater", run_w, average_w)]))
    return part.home


def test_what_is_missed_and_not_made_up_is_spared_on_weekdays_alone():
    home = home_with(500, 500)
    watts = load_watts(home, {"c1": CircuitSchedule(id="c1", off=PEAK, later=False)}, TYPICAL_DAYS)["heater"]
    off = inside(PEAK, TYPICAL_DAYS.hour, TYPICAL_DAYS.weekend)
    assert np.array_equal(watts, np.where(off, 0, 500))
    per_step = TYPICAL_DAYS.step_h
    assert (500 - watts)[~TYPICAL_DAYS.weekend].sum() * per_step == pytest.approx(2_000)  # 4 h x 500 W
    assert (500 - watts)[TYPICAL_DAYS.weekend].sum() == 0


def test_a_water_heater_uses_later_what_it_missed_at_its_running_watts():
    """4 h x 500 W = 2,000 Wh are made up at 4,000 - 500 W, in 34 minutes after 21:00."""
    home = home_with(500, 4_000)
    watts = load_watts(home, {"c1": CircuitSchedule(id="c1", off=PEAK)}, TYPICAL_DAYS)["heater"]
    assert watts.sum() == pytest.approx(use_watts(home.loads["heater"], TYPICAL_DAYS).sum())
    evening = (TYPICAL_DAYS.hour > 21) & ~TYPICAL_DAYS.weekend
    assert watts[evening][:6] == pytest.approx(4_000)
    assert watts[evening][7:] == pytest.approx(500)
    assert (watts <= 4_000).all()


def test_what_runs_all_the_time_has_nothing_to_make_up():
    home = home_with(500, 500)
    both = [load_watts(home, {"c1": CircuitSchedule(id="c1", off=PEAK, later=x)}, TYPICAL_DAYS) for x in (True, False)]
    assert np.array_equal(both[0]["heater"], both[1]["heater"])


def test_a_circuit_that_health_depends_on_is_never_off_by_a_schedule():
    part, _ = switched((1, [load("mask", 30, purpose="life")]), (3, [load("lamp", 20)]))
    for circuit, refused in (("c1", "must stay on"), ("c3", ""), ("c9", "doesn't have that circuit")):
        everyday = Everyday(circuits={circuit: CircuitSchedule(id=circuit, off=PEAK)})
        plan = replace(part.plan, everyday=everyday)
        if not refused:
            check_plan(plan, part.home, CATALOGUE)
            continue
        with pytest.raises(ImbutoError, match=refused):
            check_plan(plan, part.home, CATALOGUE)


def test_off_by_a_schedule_is_not_unserved_and_only_what_is_not_made_up_is_spared():
    """Forty days from a Thursday, 28 of them weekdays: 28 x 4 h x 300 W."""
    home = house(hall=100, attic=300)
    for later, run_w, spared in ((False, 300, 33_600), (True, 900, 0)):
        loads = home.loads | {"attic-load": replace(home.loads["attic-load"], run_w=run_w)}
        schedule = CircuitSchedule(id="attic", off=PEAK, later=later)
        made = plan(
            source(),
            devices=(device(),),
            feeds=feeds("hall@main"),
            everyday=replace(shifting(), circuits={"attic": schedule}),
        )
        g = year_ground(replace(home, loads=loads), made)
        assert g.spared_w.sum() * 0.25 == pytest.approx(spared, abs=1)
        assert g.rest_w.sum() * 0.25 == pytest.approx(300 * 24 * 40 - spared, abs=1)
        assert year_of(g, made.everyday).unserved_wh == 0


def test_a_charging_setting_that_is_never_reached_is_said():
    station = replace(STATION, charge_w=1_800, charge_w_per_module=900)
    part, outage = switched((1, [load("lamp", 20)]), station=station, charge_w=5_000)
    found = {x.id: x for x in fit(part, outage)}
    assert found["charge_set"].sentence == "5,000 W are set, but Test station takes 1,800 W."
    assert not found["charge_set"].stops
    part, outage = switched((1, [load("lamp", 20)]), station=station, charge_w=1_800)
    assert "charge_set" not in {x.id for x in fit(part, outage)}
