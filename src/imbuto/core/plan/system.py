"""Resolve a plan against a home and a catalogue: which station powers which loads, through which gear and leg."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from typing import Self

import numpy as np

from imbuto.core.basics.clock import FloatArray, Grid
from imbuto.core.basics.units import Leg
from imbuto.core.equipment.bare_battery import Battery
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.equipment.power_station import Station, with_defaults
from imbuto.core.equipment.solar_panel import Panel
from imbuto.core.equipment.transfer_equipment import TransferEquipment, left_on
from imbuto.core.equipment.wires import Cord
from imbuto.core.home.circuits import Circuit, panel_leg
from imbuto.core.home.home import Home
from imbuto.core.home.loads import PURPOSES, Load, mean_w
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.linked_units import combined_station, link_limits
from imbuto.core.plan.load_states import fed_watts
from imbuto.core.plan.plan import CORDS, Device, Feed, Plan, Stance, narrow_to_source, places_of
from imbuto.core.plan.sources import Source

UNTRACED_PART = 0.05  # of what is known on a circuit that nobody has traced, on top; planning default


UNTRACED_SPREAD = 1.0  # relative one sigma of that, lognormal, so that it is skewed upward; planning default


@dataclass(frozen=True, slots=True)
class PoweredLoad:
    """Hold one load that a plan powers, with the feed that powers it.

    load: the appliance, or a stand-in for one where ``assumed`` is set
    feed: the feed it gets power through
    circuit: the circuit it is on, None where it is on a cord
    legs: the leg it is on, or both
    volts: V across the load
    rides_along: it only comes with a circuit that is backed up for a more important load
    assumed: it is no load of the home, such as what is on a circuit nobody has traced
    dc_share: AC W that would drain the battery as much as one of its W at a DC port; 0 on AC
    """

    load: Load
    feed: Feed
    circuit: Circuit | None
    legs: tuple[Leg, ...]
    volts: float
    rides_along: bool
    assumed: bool = False
    dc_share: float = 0.0

    @property
    def direct(self) -> bool:
        """Whether it hangs on a direct current port, past the inverter."""
        return self.dc_share > 0

    def watts(self, steps: Grid) -> FloatArray:
        """Mean W in each step with its turns; shape (n,). Direct current counts as the AC that would take as much of
        the battery."""
        feed = self.feed
        stance: Stance = "keep_on" if feed.by_charge else feed.stance  # while it is on, it is fed as if kept on
        plain = fed_watts(self.load, stance, feed.windows, feed.share, steps)
        return plain * self.dc_share if self.dc_share else plain


@dataclass(frozen=True, slots=True, kw_only=True)
class Wiring:
    """Resolve the circuits and the gear of a plan against a home and a catalogue, whether or not it has a station.

    home, plan: the home, and the plan narrowed to what this is
    equipment: the transfer equipment of its first device; cords where it has none
    fed, unplugged: the loads it powers, and those that are unplugged from its circuits
    whole: the plan with all its stations
    device: the one device this is narrowed to, None for all
    by_device, equipments: transfer equipment by device id, of this and of the whole plan
    cords: what stands for having no transfer equipment
    """

    home: Home
    plan: Plan
    equipment: TransferEquipment
    fed: tuple[PoweredLoad, ...]
    unplugged: tuple[Load, ...]
    whole: Plan
    cords: TransferEquipment
    device: Device | None = None
    by_device: dict[str, TransferEquipment] = field(default_factory=dict)
    equipments: dict[str, TransferEquipment] = field(default_factory=dict)

    def equipment_of(self, feed: Feed) -> TransferEquipment:
        """What a feed is at."""
        device = self.plan.device_of(feed)
        return self.by_device[device.id] if device is not None else self.cords

    @property
    def ports(self) -> tuple[Self, ...]:
        """Narrow this to each of its devices, and to its cords next to them; itself where there is only one."""
        at: dict[str | None, list[Feed]] = {k: [] for k in self.plan.devices}
        for feed in self.plan.feeds.values():
            device = self.plan.device_of(feed)
            at.setdefault(device.id if device else None, []).append(feed)
        if len(at) < 2:
            only = next(iter(self.plan.devices.values()), None)
            return (replace(self, device=only),)
        found = []
        for key, feeds in at.items():
            device = self.plan.devices.get(key or "")
            plan = replace(self.plan, feeds={f.id: f for f in feeds}, devices={device.id: device} if device else {})
            ids = {f.id for f in feeds}
            equipment = self.by_device[device.id] if device else self.cords
            fed = tuple(x for x in self.fed if x.feed.id in ids)
            found.append(replace(self, plan=plan, equipment=equipment, device=device, fed=fed))
        return tuple(found)

    @property
    def inlet_cord(self) -> Cord | None:
        """From the station to the inlet of its device, the first one where it has several."""
        device = self.device or self.plan.device
        return device.cord if device is not None else None

    @property
    def target_names(self) -> dict[str, str]:
        """Map each feed's id to the name of the circuit or load it powers."""
        return {f.id: feed_name(self.home, f) for f in self.plan.feeds.values()}

    def watts(self, steps: Grid) -> FloatArray:
        """Mean AC W of everything powered, in each step; shape (n,)."""
        total = np.zeros(steps.n)
        for item in self.fed:
            total += item.watts(steps)
        return total

    def places_used(self) -> set[int]:
        """Switch slots, or station outlets, that are taken."""
        return {place for feed in self.plan.feeds.values() if feed.port == "ac" for place in places_of(feed, self.home)}


@dataclass(frozen=True, slots=True, kw_only=True)
class Part(Wiring):
    """Resolve what belongs to one station of a plan; see the glossary.

    source: the station as the plan has it
    station: all its units as one station
    unit: one of its units, as in the catalogue, with careful defaults for what is unlisted
    assumed: the fields of the unit that are such defaults
    panels: panels of its arrays, by id in the catalogue
    batteries: batteries of its banks, by id in the catalogue
    linked: limits of linking its units and modules
    generator: the generator of the plan, None where this station has none
    passes: loads of a station plugged in behind this one, with that station's own draw
    line: the parts stepped together with this one, itself among them; empty where it is stepped alone
    rank: its place in that line
    """

    source: Source
    station: Station
    unit: Station
    assumed: frozenset[str] = frozenset()
    panels: dict[str, Panel] = field(default_factory=dict)
    batteries: dict[str, Battery] = field(default_factory=dict)
    linked: tuple[Limit, ...] = ()
    generator: Generator | None = None
    passes: tuple[PoweredLoad, ...] = ()
    line: tuple[Part, ...] = ()
    rank: int = 0

    @property
    def follows(self) -> bool:
        """Whether its station is behind another one or waits at its inlet, and goes on when that one is empty."""
        return ahead_of(self.whole, self.source.id) is not None

    @property
    def waits(self) -> bool:
        """Whether its station waits its turn at the inlet of another one."""
        return self.source.after is not None

    @property
    def is_pair(self) -> bool:
        """Whether two units on the maker's coupler give it a leg each, so that it is two stores."""
        return self.source.units == 2 and self.source.link == "coupler"

    @property
    def stored_wh(self) -> float:
        """Label Wh of its station with its modules."""
        return self.station.stored_wh(self.source.modules)

    @property
    def own_draw_w(self) -> float:
        """DC W its station and modules take themselves with the AC output on."""
        return self.station.own_draw_w(self.source.modules)

    @property
    def charging_w(self) -> float:
        """AC W its charger takes, at most what is set on it; 0 where that is unlisted."""
        most = self.station.charger_w(self.source.modules)
        return most if self.source.charge_w is None else min(self.source.charge_w, most)

    @property
    def load_full_w(self) -> float:
        """AC W that 100% on a load display stands for: of its inverter, whatever else a station built from parts lets
        through; linked units together."""
        return self.station.continuous_w * self.unit.continuous_w / self.unit.as_built().continuous_w

    @property
    def charge_circuit(self) -> Circuit | None:
        """The circuit the charger of its station is plugged into, None where it is not named."""
        return self.home.circuits.get(self.source.charge_circuit or "")

    @property
    def inverter_off(self) -> bool:
        """Whether all it powers is on DC ports, so that the AC output stays off."""
        return bool(self.fed) and all(x.direct for x in self.fed)

    @property
    def place_count(self) -> int:
        """How many places there are: the switch's, or the station's outlets with cords."""
        return self.equipment.places if self.equipment.traits.wired else self.station.outlets


@dataclass(frozen=True, slots=True)
class PlanSystem:
    """Hold a plan resolved against a home and a catalogue: its stations with all that belongs to each.

    wiring: the circuits and gear of the whole plan, without regard to its stations
    parts: a part for each station, in the plan's order; empty in a plan without one
    """

    wiring: Wiring
    parts: tuple[Part, ...]

    @property
    def each(self) -> tuple[Wiring, ...]:
        """The parts, or in a plan without a station its wiring alone."""
        return self.parts or (self.wiring,)

    @property
    def lines(self) -> tuple[tuple[Part, ...], ...]:
        """The parts that have to be stepped together, in their order; one alone is a line of its own."""
        found: list[tuple[Part, ...]] = []
        for part in self.parts:
            ids = {x.source.id for x in part.line} or {part.source.id}
            line = tuple(x for x in self.parts if x.source.id in ids)
            if line not in found:
                found.append(line)
        return tuple(found)

    def part(self, source: str | None) -> Part | None:
        """Return the part of a station by its id, the first part for None; None where the plan has no such station."""
        return next((x for x in self.parts if source is None or x.source.id == source), None)


def feed_name(home: Home, feed: Feed) -> str:
    """What a feed goes to, by name."""
    if feed.circuit is not None:
        return home.circuits[feed.circuit].name
    return home.loads[feed.load or ""].name


def resolve_wiring(home: Home, plan: Plan, catalogue: Catalogue) -> Wiring:
    """Resolve the circuits and gear of a checked plan without regard to its stations."""
    by_device, cords = _gear(plan, catalogue)
    fed, unplugged = _powered(home, plan, None, by_device, cords)
    return Wiring(
        home=home,
        plan=plan,
        whole=plan,
        equipment=next(iter(by_device.values()), cords),
        fed=tuple(fed),
        unplugged=tuple(unplugged),
        by_device=by_device,
        cords=cords,
        equipments=by_device,
    )


def resolve_part(
    home: Home, plan: Plan, catalogue: Catalogue, passes: tuple[PoweredLoad, ...] = (), whole: Plan | None = None
) -> Part:
    """Resolve a checked plan with one station, or what belongs to one of its stations.

    passes: loads of a station plugged in behind this one
    whole: the plan with all its stations, None where this is all of it
    Raises ValueError where the plan has no station.
    """
    source = plan.source
    if source is None:
        raise ValueError("a plan without a station has no part")
    unit, assumed = with_defaults(catalogue.stations[source.station].in_setting(source.setting))
    station = as_measured(combined_station(unit, source, catalogue), source)
    station = replace(station, name=f"{station.name}{_letter(whole or plan, source.id)}")
    by_device, cords = _gear(plan, catalogue)
    fed, unplugged = _powered(home, plan, station, by_device, cords)
    for p in passes:
        through = plan.feeds.get(p.feed.id)
        if through is not None:
            legs = _legs(through, p.circuit, False, station, _at(plan, through, by_device, cords))
            fed.append(replace(p, feed=through, legs=legs))
    return Part(
        home=home,
        plan=plan,
        source=source,
        station=station,
        equipment=next(iter(by_device.values()), cords),
        fed=tuple(fed),
        unplugged=tuple(unplugged),
        panels={a.panel: catalogue.panels[a.panel] for a in plan.arrays.values()},
        linked=tuple(link_limits(plan, catalogue)),
        unit=unit,
        assumed=assumed,
        generator=catalogue.generators[plan.engine.generator] if plan.engine else None,
        passes=passes,
        whole=whole or plan,
        by_device=by_device,
        cords=cords,
        equipments={k: _as_used(whole or plan, d, catalogue) for k, d in (whole or plan).devices.items()},
        batteries={x.battery: catalogue.batteries[x.battery] for b in plan.banks.values() for x in b.branches},
    )


def _letter(plan: Plan, source_id: str) -> str:
    """What tells stations of the same make in a plan apart: A, B and so on, to be written on them; else nothing."""
    alike = [k for k, s in plan.sources.items() if s.station == plan.sources[source_id].station]
    return f" {chr(ord('A') + alike.index(source_id) % 26)}" if len(alike) > 1 else ""


def _gear(plan: Plan, catalogue: Catalogue) -> tuple[dict[str, TransferEquipment], TransferEquipment]:
    """Return the transfer equipment of each device by its id, and what stands for cords."""
    by_device = {k: _as_used(plan, d, catalogue) for k, d in plan.devices.items()}
    return by_device, catalogue.transfer[CORDS] if CORDS in catalogue.transfer else shipped().transfer[CORDS]


def _as_used(plan: Plan, device: Device, catalogue: Catalogue) -> TransferEquipment:
    """A device's equipment the way this plan uses it."""
    equipment = catalogue.transfer[device.equipment]
    if not device.left_on:
        return equipment
    source = plan.sources.get(device.source)
    return left_on(equipment, catalogue.stations[source.station].in_setting(source.setting) if source else None)


def _powered(
    home: Home, plan: Plan, station: Station | None, by_device: dict[str, TransferEquipment], cords: TransferEquipment
) -> tuple[list[PoweredLoad], list[Load]]:
    """Return the loads a plan powers, and those unplugged from its circuits. A load rides along when it comes with a
    circuit that is backed up for a more important one, and nobody said it is wanted."""
    by_circuit: dict[str, list[Load]] = {}
    for load in home.loads.values():
        if load.circuit is not None:
            by_circuit.setdefault(load.circuit, []).append(load)
    fed: list[PoweredLoad] = []
    unplugged: list[Load] = []
    for feed in plan.feeds.values():
        circuit = home.circuits.get(feed.circuit or "")
        at = _at(plan, feed, by_device, cords)
        loads = by_circuit.get(circuit.id, []) if circuit else [home.loads[feed.load or ""]]
        best = min((PURPOSES.index(x.purpose) for x in loads), default=0)
        for load in loads:
            choice = plan.load_choices.get(load.id)
            if choice == "unplugged":
                unplugged.append(load)
                continue
            rides = choice is None and PURPOSES.index(load.purpose) > best
            both = home.needs_both_legs(load)
            legs = _legs(feed, circuit, both, station, at)
            direct = station.efficiency / station.dc_efficiency if station is not None and feed.port == "dc" else 0.0
            volts = home.service.volts * (2 if both else 1)
            fed.append(PoweredLoad(load, feed, circuit, legs, volts, rides, dc_share=direct))
        if circuit is not None and not circuit.traced and loads:
            fed.append(_not_traced(home, feed, circuit, loads, _legs(feed, circuit, False, station, at)))
    return fed, unplugged


def as_measured(station: Station, source: Source) -> Station:
    """A station with its own draw as it was measured, where it was; that of its modules is in it."""
    if source.own_w is None:
        return station
    return replace(station, idle_w=max(source.own_w - source.modules * station.module_draw_w, 0.0))


def circuits_beneath(port: Wiring) -> tuple[str, ...]:
    """The circuits that gear ahead of a panel makes live: of that panel and of those behind it, but for what another
    device of the plan takes over. Empty for any other gear."""
    if port.device is None or not port.equipment.traits.whole_panel:
        return ()
    plan, home, at = port.whole, port.home, port.device.panel
    taken = {f.circuit for f in plan.feeds.values() if (d := plan.device_of(f)) is not None and d.id != port.device.id}
    return tuple(
        c.id for c in home.circuits.values() if c.id not in taken and (at is None or at in home.way_to(c.panel))
    )


def equipment_in(plan: Plan, catalogue: Catalogue) -> TransferEquipment:
    """The first transfer equipment of a plan; cords where it has none."""
    return catalogue.transfer[plan.device.equipment if plan.device else CORDS]


def _at(plan: Plan, feed: Feed, by_device: dict[str, TransferEquipment], cords: TransferEquipment) -> TransferEquipment:
    device = plan.device_of(feed)
    return by_device[device.id] if device is not None else cords


def part_after_move(before: Part, home: Home, plan: Plan, catalogue: Catalogue) -> Part:
    """Resolve the same part of a plan after a move, among the same others."""
    whole = before.whole if len(before.whole.sources) > 1 else None
    after = resolve_part(home, plan, catalogue, before.passes, whole)
    if not before.line:
        return after
    line = tuple(after if i == before.rank else x for i, x in enumerate(before.line))
    return replace(after, line=line, rank=before.rank)


def vary_in_line(part: Part, change: Callable[[Part], Part], *, all_of_line: bool = False) -> Part:
    """The part with a change made to it and to its own place in the line it is stepped in, or to all of that line;
    ``replace`` alone would leave what is run as it was."""
    line = tuple(change(x) if all_of_line or i == part.rank else x for i, x in enumerate(part.line))
    return replace(change(part), line=line)


def _not_traced(home: Home, feed: Feed, circuit: Circuit, loads: list[Load], legs: tuple[Leg, ...]) -> PoweredLoad:
    """What else hangs on a circuit nobody has traced: a twentieth more than what is known there, skewed upward."""
    more = UNTRACED_PART * sum(mean_w(load) for load in loads)
    load = Load(
        id=f"untraced-{circuit.id}"[:60],
        name=f"Not traced on {circuit.name}"[:80],
        circuit=circuit.id,
        average_w=more,
        rest_w=0,
        run_w=more,
        spread=UNTRACED_SPREAD,
    )
    return PoweredLoad(load, feed, circuit, legs, home.service.volts, rides_along=False, assumed=True)


def resolve(home: Home, plan: Plan, catalogue: Catalogue) -> PlanSystem:
    """Resolve a checked plan, station by station."""
    wiring = resolve_wiring(home, plan, catalogue)
    if not plan.sources:
        return PlanSystem(wiring, ())
    if len(plan.sources) == 1:
        return PlanSystem(wiring, (resolve_part(home, plan, catalogue),))
    plain = {key: resolve_part(home, own_part(plan, key), catalogue, whole=plan) for key in plan.sources}
    found = dict(plain)
    for key, part in plain.items():
        passes = tuple(p for other in plain.values() for p in _passes(other, part))
        if passes:
            found[key] = resolve_part(home, part.plan, catalogue, passes, plan)
    for group in _groups(plan):
        line = tuple(plain[key] for key in group)
        for rank, key in enumerate(group):
            if rank or _stepped_together(plan, group):
                found[key] = replace(found[key], line=line, rank=rank)
    return PlanSystem(wiring, tuple(found.values()))


def _stepped_together(plan: Plan, group: list[str]) -> bool:
    """Whether the first of a group cannot be stepped by itself, with what the others take from it as a load of its
    own."""
    others = [plan.sources[k] for k in group[1:]]
    return any(x.plugged_into is None or x.own_first for x in others)


def own_part(plan: Plan, key: str) -> Plan:
    """What belongs to a source; of one that waits at another's inlet, what that one feeds, as it will feed it in its
    turn."""
    source = plan.sources[key]
    if source.after is None:
        return narrow_to_source(plan, key)
    first = narrow_to_source(plan, source.after)
    own = narrow_to_source(plan, key)
    return replace(
        first,
        sources={key: source},
        arrays=own.arrays,
        banks=own.banks,
        engine=own.engine,
        devices={k: replace(d, source=key) for k, d in first.devices.items()},
        feeds={k: replace(f, source=key) for k, f in first.feeds.items()},
    )


def _groups(plan: Plan) -> list[list[str]]:
    """The sources that have to be stepped together, more than one each, what others hang on before them."""
    links: list[tuple[str, str]] = []
    for key in plan.sources:
        first = ahead_of(plan, key)
        if first is not None:
            links.append((first, key))
    if plan.engine is not None:
        links += [(plan.engine.source, key) for key in plan.engine.also]
    groups: list[list[str]] = []
    for pair in links:
        touched = [g for g in groups if set(pair) & set(g)]
        merged = [k for k in plan.sources if k in {*pair, *(x for g in touched for x in g)}]
        groups = [*(g for g in groups if g not in touched), merged]
    behind = {key for key in plan.sources if ahead_of(plan, key) is not None}
    return [sorted(g, key=lambda k: k in behind) for g in groups]


def ahead_of(plan: Plan, key: str) -> str | None:
    """The source that one hangs behind: plugged in at it, waiting at its inlet, or with all it feeds at devices
    behind one of its devices. None for one that stands by itself."""
    source = plan.sources.get(key)
    if source is None:
        return None
    if source.after is not None:
        return source.after
    if source.plugged_into is not None:
        feed = plan.feeds.get(source.plugged_into)
        return feed.source if feed is not None else None
    ups = {_upper(plan, feed) for feed in plan.feeds.values() if feed.source == key}
    up = ups.pop() if len(ups) == 1 else None
    return up if up is not None and ahead_of(plan, up) is None else None


def _upper(plan: Plan, feed: Feed) -> str | None:
    """The source of the device that a feed's own device hangs behind."""
    device = plan.device_of(feed)
    up = plan.devices.get(device.behind or "") if device is not None else None
    return up.source if up is not None else None


def _passes(other: Part, first: Part) -> Iterator[PoweredLoad]:
    """What a station behind another one draws from it: its loads, passed on, and itself; its charger is off."""
    source, station = other.source, other.station
    feed = first.plan.feeds.get(source.plugged_into or "")
    if feed is None or first.waits or other is first:
        return
    circuit = first.home.circuits.get(feed.circuit or "")
    idle = other.own_draw_w
    own = Load(id=f"own-{source.id}", name=f"{station.name} itself", average_w=idle, rest_w=idle, run_w=idle)
    for load in (own, *(f.load for f in other.fed)):
        yield PoweredLoad(load, feed, circuit, ("A",), first.home.service.volts, rides_along=False, assumed=load is own)


def legs_of_feed(part: Wiring, feed: Feed) -> tuple[Leg, ...]:
    """The leg a feed is on, or both."""
    circuit = part.home.circuits.get(feed.circuit or "")
    both = circuit is not None and circuit.poles == 2 and part.home.service.legs == 2
    station = part.station if isinstance(part, Part) else None
    return _legs(feed, circuit, both, station, part.equipment_of(feed))


def _legs(
    feed: Feed, circuit: Circuit | None, both: bool, station: Station | None, equipment: TransferEquipment
) -> tuple[Leg, ...]:
    if station is None or len(station.legs) == 1:
        return ("A",)
    if both:
        return ("A", "B")
    if not equipment.traits.wired:  # outlets alternate between the legs
        return ("A",) if feed.place % 2 else ("B",)
    if equipment.in_panel and circuit is not None:
        return (panel_leg(circuit),)
    return (equipment.leg_of_place(feed.place),)
