"""The routes. Plain ``def`` runs in a thread: the work is computation."""

from __future__ import annotations

import asyncio
import re
import uuid
from collections.abc import AsyncIterator
from dataclasses import dataclass
from datetime import datetime, time
from pathlib import Path
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends, Request, Response
from fastapi.sse import EventSourceResponse, ServerSentEvent

from imbuto import __version__
from imbuto.api.schemas import EditBody, ErrorBody, Judged, KeepBody, ReadingBody, TurnBody
from imbuto.core.equipment import TransferEquipment, shipped
from imbuto.core.errors import ImbutoError, UnreadableFile
from imbuto.core.typical import Typical, typical
from imbuto.formats import planfile, strict_json
from imbuto.formats.documents import HOME, OUTAGE, PLAN
from imbuto.services import tables
from imbuto.services.edits import HomeState
from imbuto.services.importing import ChannelView, Importing, JobView, Kept, SeriesView
from imbuto.services.jobs import Jobs
from imbuto.services.measuring import Echo, Measuring, ReadingView, Target
from imbuto.services.planner import EditResult, Planner
from imbuto.services.runs import RunView, StationView
from imbuto.services.start import Answers, first_answer
from imbuto.services.views import VerdictView
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


def importing_of(request: Request) -> Importing:
    """The server's meter data."""
    jobs: Jobs = request.app.state.jobs
    return Importing(planner_of(request), jobs)


Meters = Annotated[Importing, Depends(importing_of)]


@dataclass(frozen=True, slots=True)
class About:
    """Which program answers."""

    name: str
    version: str


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
def delete_home(home_id: str, planner: P) -> None:
    """Remove a home with its plans, outages and history."""
    planner.delete(home_id)


@router.post("/homes/{home_id}/edits")
def edit(home_id: str, body: EditBody, planner: P) -> EditResult:
    """Apply an edit; 409 on an older base, with what changed."""
    ops = [op.plain() for op in body.ops]
    return planner.edit(home_id, body.base_rev, body.edit_id, body.label, ops, _pair(body.judge))


@router.post("/homes/{home_id}/undo")
def undo(home_id: str, body: TurnBody, planner: P) -> EditResult:
    """Take back the newest edit."""
    return planner.undo(home_id, body.edit_id, _pair(body.judge))


@router.post("/homes/{home_id}/redo")
def redo(home_id: str, body: TurnBody, planner: P) -> EditResult:
    """Bring back what was undone last."""
    return planner.redo(home_id, body.edit_id, _pair(body.judge))


@router.get("/homes/{home_id}/verdict")
def verdict(home_id: str, plan: str, outage: str, planner: P) -> VerdictView:
    """The verdict on a pair."""
    return planner.verdict(home_id, plan, outage)


@router.get("/homes/{home_id}/run")
def run(home_id: str, plan: str, outage: str, planner: P) -> RunView | None:
    """The run of a pair; null where nothing runs."""
    return planner.run(home_id, plan, outage)


@router.get("/homes/{home_id}/options")
def options(home_id: str, plan: str, outage: str, planner: P) -> list[StationView]:
    """What each station would do in a plan."""
    return planner.options(home_id, plan, outage)


@router.get("/homes/{home_id}/understand")
def understand(home_id: str, text: str, planner: P, load: str | None = None, plan: str = "", outage: str = "") -> Echo:
    """What a typed reading says, before it is noted; or what is wrong with it, with a suggestion."""
    return Measuring(planner).understand(home_id, text, load, (plan, outage))


@router.get("/homes/{home_id}/readings")
def readings(home_id: str, planner: P, plan: str = "", outage: str = "") -> list[ReadingView]:
    """Every reading, newest first, and which of them count."""
    return Measuring(planner).readings(home_id, (plan, outage))


@router.post("/homes/{home_id}/readings")
def note_reading(home_id: str, body: ReadingBody, planner: P) -> EditResult:
    """Note a reading; the load's figures follow."""
    return Measuring(planner).note(
        home_id, body.edit_id, body.text, Target(body.load, body.circuit, body.home), _pair(body.judge),
        side=body.side, setting=body.setting, season=body.season,
    )  # fmt: skip


@router.post("/homes/{home_id}/readings/{reading_id}/withdraw")
def withdraw_reading(home_id: str, reading_id: str, body: TurnBody, planner: P) -> EditResult:
    """Take a reading back; the next best one counts then."""
    return Measuring(planner).take_back(home_id, reading_id, body.edit_id, _pair(body.judge))


@router.get("/homes/{home_id}/export", response_class=Response, responses={200: {"model": planfile.PlanFile}})
def export(home_id: str, planner: P) -> Response:
    """The home's plan file, to keep or to script with."""
    name = re.sub(r"[^A-Za-z0-9-]+", "-", home_id) or "home"
    headers = {"content-disposition": f'attachment; filename="{name}.imbuto.json"'}
    return Response(strict_json.dump(planner.give_out(home_id)), media_type="application/json", headers=headers)


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


LOG_BODY = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}
IMPORT_BODY = {"requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}}


@router.post("/imports", openapi_extra=IMPORT_BODY)
def import_file(planner: P, data: Annotated[bytes, Depends(raw_body)], name: str = "The file") -> HomeState:
    """A home from a plan file."""
    return planner.take_in(data, name)


async def incoming(request: Request) -> Path:
    """The body as sent, put on disk as it comes; refused past the ceiling, with nothing left behind."""
    from imbuto.formats.meterlog import MAX_BYTES

    folder = planner_of(request).database.path.parent / "incoming"
    folder.mkdir(exist_ok=True)
    path = folder / uuid.uuid4().hex
    total = 0
    try:
        with path.open("wb") as file:
            async for chunk in request.stream():
                total += len(chunk)
                if total <= MAX_BYTES:
                    file.write(chunk)
        if total > MAX_BYTES:
            rule = f"it is {total / 1e6:.0f} MB, and a log has at most {MAX_BYTES / 1e6:.0f} MB"
            raise UnreadableFile("The file", total, rule)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return path


@router.post("/homes/{home_id}/logs", status_code=202, openapi_extra=LOG_BODY)
def read_log(
    home_id: str, importing: Meters, path: Annotated[Path, Depends(incoming)], name: str = "The file",
    clock: Literal["home", "standard", "utc"] = "home",
) -> JobView:  # fmt: skip
    """Read a meter's CSV or Green Button file in the background; nothing is kept until a channel is.

    clock: of times that carry no zone: the home's, its standard time all year, or UTC.
    """
    try:
        return importing.begin(home_id, path, name, clock)
    except ImbutoError:
        path.unlink(missing_ok=True)
        raise


@router.get("/jobs/{job_id}")
def job(job_id: str, importing: Meters) -> JobView:
    """How far a job is, and what it came to."""
    return importing.view(job_id)


@router.delete("/jobs/{job_id}", status_code=204)
def stop_job(job_id: str, importing: Meters) -> None:
    """Stop a job, or let its result go."""
    importing.jobs.drop(job_id)


@router.post("/homes/{home_id}/series")
def keep_series(home_id: str, body: KeepBody, importing: Meters) -> EditResult:
    """Keep channels of a file that was read, and note each as a reading; all or none."""
    kept = [Kept(**one.model_dump()) for one in body.channels]
    return importing.keep(home_id, body.edit_id, body.job, kept, _pair(body.judge))


@router.get("/homes/{home_id}/series")
def series(home_id: str, importing: Meters) -> list[SeriesView]:
    """The series kept."""
    return importing.series(home_id)


@router.get("/homes/{home_id}/series/{series_id}")
def look_at_series(home_id: str, series_id: str, importing: Meters) -> ChannelView:
    """A series kept, with what is found in it."""
    return importing.look(home_id, series_id)


@router.get("/homes/{home_id}/series/{series_id}/csv", response_class=Response)
def series_csv(home_id: str, series_id: str, importing: Meters) -> Response:
    """A series as CSV, each time and value as it came."""
    text, name = importing.export(home_id, series_id)
    return _csv(text, name)


@router.get("/homes/{home_id}/tables/{table}", response_class=Response)
def table_csv(home_id: str, table: Literal["loads", "circuits", "readings"], planner: P) -> Response:
    """A table of the home as CSV."""
    return _csv(tables.table_csv(planner, home_id, table), table)


def _csv(text: str, name: str) -> Response:
    headers = {"content-disposition": f'attachment; filename="{name}.csv"'}
    return Response(text, media_type="text/csv; charset=utf-8", headers=headers)


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


@router.get("/transfer")
def transfer() -> list[TransferEquipment]:
    """The transfer equipment that ships."""
    return list(shipped().transfer.values())


@router.get("/schema")
def schema() -> dict[str, Any]:
    """The JSON Schema of the plan file."""
    return planfile.schema()


def _pair(judge: Judged | None) -> tuple[str, str] | None:
    return (judge.plan, judge.outage) if judge else None
