"""What a gauge teaches in an outage: how much more or less is drawn than planned, and when it goes dark.

Capacity and gauge cannot be told apart by a gauge, so capacity is fixed and what is learnt is the draw: a scale on
the planned load and the station's own draw. They can be told apart only where the load has varied; priors hold what
readings do not decide (scale 1 ± 0.15, own draw ± 30%; planning defaults). A gauge shows whole percents."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.outages.energy_course import EnergyCourse

SCALE_SPREAD, IDLE_SPREAD, LEAST_IDLE_W = 0.15, 0.30, 1.0  # planning defaults
STEP = 0.01  # of a gauge
GAUGE_SPREAD = STEP / 12**0.5  # of a reading between two steps: one sigma
COUNT_SPREAD, COUNT_GRAIN_WH = (
    0.01,
    5.0,
)  # of a counter: one sigma of what it counted, and its last digit; planning defaults
COUNT_FROM_WH = 1e6  # a counter may have begun anywhere
LOW, LOW_TIMES = 0.20, 2.0  # below this charge a gauge is trusted half as much; planning default
WANDER_H = 0.02  # h: an hour's mean load is its planned one give or take 14 %, by chance; planning default
NINE_IN_TEN = 1.2816  # sigmas
VARIED = 2.0  # the load has to vary so many times for scale and own draw to be told apart


@dataclass(frozen=True, slots=True)
class GaugeReading:
    """A reading.

    hour: since it went out
    charge: on the gauge, 0 to 1
    given_wh: a counter of the AC energy it has given, from wherever it began to count, None where there is none
    """

    hour: float
    charge: float
    given_wh: float | None = None


@dataclass(frozen=True, slots=True)
class LearntFigures:
    """What readings have taught.

    scale: of the planned load, with its one sigma
    idle_w: the station's own draw, likewise
    apart: the load varied enough to tell the two apart
    charge: now, as all readings together say, with its one sigma
    dark_h: when it goes dark, hours since it went out, None for not within the plan's own time; early_h
    late_h: nine in ten later, nine in ten sooner
    ahead: what it looks at for that
    """

    scale: float
    scale_error: float
    idle_w: float
    idle_error: float
    apart: bool
    charge: float
    charge_error: float
    dark_h: float | None
    early_h: float | None
    late_h: float | None
    ahead: LoadAhead


@dataclass(frozen=True, slots=True)
class LoadAhead:
    """From the last reading on.

    ends: hours, it and every end of a step after it
    left_wh: expected then, as if there were room for all
    sigma_wh: of that, one
    full_wh: there is room for; (k,) each
    """

    ends: FloatArray
    left_wh: FloatArray
    sigma_wh: FloatArray
    full_wh: float

    def dark_h(self, floor_wh: float, sigmas: float = 0.0) -> float | None:
        """The first hour at which nothing is left over a floor, so many sigmas to the good; None for not in sight."""
        over = capped_at_full(self.left_wh, self.full_wh) + sigmas * self.sigma_wh - floor_wh
        return _reached(list(zip(self.ends.tolist(), over.tolist(), strict=True)))


def capped_at_full(left: FloatArray, full: float) -> FloatArray:
    """Wh where what would go beyond full is lost."""
    over: FloatArray = np.maximum(np.maximum.accumulate(left) - full, 0.0)
    return left - over


@dataclass(frozen=True, slots=True)
class Fit:
    """Least squares with priors.

    ends: hours at the steps' ends
    drawn, came: Wh up to each at the planned draw
    hours, signs: of the readings, when, and how each goes with a Wh drawn by chance
    wander: Wh² an hour that loads do by chance
    a: what each reading and prior says of Wh at the start, scale, own draw W and where a counter began
    inverse: of their covariance
    found: the four, with their covariance
    rest: what they leave, weighed
    """

    ends: FloatArray
    drawn: FloatArray
    came: FloatArray
    hours: FloatArray
    signs: FloatArray
    wander: float
    a: FloatArray
    inverse: FloatArray
    found: FloatArray
    covariance: FloatArray
    rest: FloatArray

    def expected(self, hours: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Wh at some hours, and the one sigma of each; shape (k,) both."""
        drawn = np.interp(hours, self.ends, self.drawn)
        rows = np.column_stack([np.ones(len(hours)), -drawn, -hours, np.zeros(len(hours))])
        shared = np.zeros((len(self.a), len(hours)))
        shared[: len(self.hours)] = -self.wander * self.signs[:, None] * np.minimum.outer(self.hours, hours)
        told = self.inverse @ shared
        left = rows @ self.found + self.rest @ shared + np.interp(hours, self.ends, self.came)
        open_ = rows.T - self.a.T @ told
        var = self.wander * hours - (shared * told).sum(axis=0) + (open_ * (self.covariance @ open_)).sum(axis=0)
        return left, np.sqrt(np.maximum(var, 0.0))


def _fit(
    readings: Sequence[GaugeReading],
    load_w: FloatArray,
    in_w: FloatArray,
    step_h: float,
    full_wh: float,
    efficiency: float,
    idle_w: float,
) -> Fit:
    """As for ``learn``. A counter tells what the load drew, whatever the station draws for itself."""
    course = EnergyCourse(load_w, in_w, step_h, efficiency, idle_w, full_wh)
    ends, drawn, came = course.ends, course.drawn_to, course.came_to
    counted = [r for r in readings if r.given_wh is not None]
    hours = np.array([r.hour for r in (*readings, *counted)])
    signs = np.array([*(-1.0 for _ in readings), *(efficiency for _ in counted)])
    wander = WANDER_H * float(load_w.mean() / efficiency) ** 2  # beside any scale
    # Unknown: Wh at the start, scale, own draw W, Wh where the counter began. Rows: a reading each, then a prior each.
    gauges = [[1.0, -float(np.interp(r.hour, ends, drawn)), -r.hour, 0.0] for r in readings]
    counts = [[0.0, efficiency * float(np.interp(r.hour, ends, drawn)), 0.0, 1.0] for r in counted]
    a = np.array([*gauges, *counts, [0.0, 1.0, 0.0, 0.0], [0.0, 0.0, 1.0, 0.0], [0.0, 0.0, 0.0, 1.0]])
    left = [r.charge * full_wh - float(np.interp(r.hour, ends, came)) for r in readings]
    given = [r.given_wh or 0.0 for r in counted]
    y = np.array([*left, *given, 1.0, idle_w, 0.0])
    spread = [max(GAUGE_SPREAD * full_wh * (LOW_TIMES if r.charge < LOW else 1.0), 1e-6) for r in readings]
    spread += [max(COUNT_SPREAD * g, COUNT_GRAIN_WH) for g in given]
    c = np.diag(np.square([*spread, SCALE_SPREAD, IDLE_SPREAD * max(idle_w, LEAST_IDLE_W), COUNT_FROM_WH]))
    n = len(hours)
    c[:n, :n] += wander * np.outer(signs, signs) * np.minimum.outer(hours, hours)
    inverse = np.linalg.inv(c)
    covariance = np.linalg.inv(a.T @ inverse @ a)
    found = covariance @ (a.T @ inverse @ y)
    return Fit(ends, drawn, came, hours, signs, wander, a, inverse, found, covariance, inverse @ (y - a @ found))


def learn(
    readings: Sequence[GaugeReading],
    load_w: FloatArray,
    in_w: FloatArray,
    step_h: float,
    *,
    full_wh: float,
    efficiency: float,
    idle_w: float,
    floor: float,
) -> LearntFigures:
    """Fit the draw to a gauge, and look ahead with it.

    readings: in their order, the first at the start
    load_w: planned mean AC W in each step from the start on
    in_w: W into the battery, likewise
    full_wh: from empty to full

    Raises ValueError without a reading.
    """
    if not readings:
        raise ValueError("no reading yet")
    fit = _fit(readings, load_w, in_w, step_h, full_wh, efficiency, idle_w)
    now = readings[-1].hour
    until = [x for x in load_w[: max(1, round(now / step_h))] if x > 0]
    apart = len(readings) > 2 and bool(until) and max(until) >= VARIED * min(until)
    hours = np.concatenate([[now], fit.ends[fit.ends > now]])
    left, sigma = fit.expected(hours)
    ahead, wh, error = LoadAhead(hours, left, sigma, full_wh), float(left[0]), float(sigma[0])
    low_wh = floor * full_wh
    return LearntFigures(
        float(fit.found[1]),
        float(fit.covariance[1, 1] ** 0.5),
        float(fit.found[2]),
        float(fit.covariance[2, 2] ** 0.5),
        apart,
        wh / full_wh,
        error / full_wh,
        ahead.dark_h(low_wh),
        ahead.dark_h(low_wh, -NINE_IN_TEN),
        ahead.dark_h(low_wh, NINE_IN_TEN),
        ahead,
    )


def _reached(over: list[tuple[float, float]]) -> float | None:
    """The first hour at which nothing is left over the floor, interpolated; over: hours, each with the Wh over it."""
    before = over[0]
    if before[1] <= 0:
        return before[0]
    for hour, left in over[1:]:
        if left <= 0:
            return before[0] + (hour - before[0]) * before[1] / (before[1] - left)
        before = (hour, left)
    return None
