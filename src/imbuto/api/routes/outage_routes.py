"""Storm days: the cards of a plan, and the drill."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response

from imbuto.api.access_guard import session_of
from imbuto.api.edit_answers import TELLS, edit_response
from imbuto.api.hosts import is_here
from imbuto.api.request_bodies import BeginBody, DrillBody, NoteBody, WatchBody
from imbuto.api.route_helpers import ERRORS, FILE_BODY, P, raw_body
from imbuto.core.basics.moments import LocalTime
from imbuto.core.outages.promise_and_outcome import By
from imbuto.core.switching.practice import Scene
from imbuto.core.switching.switching_cards import Card
from imbuto.services.outages.get_ready_views import ReadyView, ask_feed, ready_view, take_alert
from imbuto.services.outages.logbook import BookView, as_csv, logbook, take_energy
from imbuto.services.outages.outage_now import LiveView, alarms, begin, live_view, note
from imbuto.services.outages.reach_hour_views import ReachView, reach
from imbuto.services.outages.switching_views import DrillView, cards_of, drill_begun, drill_moved
from imbuto.services.outages.test_views import ProcedureView, trials_of
from imbuto.services.outages.watched_station import Watch, WatchView

router = APIRouter(prefix="/api", responses=ERRORS)


def watch_of(request: Request) -> Watch:
    """The server's watched stations."""
    found: Watch = request.app.state.watch
    return found


WatchedInstrument = Annotated[Watch, Depends(watch_of)]


@router.get("/homes/{home_id}/cards")
def run_cards(home_id: str, plan: str, planner: P) -> list[Card]:
    """What is switched in which order: going over, coming back, after a shutdown, when it is low."""
    return cards_of(planner, home_id, plan)


@router.get("/homes/{home_id}/drill")
def begin_drill(home_id: str, plan: str, scene: Scene, planner: P) -> DrillView:
    """A fresh round on the plan's own panel, switch and cords."""
    return drill_begun(planner, home_id, plan, scene)


@router.post("/homes/{home_id}/drill")
def move_in_drill(home_id: str, body: DrillBody, planner: P) -> DrillView:
    """One move of a round; nothing of the home is changed."""
    return drill_moved(planner, home_id, body.plan, body.scene, body.positions, body.harm, body.part, body.to)


@router.get("/homes/{home_id}/ready")
def before_a_storm(home_id: str, plan: str, outage: str, planner: P) -> ReadyView:
    """What is to be done before the storm that is noted, by the clock."""
    return ready_view(planner, home_id, plan, outage)


@router.post("/homes/{home_id}/alert", openapi_extra=FILE_BODY, **TELLS)
def note_alert(
    home_id: str,
    planner: P,
    data: Annotated[bytes, Depends(raw_body)],
    name: str,
    edit_id: str,
    plan: str | None = None,
    outage: str | None = None,
) -> Response:
    """Note the storm of an alert file (Common Alerting Protocol 1.2)."""
    return edit_response(take_alert(planner, home_id, data, name, edit_id, (plan, outage) if plan and outage else None))


@router.post("/homes/{home_id}/alert/feed", **TELLS)
def ask_the_feed(
    home_id: str, planner: P, edit_id: str, plan: str | None = None, outage: str | None = None
) -> Response:
    """Note the storm that the simulated feed has."""
    return edit_response(ask_feed(planner, home_id, edit_id, (plan, outage) if plan and outage else None))


@router.get("/homes/{home_id}/live")
def outage_now(home_id: str, outage: str, planner: P) -> LiveView:
    """The outage that is on, as it stands; outage: one whose weather and rooms it is like."""
    return live_view(planner, home_id, outage)


@router.get("/homes/{home_id}/live/alarms.ics", response_class=Response)
def alarms_of_it(home_id: str, outage: str, planner: P) -> Response:
    """What is next, as alarms for the clock of a phone (iCalendar)."""
    headers = {"content-disposition": 'attachment; filename="imbuto-alarms.ics"'}
    return Response(alarms(planner, home_id, outage), media_type="text/calendar", headers=headers)


@router.post("/homes/{home_id}/live", **TELLS)
def it_is_out(home_id: str, body: BeginBody, planner: P) -> Response:
    """An outage begins: what is promised is frozen."""
    pair = (body.plan, body.outage)
    return edit_response(begin(planner, home_id, pair, body.began, body.back_by, body.charges, body.edit_id))


@router.post("/homes/{home_id}/live/notes", **TELLS)
def note_a_gauge(home_id: str, body: NoteBody, planner: P, request: Request) -> Response:
    """One line of a station, such as “64% 310 W in 120 W 9:20 pm”, with the paired device that sent it."""
    here = is_here(request.scope)
    who = "" if here else request.app.state.pairing.name_of(session_of(request.headers))
    pair = (body.plan, body.outage)
    return edit_response(note(planner, home_id, pair, body.text, body.source, body.edit_id, body.at, who))


@router.get("/homes/{home_id}/live/reach")
def reach_the_hour(home_id: str, outage: str, until: LocalTime, planner: P) -> ReachView:
    """What would have to be given up for the stores to last until a local time. It only proposes."""
    return reach(planner, home_id, outage, until)


@router.get("/homes/{home_id}/station")
def simulated_station(home_id: str, planner: P, watch: WatchedInstrument) -> WatchView:
    """The simulated station of a demo home."""
    planner.rev(home_id)
    return watch.view(home_id)


@router.post("/homes/{home_id}/station")
def watch_a_station(home_id: str, body: WatchBody, watch: WatchedInstrument) -> WatchView:
    """Put a simulated station in a source's place, change its speed, or put it away; nothing of the home is changed."""
    if body.away:
        return watch.end(home_id)
    if body.source is not None:
        watch.begin(home_id, body.plan, body.outage, body.source, body.charge)
    return watch.view(home_id) if body.speed is None else watch.set_speed(home_id, body.speed)


@router.get("/homes/{home_id}/trials")
def trials_of_a_plan(home_id: str, plan: str, outage: str, planner: P) -> list[ProcedureView]:
    """The tests of a plan, commissioning first, each with how it went and what its result would change."""
    return trials_of(planner, home_id, plan, outage)


@router.get("/homes/{home_id}/book")
def the_logbook(home_id: str, outage: str, planner: P, by: By = "month") -> BookView:
    """What a home remembers: one line of time, promise beside outcome, energy, trends."""
    return logbook(planner, home_id, outage, by)


@router.get("/homes/{home_id}/book.csv", response_class=Response)
def the_logbook_as_csv(home_id: str, planner: P) -> Response:
    """The line of time as a table."""
    headers = {"content-disposition": 'attachment; filename="imbuto-logbook.csv"'}
    return Response(as_csv(planner, home_id), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/homes/{home_id}/book/energy", openapi_extra=FILE_BODY, **TELLS)
def note_energy(
    home_id: str,
    planner: P,
    data: Annotated[bytes, Depends(raw_body)],
    name: str,
    edit_id: str,
    plan: str | None = None,
    outage: str | None = None,
) -> Response:
    """Note energy by day from a CSV file."""
    return edit_response(
        take_energy(planner, home_id, data, name, edit_id, (plan, outage) if plan and outage else None)
    )
