"""The Hours place: a run in full."""

from __future__ import annotations

from fastapi import APIRouter, Response

from imbuto.api.route_helpers import ERRORS, P
from imbuto.formats.csv_tables.csvout import file_name
from imbuto.services.desk.run_views import RunView
from imbuto.services.hours.step_table import StepsView, steps_csv, steps_view

router = APIRouter(prefix="/api", responses=ERRORS)


@router.get("/homes/{home_id}/run")
def run(home_id: str, plan: str, outage: str, planner: P, source: str | None = None) -> RunView | None:
    """The run of a pair, of one of its stations where it is named; null where nothing runs."""
    return planner.run(home_id, plan, outage, source)


@router.get("/homes/{home_id}/run/steps")
def run_steps(home_id: str, plan: str, outage: str, planner: P, source: str | None = None) -> StepsView:
    """Every step of a run."""
    return steps_view(planner, home_id, plan, outage, source)


@router.get("/homes/{home_id}/run/steps.csv", response_class=Response)
def run_steps_csv(home_id: str, plan: str, outage: str, planner: P, source: str | None = None) -> Response:
    """Every step of a run, as CSV."""
    text = steps_csv(steps_view(planner, home_id, plan, outage, source))
    headers = {"content-disposition": f'attachment; filename="{file_name(f"{plan} {outage}")}.csv"'}
    return Response(text, media_type="text/csv; charset=utf-8", headers=headers)
