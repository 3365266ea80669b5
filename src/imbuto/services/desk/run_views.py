"""A run in full, for the Hours place; and what each station would do, for the Source place."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from decimal import Decimal

import numpy as np

from imbuto.core.advice.verdict import STATE_WORDS, State, Verdict, judge_one
from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.units import clock_text, until
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.equipment.power_station import Station
from imbuto.core.home.home import Home
from imbuto.core.plan.itemised_costs import to_buy_storing
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan, Stance
from imbuto.core.plan.sources import Source
from imbuto.core.plan.system import equipment_in, feed_name, own_part, resolve
from imbuto.core.run.band import Band, curves, made_of
from imbuto.core.run.band_members import BAND_STEP_H, Unsure
from imbuto.core.run.food_warming import food
from imbuto.core.run.hand_check import hand_check, waterfall
from imbuto.core.run.nights import nights
from imbuto.core.run.run import Run

MOST_POINTS = 500


@dataclass(frozen=True, slots=True, kw_only=True)
class StripPiece:
    """A stretch of one strip: elapsed hours from and to, and the mean W in it."""

    from_h: float
    to_h: float
    w: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Strip:
    """When one feed is served. average_w: while it is in its turn, until dark."""

    feed: str
    name: str
    stance: Stance
    cycles: bool
    average_w: float
    pieces: list[StripPiece]


@dataclass(frozen=True, slots=True, kw_only=True)
class FactorView:
    """One factor of the hand check."""

    name: str
    shown: str
    evidence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DropView:
    """One bar of the waterfall, Wh, signed."""

    name: str
    wh: float
    kind: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """A stretch of time, elapsed hours."""

    from_h: float
    to_h: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Tick:
    """A mark on the time axis: elapsed hours and the local clock."""

    h: float
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PartWidth:
    """How wide the band would be, h, if only this were not known."""

    part: Unsure
    hours: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FoodView:
    """A refrigerator or freezer in this outage; may_off_h: None for as long as it likes, in a room that is cold
    enough."""

    load: str
    name: str
    limit_c: float
    warmest_c: float
    over_h: float
    longest_off_h: float
    may_off_h: float | None
    fed: bool
    safe: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class RunView:
    """A run as drawn.

    hour, charge, low, high: same length; charge as 0 to 1
    sun: DC W from each hour to the next, none without arrays; nights in elapsed hours
    engine: when a generator runs, and fuel_l what it burns in all
    back_h: when it comes back from the dark
    source: whose run it is
    food: how warm it gets over the outage's own length
    """

    start: datetime
    simulated_h: float
    shown_h: float
    hour: list[float]
    charge: list[float]
    low: list[float]
    high: list[float]
    floor: float
    nominal_wh: float
    sun: list[float]
    made_of: list[PartWidth]
    nights: list[Span]
    ticks: list[Tick]
    dark_h: float | None
    dark_label: str | None
    strips: list[Strip]
    waterfall: list[DropView]
    factors: list[FactorView]
    formula: str
    paper_hours: float | None
    why: str
    served_wh: float
    asked_wh: float
    engine: list[Span]
    fuel_l: float
    back_h: list[float]
    source: str
    food: list[FoodView]


def run_view(v: Verdict, band: Band | None) -> RunView | None:
    """Show the run of one station, None where there is none. band: of its hours, or of the plan's where it leads."""
    run = v.run
    if run is None or band is None:
        return None
    shown = _shown_h(run, band.high_h)
    n = min(run.steps.n, round(shown / run.steps.step_h))
    stride = max(1, n // MOST_POINTS)
    paper = hand_check(run)
    low, high = curves(run, n * run.steps.step_h)
    hour = [round(i * run.steps.step_h, 4) for i in range(0, n + 1, stride)]
    return RunView(
        start=run.steps.start,
        simulated_h=run.steps.hours,
        shown_h=n * run.steps.step_h,
        hour=hour,
        charge=_thin(run, n, stride),
        low=_quarters(low, hour),
        high=_quarters(high, hour),
        made_of=[PartWidth(part=p, hours=h) for p, h in made_of(run).items()],
        floor=run.store.floor,
        nominal_wh=run.store.nominal_wh,
        sun=_sun(run, n, stride),
        nights=[Span(from_h=a, to_h=min(b, shown)) for a, b in nights(run.part.home.site, run.steps) if a < shown],
        ticks=ticks(run, shown),
        dark_h=run.hours,
        dark_label=clock_text(until(run.steps.start, run.hours)) if run.hours is not None else None,
        strips=strips(run, n),
        waterfall=[DropView(name=d.name, wh=d.wh, kind=d.kind) for d in waterfall(run)],
        factors=[FactorView(name=f.name, shown=f.shown, evidence=f.evidence) for f in paper.factors],
        formula=paper.formula,
        paper_hours=paper.hours,
        why=paper.why,
        served_wh=run.served_wh,
        asked_wh=run.asked_wh,
        engine=engine_spans(run, n * run.steps.step_h),
        fuel_l=float(run.trace.fuel_l.sum()),
        source=run.part.source.id,
        back_h=[e.hour for e in run.trace.events if e.kind == "back"],
        food=_food(run),
    )


def _shown_h(run: Run, high_h: float | None) -> float:
    """As much as is worth drawing: the outage and the goal, and until even the lucky case is dark."""
    want = max(run.outage.hours, run.outage.goal_hours, run.steps.hours if high_h is None else high_h)
    return float(min(np.ceil(want * 1.04), run.steps.hours))


def _sun(run: Run, n: int, stride: int) -> list[float]:
    """Mean DC W from each shown point to the next."""
    if run.solar_w is None:
        return []
    return [
        round(float(run.solar_w[i : i + stride].mean()), 1) if i < run.steps.n else 0.0 for i in range(0, n + 1, stride)
    ]


def engine_spans(run: Run, until_h: float) -> list[Span]:
    """When a generator runs, to the minute, up to an elapsed hour."""
    found: list[Span] = []
    since: float | None = None
    for event in run.trace.events:
        if event.kind == "engine_on" and event.hour < until_h:
            since = event.hour
        elif event.kind in ("engine_off", "tank_empty") and since is not None:
            found.append(Span(from_h=since, to_h=min(event.hour, until_h)))
            since = None
    return found if since is None else [*found, Span(from_h=since, to_h=until_h)]


def _quarters(charge: FloatArray, hour: list[float]) -> list[float]:
    """A curve of quarter hours at these hours."""
    at = np.arange(len(charge)) * BAND_STEP_H
    return [round(float(c), 5) for c in np.interp(hour, at, charge)]


def _thin(run: Run, n: int, stride: int) -> list[float]:
    return [round(c, 5) for c in run.charge[: n + 1 : stride].tolist()]


def ticks(run: Run, shown_h: float) -> list[Tick]:
    """Marks at local midnight, which names the day, and noon; every six or two hours when the axis is short."""
    every = 12 if shown_h > 40 else 6 if shown_h > 12 else 2
    found = []
    for k in range(int(shown_h) + 2):
        h = k - run.steps.start.minute / 60 - run.steps.start.second / 3600
        moment = run.steps.moment(h)
        if moment.hour % every == 0 and 0 <= h <= shown_h:
            # A day is named where it begins, once each, and its hours by the clock.
            at = f"{moment:%a}" if moment.hour == 0 else "noon" if moment.hour == 12 else ""
            label = at or clock_text(moment).partition(" ")[2].replace(":00", "")
            found.append(Tick(h=h, label=label))
    return found


def strips(run: Run, n: int) -> list[Strip]:
    """A strip a feed, in the order of what draws most."""
    by_feed: dict[str, FloatArray] = {}
    cycles: dict[str, bool] = {}
    on = _on(run)
    for item in run.part.fed:
        watts = item.watts(run.steps) * on.get(item.feed.id, 1.0)
        by_feed[item.feed.id] = by_feed.get(item.feed.id, np.zeros(run.steps.n)) + watts
        cycling = item.load.use.kind == "cycling"
        cycles[item.feed.id] = cycles.get(item.feed.id, True) and cycling
    lit = lit_spans(run)
    found = []
    for feed_id, watts in by_feed.items():
        feed = run.part.plan.feeds[feed_id]
        drawing = watts[watts > 0.5]
        found.append(
            Strip(
                feed=feed_id,
                name=feed_name(run.part.home, feed),
                stance=feed.stance,
                cycles=cycles[feed_id],
                average_w=float(drawing.mean()) if len(drawing) else 0.0,
                pieces=_pieces(watts[:n], run.steps.step_h, lit),
            )
        )
    return sorted(found, key=lambda s: -sum((p.to_h - p.from_h) * p.w for p in s.pieces))


def _food(run: Run) -> list[FoodView]:
    h, lit, on = run.steps.step_h, lit_spans(run), _on(run)
    light = np.zeros(run.steps.n, dtype=bool)
    for a, b in lit:
        light[round(a / h) : round(b / h)] = True
    power = {}
    for item in run.part.fed:
        drawing = item.watts(run.steps) > 0.0
        power[item.load.id] = light & drawing & (on.get(item.feed.id, np.ones(run.steps.n)) > 0)
    return [
        FoodView(
            load=f.load.id,
            name=f.load.name,
            limit_c=f.limit_c,
            warmest_c=f.warmest_c,
            over_h=f.over_h,
            longest_off_h=f.longest_off_h,
            may_off_h=f.may_off_h if math.isfinite(f.may_off_h) else None,
            fed=f.fed,
            safe=f.safe,
        )
        for f in food(run, power)
    ]


def _on(run: Run) -> dict[str, FloatArray]:
    """Feed id → 1 in each step it is fed in, where it comes and goes with the charge."""
    found: dict[str, FloatArray] = {}
    for j, (_, items) in enumerate(run.tiers):
        on = np.zeros(run.steps.n)
        known = run.trace.tiers_on[:, j]
        on[: len(known)] = known
        for item in items:
            found[item.feed.id] = np.maximum(on, found.get(item.feed.id, 0.0))
    return found


def lit_spans(run: Run) -> list[tuple[float, float]]:
    """When the source is not dark, elapsed hours."""
    found, since = [], 0.0
    for event in run.trace.events:
        if event.kind not in ("dark", "back"):
            continue
        if event.kind == "dark":
            found.append((since, event.hour))
        since = event.hour if event.kind == "back" else run.steps.hours
    return [*found, (since, run.steps.hours)] if since < run.steps.hours else found


def _pieces(watts: FloatArray, step_h: float, lit: list[tuple[float, float]]) -> list[StripPiece]:
    """Runs of equal watts while there is power; nothing where it draws under half a watt."""
    cuts = np.flatnonzero(np.abs(np.diff(watts)) > 0.5) + 1
    edges: Sequence[int] = [0, *cuts.tolist(), len(watts)]
    found = []
    for a, b in itertools.pairwise(edges):
        if watts[a] <= 0.5:
            continue
        for start, stop in lit:
            first, last = max(a * step_h, start), min(b * step_h, stop)
            if last > first:
                found.append(StripPiece(from_h=first, to_h=last, w=float(watts[a])))
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class Option:
    """One station, or its units linked, with so many modules in this plan's place.

    may: it may trip, by what is assumed
    price: still to be paid for it
    more: its price less that of one module fewer, None for the first
    hours, low_hours: expected, and 9 in 10; None when never dark, or when it does not run
    gained_h: expected hours more than with one module fewer; None for the first, or where either does not run or is
        still on at the end
    own_w: DC W it and its modules take for themselves
    own_draw: the share of its store that this is in a day
    charger_w: AC W its charger takes
    refill_h: from the wall, empty to full, None where its charger is unlisted
    """

    modules: int
    nominal_wh: float
    price: Decimal
    state: State
    words: str
    may: bool
    hours: float | None
    low_hours: float | None
    neck: str
    gained_h: float | None
    more: Decimal | None
    own_w: float
    own_draw: float
    charger_w: float
    refill_h: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class StationView:
    """A station with what it would do here."""

    station: Station
    options: list[Option]


def options(
    home: Home, plan: Plan, outage: Outage, catalogue: Catalogue, source_id: str | None = None
) -> list[StationView]:
    """Every station of the house's voltage in the place of one source, the first where none is named, with each
    number of modules, judged with the plan as it stands."""
    key = source_id or next(iter(plan.sources), "main")
    spot = plan.sources.get(key) or Source(id=key, station="")
    own = own_part(plan, key) if key in plan.sources else plan
    there = resolve(home, own, catalogue).each[0]
    found = []
    for station in sorted(catalogue.stations.values(), key=lambda s: (s.nominal_wh, s.id)):
        car = equipment_in(own, catalogue).traits.from_vehicle
        if station.leg_volts != home.service.volts or (station.vehicle != car and station.id != spot.station):
            continue
        judged: list[Option] = []
        # Another station stands alone, with modules of its own kind, until someone links it.
        alone = replace(spot, station=station.id, module=None, units=1, link="parallel")
        base = spot if station.id == spot.station else alone
        for modules in range(station.max_modules * base.units + 1):
            source = replace(base, modules=modules)
            v = judge_one(home, replace(plan, sources=plan.sources | {key: source}), outage, catalogue, key)
            whole = v.part.station
            price, before = to_buy_storing(v.part, there), judged[-1] if judged else None
            hours = v.run.hours if v.run else None
            gained = before is not None and before.state == v.state == "runs" and None not in (before.hours, hours)
            judged.append(
                Option(
                    modules=modules,
                    nominal_wh=whole.stored_wh(modules),
                    price=price,
                    more=price - before.price if before else None,
                    state=v.state,
                    words=STATE_WORDS[v.state],
                    may=v.fits and v.may_trip is not None,
                    hours=hours,
                    gained_h=(hours or 0.0) - (before.hours or 0.0) if before and gained else None,
                    low_hours=v.band.low_h if v.band else None,
                    neck=v.neck.title if v.neck else "",
                    own_w=whole.own_draw_w(modules),
                    own_draw=24 * whole.own_draw_w(modules) / whole.stored_wh(modules),
                    charger_w=whole.charger_w(modules),
                    refill_h=whole.refill_h(modules),
                )
            )
        found.append(StationView(station=station, options=judged))
    return found
