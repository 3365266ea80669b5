"""Ordinary days: the year, the curve of the hold, what is worth it, what is looked after."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Response

from imbuto.api.edit_answers import TELLS, edit_response
from imbuto.api.request_bodies import EnergyBody
from imbuto.api.route_helpers import ERRORS, FILE_BODY, Meters, P, raw_body
from imbuto.core.everyday.metered_savings import Role
from imbuto.services.everyday.everyday_views import EverydayView, everyday_view, year_csv
from imbuto.services.everyday.hold_curve import CurveView, curve
from imbuto.services.everyday.off_grid_views import OffGridView, off_grid_view
from imbuto.services.everyday.replay_views import Meter, ReplayView, meters, replay
from imbuto.services.everyday.saved_views import (
    By,
    RoleExtent,
    SavedView,
    forget_role,
    keep_channels,
    saved_view,
)
from imbuto.services.everyday.tariff_files import give_tariff, take_tariff
from imbuto.services.everyday.upkeep import KeepingView, as_calendar, upkeep_view
from imbuto.services.everyday.what_if import More, WhatIfView, what_if
from imbuto.services.everyday.worth.worth_it import WorthView, worth
from imbuto.services.everyday.worth.worth_moving import WorthMovingView, worth_moving

router = APIRouter(prefix="/api", responses=ERRORS)


@router.get("/homes/{home_id}/everyday")
def an_ordinary_year(home_id: str, plan: str, outage: str, planner: P, source: str | None = None) -> EverydayView:
    """A plan's ordinary year: its bills, its readiness, its months and days."""
    return everyday_view(planner, home_id, plan, outage, source)


@router.get("/homes/{home_id}/everyday/curve")
def curve_of_the_hold(home_id: str, plan: str, outage: str, planner: P, source: str | None = None) -> CurveView:
    """Saving against readiness for twenty holds."""
    return curve(planner, home_id, plan, outage, source)


@router.get("/homes/{home_id}/alone")
def without_the_grid(home_id: str, plan: str, planner: P, source: str | None = None) -> OffGridView | None:
    """Whether a plan could run without the grid: on how many days it comes up short, and the next steps."""
    return off_grid_view(planner, home_id, plan, source)


@router.get("/homes/{home_id}/moving")
def worth_moving_to_the_station(home_id: str, plan: str, outage: str, planner: P) -> WorthMovingView:
    """For each circuit left in its panel, the hours it would cost in an outage and the money it would add."""
    return worth_moving(planner, home_id, plan, outage)


@router.get("/homes/{home_id}/worth")
def worth_it(
    home_id: str, plan: str, outage: str, planner: P, avoided: Annotated[float, Query(ge=0, le=1_000_000)] = 0.0
) -> WorthView:
    """What a plan costs, what comes off, what it saves, and when that meets."""
    return worth(planner, home_id, plan, outage, avoided)


@router.get("/homes/{home_id}/saved")
def what_was_saved(
    home_id: str,
    planner: P,
    first: date | None = None,
    last: date | None = None,
    by: By = "day",
    price: Annotated[float | None, Query(ge=-100, le=100_000)] = None,
) -> SavedView:
    """What the meters say was saved from a day to a day, at each day's tariff and at another price per kWh."""
    return saved_view(planner, home_id, first, last, by, price)


@router.get("/homes/{home_id}/what-if")
def what_if_on_my_days(
    home_id: str,
    plan: str,
    metered_with: str,
    first: date,
    last: date,
    planner: P,
    modules: Annotated[int, Query(ge=0, le=20)] = 0,
    units: Annotated[int, Query(ge=0, le=5)] = 0,
    panels: Annotated[float, Query(ge=0, le=10)] = 1.0,
) -> WhatIfView:
    """Metered days run with another plan, or with more modules, units or panels of one."""
    return what_if(planner, home_id, plan, first, last, metered_with, More(modules, units, panels))


@router.post("/homes/{home_id}/energy")
def keep_metered_energy(home_id: str, body: EnergyBody, importing: Meters) -> list[RoleExtent]:
    """Keep channels of a file that was read as what the house used, bought, sent, and so on."""
    return keep_channels(importing, home_id, body.job, body.channels)


@router.delete("/homes/{home_id}/energy/{role}")
def forget_metered_energy(home_id: str, role: Role, planner: P) -> list[RoleExtent]:
    """Forget all that is kept of one of these."""
    return forget_role(planner, home_id, role)


@router.get("/homes/{home_id}/keeping")
def keeping_it_going(home_id: str, plan: str, outage: str, planner: P) -> KeepingView:
    """Who switches what and when, what is looked after, and what may run on spare sun."""
    return upkeep_view(planner, home_id, plan, outage)


@router.get("/homes/{home_id}/keeping.ics", response_class=Response)
def keeping_as_a_calendar(home_id: str, plan: str, outage: str, planner: P) -> Response:
    """The same as an iCalendar file."""
    headers = {"content-disposition": 'attachment; filename="imbuto-everyday.ics"'}
    return Response(as_calendar(planner, home_id, plan, outage), media_type="text/calendar", headers=headers)


@router.get("/homes/{home_id}/meters")
def meters_of_the_house(home_id: str, planner: P) -> list[Meter]:
    """The series that were measured of the whole house."""
    return meters(planner, home_id)


@router.get("/homes/{home_id}/replay")
def replay_a_meter(home_id: str, plan: str, series: str, planner: P) -> ReplayView:
    """A meter's year through a plan: what it would have saved, and which outages it would have carried."""
    return replay(planner, home_id, plan, series)


@router.get("/homes/{home_id}/everyday.csv", response_class=Response)
def an_ordinary_year_as_csv(home_id: str, plan: str, outage: str, planner: P, source: str | None = None) -> Response:
    """Its months and nights as a table."""
    headers = {"content-disposition": 'attachment; filename="imbuto-year.csv"'}
    return Response(
        year_csv(planner, home_id, plan, outage, source), media_type="text/csv; charset=utf-8", headers=headers
    )


@router.get("/homes/{home_id}/tariffs/{tariff_id}.csv", response_class=Response)
def a_tariff_as_csv(home_id: str, tariff_id: str, planner: P) -> Response:
    """A tariff as a table."""
    headers = {"content-disposition": 'attachment; filename="imbuto-tariff.csv"'}
    return Response(give_tariff(planner, home_id, tariff_id), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/homes/{home_id}/tariffs", openapi_extra=FILE_BODY, **TELLS)
def take_a_tariff(
    home_id: str,
    planner: P,
    data: Annotated[bytes, Depends(raw_body)],
    name: str,
    edit_id: str,
    plan: str | None = None,
    outage: str | None = None,
) -> Response:
    """Take a tariff in from a CSV; one of the same name is replaced."""
    return edit_response(
        take_tariff(planner, home_id, data, name, edit_id, (plan, outage) if plan and outage else None)
    )
