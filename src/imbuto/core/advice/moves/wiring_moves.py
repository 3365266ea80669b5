"""Other legs, places, switches, breakers and cords, or where the station is charged."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import combinations

from imbuto.core.advice.moves.move import (
    Move,
    harm_of,
    inside_sentence,
    with_feed,
)
from imbuto.core.basics.units import Leg
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.equipment.wires import Cord, wires
from imbuto.core.limits.rules.wiring.shared_neutral_limits import neutral_pairs
from imbuto.core.plan.plan import Device, Feed, Plan, places_of
from imbuto.core.plan.system import Part, circuits_beneath, feed_name


def by_hand_moves(part: Part) -> Iterator[Move]:
    """A switch that was left on its source is thrown by hand instead."""
    for device in part.plan.devices.values():
        if device.left_on:
            thrown = replace(device, left_on=False)
            name = part.by_device[device.id].name
            yield Move(
                f"by-hand:{device.id}",
                "by_hand",
                f"throw the {inside_sentence(name)} by hand",
                replace(part.plan, devices=part.plan.devices | {device.id: thrown}),
                0.3,
            )


def larger_switch_moves(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    for other in sorted(catalogue.transfer.values(), key=lambda t: (t.places, t.id)):
        if other.kind == part.equipment.kind and other.places > part.equipment.places:
            yield Move(
                f"switch:{other.id}",
                "switch",
                f"the {inside_sentence(other.name)}",
                part.plan.with_equipment(other.id),
            )


def other_leg_moves(part: Part) -> Iterator[Move]:
    """A circuit to a free place on the other leg, or two circuits changing places."""
    if len(part.station.legs) < 2 or not part.equipment.traits.wired:
        return
    plan, equipment = part.plan, part.equipment
    single = [f for f in plan.feeds.values() if f.circuit and len(places_of(f, part.home)) == 1]
    free = [p for p in range(1, equipment.places + 1) if p not in part.places_used()]
    for feed in single:
        leg = equipment.leg_of_place(feed.place)
        name = feed_name(part.home, feed)
        spot = next((p for p in free if equipment.leg_of_place(p) != leg), None)
        if spot is not None:
            label = f"{name} to leg {other_leg(leg)}, place {spot}"
            yield Move(f"leg:{feed.id}", "leg", label, with_feed(plan, replace(feed, place=spot)), 0.1)
    for a, b in combinations(single, 2):
        if equipment.leg_of_place(a.place) != equipment.leg_of_place(b.place):
            label = f"swap {feed_name(part.home, a)} and {feed_name(part.home, b)}"
            swapped = with_feed(plan, replace(a, place=b.place), replace(b, place=a.place))
            yield Move(f"swap:{a.id}:{b.id}", "leg", label, swapped, 0.2)


def other_leg(leg: Leg) -> Leg:
    """The other leg of a split-phase pair."""
    return "B" if leg == "A" else "A"


def with_partners_moves(part: Part) -> Iterator[Move]:
    """Circuits that share a neutral: the other one beside it, both with the same turns, or both left off."""
    plan, equipment = part.plan, part.equipment
    feeds = {f.circuit: f for f in plan.feeds.values() if f.circuit}
    free = [p for p in range(1, equipment.places + 1) if p not in part.places_used()]
    for a, b in neutral_pairs(part):
        one, other_ = feeds.get(a.id), feeds.get(b.id)
        both = [f for f in (one, other_) if f is not None]
        if not both:
            continue
        names = f"{a.name} and {b.name}"
        if len(both) == 1:
            left, fed = (b, both[0]) if one else (a, both[0])
            leg = equipment.leg_of_place(fed.place)
            spots = sorted(free, key=lambda p: (equipment.leg_of_place(p) == leg, p))
            if spots and left.poles == 1:
                beside = replace(fed, id=left.id, circuit=left.id, place=spots[0])
                yield Move(
                    f"partner:{left.id}",
                    "partner",
                    f"{left.name} switched to backup with it",
                    with_feed(plan, beside),
                    0.3,
                )
        else:
            stance = replace(both[0], stance="keep_on", windows=())
            same = (stance, replace(both[1], stance="keep_on", windows=()))
            yield Move(f"same-turns:{a.id}", "partner", f"keep {names} on together", with_feed(plan, *same), 0.2)
        items = [i for i in part.fed if i.feed in both]
        if not any(i.load.purpose == "life" for i in items):
            rest = {k: f for k, f in plan.feeds.items() if f not in both}
            harm = max((harm_of(i) for i in items), default=0.0) + 0.5
            yield Move(f"pair-off:{a.id}", f"off:{a.id}", f"leave {names} off", replace(plan, feeds=rest), harm)


def protected_moves(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    """A thicker cord, or gear whose inlet bears the source's breaker and carries as much."""
    plan, station, cord = part.plan, part.station, part.inlet_cord
    if cord is not None:
        metric = wires()[cord.wire].metric
        fits = [w for w in wires().values() if w.metric == metric and w.amps >= station.inlet_outlet_a]
        for wire in sorted(fits, key=lambda w: w.amps)[:1]:
            thicker = with_cord(plan, replace(cord, wire=wire.id))
            yield Move("cord:inlet", "cord", f"an inlet cord of {wire.name}", thicker, 0.05)
    for other_ in sorted(catalogue.transfer.values(), key=lambda t: (t.price, t.id)):
        same = other_.kind == part.equipment.kind and other_.places >= part.equipment.places
        if same and other_.id != part.equipment.id and other_.inlet_a >= station.inlet_outlet_a:
            yield Move(
                f"switch:{other_.id}",
                "switch",
                f"the {inside_sentence(other_.name)}",
                plan.with_equipment(other_.id),
            )


def with_cord(plan: Plan, cord: Cord) -> Plan:
    """The plan with another cord to the inlet of its first device."""
    device = plan.device
    return plan if device is None else replace(plan, devices=plan.devices | {device.id: replace(device, cord=cord)})


def charged_at(plan: Plan, circuit: str) -> Plan:
    """The plan with the charger of its source on another circuit."""
    source = plan.source
    if source is None:
        return plan
    return replace(plan, sources=plan.sources | {source.id: replace(source, charge_circuit=circuit)})


def charge_elsewhere_moves(part: Part) -> Iterator[Move]:
    """The charger on a circuit that is not fed: the nearest in breaker and room is tried."""
    plan, home = part.plan, part.home
    fed = {f.circuit for f in plan.feeds.values()}
    now = part.charge_circuit
    for circuit in sorted(
        home.circuits.values(), key=lambda c: (now is None or c.room != now.room, -c.breaker_a, c.id)
    ):
        if circuit.id not in fed and circuit.poles == 1 and circuit.traced:
            moved = charged_at(plan, circuit.id)
            yield Move(f"charge:{circuit.id}", "charge", f"charge from {circuit.name}", moved, 0.1)
            return


def feed_live_moves(part: Part) -> Iterator[Move]:
    """Behind gear that makes a whole panel live: all that nobody opens comes into the plan, as what it is anyway."""
    for port in part.ports:
        fed = {f.circuit for f in part.plan.feeds.values()}
        live = [c for c in circuits_beneath(port) if c not in fed and not part.plan.opened.get(c)]
        if not live or port.device is None:
            continue
        place = max((p for f in port.plan.feeds.values() for p in places_of(f, part.home)), default=0)
        more = []
        for c in live:
            feed = Feed(id=c, source=port.device.source, circuit=c, device=port.device.id, place=place + 1)
            more.append(feed)
            place = max(places_of(feed, part.home))
        names = ", ".join(part.home.circuits[c].name for c in live[:2])
        label = f"{names} and {len(live) - 2} more in the plan" if len(live) > 2 else f"{names} in the plan"
        cords = {
            k for k, f in part.plan.feeds.items() if f.load and part.home.loads[f.load].circuit in live
        }  # what comes with its circuit from now on
        rest = {k: f for k, f in part.plan.feeds.items() if k not in cords}
        yield Move("feed_live", "feed_live", label, with_feed(replace(part.plan, feeds=rest), *more), 0.1)


def at_its_panel_moves(part: Part) -> Iterator[Move]:
    """A device at the panel where its circuits are."""
    for port in part.ports:
        device = port.device
        if device is None:
            continue
        circuits = [part.home.circuits[f.circuit] for f in port.plan.feeds.values() if f.circuit]
        for panel in dict.fromkeys(c.panel for c in circuits if c.panel != device.panel):
            moved = part.plan.devices | {device.id: replace(device, panel=panel)}
            at = part.home.panel_name(panel)
            yield Move(
                f"panel:{device.id}",
                "panel",
                f"{port.equipment.name} at {at}",
                replace(part.plan, devices=moved),
                0.1,
            )


def listed_moves(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    """What is listed to carry the circuits that a plan hangs on cords: the nearest by places, by an electrician."""
    plan = part.plan
    circuits = [part.home.circuits[f.circuit] for f in plan.feeds.values() if f.circuit]
    if not circuits or plan.devices:
        return
    source = part.source.id
    for kit in sorted(catalogue.transfer.values(), key=lambda t: (t.places, t.price, t.id)):
        wired = kit.traits.levers and kit.places >= len(circuits) and kit.currency == part.home.site.currency
        if wired and all(c.breaker_a <= kit.place_a for c in circuits):
            made = replace(plan, devices={"main": Device(id="main", equipment=kit.id, source=source)})
            yield Move(
                f"listed:{kit.id}",
                "listed",
                (f"the {inside_sentence(kit.name)}, listed for it and fitted by an electrician"),
                made,
                0.1,
            )
            return
