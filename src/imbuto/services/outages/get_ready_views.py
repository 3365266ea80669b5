"""Ready: a storm noted by hand, from a file or from the simulated feed, and what is to be done before it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from importlib import resources

from imbuto.core.advice.verdict import judge_one
from imbuto.core.basics.errors import NotFound, UnreadableFile
from imbuto.core.basics.units import hours_text
from imbuto.core.home.alert import Alert
from imbuto.core.home.home import Home
from imbuto.core.outages.get_ready import Ready, outage_of, ready
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import resolve
from imbuto.formats.documents import ALERT
from imbuto.formats.weather import alerts
from imbuto.services.desk.judging import Pair
from imbuto.services.desk.planner import EditResult, Planner

FEED_AHEAD = timedelta(hours=30)  # of the home's clock, at the least: time to get ready in


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadyView:
    """What is to be done before a storm.

    alert: None where none is noted
    now: the home's own clock
    hours: it is said to last
    planned_h: hours of outage that are planned for: the longer of the storm and the home's outage like it
    planned_as: what that is, in a sentence
    """

    alert: Alert | None
    now: datetime
    hours: float
    planned_h: float
    planned_as: str
    ready: Ready | None


def ready_view(planner: Planner, home_id: str, plan_id: str, outage_id: str, now: datetime | None = None) -> ReadyView:
    """What is to be done in a plan before the storm that is noted. now: local time, the clock's where it is not said.
    Raises NotFound."""
    documents = planner.open(home_id)
    home = documents.home
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "this home doesn't have that plan")
    if outage_id not in documents.outages:
        raise NotFound("outage", outage_id, "this home doesn't have that outage")
    here = now or planner.now(home)
    alert = home.alert
    if alert is None:
        return ReadyView(alert=None, now=here, hours=0.0, planned_h=0.0, planned_as="", ready=None)
    plan, storm = documents.plans[plan_id], outage_of(alert, documents.outages[outage_id])
    each = resolve(home, plan, documents.catalogue).parts
    verdicts = [judge_one(home, plan, storm, documents.catalogue, key) for key in plan.sources]
    return ReadyView(
        alert=alert,
        now=here,
        hours=alert.hours,
        planned_h=storm.hours,
        planned_as=_planned_as(storm, alert, documents.outages[outage_id]),
        ready=ready(each, verdicts, alert, here),
    )


def _planned_as(storm: Outage, alert: Alert, like: Outage) -> str:
    """How long an outage is planned for, and why."""
    length = hours_text(storm.hours)
    if storm.hours > alert.hours:
        return f"Planned for {length}, as long as “{like.name}”: power often stays out longer than the storm."
    return f"Planned for {length}, as long as the storm."


def take_alert(planner: Planner, home_id: str, data: bytes, name: str, edit_id: str, pair: Pair | None) -> EditResult:
    """Note the storm of an alert file, as one edit. Raises NotFound, UnreadableFile, InvalidValue."""
    return _note(planner, home_id, data, name, edit_id, pair, came="file")


def ask_feed(planner: Planner, home_id: str, edit_id: str, pair: Pair | None) -> EditResult:
    """Note the storm that the simulated feed has. Raises NotFound."""
    data = resources.files("imbuto.services").joinpath("demo_homes", "alerts", "windstorm.xml").read_bytes()
    return _note(planner, home_id, data, "the simulated feed", edit_id, pair, came="feed")


def _at(home: Home) -> tuple[float, float] | None:
    """Where the home is, None where nobody entered a place."""
    return (home.site.latitude, home.site.longitude) if home.site.place.strip() else None


def _to_come(alert: Alert, now: datetime) -> Alert:
    """The feed's storm on the first day that leaves time to get ready, at its own hour and as long."""
    days = max(-((alert.begins - now - FEED_AHEAD) // timedelta(days=1)), 0)
    return replace(alert, begins=alert.begins + timedelta(days=days), ends=alert.ends + timedelta(days=days))


def _note(
    planner: Planner, home_id: str, data: bytes, name: str, edit_id: str, pair: Pair | None, *, came: str
) -> EditResult:
    state = planner.state(home_id)
    home = planner.enter(state).home
    message, noted = alerts.read(data, name, home.site.time_zone, _at(home)), home.alert
    if came == "feed" and message.alert is not None:
        message = replace(message, alert=_to_come(message.alert, planner.now(home)))
    same = noted is not None and bool(noted.ref) and noted.ref in message.about
    if message.alert is None and not same:
        raise UnreadableFile(name, None, "it calls off a storm that isn't noted here; nothing was changed")
    alert = None if message.alert is None else ALERT.write(message.alert) | {"came": came}
    if alert is not None and same and noted is not None:  # an update keeps what was done before the storm
        kept = ALERT.write(noted)
        alert |= {k: kept[k] for k in ("charges", "out", "ticks")}
    label = "Storm called off" if alert is None else f"Storm: {alert['title']}"[:80]
    op = {"doc": "home", "op": "replace", "path": "/alert", "value": alert}
    return planner.edit(home_id, state.rev, edit_id, label, [op], pair)
