"""Windows of the day, and the time grid an outage is stepped on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from typing import Literal
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from imbuto.core.basics.measures import hour_text
from imbuto.core.basics.units import HourOfDay

FloatArray = NDArray[np.float64]
BoolArray = NDArray[np.bool_]
Days = Literal["all", "weekday", "weekend"]

STEP_H = 1 / 12
DAY_STEPS = 288


@dataclass(frozen=True, slots=True, kw_only=True)
class Window:
    """A window of the day in local hours; an end at or before the start runs past midnight."""

    start_h: HourOfDay
    end_h: HourOfDay
    days: Days = "all"

    @property
    def length_h(self) -> float:
        """Hours a day this window is open."""
        return (self.end_h - self.start_h) % 24 or 24.0


@dataclass(frozen=True, slots=True, eq=False)
class Grid:
    """The midpoints of the steps of one outage, in local time. Compared by identity: ``grid`` hands out one per key.

    hour: local hour of day at each midpoint, shape (n,)
    weekend: whether that day is Saturday or Sunday, shape (n,)
    """

    start: datetime
    step_h: float
    hour: FloatArray
    weekend: BoolArray

    @property
    def n(self) -> int:
        """How many steps."""
        return len(self.hour)

    @property
    def hours(self) -> float:
        """How long the grid is."""
        return self.n * self.step_h

    def elapsed_h(self, moment: datetime) -> float:
        """Hours from the start to a moment with a zone; the inverse of ``moment``."""
        return (moment.astimezone(UTC) - self.start.astimezone(UTC)).total_seconds() / 3600

    def moment(self, elapsed_h: float) -> datetime:
        """The local clock time after so many elapsed hours; counts through a clock change correctly."""
        zone = self.start.tzinfo
        return (self.start.astimezone(ZoneInfo("UTC")) + timedelta(hours=elapsed_h)).astimezone(zone)


def later(at: datetime, hours: float, zone: str) -> datetime:
    """The local clock so many hours after a naive local time, below 0 for before; counts through a clock change
    correctly."""
    then = at.replace(tzinfo=ZoneInfo(zone)).astimezone(UTC) + timedelta(hours=hours)
    return then.astimezone(ZoneInfo(zone)).replace(tzinfo=None)


def hours_between(a: datetime, b: datetime, zone: str) -> float:
    """Hours from one naive local time to another, below 0 where that is earlier; counts through a clock change
    correctly. Of two times that a clock shows the same, ``fold`` says which."""
    first, then = (t.replace(tzinfo=ZoneInfo(zone)).astimezone(UTC) for t in (a, b))
    return (then - first).total_seconds() / 3600


@lru_cache(maxsize=64)
def grid(start: datetime, zone: str, hours: float, step_h: float = STEP_H) -> Grid:
    """Steps from a naive local start, covering at least the given hours. step_h must divide an hour."""
    per_hour = round(1 / step_h)
    if abs(per_hour * step_h - 1) > 1e-9:
        raise ValueError(f"a step of {step_h} h does not divide an hour")
    local = start.replace(tzinfo=ZoneInfo(zone))
    utc0 = local.astimezone(ZoneInfo("UTC"))
    n = max(1, int(np.ceil(hours * per_hour - 1e-9)))
    # The offset changes on whole quarter hours only, so it is looked up four times an hour and shared.
    per_quarter = max(1, per_hour // 4)
    quarters = [utc0 + timedelta(hours=i * per_quarter * step_h) for i in range(-(-n // per_quarter))]
    offsets = np.repeat([_offset_h(q, local) for q in quarters], per_quarter)[:n]
    base = utc0.weekday() * 24 + utc0.hour + utc0.minute / 60 + utc0.second / 3600
    week_hour = (base + (np.arange(n) + 0.5) * step_h + offsets) % 168
    return Grid(local, step_h, week_hour % 24, week_hour >= 120)


def _offset_h(moment: datetime, local: datetime) -> float:
    offset = moment.astimezone(local.tzinfo).utcoffset()
    return offset.total_seconds() / 3600 if offset else 0.0


def _typical_days() -> Grid:
    """A weekday and a weekend day in 5 min steps: every state a limit has to look at."""
    hour = (np.arange(DAY_STEPS) + 0.5) * STEP_H
    start = datetime(2001, 1, 1)  # a Monday; only the shape of the day is used
    return Grid(start, STEP_H, np.tile(hour, 2), np.repeat([False, True], DAY_STEPS))


TYPICAL_DAYS = _typical_days()


def inside(windows: Sequence[Window], hour: FloatArray, weekend: BoolArray) -> BoolArray:
    """Which midpoints lie in any of the windows. A window past midnight belongs to the day its midpoint is on."""
    result = np.zeros(len(hour), dtype=bool)
    for w in windows:
        hit = (hour >= w.start_h) & (hour < w.end_h) if w.end_h > w.start_h else (hour >= w.start_h) | (hour < w.end_h)
        if w.days != "all":
            hit = hit & (weekend if w.days == "weekend" else ~weekend)
        result |= hit
    return result


def windows_text(windows: Sequence[Window]) -> str:
    """Say windows of the day: ``6:00 pm to 9:00 pm on weekdays, 10:00 am to 11:00 am``."""
    days = {"all": "", "weekday": " on weekdays", "weekend": " at weekends"}
    return ", ".join(f"{hour_text(w.start_h)} to {hour_text(w.end_h)}{days[w.days]}" for w in windows)


def share_of_day(windows: Sequence[Window]) -> float:
    """The share of an average week that the windows are open, 0 to 1."""
    if not windows:
        return 1.0
    days = TYPICAL_DAYS
    open_ = inside(windows, days.hour, days.weekend)
    return float((5 * open_[:DAY_STEPS].mean() + 2 * open_[DAY_STEPS:].mean()) / 7)
