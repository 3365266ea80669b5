"""What an outage taught, taken over, makes the next promise better; and nothing is taken by itself."""

from __future__ import annotations

import random
import statistics
from dataclasses import replace
from datetime import datetime, timedelta

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.home.home import LearntDraw
from imbuto.services.outages.logbook import logbook
from imbuto.services.outages.outage_now import live_view
from tests.breadth import breadth
from tests.demo import demo_copy
from tests.services.outages.test_witness import BEGAN, HOME, OUTAGE, PLAN, Truth, edit, said, started


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("learnt"))
    yield planner
    planner.database.close()


def promised(planner) -> float:
    """The hours that the plan promises for an outage that begins when the lived ones did."""
    documents = planner.documents(planner.state(HOME))
    like = replace(documents.outages[OUTAGE], start=BEGAN, hours=72, goal_hours=72)
    hours = judge(documents.home, documents.plans[PLAN], like, documents.catalogue, with_moves=False).hours
    return 72.0 if hours is None else hours


def lived_through(planner, truth: Truth, rng: random.Random) -> None:
    """An outage of a night, noted about every hour while the station is on."""
    clock = started(planner)
    hour = 0.0
    while (hour := hour + rng.uniform(0.7, 1.3)) < min(truth.off_h, 14):
        clock.set(BEGAN, hour)
        said(planner, f"{truth.gauge(hour)}%")
    clock.set(BEGAN, 15)
    live = planner.state(HOME).home["live"]
    ended = (BEGAN + timedelta(hours=15)).isoformat()
    lived = planner.state(HOME).home.get("lived", {})
    edit(planner, "replace" if "o1" in lived else "add", "/lived/o1", live | {"ended": ended})
    edit(planner, "replace", "/live", None)


def forget(planner) -> None:
    edit(planner, "replace", "/learnt", {})
    ops = [{"doc": PLAN, "op": "add", "path": "/sources/main/own_w", "value": None}]
    planner.edit(HOME, planner.rev(HOME), f"f-{planner.rev(HOME)}", "Forget", ops, None)


def test_taken_over_the_next_promise_is_nearer_by_half(planner):
    before, after, worse = [], [], []
    for seed in range(breadth(3, 100)):
        rng = random.Random(seed)
        forget(planner)
        truth = Truth(planner, rng)
        lived_through(planner, truth, rng)
        old = promised(planner)
        found = logbook(planner, HOME, OUTAGE).learnt
        assert promised(planner) == old, "nothing is taken by itself"
        for offer in found:
            assert offer.before != offer.after
            planner.edit(HOME, planner.rev(HOME), f"t-{planner.rev(HOME)}", offer.label, offer.ops, None)
        new = promised(planner)
        before.append(abs(old - truth.off_h) / truth.off_h)
        after.append(abs(new - truth.off_h) / truth.off_h)
        worse.append(after[-1] - before[-1])
    assert statistics.median(after) <= 0.5 * statistics.median(before), (
        statistics.median(before),
        statistics.median(after),
    )
    assert max(worse) <= 0.02, max(worse)


def test_an_outage_as_planned_offers_nothing(planner):
    forget(planner)
    truth = Truth(planner, random.Random(0))
    truth.curve = 1 - (1 - truth.curve) / truth.scale  # near the plan's own draw
    clock = started(planner)
    for hour in (2, 5, 8):
        clock.set(BEGAN, hour)
        view = live_view(planner, HOME, OUTAGE)
        said(planner, f"{round(100 * view.stores[0].charge)}%")
    live = planner.state(HOME).home["live"]
    lived = planner.state(HOME).home.get("lived", {})
    ended = datetime(2026, 11, 25, 2).isoformat()
    edit(planner, "replace" if "o1" in lived else "add", "/lived/o1", live | {"ended": ended})
    edit(planner, "replace", "/live", None)
    assert logbook(planner, HOME, OUTAGE).learnt == []


@pytest.mark.parametrize("scale", [0.8, 1.3])
def test_a_learnt_draw_changes_energy_and_no_limit_of_power(planner, scale: float):
    """An outage shows how much was used, not that an appliance draws more at once."""
    forget(planner)
    documents = planner.documents(planner.state(HOME))
    learnt = replace(documents.home, learnt={"cold": LearntDraw(scale=scale)})
    for plan in documents.plans.values():
        outage = documents.outages[OUTAGE]
        one, other = (judge(h, plan, outage, documents.catalogue, with_moves=False) for h in (documents.home, learnt))
        assert other.average_w == pytest.approx(scale * one.average_w, rel=0.12)
        powers = [
            {x.id: (round(x.used, 6), x.ok) for x in a.limits if x.unit in ("W", "VA", "A")} for a in (one, other)
        ]
        assert powers[0] == powers[1], plan.id
