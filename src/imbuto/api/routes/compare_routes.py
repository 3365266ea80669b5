"""The Compare place."""

from __future__ import annotations

from fastapi import APIRouter

from imbuto.api.route_helpers import ERRORS, P
from imbuto.services.compare.plans_by_outage import CompareView, compare

router = APIRouter(prefix="/api", responses=ERRORS)


@router.get("/homes/{home_id}/compare")
def compare_plans(home_id: str, against: str, planner: P) -> CompareView:
    """Every plan in every outage, held against one of them."""
    return compare(planner, home_id, against)
