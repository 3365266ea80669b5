"""Ready: when to begin, what carries how long, and a list that follows from the plan."""

from dataclasses import replace
from datetime import datetime, timedelta
from math import ceil, floor, log

import pytest

from imbuto.core.advice.verdict import judge_one
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.equipment.conversion import hours_to_full
from imbuto.core.home.alert import Alert, DoneTick, check_alert
from imbuto.core.home.loads import is_continuous
from imbuto.core.outages.get_ready import outage_of, ready
from imbuto.core.outages.wall_charging import wall_charging
from imbuto.core.plan.entered.other_uses import OtherUse
from imbuto.core.plan.sources import Array, SetOut
from imbuto.core.plan.system import resolve
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file
from tests.core.run.test_several import CALM, KIT, device, feeds, house, plan, source

STORM = Alert(title="Storm", begins=datetime(2026, 11, 24, 17), ends=datetime(2026, 11, 26, 17), brings=("wind",))
NOON = datetime(2026, 11, 24, 12)


def test_hours_to_full_fall_off_above_ninety_percent():
    taper = 0.1 * log(5) / 0.8
    assert hours_to_full(4000, 920, 0.1) == pytest.approx(4000 * (0.8 + taper) / 920)  # the check figure: 4.353 h
    assert hours_to_full(4000, 920, 0.1) == pytest.approx(4.353, abs=0.001)
    assert hours_to_full(1000, 1000, 0.9) == pytest.approx(taper)
    assert hours_to_full(1000, 1000, 0.95) == pytest.approx(0.1 * log(0.6 / 0.2) / 0.8)
    assert hours_to_full(1000, 1000, 1.0) == pytest.approx(0)


def of(made, home, now=NOON, alert=STORM, kit=KIT):
    storm = outage_of(alert, CALM)
    return ready(
        resolve(home, made, kit).parts, [judge_one(home, made, storm, kit, k) for k in made.sources], alert, now
    )


def test_the_latest_moment_to_begin_is_the_storms_less_the_hours_it_takes():
    made = plan(source(charge_w=200), devices=(device(),), feeds=feeds("hall@main"))
    half = replace(STORM, charges={"main": 0.5})
    found = of(made, house(hall=100), alert=half)
    fill = found.fills[0]
    exact = 1000 * (0.4 + 0.1 * log(5) / 0.8) / (200 * 0.92)
    assert fill.hours == pytest.approx(ceil(exact * 12) / 12)  # to the next five minutes, never less
    assert fill.begin_by == STORM.begins - timedelta(hours=fill.hours)
    assert not fill.late
    assert of(made, house(hall=100), now=STORM.begins - timedelta(hours=1), alert=half).fills[0].late
    full = replace(STORM, charges={"main": 1.0})
    assert of(made, house(hall=100), alert=full).fills[0].hours == 0
    unknown = of(made, house(hall=100))  # nothing said: asked for, and reckoned from the stop level until then
    assert (unknown.fills[0].charge, unknown.fills[0].hours > fill.hours) == (None, True)
    assert any(i.title.startswith("Read the charge of") for i in unknown.items)
    storm = outage_of(half, CALM)
    band = judge_one(house(hall=100), made, storm, KIT, "main").band
    assert found.lowest_h == pytest.approx(band.low_h)  # every store full by then, and 9 in 10
    assert storm.hours == max(48, CALM.hours)
    assert (found.enough, found.short_h) == (False, pytest.approx(storm.hours - band.low_h))
    assert of(made, house(hall=10)).enough


def test_what_is_out_counts_for_nothing_and_says_what_is_dark():
    made = plan(source(), devices=(device(),), feeds=feeds("hall@main"))
    found = of(made, house(hall=10), alert=replace(STORM, out=("main",)))
    assert (found.enough, found.lowest_h) == (False, None)
    assert "Hall-load has no power" in next(i for i in found.items if i.id == "out:main").sentence


def test_ticks_are_kept_with_who_and_when_and_what_is_late_says_so():
    made = plan(source(), devices=(device(),), feeds=feeds("hall@main"))
    done = {"test": DoneTick(who="Ada", at=datetime(2026, 11, 23, 9, 30))}
    items = {i.id: i for i in of(made, house(hall=10), alert=replace(STORM, ticks=done)).items}
    assert items["test"].done == "Ada, 23 Nov 9:30 am"
    assert not items["test"].late
    late = {i.id: i for i in of(made, house(hall=10), now=STORM.begins).items}
    assert late["test"].late
    assert late["inlet:main"].late


def test_the_list_follows_from_the_plan():
    demo = planfile.read(demo_file("saltgrass-house"), "demo")
    by = {p.id: {i.id for i in of(p, demo.home, kit=demo.catalogue).items} for p in demo.plans}
    assert "inlet:main" in by["ten-place"]
    assert not any(i.startswith("inlet:") for i in by["cords-only"])
    assert "cords:main" in by["cords-only"]
    assert {"fuel", "engine", "alarm"} <= by["switched-panel"]
    assert "fuel" not in by["ten-place"]
    assert all({"test", "medical", "lights"} <= ids for ids in by.values())
    ice = of(demo.plans[1], demo.home, alert=replace(STORM, brings=("ice",)), kit=demo.catalogue)
    assert any(i.id == "array:shed-roof" and "iced over" in i.title for i in ice.items)
    assert [i.due or STORM.begins for i in ice.items] == sorted(i.due or STORM.begins for i in ice.items)


@pytest.mark.parametrize(
    ("brings", "out", "says"),
    [
        (("ice",), SetOut(), "iced over"),
        (("wind",), SetOut(), "inlet closed"),
        (("wind",), SetOut(shut_in_wind=False), "cable to solar input 1"),
        ((), SetOut(), "cable to solar input 1"),
    ],
)
def test_an_array_set_out_by_hand_is_told_what_the_storm_means_for_it(brings, out, says):
    roof = Array(id="roof", name="Roof", panel="slate", set_out=out)
    camp = OtherUse(id="camp", name="Camp")
    made = plan(
        source(),
        devices=(device(),),
        feeds=feeds("hall@main"),
        arrays={"roof": roof},
        other_uses={"camp": camp},
    )
    items = {i.id: i.title for i in of(made, house(hall=10), alert=replace(STORM, brings=brings)).items}
    assert says in items["array:roof"]
    assert items["back:camp"] == "Box back from “Camp”"


def test_a_storm_that_ends_before_it_begins_is_refused():
    with pytest.raises(InvalidValue, match="Choose an end after the start"):
        check_alert(replace(STORM, ends=STORM.begins))


def test_charging_is_the_least_of_charger_setting_outlet_and_cells():
    def watts(station_w, home=None, cells=None, **more):
        kit = replace(KIT, stations={k: replace(x, charge_w=station_w) for k, x in KIT.stations.items()})
        made = plan(source(**more), devices=(device(),), feeds=feeds("hall@main"))
        (part,) = resolve(home or house(hall=100, den=600), made, kit).parts
        return wall_charging(part, cells)

    assert (watts(900).watts, watts(900).says) == (900, "")
    assert watts(900, charge_w=400).bound == "setting"
    unnamed = watts(3000)  # 120 V, 15 A, 80 %: 1,440 W
    assert (unnamed.watts, unnamed.bound) == (1440, "outlet")
    assert "assumed" in unnamed.says
    named = watts(3000, charge_circuit="den")
    breaker = house(hall=100, den=600).circuits["den"].breaker_a
    others = sum(x.run_va * (1.25 if is_continuous(x) else 1.0) for x in house(hall=100, den=600).loads_on("den")) / 120
    assert named.watts == floor((breaker - others) / 1.25 * 120 / 10) * 10
    assert "room for" in named.says
    cold = watts(900, cells=-25.0)
    assert (cold.watts, cold.bound) == (0, "cold")
