"""The Outage: a case to survive."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from datetime import datetime, time, timedelta
from typing import Annotated, Literal

from annotated_types import Interval

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.moments import LocalTime
from imbuto.core.basics.units import Celsius, Fraction, Hours, Ident, Name, Text
from imbuto.core.plan.sources import Source

Weather = Literal["clear", "broken", "overcast", "storm", "smoke"]
MAX_SIMULATED_H = 336.0
FIRST_YEAR, LAST_YEAR = 1971, 2199  # that the tables of time zones and of the sun know


@dataclass(frozen=True, slots=True, kw_only=True)
class Outage:
    """A case to survive.

    start: local wall-clock time in the home's zone
    start_charge: 0 to 1
    weather: the sky
    skies: of each calendar day from the first, where it changes, and the last one holds
    iced_h: how long from the start snow or ice lies on the panels, which then give nothing
    as_left: it begins with the charge that a plan's ordinary days leave at its hour, where the plan has any
    """

    id: Ident
    name: Name
    start: LocalTime
    hours: Hours
    goal_hours: Hours
    start_charge: Fraction = 1.0
    indoors_c: Celsius = 20.0
    garage_c: Celsius = 12.0
    outdoors_c: Celsius = 10.0
    weather: Weather = "overcast"
    skies: tuple[Weather, ...] = ()
    iced_h: Annotated[float, Interval(ge=0, le=336)] = 0.0
    as_left: bool = False
    note: Text = ""

    @property
    def simulated_h(self) -> float:
        """How far a run looks, with the grid kept away: max(2 x outage, goal + 24 h), at most 14 days."""
        return min(max(2 * self.hours, self.goal_hours + 24), MAX_SIMULATED_H)

    def charge_of(self, source_id: str) -> float:
        """The charge of one station at the start, 0 to 1."""
        return self.start_charge

    def sky_of(self, day: int) -> Weather:
        """The sky of a calendar day, counted from 0."""
        return self.skies[min(day, len(self.skies) - 1)] if self.skies else self.weather

    def share_of(self, weather: Weather) -> float:
        """The share of the outage's own hours under a sky, 0 to 1, by its calendar days."""
        end = self.start + timedelta(hours=self.hours)
        total, day = 0.0, 0
        since = self.start
        while since < end:
            midnight = datetime.combine(since.date() + timedelta(days=1), time())
            until = min(midnight, end)
            total += (until - since).total_seconds() / 3600 * (self.sky_of(day) == weather)
            since, day = until, day + 1
        return total / self.hours

    def at(self, source: Source) -> float:
        """°C where the source stands."""
        return self.garage_c if source.spot == "garage" else self.indoors_c


@dataclass(frozen=True, slots=True, kw_only=True)
class BegunOutage(Outage):
    """An outage that is on, whose stations began it with charges of their own.

    charges: station id and 0 to 1
    """

    charges: tuple[tuple[str, float], ...] = ()

    def charge_of(self, source_id: str) -> float:
        """The charge of one station at the start, 0 to 1."""
        return dict(self.charges).get(source_id, self.start_charge)


def begun(outage: Outage, charges: Mapping[str, float]) -> BegunOutage:
    """The outage as it began, full where a station's charge isn't known."""
    there = {f.name: getattr(outage, f.name) for f in fields(Outage)}
    return BegunOutage(**there | {"start_charge": 1.0}, charges=tuple(sorted(charges.items())))


def check_outage(outage: Outage) -> None:
    """Raise InvalidValue where the start carries a zone of its own, or is out of all reach."""
    if not FIRST_YEAR <= outage.start.year <= LAST_YEAR:
        rule = f"enter a year from {FIRST_YEAR} to {LAST_YEAR}"
        raise InvalidValue(f"{outage.name}, start", outage.start.isoformat(), rule)
    if outage.start.tzinfo is not None:
        raise InvalidValue(
            f"{outage.name}, start", outage.start.isoformat(), ("enter the local time without a time zone")
        )
