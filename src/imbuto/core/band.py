"""How sure the hours are: many members of the same outage, each with what is not known drawn anew.

Loads by their figures' uncertainty and one habit factor for all of them; when thermostats run and tasks are done; the
sky of each day; what the battery delivers and what its gauge hides. The same draws for every plan, so that two plans
differ by what they are and not by luck.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from statistics import NormalDist
from typing import Literal
from zlib import crc32

import numpy as np

from imbuto.core.balance import Store
from imbuto.core.clock import FloatArray, Grid, grid
from imbuto.core.controls import Controls
from imbuto.core.evidence import TARGET_SPREAD, lognormal_sigma
from imbuto.core.helm import Helm
from imbuto.core.joining import Fed, Joined
from imbuto.core.loads import Load
from imbuto.core.members import Pool, advance
from imbuto.core.outage import Outage, Weather
from imbuto.core.run import Run
from imbuto.core.solar import day_of, solar_w
from imbuto.core.switching import controls_of, steady, tiers

Part = Literal["loads", "habits", "weather", "battery"]
PARTS: tuple[Part, ...] = ("loads", "habits", "weather", "battery")
MEMBERS, SEED = 400, 20261125
BAND_STEP_H = 0.25
DAY = 96  # steps
HABITS = 0.10  # one sigma of all loads together: doors, guests, care; planning default
CYCLE_H = 1.0  # of a thermostat, where nothing tells it better; planning default
TASK_SHIFT_H = 1.0  # a task is done up to this much sooner or later; planning default
DELIVERABLE = 0.03  # one sigma of what a battery delivers of its label; planning default
GAUGE = 0.01  # one sigma of a charge read below full; planning default
SKY: dict[Weather, float] = {"clear": 0.05, "smoke": 0.15, "broken": 0.30, "overcast": 0.35, "storm": 0.40}  # likewise
LOW, HIGH = 0.1, 0.9


@dataclass(frozen=True, slots=True)
class Band:
    """What 400 members came to. low_h: hours 9 in 10 exceed; median_h; high_h: hours 1 in 10 exceed; None: still on at the
    end. chance: of reaching the goal, 0 to 1, give or take 3 points; spread: relative one sigma of the fed total."""

    low_h: float | None
    median_h: float | None
    high_h: float | None
    chance: float
    spread: float


def fed_energy(run: Run) -> dict[str, float]:
    """Load id → mean W it draws over the outage's own length, turns at their share."""
    n = max(1, round(run.outage.hours / run.steps.step_h))
    return {item.load.id: float(item.watts(run.steps)[:n].mean()) for item in run.joined.fed}


def total_spread(joined: Joined, watts: dict[str, float]) -> float:
    """Relative one sigma of the sum of independent load errors; 0 when nothing is fed."""
    total = sum(watts.values())
    if total <= 0:
        return 0.0
    return math.sqrt(sum((f.load.relative_spread * watts[f.load.id]) ** 2 for f in joined.fed)) / total


def band(run: Run) -> Band:
    """The band of a run, everything varied that is not known."""
    return joint([run])


def joint(runs: Sequence[Run]) -> Band:
    """The band of several stations in one outage, which goes on until the first of them is dark: the same draws for all."""
    run = runs[0]
    dark = np.min([_first_dark(r) for r in runs], axis=0)
    return Band(
        low_h=_quantile(dark, LOW), median_h=_quantile(dark, 0.5), high_h=_quantile(dark, HIGH),
        chance=float((dark >= run.outage.goal_hours).mean()), spread=total_spread(run.joined, fed_energy(run)),
    )  # fmt: skip


def _first_dark(run: Run) -> FloatArray:
    """First dark of every member, h, shape (m,), infinite where not in the time looked at."""
    if run.controls is not None:
        return run_members(run, frozenset(PARTS))[0]
    steps = grid(run.outage.start, run.joined.home.site.time_zone, run.steps.hours, BAND_STEP_H)
    first: FloatArray = _drained(run.joined, run.outage, [run.store], steps)[0]
    return first


def curves(run: Run, hours: float) -> tuple[FloatArray, FloatArray]:
    """The charge that 9 in 10 members exceed, and that 1 in 10 do, at each quarter hour over the first hours."""
    charge = run_members(run, frozenset(PARTS), whole_h=hours)[1]
    return np.quantile(charge, LOW, axis=1), np.quantile(charge, HIGH, axis=1)


def made_of(run: Run) -> dict[Part, float]:
    """How wide the band would be, h, if only one part of it were not known."""
    widths: dict[Part, float] = {}
    for part in PARTS:
        dark = np.minimum(run_members(run, frozenset((part,)))[0], run.steps.hours)
        widths[part] = float(np.quantile(dark, HIGH) - np.quantile(dark, LOW))
    return widths


def _quantile(dark: FloatArray, share: float) -> float | None:
    """The hours so many of the members do not exceed; None where they are still on. Never averaged over survivors."""
    hours = float(np.sort(dark)[int(share * len(dark))])
    return None if math.isinf(hours) else hours


def run_members(run: Run, vary: frozenset[Part], whole_h: float | None = None) -> tuple[FloatArray, FloatArray]:
    """First dark, h, shape (m,), infinite where never; and the charge at each quarter hour, shape (n + 1, m).

    It stops, a day at a time, once all have been dark; whole_h: goes on for so many hours all the same, and no further.
    """
    now, outage = run.joined, run.outage
    steps = grid(outage.start, now.home.site.time_zone, run.steps.hours, BAND_STEP_H)
    full = np.full(MEMBERS, run.store.available_wh)
    start = np.full(MEMBERS, outage.start_charge)
    if "battery" in vary:
        full, start = _charges(run.store, outage.start_charge)
    light = solar_w(now, outage, steps) if run.solar_w is not None else None
    pool, charge = Pool(run.store, full, start), [start[None, :]]
    grouped = tiers(now)
    helm = Helm(controls_of(now, steps), MEMBERS) if run.controls is not None else None
    last = steps.n if whole_h is None else min(steps.n, math.ceil(whole_h / BAND_STEP_H))
    for first in range(0, last, DAY):
        part = slice(first, min(first + DAY, last))
        load_w = member_loads(steady(now), steps, part, vary)
        tiers_w = [member_loads(items, steps, part, vary) for _, items in grouped]
        sun = None
        if light is not None:
            sun = light[part, None] * _skies(steps, part, outage, varied="weather" in vary)
        charge.append(advance(pool, load_w, first * BAND_STEP_H, BAND_STEP_H, sun, helm, tiers_w))
        if whole_h is None and np.isfinite(pool.first_dark_h).all():
            break
    return pool.first_dark_h, np.vstack(charge)


def many_dark(
    now: Joined,
    outage: Outage,
    stores: Sequence[Store],
    light: FloatArray | None,
    hours: float,
    controls: Controls | None,
) -> FloatArray:
    """First dark of every member with each of k stores that are alike but for what they hold and draw themselves, h, shape
    (k, m), infinite where not within the hours. light: DC W at each quarter hour, shape (n,). The draws are the band's own."""
    k, steps = len(stores), grid(outage.start, now.home.site.time_zone, hours, BAND_STEP_H)
    if controls is None and (light is None or not light.any()):
        return _drained(now, outage, stores, steps)
    full, start = zip(*(_charges(s, outage.start_charge) for s in stores), strict=True)
    pool = Pool(
        stores[0], np.concatenate(full), np.concatenate(start),
        idle_w=np.repeat([s.idle_w for s in stores], MEMBERS).astype(float),
    )  # fmt: skip
    helm = Helm(controls, k * MEMBERS) if controls is not None else None
    vary, grouped = frozenset(PARTS), tiers(now)
    for first in range(0, steps.n, DAY):
        part = slice(first, min(first + DAY, steps.n))
        load_w = np.tile(member_loads(steady(now), steps, part, vary), (1, k))
        tiers_w = [np.tile(member_loads(items, steps, part, vary), (1, k)) for _, items in grouped]
        sun = None
        if light is not None:
            sun = np.tile(light[part, None] * _skies(steps, part, outage, varied=True), (1, k))
        advance(pool, load_w, first * BAND_STEP_H, BAND_STEP_H, sun, helm, tiers_w)
        if np.isfinite(pool.first_dark_h).all():
            break
    return pool.first_dark_h.reshape(k, MEMBERS)


def _drained(now: Joined, outage: Outage, stores: Sequence[Store], steps: Grid) -> FloatArray:
    """The same where nothing comes in: what is drawn by each quarter hour is summed once, whatever the store."""
    loads = member_loads(steady(now), steps, slice(0, steps.n), frozenset(PARTS))
    asked = np.cumsum(loads, axis=0) * BAND_STEP_H
    hour = np.arange(1, steps.n + 1)[:, None] * BAND_STEP_H
    found = np.empty((len(stores), MEMBERS))
    for i, store in enumerate(stores):
        full, start = _charges(store, outage.start_charge)
        usable = full * np.maximum(start - store.floor, 0.0)
        drawn = np.vstack([np.zeros(MEMBERS), asked / store.efficiency + store.idle_w * hour])
        past = drawn[1:] > usable
        first = past.argmax(axis=0)
        at = np.arange(MEMBERS)
        before, rate = drawn[first, at], np.maximum(drawn[first + 1, at] - drawn[first, at], 1e-12)
        dark = (first + (usable - before) / rate) * BAND_STEP_H
        found[i] = np.where(past.any(axis=0), dark, np.inf)
    return found


def low_of(dark: FloatArray) -> FloatArray:
    """The hours 9 in 10 members exceed, for each row; shape (k,), infinite where they are still on."""
    found: FloatArray = np.sort(dark, axis=1)[:, int(LOW * dark.shape[1])]
    return found


def _charges(store: Store, start_charge: float) -> tuple[FloatArray, FloatArray]:
    """What each member can draw from full to empty, Wh, and its charge at the start, 0 to 1; shape (m,)."""
    full = store.available_wh * np.maximum(1 + DELIVERABLE / store.deliverable * normals("deliverable"), 0.5)
    start = np.full(MEMBERS, start_charge)
    if start_charge < 1:
        start = np.clip(start + GAUGE * normals("gauge"), 0.0, 1.0)
    return full, start


def member_loads(fed: Sequence[Fed], steps: Grid, part: slice, vary: frozenset[Part]) -> FloatArray:
    """Mean AC W of what is fed in a part of the steps, for each member, shape (n, m)."""
    plain: list[tuple[FloatArray, FloatArray]] = []
    total = np.zeros((part.stop - part.start, MEMBERS))
    for item in fed:
        sigma = lognormal_sigma(item.load.relative_spread)
        factor = _lognormal(f"load {item.load.id}", sigma) if "loads" in vary else np.ones(MEMBERS)
        base = item.watts(steps)
        if "habits" in vary and _swings(item):
            total += _swung(item, base, steps, part) * factor
        else:
            plain.append((base[part], factor))
    if plain:
        total += np.stack([b for b, _ in plain], axis=1) @ np.stack([f for _, f in plain])
    if "habits" in vary:
        total *= _lognormal("habits", lognormal_sigma(HABITS))
    return total


def _swings(item: Fed) -> bool:
    return item.feed.stance == "keep_on" and item.load.use.kind in ("cycling", "tasks")


def _swung(item: Fed, base: FloatArray, steps: Grid, part: slice) -> FloatArray:
    """A load's W with its own cycle phase, or its tasks sooner or later, for each member; shape (n, m)."""
    load = item.load
    if load.use.kind == "cycling":
        gap = load.run_w - load.rest_w
        duty = (load.average_w - load.rest_w) / gap if gap > 0 else 1.0
        if not 0 < duty < 1:
            return np.repeat(base[part, None], MEMBERS, axis=1)
        return load.count * (load.rest_w + gap * _running(duty, uniforms(f"phase {load.id}"), part))
    shift = np.rint(TASK_SHIFT_H * (2 * uniforms(f"task {load.id}") - 1) / BAND_STEP_H).astype(int)
    swung: FloatArray = base[np.clip(np.arange(part.start, part.stop)[:, None] - shift, 0, steps.n - 1)]
    return swung


def _running(duty: float, phase: FloatArray, part: slice) -> FloatArray:
    """The share of each step that a thermostat runs, exact inside the step; shape (n, m)."""
    at = np.arange(part.start, part.stop + 1)[:, None] * (BAND_STEP_H / CYCLE_H) + phase
    whole = np.floor(at)
    run_by = whole * duty + np.minimum(at - whole, duty)
    share: FloatArray = np.diff(run_by, axis=0) * (CYCLE_H / BAND_STEP_H)
    return share


def _skies(steps: Grid, part: slice, outage: Outage, *, varied: bool) -> FloatArray:
    """What each day's sky does to the light, with a mean of 1; shape (n, m)."""
    if not varied:
        return np.ones((part.stop - part.start, MEMBERS))
    days = day_of(steps)[part]
    each = {int(d): _lognormal(f"sky {d}", lognormal_sigma(SKY[outage.sky_of(int(d))])) for d in np.unique(days)}
    return np.stack([each[int(d)] for d in days])


def _lognormal(name: str, sigma: float) -> FloatArray:
    """Factors with a mean of 1."""
    factors: FloatArray = np.exp(sigma * normals(name) - sigma * sigma / 2)
    return factors


@lru_cache(maxsize=1024)
def uniforms(name: str) -> FloatArray:
    """One number in each of m even strata of 0 to 1, in an order of the name's own; shape (m,). Do not write to it."""
    order = np.random.default_rng([SEED, crc32(name.encode())]).permutation(MEMBERS)
    strata: FloatArray = (order + 0.5) / MEMBERS
    return strata


@lru_cache(maxsize=1024)
def normals(name: str) -> FloatArray:
    """The same, standard normal."""
    inverse = NormalDist().inv_cdf
    return np.array([inverse(u) for u in uniforms(name)])


@dataclass(frozen=True, slots=True)
class Measure:
    """A load worth measuring. share: of the variance of the hours, 0 to 1; narrows_h: ± hours now minus ± then."""

    load: Load
    share: float
    narrows_h: float


def meter_next(run: Run, most: int = 4) -> list[Measure]:
    """Fed loads ranked by how much measuring each to 8 % narrows the hours of this outage."""
    watts = fed_energy(run)
    draw = run.store.draw_w(sum(watts.values()))
    total = sum((f.load.relative_spread * watts[f.load.id]) ** 2 for f in run.joined.fed)
    if total <= 0 or draw <= 0:
        return []
    per_watt = run.at_least_h / run.store.efficiency / draw  # hours lost per W more, to first order
    found = []
    for item in run.joined.fed:
        if item.assumed:
            continue
        own = (item.load.relative_spread * watts[item.load.id]) ** 2
        then = (min(item.load.relative_spread, TARGET_SPREAD) * watts[item.load.id]) ** 2
        narrows = (math.sqrt(total) - math.sqrt(total - own + then)) * per_watt
        if narrows > 1 / 60:
            found.append(Measure(item.load, own / total, narrows))
    return sorted(found, key=lambda m: -m.narrows_h)[:most]
