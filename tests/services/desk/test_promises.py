"""What is promised beside a move is what applying it gives, by the very operations the interface sends."""

from collections import Counter
from dataclasses import replace

from imbuto.core.advice.answer import judge
from imbuto.core.advice.gives_out import leaves_life, violations
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.plan.itemised_costs import items, price_of_move, to_buy, total
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.sources import Array
from imbuto.formats import patch, planfile
from imbuto.formats.documents import PLAN
from imbuto.services.desk.demo import demo_file
from imbuto.services.desk.verdict_views import verdict_view
from tests.breadth import breadth
from tests.support import random_plan


def keeps_its_promises(home, plan, outage) -> dict[str, int]:
    """Each widening and fix, applied by the operations the interface would send, gives what was promised, unrounded."""
    kept = {"widening": 0, "fix": 0}
    before = judge(home, plan, outage, shipped())
    document = PLAN.write(plan)
    for move, promise in zip(verdict_view(before).moves, before.fixes or before.widenings, strict=False):
        if move.enter:  # the true figure is wanted, and nothing changes
            assert not move.ops
            continue
        changed, _ = patch.apply({plan.id: document}, move.ops)
        after_plan = PLAN.read(changed[plan.id])
        check_plan(after_plan, home, shipped())
        after = judge(home, after_plan, outage, shipped(), with_moves=False)
        kept[move.kind] += 1
        now, then = (x.lead.part for x in (before, after))
        assert move.price == price_of_move(now, then)
        if move.price is not None:  # the same sums as the money list's
            assert move.price == to_buy(then, now) - total(items(now))
        assert leaves_life(now, then)
        if move.kind == "widening":
            assert after.fits
            assert after.run.hours == promise.hours
            assert after.run.at_least_h - before.run.at_least_h == promise.hours_gained
            assert promise.never_dark == (after.run.hours is None)
            continue
        worst = violations(before.limits)[0]
        then = {x.id: x for x in after.limits}.get(worst.id)
        assert after.fits == promise.clears or after.run is None
        if promise.after is not None:
            assert then.used == promise.after
            assert then.excess < worst.excess
        if promise.clears and after.run is not None:
            assert after.run.hours == promise.hours
    return kept


def test_moves_keep_their_promise_on_generated_plans():
    kept, many = Counter(), breadth(60, 200)
    for seed in range(many):
        kept.update(keeps_its_promises(*random_plan(seed)))
    assert kept["widening"] > 0.65 * many, kept
    assert kept["fix"] > 0.75 * many, kept


def test_moves_keep_their_promise_with_arrays_wired_well_and_badly():
    kept, families = Counter(), Counter()
    for seed in range(30):
        home, plan, outage = random_plan(seed)
        series = 1 + seed % 14
        array = Array(id="roof", name="Roof", panel="slate", series=series, parallel=1 + seed % 2, tilt=30, azimuth=180)
        plan = replace(plan, arrays={"roof": array})
        kept.update(keeps_its_promises(home, plan, replace(outage, weather=("clear", "broken", "storm")[seed % 3])))
        families.update(x.family for x in violations(judge(home, plan, outage, shipped()).limits))
    assert kept["widening"] > 5, kept
    assert kept["fix"] > 30, kept
    assert {"solar_cold", "solar_start"} <= families.keys(), families


def test_every_widening_of_every_demo_plan_gives_what_it_promises():
    kept = Counter()
    for home_id in ("saltgrass-house", "via-dei-glicini"):
        bundle = planfile.read(demo_file(home_id), home_id)
        for plan in bundle.plans:
            for outage in bundle.outages:
                kept.update(keeps_its_promises(bundle.home, plan, outage))
    assert kept["widening"] > 40, kept
