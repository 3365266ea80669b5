"""The first two minutes: three answers become a home, a plan with cords, and a first verdict."""

from __future__ import annotations

import re
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Annotated, Literal

from annotated_types import Interval, Len

from imbuto.core.advice.answer import Answer, judge
from imbuto.core.basics.errors import UnknownReference
from imbuto.core.basics.time_zone_places import place_of_zone
from imbuto.core.basics.units import Hours, Name, Text
from imbuto.core.equipment.catalogue import Catalogue, Station, shipped
from imbuto.core.home.home import Currency, Home, Service, Site, check_home
from imbuto.core.home.loads import Load
from imbuto.core.home.typical import typical
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Feed, Plan
from imbuto.core.plan.sources import Source

Climate = Literal["mild", "cold_winter", "hot_summer"]
# °C indoors without heating or cooling, and in the garage: planning defaults.
SPOTS: dict[Climate, tuple[float, float, float]] = {
    "mild": (19.0, 12.0, 10.0),
    "cold_winter": (16.0, 2.0, -5.0),
    "hot_summer": (28.0, 33.0, 34.0),
}


OWN_ID = "own-station"


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnBox:
    """A power station that somebody has, as its label says it.

    nominal_wh, continuous_w: stored, and what it gives for as long as it lasts
    outlets: for plugs, 0 where nobody counted them
    """

    name: Name = "My power station"
    nominal_wh: Annotated[float, Interval(ge=10, le=200_000)]
    continuous_w: Annotated[float, Interval(ge=10, le=50_000)]
    outlets: Annotated[int, Interval(ge=0, le=40)] = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Answers:
    """What a newcomer says.

    picks: typical load id → how many
    own: the power station that is there, None for nothing yet
    hours: how long the power is usually out; latitude
    longitude: degrees north and east, None for what the time zone tells
    """

    name: Name
    volts: Literal[120, 230] = 120
    time_zone: Annotated[str, Len(1, 60)] = "UTC"
    currency: Currency = "USD"
    place: Text = ""
    latitude: Annotated[float, Interval(ge=-66, le=66)] | None = None
    longitude: Annotated[float, Interval(ge=-180, le=180)] | None = None
    climate: Climate = "mild"
    picks: dict[str, Annotated[int, Interval(ge=0, le=20)]] = field(default_factory=dict)
    hours: Hours = 12.0
    own: OwnBox | None = None


def first_answer(answers: Answers, start: datetime) -> tuple[Home, Plan, Outage]:
    """A home with those loads, a plan that feeds what can hang on a cord, and the usual outage.

    The station is the one that is there; where there is none, the smallest that fits and reaches the goal, else the
    one that lasts longest. Raises UnknownReference.
    """
    loads = _loads(answers)
    home = Home(
        id=_ident(answers.name),
        name=answers.name,
        service=Service(volts=answers.volts, legs=2 if answers.volts == 120 else 1, main_a=0),
        site=_site(answers),
        loads={load.id: load for load in loads},
        catalogue=Catalogue(stations={OWN_ID: _own_station(answers.own, answers.volts)} if answers.own else {}),
    )
    check_home(home)
    indoors, garage, outdoors = SPOTS[answers.climate]
    outage = Outage(
        id="usual",
        name="The usual cut",
        start=start,
        hours=answers.hours,
        goal_hours=answers.hours,
        indoors_c=indoors,
        garage_c=garage,
        outdoors_c=outdoors,
    )
    fed = [load for load in loads if not typical()[load.id].hard_wired]
    if answers.own is not None:
        return home, _cords(fed, home.catalogue.stations[OWN_ID], 0, owned=True), outage
    return home, _first_plan(home, fed, outage), outage


def _own_station(box: OwnBox, volts: Literal[120, 230]) -> Station:
    """What its label says; the rest is unlisted, and judged by careful defaults that are named."""
    return Station(
        id=OWN_ID,
        name=box.name,
        volts="120" if volts == 120 else "230",
        nominal_wh=box.nominal_wh,
        continuous_w=box.continuous_w,
        outlets=box.outlets,
    )


def _site(answers: Answers) -> Site:
    """Where the home stands: as said, or near enough the place its time zone is named for, and then that is said
    too."""
    near = place_of_zone(answers.time_zone)
    here = (answers.latitude, answers.longitude)
    place, (latitude, longitude) = answers.place, (here if None not in here else (45.0, 0.0))
    if None in here and near is not None:
        place, latitude, longitude = place or f"near {near.name}, by its time zone", near.latitude, near.longitude
    return Site(
        place=place,
        time_zone=answers.time_zone,
        currency=answers.currency,
        climate=answers.climate,
        latitude=min(max(latitude or 0.0, -66.0), 66.0),
        longitude=longitude or 0.0,
    )


def _loads(answers: Answers) -> list[Load]:
    table = typical()
    for ident in answers.picks:
        if ident not in table:
            raise UnknownReference("picks", ident, "choose from the table of typical loads")
    return [replace(table[k].load(k, n, answers.volts), must_stay=True) for k, n in answers.picks.items() if n > 0]


def _first_plan(home: Home, fed: list[Load], outage: Outage) -> Plan:
    catalogue = shipped()
    best: tuple[tuple[bool, bool, bool, float], Plan] | None = None
    for station in sorted(catalogue.stations.values(), key=lambda s: (s.price, s.id)):
        if station.leg_volts != home.service.volts:
            continue
        for modules in range(station.max_modules + 1):
            plan = _cords(fed, station, modules)
            verdict = judge(home, plan, outage, catalogue, with_moves=False)
            rank = _rank(verdict, outage)
            if best is None or rank > best[0]:
                best = (rank, plan)
            if all(rank[:3]):
                return plan
    return best[1] if best else Plan(id="cords", name="Cords only")


def _rank(verdict: Answer, outage: Outage) -> tuple[bool, bool, bool, float]:
    """Prefer what fits, then what surely fits, then what reaches the goal, then the hours."""
    low = verdict.band.low_h if verdict.band else 0.0
    reaches = low is None or low >= outage.goal_hours
    hours = verdict.run.at_least_h if verdict.run else 0.0
    return verdict.fits, reaches, verdict.may_trip is None, hours


def _cords(fed: list[Load], station: Station, modules: int, *, owned: bool = False) -> Plan:
    """Loads spread over the outlets, the strongest first, each to the outlet with least on it."""
    on = dict.fromkeys(range(1, (station.outlets or len(fed)) + 1), 0.0)
    feeds = {}
    for load in sorted(fed, key=lambda x: -x.run_va):
        place = min(on, key=lambda p: (on[p], p)) if on else 1
        on[place] = on.get(place, 0.0) + load.run_va
        feeds[load.id] = Feed(id=load.id, load=load.id, place=place)
    sources = {"main": Source(id="main", station=station.id, modules=modules, owned=owned)}
    return Plan(id="cords", name="Cords only", sources=sources, feeds=feeds)


def _ident(name: str) -> str:
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")
    return plain[:40] or "home"
