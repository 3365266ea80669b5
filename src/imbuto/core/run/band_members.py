"""What each member of a band draws: every load by its own figure, cycle and hour, all of them by one habit.

The same draws for every plan, so that two plans differ by what they are and not by luck.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from statistics import NormalDist
from typing import Literal
from zlib import crc32

import numpy as np

from imbuto.core.basics.clock import FloatArray, Grid
from imbuto.core.basics.evidence import lognormal_sigma
from imbuto.core.light.solar_light import day_of
from imbuto.core.plan.outage import Outage, Weather
from imbuto.core.plan.system import PoweredLoad
from imbuto.core.run.battery_store import Store
from imbuto.core.run.jit import CompiledFunction
from imbuto.core.run.run_switching import shares

Unsure = Literal["loads", "habits", "weather", "battery"]
PARTS: tuple[Unsure, ...] = ("loads", "habits", "weather", "battery")
EVERY = frozenset(PARTS)
MEMBERS, SEED = 400, 20261125
BAND_STEP_H = 0.25
HABITS = 0.10  # one sigma of all loads together: doors, guests, care; planning default
CYCLE_H = 1.0  # of a thermostat, where nothing tells it better; planning default
TASK_SHIFT_H = 1.0  # a task is done up to this much sooner or later; planning default
DELIVERABLE = 0.03  # one sigma of what a battery delivers of its label; planning default
GAUGE = 0.01  # one sigma of a charge read below full; planning default
SKY: dict[Weather, float] = {"clear": 0.05, "smoke": 0.15, "broken": 0.30, "overcast": 0.35, "storm": 0.40}  # likewise


def member_loads(fed: Sequence[PoweredLoad], steps: Grid, k: int = 1, vary: frozenset[Unsure] = EVERY) -> FloatArray:
    """Mean AC W of what is fed on each of k stores, for each member and step, shape (m, k, n)."""
    m, n = MEMBERS, steps.n
    out = np.zeros((m, k, n))
    plain: list[tuple[FloatArray, FloatArray, FloatArray]] = []
    for item in fed:
        sigma = lognormal_sigma(item.load.relative_spread)
        factor = lognormal(f"load {item.load.id}", sigma) if "loads" in vary else np.ones(m)
        part, load, base = shares(item, k), item.load, item.watts(steps)
        if "habits" in vary and item.feed.stance == "keep_on" and load.use.kind == "cycling":
            gap = load.run_w - load.rest_w
            duty = (load.average_w - load.rest_w) / gap if gap > 0 else 1.0
            if 0 < duty < 1:
                _add_cycling(
                    out,
                    part * (item.dc_share or 1.0),
                    factor,
                    uniforms(f"phase {load.id}"),
                    float(duty),
                    float(load.count * load.rest_w),
                    float(load.count * gap),
                    BAND_STEP_H / CYCLE_H,
                )
                continue
        if "habits" in vary and item.feed.stance == "keep_on" and load.use.kind == "tasks":
            shift = np.rint(TASK_SHIFT_H * (2 * uniforms(f"task {load.id}") - 1) / BAND_STEP_H).astype(np.int64)
            _add_shifted(out, part, factor, shift, base)
            continue
        plain.append((part, factor, base))
    if plain:
        factors, bases = np.stack([f for _, f, _ in plain], axis=1), np.stack([b for _, _, b in plain])
        for s in range(k):
            out[:, s] += factors @ (bases * np.array([p[s] for p, _, _ in plain])[:, None])
    if "habits" in vary:
        out *= lognormal("habits", lognormal_sigma(HABITS))[:, None, None]
    return out


@CompiledFunction
def _add_cycling(out, part, factor, phase, duty, rest_w, gap_w, cycles):  # type: ignore[no-untyped-def]
    """Add a thermostat with its own phase to every member; cycles: a step is so many. Exact inside the step."""
    m, k, n = out.shape
    for j in range(m):
        whole = np.floor(phase[j])
        before = whole * duty + min(phase[j] - whole, duty)
        for i in range(n):
            at = (i + 1) * cycles + phase[j]
            whole = np.floor(at)
            run_by = whole * duty + min(at - whole, duty)
            watts = (rest_w + gap_w * (run_by - before) / cycles) * factor[j]
            before = run_by
            for s in range(k):
                out[j, s, i] += watts * part[s]


@CompiledFunction
def _add_shifted(out, part, factor, shift, base):  # type: ignore[no-untyped-def]
    """Add tasks done some steps sooner or later to every member."""
    m, k, n = out.shape
    for j in range(m):
        for i in range(n):
            watts = base[min(max(i - shift[j], 0), n - 1)] * factor[j]
            for s in range(k):
                out[j, s, i] += watts * part[s]


def member_suns(light_w: FloatArray, steps: Grid, outage: Outage, *, varied: bool = True) -> FloatArray:
    """DC W at the inputs of a store under each member's own skies, which have a mean of 1; shape (m, n)."""
    if not varied:
        return np.broadcast_to(light_w, (MEMBERS, steps.n))
    days = day_of(steps)
    last = int(days[-1])
    each = np.stack([lognormal(f"sky {d}", lognormal_sigma(SKY[outage.sky_of(d)])) for d in range(last + 1)], axis=1)
    # In C order, whatever the index left: the march is compiled for arrays laid out one way.
    suns: FloatArray = np.ascontiguousarray(each[:, days] * light_w)
    return suns


def member_stores(
    stores: Sequence[Store], charges: Sequence[float], *, varied: bool = True
) -> tuple[FloatArray, FloatArray]:
    """What each member's stores can draw from full to empty, Wh, and their charge at the start, 0 to 1; (m, k).

    charges: of each store at the start, as its gauge shows it; one that is full is known to be
    """
    wh = np.array([s.available_wh for s in stores])
    full, start = np.repeat(wh[None], MEMBERS, axis=0), np.repeat(np.array(charges, dtype=float)[None], MEMBERS, axis=0)
    if not varied:
        return full, start
    full *= np.maximum(1 + DELIVERABLE / stores[0].deliverable * normals("deliverable"), 0.5)[:, None]
    unsure = start < 1
    start = np.where(unsure, np.clip(start + GAUGE * normals("gauge")[:, None], 0.0, 1.0), start)
    return full, start


def lognormal(name: str, sigma: float) -> FloatArray:
    """Factors with a mean of 1, shape (m,)."""
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
