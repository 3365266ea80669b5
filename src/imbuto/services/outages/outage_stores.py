"""The stores in an outage: what each holds, what its gauge has taught, and when it goes dark."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal

import numpy as np

from imbuto.core.advice.verdict import Verdict, judge_one
from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.units import clock_text, floor_minutes
from imbuto.core.equipment.catalogue import Station
from imbuto.core.home.live_outage import GaugeNote, Live, hour_of, time_at
from imbuto.core.home.loads import PURPOSES
from imbuto.core.outages.energy_course import EnergyCourse
from imbuto.core.outages.gauge_learning import LOW, NINE_IN_TEN, GaugeReading, LearntFigures, learn
from imbuto.core.outages.outage_changes import as_lived, ends_at, items_of, load_as_lived
from imbuto.core.outages.output_state import (
    ChargeLine,
    Doubt,
    OutputLine,
    OutputNow,
    OutputState,
    doubts,
    output_now,
    without,
)
from imbuto.core.outages.reach_hour import Evening
from imbuto.core.plan.outage import MAX_SIMULATED_H, Outage
from imbuto.core.plan.sources import Source
from imbuto.core.run.run import Run
from imbuto.core.run.run_switching import engine_of
from imbuto.services.desk.judging import Documents
from imbuto.store.models import FaceRow

LOOK_H = 72.0  # looked ahead at the least; planning default
# A display is that far from the planned mean before it is spoken of; planning defaults.
APART_W, APART_SHARE = 150.0, 0.5
GAUGE_GRAIN = 0.02  # a rise beyond what came in plus this says that something else charged it; planning default
MOST_SEEN = 60  # of what a watched station showed, evenly over its time; planning default
CLOCKS_APART_H = 0.05  # a line this far ahead of the clock is of a clock that was wrong; planning default
STALE_H = 1 / 3  # so long what it showed last is taken to be still so; it is kept four times an hour at least


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadLine:
    """A line's watts beside the plan's at that moment. apart: so far more that something else is on, so far
    less that what should be is not."""

    note: str
    planned_w: float
    apart: Literal["", "more", "less"]


@dataclass(frozen=True, slots=True, kw_only=True)
class LineQuestion:
    """A line that is asked about before it is believed.

    note: its id
    says: what is unlikely about it, and the question, in a sentence
    instead: the charge that was probably meant, 0 to 1, None where nothing near fits
    right: it may be right, so that somebody can say so
    """

    note: str
    says: str
    instead: float | None
    right: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class StoreLive:
    """One store in an outage.

    charge: now, 0 to 1, give or take error
    dark_at: when it goes dark, None for not in sight
    early_at: 9 in 10 later
    late_at: 9 in 10 sooner
    promised_at: as it was expected when it began
    planned_w: what the plan draws just now, with what was taken and switched
    out_w, in_w: as shown last, None for not read
    scale: of the planned load
    idle_w: its own draw, as learnt
    apart: the load varied enough to tell the two apart
    notes: how many by hand
    streamed: it is watched
    read_at: the last, or when it began
    low_at: when it is down to a fifth
    start_at: when its generator is to be started
    since_at: where something other than the sun charged it, the reading that it all goes by from then on
    alone: it neither gives to nor takes from another store; where it does, its gauge teaches nothing yet and the hours
        are the plan's
    lines: whose watts were read
    engine: a generator of the plan is left out of the hours ahead
    output: whether its output is on, off, or to be looked at
    off_from, off_by: the last time its lines show it on and the first that shows it off; None while it is on
    off_loads: what has no power then, by name
    says: what its output's state means, in a sentence; empty while it is on
    asks: lines that are not believed until somebody says that they are right
    """

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
    out_w: float | None
    in_w: float | None
    scale: float
    idle_w: float
    apart: bool
    notes: int
    streamed: bool
    read_at: datetime
    low_at: datetime | None
    start_at: datetime | None
    since_at: datetime | None
    alone: bool
    lines: list[ReadLine]
    engine: bool
    output: OutputState
    off_from: datetime | None
    off_by: datetime | None
    off_loads: list[str]
    says: str
    asks: list[LineQuestion]


@dataclass(frozen=True, slots=True)
class StoreHistory:
    """A store with all that was read of it.

    load_w, came_w: AC W asked of it in each step since it went out, and W into it, as lived
    read: every reading that is believed, oldest first
    seen: those that teach, the first at the start
    first: of them, the one that all goes by
    skip: steps before that
    found: None where its gauge teaches nothing
    output: whether its output is on
    unlikely: lines that are asked about, by the note's id
    ahead_of_clock: notes of times that are still to come
    """

    verdict: Verdict
    run: Run
    source: Source
    station: Station
    live: Live
    now: datetime
    lines: list[GaugeNote]
    shown: Sequence[FaceRow]
    load_w: FloatArray
    came_w: FloatArray
    read: list[GaugeReading]
    seen: list[GaugeReading]
    first: int
    skip: int
    found: LearntFigures | None
    output: OutputNow
    unlikely: dict[str, Doubt]
    ahead_of_clock: list[GaugeNote]

    @property
    def step_h(self) -> float:
        """Of the run."""
        return self.run.steps.step_h

    @property
    def skipped_h(self) -> float:
        """Hours from when it went out to where the readings begin that it all goes by."""
        return self.skip * self.step_h

    def at(self, hours: float | None) -> datetime | None:
        """Hours since where the readings begin on the clock."""
        return None if hours is None else _at(self.live, hours + self.skipped_h)

    @property
    def off_h(self) -> float | None:
        """The first hour at which it was off, None where its lines show it on until the end."""
        if self.output.spans:
            return self.output.spans[0][0]
        return self.output.by_h if self.output.state == "off" else None

    @property
    def course(self) -> EnergyCourse:
        """What its charge does as planned, from the beginning of the outage on."""
        return _course(self.run, self.load_w, self.came_w)

    @property
    def careful_at(self) -> datetime | None:
        """When it goes dark in one of ten cases, with an unlikely line that is lower taken to be right."""
        if self.found is None:
            return None
        lower = [d.expected - self._charge_of(i) for i, d in self.unlikely.items()]
        missing = max([0.0, *lower]) * self.run.store.available_wh
        ahead = self.found.ahead
        return self.at(ahead.dark_h(self.run.store.floor * self.run.store.available_wh + missing, -NINE_IN_TEN))

    def _charge_of(self, note: str) -> float:
        return next((n.charge for n in self.lines if n.id == note and n.charge is not None), 1.0)

    def dark_h(self, charge: float) -> float | None:
        """Hours, likewise, until it is down to a charge."""
        return None if self.found is None else self.found.ahead.dark_h(charge * self.run.store.available_wh)

    @property
    def life(self) -> tuple[str, ...]:
        """What a life depends on that hangs on it, by name."""
        return tuple(f.load.name for f in self.verdict.part.fed if f.load.purpose == "life")


def case_of(documents: Documents, outage_id: str, live: Live) -> Outage:
    """The outage that is on, under the conditions of one like it."""
    like = documents.outages.get(outage_id) or next(iter(documents.outages.values()))
    length = hour_of(live, live.back_by) if live.back_by is not None else like.hours
    hours = min(max(length, 1.0), MAX_SIMULATED_H)
    return replace(like, start=live.began, hours=hours, goal_hours=min(max(hours, LOOK_H), MAX_SIMULATED_H))


def judged(documents: Documents, case: Outage, live: Live) -> list[Verdict]:
    """Each source that feeds something in the outage that is on, from its own charge."""
    plan = documents.plans[live.plan]
    each = [
        judge_one(
            documents.home, plan, replace(case, start_charge=live.charges.get(key, 1.0)), documents.catalogue, key
        )
        for key in plan.sources
    ]
    return [v for v in each if v.run is not None and not v.part.waits]


def known(v: Verdict, live: Live, now: datetime, shown: Sequence[FaceRow]) -> StoreHistory:
    """What is known of a store that runs."""
    run, source, station = v.run, v.part.source, v.part.station
    assert run is not None
    step, store = run.steps.step_h, run.store
    here = hour_of(live, now)
    load, came = as_lived(run, live)
    if run.solar_w is not None:
        came = came + run.solar_w * store.mppt_efficiency
    own = (n for n in live.notes.values() if n.source == source.id and _within(live, n))
    every = sorted(own, key=lambda n: _hour(live, n))
    lines = [n for n in every if _hour(live, n) <= here + CLOCKS_APART_H]
    late = [n for n in every if _hour(live, n) > here + CLOCKS_APART_H]
    floor = store.floor if store.floor < 1 else 0.0
    steady = _steady_w(run, live)
    output = output_now(
        _output_lines(lines, shown, live),
        here,
        floor=floor,
        steady_w=lambda h: float(steady[min(max(int(h / step), 0), len(steady) - 1)]),
        late_h=None,
    )
    off = [*output.spans, *([(output.by_h, here)] if output.state == "off" else [])]
    load = without(load, off, step)
    start = GaugeReading(0.0, live.charges.get(source.id, 1.0))
    read, unlikely = _believed(start, lines, shown, live, _course(run, load, came), run)
    seen = _while_on([start, *read], off)
    if run.line is not None and len(run.line.stores) > 1:
        return StoreHistory(
            v, run, source, station, live, now, lines, shown, load, came, read, seen, 0, 0, None, output, unlikely, late
        )
    first = _charged(seen, came, step, store.available_wh)
    skip = min(int(seen[first].hour / step), len(load) - 1)

    def learnt(readings: Sequence[GaugeReading]) -> LearntFigures:
        return learn(
            [replace(s, hour=max(s.hour - skip * step, 0.0)) for s in readings],
            load[skip:],
            came[skip:],
            step,
            full_wh=store.available_wh,
            efficiency=store.efficiency,
            idle_w=store.idle_w,
            floor=store.floor,
        )

    found = learnt(seen[first:])
    if output.state == "off" and output.reason == "empty":
        # That it stopped before it was expected to is learnt; that it is off long after is not.
        expected = found.dark_h
        if expected is None or expected > output.by_h - skip * step:
            found = learnt([*seen[first:], GaugeReading(output.by_h, floor)])
    by = found.late_h if found.late_h is not None else found.dark_h
    if output.state == "on" and by is not None and here > (over := by + skip * step):
        on_h = max((h.hour for h in seen), default=0.0)
        output = replace(output, state="ask", reason="past", since_h=on_h, by_h=max(over, on_h))
    return StoreHistory(
        v,
        run,
        source,
        station,
        live,
        now,
        lines,
        shown,
        load,
        came,
        read,
        seen,
        first,
        skip,
        found,
        output,
        unlikely,
        late,
    )


def _hour(live: Live, noted: GaugeNote) -> float:
    return hour_of(live, noted.at, again=noted.again)


def _within(live: Live, noted: GaugeNote) -> bool:
    return live.ended is None or _hour(live, noted) <= hour_of(live, live.ended)


def _course(run: Run, load: FloatArray, came: FloatArray) -> EnergyCourse:
    store = run.store
    return EnergyCourse(load, came, run.steps.step_h, store.efficiency, store.idle_w, store.available_wh)


def _steady_w(run: Run, live: Live) -> FloatArray:
    """AC W of what never rests, in each step, as lived; (n,)."""
    total = np.zeros(len(run.load_w))
    for item in items_of(run):
        if item.load.use.kind == "always":
            total += load_as_lived(item, run, live, item.watts(run.steps))
    return total


def _output_lines(lines: Sequence[GaugeNote], shown: Sequence[FaceRow], live: Live) -> list[OutputLine]:
    """All that shows whether the output is on, in its order."""
    noted = [OutputLine(_hour(live, n), n.charge, n.out_w, n.output) for n in lines]
    watched = [OutputLine(hour_of(live, f.at), f.charge, f.out_w) for f in shown]
    return sorted([*noted, *watched], key=lambda x: x.hour)


def _believed(
    start: GaugeReading,
    lines: Sequence[GaugeNote],
    shown: Sequence[FaceRow],
    live: Live,
    course: EnergyCourse,
    run: Run,
) -> tuple[list[GaugeReading], dict[str, Doubt]]:
    """The readings to go by, in their order, and the doubts about the others by the note's id."""
    noted = [(n, GaugeReading(_hour(live, n), n.charge, n.given_wh)) for n in lines if n.charge is not None]
    each: list[tuple[GaugeNote | None, GaugeReading]] = [*noted, *((None, r) for r in sampled(shown, live))]
    each.sort(key=lambda x: x[1].hour)
    charges = [ChargeLine(start.hour, start.charge, sure=True)]
    charges += [ChargeLine(r.hour, r.charge, n is None or n.sure or _charging(n)) for n, r in each]
    most = max(sum(f.load.count * max(f.load.run_w, f.load.average_w) for f in run.part.fed), float(run.load_w.max()))
    found = {d.index - 1: d for d in doubts(charges, course, most)}
    unlikely = {n.id: found[i] for i, (n, _) in enumerate(each) if i in found and n is not None}
    return [r for i, (_, r) in enumerate(each) if i not in found], unlikely


def _charging(noted: GaugeNote) -> bool:
    """A line that says itself that something charges explains a rise."""
    return noted.in_w is not None and noted.in_w > (noted.out_w or 0.0)


def _while_on(seen: list[GaugeReading], off: Sequence[tuple[float, float]]) -> list[GaugeReading]:
    """The readings that teach: none of a station that is off, until it has been charged."""
    kept: list[GaugeReading] = []
    for s in seen:
        span = next(((a, b) for a, b in off if a <= s.hour <= b), None)
        if span is None or not kept or s.charge > kept[-1].charge + GAUGE_GRAIN:
            kept.append(s)
    return kept


def evening(k: StoreHistory, *, sure: bool) -> Evening:
    """The store from its last reading on, to weigh steps against; sure: nine in ten times. It must not be a joined
    one."""
    assert k.found is not None
    ahead, store = k.found.ahead, k.run.store
    count = len(ahead.ends) - 1
    over = store.floor * store.available_wh + (NINE_IN_TEN if sure else 0.0) * ahead.sigma_wh
    return Evening(
        ahead.ends + k.skipped_h,
        ahead.left_wh,
        over,
        k.load_w[len(k.load_w) - count :],
        len(k.load_w) - count,
        k.found.scale,
        store.efficiency,
        ahead.full_wh,
    )


def store_live(k: StoreHistory) -> StoreLive:
    """A store as it is shown. Nothing is said of when one that is off will stop."""
    found, store, promise = k.found, k.run.store, k.live.promises.get(k.source.id)
    motor, since = engine_of(k.verdict.part), hour_of(k.live, k.now)
    low_h, start_h = k.dark_h(LOW) if store.floor < LOW else None, k.dark_h(motor.start_at) if motor else None
    out_w, in_w = _shown_w(k)
    runs_on = any(t.kind == "engine" and ends_at(k.live, t) > since for t in k.live.taken.values())
    off = k.output.state == "off"
    known_off = off or k.output.state == "ask"
    return StoreLive(
        source=k.source.id,
        name=k.station.name,
        charge=_charge_now(k),
        error=found.charge_error if found and not off else 0.0,
        floor=store.floor if store.floor < 1 else 0.0,  # at 1 the march only says that nobody calls on it
        dark_at=None if off else k.at(found.dark_h if found else k.run.hours),
        early_at=None if off else k.at(found.early_h if found else _low_h(k)),
        late_at=None if off or found is None else k.at(found.late_h),
        promised_at=_at(k.live, promise.hours if promise else None),
        planned_w=float(k.load_w[min(max(int(since / k.step_h), 0), len(k.load_w) - 1)]),
        out_w=out_w,
        in_w=in_w,
        scale=found.scale if found else 1.0,
        idle_w=found.idle_w if found else store.idle_w,
        apart=found is not None and found.apart,
        notes=len(k.lines),
        streamed=bool(k.shown),
        read_at=time_at(k.live, max([k.seen[-1].hour, *(_hour(k.live, n) for n in k.lines[-1:])])),
        low_at=None if off else k.at(low_h),
        start_at=None if runs_on else k.at(start_h),
        since_at=time_at(k.live, k.seen[k.first].hour) if k.first else None,
        alone=found is not None,
        lines=[_read_line(n, k) for n in k.lines if n.out_w is not None],
        engine=found is not None and motor is not None and not runs_on,
        output=k.output.state,
        off_from=_at(k.live, k.output.since_h) if known_off else None,
        off_by=_at(k.live, k.output.by_h) if known_off else None,
        off_loads=_off_loads(k) if off else [],
        says=_output_says(k),
        asks=_questions(k),
    )


def _off_loads(k: StoreHistory) -> list[str]:
    """What has no power, by name: first what a life, the house or food depends on."""
    fed = [f.load for f in k.verdict.part.fed if not f.assumed]
    return [x.name for x in sorted(fed, key=lambda x: PURPOSES.index(x.purpose))]


def _output_says(k: StoreHistory) -> str:
    """What the state of its output means, and what to do; empty while it is on."""
    o, name = k.output, k.station.name
    if o.state == "on":
        return ""
    since, by = _clock(k, o.since_h), _clock(k, o.by_h)
    if o.state == "off":
        when = f"since {by}" if by == since else f"since some time between {since} and {by}"
        why = {
            "empty": " Its charge is down to where it stops.",
            "no_watts": " Its display showed 0 W, though something that never rests is connected to it.",
        }.get(o.reason, "")
        return f"{name} has been off {when}.{why} Nothing that it powers works until you bring it back."
    if o.reason == "charged":
        return f"{name} was off and has been charged since. Is its output on again? Note “on” or “off”."
    if o.reason == "past":
        return f"{name} has probably stopped by now. Look at its display, and note what it shows, or “off”."
    return (
        f"{name} showed 0 W at {by}. Is its output still on? Look whether something that it powers works, and note "
        "“on” or “off”."
    )


def _questions(k: StoreHistory) -> list[LineQuestion]:
    """What is asked about lines: those nothing explains, and those of a time to come."""
    found = []
    for note in k.lines:
        doubt = k.unlikely.get(note.id)
        if doubt is None or note.charge is None:
            continue
        before, shown = f"{100 * doubt.before:.0f} %", f"{100 * note.charge:.0f} %"
        if note.charge > doubt.expected and note.charge > doubt.before:
            says = f"{before} before, {shown} at {_clock(k, _hour(k.live, note))}, and no charging was noted."
            asks = "Was it charged?" if doubt.instead is None else f"Was that {100 * doubt.instead:.0f} %?"
        else:
            says = f"{before} before, {shown} at {_clock(k, _hour(k.live, note))}: more than the plan can explain."
            asks = "Is that right?" if doubt.instead is None else f"Was that {100 * doubt.instead:.0f} %?"
        found.append(LineQuestion(note=note.id, says=f"{says} {asks}", instead=doubt.instead))
    for note in k.ahead_of_clock:
        at = _clock(k, _hour(k.live, note))
        says = f"The line of {at} is later than now, so it does not count. Take it back, and note it again."
        found.append(LineQuestion(note=note.id, says=says, instead=None, right=False))
    return found


def _clock(k: StoreHistory, hours: float) -> str:
    return clock_text(time_at(k.live, hours))


def _low_h(k: StoreHistory) -> float | None:
    """Of a joined store what 9 in 10 of the plan's members exceed, and never more than is expected."""
    low, expected = k.verdict.band.low_h if k.verdict.band is not None else None, k.run.hours
    return low if expected is None or low is None else min(low, expected)


def sampled(shown: Sequence[FaceRow], live: Live) -> list[GaugeReading]:
    """What a watched station showed at even times: it is kept where it changes, and a reading taken just then would
    always lie at the edge of its percent."""
    if not shown:
        return []
    hours = np.array([hour_of(live, f.at) for f in shown])
    wanted = np.linspace(hours[0], hours[-1], MOST_SEEN)
    index = np.searchsorted(hours, wanted, side="right") - 1
    at = np.where(wanted - hours[index] > STALE_H, hours[index], wanted)
    return [
        GaugeReading(float(h), shown[i].charge)
        for n, (h, i) in enumerate(zip(at, index, strict=True))
        if h > 0 and (n == 0 or h > at[n - 1])
    ]


def _shown_w(k: StoreHistory) -> tuple[float | None, float | None]:
    """W out and in as shown last."""
    line = next((n for n in reversed(k.lines) if n.out_w is not None or n.in_w is not None), None)
    if k.shown and (line is None or line.at <= k.shown[-1].at):
        return k.shown[-1].out_w, k.shown[-1].in_w
    return (line.out_w, line.in_w) if line else (None, None)


def _read_line(noted: GaugeNote, k: StoreHistory) -> ReadLine:
    i = min(max(int(hour_of(k.live, noted.at) / k.step_h), 0), len(k.load_w) - 1)
    planned = float(k.load_w[i])
    off = (noted.out_w or 0.0) - planned
    far = abs(off) > max(APART_W, APART_SHARE * planned)
    return ReadLine(note=noted.id, planned_w=planned, apart=("more" if off > 0 else "less") if far else "")


def _at(live: Live, hours: float | None) -> datetime | None:
    """Hours since it went out on the clock, to the whole minute."""
    return None if hours is None else time_at(live, floor_minutes(hours) / 60).replace(second=0, microsecond=0)


def _charged(seen: list[GaugeReading], came: FloatArray, step: float, full_wh: float) -> int:
    """The last reading before which something that nobody noted charged the store, 0 for none: what was drawn before
    it cannot be told from what went in."""
    ends, gained = np.arange(len(came) + 1) * step, np.concatenate([[0.0], np.cumsum(came) * step])
    for i in range(len(seen) - 1, 0, -1):
        sun = float(np.interp(seen[i].hour, ends, gained) - np.interp(seen[i - 1].hour, ends, gained))
        if seen[i].charge > seen[i - 1].charge + sun / full_wh + GAUGE_GRAIN:
            return i
    return 0


def _charge_now(k: StoreHistory) -> float:
    """The charge just now: the last reading's, drawn on since as learnt; of a joined store by the plan's own course."""
    since, last = hour_of(k.live, k.now), k.seen[-1]
    if k.output.state == "off":
        return next((n.charge for n in reversed(k.lines) if n.charge is not None), last.charge)
    if k.found is None:
        curve = k.run.charge
        gone = np.interp([last.hour, max(since, last.hour)], np.arange(len(curve)) * k.step_h, curve)
        return min(max(last.charge + float(gone[1] - gone[0]), 0.0), 1.0)
    course = replace(k.course, scale=k.found.scale, idle_w=k.found.idle_w)
    return min(max(k.found.charge + course.change(last.hour, max(since, last.hour)), 0.0), 1.0)
