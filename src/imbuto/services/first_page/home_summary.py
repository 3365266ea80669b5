"""What a home can do now, in a line or two: for the page on which a person chooses among homes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from imbuto.core.basics.units import day_text
from imbuto.core.plan.entered.paperwork import unproven
from imbuto.core.plan.plan import Plan
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.everyday.upkeep import upkeep_view

ORDER = ("built", "intended", "draft")
SOON = timedelta(days=14)


@dataclass(frozen=True, slots=True, kw_only=True)
class FrontView:
    """A home at a glance.

    plan, outage: judged, the plan that is built before others
    says: the answer in words
    tested: when last, in words
    due: within two weeks
    live: an outage is on
    """

    plan: str
    plan_name: str
    outage: str
    outage_name: str
    says: str
    tested: str
    due: list[str]
    live: bool


def front_view(planner: Planner, home_id: str, now: datetime | None = None) -> FrontView:
    """A home at a glance. Raises NotFound."""
    documents = planner.open(home_id)
    here = now or planner.now(documents.home)
    plan = foremost(documents)
    outage = next(iter(documents.outages.values()))
    v = planner.verdict(home_id, plan.id, outage.id)
    due = [d for d in upkeep_view(planner, home_id, plan.id, outage.id, here).duties if d.first - here <= SOON]
    return FrontView(
        plan=plan.id,
        plan_name=plan.name,
        outage=outage.id,
        outage_name=outage.name,
        says=v.headline.sentence,
        tested=_tested(documents, plan),
        due=[d.title for d in due if d.every != "week"],
        live=documents.home.live is not None,
    )


def foremost(documents: Documents) -> Plan:
    """The plan that speaks for a home: one that is built before others, of several the first."""
    return min(documents.plans.values(), key=lambda p: ORDER.index(p.status))


def _tested(documents: Documents, plan: Plan) -> str:
    if unproven(plan.stages):
        return "its activation isn't proven yet"
    ended = [
        t.ended for t in documents.home.trials.values() if t.plan == plan.id and t.ended is not None and not t.stopped
    ]
    return f"tested {day_text(max(ended).date())}" if ended else "never tested"
