"""The Plan: what is decided. Feeds alone say what is fed, from where and when, with a panel or without one."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Annotated, Literal

from annotated_types import Interval

from imbuto.core.basics.clock import Window
from imbuto.core.basics.units import Fraction, Ident, Name, Share, Text, Volts
from imbuto.core.equipment.wires import Cord
from imbuto.core.home.home import Home
from imbuto.core.plan.entered.cost_entries import Cost, Credit
from imbuto.core.plan.entered.other_uses import OtherUse
from imbuto.core.plan.entered.own_numbers import OwnNumbers
from imbuto.core.plan.entered.paperwork import BuildChange, LeadTimeStage, Permission, Task, WorkDays
from imbuto.core.plan.everyday_policy import Everyday
from imbuto.core.plan.sources import Array, Bank, Engine, Source

CORDS = "cords"  # how no transfer equipment at all is called in the catalogue
Stance = Literal["keep_on", "turns"]
Port = Literal["ac", "dc"]
TurnBy = Literal["clock", "charge", "surplus"]
Lives = Literal["device", "app", "remote"]
Status = Literal["draft", "intended", "built"]
LoadChoice = Literal["unplugged", "wanted"]
PlanFor = Literal["outages", "bills", "both"]
Ending = Literal["grid", "sun", "generator", "drive"]
LossSchool = Literal["percent_and_idle", "one_efficiency"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Feed:
    """One thing fed: a circuit or a single load, in a place of the switch or an outlet of the station.

    source: id of the plan's source
    circuit, load: one of the two
    device: the one it is at, None for the first that its source feeds; a load is never at one: it hangs on a cord
    port: a load made for low voltage may hang on a direct current port
    port_v: of that port, 0 for the station's first one
    place: of the device, or outlet
    stance: Keep on or Take turns
    turn_by: what gives it its turn: the clock, a charge, or sun to spare
    windows: when it has its turn, by the clock
    share: the share of the time it has, where there are no windows
    above: the charge it is fed above
    cord: what it hangs on, where that is known
    """

    id: Ident
    source: Ident = "main"
    circuit: Ident | None = None
    load: Ident | None = None
    port: Port = "ac"
    port_v: Volts = 0
    device: Ident | None = None
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Device:
    """Transfer equipment in a plan.

    equipment: id in the catalogue
    source: the one that feeds it
    panel: of the home it stands at, None for the main one
    behind: the device whose output its grid side hangs on, None for the grid
    cord: from the station to its inlet
    bypassed: taken out by its service bypass, so that the grid goes past it and the source feeds nothing through it
    left_on: its circuits stay on the source on ordinary days too, and the station, plugged into the wall, passes the
        grid on to them; only for a switch with a lever for each circuit
    """

    id: Ident
    equipment: Ident
    source: Ident = "main"
    panel: Ident | None = None
    behind: Ident | None = None
    cord: Cord | None = None
    bypassed: bool = False
    left_on: bool = False


@dataclass(frozen=True, kw_only=True)
class NamedItem:
    """What everything that is kept by id has; it stands first in a file."""

    id: Ident
    name: Name


@dataclass(frozen=True, kw_only=True)
class Joining:
    """How a plan is joined.

    devices: transfer equipment, none of it where everything hangs on cords
    sources, banks, feeds, arrays: by id
    engine: a generator, None for none
    opened: of gear that makes a whole panel live, by circuit id, who opens the breaker of what is left off
    """

    sources: dict[str, Source] = field(default_factory=dict)
    devices: dict[str, Device] = field(default_factory=dict)
    feeds: dict[str, Feed] = field(default_factory=dict)
    arrays: dict[str, Array] = field(default_factory=dict)
    banks: dict[str, Bank] = field(default_factory=dict)
    engine: Engine | None = None
    opened: dict[str, Text] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class Choices:
    """What is fed of what comes with a circuit, and what was settled on the way.

    load_choices: by load id, what to do with one that comes with a circuit
    settings: by load id, the one it is used in, empty for the load's own figures, and where it is not said the one of
        the season
    not_together: groups of loads of which one runs at a time
    reasons: by circuit id, why it is left off
    ticks: cautions a person has settled, by their names
    """

    load_choices: dict[str, LoadChoice] = field(default_factory=dict)
    settings: dict[str, Text] = field(default_factory=dict)
    not_together: tuple[tuple[Ident, ...], ...] = ()
    reasons: dict[str, Text] = field(default_factory=dict)
    ticks: tuple[Ident, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Policy:
    """What a plan is for, and how it is run.

    floor: charge at which the station stops
    losses: conversion and idle apart, or one efficiency of 85%
    purpose: what it is for
    runs_on: goes on with sun rather than bridge to the ending
    ending: what ends the bridge, driving off to charge among them
    reaction_h: until someone has noticed and come
    asleep: when nobody does
    below_floor: in an emergency the floor is given up
    everyday: what it does while the grid is there, None for standing full
    own_numbers: that somebody sizes it with by hand, None for none entered
    """

    floor: Annotated[Fraction, Interval(le=0.9)] = 0.10
    losses: LossSchool = "percent_and_idle"
    purpose: PlanFor = "outages"
    runs_on: bool = False
    ending: Ending = "grid"
    reaction_h: Annotated[float, Interval(ge=0, le=24)] = 0.5
    asleep: tuple[Window, ...] = (Window(start_h=23, end_h=7),)
    below_floor: bool = False
    everyday: Everyday | None = None
    own_numbers: OwnNumbers | None = None


@dataclass(frozen=True, kw_only=True)
class Papers:
    """What is written on a plan.

    based_on: id of the plan it was copied from
    lives: where each setting of the station is made, by its name
    costs, credits: what it costs beside the equipment, and what comes off; tasks, permissions, stages of the lead time
    built: what came out otherwise; other_uses: what stations are carried away for; all by id
    works: when the wiring is worked on
    """

    status: Status = "draft"
    based_on: Ident | None = None
    lives: dict[str, Lives] = field(default_factory=dict)
    costs: dict[str, Cost] = field(default_factory=dict)
    credits: dict[str, Credit] = field(default_factory=dict)
    tasks: dict[str, Task] = field(default_factory=dict)
    permissions: dict[str, Permission] = field(default_factory=dict)
    stages: dict[str, LeadTimeStage] = field(default_factory=dict)
    built: dict[str, BuildChange] = field(default_factory=dict)
    other_uses: dict[str, OtherUse] = field(default_factory=dict)
    works: WorkDays = field(default_factory=WorkDays)
    note: Text = ""


@dataclass(frozen=True, kw_only=True)
class Plan(Papers, Policy, Choices, Joining, NamedItem):
    """A home's decisions: how they are joined, what is chosen, by which policy, and what is written on them."""

    @property
    def source(self) -> Source | None:
        """The plan's station, where one is chosen."""
        return next(iter(self.sources.values()), None)

    @property
    def own_arrays(self) -> list[Array]:
        """The arrays on solar inputs of its sources: those on the controllers of banks and on the AC side left out."""
        return [a for a in self.arrays.values() if a.source not in self.banks and not a.ac]

    @property
    def ac_arrays(self) -> list[Array]:
        """The arrays with an inverter of their own on the house's AC side."""
        return [a for a in self.arrays.values() if a.ac]

    @property
    def device(self) -> Device | None:
        """The first of its transfer equipment, None where everything hangs on cords."""
        return next(iter(self.devices.values()), None)

    def device_of(self, feed: Feed) -> Device | None:
        """The device a feed is at; None for a load on a cord, and for anything where its source feeds no device."""
        if feed.load is not None:
            return None
        if feed.device is not None:
            return self.devices.get(feed.device)
        return next((d for d in self.devices.values() if d.source == feed.source), None)

    def with_equipment(self, equipment: Ident) -> Plan:
        """The plan with its first device another one; with cords for it where that is what is asked for."""
        if equipment == CORDS:
            return replace(self, devices={})
        now = self.device or Device(id="main", equipment=equipment, source=next(iter(self.sources), "main"))
        return replace(
            self,
            devices={now.id: replace(now, equipment=equipment)}
            | {k: d for k, d in self.devices.items() if k != now.id},
        )


def narrow_to_source(plan: Plan, source_id: str) -> Plan:
    """What of a plan belongs to one of its sources. What hangs on another one's cords is unplugged from this one's
    circuits."""
    if len(plan.sources) < 2:
        return plan  # what belongs to its only source is all of it
    away: dict[str, LoadChoice] = {f.load: "unplugged" for f in plan.feeds.values() if f.load and f.source != source_id}
    others = {f.circuit: "the device that feeds it" for f in plan.feeds.values() if f.circuit and f.source != source_id}
    charged = plan.engine is not None and source_id in (plan.engine.source, *plan.engine.also)
    banks = {k: b for k, b in plan.banks.items() if b.to == source_id}
    return replace(
        plan,
        sources={source_id: plan.sources[source_id]},
        devices={k: d for k, d in plan.devices.items() if d.source == source_id},
        feeds={k: f for k, f in plan.feeds.items() if f.source == source_id},
        arrays={k: a for k, a in plan.arrays.items() if a.source in (source_id, *banks)},
        banks=banks,
        load_choices=plan.load_choices | away,
        engine=plan.engine if charged else None,
        opened=plan.opened | others,
    )


def places_of(feed: Feed, home: Home) -> tuple[int, ...]:
    """The places a feed takes: two side by side for a 240 V circuit."""
    circuit = home.circuits.get(feed.circuit or "")
    two = circuit is not None and circuit.poles == 2 and home.service.legs == 2
    return (feed.place, feed.place + 1) if two else (feed.place,)
