"""The Chosen place: a proposed set."""

from __future__ import annotations

from fastapi import APIRouter

from imbuto.api.request_bodies import ProposalBody
from imbuto.api.route_helpers import ERRORS, P
from imbuto.services.chosen.choosing import ProposalView, proposal

router = APIRouter(prefix="/api", responses=ERRORS)


@router.post("/homes/{home_id}/proposal")
def propose_set(home_id: str, body: ProposalBody, planner: P) -> ProposalView:
    """Propose which circuits ride, class by class, under every limit; nothing is changed."""
    return proposal(planner, home_id, body.plan, body.outage, body.pins, body.hours, body.sure, body.device)
