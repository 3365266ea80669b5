"""The Source place: stations, joining, sun, fuel; and the tables they are chosen from."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Response

from imbuto.api.edit_answers import TELLS, edit_response
from imbuto.api.route_helpers import ERRORS, FILE_BODY, P, raw_body
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.equipment.transfer_equipment import TransferEquipment
from imbuto.core.equipment.wires import Wire, wires
from imbuto.services.desk.run_views import StationView
from imbuto.services.source.generator_views import FuelView, fuel_view
from imbuto.services.source.joining_views import JoiningView, joining_view
from imbuto.services.source.solar_views import SunView, sun_view, take_weather

router = APIRouter(prefix="/api", responses=ERRORS)


@router.get("/homes/{home_id}/options")
def options(home_id: str, plan: str, outage: str, planner: P, source: str | None = None) -> list[StationView]:
    """What each station would do in a plan, in the place of one of its own."""
    return planner.options(home_id, plan, outage, source)


@router.get("/homes/{home_id}/diagram")
def joining_diagram(home_id: str, plan: str, planner: P, source: str | None = None) -> JoiningView:
    """How a plan is joined: boxes and lines with their places, and every possible feed."""
    return joining_view(planner, home_id, plan, source)


@router.get("/homes/{home_id}/sun")
def sun(home_id: str, plan: str, outage: str, planner: P, source: str | None = None) -> SunView:
    """The arrays of a plan: ways to wire them, and what they bring."""
    return sun_view(planner, home_id, plan, outage, source)


@router.post("/homes/{home_id}/weather", openapi_extra=FILE_BODY, **TELLS)
def weather(
    home_id: str,
    planner: P,
    data: Annotated[bytes, Depends(raw_body)],
    name: str,
    edit_id: str,
    plan: str | None = None,
    outage: str | None = None,
) -> Response:
    """Take what days of each month are like from an EPW or TMY3 weather file."""
    pair = (plan, outage) if plan and outage else None
    return edit_response(take_weather(planner, home_id, data, name, edit_id, pair))


@router.get("/homes/{home_id}/fuel")
def fuel(home_id: str, plan: str, outage: str, planner: P) -> FuelView:
    """A plan's generator in both schools, and every way to fill its station."""
    return fuel_view(planner, home_id, plan, outage)


@router.get("/transfer")
def transfer() -> list[TransferEquipment]:
    """The transfer equipment that ships."""
    return list(shipped().transfer.values())


@router.get("/wires")
def wire_sizes() -> list[Wire]:
    """The sizes of wire and cord, with what they carry."""
    return list(wires().values())
