"""Worth moving? Each circuit left in its panel, moved for real: the same answer and the same bill as of the plan so
edited."""

from dataclasses import replace

import pytest

from imbuto.core.advice.answer import judge
from imbuto.services.everyday.plan_years import bills, years_of
from imbuto.services.everyday.worth.worth_moving import worth_moving
from tests.demo import demo_copy

HOME, OUTAGE = "saltgrass-house", "november-windstorm"


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("moving"))
    yield planner
    planner.database.close()


def test_what_moving_a_circuit_costs_and_brings_is_what_the_edited_plan_says(planner):
    documents = planner.open(HOME)
    plan = documents.plans["switched-panel"]
    found = worth_moving(planner, HOME, plan.id, OUTAGE)
    fed = {f.circuit for f in plan.feeds.values()}
    assert {r.circuit for r in found.rows}.isdisjoint(fed)
    assert len(found.rows) > 5
    row = next(r for r in found.rows if r.costs_h is not None)
    device = next(iter(plan.devices.values()))
    places = range(1, 90)
    taken = {f.place for f in plan.feeds.values()}
    feed = replace(
        next(iter(plan.feeds.values())),
        id=row.circuit,
        circuit=row.circuit,
        device=device.id,
        stance="keep_on",
        windows=(),
        place=next(p for p in places if p not in taken),
    )
    edited = replace(plan, feeds=plan.feeds | {row.circuit: feed})
    kit, outage = documents.catalogue, documents.outages[OUTAGE]
    now, then = (judge(documents.home, p, outage, kit, with_moves=False) for p in (plan, edited))
    assert row.costs_h == pytest.approx(now.low_h - then.low_h, abs=0.02)
    year = planner.now(documents.home).year

    def saving(p):
        changed = replace(documents, plans=documents.plans | {p.id: p}, content=str(id(p)))
        before, after = bills(changed, years_of(changed, p, year))
        return before.total - after.total

    assert row.adds == pytest.approx(saving(edited) - saving(plan), abs=0.01)


def test_a_plan_without_a_switch_says_so(planner):
    plan = next(p for p in planner.open(HOME).plans.values() if p.device is None)
    assert "no switch" in worth_moving(planner, HOME, plan.id, OUTAGE).says
