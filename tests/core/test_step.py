"""The step of the balance is fine enough, and what is left of the check figures."""

import pytest

from imbuto.core.clock import STEP_H
from imbuto.core.conditions import in_outage
from imbuto.core.joining import joined
from imbuto.core.money import shifted
from imbuto.core.run import simulate
from imbuto.formats import planfile
from imbuto.services.demo import demo_file

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


def test_shifting_six_kilowatt_hours_saves_what_the_check_figure_says():
    assert shifted(6, 0.48, 0.19, 0.86) == pytest.approx(1.554, abs=0.0005)
    assert shifted(6, 0.20, 0.19, 0.86) < 0  # not worth it: never made to look as if it were
