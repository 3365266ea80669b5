"""Going over to the source: one way for each kind of joining."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from imbuto.core.plan.system import Part
from imbuto.core.switching.card_steps import (
    CardStep,
    hand_of,
    in_order,
    meter_rise_text,
    names_of,
    short,
    together,
)
from imbuto.core.switching.switch_model import Switching


def steps_to_backup(model: Switching, each: Sequence[Part]) -> Iterator[CardStep]:
    for x in each:
        if x.waits:
            continue
        for port in x.ports:
            if port.device is None:
                yield from _over_cords(model, x, port)
            elif port.device.bypassed:
                yield CardStep(
                    f"{port.equipment.name} is bypassed, so nothing behind it has power.", leave="its bypass"
                )
            elif port.equipment.automatic:
                yield from _over_by_itself(model, port)
            elif port.equipment.in_panel:
                yield from _over_interlock(model, port)
            else:
                yield from _over_levers(model, port)


def _out_first(model: Switching, x: Part) -> Iterator[CardStep]:
    """The charger goes out before anything is switched, and never feeds on its own output."""
    ident = f"charger:{x.source.id}"
    if ident in model.parts:
        yield CardStep(
            f"Unplug the charging cord of {x.station.name}.",
            model.parts[ident].where,
            hand_of(x),
            "Its display shows 0 W in.",
            "Leave it out until the grid is back for good.",
            ((ident, "out"),),
        )


def _plug_in(model: Switching, port: Part) -> Iterator[CardStep]:
    """With the output off, the cord goes in; then the output on."""
    device, station, source = port.device, port.station, port.source
    assert device is not None
    cord = f"cord:{device.id}"
    if cord in model.parts:
        yield CardStep(
            f"With the output of {station.name} off, plug the cord into the inlet and turn it until it seats.",
            model.parts[cord].where,
            hand_of(port),
            "The plug doesn't come out when you pull it.",
            "No other cord, and none with two plugs.",
            ((f"out:{source.id}", "off"), (cord, source.id)),
        )
    yield CardStep(
        f"Switch on the output of {station.name}.",
        model.parts[f"out:{source.id}"].where,
        hand_of(port),
        f"Its display shows {station.leg_volts:g} V out and only its own draw.",
        "",
        ((f"out:{source.id}", "on"),),
    )


def _over_interlock(model: Switching, port: Part) -> Iterator[CardStep]:
    device, home = port.device, port.home
    assert device is not None
    above = "main" if device.panel is None else f"feeder:{device.panel}"
    yield from _out_first(model, port)
    yield CardStep(
        f"Switch off {model.parts[above].name[:1].lower()}{model.parts[above].name[1:]}.",
        model.parts[above].where,
        hand_of(port),
        "The whole panel is without power.",
        "It stays off until you switch back.",
        ((above, "off"),),
    )
    every = [c for c in home.circuits.values() if c.panel == device.panel]
    fed = {f.circuit for f in port.plan.feeds.values()}
    dotted = ", ".join(c.name for c in every if c.id not in fed)
    yield CardStep(
        "Switch off every breaker in the panel, also those with a dot.",
        port.home.panel_name(device.panel),
        hand_of(port),
        "Every handle points away from the middle.",
        f"These stay off: {dotted}." if dotted else "",
        tuple((f"b:{c.id}", "off") for c in every),
    )
    yield from _plug_in(model, port)
    yield CardStep(
        "Slide the interlock and switch the source's breaker on.",
        model.parts[f"sb:{device.id}"].where,
        hand_of(port),
        "The slide keeps the main off.",
        "Never force the slide.",
        ((f"sb:{device.id}", "on"),),
    )
    for group in together(port, in_order(port, port.plan.feeds.values())):
        moves = tuple((f"b:{f.circuit}", "on") for f in group)
        yield CardStep(
            f"Switch on {names_of(port, group)}.",
            "the panel",
            hand_of(port),
            meter_rise_text(port, group),
            "",
            moves,
            short(port, group),
        )


def _over_levers(model: Switching, port: Part) -> Iterator[CardStep]:
    yield from _out_first(model, port)
    yield from _plug_in(model, port)
    for group in together(port, in_order(port, port.plan.feeds.values())):
        off = tuple((f"lever:{f.circuit}", "OFF") for f in group)
        on = tuple((f"lever:{f.circuit}", "SOURCE") for f in group)
        places = " and ".join(str(f.place) for f in group)
        both = " Set both to OFF first, because they share a neutral." if len(group) > 1 else ""
        yield CardStep(
            f"Lever {places}, {names_of(port, group)}: past OFF to SOURCE.{both}",
            port.equipment.name,
            hand_of(port),
            meter_rise_text(port, group),
            "",
            (*off, *on),
            short(port, group),
        )


def _over_cords(model: Switching, x: Part, port: Part) -> Iterator[CardStep]:
    feeds = [f for f in port.plan.feeds.values() if f.load]
    if not feeds:
        return
    yield from _out_first(model, x)
    yield CardStep(
        f"Switch on the output of {x.station.name}.",
        model.parts[f"out:{x.source.id}"].where,
        hand_of(x),
        "Its display shows only its own draw.",
        "",
        ((f"out:{x.source.id}", "on"),),
    )
    for feed in in_order(port, feeds):
        name = port.target_names[feed.id]
        yield CardStep(
            f"Move the plug of {name} from the wall to outlet {feed.place} of {x.station.name}.",
            model.parts[f"plug:{feed.load}"].where,
            hand_of(x),
            meter_rise_text(port, [feed]),
            "No cord with two plugs, ever.",
            ((f"plug:{feed.load}", "station"),),
            short(port, [feed]),
        )


def _over_by_itself(model: Switching, port: Part) -> Iterator[CardStep]:
    who = port.whole.opened
    opened = [c for c in port.home.circuits.values() if c.id in who and f"b:{c.id}" in model.parts]
    opened = opened if port.equipment.traits.whole_panel else []
    hands = list(dict.fromkeys(who[c.id] for c in opened))
    if opened:
        yield CardStep(
            f"Switch off the breakers that stay off: {', '.join(c.name for c in opened)}.",
            "the panel",
            ", ".join(hands),
            "Their handles point away from the middle.",
            "",
            tuple((f"b:{c.id}", "off") for c in opened),
        )
    ms = port.equipment.transfer_ms
    took = f" within {ms:g} ms" if ms is not None and ms < 1000 else ""
    first = in_order(port, port.plan.feeds.values())[:3]
    key = ", ".join(port.target_names[f.id] for f in first)
    passed_on = port.equipment.traits.passed_on
    yield CardStep(
        f"{port.station.name if passed_on else port.equipment.name} switches to backup by itself{took}. Watch it, and "
        "switch nothing.",
        port.equipment.name,
        "anyone",
        f"Its indicator shows that {port.station.name} powers the house; {key} run."
        if key
        else "Its indicator shows this.",
        "Leave every lever at SOURCE." if passed_on else "You don't have to do anything there.",
    )
