"""How sure the hours are: many members of the same outage, each with what is not known drawn anew.

Loads by their figures' uncertainty and one habit factor for all of them; when thermostats run and tasks are done; the
sky of each day; what the battery delivers and what its gauge hides. The same draws for every plan, so that two plans
differ by what they are and not by luck.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.clock import FloatArray, Grid, grid
from imbuto.core.basics.evidence import TARGET_SPREAD
from imbuto.core.home.loads import Load
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import Part
from imbuto.core.run.band_members import (
    BAND_STEP_H,
    EVERY,
    MEMBERS,
    PARTS,
    Unsure,
    member_loads,
    member_stores,
    member_suns,
)
from imbuto.core.run.battery_store import Store
from imbuto.core.run.network import run_many
from imbuto.core.run.run import Run, line_charges, line_gives, line_lights
from imbuto.core.run.run_controls import Controls
from imbuto.core.run.run_switching import (
    absence_of,
    carriers,
    controls_of,
    pad_with_banks,
    steady,
    store_count,
    tiers_by_store,
)
from imbuto.core.run.run_trace import MembersResult

LOW, HIGH = 0.1, 0.9
AHEAD, AHEAD_H = 1.5, 12.0  # members are first drawn so far past the expected hours: most bands end there


@dataclass(frozen=True, slots=True)
class Band:
    """What 400 members came to.

    low_h: hours 9 in 10 exceed; median_h
    high_h: hours 1 in 10 exceed; None: still on at the end
    chance: of reaching the goal, 0 to 1, give or take 3 points
    spread: relative one sigma of the fed total
    """

    low_h: float | None
    median_h: float | None
    high_h: float | None
    chance: float
    spread: float


def fed_energy(run: Run) -> dict[str, float]:
    """Load id → mean W it draws over the outage's own length, turns at their share."""
    n = max(1, round(run.outage.hours / run.steps.step_h))
    return {item.load.id: float(item.watts(run.steps)[:n].mean()) for item in run.part.fed}


def total_spread(part: Part, watts: dict[str, float]) -> float:
    """Relative one sigma of the sum of independent load errors; 0 when nothing is fed."""
    total = sum(watts.values())
    if total <= 0:
        return 0.0
    return math.sqrt(sum((f.load.relative_spread * watts[f.load.id]) ** 2 for f in part.fed)) / total


def band(run: Run) -> Band:
    """The band of a run, everything varied that is not known."""
    return joint([run])


def joint(runs: Sequence[Run]) -> Band:
    """The band of several stations in one outage, which goes on until the first of them is dark: the same draws for
    all."""
    run = runs[0]
    dark = np.min([_first_dark(r) for r in runs], axis=0)
    return Band(
        low_h=_quantile(dark, LOW),
        median_h=_quantile(dark, 0.5),
        high_h=_quantile(dark, HIGH),
        chance=float((dark >= run.outage.goal_hours).mean()),
        spread=total_spread(run.part, fed_energy(run)),
    )


def _first_dark(run: Run) -> FloatArray:
    """First dark of every member, h, shape (m,), infinite where not in the time looked at."""
    first: FloatArray = members(run).first_dark_h.min(axis=1)
    return first


def curves(run: Run, hours: float) -> tuple[FloatArray, FloatArray]:
    """The charge that 9 in 10 members exceed, and that 1 in 10 do, at each quarter hour over the first hours."""
    charge = members(run, whole_h=hours).charge
    wh = np.array([s.available_wh for s in run.stores])
    low, high = np.quantile(charge @ (wh / wh.sum()), (LOW, HIGH), axis=0)
    return low, high


def made_of(run: Run) -> dict[Unsure, float]:
    """How wide the band would be, h, if only one part of it were not known."""
    widths: dict[Unsure, float] = {}
    for part in PARTS:
        dark = np.minimum(members(run, frozenset((part,))).first_dark_h.min(axis=1), run.steps.hours)
        widths[part] = float(np.quantile(dark, HIGH) - np.quantile(dark, LOW))
    return widths


def _quantile(dark: FloatArray, share: float) -> float | None:
    """The hours so many of the members do not exceed; None where they are still on. Never averaged over survivors."""
    hours = float(np.sort(dark)[int(share * len(dark))])
    return None if math.isinf(hours) else hours


def members(run: Run, vary: frozenset[Unsure] = EVERY, whole_h: float | None = None) -> MembersResult:
    """A run many times over, with what is not known drawn anew.

    It stops at each one's first dark; whole_h: goes on for so many hours all the same, and no further, with its charge.
    """
    if whole_h is not None:
        return _members(run, vary, math.ceil(whole_h / BAND_STEP_H) * BAND_STEP_H, whole=True)
    near_h = 24.0 * math.ceil((AHEAD * run.at_least_h + AHEAD_H) / 24)  # whole days: the light of those is known
    if run.hours is None or near_h >= run.steps.hours:
        return _members(run, vary, run.steps.hours, whole=False)
    near = _members(run, vary, near_h, whole=False)
    if np.isfinite(near.first_dark_h.min(axis=1)).all():
        return near
    return _members(run, vary, run.steps.hours, whole=False)


def _members(run: Run, vary: frozenset[Unsure], hours: float, *, whole: bool) -> MembersResult:
    now, outage, line = run.part, run.outage, run.line
    assert line is not None
    steps = grid(outage.start, now.home.site.time_zone, min(hours, run.steps.hours), BAND_STEP_H)
    full, start = member_stores(line.stores, line_charges(now, outage), varied="battery" in vary)
    many = run_many(
        line.stores,
        full,
        start,
        member_loads_in_line(now, steps, vary),
        BAND_STEP_H,
        sun_w=_member_suns(run, steps, varied="weather" in vary),
        tier_w=member_tiers(now, steps, vary),
        controls=controls_of(now, steps) if run.controls is not None else None,
        with_charge=whole,
        until_dark=not whole,
        of=line.own,
        away=absence_of(now, steps),
        gives=line_gives(now, outage, steps),
    )
    return MembersResult(many.first_dark_h[:, line.own], many.charge[:, :, line.own], many.tally)


def _member_suns(run: Run, steps: Grid, *, varied: bool) -> FloatArray | None:
    if run.line is None or run.line.suns_w is None:
        return None
    each = []
    for light in line_lights(run.part, run.outage, steps):
        none = np.zeros((MEMBERS, steps.n))
        each.append(none if light is None else member_suns(light, steps, run.outage, varied=varied))
    return np.ascontiguousarray(np.stack(each, axis=1))


def member_loads_in_line(now: Part, steps: Grid, vary: frozenset[Unsure] = EVERY) -> FloatArray:
    """Mean AC W of what is fed whatever the charge on each store of a line, for each member; (m, k, n)."""
    each = [pad_with_banks(x, member_loads(steady(x), steps, store_count(x), vary)) for x in carriers(now)]
    return each[0] if len(each) == 1 else np.concatenate(each, axis=1)


def member_tiers(now: Part, steps: Grid, vary: frozenset[Unsure] = EVERY) -> FloatArray | None:
    """Mean AC W of each tier of a line on its store while it is on, for each member, shape (m, t, n); None without
    tiers."""
    found = []
    for x in carriers(now):
        k = store_count(x)
        found += [member_loads(items, steps, k, vary)[:, t.store] for t, items in tiers_by_store(x, k)]
    return np.stack(found, axis=1) if found else None


def many_dark(
    now: Part,
    outage: Outage,
    sources: Sequence[tuple[Store, ...]],
    lights: Sequence[FloatArray | None],
    hours: float,
    controls: Controls | None,
) -> FloatArray:
    """First dark of every member with each of q sources that are alike but for what they hold and draw themselves, h,
    shape (q, m), infinite where not within the hours. lights: DC W at the inputs of each of its stores at each quarter
    hour, shape (n,), None without arrays. The draws are the band's own."""
    steps, k = grid(outage.start, now.home.site.time_zone, hours, BAND_STEP_H), len(sources[0])
    loads, tier_w = member_loads(steady(now), steps, k), member_tiers(now, steps)
    lit = [np.zeros(steps.n) if light is None else light for light in lights]
    sun = None
    if any(x.any() for x in lit):
        sun = np.ascontiguousarray(np.stack([member_suns(light, steps, outage) for light in lit], axis=1))
    found = np.empty((len(sources), len(loads)))
    for i, stores in enumerate(sources):
        full, start = member_stores(stores, [outage.charge_of(now.source.id)] * len(stores))
        many = run_many(stores, full, start, loads, BAND_STEP_H, sun_w=sun, tier_w=tier_w, controls=controls)
        found[i] = many.first_dark_h.min(axis=1)
    return found


def low_of(dark: FloatArray) -> FloatArray:
    """The hours 9 in 10 members exceed, for each row; shape (k,), infinite where they are still on."""
    found: FloatArray = np.sort(dark, axis=1)[:, int(LOW * dark.shape[1])]
    return found


@dataclass(frozen=True, slots=True)
class Measure:
    """A load worth measuring.

    share: of the variance of the hours, 0 to 1
    narrows_h: ± hours now minus ± then
    """

    load: Load
    share: float
    narrows_h: float


def meter_next(run: Run, most: int = 4) -> list[Measure]:
    """Fed loads ranked by how much measuring each to 8% narrows the hours of this outage."""
    watts = fed_energy(run)
    draw = run.store.draw_w(sum(watts.values()))
    total = sum((f.load.relative_spread * watts[f.load.id]) ** 2 for f in run.part.fed)
    if total <= 0 or draw <= 0:
        return []
    per_watt = run.at_least_h / run.store.efficiency / draw  # hours lost per W more, to first order
    found = []
    for item in run.part.fed:
        if item.assumed:
            continue
        own = (item.load.relative_spread * watts[item.load.id]) ** 2
        then = (min(item.load.relative_spread, TARGET_SPREAD) * watts[item.load.id]) ** 2
        narrows = (math.sqrt(total) - math.sqrt(total - own + then)) * per_watt
        if narrows > 1 / 60:
            found.append(Measure(item.load, own / total, narrows))
    return sorted(found, key=lambda m: -m.narrows_h)[:most]
