"""Outage now: begun, noted line by line, and what the gauges say of the hours left."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from importlib.metadata import version
from typing import Literal

import numpy as np

from imbuto.core.advice.verdict import Verdict, judge_one
from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.basics.units import clock_text, hours_text, until
from imbuto.core.home.live import Live, Noted, Promise
from imbuto.core.plan.outage import MAX_SIMULATED_H, Outage
from imbuto.core.storm.acts import Act, Going, acts
from imbuto.core.storm.learn import LOW, Learnt, Seen, learn
from imbuto.core.storm.lines import understood
from imbuto.formats import calendar
from imbuto.formats.documents import LIVE, NOTED
from imbuto.services.desk.planner import Documents, EditResult, Pair, Planner

LOOK_H = 72.0  # looked ahead at the least; planning default
APART_W, APART_SHARE = (
    150.0,
    0.5,
)  # a display is that far from the planned mean before it is spoken of; planning defaults
GAUGE_GRAIN = 0.02  # a rise beyond what the sun gave plus this says that something else charged it; planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class StoreLive:
    """One store in an outage. charge: now, 0 to 1, give or take error; dark_at: when it goes dark, None for not in sight;
    early_at: 9 in 10 later; late_at: 9 in 10 sooner; promised_at: as it was expected when it began; planned_w: what the plan
    draws just now; scale: of the planned load, idle_w: its own draw, as learnt; apart: the load varied enough to tell the two
    apart; notes: how many, read_at: the last, or when it began; low_at: when it is down to
    a fifth; since_at: where something other than the sun charged it, the reading that it all goes by from then on;
    alone: it neither gives to nor takes from another store; where it does, its gauge teaches nothing yet and the hours are the
    plan's; lines: whose watts were read; engine: a generator of the plan is left out of the hours ahead."""

    source: str
    name: str
    charge: float
    error: float
    floor: float
    dark_at: datetime | None
    early_at: datetime | None
    late_at: datetime | None
    promised_at: datetime | None
    planned_w: float
    scale: float
    idle_w: float
    apart: bool
    notes: int
    read_at: datetime
    low_at: datetime | None
    since_at: datetime | None
    alone: bool
    engine: bool
    lines: list[ReadLine]


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadLine:
    """A line's watts beside the plan's at that moment. apart: so far more that something else is on, so far
    less that what should be is not."""

    note: str
    planned_w: float
    apart: Literal["", "more", "less"]


@dataclass(frozen=True, slots=True, kw_only=True)
class LiveView:
    """An outage as it stands. lasted: so far; stores: the first to go dark first; spare: how the first dark stands to the return of
    the grid, short: it comes before; acts: by the clock; text: to send
    to someone far away."""

    now: datetime
    live: Live | None
    plan_name: str
    lasted: str
    stores: list[StoreLive]
    spare: str
    short: bool
    acts: list[Act]
    text: str


def local_now(documents: Documents) -> datetime:
    """The home's own clock."""
    return datetime.now(documents.home.site.tz).replace(tzinfo=None, microsecond=0)


def live_view(planner: Planner, home_id: str, outage_id: str, now: datetime | None = None) -> LiveView:
    """The outage that is on, as it stands. now: local time, the clock's where it is not said. Raises NotFound."""
    documents = planner.documents(planner.state(home_id))
    here, live = now or local_now(documents), documents.home.live
    if live is None or live.plan not in documents.plans:
        return LiveView(
            now=here, live=None, plan_name="", lasted="", stores=[], spare="", short=False, acts=[], text=""
        )
    plan = documents.plans[live.plan]
    case = _case(documents, outage_id, live)
    stores, going = [], []
    for key in plan.sources:
        v = judge_one(
            documents.home, plan, replace(case, start_charge=live.charges.get(key, 1.0)), documents.catalogue, key
        )
        if v.run is not None and not v.joined.waits:
            store = _store(v, live, here)
            stores.append(store)
            life = tuple(f.load.name for f in v.joined.fed if f.load.purpose == "life")
            going.append(
                Going(
                    source=key, name=store.name, read_at=store.read_at, low_at=store.low_at, dark_at=store.dark_at,
                    early_at=store.early_at, life=life,
                )
            )  # fmt: skip
    stores.sort(key=lambda s: s.dark_at or datetime.max)
    first = stores[0].dark_at if stores else None
    over = (first - live.back_by).total_seconds() / 3600 if first is not None and live.back_by is not None else None
    lasted = hours_text(max((here - live.began).total_seconds() / 3600, 0.0))
    return LiveView(
        now=here,
        live=live,
        plan_name=plan.name,
        lasted=lasted,
        stores=stores,
        spare="" if over is None else f"{hours_text(abs(over))} {'short of it' if over < 0 else 'to spare'}",
        short=over is not None and over < 0,
        acts=acts(going, live.back_by, here),
        text=_text(stores, live, lasted),
    )


def alarms(planner: Planner, home_id: str, outage_id: str) -> bytes:
    """What is next in the outage that is on, as an iCalendar file. Raises NotFound where none is on."""
    view = live_view(planner, home_id, outage_id)
    if view.live is None:
        raise NotFound("outage", "now", "none is on")
    site = planner.documents(planner.state(home_id)).home.site
    return calendar.write([a for a in view.acts if not a.late], home_id, site.tz, datetime.now(UTC))


def begin(
    planner: Planner, home_id: str, pair: Pair, began: datetime | None, back_by: datetime | None, charges: dict[str, float],
    edit_id: str,
) -> EditResult:  # fmt: skip
    """It is out: freeze what is promised, and open the outage, as one edit. Raises NotFound, InvalidValue."""
    state = planner.state(home_id)
    documents = planner.documents(state)
    if pair[0] not in documents.plans:
        raise NotFound("plan", pair[0], "the home has no such plan")
    if documents.home.live is not None:
        raise InvalidValue("outage", documents.home.live.began.isoformat(), "one is on already; end it first")
    plan, at = documents.plans[pair[0]], began or local_now(documents)
    if at > local_now(documents):
        raise InvalidValue(
            "outage, out since", clock_text(at), "that is still to come; a storm to come is noted under Ready"
        )
    live = Live(began=at, plan=plan.id, revision=state.rev, back_by=back_by, charges=charges)
    case = _case(documents, pair[1], live)
    promises = {}
    for key in plan.sources:
        v = judge_one(documents.home, plan, replace(case, start_charge=charges.get(key, 1.0)), documents.catalogue, key)
        if v.run is not None and v.band is not None:
            promises[key] = Promise(hours=v.run.hours, low_h=v.band.low_h, version=version("imbuto"))
    op = {"doc": "home", "op": "replace", "path": "/live", "value": LIVE.write(replace(live, promises=promises))}
    return planner.edit(home_id, state.rev, edit_id, "It is out", [op], pair)


def note(planner: Planner, home_id: str, pair: Pair, text: str, source: str | None, edit_id: str) -> EditResult:
    """Note one line at a gauge, as one edit. Raises NotFound, InvalidValue."""
    state = planner.state(home_id)
    documents = planner.documents(state)
    live = documents.home.live
    if live is None:
        raise NotFound("outage", "now", "none is on")
    key = source or next(iter(documents.plans[live.plan].sources), "")
    if key not in documents.plans[live.plan].sources:
        raise NotFound("station", key, "the plan has no such station")
    said = understood(text, local_now(documents))
    if said.at < live.began:
        raise InvalidValue("reading, time", said.at.isoformat(), "it was out from later on")
    ident = f"n{len(live.notes) + 1}"
    while ident in live.notes:
        ident += "x"
    noted = Noted(
        id=ident, source=key, at=said.at, charge=said.charge, out_w=said.out_w, in_w=said.in_w, said=text.strip()
    )
    op = {"doc": "home", "op": "add", "path": f"/live/notes/{ident}", "value": NOTED.write(noted)}
    return planner.edit(home_id, state.rev, edit_id, f"Gauge: {text.strip()}"[:80], [op], pair)


def _case(documents: Documents, outage_id: str, live: Live) -> Outage:
    """The outage that is on, under the conditions of one like it."""
    like = documents.outages.get(outage_id) or next(iter(documents.outages.values()))
    length = (live.back_by - live.began).total_seconds() / 3600 if live.back_by is not None else like.hours
    hours = min(max(length, 1.0), MAX_SIMULATED_H)
    return replace(like, start=live.began, hours=hours, goal_hours=min(max(hours, LOOK_H), MAX_SIMULATED_H))


def _store(v: Verdict, live: Live, now: datetime) -> StoreLive:
    run, joined = v.run, v.joined
    assert run is not None
    assert joined.source is not None
    assert joined.station is not None
    key, step, store, hour = joined.source.id, run.steps.step_h, run.store, _hours_into(live)
    own = sorted((n for n in live.notes.values() if n.source == key), key=lambda n: n.at)
    seen = [Seen(0.0, live.charges.get(key, 1.0)), *(Seen(hour(n.at), n.charge) for n in own)]
    lines = [_read_line(n, run.load_w, int(hour(n.at) / step)) for n in own if n.out_w is not None]
    if run.line is not None and len(run.line.stores) > 1:
        return _joined_store(v, live, seen, hour(now), lines)
    came = run.load_w * 0 if run.solar_w is None else run.solar_w * store.mppt_efficiency
    first = _charged(seen, came, step, store.available_wh)
    k = min(int(seen[first].hour / step), len(run.load_w) - 1)
    moved = [Seen(max(s.hour - k * step, 0.0), s.charge) for s in seen[first:]]
    load_w, came = run.load_w[k:], came[k:]

    def ahead(floor: float) -> Learnt:
        return learn(
            moved, load_w, came, step, full_wh=store.available_wh, efficiency=store.efficiency, idle_w=store.idle_w,
            floor=floor,
        )  # fmt: skip

    found = ahead(store.floor)
    low_h = ahead(LOW).dark_h if store.floor < LOW else None

    def at(hours: float | None) -> datetime | None:
        return _at(live, None if hours is None else hours + k * step)

    promise, since = live.promises.get(key), hour(now) - k * step
    return StoreLive(
        source=key,
        name=joined.station.name,
        charge=_ahead(found, moved, load_w, came, step, since, store.efficiency, store.available_wh),
        error=found.charge_error,
        floor=store.floor,
        dark_at=at(found.dark_h),
        early_at=at(found.early_h),
        late_at=at(found.late_h),
        promised_at=_at(live, promise.hours if promise else None),
        planned_w=float(load_w[min(int(max(since, 0.0) / step), len(load_w) - 1)]),
        scale=found.scale,
        idle_w=found.idle_w,
        apart=found.apart,
        notes=len(own),
        read_at=own[-1].at if own else live.began,
        low_at=at(low_h),
        since_at=own[first - 1].at if first else None,
        alone=True,
        lines=lines,
        engine=joined.plan.engine is not None and joined.plan.engine.source == key,
    )


def _read_line(noted: Noted, load_w: FloatArray, i: int) -> ReadLine:
    planned = float(load_w[min(max(i, 0), len(load_w) - 1)])
    off = (noted.out_w or 0.0) - planned
    far = abs(off) > max(APART_W, APART_SHARE * planned)
    return ReadLine(note=noted.id, planned_w=planned, apart=("more" if off > 0 else "less") if far else "")


def _joined_store(v: Verdict, live: Live, seen: list[Seen], since: float, lines: list[ReadLine]) -> StoreLive:
    """One that gives to others or takes from them: its charge by the plan, or by its gauge since it was noted; its hours the
    plan's, as one gauge cannot tell its own draw from what went through it."""
    run, source, station = v.run, v.joined.source, v.joined.station
    assert run is not None
    assert source is not None
    assert station is not None
    step, last = run.steps.step_h, seen[-1]
    curve = run.charge
    gone = np.interp([last.hour, max(since, last.hour)], np.arange(len(curve)) * step, curve)
    charge = min(max(last.charge + float(gone[1] - gone[0]), 0.0), 1.0)

    promise = live.promises.get(source.id)
    return StoreLive(
        source=source.id,
        name=station.name,
        charge=charge,
        error=0.0,
        floor=run.store.floor if run.store.floor < 1 else 0.0,  # at 1 the march only says that nobody calls on it
        dark_at=_at(live, run.hours),
        early_at=_at(live, v.band.low_h if v.band is not None else None),
        late_at=None,
        promised_at=_at(live, promise.hours if promise else None),
        planned_w=float(run.load_w[min(int(max(since, 0.0) / step), len(run.load_w) - 1)]),
        scale=1.0,
        idle_w=run.store.idle_w,
        apart=False,
        notes=len(seen) - 1,
        read_at=live.began + timedelta(hours=last.hour),
        low_at=None,
        since_at=None,
        alone=False,
        lines=lines,
        engine=False,
    )


def _at(live: Live, hours: float | None) -> datetime | None:
    """Hours since it went out on the clock, to the whole minute."""
    return None if hours is None else until(live.began, hours).replace(second=0, microsecond=0)


def _hours_into(live: Live) -> Callable[[datetime], float]:
    return lambda at: (at - live.began).total_seconds() / 3600


def _charged(seen: list[Seen], came: FloatArray, step: float, full_wh: float) -> int:
    """The last reading before which something other than the sun charged the store, 0 for none: what was drawn before it cannot
    be told from what went in."""
    ends, gained = np.arange(len(came) + 1) * step, np.concatenate([[0.0], np.cumsum(came) * step])
    for i in range(len(seen) - 1, 0, -1):
        sun = float(np.interp(seen[i].hour, ends, gained) - np.interp(seen[i - 1].hour, ends, gained))
        if seen[i].charge > seen[i - 1].charge + sun / full_wh + GAUGE_GRAIN:
            return i
    return 0


def _ahead(
    found: Learnt,
    seen: list[Seen],
    load_w: FloatArray,
    came: FloatArray,
    step: float,
    since: float,
    efficiency: float,
    full_wh: float,
) -> float:
    """The charge just now: the last reading's, drawn on since as learnt."""
    ends = np.arange(len(load_w) + 1) * step
    net = found.scale * load_w / efficiency + found.idle_w - came
    gone = np.concatenate([[0.0], np.cumsum(net) * step])
    fell = np.interp(since, ends, gone) - np.interp(seen[-1].hour, ends, gone)
    return float(min(max(found.charge - max(fell, 0.0) / full_wh, 0.0), 1.0))


def _text(stores: list[StoreLive], live: Live, lasted: str) -> str:
    """A few words for someone far away."""
    lines = [f"No grid since {clock_text(live.began)}, {lasted} by now."]
    for s in stores:
        so_long = f"until about {clock_text(s.dark_at)}" if s.dark_at is not None else "for as long as can be seen"
        lines.append(f"{s.name}: {100 * s.charge:.0f} %, {so_long}.")
    if live.back_by is not None:
        lines.append(f"They say it is back by {clock_text(live.back_by)}.")
    return " ".join(lines)
