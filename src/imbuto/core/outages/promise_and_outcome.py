"""What outages and ordinary days have shown: promise against outcome, energy by day, week and month, and how charge
at dawn goes."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Literal

import numpy as np

from imbuto.core.home.logbook_entries import Entry

By = Literal["day", "week", "month"]
KWH = ("sun_kwh", "grid_kwh", "house_kwh", "battery_in_kwh", "battery_out_kwh", "battery_at_sun_kwh")
LEAST_TREND = 3  # entries before a trend is spoken of; planning default
BOUND = 1.96  # sigmas: a slope beyond them is one, within them it is not told from none


@dataclass(frozen=True, slots=True, kw_only=True)
class Energy:
    """A day, week or month of energy, kWh.

    begins: its first day
    sun_kwh: without what a battery gave into a solar input, which is no sun
    by_sun: the part of the house that sun met, 0 to 1, None where either is not known
    """

    begins: date
    sun_kwh: float
    grid_kwh: float
    house_kwh: float
    battery_in_kwh: float
    battery_out_kwh: float
    by_sun: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Trend:
    """A straight line through figures over time.

    a_year: its slope
    error: one sigma of it
    told: it is beyond chance
    """

    a_year: float
    error: float
    told: bool


def energy(entries: Iterable[Entry], by: By) -> list[Energy]:
    """Energy entries summed, oldest first. An entry may stand for several days, and is spread evenly over them."""
    sums: dict[date, dict[str, float]] = {}
    for entry in entries:
        if entry.kind != "energy":
            continue
        days = max(round(entry.figures.get("days", 1)), 1)
        for i in range(days):
            at = _first((entry.at + timedelta(days=i)).date(), by)
            there = sums.setdefault(at, dict.fromkeys(KWH, 0.0))
            for name in KWH:
                there[name] += entry.figures.get(name, 0.0) / days
    return [_energy(at, sums[at]) for at in sorted(sums)]


def _energy(at: date, kwh: dict[str, float]) -> Energy:
    sun = max(kwh["sun_kwh"] - kwh["battery_at_sun_kwh"], 0.0)
    house = kwh["house_kwh"]
    return Energy(
        begins=at,
        sun_kwh=sun,
        grid_kwh=kwh["grid_kwh"],
        house_kwh=house,
        battery_in_kwh=kwh["battery_in_kwh"],
        battery_out_kwh=kwh["battery_out_kwh"],
        by_sun=min(sun / house, 1.0) if house > 0 and sun > 0 else None,
    )


def _first(day: date, by: By) -> date:
    if by == "month":
        return day.replace(day=1)
    return day - timedelta(days=day.weekday()) if by == "week" else day


def trend(points: Sequence[tuple[datetime, float]]) -> Trend | None:
    """The slope of figures a year; None for fewer than three, or all on one day."""
    if len(points) < LEAST_TREND:
        return None
    first = min(at for at, _ in points)
    years = np.array([(at - first).total_seconds() / (365.25 * 86_400) for at, _ in points])
    values = np.array([v for _, v in points])
    off = years - years.mean()
    spread = float((off**2).sum())
    if years.max() < 1 / 365:
        return None
    slope = float((off * values).sum()) / spread
    left = values - values.mean() - slope * off
    error = float((left**2).sum() / (len(points) - 2) / spread) ** 0.5
    return Trend(a_year=slope, error=error, told=abs(slope) > BOUND * error and error > 0)
