"""Outage now: begun, noted line by line, and what the gauges say of the hours left."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from importlib.metadata import version

from imbuto.core.advice.verdict import judge_one
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.basics.units import clock_text, hours_text
from imbuto.core.home.live_outage import GaugeNote, Live, Promise, hour_of
from imbuto.core.outages.gauge_lines import of_stores, understood
from imbuto.core.outages.next_acts import NextAct, StoreOutlook, acts
from imbuto.core.outages.wall_charging import how_to_fill
from imbuto.core.plan.entered.paperwork import unproven
from imbuto.core.plan.outage import begun
from imbuto.core.plan.system import resolve
from imbuto.formats import calendar
from imbuto.formats.documents import LIVE, NOTED
from imbuto.formats.patch import escape
from imbuto.services.desk.edits import Stale
from imbuto.services.desk.judging import Documents, Pair
from imbuto.services.desk.planner import EditResult, Planner
from imbuto.services.outages.grid_back import BackView, back_view
from imbuto.services.outages.outage_stores import StoreLive, store_live
from imbuto.services.outages.store_history import StoreHistory, case_of, history_of_store, judge_from_live_charges
from imbuto.services.outages.switch_now import ColdLive, PlaceLive, cold_of, places_of, warming_boxes
from imbuto.store.models import FaceRow
from imbuto.store.repository import Repository

HANDS = 5  # that may note at the very same moment
A_MOMENT = timedelta(minutes=2)  # a line sent within it is of now; planning default
FILLS_FOR = timedelta(hours=48)  # after an outage its gauges may still be noted; planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class LiveHeadline:
    """What the bar says while an outage is on, of the station that matters first.

    label, figure: ``Count on it until`` and ``Tue 6:32 am``, or ``Off since`` and a time
    under: the station, and what is expected; what to look at where nobody knows whether it is on
    off: nothing can be counted on just now
    next: the next thing to do, with its time
    """

    label: str
    figure: str
    under: str
    off: bool
    next: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LiveView:
    """An outage as it stands.

    back: with none on, the last one whose stores are being filled again
    lasted: so far
    stores: the first to go dark first
    spare: how the first dark stands to the return of the grid
    short: it comes before
    acts: by the clock
    text: to send to someone far away
    places: the switch as it is
    headline: what the bar says, None with no outage on
    cold: boxes without power
    """

    now: datetime
    live: Live | None
    back: BackView | None
    plan_name: str
    lasted: str
    stores: list[StoreLive]
    spare: str
    short: bool
    acts: list[NextAct]
    text: str
    places: list[PlaceLive]
    cold: list[ColdLive]
    headline: LiveHeadline | None


def shown_by(planner: Planner, home_id: str, source: str, live: Live) -> list[FaceRow]:
    """What a watched station of the plan showed while it was out."""
    with planner.database.reading() as session:
        return Repository(session).faces(home_id, source, live.began, live.ended)


def stores_known(
    planner: Planner, home_id: str, documents: Documents, outage_id: str, now: datetime
) -> list[StoreHistory]:
    """Every store of the outage that is on, with what was read of it; none where none is on."""
    live = documents.home.live
    if live is None or live.plan not in documents.plans:
        return []
    return [
        history_of_store(v, live, now, shown_by(planner, home_id, v.part.source.id, live))
        for v in judge_from_live_charges(documents, case_of(documents, outage_id, live), live)
    ]


def live_view(planner: Planner, home_id: str, outage_id: str, now: datetime | None = None) -> LiveView:
    """The outage that is on, as it stands. now: local time, the clock's where it is not said. Raises NotFound."""
    documents = planner.open(home_id)
    here, live = now or planner.now(documents.home), documents.home.live
    if live is None or live.plan not in documents.plans:
        return LiveView(
            now=here,
            live=None,
            back=_back(planner, home_id, documents, outage_id, here),
            plan_name="",
            lasted="",
            stores=[],
            spare="",
            short=False,
            acts=[],
            text="",
            places=[],
            cold=[],
            headline=None,
        )
    each = stores_known(planner, home_id, documents, outage_id, here)
    stores = sorted((store_live(k) for k in each), key=_urgency)
    first = stores[0].dark_at if stores else None
    over = (
        hour_of(live, first) - hour_of(live, live.back_by) if first is not None and live.back_by is not None else None
    )
    cold = cold_of(each, live, here)
    lasted = hours_text(max(hour_of(live, here), 0.0))
    to_do = acts([_going(k) for k in each], live.back_by, here, warming_boxes(cold))
    return LiveView(
        now=here,
        live=live,
        back=None,
        plan_name=documents.plans[live.plan].name,
        lasted=lasted,
        stores=stores,
        spare="" if over is None else f"{hours_text(abs(over))} {'short of it' if over < 0 else 'to spare'}",
        short=over is not None and over < 0,
        acts=to_do,
        text=_text(stores, live, lasted),
        places=places_of(each, live),
        cold=cold,
        headline=_headline(stores, to_do),
    )


def _headline(stores: list[StoreLive], to_do: list[NextAct]) -> LiveHeadline:
    """Say what can be counted on: 9 in 10 first, and alone where a life depends on it."""
    what = to_do[0] if to_do else None
    following = "" if what is None else f"{'Now' if what.late else clock_text(what.at)}: {what.title}"
    if not stores:
        return LiveHeadline(label="Nothing is powered", figure="", under="", off=True, next=following)
    s = stores[0]
    if s.output == "off":
        at = clock_text(s.off_by) if s.off_by is not None else ""
        return LiveHeadline(label="Off since", figure=at, under=s.name, off=True, next=following)
    if s.output == "ask":
        return LiveHeadline(label=f"Is {s.name} on?", figure="", under="Look at its display", off=True, next=following)
    if s.early_at is None:
        return LiveHeadline(label="Count on it", figure="no end expected", under=s.name, off=False, next=following)
    probably = f", probably {clock_text(s.dark_at)}" if s.dark_at is not None and not s.life else ""
    return LiveHeadline(
        label="Count on it until",
        figure=clock_text(s.early_at),
        under=f"{s.name}{probably}",
        off=False,
        next=following,
    )


def _back(planner: Planner, home_id: str, documents: Documents, outage_id: str, now: datetime) -> BackView | None:
    last = last_lived(documents, now)
    if last is None:
        return None
    since = replace(documents.home.lived[last], ended=None)
    shown = {key: shown_by(planner, home_id, key, since) for key in documents.plans[since.plan].sources}
    return back_view(documents, outage_id, last, now, shown)


def _going(k: StoreHistory) -> StoreOutlook:
    s, made = store_live(k), k.verdict.part.generator
    runs = tuple(
        (t.at, t.until) for t in k.live.taken.values() if t.kind == "engine" and t.source == s.source and t.until
    )
    return StoreOutlook(
        source=s.source,
        name=s.name,
        read_at=s.read_at,
        low_at=s.low_at,
        dark_at=s.dark_at,
        early_at=s.early_at,
        life=k.life,
        careful_at=None if s.output == "off" else k.careful_at or s.early_at,
        output=s.output,
        off_from=s.off_from,
        off_by=s.off_by,
        says=s.says,
        how_to_charge=how_to_fill(k.verdict.part),
        engine=made.name if made is not None and (s.engine or runs) else "",
        start_at=s.start_at,
        runs=runs,
    )


def alarms(planner: Planner, home_id: str, outage_id: str) -> bytes:
    """What is next in the outage that is on, as an iCalendar file. Raises NotFound where none is on."""
    view = live_view(planner, home_id, outage_id)
    if view.live is None:
        raise NotFound("outage", "now", "none is on")
    site = planner.open(home_id).home.site
    return calendar.write([a for a in view.acts if not a.late], home_id, site.tz, datetime.now(UTC))


def begin(
    planner: Planner,
    home_id: str,
    pair: Pair,
    began: datetime | None,
    back_by: datetime | None,
    charges: dict[str, float],
    edit_id: str,
) -> EditResult:
    """Power is out: freeze what is promised, and open the outage, as one edit. Raises NotFound, InvalidValue."""
    state = planner.state(home_id)
    documents = planner.enter(state)
    if pair[0] not in documents.plans:
        raise NotFound("plan", pair[0], "this home doesn't have that plan")
    if documents.home.live is not None:
        raise InvalidValue(
            "outage", documents.home.live.began.isoformat(), ("an outage is already running; end it first")
        )
    plan, at = documents.plans[pair[0]], began or planner.now(documents.home)
    if unproven(plan.stages):
        raise InvalidValue(
            "plan",
            plan.name,
            "its activation isn't proven, so its station isn't counted; choose another plan, or "
            "note the day it was activated under Papers > Work and permits",
        )
    if at > planner.now(documents.home):
        raise InvalidValue(
            "outage, out since", clock_text(at), "that time is in the future; note a coming storm under Get ready"
        )
    live = Live(
        began=at,
        plan=plan.id,
        revision=state.rev,
        back_by=back_by,
        charges=charges,
        time_zone=documents.home.site.time_zone,
    )
    case = case_of(documents, pair[1], live)
    promises = {}
    for key in plan.sources:
        v = judge_one(documents.home, plan, begun(case, charges), documents.catalogue, key)
        if v.run is not None and v.band is not None:
            promises[key] = Promise(hours=v.run.hours, low_h=v.band.low_h, version=version("imbuto"))
    op = {"doc": "home", "op": "replace", "path": "/live", "value": LIVE.write(replace(live, promises=promises))}
    return planner.edit(home_id, state.rev, edit_id, "Power is out", [op], pair)


def note(
    planner: Planner,
    home_id: str,
    pair: Pair,
    text: str,
    source: str | None,
    edit_id: str,
    at: datetime | None = None,
    who: str = "",
) -> EditResult:
    """Note a line at one gauge, or at several, as one edit: in the outage that is on, or while the stores of the last
    one are filled again. at: local time it was written, None for now. Raises NotFound, InvalidValue."""
    for _ in range(HANDS):
        try:
            return _noted(planner, home_id, pair, text, source, edit_id, at, who)
        except Stale:  # another hand noted something just now; nothing of it is overwritten, so this one goes after it
            continue
    return _noted(planner, home_id, pair, text, source, edit_id, at, who)


def _noted(
    planner: Planner,
    home_id: str,
    pair: Pair,
    text: str,
    source: str | None,
    edit_id: str,
    at: datetime | None,
    who: str,
) -> EditResult:
    state = planner.state(home_id)
    documents = planner.enter(state)
    if planner.has_edit(edit_id):
        return planner.answer(state, pair)
    path, live = _where(documents, planner.now(documents.home))
    names = _names(documents, live)
    here = planner.now(documents.home)
    # A time that the sender's clock shows says not which of two equal hours it is; the home's own clock does.
    written = here if at is None or at >= here or here - at < A_MOMENT else at
    ops, taken = [], set(live.notes)
    for named, part in of_stores(text, names):
        key = named or source or next(iter(names), "")
        if key not in names:
            raise NotFound("station", key, "this plan doesn't have that station")
        said = understood(part, written)
        if hour_of(live, said.at) < 0:
            raise InvalidValue("reading, time", said.at.isoformat(), "the outage started later")
        out_w = said.out_w
        if said.load is not None and out_w is None:
            out_w = said.load * _continuous_w(documents, live, key)
        ident = next(f"n{n}" for n in range(len(taken) + 1, len(taken) + 1000) if f"n{n}" not in taken)
        taken.add(ident)
        noted = GaugeNote(
            id=ident,
            source=key,
            at=said.at,
            charge=said.charge,
            out_w=out_w,
            output=said.output,
            who=who,
            again=said.at.fold == 1,
            in_w=said.in_w,
            given_wh=said.given_wh,
            said=part,
        )
        ops.append({"doc": "home", "op": "add", "path": f"{path}/notes/{ident}", "value": NOTED.write(noted)})
    return planner.edit(home_id, state.rev, edit_id, f"Gauge: {text.strip()}"[:80], ops, pair)


def _where(documents: Documents, now: datetime) -> tuple[str, Live]:
    """The outage that a line belongs to. Raises NotFound."""
    if documents.home.live is not None:
        return "/live", documents.home.live
    last = last_lived(documents, now)
    if last is None:
        raise NotFound("outage", "now", "none is on")
    return f"/lived/{escape(last)}", documents.home.lived[last]


def last_lived(documents: Documents, now: datetime) -> str | None:
    """The id of the outage that was over last, as long as its stores may still be filling."""
    over = {k: x for k, x in documents.home.lived.items() if x.ended is not None and x.plan in documents.plans}
    recent = {k: x for k, x in over.items() if x.ended is not None and now - x.ended < FILLS_FOR}
    return max(recent, key=lambda k: recent[k].ended or recent[k].began, default=None)


def _names(documents: Documents, live: Live) -> dict[str, str]:
    """What each source's station is called, by the source's id."""
    plan = documents.plans[live.plan]
    return {k: documents.catalogue.stations[s.station].name for k, s in plan.sources.items()}


def _continuous_w(documents: Documents, live: Live, source: str) -> float:
    """Continuous W of a source, its linked units together, that a display's load percent is of."""
    part = resolve(documents.home, documents.plans[live.plan], documents.catalogue).part(source)
    if part is None:
        raise NotFound("station", source, "this plan doesn't have that station")
    return part.load_full_w


def _urgency(store: StoreLive) -> tuple[int, datetime]:
    """What is off comes first, then what has to be looked at, then what stops first."""
    return {"off": 0, "ask": 1, "on": 2}[store.output], store.dark_at or datetime.max


def _text(stores: list[StoreLive], live: Live, lasted: str) -> str:
    """A few words for someone far away."""
    lines = [f"No grid since {clock_text(live.began)}, {lasted} by now."]
    for s in stores:
        if s.output != "on":
            lines.append(s.says)
            continue
        so_long = f"count on it until {clock_text(s.early_at)}" if s.early_at is not None else "no end expected"
        lines.append(f"{s.name}: {100 * s.charge:.0f}%, {so_long}.")
    if live.back_by is not None:
        lines.append(f"Expected back by {clock_text(live.back_by)}.")
    return " ".join(lines)
