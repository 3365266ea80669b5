"""What a person answers on the start page."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Literal

from annotated_types import Interval, Len

from imbuto.core.basics.units import HourOfDay, Hours, Name, Text
from imbuto.core.home.home import Currency

Climate = Literal["mild", "cold_winter", "hot_summer"]
Season = Literal["winter", "summer"]
OWN_NAME = "My power station"


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnBox:
    """Describe a power station that someone has, as its label does. 0, or None for the own draw, where it isn't listed.

    nominal_wh, continuous_w: stored, and what it supplies for as long as it lasts
    surge_va, idle_w: for a start; its own draw
    outlets, outlet_a: how many, and the A of each
    charge_w: W from the wall
    """

    name: Name = OWN_NAME
    nominal_wh: Annotated[float, Interval(ge=10, le=200_000)]
    continuous_w: Annotated[float, Interval(ge=10, le=50_000)]
    surge_va: Annotated[float, Interval(ge=0, le=200_000)] = 0
    idle_w: Annotated[float, Interval(ge=0, le=1_000)] | None = None
    outlets: Annotated[int, Interval(ge=0, le=40)] = 0
    outlet_a: Annotated[float, Interval(ge=0, le=100)] = 0
    charge_w: Annotated[float, Interval(ge=0, le=50_000)] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=1_000)] = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnEngine:
    """Describe a generator that someone has. running_w: for as long as it has fuel; stock_l: fuel at hand, litres."""

    running_w: Annotated[float, Interval(ge=50, le=50_000)]
    stock_l: Annotated[float, Interval(ge=0, le=1_000)] = 20.0


@dataclass(frozen=True, slots=True, kw_only=True)
class PickDetail:
    """Correct a typical load.

    watts: average W while in use, None for the typical one
    from_h, to_h: hours of the day it is used, None for its own habit
    """

    watts: Annotated[float, Interval(ge=0.5, le=20_000)] | None = None
    from_h: HourOfDay | None = None
    to_h: HourOfDay | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherLoad:
    """Describe something that the table of typical loads doesn't have. watts: average W while in use."""

    name: Name
    watts: Annotated[float, Interval(ge=0.5, le=20_000)]
    count: Annotated[int, Interval(ge=1, le=20)] = 1
    from_h: HourOfDay | None = None
    to_h: HourOfDay | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Package:
    """Name a station to buy, with so many modules."""

    station: Text
    modules: Annotated[int, Interval(ge=0, le=20)] = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Answers:
    """Hold the answers of a newcomer.

    picks: typical load id → how many; details: corrections by the same id
    others: what the table doesn't have
    own, engine: the power station and the generator that are there, None for none
    buy: the package chosen, None for the one Imbuto proposes
    place: a town; latitude, longitude: degrees north and east, None for those of the town or the time zone
    climate: None to guess it from the latitude; season: None for the climate's worst
    hours: how long the power is usually out
    """

    name: Name
    volts: Literal[120, 230] = 120
    time_zone: Annotated[str, Len(1, 60)] = "UTC"
    currency: Currency = "USD"
    place: Text = ""
    latitude: Annotated[float, Interval(ge=-66, le=66)] | None = None
    longitude: Annotated[float, Interval(ge=-180, le=180)] | None = None
    climate: Climate | None = None
    season: Season | None = None
    picks: dict[str, Annotated[int, Interval(ge=0, le=20)]] = field(default_factory=dict)
    details: dict[str, PickDetail] = field(default_factory=dict)
    others: Annotated[list[OtherLoad], Len(0, 20)] = field(default_factory=list)
    hours: Hours = 12.0
    own: OwnBox | None = None
    engine: OwnEngine | None = None
    buy: Package | None = None
