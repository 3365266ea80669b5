"""What last year's meter says: the same plan over the house's own draw, and through the outages that the meter saw."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from imbuto.core.basics.clock import BoolArray, FloatArray
from imbuto.core.everyday.ordinary_year import Year
from imbuto.core.everyday.readiness import A_HOUR, lasts
from imbuto.core.everyday.year_ground import STEP_H, Ground

LEAST_H = 0.5  # without a reading, or at nothing, that is taken for an outage; planning default
MOST_H = 336.0
NOTHING_W = 1.0


@dataclass(frozen=True, slots=True)
class MeteredYear:
    """A year's ground by the meter.

    there: the steps it tells of, (n,)
    gone: outages that it saw, as first step and steps
    """

    ground: Ground
    there: BoolArray
    gone: tuple[tuple[int, int], ...]


def with_metered_draw(g: Ground, seconds: FloatArray, watts: FloatArray) -> MeteredYear:
    """The ground with the house's own draw where its meter tells it.

    seconds: UTC at which each interval begins, ascending
    watts: mean W over it. What hangs on the source keeps its part of the house.
    """
    at = g.steps.start.timestamp() + (np.arange(g.steps.n) + 0.5) * STEP_H * 3600
    length = float(np.median(np.diff(seconds))) if len(seconds) > 1 else 3600.0
    i = np.searchsorted(seconds, at, side="right") - 1
    inside = (i >= 0) & (at < seconds[-1] + length)
    told = inside & (at - seconds[np.maximum(i, 0)] < length * 1.01)
    house = np.where(told, watts[np.maximum(i, 0)], 0.0)
    dead = inside & (~told | (house < NOTHING_W))
    gone = tuple((a, n) for a, n in _runs(dead) if LEAST_H <= n * STEP_H <= MOST_H)
    use = told & (house >= NOTHING_W)
    return MeteredYear(with_house(g, house, use), use, gone)


def with_house(g: Ground, house_w: FloatArray, told: BoolArray) -> Ground:
    """The ground with the house's use as it was metered where that is told, (n,) each; what hangs on the stations keeps
    its part of the house."""
    model = g.fed_w + g.rest_w
    share = np.divide(g.fed_w, model, out=np.zeros_like(model), where=model > 0)
    fed = np.where(told, house_w * share, g.fed_w)
    rest = np.where(told, house_w * (1 - share), g.rest_w)
    times = np.divide(fed, g.fed_w, out=np.ones_like(model), where=g.fed_w > 0)
    return g.scaled(times, rest)


def with_metered_sun(g: Ground, of_year: Ground, sun_w: FloatArray, told: BoolArray) -> Ground:
    """The ground with the sun as it was metered where that is told, (n,) each, parted among its stores and a roof's own
    inverter as the model's year has it; nothing where the model has no sun."""
    by_store, by_roof = of_year.suns_w.sum(axis=1), float(of_year.roof_w.sum())
    whole = float(by_store.sum()) + by_roof or 1.0
    owned = float(of_year.owned_roof_w.sum()) / (by_roof or 1.0)
    roof_w = np.where(told, by_roof / whole * sun_w, g.roof_w)
    return replace(
        g,
        suns_w=np.where(told, (by_store / whole)[:, None] * sun_w, g.suns_w),
        roof_w=roof_w,
        owned_roof_w=owned * roof_w,
    )


def beside_owned_roof(g: Ground) -> Ground:
    """The ground for a house whose utility meter tells what is bought: its own roof is in that already."""
    return replace(g, roof_w=g.roof_w - g.owned_roof_w, owned_roof_w=0.0 * g.owned_roof_w)


def _runs(flags: BoolArray) -> list[tuple[int, int]]:
    edges = np.diff(np.concatenate([[0], flags.astype(int), [0]]))
    begins, ends = np.flatnonzero(edges == 1), np.flatnonzero(edges == -1)
    return [(int(a), int(b - a)) for a, b in zip(begins, ends, strict=True)]


def hours_carried(y: Year, gone: tuple[tuple[int, int], ...]) -> list[float]:
    """Of each outage the hours that the plan would have carried it, its length at most."""
    found = []
    for first, steps in gone:
        hours = steps * STEP_H
        found.append(float(lasts(y, max(hours, 2 * STEP_H))[min(first // A_HOUR, y.ground.steps.n // A_HOUR - 1)]))
    return found
