"""Sheets to print, keep and give."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Query, Response
from fastapi.responses import FileResponse, HTMLResponse

from imbuto.api.edit_answers import TELLS, edit_response
from imbuto.api.route_helpers import ERRORS, FILE_BODY, P, raw_body, safe_stem
from imbuto.services.papers.binder_files import attach, file_of, pack_home
from imbuto.services.papers.sheet_registry import (
    PaperView,
    PrivateView,
    as_dates,
    as_pdf,
    as_table,
    list_sheets,
    note_printed,
    page,
    private,
)
from imbuto.services.papers.work_views import WorkView, work_view

router = APIRouter(prefix="/api", responses=ERRORS)


@router.get("/homes/{home_id}/papers")
def sheets(home_id: str, plan: str, outage: str, planner: P) -> list[PaperView]:
    """Every sheet of a plan: what it is for, for whom, what is missing in it."""
    return list_sheets(planner, home_id, plan, outage)


@router.get("/homes/{home_id}/private")
def what_sheets_reveal(home_id: str, plan: str, outage: str, planner: P) -> list[PrivateView]:
    """What each sheet tells that strangers need not know, and what its version for them still tells."""
    return private(planner, home_id, plan, outage)


@router.get("/homes/{home_id}/papers/{sheet}.{form}", response_class=Response)
def a_sheet(
    home_id: str,
    sheet: str,
    form: Literal["pdf", "html", "csv", "ics"],
    plan: str,
    outage: str,
    planner: P,
    paper: str = "",
    large: bool = False,
    hand: str = "",
    keep: bool = False,
    strangers: bool = False,
) -> Response:
    """A sheet, or with ``pack`` all of them; as PDF, or as HTML that needs neither server nor script; some also as a
    table, or as dates. keep: to be saved; strangers: without names, numbers, and what concerns health or absence."""
    headers = {"content-disposition": f'attachment; filename="imbuto-{sheet}.{form}"'}
    if form == "csv":
        text = as_table(planner, home_id, plan, outage, sheet, strangers=strangers)
        return Response(text, media_type="text/csv; charset=utf-8", headers=headers)
    if form == "ics":
        return Response(as_dates(planner, home_id, plan, outage, sheet), media_type="text/calendar", headers=headers)
    fonts: Literal["file", "inside", "none"] = "file" if form == "pdf" else "inside" if keep else "none"
    made = page(
        planner, home_id, plan, outage, sheet, size=paper, large=large, hand=hand, fonts=fonts, strangers=strangers
    )
    how = "attachment" if keep else "inline"
    headers = {"content-disposition": f'{how}; filename="imbuto-{sheet}.{form}"'}
    if form == "html":
        return HTMLResponse(made, headers=headers)
    return Response(as_pdf(made), media_type="application/pdf", headers=headers)


@router.post("/homes/{home_id}/papers/{sheet}/printed", status_code=204)
def a_sheet_was_printed(home_id: str, sheet: str, plan: str, outage: str, planner: P) -> None:
    """Note that a sheet, or with ``pack`` every one, was opened to be printed: Papers then says what changed since."""
    note_printed(planner, home_id, plan, outage, sheet)


@router.get("/homes/{home_id}/work")
def the_work(home_id: str, plan: str, planner: P) -> WorkView:
    """What building a plan leaves dark and for how long, what has to be asked, and when it is ready."""
    return work_view(planner, home_id, plan)


@router.post("/homes/{home_id}/binder/{entry_id}/file", openapi_extra=FILE_BODY, **TELLS)
def attach_a_file(
    home_id: str,
    entry_id: str,
    planner: P,
    data: Annotated[bytes, Depends(raw_body)],
    edit_id: str,
    name: str = "The file",
    plan: str | None = None,
    outage: str | None = None,
    photo_of: Annotated[str | None, Query(max_length=200)] = None,
) -> Response:
    """Put a file to an entry of the binder: a PDF, a photograph without what it says of where it was taken, or a
    text. With photo_of the entry is made too: a photograph of that."""
    pair = (plan, outage) if plan and outage else None
    return edit_response(attach(planner, home_id, entry_id, data, name, edit_id, pair, photo_of))


@router.get("/homes/{home_id}/binder/{entry_id}/file", response_class=FileResponse)
def a_file(home_id: str, entry_id: str, planner: P) -> FileResponse:
    """The file of an entry, to be saved; no browser opens it here."""
    path, file = file_of(planner, home_id, entry_id)
    headers = {"content-security-policy": "sandbox; default-src 'none'", "cache-control": "private, no-store"}
    return FileResponse(
        path, media_type=file.media, filename=file.name, content_disposition_type="attachment", headers=headers
    )


@router.get("/homes/{home_id}/export.zip", response_class=Response)
def export_with_files(home_id: str, planner: P) -> Response:
    """The home's plan file and everything on file, as one ZIP."""
    headers = {"content-disposition": f'attachment; filename="{safe_stem(home_id)}.imbuto.zip"'}
    return Response(pack_home(planner, home_id), media_type="application/zip", headers=headers)
