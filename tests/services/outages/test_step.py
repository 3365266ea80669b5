"""The step of the march is fine enough: what changes inside one is cut there."""

import random
from dataclasses import replace

import pytest

from imbuto.core.basics.clock import STEP_H
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.sources import Engine
from imbuto.core.plan.system import resolve_part
from imbuto.core.run.run import simulate
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file
from tests.support import random_plan

BUNDLE = planfile.read(demo_file("saltgrass-house"), "demo")


HALF = 0.002  # of the hours


@pytest.mark.parametrize("outage", BUNDLE.outages, ids=lambda o: o.id)
@pytest.mark.parametrize("plan", BUNDLE.plans, ids=lambda p: p.id)
def test_halving_the_step_hardly_moves_the_hours(plan, outage):
    now = resolve_part(in_outage(BUNDLE.home, plan, outage), plan, BUNDLE.catalogue)
    halved(now, outage)


def halved(now, outage):
    coarse = simulate(now, outage, hours_only=True).hours
    fine = simulate(now, outage, hours_only=True, step_h=STEP_H / 2).hours
    assert (coarse is None) == (fine is None)
    if coarse is not None:
        assert coarse == pytest.approx(fine, rel=HALF)


def test_halving_the_step_of_generated_plans_with_engines_hardly_moves_the_hours():
    kit, ran = shipped(), 0
    for seed in range(200):
        home, plan, outage = random_plan(seed)
        rng = random.Random(seed)
        if plan.sources and rng.random() < 0.6:
            source = next(iter(plan.sources))
            school = rng.choice(["fill", "carry"])
            use = Engine(generator="cinder", source=source, stock_l=rng.uniform(0, 8), school=school)
            plan = replace(plan, engine=use)
        now = resolve_part(in_outage(home, plan, outage), plan, kit)
        if now.station is None or not now.fed:
            continue
        halved(now, outage)
        ran += 1
    assert ran > 120
