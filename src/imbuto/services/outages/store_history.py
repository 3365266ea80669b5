"""What is known of each store in an outage: its lines, what they teach, and whether its output is on."""

from __future__ import annotations

from collections.abc import Container, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np

from imbuto.core.advice.verdict import Verdict, judge_one
from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.units import floor_minutes
from imbuto.core.equipment.power_station import Station
from imbuto.core.home.live_outage import GaugeNote, Live, hour_of, time_at
from imbuto.core.outages.energy_course import EnergyCourse
from imbuto.core.outages.gauge_learning import NINE_IN_TEN, GaugeReading, LearntFigures, learn
from imbuto.core.outages.outage_changes import as_lived, items_of, load_as_lived
from imbuto.core.outages.output_state import (
    ChargeLine,
    Doubt,
    OutputLine,
    OutputNow,
    doubts,
    output_now,
    overdue,
    without,
)
from imbuto.core.outages.reach_hour import Evening
from imbuto.core.plan.outage import MAX_SIMULATED_H, Outage, begun
from imbuto.core.plan.sources import Source
from imbuto.core.run.run import Run
from imbuto.services.desk.judging import Documents
from imbuto.store.models import FaceRow

LOOK_H = 72.0  # looked ahead at the least; planning default
GAUGE_GRAIN = 0.02  # a rise beyond what came in plus this says that something else charged it; planning default
MOST_SEEN = 60  # of what a watched station showed, evenly over its time; planning default
CLOCKS_APART_H = 0.05  # a line this far ahead of the clock is of a clock that was wrong; planning default
STALE_H = 1 / 3  # so long what it showed last is taken to be still so; it is kept four times an hour at least


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
        return None if hours is None else clock_at(self.live, hours + self.skipped_h)

    @property
    def off_h(self) -> float | None:
        """The first hour at which it was off, None where its lines show it on until the end."""
        if self.output.spans:
            return self.output.spans[0][0]
        # Once the outage is over, a last line at the stop level that nobody followed with “on” is where it stopped.
        over = self.live.ended is not None and self.output.reason == "low"
        return self.output.by_h if self.output.state == "off" or over else None

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


def judge_from_live_charges(documents: Documents, case: Outage, live: Live) -> list[Verdict]:
    """Each source that feeds something in the outage that is on, from its own charge."""
    plan = documents.plans[live.plan]
    now = begun(case, live.charges)
    each = [judge_one(documents.home, plan, now, documents.catalogue, key) for key in plan.sources]
    return [v for v in each if v.run is not None and not v.part.waits]


def history_of_store(v: Verdict, live: Live, now: datetime, shown: Sequence[FaceRow]) -> StoreHistory:
    """What is known of a store that runs: its lines, whether its output is on, and what they teach."""
    run = v.run
    assert run is not None
    k = _read_so_far(v, run, live, now, shown)
    if run.line is not None and len(run.line.stores) > 1:
        return k
    first = _charged(k.seen, k.came_w, k.step_h, run.store.available_wh)
    k = replace(k, first=first, skip=min(int(k.seen[first].hour / k.step_h), len(k.load_w) - 1))
    found = _learnt(k, k.seen[first:])
    stopped_h = k.output.by_h - k.skipped_h
    if k.output.reason == "empty" and k.output.state == "off" and (found.dark_h is None or found.dark_h > stopped_h):
        # That it stopped before it was expected to is learnt; that it is off long after is not.
        found = _learnt(k, [*k.seen[first:], GaugeReading(k.output.by_h, _stop_charge(run))])
    late_h = found.late_h if found.late_h is not None else found.dark_h
    last_h = max(s.hour for s in k.seen)
    output = overdue(k.output, hour_of(live, now), last_h, None if late_h is None else late_h + k.skipped_h)
    return replace(k, found=found, output=output)


def _read_so_far(v: Verdict, run: Run, live: Live, now: datetime, shown: Sequence[FaceRow]) -> StoreHistory:
    """All that was read of a store, before anything is learnt from it."""
    source, step, here = v.part.source, run.steps.step_h, hour_of(live, now)
    load, came = as_lived(run, live)
    if run.solar_w is not None:
        came = came + run.solar_w * run.store.mppt_efficiency
    own = (n for n in live.notes.values() if n.source == source.id and _within(live, n))
    every = sorted(own, key=lambda n: hour_noted(live, n))
    lines = [n for n in every if hour_noted(live, n) <= here + CLOCKS_APART_H]
    steady = _steady_w(run, live)
    start = GaugeReading(0.0, live.charges.get(source.id, 1.0))
    _, doubted = _believed(start, lines, shown, live, _course(run, load, came), run)
    output = output_now(
        _output_lines(lines, shown, live, doubted),
        floor=_stop_charge(run),
        steady_w=lambda h: float(steady[min(max(int(h / step), 0), len(steady) - 1)]),
    )
    off = [*output.spans, *([(output.by_h, here)] if output.state == "off" else [])]
    load = without(load, off, step)
    read, unlikely = _believed(start, lines, shown, live, _course(run, load, came), run)
    return StoreHistory(
        verdict=v,
        run=run,
        source=source,
        station=v.part.station,
        live=live,
        now=now,
        lines=lines,
        shown=shown,
        load_w=load,
        came_w=came,
        read=read,
        seen=_while_on([start, *read], off),
        first=0,
        skip=0,
        found=None,
        output=output,
        unlikely=unlikely,
        ahead_of_clock=every[len(lines) :],
    )


def _stop_charge(run: Run) -> float:
    """The charge at which a store stops; a floor of 1 in the march only says that nobody calls on it."""
    return run.store.floor if run.store.floor < 1 else 0.0


def _learnt(k: StoreHistory, readings: Sequence[GaugeReading]) -> LearntFigures:
    store = k.run.store
    return learn(
        [replace(s, hour=max(s.hour - k.skipped_h, 0.0)) for s in readings],
        k.load_w[k.skip :],
        k.came_w[k.skip :],
        k.step_h,
        full_wh=store.available_wh,
        efficiency=store.efficiency,
        idle_w=store.idle_w,
        floor=store.floor,
    )


def hour_noted(live: Live, noted: GaugeNote) -> float:
    return hour_of(live, noted.at, again=noted.again)


def _within(live: Live, noted: GaugeNote) -> bool:
    return live.ended is None or hour_noted(live, noted) <= hour_of(live, live.ended)


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


def _output_lines(
    lines: Sequence[GaugeNote], shown: Sequence[FaceRow], live: Live, doubted: Container[str]
) -> list[OutputLine]:
    """All that shows whether the output is on, in its order; not the charge of a line that nothing explains."""
    noted = [OutputLine(hour_noted(live, n), None if n.id in doubted else n.charge, n.out_w, n.output) for n in lines]
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
    noted = [(n, GaugeReading(hour_noted(live, n), n.charge, n.given_wh)) for n in lines if n.charge is not None]
    each: list[tuple[GaugeNote | None, GaugeReading]] = [*noted, *((None, r) for r in sample_watched(shown, live))]
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


def gained_h(k: StoreHistory, feed: str) -> float | None:
    """Hours longer to count on with one feed off from its last reading on; None where its gauge teaches nothing, or the
    end is out of sight with it."""
    if k.found is None:
        return None
    ahead, store = k.found.ahead, k.run.store
    count, floor = len(ahead.ends) - 1, store.floor * store.available_wh
    items = [i for i in items_of(k.run) if i.feed.id == feed]
    watts = sum((load_as_lived(i, k.run, k.live, i.watts(k.run.steps)) for i in items), np.zeros(len(k.load_w)))
    saved = k.found.scale * watts[len(watts) - count :] / store.efficiency * np.diff(ahead.ends)
    without_it = replace(ahead, left_wh=ahead.left_wh + np.concatenate([[0.0], np.cumsum(saved)]))
    before, after = (x.dark_h(floor, -NINE_IN_TEN) for x in (ahead, without_it))
    if before is None:
        return None
    return (ahead.ends[-1] if after is None else after) - before


def evening_ahead(k: StoreHistory, *, sure: bool) -> Evening:
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


def sample_watched(shown: Sequence[FaceRow], live: Live) -> list[GaugeReading]:
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


def clock_at(live: Live, hours: float | None) -> datetime | None:
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
