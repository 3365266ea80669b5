"""The step of the balance is fine enough for every run of the demo."""

import pytest

from imbuto.core.basics.clock import STEP_H
from imbuto.core.plan.conditions import in_outage
from imbuto.core.plan.joining import joined
from imbuto.core.run.run import simulate
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file

BUNDLE = planfile.read(demo_file("saltgrass-house"), "demo")


@pytest.mark.parametrize("outage", BUNDLE.outages, ids=lambda o: o.id)
@pytest.mark.parametrize("plan", BUNDLE.plans, ids=lambda p: p.id)
def test_halving_the_step_moves_hours_by_under_half_a_percent(plan, outage):
    now = joined(in_outage(BUNDLE.home, plan, outage), plan, BUNDLE.catalogue)
    coarse = simulate(now, outage, hours_only=True).hours
    fine = simulate(now, outage, hours_only=True, step_h=STEP_H / 2).hours
    assert (coarse is None) == (fine is None)
    if coarse is not None:
        assert coarse == pytest.approx(fine, rel=0.005)
