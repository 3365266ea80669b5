"""Bounded quantities with their units, and how figures are written.

Loads are rounded up and hours down, once, when shown; nothing here is used in between.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Annotated, Literal

from annotated_types import Interval, Len, Unit

from imbuto.core.basics.measures import clock_of

PLANNING = "planning default"


@dataclass(frozen=True, slots=True)
class FieldMeaning:
    """What a field means, and where its default comes from; empty where it has none but nothing, or the maker's label
    says."""

    meaning: str
    source: str = ""


Leg = Literal["A", "B", "C"]
Name = Annotated[str, Len(1, 80)]
Ident = Annotated[str, Len(1, 60)]
Text = Annotated[str, Len(0, 2000)]
Watts = Annotated[float, Interval(ge=0, le=50_000), Unit("W")]
VoltAmps = Annotated[float, Interval(ge=0, le=200_000), Unit("VA")]
RatedVa = Annotated[float, Interval(ge=10, le=200_000), Unit("VA")]  # of something that gives power
RatedA = Annotated[float, Interval(ge=0.1, le=1_000), Unit("A")]
PowerFactor = Annotated[float, Interval(ge=0.1, le=1)]
Amps = Annotated[float, Interval(ge=0, le=1_000), Unit("A")]
Volts = Annotated[float, Interval(ge=0, le=1_000), Unit("V")]
WattHours = Annotated[float, Interval(ge=0, le=1_000_000), Unit("Wh")]
Hours = Annotated[float, Interval(ge=0.1, le=336), Unit("h")]
HourOfDay = Annotated[float, Interval(ge=0, le=24), Unit("h")]
Minutes = Annotated[float, Interval(ge=0, le=1_440), Unit("min")]
Celsius = Annotated[float, Interval(ge=-60, le=70), Unit("°C")]
Fraction = Annotated[float, Interval(ge=0, le=1)]
Share = Annotated[float, Interval(ge=0.01, le=1)]
Count = Annotated[int, Interval(ge=0, le=200)]


def hours_text(hours: float) -> str:
    """Hours as ``18 h 10 m``: rounded down, to ten minutes above three hours (no figure here is better than that)."""
    minutes = floor_minutes(hours)
    h, m = divmod(minutes, 60)
    return f"{h} h {m} m" if h and m else f"{h} h" if h else f"{m} m"


def floor_minutes(hours: float) -> int:
    """Whole minutes, rounded down as shown. The grain absorbs float noise such as 2.9999999 h."""
    minutes = math.floor(hours * 60 + 1e-6)
    return minutes if minutes < 180 else minutes // 10 * 10


def until(start: datetime, hours: float) -> datetime:
    """The clock time that goes with ``hours_text``."""
    return start + timedelta(minutes=floor_minutes(hours))


def clock_text(moment: datetime) -> str:
    """``Wed 11:10 am``, or ``Wed 11:10`` by a clock of 24 hours, in whatever zone the moment is in."""
    return f"{moment:%a} {clock_of(moment.hour, moment.minute)}"


def day_text(day: date) -> str:
    """``8 May 2027``."""
    return f"{day.day} {day:%B %Y}"


def kwh_text(wh: float) -> str:
    """Energy in kWh with one decimal below 100."""
    return f"{wh / 1000:.1f} kWh"


def number_text(value: float) -> str:
    """At most one decimal, thousands marked, no trailing zero."""
    return f"{value:,.0f}" if abs(value) >= 100 or float(value).is_integer() else f"{value:,.1f}"
