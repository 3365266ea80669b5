"""Homes, their edits and verdicts, files in and out, and what the program is."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.sse import EventSourceResponse, ServerSentEvent
from pydantic import BaseModel

from imbuto import __version__
from imbuto.api.access_guard import session_of
from imbuto.api.edit_answers import TELLS, edit_response
from imbuto.api.hosts import is_here
from imbuto.api.request_bodies import BackupBody, EditBody, TurnBody
from imbuto.api.route_helpers import ERRORS, P, at_the_machine, pair_of, raw_body, safe_stem
from imbuto.core.basics.towns import Town, towns_named
from imbuto.formats import bundle, planfile, strict_json
from imbuto.formats.documents import HOME, OUTAGE, PLAN
from imbuto.services.desk.device_rights import Rights, check_ops
from imbuto.services.desk.edits import HomeState
from imbuto.services.desk.safekeeping import backed_up, erase
from imbuto.services.desk.verdict_views import VerdictView
from imbuto.services.first_page.first_plan import first_answer
from imbuto.services.first_page.first_preview import FirstPreview, first_preview
from imbuto.services.first_page.first_questions import Answers
from imbuto.services.first_page.home_summary import FrontView, front_view
from imbuto.services.first_page.one_storm import SharedStorm, StormAnswer, keep_storm, storm_answer
from imbuto.services.outages.watched_station import Watch
from imbuto.services.papers.binder_files import take_packed
from imbuto.services.source.own_equipment import SheetView, read_label
from imbuto.store.repository import HomeLine

LISTEN_S = 0.4
HEARTBEAT_S = 15.0

router = APIRouter(prefix="/api", responses=ERRORS)


@dataclass(frozen=True, slots=True)
class ProgramInfo:
    """Which program answers. rights: of the device that asks."""

    name: str
    version: str
    rights: Rights


@router.get("/about")
def about(request: Request) -> ProgramInfo:
    """The program and its version, and what who asks may do; the first thing a client may ask."""
    return ProgramInfo("imbuto", __version__, request.scope.get("rights") or "edit")


@router.get("/homes")
def homes(planner: P) -> list[HomeLine]:
    """Every home."""
    return planner.homes()


@router.post("/homes")
def start_home(answers: Answers, planner: P) -> HomeState:
    """A fresh home from the first answers."""
    home, plan, outage = first_answer(answers, datetime.now().date())
    return planner.add(HOME.write(home), [PLAN.write(plan)], [OUTAGE.write(outage)])


@router.post("/first-answer")
def answer_first_questions(answers: Answers) -> FirstPreview:
    """Answer a newcomer while the questions are filled in; nothing is kept."""
    return first_preview(answers, datetime.now().date())


class StationSheetBody(BaseModel):
    """The text of a station's page or label."""

    text: str


@router.post("/station-sheet")
def read_station_sheet(body: StationSheetBody) -> SheetView:
    """Read the page or label of a station; nothing is kept."""
    return read_label("stations", body.text)


@router.get("/towns")
def find_towns(text: Annotated[str, Query(max_length=100)]) -> list[Town]:
    """Towns whose names begin with a text, the largest first."""
    return towns_named(text)


@router.get("/homes/{home_id}")
def home(home_id: str, planner: P) -> HomeState:
    """A home with its documents."""
    return planner.state(home_id)


@router.get("/homes/{home_id}/front")
def a_home_at_a_glance(home_id: str, planner: P) -> FrontView:
    """What a home can do now, when it was tested, and what is due."""
    return front_view(planner, home_id)


@router.post("/homes/{home_id}/shared-storm")
def a_storm_over_a_home(home_id: str, storm: SharedStorm, planner: P, plan: str | None = None) -> StormAnswer:
    """What a home says of an outage that is laid over several homes, with the plan that speaks for it where none is
    named; nothing is kept."""
    return storm_answer(planner, home_id, storm, plan)


@router.post("/homes/{home_id}/shared-storm/kept", **TELLS)
def keep_a_storm(home_id: str, storm: SharedStorm, edit_id: str, planner: P) -> Response:
    """Keep that outage among the home's own, in the place of the one that was kept before."""
    return edit_response(keep_storm(planner, home_id, storm, edit_id))


@router.delete("/homes/{home_id}", status_code=204)
def delete_home(home_id: str, planner: P, request: Request, copies: bool = False) -> None:
    """Remove a home with its plans, outages and history, and what was worked out for it; at the machine that runs
    Imbuto. copies: out of the dated copies too."""
    at_the_machine(request)
    planner.delete(home_id)
    request.app.state.jobs.forget(home_id)
    if copies:
        erase(planner.database.path.parent, home_id)


@router.post("/backup", response_class=Response)
def back_up_everything(planner: P, request: Request, body: BackupBody) -> Response:
    """Everything that is kept as one file, read back before it is given, sealed under a passphrase where one is said;
    at the machine that runs Imbuto. Paired phones are left out."""
    at_the_machine(request)
    name = f"imbuto-{datetime.now():%Y-%m-%d}.{'sealed' if body.passphrase else 'zip'}"
    headers = {"content-disposition": f'attachment; filename="{name}"', "cache-control": "no-store"}
    data = backed_up(planner.database.path.parent, body.passphrase or None)
    return Response(data, media_type="application/octet-stream", headers=headers)


@router.post("/homes/{home_id}/edits", **TELLS)
def edit(home_id: str, body: EditBody, planner: P, request: Request) -> Response:
    """Apply an edit; 409 on an older base, with what changed, 403 for a device that may not touch that."""
    ops = [op.plain() for op in body.ops]
    check_ops(request.scope.get("rights") or "edit", ops, planner.state(home_id).home)
    result = planner.edit(home_id, body.base_rev, body.edit_id, body.label, ops, pair_of(body.judge), trial=body.trial)
    return edit_response(result, body.since)


@router.post("/homes/{home_id}/undo", **TELLS)
def undo(home_id: str, body: TurnBody, planner: P) -> Response:
    """Undo the newest edit; 409 where another one than the sender meant is the newest."""
    return edit_response(planner.undo(home_id, body.edit_id, pair_of(body.judge), body.takes), body.since)


@router.post("/homes/{home_id}/redo", **TELLS)
def redo(home_id: str, body: TurnBody, planner: P) -> Response:
    """Redo what was undone last; 409 likewise."""
    return edit_response(planner.redo(home_id, body.edit_id, pair_of(body.judge), body.takes), body.since)


@router.get("/homes/{home_id}/verdict")
def verdict(home_id: str, plan: str, outage: str, planner: P) -> VerdictView:
    """The verdict on a pair."""
    return planner.verdict(home_id, plan, outage)


@router.get("/homes/{home_id}/export", response_class=Response, responses={200: {"model": planfile.PlanFile}})
def export(home_id: str, planner: P) -> Response:
    """The home's plan file, to keep or to script with."""
    headers = {"content-disposition": f'attachment; filename="{safe_stem(home_id)}.imbuto.json"'}
    return Response(strict_json.dump(planner.give_out(home_id)), media_type="application/json", headers=headers)


IMPORT_BODY = {"requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}}


@router.post("/imports", openapi_extra=IMPORT_BODY)
def import_file(planner: P, data: Annotated[bytes, Depends(raw_body)], name: str = "The file") -> HomeState:
    """A home from a plan file, or from one packed with what is on file."""
    return take_packed(planner, data, name) if data.startswith(bundle.MAGIC) else planner.take_in(data, name)


def known_home(home_id: str, planner: P) -> None:
    """Raise NotFound for a home that is not there, before an answer begins."""
    planner.state(home_id)


@router.get("/homes/{home_id}/events", response_class=EventSourceResponse, dependencies=[Depends(known_home)])
async def events(home_id: str, planner: P, request: Request) -> AsyncIterator[ServerSentEvent]:
    """The home's revision whenever it changes, for other tabs, and word of every look at a station that is watched;
    ends when the device that listens is unpaired."""
    watch: Watch = request.app.state.watch
    session = None if is_here(request.scope) else session_of(request.headers)
    last, seen, quiet = planner.live.get(home_id, 0), watch.seen.get(home_id, 0), 0.0
    while True:
        await asyncio.sleep(LISTEN_S)
        if session is not None and request.app.state.pairing.rights_of(session) is None:
            return
        quiet += LISTEN_S
        now = planner.live.get(home_id, 0)
        if now != last:
            last, quiet = now, 0.0
            yield ServerSentEvent(data={"rev": now}, event="rev")
        elif (looked := watch.seen.get(home_id, 0)) != seen:
            seen, quiet = looked, 0.0
            yield ServerSentEvent(data=watch.view(home_id), event="station")
        elif quiet >= HEARTBEAT_S:
            quiet = 0.0
            yield ServerSentEvent(comment="still here")


@router.get("/schema")
def schema() -> dict[str, Any]:
    """The JSON Schema of the plan file."""
    return planfile.schema()
