"""Turn the first answers of a newcomer into a home, an outage and a plan on cords."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Literal

from imbuto.core.advice.answer import Answer
from imbuto.core.basics.clock import Window
from imbuto.core.basics.errors import InvalidValue, UnknownReference
from imbuto.core.basics.time_zone_places import place_of_zone
from imbuto.core.basics.towns import town_named
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.transfer_equipment import TransferEquipment
from imbuto.core.home.circuits import Circuit
from imbuto.core.home.home import Home, Service, Site, check_home
from imbuto.core.home.loads import Load, Use
from imbuto.core.home.typical import typical
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Device, Feed, Plan
from imbuto.core.plan.sources import Engine, Source
from imbuto.services.first_page.first_questions import Answers, Climate, OwnBox, OwnEngine, PickDetail, Season

# °C indoors without heating or cooling, in the garage and outdoors: planning defaults.
SPOTS: dict[tuple[Climate, Season], tuple[float, float, float]] = {
    ("mild", "winter"): (18.0, 8.0, 5.0),
    ("mild", "summer"): (25.0, 26.0, 28.0),
    ("cold_winter", "winter"): (16.0, 2.0, -5.0),
    ("cold_winter", "summer"): (24.0, 25.0, 27.0),
    ("hot_summer", "winter"): (18.0, 11.0, 9.0),
    ("hot_summer", "summer"): (28.0, 33.0, 34.0),
}
WORST: dict[Climate, Season] = {"mild": "winter", "cold_winter": "winter", "hot_summer": "summer"}
COLD_FROM, HOT_TO = 41.0, 33.0  # degrees of latitude: a climate guessed from the town; planning default
LITRES_PER_KWH = {"half": 0.65, "full": 0.55}  # petrol, by half and full load; planning default

OWN_ID = "own-station"
SWITCH = "switch"
BREAKERS = (15, 20, 30, 40, 50, 60)  # A, usual ones
OWN_GENERATOR = "own-generator"
LEAST_SPAN = 0.25  # h, of use in a day


@dataclass(frozen=True, slots=True, kw_only=True)
class Whereabouts:
    """Say where and when a newcomer's outage is.

    place: as it is shown; unknown: the town that was typed and isn't in the table, else empty
    """

    place: str
    latitude: float
    longitude: float
    climate: Climate
    season: Season
    unknown: str = ""


@dataclass(frozen=True, slots=True)
class FirstHome:
    """Hold the home of a newcomer before a station is chosen.

    corded: what a cord can power; wired: what is wired in, each on a circuit of its own
    engine: the generator that is there, None for none
    """

    home: Home
    outage: Outage
    corded: tuple[Load, ...]
    wired: tuple[Load, ...]
    engine: Engine | None

    @property
    def catalogue(self) -> Catalogue:
        """Shipped equipment and the newcomer's own."""
        return self.home.catalogue.over(shipped())


def setting_of(answers: Answers) -> Whereabouts:
    """Settle where and when: the entered coordinates, else the town, else the place the time zone is named for."""
    town = town_named(answers.place) if answers.place.strip() else None
    near = place_of_zone(answers.time_zone)
    unknown = answers.place if answers.place.strip() and town is None and answers.latitude is None else ""
    if answers.latitude is not None and answers.longitude is not None:
        place, latitude, longitude = answers.place, answers.latitude, answers.longitude
    elif town is not None:
        place, latitude, longitude = town.place, town.latitude, town.longitude
    elif near is not None:
        place, latitude, longitude = f"near {near.name}, by its time zone", near.latitude, near.longitude
    else:
        place, latitude, longitude = "", 45.0, 0.0
    degrees = abs(latitude)
    guessed: Climate = "cold_winter" if degrees >= COLD_FROM else "hot_summer" if degrees <= HOT_TO else "mild"
    climate = answers.climate or guessed
    season = answers.season or WORST[climate]
    latitude = min(max(latitude, -66.0), 66.0)
    return Whereabouts(
        place=place, latitude=latitude, longitude=longitude, climate=climate, season=season, unknown=unknown
    )


def first_home(answers: Answers, today: date) -> FirstHome:
    """Make the home and the outage. Raises UnknownReference, InvalidValue."""
    at = setting_of(answers)
    loads = _loads(answers)
    engine = answers.engine
    home = Home(
        id=_ident(answers.name),
        name=answers.name,
        service=Service(volts=answers.volts, legs=2 if answers.volts == 120 else 1, main_a=0),
        site=Site(
            place=at.place,
            time_zone=answers.time_zone,
            currency=answers.currency,
            climate=at.climate,
            latitude=at.latitude,
            longitude=at.longitude,
        ),
        circuits={load.id: _own_circuit(load, answers.volts) for load in loads if load.hard_wired},
        loads={load.id: replace(load, circuit=load.id) if load.hard_wired else load for load in loads},
        catalogue=Catalogue(
            stations={OWN_ID: _own_station(answers.own, answers)} if answers.own else {},
            generators={OWN_GENERATOR: _own_generator(engine, answers.volts)} if engine else {},
        ),
    )
    check_home(home)
    indoors, garage, outdoors = SPOTS[at.climate, at.season]
    outage = Outage(
        id="usual",
        name=length_words(answers.hours, at.season).capitalize(),
        start=_evening(today, at),
        hours=answers.hours,
        goal_hours=answers.hours,
        indoors_c=indoors,
        garage_c=garage,
        outdoors_c=outdoors,
    )
    corded = tuple(x for x in home.loads.values() if not x.hard_wired)
    wired = tuple(x for x in home.loads.values() if x.hard_wired)
    use = Engine(generator=OWN_GENERATOR, stock_l=engine.stock_l, owned=True) if engine else None
    return FirstHome(home, outage, corded, wired, use)


def length_words(hours: float, season: Season) -> str:
    """Say how long an outage is, and when: ``12-hour winter night``."""
    if hours <= 14:
        return f"{hours:g}-hour {season} {'evening' if hours <= 6 else 'night'}"
    return f"{hours:g} hours in {season}" if hours < 48 else f"{hours / 24:g} days in {season}"


def _evening(today: date, at: Whereabouts) -> datetime:
    """Six in the evening, in the middle of the next such season."""
    month = 1 if (at.season == "winter") == (at.latitude >= 0) else 7
    year = today.year if today <= date(today.year, month, 15) else today.year + 1
    return datetime(year, month, 15, 18)


def short_of(answer: Answer) -> str:
    """Say why a plan doesn't reach the goal, in words that follow its hours; empty where it does, 9 times in 10."""
    if answer.reaches:
        return ""
    if answer.low_h is not None and answer.low_h < answer.outage.goal_hours:
        return "less than the goal"
    return "but it may trip" if answer.may_trip else "but not everything has power"


def cords_plan(
    first: FirstHome, station: Station, modules: int, *, owned: bool = False, switch: TransferEquipment | None = None
) -> Plan:
    """Spread the loads over the outlets, the strongest first, each to the outlet with least on it.

    switch: a transfer switch for what is wired in, None to leave that off; circuits of 240 V stay off a station
    without them"""
    on = dict.fromkeys(range(1, (station.outlets or len(first.corded)) + 1), 0.0)
    feeds = {}
    for load in sorted(first.corded, key=lambda x: -x.run_va):
        place = min(on, key=lambda p: (on[p], p)) if on else 1
        on[place] = on.get(place, 0.0) + load.run_va
        feeds[load.id] = Feed(id=load.id, load=load.id, place=place)
    devices, slot = {}, 1
    for load in sorted(first.wired, key=lambda x: -first.home.circuits[x.id].poles) if switch else ():
        poles = first.home.circuits[load.id].poles
        if poles == 2 and station.volts == "120":
            continue
        devices[SWITCH] = Device(id=SWITCH, equipment=switch.id if switch else "", source="main")
        feeds[load.id] = Feed(id=load.id, circuit=load.id, device=SWITCH, place=slot)
        slot += poles
    sources = {"main": Source(id="main", station=station.id, modules=modules, owned=owned)}
    return Plan(
        id="first" if devices else "cords",
        name="Transfer switch and cords" if devices else "Cords only",
        sources=sources,
        devices=devices,
        feeds=feeds,
        engine=first.engine,
    )


def _own_circuit(load: Load, volts: int) -> Circuit:
    """Return the circuit of something wired in: nobody has traced it yet, and its breaker is the usual one."""
    poles: Literal[1, 2] = 2 if load.both_legs and volts == 120 else 1
    amps = 1.25 * load.run_va / (volts * poles)
    breaker = next((a for a in BREAKERS if a >= amps), BREAKERS[-1])
    return Circuit(id=load.id, name=load.name, poles=poles, breaker_a=breaker, traced=False)


def _own_station(box: OwnBox, answers: Answers) -> Station:
    """Return what its label says; the rest is unlisted, and judged by careful defaults that are named."""
    return Station(
        id=OWN_ID,
        name=box.name,
        volts="120" if answers.volts == 120 else "230",
        nominal_wh=box.nominal_wh,
        continuous_w=box.continuous_w,
        surge_va=box.surge_va,
        idle_w=box.idle_w,
        outlets=box.outlets,
        outlet_a=box.outlet_a,
        charge_w=box.charge_w,
        weight_kg=box.weight_kg,
        currency=answers.currency,
    )


def _own_generator(engine: OwnEngine, volts: Literal[120, 230]) -> Generator:
    kilowatts = engine.running_w / 1000
    return Generator(
        id=OWN_GENERATOR,
        name="My generator",
        volts="120" if volts == 120 else "230",
        running_w=engine.running_w,
        half_l_h=max(LITRES_PER_KWH["half"] * kilowatts / 2, 0.01),
        full_l_h=max(LITRES_PER_KWH["full"] * kilowatts, 0.01),
    )


def _loads(answers: Answers) -> list[Load]:
    table = typical()
    for ident in (*answers.picks, *answers.details):
        if ident not in table:
            raise UnknownReference("picks", ident, "choose from the table of typical loads")
    found = []
    for ident, count in answers.picks.items():
        if count > 0:
            load = replace(table[ident].load(ident, count, answers.volts), must_stay=True)
            found.append(_corrected(load, answers.details.get(ident, PickDetail())))
    for n, other in enumerate(answers.others, 1):
        load = Load(
            id=f"other-{n}",
            name=other.name,
            average_w=other.watts,
            run_w=other.watts,
            count=other.count,
            evidence="guess",
            must_stay=True,
        )
        found.append(_corrected(load, PickDetail(from_h=other.from_h, to_h=other.to_h)))
    return found


def _corrected(load: Load, detail: PickDetail) -> Load:
    """Return the load as the newcomer corrects it. Raises InvalidValue for a span without length."""
    if detail.watts is not None:
        load = replace(load, average_w=detail.watts, run_w=max(load.run_w, detail.watts))
    if detail.from_h is None or detail.to_h is None:
        return load
    if abs(detail.from_h - detail.to_h) < LEAST_SPAN:
        raise InvalidValue(f"{load.name}, from and to", detail.to_h, "choose two different hours, or all day")
    if {detail.from_h, detail.to_h} == {0.0, 24.0}:
        return replace(load, use=Use(kind="always"))
    return replace(load, use=Use(kind="windows", windows=(Window(start_h=detail.from_h % 24, end_h=detail.to_h),)))


def _ident(name: str) -> str:
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")
    return plain[:40] or "home"
