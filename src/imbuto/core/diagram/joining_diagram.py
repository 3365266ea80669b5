"""How everything is joined: boxes, what runs between them, every possible feed and the switch position that selects it.

Drawn from the plan, never by hand. The interface only puts the boxes in their places.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Literal

from imbuto.core.advice.breakers import Breaker, guards, preparations
from imbuto.core.basics.measures import length_text
from imbuto.core.basics.units import number_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.transfer_equipment import TransferEquipment
from imbuto.core.equipment.wires import Cord, wires
from imbuto.core.home.circuits import Circuit, panel_leg
from imbuto.core.plan.plan import Feed, places_of
from imbuto.core.plan.system import Part, Wiring

BoxKind = Literal[
    "grid",
    "main",
    "panel",
    "device",
    "inlet",
    "source",
    "module",
    "charger",
    "circuit",
    "appliance",
    "rest",
    "engine",
    "array",
]
GridState = Literal["grid", "outage"]
Lane = Literal["top", "middle", "bottom", "right", "left", "way", "fill", "store", "gear", "fed"]
STATES: tuple[GridState, ...] = ("grid", "outage")


@dataclass(frozen=True, slots=True)
class Box:
    """A thing in the diagram.

    lane and rank: the grid's way on top, the source's below, both from left to right; what is fed stands on the right,
        by rank from the top; what fills the source on the left, from the bottom
    lines: facts under its title. Of several devices each has a band: way: the grid's, down the left side by rank; then
        in each band what fills, the store, the gear and what is fed.
    """

    id: str
    kind: BoxKind
    title: str
    lines: tuple[str, ...] = ()
    lane: Lane = "top"
    rank: int = 0
    band: int = 0


@dataclass(frozen=True, slots=True)
class Line:
    """What runs from one box to another.

    live: in which states it is
    data: a data cable rather than power
    label: on it, such as a breaker or a place
    """

    start: str
    end: str
    label: str = ""
    live: tuple[GridState, ...] = ()
    data: bool = False


@dataclass(frozen=True, slots=True)
class PossibleFeed:
    """One way a target can be fed: from what, and at which position of which switch. live: in which states it is so."""

    target: str
    source: str
    position: str
    live: tuple[GridState, ...] = ()


@dataclass(frozen=True, slots=True)
class Diagram:
    """Everything that is joined.

    notes: what each system takes the other for, and what is never closed together
    guards: breakers and fuses it wants
    preparations: to have ready before the day
    """

    boxes: tuple[Box, ...]
    lines: tuple[Line, ...]
    feeds: tuple[PossibleFeed, ...]
    notes: tuple[str, ...] = field(default=())
    guards: tuple[Breaker, ...] = ()
    preparations: tuple[str, ...] = ()


@dataclass(slots=True)
class _Drawing:
    boxes: list[Box] = field(default_factory=list)
    lines: list[Line] = field(default_factory=list)
    feeds: list[PossibleFeed] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)


def diagram(part: Wiring) -> Diagram:
    """The joining of a plan; without a station, what there is so far."""
    made = _Drawing()
    home, equipment = part.home, part.equipment
    service = home.service
    volts = "120/240 V" if service.legs == 2 else f"{service.volts} V"
    made.boxes.append(Box("grid", "grid", "Grid", (volts,), "top", 0))
    made.boxes.append(Box("main", "main", "Main breaker", (f"{service.main_a:g} A",), "top", 1))
    made.lines.append(Line("grid", "main", live=("grid",)))
    if not equipment.traits.wired:
        _cords(part, made)
    else:
        _switched(part, made)
    if isinstance(part, Part):
        _fills(part, made)
    return Diagram(
        tuple(made.boxes),
        tuple(made.lines),
        tuple(made.feeds),
        tuple(made.notes),
        tuple(guards(part)) if isinstance(part, Part) else (),
        tuple(preparations(part)),
    )


def _source(part: Wiring, made: _Drawing) -> Station | None:
    """The station with its modules and its charger."""
    if not isinstance(part, Part):
        made.boxes.append(Box("source", "source", "No station yet", (), "bottom", 0))
        return None
    station, source = part.station, part.source
    facts = (
        f"{station.volts} V, {number_text(station.continuous_w)} W",
        f"{station.leg_a:g} A a leg" if len(station.legs) > 1 else f"{station.leg_a:g} A",
    )
    made.boxes.append(Box("source", "source", station.name, facts, "bottom", 0))
    if source.modules:
        title = f"{source.modules} × {station.module_name}"
        made.boxes.append(Box("module", "module", title, (f"{number_text(station.module_wh)} Wh each",), "bottom", -1))
        made.lines.append(Line("module", "source", "its own cable", ("outage",)))
    return station


def _charger(part: Part, made: _Drawing, station: Station) -> None:
    """Where it charges from; off in an outage, so that it never draws from itself."""
    circuit = part.charge_circuit
    title = f"Receptacle, {circuit.name}" if circuit else "A receptacle"
    facts = (f"{circuit.breaker_a:g} A breaker",) if circuit else ("its circuit not named",)
    made.boxes.append(Box("charger", "charger", title, facts, "middle", 0))
    made.lines.append(Line("panel", "charger", live=("grid",)))
    made.lines.append(Line("charger", "source", f"charging cord, {number_text(station.charge_w)} W", ("grid",)))
    made.notes.append("In an outage, unplug the charging cord first. A station that charges itself runs empty.")


def _fills(part: Part, made: _Drawing) -> None:
    """What fills the station beside the wall: arrays on their inputs, a generator on its charging input."""
    rank = 0
    for array in part.plan.arrays.values():
        panel = part.panels[array.panel]
        cord = f", {cord_text(array.cord)}" if array.cord else ""
        facts = (f"{array.series} in series × {array.parallel} {panel.name}", f"solar input {array.input}{cord}")
        made.boxes.append(Box(f"array:{array.id}", "array", array.name, facts, "left", rank))
        made.lines.append(Line(f"array:{array.id}", "source", live=STATES))
        rank += 1
    if part.generator is not None and part.plan.engine is not None:
        gen = part.generator
        into = "to the charging input" if part.plan.engine.charges else "passed on, not stored"
        facts = (f"{gen.volts} V, {number_text(gen.running_w)} W", f"outdoors, {into}")
        made.boxes.append(Box("engine", "engine", gen.name, facts, "left", rank))
        made.lines.append(Line("engine", "source", live=("outage",)))
        made.notes.append(
            f"{gen.name} powers the house only through {part.station.name}. Never connect it to the panel as well."
        )


def _cords(part: Wiring, made: _Drawing) -> None:
    home, plan = part.home, part.plan
    made.boxes.append(
        Box("panel", "panel", "Panel", (f"{len(home.circuits)} circuits",) if home.circuits else (), "top", 2)
    )
    made.lines.append(Line("main", "panel", live=("grid",)))
    station = _source(part, made)
    if isinstance(part, Part):
        _charger(part, made, part.station)
    for i, feed in enumerate(sorted(plan.feeds.values(), key=lambda f: (f.place, f.id))):
        load = home.loads.get(feed.load or "")
        if load is None:
            continue
        made.boxes.append(Box(f"load:{load.id}", "appliance", load.name, (load.room,) if load.room else (), "right", i))
        label = f"outlet {feed.place}" + (f", {cord_text(feed.cord)}" if feed.cord else "")
        made.lines.append(Line("source", f"load:{load.id}", label, ("outage",)))
        made.lines.append(Line("panel", f"load:{load.id}", "its own wall outlet", ("grid",)))
        made.feeds.append(PossibleFeed(load.name, "Grid", "its plug is in the wall", ("grid",)))
        name = station.name if station else "the station"
        made.feeds.append(PossibleFeed(load.name, name, f"its plug is in outlet {feed.place} of {name}", ("outage",)))
    made.notes.append("Every plug is in one place or the other, never connected by a cord with two plugs.")


def cord_text(cord: Cord) -> str:
    """A cord's wire and length in words."""
    return f"{wires()[cord.wire].name} {length_text(cord.length_m)}"


def _switched(part: Wiring, made: _Drawing) -> None:
    home, equipment = part.home, part.equipment
    in_panel = equipment.in_panel
    whole = equipment.traits.beside_mains
    station = _source(part, made)
    if not in_panel:
        fed = {f.circuit for f in part.plan.feeds.values()}
        left = [c for c in home.circuits.values() if c.id not in fed]
        facts = (f"{len(home.circuits)} circuits", f"{len(left)} stay off in an outage")
        made.boxes.append(Box("panel", "panel", "Main panel", facts, "top", 2))
    made.boxes.append(
        Box("device", "device", equipment.traits.title or equipment.name, equipment.traits.positions, "middle", 2)
    )
    if in_panel:
        made.lines.append(Line("main", "device", "main, never on with the station", live=("grid",)))
    elif whole:
        made.lines.append(Line("main", "panel", live=("grid",)))
        made.lines.append(Line("main", "device", "sensors on both mains", live=("grid",)))
    else:
        made.lines.append(Line("main", "panel", live=("grid",)))
        made.lines.append(Line("panel", "device", _from_panel(equipment), live=("grid",)))
    _inlet(part, made, station)
    rows = sorted(part.plan.feeds.values(), key=lambda f: f.place)
    for i, feed in enumerate(rows):
        circuit = home.circuits.get(feed.circuit or "")
        if circuit is not None:
            _circuit(part, made, feed, circuit, i)
    made.notes += list(takes_for(equipment, station))
    if equipment.traits.data_cable:
        made.lines.append(Line("source", "device", "data cable, as both manuals list it", data=True))


def _from_panel(equipment: TransferEquipment) -> str:
    return "each circuit's own breaker" if equipment.traits.levers else f"feeder, {equipment.inlet_a:g} A"


def _inlet(part: Wiring, made: _Drawing, station: Station | None) -> None:
    """From the station to the device: through an inlet and its cord, or by fixed wire."""
    equipment = part.equipment
    if not equipment.traits.inlet:
        made.lines.append(Line("source", "device", f"fixed wire, {equipment.inlet_a:g} A", ("outage",)))
        return
    cord = part.inlet_cord
    facts = (f"{equipment.inlet_a:g} A", f"cord {cord_text(cord)}" if cord else "no live pins when unplugged")
    made.boxes.append(Box("inlet", "inlet", "Inlet", facts, "bottom", 1))
    outlet = f"{station.inlet_outlet_a:g} A outlet" if station and station.inlet_outlet_a else "outlet"
    made.lines.append(Line("source", "inlet", outlet, ("outage",)))
    made.lines.append(Line("inlet", "device", f"{equipment.inlet_a:g} A", ("outage",)))


def _circuit(part: Wiring, made: _Drawing, feed: Feed, circuit: Circuit, rank: int) -> None:
    equipment = part.equipment
    places = " · ".join(map(str, places_of(feed, part.home)))
    legs = next((i.legs for i in part.fed if i.feed.id == feed.id), None)
    leg = "".join(legs) if legs else panel_leg(circuit)
    facts = (f"{circuit.breaker_a:g} A, slot {' · '.join(map(str, circuit.slots))}, leg {leg}",)
    made.boxes.append(Box(f"circuit:{circuit.id}", "circuit", circuit.name, facts, "right", rank))
    turns = " in turns" if feed.stance == "turns" else ""
    slots, word = " · ".join(map(str, circuit.slots)), equipment.traits.place_word
    label = f"{word} {slots if word == 'breaker' else places}"
    made.lines.append(Line("device", f"circuit:{circuit.id}", label + turns, STATES))
    name = part.station.name if isinstance(part, Part) else "the station"
    on_grid, on_source = positions_text(equipment, places, circuit)
    made.feeds.append(PossibleFeed(circuit.name, "Grid", on_grid, ("grid",)))
    made.feeds.append(PossibleFeed(circuit.name, name, on_source + turns, ("outage",)))
    if equipment.traits.bypass:
        made.feeds.append(PossibleFeed(circuit.name, "Grid", "bypass switch at BYPASS"))


def positions_text(equipment: TransferEquipment, places: str, circuit: Circuit) -> tuple[str, str]:
    """Positions that select the grid, and the source."""
    slot = " · ".join(map(str, circuit.slots))
    return equipment.traits.on_grid.format(place=places, slot=slot), equipment.traits.on_source.format(
        place=places, slot=slot
    )


def takes_for(equipment: TransferEquipment, station: Station | None) -> Iterator[str]:
    """Who takes what for what, in sentences."""
    for text in equipment.traits.takes_for:
        yield text.format(name=station.name if station else "The station")
