"""The stores in an outage: what each holds, what its gauge has taught, and when it goes dark."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Literal

import numpy as np

from imbuto.core.advice.verdict import Verdict, judge_one
from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.units import until
from imbuto.core.equipment.catalogue import Station
from imbuto.core.home.live_outage import GaugeNote, Live
from imbuto.core.outages.gauge_learning import LOW, NINE_IN_TEN, GaugeReading, LearntFigures, learn
from imbuto.core.outages.outage_changes import as_lived, ends_at, hour_of
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
STALE_H = 1 / 3  # so long what it showed last is taken to be still so; it is kept four times an hour at least


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadLine:
    """A line's watts beside the plan's at that moment. apart: so far more that something else is on, so far
    less that what should be is not."""

    note: str
    planned_w: float
    apart: Literal["", "more", "less"]


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


@dataclass(frozen=True, slots=True)
class StoreHistory:
    """A store with all that was read of it.

    load_w, came_w: AC W asked of it in each step since it went out, and W into it, as lived
    seen: every gauge reading, the first at the start
    first: of them, the one that all goes by
    skip: steps before that
    found: None where its gauge teaches nothing
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
    seen: list[GaugeReading]
    first: int
    skip: int
    found: LearntFigures | None

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
    length = (live.back_by - live.began).total_seconds() / 3600 if live.back_by is not None else like.hours
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
    load, came = as_lived(run, live)
    if run.solar_w is not None:
        came = came + run.solar_w * store.mppt_efficiency
    own = (n for n in live.notes.values() if n.source == source.id and (live.ended is None or n.at <= live.ended))
    lines = sorted(own, key=lambda n: n.at)
    read = [*(GaugeReading(hour_of(live, n.at), n.charge, n.given_wh) for n in lines), *sampled(shown, live)]
    seen = [GaugeReading(0.0, live.charges.get(source.id, 1.0)), *sorted(read, key=lambda s: s.hour)]
    if run.line is not None and len(run.line.stores) > 1:
        return StoreHistory(v, run, source, station, live, now, lines, shown, load, came, seen, 0, 0, None)
    first = _charged(seen, came, step, store.available_wh)
    skip = min(int(seen[first].hour / step), len(load) - 1)
    moved = [replace(s, hour=max(s.hour - skip * step, 0.0)) for s in seen[first:]]
    found = learn(
        moved,
        load[skip:],
        came[skip:],
        step,
        full_wh=store.available_wh,
        efficiency=store.efficiency,
        idle_w=store.idle_w,
        floor=store.floor,
    )
    return StoreHistory(v, run, source, station, live, now, lines, shown, load, came, seen, first, skip, found)


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
    """A store as it is shown."""
    found, store, promise = k.found, k.run.store, k.live.promises.get(k.source.id)
    motor, since = engine_of(k.verdict.part), hour_of(k.live, k.now)
    low_h, start_h = k.dark_h(LOW) if store.floor < LOW else None, k.dark_h(motor.start_at) if motor else None
    out_w, in_w = _shown_w(k)
    runs_on = any(t.kind == "engine" and ends_at(k.live, t) > since for t in k.live.taken.values())
    return StoreLive(
        source=k.source.id,
        name=k.station.name,
        charge=_charge_now(k),
        error=found.charge_error if found else 0.0,
        floor=store.floor if store.floor < 1 else 0.0,  # at 1 the march only says that nobody calls on it
        dark_at=k.at(found.dark_h if found else k.run.hours),
        early_at=k.at(found.early_h if found else _low_h(k)),
        late_at=k.at(found.late_h) if found else None,
        promised_at=_at(k.live, promise.hours if promise else None),
        planned_w=float(k.load_w[min(max(int(since / k.step_h), 0), len(k.load_w) - 1)]),
        out_w=out_w,
        in_w=in_w,
        scale=found.scale if found else 1.0,
        idle_w=found.idle_w if found else store.idle_w,
        apart=found is not None and found.apart,
        notes=len(k.lines),
        streamed=bool(k.shown),
        read_at=k.live.began + timedelta(hours=k.seen[-1].hour),
        low_at=k.at(low_h),
        start_at=None if runs_on else k.at(start_h),
        since_at=k.live.began + timedelta(hours=k.seen[k.first].hour) if k.first else None,
        alone=found is not None,
        lines=[_read_line(n, k) for n in k.lines if n.out_w is not None],
        engine=found is not None and motor is not None and not runs_on,
    )


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
    return None if hours is None else until(live.began, hours).replace(second=0, microsecond=0)


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
    if k.found is None:
        curve = k.run.charge
        gone = np.interp([last.hour, max(since, last.hour)], np.arange(len(curve)) * k.step_h, curve)
        return min(max(last.charge + float(gone[1] - gone[0]), 0.0), 1.0)
    ends = np.arange(len(k.load_w) + 1) * k.step_h
    net = k.found.scale * k.load_w / k.run.store.efficiency + k.found.idle_w - k.came_w
    drawn = np.interp([last.hour, max(since, last.hour)], ends, np.concatenate([[0.0], np.cumsum(net) * k.step_h]))
    return float(min(max(k.found.charge - (drawn[1] - drawn[0]) / k.run.store.available_wh, 0.0), 1.0))
