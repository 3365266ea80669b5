"""What can be switched in a plan, what each position joins, and what must never meet.

Worked out from the joinings of a plan, not from texts about equipment. Points of the wiring are named: ``grid`` the
street's side, ``bus:…`` the bars of a panel (``bus:main`` of the main one), ``d:…`` the bars of a device with
circuits of its own, ``c:…`` the wire of a circuit, ``inlet:…``, ``src:…`` the output of a station, ``store:…`` its
battery behind that, ``in:…`` its charger, ``load:…`` one appliance on a cord."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

from imbuto.core.limits.rules.wiring.shared_neutral_limits import neutral_pairs
from imbuto.core.plan.plan import Device
from imbuto.core.plan.sources import SPOT_WORDS
from imbuto.core.plan.system import Part

Join = tuple[str, str]
State = dict[str, str]
MAIN = "bus:main"


@dataclass(frozen=True, slots=True)
class SwitchPart:
    """Something with positions.

    joins: of each position, the points it joins
    itself: it moves by itself
    where: to find it
    """

    id: str
    name: str
    where: str
    joins: dict[str, tuple[Join, ...]]
    itself: bool = False

    @property
    def positions(self) -> tuple[str, ...]:
        """Every position it has."""
        return tuple(self.joins)


@dataclass(slots=True)
class Switching:
    """Everything that is switched in a plan.

    rest: where each part is on an ordinary day
    never: positions that a mechanical interlock keeps apart
    in_step: sources that a listed device holds in step with the grid
    neutrals: wires of circuits that share one
    """

    parts: dict[str, SwitchPart] = field(default_factory=dict)
    rest: State = field(default_factory=dict)
    never: list[tuple[tuple[str, str], tuple[str, str]]] = field(default_factory=list)
    in_step: set[str] = field(default_factory=set)
    neutrals: list[Join] = field(default_factory=list)

    def add(self, part: SwitchPart, rest: str) -> None:
        """A part, and where it is on an ordinary day."""
        self.parts.setdefault(part.id, part)
        self.rest.setdefault(part.id, rest)

    def joined_points(self, state: State) -> list[set[str]]:
        """The points of the wiring that are one with each other in a state."""
        groups: list[set[str]] = []
        for ident, part in self.parts.items():
            for a, b in part.joins[state[ident]]:
                touched = [g for g in groups if a in g or b in g]
                merged = {a, b}.union(*touched)
                groups = [g for g in groups if g not in touched] + [merged]
        return groups

    def settled(self, state: State, *, grid: bool) -> State:
        """The state after what moves by itself has moved: to the grid while it is there, and else to its station."""
        found = dict(state)
        for ident, part in self.parts.items():
            if part.itself and found[ident] != "bypass":
                found[ident] = "grid" if grid else "source"
        return found

    def dangers(self, state: State, *, grid: bool) -> list[str]:
        """What is wrong in a state, in sentences; empty where it is safe. grid: whether the street is live."""
        found = []
        for one, other in self.never:
            if state.get(one[0]) == one[1] and state.get(other[0]) == other[1]:
                found.append(f"{self.parts[one[0]].name} and {self.parts[other[0]].name} are never on together")
        groups = self.joined_points(state)
        fed: dict[str, str] = {}
        for group in groups:
            sources = sorted(p for p in group if p.startswith("store:") or p == "engine")
            street = "grid" in group
            if street and sources and not grid:
                found.append("the lines outside would be live, which can kill the people who repair them")
            loose = [s for s in sources if s.removeprefix("store:") not in self.in_step]
            if street and grid and loose:
                found.append("a source and the grid would meet out of step")
            if len(sources) > 1:
                found.append("two sources would meet out of step")
            for s in sources:
                if s.replace("store:", "in:", 1) in group and s.removeprefix("store:") not in self.in_step:
                    found.append("a station would charge itself and run empty")
            live = sources[0] if sources else "grid" if street and grid else ""
            fed |= {p: live for p in group if live}
        for a, b in self.neutrals:
            if fed.get(a) and fed.get(b) and fed[a] != fed[b]:
                found.append("two sources would power circuits that share a neutral")
        return list(dict.fromkeys(found))


def switching_model(each: Iterable[Part]) -> Switching:
    """Everything that is switched in a plan; each: its parts, source by source."""
    parts = list(each)
    made = Switching()
    home, plan = parts[0].home, parts[0].whole
    ports = {p.device.id: p for x in parts if not x.waits for p in x.ports if p.device is not None}
    whole = {p.device.panel for p in ports.values() if p.device and p.equipment.in_panel and p.equipment.automatic}
    if None not in whole:
        made.add(SwitchPart("main", "The main breaker", "main panel", {"on": (("grid", MAIN),), "off": ()}), "on")
    for panel in home.panels.values():
        if panel.id not in whole:
            joins = {"on": ((_bus(panel.behind), _bus(panel.id)),), "off": ()}
            made.add(
                SwitchPart(f"feeder:{panel.id}", f"The feeder of {panel.name}", home.panel_name(panel.behind), joins),
                "on",
            )
    for x in parts:
        _source(made, x)
    for device in plan.devices.values():
        if device.id in ports and not device.bypassed:
            _device(made, ports[device.id], device)
    for circuit in home.circuits.values():
        if f"b:{circuit.id}" not in made.parts:
            made.add(_breaker(parts[0], circuit.id, _bus(circuit.panel), f"c:{circuit.id}"), "on")
    for x in parts:
        _cords(made, x)
    fed = {f.circuit for f in plan.feeds.values()}
    made.neutrals = [(f"c:{a.id}", f"c:{b.id}") for a, b in neutral_pairs(parts[0]) if a.id in fed or b.id in fed]
    return made


def _bus(panel: str | None) -> str:
    return MAIN if panel is None else f"bus:{panel}"


def _breaker(x: Part, circuit: str, start: str, end: str) -> SwitchPart:
    found = x.home.circuits[circuit]
    slots = " · ".join(map(str, found.slots)) or "?"
    name = f"Breaker {slots}, {found.name}"
    return SwitchPart(f"b:{circuit}", name, x.home.panel_name(found.panel), {"on": ((start, end),), "off": ()})


def _source(made: Switching, x: Part) -> None:
    """A station's output and its charger."""
    source, station = x.source, x.station
    automatic = any(e.automatic for e in x.by_device.values())
    joins = {"on": ((f"store:{source.id}", f"src:{source.id}"),), "off": ()}
    spot = SPOT_WORDS[source.spot]
    made.add(SwitchPart(f"out:{source.id}", f"The output of {station.name}", spot, joins), "on" if automatic else "off")
    wired = any(not e.traits.inlet for e in x.by_device.values())
    if wired:
        return  # it fills through its own fixed wire, and its device knows when
    circuit = x.charge_circuit
    unnamed = (
        "receptacle" if automatic else MAIN
    )  # by hand it may be any; gear that goes over by itself is asked for it
    start = f"c:{circuit.id}" if circuit else unnamed
    where = circuit.name if circuit else "its receptacle"
    joins = {"in": ((start, f"in:{source.id}"),), "out": ()}
    made.add(SwitchPart(f"charger:{source.id}", f"The charging cord of {station.name}", where, joins), "in")


def _device(made: Switching, port: Part, device: Device) -> None:
    """A transfer device with its positions."""
    traits, source = port.equipment.traits, device.source
    up = _grid_side(port, device)
    src = f"src:{source}"
    if traits.inlet:
        joins: dict[str, tuple[Join, ...]] = {"out": (), source: ((src, f"inlet:{device.id}"),)}
        for other in port.whole.sources.values():
            if other.after == source:
                joins[other.id] = ((f"src:{other.id}", f"inlet:{device.id}"),)
        rest = source if port.equipment.automatic else "out"
        made.add(
            SwitchPart(f"cord:{device.id}", "The cord to the inlet", f"inlet of {port.equipment.name}", joins), rest
        )
        src = f"inlet:{device.id}"
    if port.equipment.automatic:
        _automatic(made, port, device, up, src)
    elif traits.in_panel:
        bus = _bus(device.panel)
        name = f"The source breaker of {port.equipment.name}"
        part = SwitchPart(f"sb:{device.id}", name, port.home.panel_name(device.panel), {"off": (), "on": ((src, bus),)})
        made.add(part, "off")
        above = "main" if device.panel is None else f"feeder:{device.panel}"
        made.never.append(((above, "on"), (part.id, "on")))
    else:
        _levers(made, port, device, src)


def _grid_side(port: Part, device: Device) -> str:
    up = port.whole.devices.get(device.behind or "")
    if up is not None and not port.equipments[up.id].in_panel:
        return f"d:{up.id}"
    return _bus(device.panel)


def _automatic(made: Switching, port: Part, device: Device, up: str, src: str) -> None:
    """Gear that goes over by itself; what is listed to run in step with the grid does so."""
    traits = port.equipment.traits
    bus = _bus(device.panel) if traits.in_panel else f"d:{device.id}"
    if traits.in_panel:
        up = "grid" if device.panel is None else _bus(port.home.panels[device.panel].behind)
    if traits.passed_on:  # what its station is plugged into is its grid
        up = f"in:{device.source}"
    if traits.beside_mains or traits.whole_panel or traits.bypass:
        made.in_step.add(device.source)
    on_grid: tuple[Join, ...] = ((up, bus), (src, bus)) if device.source in made.in_step else ((up, bus),)
    joins: dict[str, tuple[Join, ...]] = {"grid": on_grid, "source": ((src, bus),)}
    if traits.bypass:
        joins["bypass"] = ((up, bus),)
    made.add(
        SwitchPart(f"device:{device.id}", port.equipment.name, port.home.panel_name(device.panel), joins, itself=True),
        "grid",
    )
    for feed in port.plan.feeds.values():
        if feed.circuit is not None and not traits.in_panel:
            made.add(_breaker(port, feed.circuit, bus, f"c:{feed.circuit}"), "on")


def _levers(made: Switching, port: Part, device: Device, src: str) -> None:
    """A switch of levers: each circuit between its own breaker and the inlet."""
    for feed in port.plan.feeds.values():
        if feed.circuit is None:
            continue
        circuit = port.home.circuits[feed.circuit]
        made.add(_breaker(port, circuit.id, _grid_side(port, device), f"g:{circuit.id}"), "on")
        joins: dict[str, tuple[Join, ...]] = {
            "GRID": ((f"g:{circuit.id}", f"c:{circuit.id}"),),
            "OFF": (),
            "SOURCE": ((src, f"c:{circuit.id}"),),
        }
        name = f"Lever {feed.place}, {circuit.name}"
        made.add(SwitchPart(f"lever:{circuit.id}", name, port.equipment.name, joins), "GRID")


def _cords(made: Switching, x: Part) -> None:
    """Appliances whose plug is in the wall or in a station."""
    for feed in x.plan.feeds.values():
        load = x.home.loads.get(feed.load or "")
        if load is None or x.waits:
            continue
        wall = f"c:{load.circuit}" if load.circuit else MAIN
        joins: dict[str, tuple[Join, ...]] = {
            "wall": ((wall, f"load:{load.id}"),),
            "station": ((f"src:{x.source.id}", f"load:{load.id}"),),
        }
        made.add(
            SwitchPart(f"plug:{load.id}", f"The plug of {load.name}", load.room or "at its usual place", joins), "wall"
        )


def states_along(model: Switching, state: State, moves: Iterable[tuple[str, str]]) -> Iterator[State]:
    """The states that moves lead through, one after the other."""
    now = dict(state)
    for part, position in moves:
        now = now | {part: position}
        yield now
