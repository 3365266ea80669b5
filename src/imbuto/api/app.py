"""The application: routes, guard, errors, and the built interface."""

from __future__ import annotations

import asyncio
import errno
import logging
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from imbuto import __version__
from imbuto.api.access_guard import Guard
from imbuto.api.described import in_full
from imbuto.api.hosts import LOOPBACK, host_name
from imbuto.api.interface import built_interface
from imbuto.api.request_bodies import ErrorBody, refusal_response
from imbuto.api.routes import broker_routes
from imbuto.api.routes import compare_routes as compare
from imbuto.api.routes import equipment_routes as equipment
from imbuto.api.routes import everyday_routes as everyday
from imbuto.api.routes import home_routes as homes
from imbuto.api.routes import hours_routes as hours
from imbuto.api.routes import house_routes as house
from imbuto.api.routes import outage_routes as storm
from imbuto.api.routes import paper_routes as papers
from imbuto.api.routes import phone_routes as devices
from imbuto.api.routes import proposal_routes as chosen
from imbuto.api.routes import sizing_routes as sizing
from imbuto.api.routes import source_routes as source
from imbuto.api.warm_up import WarmUp, WarmUpMiddleware
from imbuto.core.basics.elsewhere import take_place
from imbuto.core.basics.errors import DataFolder, ImbutoError, NotFound, UnreadableFile, refusal, shown
from imbuto.core.basics.moments import rule_of
from imbuto.core.light.solar_light import look_up
from imbuto.core.measuring.understood_text import NotUnderstood
from imbuto.core.run.compile_ahead import prepare
from imbuto.formats.planfile import with_moments
from imbuto.services.desk.background_jobs import Jobs
from imbuto.services.desk.device_rights import NotAllowed
from imbuto.services.desk.edits import Stale
from imbuto.services.desk.pairing import Pairing
from imbuto.services.desk.planner import Planner
from imbuto.services.desk.safekeeping import keep_copies
from imbuto.services.desk.worker import Worker
from imbuto.services.house.broker import Brokers
from imbuto.services.house.instruments import Instruments
from imbuto.services.house.published_instruments import PublishedInstruments
from imbuto.services.outages.watched_station import Watch

log = logging.getLogger("imbuto")
PLACES = (homes, house, chosen, source, equipment, broker_routes, sizing, hours, compare, storm, everyday, papers)


def _light_ahead(planner: Planner) -> None:
    """Have the skies ready that verdicts with panels ask for first: the library of light takes seconds to begin."""
    for line in planner.homes():
        documents = planner.open(line.id)
        if any(plan.arrays for plan in documents.plans.values()):
            for outage in documents.outages.values():
                look_up(documents.home.site, outage)


async def _prepared(ready: WarmUp, planner: Planner) -> None:
    await ready.after(prepare)
    try:
        await asyncio.to_thread(_light_ahead, planner)
    except ImbutoError as error:  # it is told when somebody asks for it
        log.warning("light could not be worked out ahead: %s", error)


def create_app(planner: Planner, lan: str | None = None, *, broker: bool = False, demo: bool = False) -> FastAPI:
    """The application around a planner.

    lan: its address on the local network, such as http://192.0.2.5:8474, where it answers paired devices
    broker: it may contact the MQTT brokers that somebody entered; demo: it runs one with simulated instruments, too
    """
    jobs, ready, watch, worker = Jobs(), WarmUp(), Watch(planner), Worker()
    instruments = Instruments(planner)
    brokers = Brokers(planner, allowed=broker)
    published = PublishedInstruments(instruments, watch, brokers) if broker and demo else None

    @asynccontextmanager
    async def lifespan(_app: FastAPI) -> AsyncIterator[None]:
        # Large libraries are loaded in a process of their own, which goes when nothing is asked of it.
        take_place(worker)
        watch.take_up()
        if published:
            await asyncio.to_thread(published.begin)
        brokers.take_up()
        tasks = [
            asyncio.create_task(_prepared(ready, planner)),
            asyncio.create_task(keep_copies(planner.database.path.parent)),
        ]
        yield
        for task in tasks:
            task.cancel()
        jobs.close()
        watch.close()
        await asyncio.to_thread(brokers.close)
        if published:
            await asyncio.to_thread(published.close)
        take_place(None)
        worker.close()

    app = FastAPI(
        title="Imbuto",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        lifespan=lifespan,
    )
    app.state.planner, app.state.jobs, app.state.ready = planner, jobs, ready
    app.state.instruments, app.state.brokers = instruments, brokers
    app.state.watch = watch
    pairing = app.state.pairing = Pairing(planner.database, lan)
    hosts = LOOPBACK if lan is None else LOOPBACK | {host_name(lan.partition("://")[2])}
    app.add_middleware(WarmUpMiddleware, ready=ready)
    app.add_middleware(Guard, hosts=hosts, rights_of=pairing.rights_of)
    for place in PLACES:
        app.include_router(place.router)
    app.include_router(devices.router)
    app.include_router(devices.pages)
    app.add_exception_handler(ImbutoError, _known)
    app.add_exception_handler(RequestValidationError, _unreadable)
    app.add_exception_handler(HTTPException, _http)
    app.add_exception_handler(OSError, _disk)
    app.add_exception_handler(Exception, _unexpected)

    @app.api_route("/api/{_rest:path}", methods=["GET", "POST", "PUT", "PATCH", "DELETE"], include_in_schema=False)
    def nothing_here(_rest: str) -> None:
        raise NotFound("address", f"/api/{_rest}", "Imbuto has no page at this address")

    described = app.openapi
    app.openapi = lambda: in_full(with_moments(described()))  # type: ignore[method-assign]
    interface = built_interface()
    if interface is not None:
        app.frontend("/", directory=interface, fallback="index.html")
    return app


async def _known(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, ImbutoError)
    status = {NotFound: 404, Stale: 409, UnreadableFile: 400, NotAllowed: 403, DataFolder: 507}.get(type(error), 422)
    value = None if error.value is None else shown(error.value).strip("“”")
    body = ErrorBody(kind=error.kind, field=error.field, value=value, rule=error.rule, sentence=error.sentence)
    if isinstance(error, Stale):
        body.rev = error.rev
        body.changes = [{"label": c.label, "edit_id": c.edit_id, "rev": c.rev, "paths": c.paths} for c in error.changes]
    if isinstance(error, NotUnderstood):
        body.suggestion = error.suggestion or None
    return refusal_response(status, body)


async def _unreadable(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    first: dict[str, Any] = dict(error.errors()[0])
    field = " ".join(str(p) for p in first["loc"][1:]) or "body"
    given = None if first["type"] == "missing" else shown(first.get("input")).strip("“”")
    message = str(first["msg"])
    rule = rule_of(message) or message[:1].lower() + message[1:]
    sentence = refusal(field, given, rule)
    return refusal_response(422, ErrorBody(kind="invalid", field=field, value=given, rule=rule, sentence=sentence))


async def _http(_request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, HTTPException)
    return refusal_response(
        error.status_code,
        ErrorBody(kind="http", field="address", value=None, rule=str(error.detail), sentence=f"{error.detail}."),
    )


async def _disk(request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, OSError)
    said = {
        errno.ENOSPC: "the disk is full. Free up space",
        errno.EDQUOT: "your disk quota is used up. Free up space",
        errno.EROFS: "the disk is read-only. Make it writable",
    }.get(error.errno or 0)
    if said is None:
        return await _unexpected(request, error)
    rule = f"{said} and try again. Nothing was changed"
    return refusal_response(
        507,
        ErrorBody(kind="data_folder", field="disk", value=None, rule=rule, sentence=f"{rule[:1].upper()}{rule[1:]}."),
    )


async def _unexpected(_request: Request, error: Exception) -> JSONResponse:
    log.exception("unexpected", exc_info=error)
    sentence = "Something went wrong inside Imbuto, so nothing was changed. The server's log has the details."
    return refusal_response(500, ErrorBody(kind="internal", field="", value=None, rule="", sentence=sentence))
