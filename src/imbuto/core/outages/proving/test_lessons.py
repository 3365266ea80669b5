"""What tests teach in figures: own draw and capacity from a run-down at two levels, the sun's factor from a best hour,
what a station gives beside the grid from a stepped load."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.errors import InvalidValue

LEAST_POINTS = 4  # at each level; ten are asked for
LEAST_DROP = 0.04  # of charge at each level: under that a step of the gauge is too much of it
NOTED_H = 1 / 60  # a change of the gauge is noted within so long; planning default
LEAST_STEPS = 3  # of a stepped load
LEAST_GRID_W = 50.0  # less than this from the grid is a meter's error; planning default
MOST_APART = 0.15  # of the house's watts that the station's and the grid's may differ by; planning default
GAUGE_SPREAD = 0.001  # of a charge noted just as it changes: one sigma; planning default


@dataclass(frozen=True, slots=True)
class RunDown:
    """What a run-down found, each with its one sigma.

    own_w: DC, with the output on and nothing plugged in
    wh: from full to empty
    """

    own_w: float
    own_error: float
    wh: float
    wh_error: float


@dataclass(frozen=True, slots=True)
class _Slope:
    """Of a charge over time: per hour, with its one sigma, positive downward."""

    per_h: float
    error: float


def run_down(
    nothing: Sequence[tuple[float, float]], loaded: Sequence[tuple[float, float]], load_w: float, efficiency: float
) -> RunDown:
    """Solve own draw and capacity from two straight lines: with nothing plugged in the charge falls by own / capacity
    an hour, with a load by (load / efficiency + own) / capacity.

    nothing, loaded: hours and charge, 0 to 1, noted as the gauge changes
    load_w: AC

    Raises InvalidValue where they are too few, or the second does not fall faster.
    """
    if load_w <= 0 or efficiency <= 0:
        raise InvalidValue("run-down, load", load_w, "enter the watts of the test load")
    slow, fast = _slope(nothing, "with nothing plugged in"), _slope(loaded, "with the load")
    apart = fast.per_h - slow.per_h
    if apart <= 2 * (fast.error + slow.error):
        raise InvalidValue("run-down", f"{100 * apart:.2g}% an hour", "use a heavier load to tell the two levels apart")
    wh = load_w / efficiency / apart
    wh_error = wh * float(np.hypot(fast.error, slow.error)) / apart
    own = slow.per_h * wh
    # d own: slow = own / wh, and wh falls with the difference of the two.
    own_error = float(np.hypot(wh * slow.error * (1 + slow.per_h / apart), own * fast.error / apart))
    return RunDown(own, own_error, wh, wh_error)


def _slope(points: Sequence[tuple[float, float]], what: str) -> _Slope:
    if len(points) < LEAST_POINTS:
        raise InvalidValue(
            f"run-down, {what}", len(points), f"at least {LEAST_POINTS} readings are needed, and ten are better"
        )
    hours, charge = (np.array(x, dtype=float) for x in zip(*sorted(points), strict=True))
    if charge[0] - charge[-1] < LEAST_DROP or hours[-1] <= hours[0]:
        rule = f"the charge has to fall by {100 * LEAST_DROP:.0f} points or more"
        raise InvalidValue(f"run-down, {what}", f"{100 * (charge[0] - charge[-1]):.0f} points", rule)
    off = hours - hours.mean()
    spread = float((off**2).sum())
    per_h = -float((off * charge).sum()) / spread
    left = charge - charge.mean() + per_h * off
    noise = max(float((left**2).sum() / max(len(points) - 2, 1)) ** 0.5, GAUGE_SPREAD, per_h * NOTED_H)
    return _Slope(per_h, noise / spread**0.5)


def suns_factor(measured_w: float, expected_w: float, most_w: float) -> float:
    """What an array gives of what light and cells would have it give.

    measured_w: mean DC W over a best hour
    expected_w: with a factor of 1, in that hour
    most_w: its input takes

    Raises InvalidValue for an hour that was clipped, or dark.
    """
    if expected_w <= 0:
        raise InvalidValue("sun, best hour", measured_w, "the panels get no sun in that hour")
    if measured_w >= 0.97 * most_w:
        raise InvalidValue(
            "sun, best hour", measured_w, "the input was at its limit, so this hour doesn't show what the panels can do"
        )
    found = measured_w / expected_w
    if not 0.3 <= found <= 1.2:
        raise InvalidValue(
            "sun, best hour",
            f"{found:.2f}",
            "from 0.3 to 1.2 is believable; was the sky clear, and the battery not full?",
        )
    return found


@dataclass(frozen=True, slots=True)
class OnGridShare:
    """What a stepped load on the grid found.

    most_w: AC W that the units gave together where the grid gave the rest
    apart_w: the most by which the house and the sum differed at a step
    """

    most_w: float
    apart_w: float


def on_grid_share(house: Sequence[float], units: Sequence[Sequence[float]], grid: Sequence[float]) -> OnGridShare:
    """The most that the units gave beside the grid, from the watts noted at each step, in their order.

    Raises InvalidValue where the steps don't match, or the grid never gave the rest.
    """
    steps = len(house)
    if steps < LEAST_STEPS or any(len(x) != steps for x in (*units, grid)):
        told = ", ".join(str(len(x)) for x in (house, *units, grid))
        raise InvalidValue("steps", told, f"note {LEAST_STEPS} steps or more, and at each one every figure")
    sums = [sum(x) for x in zip(*units, strict=True)]
    beside = [s for s, g in zip(sums, grid, strict=True) if g >= LEAST_GRID_W]
    if not beside:
        raise InvalidValue(
            "steps", f"{max(sums):.0f} W", "the grid never supplied the rest; the limit is higher. Add more load"
        )
    apart = max(abs(h - s - g) for h, s, g in zip(house, sums, grid, strict=True))
    if apart > MOST_APART * max(house):
        raise InvalidValue(
            "steps", f"{apart:.0f} W", "the station's and the grid's watts don't add up to the house's; note them again"
        )
    return OnGridShare(max(beside), apart)
