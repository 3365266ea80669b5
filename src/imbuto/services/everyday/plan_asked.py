"""The plan and station that a question about ordinary days is about."""

from __future__ import annotations

from imbuto.core.basics.errors import NotFound
from imbuto.core.plan.plan import Plan
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner


def asked_for(planner: Planner, home_id: str, plan_id: str, source: str | None) -> tuple[Documents, Plan, str]:
    """A plan with its source, the first where none is named. Raises NotFound."""
    documents = planner.open(home_id)
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "this home doesn't have that plan")
    plan = documents.plans[plan_id]
    key = source or next(iter(plan.sources), "")
    if key and key not in plan.sources:
        raise NotFound("station", key, "this plan doesn't have that station")
    return documents, plan, key
