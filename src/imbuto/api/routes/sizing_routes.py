"""How large, and what to buy."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated

from fastapi import APIRouter, Depends, Request

from imbuto.api.route_helpers import ERRORS, P
from imbuto.services.desk.background_jobs import Jobs
from imbuto.services.source.by_hand_views import ByHandView, by_hand_view
from imbuto.services.source.sizing_views import FrontierJob, SizeView, begin_frontier, frontier_job, size_view

router = APIRouter(prefix="/api", responses=ERRORS)


def jobs_of(request: Request) -> Jobs:
    """The server's jobs."""
    jobs: Jobs = request.app.state.jobs
    return jobs


J = Annotated[Jobs, Depends(jobs_of)]


@router.get("/homes/{home_id}/size")
def size(
    home_id: str, plan: str, outage: str, planner: P, budget: Decimal | None = None, felt_h: float | None = None
) -> SizeView:
    """Every school of sizing beside the simulation, and what each load takes of the hours."""
    return size_view(planner, home_id, plan, outage, budget, felt_h)


@router.get("/homes/{home_id}/by-hand")
def by_hand(home_id: str, plan: str, outage: str, planner: P) -> ByHandView:
    """Sums with one's own numbers, rounded up to whole pieces, and the night list."""
    return by_hand_view(planner, home_id, plan, outage)


@router.post("/homes/{home_id}/frontier")
def start_frontier(
    home_id: str, plan: str, outage: str, planner: P, jobs: J, budget: Decimal | None = None
) -> FrontierJob:
    """Begin to look at everything that can be bought; DELETE /jobs/{id} stops it."""
    return begin_frontier(planner, jobs, home_id, plan, outage, budget)


@router.get("/frontier/{job_id}")
def frontier(job_id: str, jobs: J) -> FrontierJob:
    """How far it is, and what it came to."""
    return frontier_job(jobs, job_id)
