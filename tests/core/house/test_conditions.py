"""What loads draw by season, weather and room. Expected values: computation.md, section 1, by hand."""

from dataclasses import replace
from datetime import datetime

import pytest

from imbuto.core.basics.errors import ImbutoError
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.home.home import Site
from imbuto.core.home.loads import Load, Setting, Use, check_load
from imbuto.core.plan.load_conditions import as_used, cop, in_outage, season_of
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.plan_checks import check_plan
from tests.support import corded

NORTH, SOUTH = Site(latitude=44.6), Site(latitude=-38.0)
PLAN = Plan(id="p", name="Plan")


def outage(month=11, **more):
    return Outage(id="o", name="Outage", start=datetime(2026, month, 10, 18), hours=24, goal_hours=24, **more)


def furnace(**use):
    return Load(id="f", name="Furnace", kind="fan", average_w=200, rest_w=6, run_w=406, use=Use(kind="weather", **use))


@pytest.mark.parametrize(
    ("outdoors_c", "expected"),
    # 0 at 15 degrees, 0.8 at -5: linear between and beyond, never over 1.
    [(20, 6), (15, 6), (5, 6 + 400 * 0.4), (-5, 6 + 400 * 0.8), (-10, 6 + 400 * 1.0), (-30, 406)],
)
def test_a_furnace_runs_by_the_cold(outdoors_c, expected):
    assert as_used(furnace(), PLAN, outage(outdoors_c=outdoors_c), NORTH).average_w == pytest.approx(expected)


def test_cooling_is_the_same_line_the_other_way():
    cooler = furnace(balance_c=22, design_c=36, design_duty=0.7)
    assert as_used(cooler, PLAN, outage(8, outdoors_c=29), NORTH).average_w == pytest.approx(6 + 400 * 0.35)
    assert as_used(cooler, PLAN, outage(8, outdoors_c=10), NORTH).average_w == 6


def test_a_heat_pump_pays_for_the_cold_twice_and_for_defrost():
    pump = furnace(heat_pump=True, design_duty=0.9)
    at_design = 6 + 400 * 0.9 * 1.1
    assert as_used(pump, PLAN, outage(outdoors_c=-5), NORTH).average_w == pytest.approx(at_design)
    half = 400 * 0.9 * 0.5 * cop(-5) / cop(5) * 1.1
    assert as_used(pump, PLAN, outage(outdoors_c=5), NORTH).average_w == pytest.approx(6 + half)
    assert cop(7) == pytest.approx(3.2)
    assert cop(-40) == 1.5


def test_a_sump_pump_runs_three_times_as_much_in_a_storm_and_a_fifth_at_least():
    sump = Load(id="s", name="Sump", kind="pump", average_w=60, run_w=600, use=Use(kind="cycling", in_storms=True))
    assert as_used(sump, PLAN, outage(weather="storm"), NORTH).average_w == pytest.approx(180)
    assert as_used(replace(sump, average_w=12), PLAN, outage(weather="storm"), NORTH).average_w == pytest.approx(120)
    assert as_used(sump, PLAN, outage(weather="clear"), NORTH) is sump


def test_a_refrigerator_runs_more_in_a_warm_room():
    fridge = Load(
        id="r",
        name="Fridge",
        kind="compressor",
        purpose="food",
        room="Kitchen",
        average_w=52,
        rest_w=2,
        run_w=102,
        use=Use(kind="cycling"),
    )
    assert as_used(fridge, PLAN, outage(8, indoors_c=30), NORTH).average_w == pytest.approx(
        2 + 100 * 0.5 * 1.32
    )  # 8 °C above 22
    assert as_used(replace(fridge, room="Garage"), PLAN, outage(8, indoors_c=30, garage_c=12), NORTH).average_w == 52


def heater():
    low = Setting(id="low", name="Low", average_w=300, run_w=600)
    winter = Setting(id="winter", name="Winter", average_w=900, run_w=1500, season="cold")
    settings = {"low": low, "winter": winter}
    return Load(id="h", name="Heater", kind="heater", average_w=500, run_w=1000, settings=settings)


def test_the_plan_names_the_setting_and_else_the_season_does():
    load = heater()
    low = replace(PLAN, settings={"h": "low"})
    own = replace(PLAN, settings={"h": ""})
    assert as_used(load, low, outage(), NORTH).run_w == 600
    assert as_used(load, PLAN, outage(11), NORTH).average_w == 900
    assert as_used(load, PLAN, outage(11), SOUTH).average_w == 500
    assert as_used(load, own, outage(11), NORTH).average_w == 500
    assert [season_of(outage(m), NORTH) for m in (1, 4, 7)] == ["cold", "any", "warm"]


def test_a_setting_must_make_sense_and_a_plan_must_name_one_that_is_there():
    load = heater()
    with pytest.raises(ImbutoError, match=r"Heater \(Low\), average watts"):
        check_load(replace(load, settings={"low": replace(load.settings["low"], average_w=700)}))
    with pytest.raises(ImbutoError, match=r"doesn.t have that setting"):
        check_plan(replace(PLAN, settings={"h": "high"}), corded(load).home, shipped())


def test_a_home_that_nothing_changes_in_stays_itself():
    home = corded(Load(id="l", name="Lamp", average_w=10, run_w=10)).home
    assert in_outage(home, PLAN, outage()) is home


def test_a_sump_pump_follows_the_skies_of_the_outage():
    """Two days of storm in four: half the time at three times its duty."""
    pump = Load(
        id="p",
        name="Sump",
        kind="pump",
        purpose="house",
        average_w=30,
        run_w=600,
        use=Use(kind="cycling", in_storms=True),
    )
    four = replace(outage(8), start=datetime(2026, 11, 24), hours=96, goal_hours=96)
    skies = replace(four, skies=("storm", "storm", "overcast", "overcast"))
    assert as_used(pump, PLAN, skies, NORTH).average_w == pytest.approx((0.2 + 0.05) / 2 * 600)
    assert as_used(pump, PLAN, replace(four, weather="storm"), NORTH).average_w == pytest.approx(0.2 * 600)
    assert as_used(pump, PLAN, replace(four, weather="storm", skies=("clear",)), NORTH).average_w == 30
