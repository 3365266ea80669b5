"""Say how often outages reach the goal, as far as that may be counted on."""

from __future__ import annotations

from imbuto.core.advice.answer import judge
from imbuto.core.advice.headline import headline
from imbuto.core.everyday.ordinary_year import Year
from imbuto.core.everyday.readiness import NOT_YET, Readiness, readiness
from imbuto.core.plan.entered.paperwork import unproven
from imbuto.core.plan.plan import Plan
from imbuto.services.desk.judging import Documents

FAILS_ANY_OUTAGE = ("refused", "carry_240", "trips", "misfit")  # too cold is a matter of one outage's weather


def goal_of(documents: Documents, outage_id: str) -> float:
    """Hours to reach: the outage's, or a day where no outage is chosen."""
    return documents.outages[outage_id].goal_hours if outage_id in documents.outages else 24.0


def not_counted(documents: Documents, plan: Plan, outage_id: str) -> str:
    """Say why no outage counts as reaching the goal, however full the battery is; empty where nothing forbids it.

    The verdict decides: stored energy is no help to a plan that trips, or that leaves out what must stay on."""
    if unproven(plan.stages):
        return (
            "Its activation isn't proven, so no outage counts as reaching the goal yet. Note the day under "
            "Papers > Work and permits."
        )
    outage = documents.outages.get(outage_id)
    if outage is None:
        return ""
    answer = judge(documents.home, plan, outage, documents.catalogue, with_moves=False)
    said = headline(answer)
    if answer.state in FAILS_ANY_OUTAGE:
        why = f"{said.label}: {answer.neck.title}" if answer.neck else said.label
        return f"{why}. Until you fix that, no outage counts as reaching the goal."
    if said.may_first:
        return f"{said.may} Until you know, no outage counts as reaching the goal."
    if said.missing:
        return f"{said.missing}, so no outage counts as reaching the goal."
    return ""


def counted_readiness(documents: Documents, y: Year, goal_h: float, why_not: str) -> Readiness:
    """Count the outages that reach the goal.

    why_not: from ``not_counted``; where it says something, none does"""
    return NOT_YET if why_not else readiness(y, goal_h, documents.home.household.history.months)
