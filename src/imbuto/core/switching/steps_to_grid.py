"""Coming back to the grid: each way over, undone in its order."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from imbuto.core.plan.system import Part
from imbuto.core.switching.card_steps import (
    STEADY_MIN,
    CardStep,
    hand_of,
    in_order,
    names_of,
    together,
)
from imbuto.core.switching.switch_model import Switching


def steps_to_grid(model: Switching, each: Sequence[Part]) -> Iterator[CardStep]:
    x = each[0]
    by_hand = any(p.device is None or not p.equipment.automatic for y in each if not y.waits for p in y.ports)
    if not by_hand:
        yield CardStep(
            "The gear switches back by itself once the grid has been steady for a while. Watch it, and switch nothing.",
            proof="Its indicator shows that the grid powers the house and that the station is charging.",
        )
        yield from _closed_again(model, each)
        return
    yield CardStep(
        f"Wait until the grid has been there, steady, for {STEADY_MIN} minutes.",
        "",
        "",
        "Look for a lamp on an unswitched circuit, light in the neighbors' windows, or a message from the utility.",
        "Nothing yet.",
    )
    for y in reversed([y for y in each if not y.waits]):
        for port in reversed(y.ports):
            if port.device is None:
                yield from _back_cords(model, y, port)
            elif port.equipment.automatic or port.device.bypassed:
                continue
            elif port.equipment.in_panel:
                yield from _back_interlock(model, port)
            else:
                yield from _back_levers(model, port)
    yield from _closed_again(model, each)
    for y in each:
        ident = f"charger:{y.source.id}"
        by_hand = model.rest.get(f"out:{y.source.id}") == "off"
        if ident in model.parts and not y.waits and by_hand:
            yield CardStep(
                f"Plug in the charging cord of {y.station.name}.",
                model.parts[ident].where,
                hand_of(x),
                "It charges at the set watts, and no breaker trips.",
                "",
                ((f"out:{y.source.id}", "off"), (ident, "in")),
            )


def _closed_again(model: Switching, each: Sequence[Part]) -> Iterator[CardStep]:
    opened = [f"b:{c}" for c in each[0].whole.opened if f"b:{c}" in model.parts]
    if opened:
        yield CardStep(
            "Switch the breakers that you opened back on.",
            "the panel",
            hand_of(each[0]),
            "Their circuits are live.",
            "",
            tuple((b, "on") for b in opened),
        )


def _unplug(model: Switching, port: Part) -> Iterator[CardStep]:
    device, station, source = port.device, port.station, port.source
    assert device is not None
    waiting = [s.id for s in port.whole.sources.values() if s.after == source.id]
    offs = tuple((f"out:{k}", "off") for k in (source.id, *waiting) if f"out:{k}" in model.parts)
    yield CardStep(
        f"Switch off the output of {station.name}.",
        model.parts[f"out:{source.id}"].where,
        hand_of(port),
        "Its display shows 0 W out.",
        "",
        offs,
    )
    cord = f"cord:{device.id}"
    if cord in model.parts:
        yield CardStep(
            "Unplug the cord from the inlet.",
            model.parts[cord].where,
            hand_of(port),
            "Its cover is closed.",
            "",
            ((cord, "out"),),
        )


def _back_levers(model: Switching, port: Part) -> Iterator[CardStep]:
    for group in reversed(together(port, in_order(port, port.plan.feeds.values()))):
        off = tuple((f"lever:{f.circuit}", "OFF") for f in group)
        on = tuple((f"lever:{f.circuit}", "GRID") for f in group)
        places = " and ".join(str(f.place) for f in group)
        yield CardStep(
            f"Lever {places}, {names_of(port, group)}: past OFF to GRID.",
            port.equipment.name,
            hand_of(port),
            "It runs.",
            "",
            (*off, *on),
        )
    yield from _unplug(model, port)


def _back_interlock(model: Switching, port: Part) -> Iterator[CardStep]:
    device = port.device
    assert device is not None
    above = "main" if device.panel is None else f"feeder:{device.panel}"
    every = [c for c in port.home.circuits.values() if c.panel == device.panel]
    yield CardStep(
        "Switch off every breaker in the panel.",
        "the panel",
        hand_of(port),
        "The whole panel is without power.",
        "",
        tuple((f"b:{c.id}", "off") for c in every),
    )
    yield CardStep(
        "Switch off the source's breaker and slide the interlock back.",
        model.parts[f"sb:{device.id}"].where,
        hand_of(port),
        "The main can move again.",
        "",
        ((f"sb:{device.id}", "off"),),
    )
    yield from _unplug(model, port)
    yield CardStep(
        f"Switch on {model.parts[above].name[:1].lower()}{model.parts[above].name[1:]}.",
        model.parts[above].where,
        hand_of(port),
        "The panel is live, but its circuits aren't yet.",
        "",
        ((above, "on"),),
    )
    yield CardStep(
        "Switch on the breakers one at a time, with half a minute between those that start hard.",
        "the panel",
        hand_of(port),
        "Nothing hums or dims for long.",
        "",
        tuple((f"b:{c.id}", "on") for c in every),
    )


def _back_cords(model: Switching, x: Part, port: Part) -> Iterator[CardStep]:
    feeds = [f for f in port.plan.feeds.values() if f.load]
    for feed in reversed(in_order(port, feeds)):
        yield CardStep(
            f"{port.target_names[feed.id]}: put its plug back into the wall.",
            model.parts[f"plug:{feed.load}"].where,
            hand_of(x),
            "It runs.",
            "",
            ((f"plug:{feed.load}", "wall"),),
        )
    if feeds and not x.by_device:
        yield CardStep(
            f"Switch off the output of {x.station.name}.",
            model.parts[f"out:{x.source.id}"].where,
            hand_of(x),
            "Its display shows 0 W out.",
            "",
            ((f"out:{x.source.id}", "off"),),
        )
