"""What is promised beside a move is what applying it gives, by the very operations the interface sends."""

from imbuto.core.equipment import shipped
from imbuto.core.necks import violations
from imbuto.core.plan import check_plan
from imbuto.core.verdict import judge
from imbuto.formats import patch
from imbuto.formats.documents import PLAN
from imbuto.services.views import verdict_view
from tests.support import random_plan


def test_moves_keep_their_promise_on_200_generated_plans():
    """Each widening and fix, applied by the operations the interface would send, gives what was promised, unrounded."""
    kept = {"widening": 0, "fix": 0}
    for seed in range(200):
        home, plan, outage = random_plan(seed)
        before = judge(home, plan, outage, shipped())
        document = PLAN.write(plan)
        for move, promise in zip(verdict_view(before).moves, before.fixes or before.widenings, strict=False):
            changed, _ = patch.apply({plan.id: document}, move.ops)
            after_plan = PLAN.read(changed[plan.id])
            check_plan(after_plan, home, shipped())
            after = judge(home, after_plan, outage, shipped(), with_moves=False)
            kept[move.kind] += 1
            if move.kind == "widening":
                assert after.fits
                assert after.run.hours == promise.hours
                assert after.run.at_least_h - before.run.at_least_h == promise.hours_gained
                assert promise.never_dark == (after.run.hours is None)
            else:
                worst = violations(before.limits)[0]
                then = {x.id: x for x in after.limits}.get(worst.id)
                assert after.fits == promise.clears or after.run is None
                if promise.after is not None:
                    assert then.used == promise.after
                    assert then.excess < worst.excess
                if promise.clears and after.run is not None:
                    assert after.run.hours == promise.hours
    assert kept["widening"] > 150, kept
    assert kept["fix"] > 150, kept
