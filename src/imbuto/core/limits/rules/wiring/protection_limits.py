"""What a breaker must protect, whatever the loads draw: limits of wires, neutrals, places and inlets, and the charger
that would feed itself. Planning aids from common practice; your local code and a licensed electrician decide."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.wires import known_wire, wires
from imbuto.core.home.circuits import Circuit
from imbuto.core.limits.limit_registry import LimitCase, LimitRow
from imbuto.core.plan.limit import Limit, Severity
from imbuto.core.plan.system import Part


def fixed_a(circuit: Circuit) -> float | None:
    """A the wire of a circuit carries, None where its size is not known."""
    wire = known_wire(circuit.wire)
    return wire.fixed_a if wire is not None else None


def protected_a(circuit: Circuit) -> float:
    """The largest breaker that protects a circuit: its own, or less where its wire is thinner than that."""
    carries = fixed_a(circuit)
    return circuit.breaker_a if carries is None else min(circuit.breaker_a, carries)


def _outlets(part: Part, station: Station) -> Iterator[Limit]:
    if part.plan.feeds and "outlet_a" in part.assumed:
        yield not_known(
            "outlet_breaker",
            "Station outlets",
            f"{station.name}: the breaker of its outlets isn't listed, so Imbuto assumes {station.outlet_a:g} A. "
            "Enter it from the label.",
        )


def _inlet(part: Part, station: Station) -> Iterator[Limit]:
    """The source's breaker against the inlet and its cord, whatever the load."""
    if not part.plan.feeds:
        return
    equipment, breaker = part.equipment, station.inlet_outlet_a
    if not breaker:
        yield not_known(
            "inlet_breaker",
            "Station's breaker",
            f"{station.name}: the breaker of the outlet that powers {_device(part)} isn't listed, so Imbuto "
            "can't tell what it protects. Enter it from the label.",
        )
        return
    outlet = f"{station.name}'s {breaker:g} A outlet"
    if equipment.inlet_a:
        yield protects(
            "protect:inlet",
            "Inlet behind the station's breaker",
            breaker,
            equipment.inlet_a,
            f"{outlet} protects the inlet of {_device(part)}",
            f"the inlet is rated {equipment.inlet_a:g} A",
        )
    if part.inlet_cord is not None:
        wire = wires()[part.inlet_cord.wire]
        yield protects(
            "protect:cord",
            "Inlet cord behind the station's breaker",
            breaker,
            wire.amps,
            f"{outlet} protects the inlet's cord, {wire.name}",
            f"{wire.name} carries {wire.amps:g} A",
        )


def _place_breakers(part: Part, station: Station) -> Iterator[Limit]:
    """A place's own breaker against the circuit behind it; without one, what else protects that."""
    equipment = part.equipment
    bare = []
    for feed in part.plan.feeds.values():
        circuit = part.home.circuits.get(feed.circuit or "")
        if circuit is None:
            continue
        bears = protected_a(circuit)
        wire = known_wire(circuit.wire)
        behind = f"{circuit.name} ({f'{wire.name}, ' if wire else ''}{circuit.breaker_a:g} A breaker)"
        if equipment.place_breaker_a:
            yield protects(
                f"protect:{feed.id}",
                f"Slot {feed.place}: {circuit.name}",
                equipment.place_breaker_a,
                bears,
                f"Switch slot {feed.place} has its own {equipment.place_breaker_a:g} A breaker before {behind}",
                f"that circuit carries {bears:g} A",
            )
        elif equipment.traits.levers and station.inlet_outlet_a > bears:
            bare.append(circuit.name)
        if bears < circuit.breaker_a:
            yield Limit(
                id=f"wire:{circuit.id}",
                family="protection",
                title=f"Wire of {circuit.name}",
                severity="caution",
                unit="A",
                used=circuit.breaker_a,
                limit=bears,
                ok=False,
                counts=True,
                evidence="default",
                sentence=f"{circuit.name} has a {circuit.breaker_a:g} A breaker before {circuit.wire}, which "
                f"usually needs a {bears:g} A breaker. Have an electrician check it, backup or not.",
            )
        elif circuit.wire and wire is None:
            yield not_known(
                f"wire:{circuit.id}",
                f"Wire of {circuit.name}",
                f"{circuit.name}: “{circuit.wire}” isn't a size in the wire table, so its rating isn't known.",
            )
    if bare:
        yield not_known(
            "place_breaker",
            "Switch slot breakers",
            f"No breakers are listed for the slots of {equipment.name}. Then only {station.name}'s "
            f"{station.inlet_outlet_a:g} A outlet would protect {', '.join(bare)}. Enter the breaker of each slot.",
        )


def _untraced(part: Part) -> Iterator[Limit]:
    names = [
        part.home.circuits[f.circuit].name
        for f in part.plan.feeds.values()
        if f.circuit and not part.home.circuits[f.circuit].traced
    ]
    if names:
        yield not_known(
            "untraced",
            "Not traced",
            f"Not everything connected to {', '.join(names)} is traced. Imbuto counts a little more than is entered "
            "there, but it may be anything. Map the breakers before you rely on this.",
        )


def _own_charger(part: Part, station: Station) -> Iterator[Limit]:
    """A charger on a circuit that its own station feeds."""
    circuit = part.charge_circuit
    feed = next((f for f in part.plan.feeds.values() if circuit is not None and f.circuit == circuit.id), None)
    if circuit is None or feed is None:
        return
    automatic = part.equipment_of(feed).automatic
    yield Limit(
        id="own_charger",
        family="own_charger",
        title="A charger on its own output",
        kind="yes_no",
        severity="refuse" if automatic else "caution",
        ok=not automatic and "own_charger" in part.plan.ticks,
        tick="" if automatic else "own_charger",
        sentence=f"{station.name}'s charger is connected to {circuit.name}, which {station.name} powers in an outage: "
        f"it would empty itself. "
        + (
            "This gear switches by itself, so move the charger to a circuit that the station doesn't power."
            if automatic
            else "Unplug the charger first, before you switch anything."
        ),
    )


def protects(ident: str, title: str, breaker: float, bears: float, what: str, rated: str) -> Limit:
    """A breaker against what is behind it."""
    ok = breaker <= bears
    return Limit(
        id=ident,
        family="protection",
        title=title,
        severity="refuse",
        used=breaker,
        limit=bears,
        unit="A",
        ok=ok,
        counts=True,
        sentence=f"{what}, and {rated}" + ("." if ok else ". It could burn before the breaker opens."),
    )


def not_known(ident: str, title: str, sentence: str, severity: Severity = "unknown") -> Limit:
    return Limit(
        id=ident, family="not_known", title=title, kind="yes_no", severity=severity, ok=False, sentence=sentence
    )


def _device(part: Part) -> str:
    name = part.equipment.name
    return name[:1].lower() + name[1:]


def _on_places(c: LimitCase) -> Iterator[Limit]:
    """What a breaker protects, on cords or on a switch."""
    if not c.part.equipment.traits.wired:
        yield from _outlets(c.part, c.station)
    else:
        yield from _inlet(c.part, c.station)
        yield from _place_breakers(c.part, c.station)
    yield from _untraced(c.part)


ROWS = (
    LimitRow(
        number=1,
        page="places",
        families=("protection", "not_known"),
        state="misfit",
        answers=("protected", "larger_station"),
        check=_on_places,
        each_device=True,
    ),
    LimitRow(
        number=9,
        page="charging",
        families=("own_charger",),
        answers=("charge_elsewhere",),
        check=lambda c: _own_charger(c.part, c.station),
    ),
)
