"""The routes of a home's MQTT broker: it is only listened to."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response
from pydantic import BaseModel, Field

from imbuto.api.edit_answers import TELLS, edit_response
from imbuto.api.request_bodies import TurnBody
from imbuto.api.route_helpers import ERRORS, pair_of
from imbuto.core.measuring.minute_log import Meaning
from imbuto.services.house.broker import Brokers
from imbuto.services.house.broker_link import BrokerAddress
from imbuto.services.house.broker_views import BrokerView, TargetKind

router = APIRouter(prefix="/api/homes/{home_id}/broker", responses=ERRORS)


def brokers_of(request: Request) -> Brokers:
    """The server's links to brokers."""
    found: Brokers = request.app.state.brokers
    return found


Links = Annotated[Brokers, Depends(brokers_of)]


class BrokerBody(BaseModel):
    """Where a broker is, and who one is there."""

    host: str = Field(max_length=253)
    port: int = 1883
    tls: bool = False
    user: str = Field(default="", max_length=200)
    password: str = Field(default="", max_length=200)
    ca: str = Field(default="", max_length=100_000)


class PickBody(BaseModel):
    """A value to take: where it comes from, what it is, and whose."""

    topic: str = Field(max_length=500)
    path: str = Field(default="", max_length=500)
    meaning: Meaning
    kind: TargetKind
    target: str = ""


@router.get("")
def broker(home_id: str, links: Links) -> BrokerView:
    """A home's broker, the numbers on it, and what is taken of them."""
    return links.view(home_id)


@router.post("")
def connect(home_id: str, body: BrokerBody, links: Links) -> BrokerView:
    """Connect to a broker on this computer or the local network, where the program was started with --broker."""
    return links.connect(home_id, BrokerAddress(**body.model_dump()))


@router.delete("")
def disconnect(home_id: str, links: Links) -> BrokerView:
    """Hang up, and forget address, password and what was taken."""
    return links.disconnect(home_id)


@router.post("/picks")
def pick(home_id: str, body: PickBody, links: Links) -> BrokerView:
    """Take a value from now on."""
    return links.pick(home_id, body.topic, body.path, body.meaning, body.kind, body.target)


@router.delete("/picks/{pick_id}")
def drop(home_id: str, pick_id: str, links: Links) -> BrokerView:
    """Take a value no longer."""
    return links.drop(home_id, pick_id)


@router.post("/picks/{pick_id}/reading", **TELLS)
def note(home_id: str, pick_id: str, body: TurnBody, links: Links) -> Response:
    """Note what came in as a reading; the load's figures follow."""
    return edit_response(links.note(home_id, pick_id, body.edit_id, pair_of(body.judge)), body.since)


@router.get("/picks/{pick_id}/log.csv", response_class=Response)
def log(home_id: str, pick_id: str, links: Links) -> Response:
    """Minute means of a value as a table."""
    headers = {"content-disposition": 'attachment; filename="log.csv"'}
    return Response(links.log_csv(home_id, pick_id), media_type="text/csv; charset=utf-8", headers=headers)
