"""A metered series as it was measured, and the W it means."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.errors import InvalidValue

Unit = Literal["W", "kW", "Wh", "kWh"]
TO_W: dict[Unit, float] = {"W": 1.0, "kW": 1000.0, "Wh": 1.0, "kWh": 1000.0}


@dataclass(frozen=True, slots=True)
class Series:
    """One channel, untouched.

    seconds: UTC since the epoch, ascending, shape (n,)
    values: in ``unit``, as measured, shape (n,)
    cumulative: a counter in Wh or kWh
    interval_s: the length each energy value covers, None for the usual distance of the times
    """

    unit: Unit
    cumulative: bool
    seconds: FloatArray
    values: FloatArray
    interval_s: float | None = None


def resets(series: Series) -> int:
    """How often a counter began again."""
    return int((np.diff(series.values) < 0).sum()) if series.cumulative else 0


def watts(series: Series) -> tuple[FloatArray, FloatArray]:
    """Seconds at which each interval begins, and the mean W over it; both shape (m,).

    Of a counter m is n - 1 less its resets: the interval of a reset tells nothing. Raises InvalidValue where W would
    be negative: a load draws at least 0.
    """
    at, found = series.seconds, series.values
    if series.cumulative:
        steps = np.diff(found)
        keep = steps >= 0
        at, found = at[:-1][keep], (steps / (np.diff(series.seconds) / 3600))[keep]
    elif series.unit in ("Wh", "kWh"):
        step_s = series.interval_s or (float(np.median(np.diff(at))) if len(at) > 1 else 3600.0)
        found = found / (step_s / 3600)
    if len(found) and float(found.min()) < 0:
        row = int(np.argmax(found < 0))
        rule = "a load draws at least 0 W; a channel with exported power can't be a load"
        raise InvalidValue(f"value {row + 1}", float(series.values[row]), rule)
    factor = TO_W[series.unit]
    return at, found if factor == 1.0 else found * factor
