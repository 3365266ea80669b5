"""Known, assumed, broken: what only an assumption breaks may trip, and the one figure that settles it is named."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.advice.headline import headline
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.home.loads import TriedStart
from imbuto.core.limits.all_limits import MAY, fit
from imbuto.core.plan.system import resolve_part
from tests.breadth import breadth
from tests.core.run.test_several import CALM
from tests.support import STATION, corded, load, random_plan

# One leg of 120 V with VA to spare for running, and a surge that a start may or may not stay below.
SMALL = replace(STATION, rated_va=2000, continuous_w=2000, surge_va=2000, leg_surge_va=2000, leg_a=20, surge_s=3.0)


def judged(*loads, station=SMALL):
    now = corded(*loads, station=station)
    return judge(now.home, now.plan, CALM, Catalogue(stations={station.id: station}).over(shipped()), with_moves=False)


def fridge(**more):
    return load("fridge", 150, kind="compressor", purpose="food", **more)


# A compressor of 150 W starts at 900 to 2,100 VA, usually 1,350; 100 W run beside it.
@pytest.mark.parametrize(
    ("surge", "state"),
    [(2200.0, "fits"), (2199.0, "may"), (1001.0, "may"), (999.0, "trips")],
)
def test_fits_may_and_will_by_the_two_ends_of_an_assumed_start(surge, state):
    found = judged(fridge(), load("lamp", 100), station=replace(SMALL, surge_va=surge, leg_surge_va=surge))
    assert found.fits is (state != "trips")
    assert state == "trips" or (found.may_trip is not None) is (state == "may")


def test_what_settles_it_is_named_with_the_value_up_to_which_it_holds():
    found = judged(fridge(), load("lamp", 100), station=replace(SMALL, surge_va=1500, leg_surge_va=1500))
    said = headline(found)
    assert said.may.startswith("May trip. Measure the start of Fridge")
    assert "Up to 1,400 VA fits." in said.may
    assert not said.may_first
    assert said.figure  # hours lead where no health depends on it
    # Measured so much it fits, a little more and it does not.
    known = [
        judged(fridge(start_va=v), load("lamp", 100), station=replace(SMALL, surge_va=1500, leg_surge_va=1500))
        for v in (1400, 1401)
    ]
    assert [x.may_trip is None and x.fits for x in known] == [True, False]


def test_with_health_on_the_same_station_it_comes_first_and_never_counts_as_reached():
    now = corded(fridge(), load("mask", 100, purpose="life"), station=replace(SMALL, surge_va=1500, leg_surge_va=1500))
    kit = Catalogue(stations={now.station.id: now.station}).over(shipped())
    found = judge(now.home, now.plan, replace(CALM, goal_hours=1), kit, with_moves=False)
    said = headline(found)
    assert said.may_first
    assert said.sentence.startswith("May trip.")
    assert not found.reaches
    assert "not met" in said.goal


def test_an_unlisted_surge_may_hold_and_counts_as_continuous_until_it_is_known():
    unlisted = replace(SMALL, surge_s=None, rated_va=1200, continuous_w=1200, surge_va=2400, leg_surge_va=2400)
    found = judged(fridge(start_va=1300), load("lamp", 100), station=unlisted)
    assert found.may_trip is not None
    assert "how long the surge" in headline(found).may
    assert judged(fridge(start_va=1300), load("lamp", 100), station=replace(unlisted, surge_s=2)).may_trip is None


def test_a_power_factor_that_is_assumed_never_breaks_a_leg_by_itself():
    # 1,300 W at an assumed 0.6 are 2,167 VA, at best 1,368.
    found = judged(load("desk", 1300, kind="electronics", power_factor=None))
    assert found.fits
    assert found.may_trip is not None
    assert not judged(load("desk", 1300, kind="electronics", power_factor=0.6)).fits


def test_known_at_the_assumed_middle_leaves_the_hours_and_changes_certainty():
    for seed in range(breadth(60, 300)):
        home, made, outage = random_plan(seed)
        known = {k: replace(x, start_va=x.start_range_va[1], power_factor=x.pf) for k, x in home.loads.items()}
        one = judge(home, made, outage, shipped(), with_moves=False)
        other = judge(replace(home, loads=known), made, outage, shipped(), with_moves=False)
        assert one.hours == other.hours, seed
        assert not (other.fits and one.run is not None and not one.fits), f"{seed}: broken by an assumption alone"


def test_only_what_switches_off_may_be_past():
    for seed in range(60):
        home, made, outage = random_plan(seed)
        part = resolve_part(home, made, shipped())
        for x in fit(part, outage):
            if x.severity == "may":
                assert x.family in MAY, x.id
                assert "Measure " in x.sentence or "Look up " in x.sentence, x.sentence


def test_a_start_that_was_tried_with_all_else_on_makes_may_a_fit():
    station = replace(SMALL, surge_va=1500, leg_surge_va=1500)
    tried = TriedStart(station="test", on=date(2026, 11, 20), charge=0.6, cell_c=20, others_va=100)
    before, after = (judged(fridge(tried=t), load("lamp", 100), station=station) for t in ((), (tried,)))
    assert before.may_trip is not None
    assert after.may_trip is None
    assert after.fits
    # With more beside it than ran then, it is open again.
    assert judged(fridge(tried=(tried,)), load("lamp", 300), station=station).may_trip is not None
