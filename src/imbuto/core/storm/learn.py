"""What a gauge teaches in an outage: how much more or less is drawn than planned, and when it goes dark.

Capacity and gauge cannot be told apart by a gauge, so capacity is fixed and what is learnt is the draw: a scale on the planned
load and the station's own draw. They can be told apart only where the load has varied; priors hold what readings do not decide
(scale 1 ± 0.15, own draw ± 30 %; planning defaults). A gauge shows whole percents.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.clock import FloatArray

SCALE_SPREAD, IDLE_SPREAD, LEAST_IDLE_W = 0.15, 0.30, 1.0  # planning defaults
STEP = 0.01  # of a gauge
GAUGE_SPREAD = STEP / 12**0.5  # of a reading between two steps: one sigma
LOW, LOW_TIMES = 0.20, 2.0  # below this charge a gauge is trusted half as much; planning default
WANDER_H = 0.02  # h: an hour's mean load is its planned one give or take 14 %, by chance; planning default
NINE_IN_TEN = 1.2816  # sigmas
VARIED = 2.0  # the load has to vary so many times for scale and own draw to be told apart


@dataclass(frozen=True, slots=True)
class Seen:
    """A gauge reading. hour: since it went out; charge: 0 to 1."""

    hour: float
    charge: float


@dataclass(frozen=True, slots=True)
class Learnt:
    """What readings have taught. scale: of the planned load, with its one sigma; idle_w: the station's own draw, likewise; apart: the
    load varied enough to tell the two apart; charge: now, as all readings together say, with its one sigma; dark_h: when it goes
    dark, hours since it went out, None for not within the plan's own time; early_h, late_h: nine in ten later, nine in ten
    sooner."""

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


def learn(
    readings: Sequence[Seen], load_w: FloatArray, in_w: FloatArray, step_h: float, *, full_wh: float, efficiency: float,
    idle_w: float, floor: float,
) -> Learnt:  # fmt: skip
    """Fit the draw to a gauge, and look ahead with it.

    readings: in their order, the first at the start; load_w: planned mean AC W in each step from the start on; in_w: W into the
    battery, likewise; full_wh: from empty to full. Raises ValueError without a reading.
    """
    if not readings:
        raise ValueError("no reading yet")
    ends = np.arange(len(load_w) + 1) * step_h
    drawn = np.concatenate([[0.0], np.cumsum(load_w / efficiency) * step_h])
    came = np.concatenate([[0.0], np.cumsum(in_w) * step_h])

    def at(curve: FloatArray, hour: float) -> float:
        return float(np.interp(hour, ends, curve))

    least = max(idle_w, LEAST_IDLE_W)
    hours = np.array([r.hour for r in readings])
    wander = (
        WANDER_H * float((load_w / efficiency).mean()) ** 2
    )  # Wh² an hour: what loads do by chance, on top of any scale
    # Unknown: Wh at the start, scale, own draw W. Rows: a reading each, then a prior each.
    a = np.array([[1.0, -at(drawn, h), -h] for h in hours] + [[0.0, 1.0, 0.0], [0.0, 0.0, 1.0]])
    y = np.array([r.charge * full_wh - at(came, r.hour) for r in readings] + [1.0, idle_w])
    spread = [max(GAUGE_SPREAD * full_wh * (LOW_TIMES if r.charge < LOW else 1.0), 1e-6) for r in readings]
    c = np.diag(np.square([*spread, SCALE_SPREAD, IDLE_SPREAD * least]))
    n = len(readings)
    c[:n, :n] += wander * np.minimum.outer(hours, hours)
    inverse = np.linalg.inv(c)
    covariance = np.linalg.inv(a.T @ inverse @ a)
    found = covariance @ (a.T @ inverse @ y)
    rest = inverse @ (y - a @ found)

    def expected(hour: float) -> tuple[float, float]:
        """Wh at an hour, and its one sigma."""
        row = np.array([1.0, -at(drawn, hour), -hour])
        shared = np.concatenate([wander * np.minimum(hours, hour), [0.0, 0.0]])
        left = float(row @ found + shared @ rest) + at(came, hour)
        open_ = row - a.T @ inverse @ shared
        var = wander * hour - shared @ inverse @ shared + open_ @ covariance @ open_
        return left, float(np.sqrt(max(var, 0.0)))

    now = float(hours[-1])
    wh, error = expected(now)
    scale, own = float(found[1]), float(found[2])
    until = [x for x in load_w[: max(1, round(now / step_h))] if x > 0]
    apart = len(readings) > 2 and bool(until) and max(until) >= VARIED * min(until)
    ahead = [float(h) for h in ends if h > now]
    looked = [expected(h) for h in ahead]

    def dark(sigmas: float) -> float | None:
        """The first hour at the floor, with the charge ahead so many sigmas from what is expected; interpolated."""
        before = (now, wh + sigmas * error - floor * full_wh)
        if before[1] <= 0:
            return now
        for hour, (left, sigma) in zip(ahead, looked, strict=True):
            over = left + sigmas * sigma - floor * full_wh
            if over <= 0:
                return before[0] + (hour - before[0]) * before[1] / (before[1] - over)
            before = (hour, over)
        return None

    return Learnt(
        scale, float(covariance[1, 1] ** 0.5), own, float(covariance[2, 2] ** 0.5), apart, wh / full_wh, error / full_wh,
        dark(0.0), dark(-NINE_IN_TEN), dark(NINE_IN_TEN),
    )  # fmt: skip
