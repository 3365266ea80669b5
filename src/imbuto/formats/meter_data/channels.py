"""What a file of meter data is once it is read: channels with their series."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from imbuto.core.basics.clock import BoolArray, FloatArray
from imbuto.core.measuring.metered_series import Series

MAX_BYTES = 150_000_000
MAX_ROWS = 2_000_000
LATEST_S = 7.3e9  # a moment past the year 2200, or before 1970, is a slip of another unit
MOST = 1e12  # of any value: more is no meter's figure
Progress = Callable[[float], None]
Decimal = Literal["guess", "comma", "point"]  # what parts the decimals of a CSV's numbers


@dataclass(frozen=True, slots=True)
class Channel:
    """One column or meter reading of a file. series: as measured, without the empty cells."""

    name: str
    series: Series


@dataclass(frozen=True, slots=True)
class MeterLog:
    """A file read.

    notes: what was guessed, in sentences a person can check
    zone: of its clock
    """

    channels: list[Channel]
    rows: int
    notes: list[str]
    zone: str


def hours_of_day(seconds: FloatArray, zone: str) -> FloatArray:
    """Local hour of the day, 0 to 24, of moments in UTC seconds; shape (n,)."""
    import polars as pl

    moments = pl.from_epoch(pl.Series(np.asarray(seconds, dtype=np.int64)), "s").dt.replace_time_zone("UTC")
    local = moments.dt.convert_time_zone(zone)
    return (local.dt.hour().cast(pl.Float64) + local.dt.minute() / 60).to_numpy()


def no_moment(seconds: FloatArray) -> BoolArray:
    """Which of so many seconds since 1970 no meter can have written; shape (n,)."""
    return ~((seconds >= 0) & (seconds <= LATEST_S))


def no_figure(values: FloatArray) -> BoolArray:
    """Which values no meter can have shown; an empty cell is none of them; shape (n,)."""
    return np.abs(values) > MOST
