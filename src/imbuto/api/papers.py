"""Sheets to print, keep and give."""

from __future__ import annotations

from typing import Literal

from fastapi import APIRouter, Response
from fastapi.responses import HTMLResponse

from imbuto.api.common import ERRORS, P
from imbuto.services.papers.sheets import PaperView, as_pdf, listed, page

router = APIRouter(prefix="/api", responses=ERRORS)


@router.get("/homes/{home_id}/papers")
def sheets(home_id: str, plan: str, outage: str, planner: P) -> list[PaperView]:
    """Every sheet of a plan: what it is for, for whom, what it reveals, what is missing in it."""
    return listed(planner, home_id, plan, outage)


@router.get("/homes/{home_id}/papers/{sheet}.{form}", response_class=Response)
def a_sheet(
    home_id: str, sheet: str, form: Literal["pdf", "html"], plan: str, outage: str, planner: P, paper: str = "", large: bool = False,
    hand: str = "", keep: bool = False,
) -> Response:  # fmt: skip
    """A sheet, or with ``pack`` all of them; as PDF, or as HTML that needs neither server nor script. keep: to be saved."""
    fonts: Literal["file", "inside", "none"] = "file" if form == "pdf" else "inside" if keep else "none"
    made = page(planner, home_id, plan, outage, sheet, size=paper, large=large, hand=hand, fonts=fonts)
    how = "attachment" if keep else "inline"
    headers = {"content-disposition": f'{how}; filename="imbuto-{sheet}.{form}"'}
    if form == "html":
        return HTMLResponse(made, headers=headers)
    return Response(as_pdf(made), media_type="application/pdf", headers=headers)
