"""The Plan: what is decided. Feeds alone say what is fed, from where and when, with a panel or without one."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Annotated, Literal

from annotated_types import Interval

from imbuto.core.basics.clock import Window
from imbuto.core.basics.errors import InvalidValue, UnknownReference
from imbuto.core.basics.units import Fraction, HourOfDay, Ident, Name, Share, Text, WattHours, Watts
from imbuto.core.equipment.catalogue import MOST_UNITS, Catalogue
from imbuto.core.equipment.wires import Cord, wires
from imbuto.core.home.home import Home

Stance = Literal["keep_on", "turns"]
Spot = Literal["indoors", "garage"]
Link = Literal["parallel", "coupler"]
TurnBy = Literal["clock", "charge", "surplus"]
School = Literal["fill", "carry"]
Lives = Literal["device", "app", "remote"]
Status = Literal["draft", "intended", "built"]
LoadChoice = Literal["unplugged", "wanted"]
PlanFor = Literal["outages", "bills", "both"]
Ending = Literal["grid", "sun", "generator", "drive"]
LossSchool = Literal["percent_and_idle", "one_efficiency"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Source:
    """One station with its modules, or several units linked. station: id in the catalogue; modules: how many in all;
    module: id of their kind in the catalogue, None for the station's own; units: of the station; link: side by side, or
    two held in step by the maker's coupler for both legs; spot: where it stands; deliverable: real over label capacity;
    health: what age has left of it; drive_wh: of a vehicle, kept for the drive; owned: it is there already, owned_units of them;
    plugged_into: id of a feed of the first station that it hangs behind, taking that one for the grid, None for none;
    own_first: behind it, it empties itself before it takes from that one."""

    id: Ident
    station: Ident
    modules: Annotated[int, Interval(ge=0, le=60)] = 0
    module: Ident | None = None
    units: Annotated[int, Interval(ge=1, le=MOST_UNITS)] = 1
    link: Link = "parallel"
    spot: Spot = "indoors"
    deliverable: Annotated[float, Interval(ge=0.3, le=1)] = 0.97
    health: Annotated[float, Interval(ge=0.2, le=1)] = 1.0
    drive_wh: WattHours = 0
    owned: bool = False
    owned_units: Annotated[int, Interval(ge=1, le=MOST_UNITS)] = 1
    plugged_into: Ident | None = None
    own_first: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Engine:
    """The generator of a plan, at the inlet or a station's own input.

    generator: id in the catalogue; source: the one it charges; school: fill the battery and stop, or carry the house; stock_l:
    fuel at hand, its tank in; start_at, stop_at: charge at which it is started and stopped, to fill; windows: when it
    may run, empty for any hour; charges: whether the station's input charges from it, or only passes it on; owned: it is
    there already, and costs nothing.
    """

    generator: Ident
    source: Ident = "main"
    school: School = "fill"
    stock_l: Annotated[float, Interval(ge=0, le=10_000)] = 20.0
    start_at: Annotated[Fraction, Interval(le=0.95)] = 0.30
    stop_at: Annotated[Fraction, Interval(ge=0.05)] = 0.90
    windows: tuple[Window, ...] = ()
    charges: bool = True
    owned: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Shade:
    """When something stands before an array. from_h, to_h: local hours of the day; months: 1 to 12, none for all;
    share: of the direct light it takes."""

    from_h: HourOfDay
    to_h: HourOfDay
    months: tuple[Annotated[int, Interval(ge=1, le=12)], ...] = ()
    share: Fraction = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Array:
    """Panels wired alike, on one solar input of one source.

    panel: id in the catalogue; series: panels in a string; parallel: strings side by side; tilt: ° from lying flat;
    azimuth: ° it faces, from north by east; input: of the source, counted from 1; cord: the cable between; owned: it is
    there already, and costs nothing.
    """

    id: Ident
    name: Name
    panel: Ident
    series: Annotated[int, Interval(ge=1, le=30)] = 1
    parallel: Annotated[int, Interval(ge=1, le=20)] = 1
    tilt: Annotated[float, Interval(ge=0, le=90)] = 30.0
    azimuth: Annotated[float, Interval(ge=0, le=360)] = 180.0
    source: Ident = "main"
    input: Annotated[int, Interval(ge=1, le=12)] = 1
    shade: tuple[Shade, ...] = ()
    cord: Cord | None = None
    owned: bool = False

    @property
    def count(self) -> int:
        """Panels in all."""
        return self.series * self.parallel


@dataclass(frozen=True, slots=True, kw_only=True)
class Feed:
    """One thing fed: a circuit or a single load, in a place of the switch or an outlet of the station.

    source: id of the plan's source; circuit, load: one of the two; place: of the switch, or outlet; stance: Keep on or
    Take turns; turn_by: what gives it its turn: the clock, a charge, or sun to spare; windows: when it has its turn, by
    the clock; share: the share of the time it has, where there are no windows; above: the charge it is fed above; cord:
    what it hangs on, where that is known.
    """

    id: Ident
    source: Ident = "main"
    circuit: Ident | None = None
    load: Ident | None = None
    place: Annotated[int, Interval(ge=1, le=200)] = 1
    stance: Stance = "keep_on"
    windows: tuple[Window, ...] = ()
    share: Share = 0.5
    turn_by: TurnBy = "clock"
    above: Fraction = 0.5
    cord: Cord | None = None

    @property
    def by_charge(self) -> bool:
        """Whether it comes and goes with the charge, and not by the clock."""
        return self.stance == "turns" and self.turn_by != "clock"


@dataclass(frozen=True, kw_only=True)
class Named:
    """What everything that is kept by id has; it stands first in a file."""

    id: Ident
    name: Name


@dataclass(frozen=True, kw_only=True)
class Joining:
    """How a plan is joined.

    transfer: id of the transfer equipment; sources, feeds, arrays: by id; inlet_cord: from station to inlet; charge_w: set on
    the charger, None for all it takes; charge_circuit: the one its charger is plugged into; engine: a generator, None for none.
    """

    transfer: Ident = "cords"
    sources: dict[str, Source] = field(default_factory=dict)
    feeds: dict[str, Feed] = field(default_factory=dict)
    arrays: dict[str, Array] = field(default_factory=dict)
    inlet_cord: Cord | None = None
    charge_w: Watts | None = None
    charge_circuit: Ident | None = None
    engine: Engine | None = None


@dataclass(frozen=True, kw_only=True)
class Choices:
    """What is fed of what comes with a circuit, and what was settled on the way.

    load_choices: by load id, what to do with one that comes with a circuit; settings: by load id, the one it is used
    in, empty for the load's own figures, and where it is not said the one of the season; not_together: groups of loads
    of which one runs at a time; reasons: by circuit id, why it is left off; ticks: cautions a person has settled, by their
    names.
    """

    load_choices: dict[str, LoadChoice] = field(default_factory=dict)
    settings: dict[str, Text] = field(default_factory=dict)
    not_together: tuple[tuple[Ident, ...], ...] = ()
    reasons: dict[str, Text] = field(default_factory=dict)
    ticks: tuple[Ident, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Policy:
    """What a plan is for, and how it is run.

    floor: charge at which the station stops; losses: conversion and idle apart, or one efficiency of 85 %; purpose: what it is
    for; runs_on: goes on with sun rather than bridge to the ending; ending: what ends the bridge, driving off to charge among
    them; reaction_h: until someone has noticed and come; asleep: when nobody does; below_floor: in an emergency the floor is
    given up.
    """

    floor: Annotated[Fraction, Interval(le=0.9)] = 0.10
    losses: LossSchool = "percent_and_idle"
    purpose: PlanFor = "outages"
    runs_on: bool = False
    ending: Ending = "grid"
    reaction_h: Annotated[float, Interval(ge=0, le=24)] = 0.5
    asleep: tuple[Window, ...] = (Window(start_h=23, end_h=7),)
    below_floor: bool = False


@dataclass(frozen=True, kw_only=True)
class Papers:
    """What is written on a plan. based_on: id of the plan it was copied from; lives: where each setting of the station is made,
    by its name."""

    status: Status = "draft"
    based_on: Ident | None = None
    lives: dict[str, Lives] = field(default_factory=dict)
    note: Text = ""


@dataclass(frozen=True, kw_only=True)
class Plan(Papers, Policy, Choices, Joining, Named):
    """A home's decisions: how they are joined, what is chosen, by which policy, and what is written on them."""

    @property
    def source(self) -> Source | None:
        """The plan's station, where one is chosen."""
        return next(iter(self.sources.values()), None)


def check_plan(plan: Plan, home: Home, catalogue: Catalogue) -> None:
    """Raise InvalidValue or UnknownReference where a plan points at nothing or says two things at once."""
    where = plan.name
    if plan.transfer not in catalogue.transfer:
        raise UnknownReference(f"{where}, transfer equipment", plan.transfer, "the catalogue has no such entry")
    for key, source in plan.sources.items():
        _check_source(f"{where}, source", key, source, catalogue)
    _check_arrays(where, plan, catalogue)
    fed: dict[tuple[str, str], str] = {}
    places: dict[int, str] = {}
    for key, feed in plan.feeds.items():
        if key != feed.id:
            raise InvalidValue(f"{where}, feeds/{key}/id", feed.id, f"it stands under “{key}”, and the two must agree")
        if plan.sources and feed.source not in plan.sources:
            raise UnknownReference(f"{where}, feed {key}, source", feed.source, "the plan has no such source")
        target = _target(where, feed, home)
        if target in fed:
            raise InvalidValue(f"{where}, feeds", target[1], "it is fed twice; a load can hang on one source only")
        fed[target] = key
        _check_place(where, feed, home, plan, places)
        if feed.circuit is not None and plan.sources and feed.source != next(iter(plan.sources)):
            rule = "only the first station stands at the transfer equipment; on another, single loads hang by cords"
            raise InvalidValue(f"{where}, feed {key}, source", feed.source, rule)
    for kind, ident in fed:
        by = plan.feeds.get(fed.get(("circuit", home.loads[ident].circuit or ""), "")) if kind == "load" else None
        if by is not None and by.source == plan.feeds[fed[kind, ident]].source:
            raise InvalidValue(
                f"{where}, feeds", home.loads[ident].name, "its circuit is fed already; feed one of the two"
            )
    _check_plugged(where, plan)
    _check_engine(where, plan, catalogue)
    if plan.charge_circuit is not None and plan.charge_circuit not in home.circuits:
        raise UnknownReference(f"{where}, charging circuit", plan.charge_circuit, "the home has no such circuit")
    for cord in (plan.inlet_cord, *(f.cord for f in plan.feeds.values())):
        if cord is not None and cord.wire not in wires():
            raise UnknownReference(f"{where}, cord", cord.wire, f"the table of wires has {', '.join(wires())}")
    for ident, setting in plan.settings.items():
        if ident not in home.loads or (setting and setting not in home.loads[ident].settings):
            raise UnknownReference(f"{where}, setting of {ident}", setting, "the load has no such setting")
    for choice in [*plan.load_choices, *(m for group in plan.not_together for m in group)]:
        if choice not in home.loads:
            raise UnknownReference(f"{where}, load", choice, "the home has no load of that id")


def _check_source(where: str, key: str, source: Source, catalogue: Catalogue) -> None:
    if key != source.id:
        raise InvalidValue(f"{where}/{key}/id", source.id, f"it stands under “{key}”, and the two must agree")
    station = catalogue.stations.get(source.station)
    if station is None:
        raise UnknownReference(f"{where}, station", source.station, "the catalogue has no such entry")
    most = station.max_modules * source.units
    if source.modules > most:
        raise InvalidValue(f"{where}, modules", source.modules, f"{station.name} takes at most {most}")
    if source.module is not None and source.module not in catalogue.modules:
        raise UnknownReference(f"{where}, kind of module", source.module, "the catalogue has no such entry")


def _check_plugged(where: str, plan: Plan) -> None:
    """A station hangs behind the first one only, on something that one feeds."""
    for i, source in enumerate(plan.sources.values()):
        if source.plugged_into is None:
            continue
        feed = plan.feeds.get(source.plugged_into)
        first = next(iter(plan.sources))
        if i == 0 or feed is None or feed.source != first:
            rule = "a station is plugged in behind the first one, on something that one feeds"
            raise InvalidValue(f"{where}, {source.id}, plugged into", source.plugged_into, rule)


def _check_engine(where: str, plan: Plan, catalogue: Catalogue) -> None:
    engine = plan.engine
    if engine is None:
        return
    if engine.generator not in catalogue.generators:
        raise UnknownReference(f"{where}, generator", engine.generator, "the catalogue has no such entry")
    if plan.sources and engine.source not in plan.sources:
        raise UnknownReference(f"{where}, generator, source", engine.source, "the plan has no such source")
    if engine.start_at >= engine.stop_at:
        rule = f"it stops at {100 * engine.stop_at:.0f} %, so it has to start below that"
        raise InvalidValue(f"{where}, generator, starts at", f"{100 * engine.start_at:.0f} %", rule)


def narrowed(plan: Plan, source_id: str) -> Plan:
    """What of a plan belongs to one of its sources. Only the first stands at the transfer equipment; what hangs on another
    one's cords is unplugged from the first's circuits."""
    if len(plan.sources) < 2:
        return plan  # what belongs to its only source is all of it
    first = next(iter(plan.sources)) == source_id
    away: dict[str, LoadChoice] = {f.load: "unplugged" for f in plan.feeds.values() if f.load and f.source != source_id}
    engine = plan.engine if plan.engine and plan.engine.source == source_id else None
    return replace(
        plan, sources={source_id: plan.sources[source_id]}, transfer=plan.transfer if first else "cords",
        feeds={k: f for k, f in plan.feeds.items() if f.source == source_id},
        arrays={k: a for k, a in plan.arrays.items() if a.source == source_id},
        load_choices=plan.load_choices | away if first else plan.load_choices, engine=engine,
        charge_w=plan.charge_w if first else None, charge_circuit=plan.charge_circuit if first else None,
    )  # fmt: skip


def _check_arrays(where: str, plan: Plan, catalogue: Catalogue) -> None:
    inputs: dict[tuple[str, int], str] = {}
    for key, array in plan.arrays.items():
        if key != array.id:
            raise InvalidValue(
                f"{where}, arrays/{key}/id", array.id, f"it stands under “{key}”, and the two must agree"
            )
        if array.panel not in catalogue.panels:
            raise UnknownReference(f"{where}, {array.name}, panel", array.panel, "the catalogue has no such entry")
        if plan.sources and array.source not in plan.sources:
            raise UnknownReference(f"{where}, {array.name}, source", array.source, "the plan has no such source")
        there = plan.arrays[inputs.setdefault((array.source, array.input), key)]
        if there.id != key:
            rule = f"{there.name} is on it already; strings of other panels or another direction want an input of their own"
            raise InvalidValue(f"{where}, {array.name}, solar input", array.input, rule)
        if array.cord is not None and array.cord.wire not in wires():
            raise UnknownReference(f"{where}, {array.name}, cable", array.cord.wire, f"choose {', '.join(wires())}")


def _target(where: str, feed: Feed, home: Home) -> tuple[str, str]:
    if (feed.circuit is None) == (feed.load is None):
        raise InvalidValue(f"{where}, feed {feed.id}", feed.circuit, "a feed goes to one circuit or to one load")
    if feed.circuit is not None:
        if feed.circuit not in home.circuits:
            raise UnknownReference(f"{where}, feed {feed.id}, circuit", feed.circuit, "the home has no such circuit")
        return "circuit", feed.circuit
    assert feed.load is not None
    if feed.load not in home.loads:
        raise UnknownReference(f"{where}, feed {feed.id}, load", feed.load, "the home has no such load")
    return "load", feed.load


def places_of(feed: Feed, home: Home) -> tuple[int, ...]:
    """The places a feed takes: two side by side for a 240 V circuit."""
    circuit = home.circuits.get(feed.circuit or "")
    two = circuit is not None and circuit.poles == 2 and home.service.legs == 2
    return (feed.place, feed.place + 1) if two else (feed.place,)


def _check_place(where: str, feed: Feed, home: Home, plan: Plan, places: dict[int, str]) -> None:
    """One circuit a place. Cords may share an outlet through a strip."""
    if feed.circuit is None:
        return
    for place in places_of(feed, home):
        if place in places:
            raise InvalidValue(f"{where}, place", place, f"{home.circuits[places[place]].name} is in it already")
        places[place] = feed.circuit
