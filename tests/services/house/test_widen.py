"""Moves that lengthen the hours without another station: each kind is offered where it may help, and nowhere else."""

from dataclasses import replace

import pytest

from imbuto.core.advice.longer_hours import energy_moves, home_after
from imbuto.core.home.household import OwnedItem
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.sources import Engine
from imbuto.core.plan.system import resolve_part
from imbuto.core.run.run import simulate
from imbuto.core.run.run_switching import charger_w, engine_of, hands, minutes_to_act
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file
from tests.support import charged

BUNDLE = planfile.read(demo_file("saltgrass-house"), "demo")
PLANS, OUTAGES = {p.id: p for p in BUNDLE.plans}, {o.id: o for o in BUNDLE.outages}
TEN, STORM = PLANS["ten-place"], OUTAGES["november-windstorm"]


def made(plan=TEN, outage=STORM, home=BUNDLE.home):
    return resolve_part(in_outage(home, plan, outage), plan, BUNDLE.catalogue)


def offered(plan=TEN, outage=STORM, home=BUNDLE.home):
    return {m.id: m for m in energy_moves(made(plan, outage, home), outage, BUNDLE.catalogue)}


def test_the_floor_is_offered_once_and_never_below_itself():
    assert offered()["floor"].plan.floor == 0.05
    assert "floor" not in offered(replace(TEN, floor=0.05))
    assert "floor" not in offered(replace(TEN, below_floor=True))


def test_a_warmer_spot_is_offered_where_it_is_warmer():
    assert offered()["indoors"].plan.source.spot == "indoors"
    inside = replace(TEN, sources={"main": replace(TEN.source, spot="indoors")})
    assert "indoors" not in offered(inside)
    assert "indoors" not in offered(outage=replace(STORM, garage_c=STORM.indoors_c))


def test_a_setting_is_applied_to_that_load_alone():
    sets = [m for k, m in offered().items() if k.startswith("set:")]
    assert sets
    now = made()
    after = home_after(now, sets[0].plan, STORM)
    changed = [k for k in now.home.loads if after.loads[k] != now.home.loads[k]]
    assert changed == [sets[0].id.split(":")[1]]
    assert after.loads[changed[0]].average_w < now.home.loads[changed[0]].average_w
    assert home_after(now, TEN, STORM) is now.home


def test_a_generator_is_offered_only_to_who_wants_one():
    assert not [k for k in offered() if k.startswith("generator")]
    wants = offered(replace(TEN, ending="generator"))
    assert "generator:ember" in wants
    assert "generator:cinder-eu" not in wants
    thing = OwnedItem(id="old", name="Old generator", kind="generator")
    house = replace(BUNDLE.home.household, existing={"old": thing})
    assert "generator:ember" in offered(home=replace(BUNDLE.home, household=house))


def test_one_that_is_there_is_given_fuel_hours_and_an_earlier_start():
    found = offered(PLANS["switched-panel"])
    before = PLANS["switched-panel"].engine
    assert found["fuel"].plan.engine.stock_l == before.stock_l + 20
    assert found["fuel:start"].plan.engine.start_at == pytest.approx(before.start_at + 0.2)
    assert found["fuel:hours"].plan.engine.windows == ()
    carrying = replace(PLANS["switched-panel"], engine=replace(before, school="carry", windows=()))
    assert not {"fuel:start", "fuel:hours"} & offered(carrying).keys()


def with_engine(**changes):
    return made(replace(TEN, engine=Engine(**({"generator": "clinker"} | changes))))


def test_the_charger_takes_the_least_of_station_setting_and_engine():
    now = with_engine()
    assert charger_w(now, 3400) == pytest.approx(0.8 * 3400)  # the Hogshead and its modules would take more
    assert charger_w(now, 20_000) == pytest.approx(2900 + 2 * 500)
    slow = made(replace(charged(TEN, charge_w=700), engine=Engine(generator="clinker")))
    assert charger_w(slow, 3400) == 700
    assert charger_w(with_engine(charges=False), 3400) == 0
    assert engine_of(made()) is None
    assert engine_of(now).by_hand


def test_nobody_entered_means_somebody_is_there():
    nobody = replace(BUNDLE.home, household=replace(BUNDLE.home.household, people={}))
    assert hands(made(home=nobody))
    assert not hands(made())  # in the demo the one who can is away


def test_minutes_from_start_to_floor_are_the_hand_check_of_that_stretch():
    now = with_engine(start_at=0.4)
    run = simulate(now, STORM, hours_only=True)
    draw = 500 / now.station.efficiency + now.own_draw_w
    expected = 60 * (0.4 - 0.1) * run.store.available_wh / draw
    assert minutes_to_act(now.generator, now, 500, run.store.available_wh) == pytest.approx(expected)
    assert minutes_to_act(None, now, 500, 1) is None
