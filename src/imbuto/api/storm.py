"""Storm days: the cards of a plan, and the drill."""

from __future__ import annotations

from fastapi import APIRouter

from imbuto.api.common import ERRORS, P
from imbuto.api.schemas import DrillBody
from imbuto.core.storm.cards import Card
from imbuto.core.storm.drill import Scene
from imbuto.services.storm.hands import DrillView, cards_of, drill_begun, drill_moved

router = APIRouter(prefix="/api", responses=ERRORS)


@router.get("/homes/{home_id}/cards")
def run_cards(home_id: str, plan: str, planner: P) -> list[Card]:
    """What is switched in which order: going over, coming back, after a shutdown, when it is low."""
    return cards_of(planner, home_id, plan)


@router.get("/homes/{home_id}/drill")
def begin_drill(home_id: str, plan: str, scene: Scene, planner: P) -> DrillView:
    """A fresh round on the plan's own panel, switch and cords."""
    return drill_begun(planner, home_id, plan, scene)


@router.post("/homes/{home_id}/drill")
def move_in_drill(home_id: str, body: DrillBody, planner: P) -> DrillView:
    """One move of a round; nothing of the home is changed."""
    return drill_moved(planner, home_id, body.plan, body.scene, body.positions, body.harm, body.part, body.to)
