"""The logbook: outages, tests, drills, defects and entries by hand on one line of time, and what they have shown."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import datetime, time, timedelta
from typing import Literal

from imbuto.core.advice.verdict import judge_one
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.units import hours_text, number_text
from imbuto.core.home.live_outage import Live, hour_of
from imbuto.core.home.logbook_entries import Entry
from imbuto.core.outages.promise_and_outcome import By, Energy, Trend, energy, trend
from imbuto.core.run.run_switching import engine_of
from imbuto.formats.csv_tables import bookcsv
from imbuto.formats.csv_tables.csvout import table
from imbuto.formats.documents import ENTRY, Json
from imbuto.services.desk.judging import Documents, Pair
from imbuto.services.desk.planner import EditResult, Planner
from imbuto.services.outages.learnt_offers import LearntOffer, offers
from imbuto.services.outages.outage_now import shown_by
from imbuto.services.outages.store_history import StoreHistory, case_of, history_of_store, judge_from_live_charges

LineKind = Literal["outage", "test", "drill", "defect", "note", "part", "firmware", "cycles", "waking", "energy"]
MOST_KNOWN = 40  # of the outages lived through are worked out again, the newest; planning default
LEAST_LOST_H = 2.0  # between two readings of a counter; planning default
EVENING_H, DAWN_H = 22.0, 7.0


@dataclass(frozen=True, slots=True, kw_only=True)
class BookLine:
    """One line of time.

    ident: of what it stands for
    open: it is not closed yet
    """

    kind: LineKind
    ident: str
    at: datetime
    title: str
    detail: str
    open: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class LogbookOutcome:
    """A store in an outage that is over, promise beside what came. hours from its beginning on one axis. promised_h,.

    low_h: None for no end in sight, and promised: whether anything was
    lasted_h: how long the outage was
    dark_h: when the store was at its floor, None where it never was
    used: of its charge
    scale: of the planned load, as learnt, with one sigma; idle_w
    says: what it taught, and lost: what gauge and counter together say of inverter and own draw, in words
    """

    lived: str
    began: datetime
    plan: str
    source: str
    name: str
    promised: bool
    promised_h: float | None
    low_h: float | None
    lasted_h: float
    dark_h: float | None
    used: float | None
    scale: float
    scale_error: float
    idle_w: float
    readings: int
    says: str
    lost: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DawnCharge:
    """The charge at dawn that was noted, beside the plan's night from the evening before; expected: None where that
    is not known."""

    at: datetime
    evening: float | None
    charge: float
    expected: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class BookView:
    """Everything a home remembers.

    honest: how many of the outages with a promise went on as long as 9 in 10 said
    learnt: what the last outage taught, as edits; nothing of it is taken by itself
    goals: an edit that puts the outages so far into Goals, empty where they say so already
    """

    lines: list[BookLine]
    outcomes: list[LogbookOutcome]
    honest: str
    energy: list[Energy]
    waking: list[DawnCharge]
    waking_trend: Trend | None
    load_trend: Trend | None
    cycles: float
    open_cases: int
    learnt: list[LearntOffer]
    goals: list[Json]
    goals_say: str


def logbook(planner: Planner, home_id: str, outage_id: str, by: By = "month") -> BookView:
    """What a home remembers. outage_id: one whose rooms and skies are like them. Raises NotFound."""
    documents = planner.open(home_id)
    home = documents.home
    outcomes = [o for k in _lived(documents) for o in _outcomes(planner, home_id, documents, outage_id, k)]
    waking = [_waking(documents, outage_id, e) for e in _of(documents, "waking")]
    goals, say = _goals(documents)
    told = [o for o in outcomes if o.promised and (o.dark_h is not None or o.low_h is None or o.lasted_h >= o.low_h)]
    kept = [o for o in told if o.dark_h is None or (o.low_h is not None and o.dark_h >= o.low_h)]
    cycles = [e.figures["cycles"] for e in _of(documents, "cycles") if "cycles" in e.figures]
    return BookView(
        lines=sorted(_lines(documents), key=lambda x: x.at, reverse=True),
        outcomes=sorted(outcomes, key=lambda o: o.began, reverse=True),
        honest="" if not told else f"{len(kept)} of {len(told)} lasted at least as long as the 9-in-10 hours",
        energy=energy(home.book.values(), by),
        waking=waking,
        waking_trend=trend([(w.at, 100 * (w.charge - w.expected)) for w in waking if w.expected is not None]),
        load_trend=trend([(o.began, 100 * o.scale) for o in outcomes if o.readings > 1]),
        cycles=max(cycles, default=0.0),
        open_cases=sum(1 for e in home.book.values() if e.case is not None and e.case.closed is None),
        learnt=_learnt(planner, home_id, documents, outage_id),
        goals=goals,
        goals_say=say,
    )


def as_csv(planner: Planner, home_id: str) -> str:
    """The line of time as a table."""
    documents = planner.open(home_id)
    lines = sorted(_lines(documents), key=lambda x: x.at)
    return table(["at", "kind", "title", "detail", "open"], ([x.at, x.kind, x.title, x.detail, x.open] for x in lines))


def take_energy(planner: Planner, home_id: str, data: bytes, name: str, edit_id: str, pair: Pair | None) -> EditResult:
    """Note energy by day from a CSV file, as one edit. Raises NotFound, UnreadableFile, InvalidValue."""
    state = planner.state(home_id)
    if planner.has_edit(edit_id):
        return planner.answer(state, pair)
    there = planner.enter(state).home.book
    ops = []
    for day, figures in bookcsv.read(data, name):
        ident = f"energy-{day.isoformat()}"
        entry = Entry(
            id=ident,
            kind="energy",
            at=datetime.combine(day, time()),
            title=f"Energy on {day:%d %b %Y}",
            figures=figures,
        )
        verb = "replace" if ident in there else "add"
        ops.append({"doc": "home", "op": verb, "path": f"/book/{ident}", "value": ENTRY.write(entry)})
    if not ops:
        raise InvalidValue("energy file", name, "it has no day with a figure")
    return planner.edit(home_id, state.rev, edit_id, f"Energy on {len(ops)} days", ops, pair)


def _of(documents: Documents, kind: str) -> list[Entry]:
    return sorted((e for e in documents.home.book.values() if e.kind == kind), key=lambda e: e.at)


def _lived(documents: Documents) -> list[str]:
    over = [k for k, x in documents.home.lived.items() if x.ended is not None and x.plan in documents.plans]
    return sorted(over, key=lambda k: documents.home.lived[k].began)[-MOST_KNOWN:]


def _lines(documents: Documents) -> Iterator[BookLine]:
    home = documents.home
    for key, x in home.lived.items():
        length = hours_text(hour_of(x, x.ended)) if x.ended else "not over"
        plan = documents.plans[x.plan].name if x.plan in documents.plans else x.plan
        yield BookLine(
            kind="outage",
            ident=key,
            at=x.began,
            title=f"Outage of {length}",
            open=x.ended is None,
            detail=f"{plan}; {len(x.notes)} gauge lines, {len(x.taken)} steps taken",
        )
    for t in home.trials.values():
        how = f"stopped: {t.stopped}" if t.stopped else f"{len(t.rows)} rows" + (f", by {t.who}" if t.who else "")
        yield BookLine(
            kind="test",
            ident=t.id,
            at=t.began,
            title=f"Test: {t.procedure.partition('@')[0].replace('_', ' ')}",
            detail=how,
            open=t.ended is None,
        )
    for d in home.household.drills.values():
        who = home.household.people[d.person].name if d.person in home.household.people else d.person
        way = "switching to backup" if d.scene == "over" else "switching back"
        yield BookLine(
            kind="drill",
            ident=d.id,
            at=datetime.combine(d.on, time()),
            title=f"Practice: {who}",
            detail=f"{way}, {d.moves} moves",
        )
    for e in home.book.values():
        open_ = e.case is not None and e.case.closed is None
        yield BookLine(kind=e.kind, ident=e.id, at=e.at, title=e.title, detail=_detail(e), open=open_)


def _detail(e: Entry) -> str:
    if e.case is not None:
        said = f"{e.case.symptom}" + (f"; meanwhile: {e.case.workaround}" if e.case.workaround else "")
        return said if e.case.closed is None else f"{said}; closed: {e.case.ending or 'nothing more'}"
    figures = [
        f"{100 * v:.0f}% {k}"
        if k in ("charge", "evening")
        else f"{number_text(v)} {k.replace('_', ' ').replace(' kwh', ' kWh')}"
        for k, v in e.figures.items()
    ]
    return "; ".join([*figures, *([e.note] if e.note else [])])


def _outcomes(
    planner: Planner, home_id: str, documents: Documents, outage_id: str, lived: str
) -> Iterator[LogbookOutcome]:
    live = documents.home.lived[lived]
    assert live.ended is not None
    case = case_of(documents, outage_id, live)
    for v in judge_from_live_charges(documents, case, live):
        source = v.part.source.id
        yield _outcome(lived, live, history_of_store(v, live, live.ended, shown_by(planner, home_id, source, live)))


def _outcome(lived: str, live: Live, k: StoreHistory) -> LogbookOutcome:
    assert live.ended is not None
    promise, read = live.promises.get(k.source.id), k.read
    lasted = hour_of(live, live.ended)
    scale, error, idle = (
        (k.found.scale, k.found.scale_error, k.found.idle_w) if k.found else (1.0, 0.15, k.run.store.idle_w)
    )
    return LogbookOutcome(
        lived=lived,
        began=live.began,
        plan=v_name(k),
        source=k.source.id,
        name=k.station.name,
        promised=promise is not None,
        promised_h=promise.hours if promise else None,
        low_h=promise.low_h if promise else None,
        lasted_h=lasted,
        dark_h=k.off_h,
        used=k.seen[0].charge - read[-1].charge if read else None,
        scale=scale,
        scale_error=error,
        idle_w=idle,
        readings=len(read),
        says=" ".join(t for t in (_says(k, scale, error, len(read)), _not_done(k)) if t),
        lost=_lost(k),
    )


def _not_done(k: StoreHistory) -> str:
    """What the promise contained and nobody noted doing."""
    part = k.verdict.part
    started = any(t.kind == "engine" for t in k.live.taken.values())
    if part.generator is None or engine_of(part) is None or part.generator.start == "by_itself" or started:
        return ""
    return f"The estimate counted on {part.generator.name}, but no start was noted."


def _lost(k: StoreHistory) -> str:
    """What the gauge says was drawn, less what went out as AC: inverter and own draw."""
    counted = [
        (hour_of(k.live, n.at, again=n.again), n.charge, n.given_wh)
        for n in k.lines
        if n.given_wh is not None and n.charge is not None and n.id not in k.unlikely
    ]
    if len(counted) < 2 or counted[-1][0] - counted[0][0] < LEAST_LOST_H:
        return ""
    (a, high, before), (b, low, after) = counted[0], counted[-1]
    came = float(k.came_w[int(a / k.step_h) : int(b / k.step_h)].sum()) * k.step_h
    drawn = (high - low) * k.run.store.available_wh + came
    given = (after or 0.0) - (before or 0.0)
    lost_w = (drawn - given) / (b - a)
    planned = k.run.store.idle_w + given / (b - a) * (1 / k.run.store.efficiency - 1)
    grain = 0.01 * k.run.store.available_wh / (b - a)
    return (
        f"Gauge minus counter: {number_text(max(lost_w, 0.0))} W on average (± {number_text(grain)}), planned "
        f"{number_text(planned)} W."
    )


def v_name(k: StoreHistory) -> str:
    """What a known store's plan is called."""
    return k.verdict.part.whole.name


def _says(k: StoreHistory, scale: float, error: float, readings: int) -> str:
    if k.found is None:
        return "This station powered another one or was powered by one, so its gauge alone shows nothing."
    if readings < 2:
        return "There are too few readings to learn from. Note one every three hours."
    if abs(scale - 1) <= 1.28 * error:
        return f"As planned, according to {readings} readings."
    more = "more" if scale > 1 else "less"
    why = "What else was on?" if scale > 1 else "What was off?"
    return f"It drew {100 * abs(scale - 1):.0f}% {more} than planned (± {100 * error:.0f}): {why}"


def _waking(documents: Documents, outage_id: str, e: Entry) -> DawnCharge:
    """Against the night that the plan's loads would make of the evening's charge."""
    charge, evening = e.figures.get("charge", 0.0), e.figures.get("evening")
    expected = None
    plan = next(
        (p for p in documents.plans.values() if e.source in p.sources), next(iter(documents.plans.values()), None)
    )
    if evening is not None and plan is not None and plan.sources:
        source = e.source if e.source in plan.sources else next(iter(plan.sources))
        like = documents.outages.get(outage_id) or next(iter(documents.outages.values()))
        begins = datetime.combine(e.at.date() - timedelta(days=1), time(int(EVENING_H)))
        night = replace(
            like, start=begins, hours=24 - EVENING_H + DAWN_H, goal_hours=24 - EVENING_H + DAWN_H, start_charge=evening
        )
        v = judge_one(documents.home, plan, night, documents.catalogue, source)
        if v.run is not None:
            at = min(round(night.hours / v.run.steps.step_h), len(v.run.charge) - 1)
            expected = float(v.run.charge[at])
    return DawnCharge(at=e.at, evening=evening, charge=charge, expected=expected)


def _learnt(planner: Planner, home_id: str, documents: Documents, outage_id: str) -> list[LearntOffer]:
    """What the last outage taught: those before it are in what it was promised by, or were not taken."""
    over = {k: x for k, x in documents.home.lived.items() if x.ended is not None and x.plan in documents.plans}
    if not over or outage_id not in documents.outages:
        return []
    last = max(over, key=lambda k: over[k].ended or over[k].began)
    live = over[last]
    assert live.ended is not None
    stores = [
        history_of_store(v, live, live.ended, shown_by(planner, home_id, v.part.source.id, live))
        for v in judge_from_live_charges(documents, case_of(documents, outage_id, live), live)
    ]
    return offers(documents, outage_id, last, stores)


def _goals(documents: Documents) -> tuple[list[Json], str]:
    """The outages so far as Goals would have them: the shortest, the usual and the longest."""
    hours = sorted(hour_of(x, x.ended) for x in documents.home.lived.values() if x.ended is not None)
    if not hours:
        return [], ""
    found = {"shortest_h": hours[0], "usual_h": hours[len(hours) // 2], "longest_h": hours[-1]}
    now = documents.home.household.history
    known_ = {k: getattr(now, k) for k in found}
    if any(known_.values()):
        found["shortest_h"] = min(
            h for h in (found["shortest_h"], known_["shortest_h"] or found["shortest_h"]) if h > 0
        )
        found["longest_h"] = max(found["longest_h"], known_["longest_h"])
        found["usual_h"] = min(max(found["usual_h"], found["shortest_h"]), found["longest_h"])
    ops = [
        {"doc": "home", "op": "replace", "path": f"/household/history/{k}", "value": round(v, 2)}
        for k, v in found.items()
        if abs(known_[k] - round(v, 2)) > 0.005
    ]
    short, usual, long = (hours_text(found[k]) for k in ("shortest_h", "usual_h", "longest_h"))
    say = f"{len(hours)} so far: from {short} to {long}, usually {usual}."
    return ops, say
