"""What to keep for outages: saving against readiness, and what is advised."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from imbuto.core.basics.units import hours_text
from imbuto.core.everyday.everyday_modes import can_do
from imbuto.core.everyday.ordinary_year import year_of
from imbuto.core.everyday.readiness import NOT_YET
from imbuto.core.everyday.year_ground import Ground
from imbuto.core.plan.everyday_policy import Everyday
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.stop_level import stop_level
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.everyday.counted_readiness import counted_readiness, goal_of, not_counted
from imbuto.services.everyday.plan_asked import asked_for
from imbuto.services.everyday.plan_years import bills, ground_of
from imbuto.services.everyday.year_answers import year_answer

LEAST_CHANCE, TEN_POINTS = 0.05, 0.1
HOLDS = 20


@dataclass(frozen=True, slots=True, kw_only=True)
class CurvePoint:
    """One hold.

    saving: None without a tariff
    chance: of reaching the goal
    """

    hold: float
    saving: float | None
    chance: float
    error: float
    worst: int


@dataclass(frozen=True, slots=True, kw_only=True)
class CurveView:
    """Saving against readiness by hold.

    asked: the hold that outages lived through say it should be, None where none are entered
    asked_why: how
    advice: how much to keep, what that reaches and costs, in words; empty where nothing is joined
    """

    points: list[CurvePoint]
    asked: float | None
    asked_why: str
    advice: str


def curve(planner: Planner, home_id: str, plan_id: str, outage_id: str, source: str | None = None) -> CurveView:
    """Saving against readiness for twenty holds. Raises NotFound."""
    documents, plan, key = asked_for(planner, home_id, plan_id, source)
    if not key:
        return CurveView(points=[], asked=None, asked_why="", advice="")
    return year_answer(_curve, documents, plan.id, outage_id, key, planner.now(documents.home).year)


def _curve(documents: Documents, plan_id: str, outage_id: str, key: str, year: int) -> CurveView:
    plan = documents.plans[plan_id]
    g = ground_of(documents, plan, key, year)
    if not can_do(g.part).uses:
        return CurveView(points=[], asked=None, asked_why="", advice="")
    policy = plan.everyday or Everyday()
    goal, why_not = goal_of(documents, outage_id), not_counted(documents, plan, outage_id)
    points: list[CurvePoint] = []
    r, charges = NOT_YET, None
    for hold in np.linspace(min(stop_level(g.part), 0.95), 0.95, HOLDS):
        y = year_of(g, with_hold(policy, float(hold)))
        before, after = bills(documents, [y])
        if charges is None or not np.array_equal(charges, y.charges):  # it depends on nothing else of the year
            r, charges = counted_readiness(documents, y, goal, why_not), y.charges
        points.append(
            CurvePoint(
                hold=float(hold),
                saving=before.total - after.total if before and after else None,
                chance=r.chance,
                error=r.error,
                worst=r.worst,
            )
        )
    asked, why = asked_hold(documents, g, plan)
    advice = why_not or hold_advice(points, goal, documents.home.site.currency)
    return CurveView(points=points, asked=asked, asked_why=why, advice=advice)


OFTEN_ENOUGH = 0.9  # of outages in which what is kept reaches the goal; planning default


def hold_advice(points: Sequence[CurvePoint], goal_h: float, currency: str) -> str:
    """How much to keep for outages: the least that reaches the goal nine times in ten, and what it costs a year beside
    the hold that saves most."""
    enough = next((p for p in points if p.chance >= OFTEN_ENOUGH), None)
    chosen = enough or max(points, key=lambda p: p.chance)
    if enough is not None:
        said = f"Keep {100 * chosen.hold:.0f}%: that reaches {hours_text(goal_h)} in 9 of 10 outages"
    elif chosen.chance < LEAST_CHANCE:
        short = f"Whatever you keep, it doesn't reach {hours_text(goal_h)}"
        return f"{short}. For that you need more storage or fewer loads."
    else:
        said = (
            f"Whatever you keep, it doesn't reach {hours_text(goal_h)} in 9 of 10 outages. Keeping "
            f"{100 * chosen.hold:.0f}% comes nearest, with {10 * chosen.chance:.0f} of 10"
        )
    known = [p.saving for p in points if p.saving is not None]
    if chosen.saving is None or not known:
        return f"{said}."
    costs = max(known) - chosen.saving
    said += f", and costs {costs:,.0f} {currency} per year" if costs >= 0.5 else ", and costs nothing"
    last = points[-1]
    if last.saving is not None and last.hold - chosen.hold >= TEN_POINTS:
        more = (chosen.saving - last.saving) / (last.hold - chosen.hold) * TEN_POINTS
        if more >= 0.5:
            said += f". Each further 10% costs about {more:,.0f} {currency} per year"
    return f"{said}."


def with_hold(policy: Everyday, hold: float) -> Everyday:
    """The same week with another hold, its other marks as far above it as they were."""
    up = hold - policy.hold
    return replace(
        policy,
        hold=hold,
        resume=min(max(policy.resume + up, hold), 1.0),
        refill=min(max(policy.refill + up, hold), 1.0),
        back_at=None if policy.back_at is None else min(max(policy.back_at + up, hold), 1.0),
    )


def asked_hold(documents: Documents, g: Ground, plan: Plan) -> tuple[float | None, str]:
    """The hold that carries the usual outage, or the longest where only that is entered."""
    history = documents.home.household.history
    hours = history.usual_h or history.longest_h
    if hours <= 0:
        return None, ""
    y = year_of(g, plan.everyday or Everyday())
    need = y.store.draw_w(float(g.asked_own_w.mean())) * hours / y.store.available_wh
    which = "usual" if history.usual_h else "longest"
    return min(stop_level(g.part) + need, 1.0), f"The battery lasts the {which} outage so far, {hours_text(hours)}."
