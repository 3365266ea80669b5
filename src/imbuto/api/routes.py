"""The routes. Plain ``def`` runs in a thread: the work is computation."""

from __future__ import annotations

import asyncio
import re
from collections.abc import AsyncIterator
from dataclasses import dataclass
from datetime import datetime, time
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Request, Response
from fastapi.sse import EventSourceResponse, ServerSentEvent

from imbuto import __version__
from imbuto.api.schemas import EditBody, ErrorBody, Judged, ProposalBody, TurnBody
from imbuto.api.telling import TELLS, told
from imbuto.core.advice.diagram import Diagram
from imbuto.core.basics.errors import NotFound, UnreadableFile
from imbuto.core.equipment.catalogue import TransferEquipment, shipped
from imbuto.core.equipment.wires import Wire, wires
from imbuto.core.home.loads import Load
from imbuto.core.home.typical import Typical, typical
from imbuto.formats import planfile, strict_json
from imbuto.formats.csvout import file_name
from imbuto.formats.documents import HOME, OUTAGE, PLAN
from imbuto.services.chosen.choosing import ProposalView, proposal
from imbuto.services.compare.compare import CompareView, compare
from imbuto.services.desk.edits import HomeState
from imbuto.services.desk.planner import Planner
from imbuto.services.desk.start import Answers, first_answer
from imbuto.services.desk.views import VerdictView
from imbuto.services.hours.runs import RunView, StationView
from imbuto.services.hours.steps import StepsView, steps_csv, steps_view
from imbuto.services.source.fuel import FuelView, fuel_view
from imbuto.services.source.sun import SunView, sun_view, take_weather
from imbuto.store.repository import HomeLine

ERRORS: dict[int | str, dict[str, Any]] = {code: {"model": ErrorBody} for code in (404, 409, 422)}
MOST_BYTES = 40_000_000  # of any file sent; each kind has its own ceiling below
LISTEN_S = 0.4
HEARTBEAT_S = 15.0

router = APIRouter(prefix="/api", responses=ERRORS)


def planner_of(request: Request) -> Planner:
    """The server's planner."""
    planner: Planner = request.app.state.planner
    return planner


P = Annotated[Planner, Depends(planner_of)]


@dataclass(frozen=True, slots=True)
class About:
    """Which program answers."""

    name: str
    version: str


async def raw_body(request: Request) -> bytes:
    """The body as sent, read to its end; what is past the larger ceiling is dropped and only told by its length."""
    data = bytearray()
    total = 0
    async for chunk in request.stream():
        total += len(chunk)
        if total <= MOST_BYTES:
            data += chunk
    if total > MOST_BYTES:
        raise UnreadableFile("The file", total, f"it is {total / 1e6:.0f} MB, more than is taken in at once")
    return bytes(data)


FILE_BODY = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}


@router.get("/about")
def about() -> About:
    """The program and its version; the first thing a client may ask."""
    return About("imbuto", __version__)


@router.get("/homes")
def homes(planner: P) -> list[HomeLine]:
    """Every home."""
    return planner.homes()


@router.post("/homes")
def start_home(answers: Answers, planner: P) -> HomeState:
    """A fresh home from the first three answers."""
    evening = datetime.combine(datetime.now().date(), time(18))
    home, plan, outage = first_answer(answers, evening)
    return planner.add(HOME.write(home), [PLAN.write(plan)], [OUTAGE.write(outage)])


@router.get("/homes/{home_id}")
def home(home_id: str, planner: P) -> HomeState:
    """A home with its documents."""
    return planner.state(home_id)


@router.delete("/homes/{home_id}", status_code=204)
def delete_home(home_id: str, planner: P, request: Request) -> None:
    """Remove a home with its plans, outages and history, and what was worked out for it."""
    planner.delete(home_id)
    request.app.state.jobs.forget(home_id)


@router.post("/homes/{home_id}/edits", **TELLS)
def edit(home_id: str, body: EditBody, planner: P) -> Response:
    """Apply an edit; 409 on an older base, with what changed."""
    ops = [op.plain() for op in body.ops]
    result = planner.edit(home_id, body.base_rev, body.edit_id, body.label, ops, pair_of(body.judge), trial=body.trial)
    return told(result, body.since)


@router.post("/homes/{home_id}/undo", **TELLS)
def undo(home_id: str, body: TurnBody, planner: P) -> Response:
    """Take back the newest edit."""
    return told(planner.undo(home_id, body.edit_id, pair_of(body.judge)), body.since)


@router.post("/homes/{home_id}/redo", **TELLS)
def redo(home_id: str, body: TurnBody, planner: P) -> Response:
    """Bring back what was undone last."""
    return told(planner.redo(home_id, body.edit_id, pair_of(body.judge)), body.since)


@router.get("/homes/{home_id}/verdict")
def verdict(home_id: str, plan: str, outage: str, planner: P) -> VerdictView:
    """The verdict on a pair."""
    return planner.verdict(home_id, plan, outage)


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


@router.get("/homes/{home_id}/options")
def options(home_id: str, plan: str, outage: str, planner: P, source: str | None = None) -> list[StationView]:
    """What each station would do in a plan, in the place of one of its own."""
    return planner.options(home_id, plan, outage, source)


@router.get("/homes/{home_id}/compare")
def compare_plans(home_id: str, against: str, planner: P) -> CompareView:
    """Every plan in every outage, held against one of them."""
    return compare(planner, home_id, against)


@router.get("/homes/{home_id}/sun")
def sun(home_id: str, plan: str, outage: str, planner: P, source: str | None = None) -> SunView:
    """The arrays of a plan: ways to wire them, and what they bring."""
    return sun_view(planner, home_id, plan, outage, source)


@router.post("/homes/{home_id}/weather", openapi_extra=FILE_BODY, **TELLS)
def weather(
    home_id: str, planner: P, data: Annotated[bytes, Depends(raw_body)], name: str, edit_id: str,
    plan: str | None = None, outage: str | None = None,
) -> Response:  # fmt: skip
    """Take what days of each month are like from an EPW or TMY3 weather file."""
    pair = (plan, outage) if plan and outage else None
    return told(take_weather(planner, home_id, data, name, edit_id, pair))


@router.get("/homes/{home_id}/fuel")
def fuel(home_id: str, plan: str, outage: str, planner: P) -> FuelView:
    """A plan's generator in both schools, and every way to fill its station."""
    return fuel_view(planner, home_id, plan, outage)


@router.post("/homes/{home_id}/proposal")
def propose_set(home_id: str, body: ProposalBody, planner: P) -> ProposalView:
    """Propose which circuits ride, class by class, under every limit; nothing is changed."""
    return proposal(planner, home_id, body.plan, body.outage, body.pins, body.hours, body.sure)


@router.get("/homes/{home_id}/diagram")
def joining_diagram(home_id: str, plan: str, planner: P, source: str | None = None) -> Diagram:
    """How a plan is joined: boxes, lines, and every possible feed."""
    return planner.diagram(home_id, plan, source)


@router.get("/homes/{home_id}/export", response_class=Response, responses={200: {"model": planfile.PlanFile}})
def export(home_id: str, planner: P) -> Response:
    """The home's plan file, to keep or to script with."""
    name = re.sub(r"[^A-Za-z0-9-]+", "-", home_id) or "home"
    headers = {"content-disposition": f'attachment; filename="{name}.imbuto.json"'}
    return Response(strict_json.dump(planner.give_out(home_id)), media_type="application/json", headers=headers)


IMPORT_BODY = {"requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}}


@router.post("/imports", openapi_extra=IMPORT_BODY)
def import_file(planner: P, data: Annotated[bytes, Depends(raw_body)], name: str = "The file") -> HomeState:
    """A home from a plan file."""
    return planner.take_in(data, name)


@router.get("/homes/{home_id}/events", response_class=EventSourceResponse)
async def events(home_id: str, planner: P) -> AsyncIterator[ServerSentEvent]:
    """The home's revision whenever it changes, for other tabs."""
    last, quiet = planner.live.get(home_id, 0), 0.0
    while True:
        await asyncio.sleep(LISTEN_S)
        quiet += LISTEN_S
        now = planner.live.get(home_id, 0)
        if now != last:
            last, quiet = now, 0.0
            yield ServerSentEvent(data={"rev": now}, event="rev")
        elif quiet >= HEARTBEAT_S:
            quiet = 0.0
            yield ServerSentEvent(comment="still here")


@router.get("/typical")
def typical_loads() -> list[Typical]:
    """The table of typical loads."""
    return list(typical().values())


@router.get("/typical/{typical_id}/load")
def typical_load(typical_id: str, volts: int = 120) -> Load:
    """A load with the figures of a typical one, to begin with."""
    row = typical().get(typical_id)
    if row is None:
        raise NotFound("typical load", typical_id, "the table has no such row")
    return row.load(typical_id, 1, volts)


@router.get("/transfer")
def transfer() -> list[TransferEquipment]:
    """The transfer equipment that ships."""
    return list(shipped().transfer.values())


@router.get("/wires")
def wire_sizes() -> list[Wire]:
    """The sizes of wire and cord, with what they carry."""
    return list(wires().values())


@router.get("/schema")
def schema() -> dict[str, Any]:
    """The JSON Schema of the plan file."""
    return planfile.schema()


def pair_of(judge: Judged | None) -> tuple[str, str] | None:
    """The pair to judge, where one is named."""
    return (judge.plan, judge.outage) if judge else None
