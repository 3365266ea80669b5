"""How a plan of several devices, panels and stores is joined: a band for each device, one below the other.

In a band what fills a store stands left of it, the store left of its device, and what is fed on the right; the grid
comes down the left side, panel by panel, and into each device from there, or from the device it hangs behind, which
is the band above."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from imbuto.core.advice.breakers import guards, preparations
from imbuto.core.basics.measures import length_text
from imbuto.core.basics.units import number_text
from imbuto.core.diagram.joining_diagram import (
    Box,
    Diagram,
    GridState,
    Line,
    PossibleFeed,
    cord_text,
    positions_text,
    takes_for,
)
from imbuto.core.home.circuits import panel_leg
from imbuto.core.plan.plan import Device, Feed, places_of
from imbuto.core.plan.system import Part, ahead_of

BOTH: tuple[GridState, ...] = ("grid", "outage")


@dataclass(slots=True)
class _BandDrawing:
    each: Sequence[Part]
    boxes: list[Box] = field(default_factory=list)
    lines: list[Line] = field(default_factory=list)
    feeds: list[PossibleFeed] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)

    def has(self, ident: str) -> bool:
        return any(b.id == ident for b in self.boxes)


def wants_bands(each: Sequence[Part]) -> bool:
    """Whether a plan has more than one device with one station, which a plain drawing cannot show."""
    plan = each[0].whole
    return (
        len(plan.devices) > 1
        or len(plan.sources) > 1
        or bool(plan.banks)
        or any(d.panel for d in plan.devices.values())
    )


def bands(each: Sequence[Part]) -> Diagram:
    """The joining of a whole plan, source by source and device by device."""
    made = _BandDrawing(each)
    home, plan = each[0].home, each[0].whole
    volts = "120/240 V" if home.service.legs == 2 else f"{home.service.volts} V"
    main = (f"{home.service.main_a:g} A main",) if home.service.main_a else ()
    made.boxes.append(Box("grid", "grid", "Grid", (volts, *main), "way", 0))
    ports = {p.device.id: p for x in each if not x.waits for p in x.ports if p.device is not None}
    order = _in_order(list(plan.devices.values()))
    fed = {f.circuit for f in plan.feeds.values()}
    left = [c for c in home.circuits.values() if c.panel is None and c.id not in fed]
    if not any(p.equipment.in_panel and p.device and p.device.panel is None for p in ports.values()):
        facts = (
            f"{sum(c.panel is None for c in home.circuits.values())} circuits",
            f"{len(left)} stay off in an outage",
        )
        made.boxes.append(Box("panel", "panel", "Main panel", facts, "way", 1))
        made.lines.append(Line("grid", "panel", live=("grid",)))
    band = 0
    for device in order:
        if device.id in ports:
            _device(made, ports[device.id], device, band)
            band += 1
    for x in each:
        if x.waits or x.source is None:
            continue
        cords = next((p for p in x.ports if p.device is None), None)
        if cords is not None and (cords.plan.feeds or not x.plan.devices):
            _cords(made, cords, band)
            band += 1
    guard = [g for x in each if not x.waits for g in guards(x)]
    ready = list(dict.fromkeys(t for x in each for t in preparations(x)))
    return Diagram(
        tuple(made.boxes),
        tuple(made.lines),
        tuple(made.feeds),
        tuple(dict.fromkeys(made.notes)),
        tuple(guard),
        tuple(ready),
    )


def _in_order(devices: list[Device]) -> list[Device]:
    """Each device right after the one it hangs behind."""
    found: list[Device] = []

    def add(device: Device) -> None:
        found.append(device)
        for other in devices:
            if other.behind == device.id:
                add(other)

    for device in devices:
        if device.behind is None:
            add(device)
    return found


def _device(made: _BandDrawing, port: Part, device: Device, band: int) -> None:
    traits, equipment = port.equipment.traits, port.equipment
    at = f"at {port.home.panel_name(device.panel)}" + (", out by its bypass" if device.bypassed else "")
    gear = f"device:{device.id}"
    made.boxes.append(Box(gear, "device", equipment.name, (at, *traits.positions), "gear", 0, band))
    _grid_side(made, port, device, gear)
    store = _store(made, port, band)
    fallback = device.behind is not None
    first = not fallback or (port.source.own_first)
    if store:
        made.lines.append(Line(store, gear, _outlet(port), ("outage",) if first and not device.bypassed else ()))
        if traits.data_cable:
            made.lines.append(Line(store, gear, "data cable, as both manuals list it", data=True))
    name = port.station.name
    for rank, feed in enumerate(sorted(port.plan.feeds.values(), key=lambda f: f.place)):
        _circuit(made, port, feed, gear, rank, band, name)
    made.notes += list(takes_for(equipment, port.station))


def _outlet(port: Part) -> str:
    station, device, equipment = port.station, port.device, port.equipment
    if device is None:
        return ""
    if not equipment.traits.inlet:
        return f"fixed wire, {equipment.inlet_a:g} A"
    outlet = f"{station.inlet_outlet_a:g} A outlet" if station.inlet_outlet_a else "outlet"
    cord = f", {cord_text(device.cord)}" if device.cord else ""
    return f"{outlet}{cord}, {equipment.inlet_a:g} A inlet"


def _grid_side(made: _BandDrawing, port: Part, device: Device, gear: str) -> None:
    """Where a device has the grid from: the one it hangs behind, its panel, or the service itself."""
    plan, home = port.whole, port.home
    up = plan.devices.get(device.behind or "")
    if up is not None:
        feeder = home.panels.get(device.panel or "")
        label = f"feeder, {feeder.feeder_a:g} A" if feeder else "one of its slots"
        own = port.source.own_first
        made.lines.append(Line(f"device:{up.id}", gear, label, ("grid",) if own else BOTH))
        return
    if port.equipment.in_panel and device.panel is None:
        made.lines.append(Line("grid", gear, "service", ("grid",)))
        return
    panel = _panel(made, port, device.panel)
    made.lines.append(Line(panel, gear, _from_panel(port), ("grid",)))


def _from_panel(port: Part) -> str:
    if port.equipment.in_panel:
        return "its feeder, never on with the station"
    return "each circuit's own breaker" if port.equipment.traits.levers else f"feeder, {port.equipment.inlet_a:g} A"


def _panel(made: _BandDrawing, port: Part, panel: str | None) -> str:
    """The box of a panel, with the feeders on the way to it."""
    if panel is None:
        return "panel" if made.has("panel") else "grid"
    ident = f"panel:{panel}"
    if not made.has(ident):
        sub = port.home.panels[panel]
        before = _panel(made, port, sub.behind)
        wire = f", {sub.wire}" if sub.wire else ""
        facts = (f"{sub.feeder_a:g} A feeder{wire}", f"{length_text(sub.length_m)} away")
        rank = 2 + sum(b.id.startswith("panel:") for b in made.boxes)
        made.boxes.append(Box(ident, "panel", sub.name, facts, "way", rank))
        made.lines.append(Line(before, ident, live=("grid",)))
    return ident


def _store(made: _BandDrawing, port: Part, band: int) -> str:
    """The station of a band with what fills it; where it stands in an earlier band, that one's."""
    station, source = port.station, port.source
    ident = f"source:{source.id}"
    if made.has(ident):
        return ident
    made.boxes.append(Box(ident, "source", station.name, _store_facts(port), "store", 0, band))
    _fills(made, port, ident, band)
    return ident


def _store_facts(port: Part) -> tuple[str, ...]:
    station, source, plan = port.station, port.source, port.whole
    facts = [f"{station.volts} V, {number_text(station.continuous_w)} W"]
    if source.modules:
        facts.append(f"{source.modules} × {station.module_name}")
    if source.plugged_into is not None:
        feed = plan.feeds[source.plugged_into]
        name = port.home.circuits[feed.circuit].name if feed.circuit else port.home.loads[feed.load or ""].name
        facts.append(f"plugged in at {name}")
    if source.away is not None:
        facts.append("not always at home")
    circuit = port.charge_circuit
    facts.append(f"charges from {circuit.name}" if circuit else "charges from a receptacle")
    return tuple(facts)


def _fills(made: _BandDrawing, port: Part, store: str, band: int) -> None:
    """What fills a station or stands in for it: arrays, banks, a generator, a station that waits."""
    plan, station = port.plan, port.station
    rank = 0

    def put(box: Box, label: str, live: tuple[GridState, ...], end: str = store) -> None:
        nonlocal rank
        made.boxes.append(box)
        made.lines.append(Line(box.id, end, label, live))
        rank += 1

    for array in plan.own_arrays:
        facts = (f"{array.series} in series × {array.parallel}", f"solar input {array.input}")
        put(Box(f"array:{array.id}", "array", array.name, facts, "fill", rank, band), "", BOTH)
    for bank in plan.banks.values():
        battery = port.batteries[bank.battery]
        when = {"night": " by night", "hours": " in set hours", "low_sun": " in little sun"}.get(bank.by, "")
        wired = [f"{x.series} × {x.parallel} {port.batteries[x.battery].name}" for x in bank.branches]
        volts = number_text(bank.series * battery.volts)
        facts = (f"{', '.join(wired)}, {volts} V", f"solar input {bank.input}{when}, {bank.amps:g} A")
        put(Box(f"bank:{bank.id}", "module", bank.name, facts, "fill", rank, band), "", ("outage",))
        made.notes.append(
            f"{station.name} takes {bank.name} for panels in bright sun: it supplies any current, "
            "up to its fuse or limiter."
        )
    for other in made.each:
        if other.waits and other.source.after == port.source.id:
            name = other.station.name
            facts = ("waits its turn at the inlet", f"from {100 * other.source.swap_at:g}% of the first")
            put(Box(f"source:{other.source.id}", "source", name, facts, "fill", rank, band), "", ())
            made.notes.append(f"{name} takes the place of {station.name} at its inlet by hand; never both.")
    use, gen = plan.engine, port.generator
    if use is not None and gen is not None and not made.has("engine"):
        into = "to the charging input" if use.charges else "passed on, not stored"
        put(
            Box("engine", "engine", gen.name, (f"{number_text(gen.running_w)} W, outdoors", into), "fill", rank, band),
            "",
            ("outage",),
        )
    elif use is not None and made.has("engine"):
        made.notes.append(
            f"{gen.name if gen else 'The generator'} charges {station.name} as well, in the order of its list."
        )


def _circuit(made: _BandDrawing, port: Part, feed: Feed, gear: str, rank: int, band: int, name: str) -> None:
    circuit = port.home.circuits.get(feed.circuit or "")
    if circuit is None:
        return
    equipment, device = port.equipment, port.device
    assert device is not None
    slots, places = " · ".join(map(str, circuit.slots)), " · ".join(map(str, places_of(feed, port.home)))
    legs = next((i.legs for i in port.fed if i.feed.id == feed.id), None)
    leg = "".join(legs) if legs else panel_leg(circuit)
    beyond = f", in {port.home.panel_name(circuit.panel)}" if circuit.panel != device.panel else ""
    facts = (f"{circuit.breaker_a:g} A, slot {slots}, leg {leg}{beyond}",)
    made.boxes.append(Box(f"circuit:{circuit.id}", "circuit", circuit.name, facts, "fed", rank, band))
    word = equipment.traits.place_word
    turns = " in turns" if feed.stance == "turns" else ""
    made.lines.append(
        Line(gear, f"circuit:{circuit.id}", f"{word} {slots if word == 'breaker' else places}{turns}", BOTH)
    )
    on_grid, on_source = positions_text(equipment, places, circuit)
    up = port.whole.devices.get(device.behind or "")
    own = up is None or port.source.own_first
    if up is not None:
        other = next((x.station.name for x in made.each if x.source.id == up.source), "the other")
        upper = port.equipments[up.id].name
        made.feeds.append(PossibleFeed(circuit.name, "Grid", f"{on_grid}, passed on by {upper}", ("grid",)))
        made.feeds.append(
            PossibleFeed(circuit.name, other, f"{on_grid}, {upper} on its station", () if own else ("outage",))
        )
    else:
        made.feeds.append(PossibleFeed(circuit.name, "Grid", on_grid, ("grid",)))
    made.feeds.append(PossibleFeed(circuit.name, name, on_source + turns, ("outage",) if own else ()))
    for x in made.each:
        if x.waits and x.source.after == device.source:
            made.feeds.append(PossibleFeed(circuit.name, x.station.name, f"{on_source}, its cord in the inlet"))
    if equipment.traits.bypass:
        made.feeds.append(PossibleFeed(circuit.name, "Grid", "bypass switch at BYPASS"))


def _cords(made: _BandDrawing, port: Part, band: int) -> None:
    """A station that feeds single appliances; one that stands in an earlier band shows its outlets again here."""
    name = port.station.name
    if made.has(f"source:{port.source.id}"):
        store = f"outlets:{port.source.id}"
        made.boxes.append(Box(store, "source", name, ("the same station’s outlets",), "store", 0, band))
    else:
        store = _store(made, port, band)
    behind = port.source.plugged_into is not None
    for rank, feed in enumerate(sorted(port.plan.feeds.values(), key=lambda f: (f.place, f.id))):
        load = port.home.loads.get(feed.load or "")
        if load is None:
            continue
        made.boxes.append(
            Box(f"load:{load.id}", "appliance", load.name, (load.room,) if load.room else (), "fed", rank, band)
        )
        cord = f", {cord_text(feed.cord)}" if feed.cord else ""
        made.lines.append(Line(store, f"load:{load.id}", f"outlet {feed.place}{cord}", ("outage",)))
        made.feeds.append(PossibleFeed(load.name, "Grid", "its plug is in the wall", ("grid",)))
        made.feeds.append(PossibleFeed(load.name, name, f"its plug is in outlet {feed.place} of {name}", ("outage",)))
        first = ahead_of(port.whole, port.source.id) if behind else None
        other = next((x.station.name for x in made.each if x.source.id == first), None)
        if other is not None:
            made.feeds.append(PossibleFeed(load.name, other, f"passed on by {name}, which is plugged in there"))
    made.notes.append("Every plug is in one place or the other, never connected by a cord with two plugs.")
