"""The routes of measuring: readings, meter data, tables, simulated instruments."""

from __future__ import annotations

import uuid
from datetime import datetime
from pathlib import Path
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Query, Request, Response

from imbuto.api.edit_answers import TELLS, edit_response
from imbuto.api.request_bodies import InstrumentsBody, KeepBody, ReadingBody, TurnBody
from imbuto.api.route_helpers import ERRORS, FILE_BODY, Meters, P, pair_of, planner_of, raw_body
from imbuto.core.basics.errors import ImbutoError, NotFound, UnreadableFile
from imbuto.core.home.loads import Load
from imbuto.core.home.typical import Typical, typical
from imbuto.core.measuring.data_sheet_meanings import SheetKind
from imbuto.services.desk.demo import sample_log, sample_logs
from imbuto.services.house.house_views import GoalsView, WholeView, goals, whole_house_view
from imbuto.services.house.importing import ChannelView, JobView, SeriesView
from imbuto.services.house.instruments import Instruments, InstrumentsView
from imbuto.services.house.measuring import Echo, Measuring, ReadingView, Target
from imbuto.services.papers import home_tables as tables
from imbuto.services.papers import panel_labels_pdf as papers
from imbuto.services.source.photographs import PhotoView, What, photographed

router = APIRouter(prefix="/api", responses=ERRORS)


LOG_BODY = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}


@router.get("/homes/{home_id}/understand")
def understand(
    home_id: str,
    text: str,
    planner: P,
    load: str | None = None,
    plan: str = "",
    outage: str = "",
    *,
    fresh: bool = False,
) -> Echo:
    """What a typed reading says, before it is noted; or what is wrong with it, with a suggestion. fresh: of a load
    that is not entered yet."""
    return Measuring(planner).understand(home_id, text, load, (plan, outage), fresh=fresh)


@router.post("/homes/{home_id}/photograph", openapi_extra=FILE_BODY)
def photograph(
    home_id: str,
    planner: P,
    data: Annotated[bytes, Depends(raw_body)],
    name: str,
    what: What = "load",
    kind: SheetKind = "stations",
) -> PhotoView:
    """Read a photographed label, or the display of a station; nothing of it is kept or taken."""
    planner.open(home_id)
    return photographed(data, name, what, kind)


@router.get("/homes/{home_id}/readings")
def readings(home_id: str, planner: P, plan: str = "", outage: str = "") -> list[ReadingView]:
    """Every reading, newest first, and which of them count."""
    return Measuring(planner).readings(home_id, (plan, outage))


@router.post("/homes/{home_id}/readings", **TELLS)
def note_reading(home_id: str, body: ReadingBody, planner: P) -> Response:
    """Note a reading; the load's figures follow."""
    result = Measuring(planner).note(
        home_id,
        body.edit_id,
        body.text,
        Target(body.load, body.circuit, body.home),
        pair_of(body.judge),
        side=body.side,
        setting=body.setting,
        season=body.season,
    )
    return edit_response(result, body.since)


@router.post("/homes/{home_id}/readings/{reading_id}/withdraw", **TELLS)
def withdraw_reading(home_id: str, reading_id: str, body: TurnBody, planner: P) -> Response:
    """Take a reading back; the next best one counts then."""
    return edit_response(
        Measuring(planner).take_back(home_id, reading_id, body.edit_id, pair_of(body.judge)), body.since
    )


async def incoming(request: Request) -> Path:
    """The body as sent, put on disk as it comes; refused past the ceiling, with nothing left behind."""
    from imbuto.formats.meter_data.channels import MAX_BYTES

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
    home_id: str,
    importing: Meters,
    path: Annotated[Path, Depends(incoming)],
    name: str = "The file",
    clock: Literal["home", "standard", "utc"] = "home",
    decimal: Literal["guess", "comma", "point"] = "guess",
) -> JobView:
    """Read a meter's CSV or Green Button file in the background; nothing is kept until a channel is.

    clock: of times that carry no zone: the home's, its standard time all year, or UTC
    decimal: the mark of its numbers, guessed from each whole column and told, unless it is said
    """
    try:
        return importing.begin(home_id, path, name, clock, decimal)
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


@router.post("/homes/{home_id}/series", **TELLS)
def keep_series(home_id: str, body: KeepBody, importing: Meters) -> Response:
    """Keep channels of a file that was read, and note each as a reading; all or none."""
    return edit_response(
        importing.keep(home_id, body.edit_id, body.job, body.channels, pair_of(body.judge)), body.since
    )


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


@router.get("/homes/{home_id}/whole")
def whole_house(home_id: str, planner: P, plan: str = "", outage: str = "") -> WholeView:
    """The house as a whole: day and night, bills, what counts nowhere, how loads behave on battery."""
    return whole_house_view(planner, home_id, (plan, outage))


@router.get("/homes/{home_id}/goals")
def household_goals(home_id: str, planner: P, plan: str = "", outage: str = "") -> GoalsView:
    """What a plan does for the household's goals, the hands it needs, and outages worth planning for."""
    return goals(planner, home_id, (plan, outage), datetime.now())


@router.get("/homes/{home_id}/tables/{table}", response_class=Response)
def table_csv(home_id: str, table: Literal["loads", "circuits", "readings"], planner: P) -> Response:
    """A table of the home as CSV."""
    return _csv(tables.table_csv(planner, home_id, table), table)


@router.get("/homes/{home_id}/labels", response_class=Response)
def panel_labels(home_id: str, planner: P, plan: str = "", paper: str = "") -> Response:
    """The panel's directory and dot labels as PDF; paper: letter or a4, by default the home's usual one."""
    data = papers.labels(planner, home_id, plan, paper)
    headers = {"content-disposition": 'inline; filename="panel-labels.pdf"'}
    return Response(data, media_type="application/pdf", headers=headers)


def _csv(text: str, name: str) -> Response:
    headers = {"content-disposition": f'attachment; filename="{name}.csv"'}
    return Response(text, media_type="text/csv; charset=utf-8", headers=headers)


@router.get("/samples")
def samples() -> list[str]:
    """The sample logs that ship, made by the simulated instruments."""
    return sample_logs()


@router.get("/samples/{name}", response_class=Response)
def sample(name: str) -> Response:
    """A sample log."""
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(sample_log(name), media_type="application/octet-stream", headers=headers)


def instruments_of(request: Request) -> Instruments:
    """The server's simulated instruments."""
    found: Instruments = request.app.state.instruments
    return found


Bench = Annotated[Instruments, Depends(instruments_of)]


@router.get("/homes/{home_id}/instruments")
def instruments(home_id: str, bench: Bench) -> InstrumentsView:
    """What the simulated instruments show."""
    return bench.read(home_id)


@router.post("/homes/{home_id}/instruments")
def set_instruments(home_id: str, body: InstrumentsBody, bench: Bench) -> InstrumentsView:
    """Change their speed, plug the meter, switch breakers of the simulated panel."""
    return bench.set_up(home_id, speed=body.speed, plug=body.plug, unplug=body.unplug, breakers=body.breakers)


@router.get("/homes/{home_id}/instruments/log", response_class=Response)
def instruments_log(
    home_id: str, bench: Bench, circuit: Annotated[list[str] | None, Query()] = None, days: float = 7, step: int = 60
) -> Response:
    """A log as the simulated panel monitor writes it."""
    return _csv(bench.log_csv(home_id, circuit or [], days, step), "panel-monitor")


@router.get("/typical")
def typical_loads() -> list[Typical]:
    """The table of typical loads."""
    return list(typical().values())


@router.get("/typical/{typical_id}/load")
def typical_load(typical_id: str, volts: int = 120) -> Load:
    """A load with the figures of a typical one, to begin with."""
    row = typical().get(typical_id)
    if row is None:
        raise NotFound("typical load", typical_id, "the table of typical loads doesn't have that load")
    return row.load(typical_id, 1, volts)
