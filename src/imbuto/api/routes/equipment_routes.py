"""The routes of equipment: the catalogue, and a home's own entries in and out."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Response
from pydantic import BaseModel

from imbuto.api.edit_answers import TELLS, edit_response
from imbuto.api.route_helpers import ERRORS, FILE_BODY, P, raw_body
from imbuto.core.measuring.data_sheet_meanings import SheetKind
from imbuto.formats import strict_json
from imbuto.formats.sheetfile import SheetText
from imbuto.services.source.own_equipment import (
    CatalogueView,
    Kind,
    SheetView,
    as_csv,
    as_json,
    catalogue_view,
    read_label,
    sheet_text,
    take_in,
)

router = APIRouter(prefix="/api/homes/{home_id}/catalogue", responses=ERRORS)


@router.get("")
def catalogue(home_id: str, planner: P) -> CatalogueView:
    """Everything there is to plan with, and what the fields of an entry mean."""
    return catalogue_view(planner, home_id)


@router.get("/export.json", response_class=Response)
def export_json(home_id: str, planner: P) -> Response:
    """The whole catalogue."""
    headers = {"content-disposition": 'attachment; filename="equipment.json"'}
    return Response(strict_json.dump(as_json(planner, home_id)), media_type="application/json", headers=headers)


@router.get("/{kind}.csv", response_class=Response)
def export_csv(home_id: str, kind: Kind, planner: P) -> Response:
    """One kind of equipment as a table."""
    headers = {"content-disposition": f'attachment; filename="{kind}.csv"'}
    return Response(as_csv(planner, home_id, kind), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("", openapi_extra=FILE_BODY, **TELLS)
def add(
    home_id: str,
    planner: P,
    data: Annotated[bytes, Depends(raw_body)],
    name: str,
    kind: Kind,
    edit_id: str,
    plan: str = "",
    outage: str = "",
) -> Response:
    """Take in entries from CSV or JSON, as one edit."""
    return edit_response(
        take_in(planner, home_id, data, name, kind, edit_id, (plan, outage) if plan and outage else None)
    )


class SheetBody(BaseModel):
    """The text of a data sheet, a manual's page or a shop's table, and what it is of."""

    kind: SheetKind
    text: str


@router.post("/read")
def read(home_id: str, body: SheetBody) -> SheetView:
    """What a pasted sheet says; nothing is kept."""
    return read_label(body.kind, body.text)


@router.post("/text", openapi_extra=FILE_BODY)
def text(home_id: str, data: Annotated[bytes, Depends(raw_body)], name: str) -> SheetText:
    """The text of a data sheet that is a file, to be looked at and then read; nothing is kept."""
    return sheet_text(data, name)
