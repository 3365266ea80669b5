"""The order of hands: cards for going over, coming back, a restart after a shutdown, and when it is low.

Each step names what, where, by whom, how one knows that it worked and what not to touch. A card walks its own steps through the
switching model before it is shown; one that would join two sources or the dead street is refused, with the reason.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from imbuto.core.basics.units import number_text
from imbuto.core.home.loads import Load
from imbuto.core.plan.joining import Joined
from imbuto.core.plan.plan import Feed
from imbuto.core.storm.parts import State, Switching, switching, walked

Kind = Literal["over", "back", "restart", "low"]
TITLES: dict[Kind, str] = {
    "over": "Going over to the source", "back": "Coming back to the grid", "restart": "After a shutdown at low charge",
    "low": "It is low, or one leg is missing",
}  # fmt: skip
STEADY_MIN = 10  # minutes of steady grid before going back; planning default
REST_MIN = 5  # minutes off before a compressor starts again; common practice
HARD_VA = 300.0  # over running: what is worth a word when it starts; planning default
TOO_MUCH = "Much more is a rider or a wrong label: switch it off again."
IN_SHORT = f"+ W: both meters rise by about so much, and for a moment by the kVA. {TOO_MUCH}"
HARD_CHARGE = 20  # percent: nothing that starts hard under it; planning default
STOPS = (
    "Water at the panel, or wet hands or floor: stay away, and call an electrician.",
    "A burning smell, a hum or a hot cover: touch nothing, leave, call the fire brigade.",
    "A line down outside, or the house hit by something: stay in, call the utility.",
)
Move = tuple[str, str]


@dataclass(frozen=True, slots=True)
class Step:
    """One step of a card. what: to do; where; by: whose hands; proof: how one knows that it worked; leave: what not to touch;
    moves: parts with the positions they go to, empty where nothing is moved; short: its proof where IN_SHORT is said once."""

    what: str
    where: str = ""
    by: str = ""
    proof: str = ""
    leave: str = ""
    moves: tuple[Move, ...] = ()
    short: str = ""


@dataclass(frozen=True, slots=True)
class Card:
    """One card. stops: before anything is touched; refused: why there is none, and then it has no steps; off: breakers that
    stay off, by name."""

    kind: Kind
    title: str
    stops: tuple[str, ...]
    steps: tuple[Step, ...]
    off: tuple[str, ...] = ()
    refused: str = ""


def cards(each: Sequence[Joined]) -> list[Card]:
    """All cards of a plan; each: its parts, source by source."""
    model = switching(each)
    over, back = list(_over(model, each)), list(_back(model, each))
    home = each[0].home
    plan = each[0].all_of_it
    fed = {f.circuit for f in plan.feeds.values()}
    interlocked = any(e.in_panel and not e.automatic for e in each[0].equipments.values())
    off = [c.name for c in home.circuits.values() if c.id not in fed and (interlocked or c.id in plan.opened)]
    made = [
        _card("over", over, _why_not(model, over, model.rest), off),
        _card("back", back, _back_refused(model, over, back), ()),
        _card("restart", list(_restart(model, each)), "", ()),
        _card("low", list(_low(model, each)), "", ()),
    ]
    return [c for c in made if c.steps or c.refused]


def _card(kind: Kind, steps: list[Step], why_not: str, off: Iterable[str]) -> Card:
    return Card(kind, TITLES[kind], STOPS, () if why_not else tuple(steps), tuple(off), why_not)


def _why_not(model: Switching, steps: Sequence[Step], start: State) -> str:
    """Why a card cannot be walked; empty where every state on the way is safe, whether the grid is away or comes back."""
    for state in states(model, steps, start):
        for grid in (False, True):
            found = model.dangers(model.settled(state, grid=grid), grid=grid)
            if found:
                return (
                    f"This cannot be made safe as it is joined: {found[0]}. An electrician changes the joining first."
                )
    return ""


def states(model: Switching, steps: Sequence[Step], start: State) -> Iterator[State]:
    """The state at the start and after every single move of a card."""
    yield start
    yield from walked(model, start, [m for s in steps for m in s.moves])


def _back_refused(model: Switching, over: Sequence[Step], back: Sequence[Step]) -> str:
    """The way back has to be safe from wherever the way over was left."""
    for begun in states(model, over, model.rest):
        why = _why_not(model, back, begun)
        if why:
            return why
    return ""


# Who and what


def _hand(x: Joined) -> str:
    people = x.home.household.people.values()
    able = [p.name for p in people if p.can_switch and p.where == "home"]
    if able:
        return able[0]
    told = [p.name for p in people if p.can_switch]
    return (
        f"{told[0]}, who is not at home: a stand-in with this card" if told else "someone who has practised this card"
    )


def _loads(x: Joined, feed: Feed) -> list[Load]:
    return [f.load for f in x.fed if f.feed.id == feed.id and not f.assumed]


def _in_order(x: Joined, feeds: Iterable[Feed], *, light_first: bool = False) -> list[Feed]:
    """Life and health first, then the heaviest start; after low charge the lightest."""

    def key(feed: Feed) -> tuple[bool, float, int]:
        loads = _loads(x, feed)
        start = max((load.start_extra_va for load in loads), default=0.0)
        return (not any(load.purpose == "life" for load in loads), start if light_first else -start, feed.place)

    return sorted(feeds, key=key)


def _together(x: Joined, feeds: Sequence[Feed]) -> list[list[Feed]]:
    """Feeds whose circuits share a neutral, in one group; every other alone."""
    found: list[list[Feed]] = []
    by = {f.circuit: f for f in feeds if f.circuit}
    for feed in feeds:
        if any(feed in g for g in found):
            continue
        circuit = x.home.circuits.get(feed.circuit or "")
        partners = [
            f for k, f in by.items()
            if circuit is not None and k is not None and k != circuit.id
            and (circuit.neutral_partner == k or x.home.circuits[k].neutral_partner == circuit.id)
        ]  # fmt: skip
        found.append([feed, *partners])
    return found


def _names(x: Joined, group: Sequence[Feed]) -> str:
    return " and ".join(x.target_names[f.id] for f in group)


def _added(x: Joined, group: Sequence[Feed]) -> str:
    """What a meter shows when these come on."""
    watts, start = _rise(x, group)
    hard = f", and {start / 1000:.1f} kVA for a moment when it starts" if start else ""
    return f"Both meters rise by about {number_text(watts)} W{hard}. {TOO_MUCH}"


def _rise(x: Joined, group: Sequence[Feed]) -> tuple[float, float]:
    """W that these add, and VA for a moment when they start, 0 where it is not worth a word."""
    watts = sum(f.load.count * f.load.average_w for f in x.fed if f.feed in group)
    start = max((f.load.start_extra_va for f in x.fed if f.feed in group), default=0.0)
    return max(round(watts), 1), start if start >= HARD_VA else 0.0


def _short(x: Joined, group: Sequence[Feed]) -> str:
    watts, start = _rise(x, group)
    return f"+{number_text(watts)} W" + (f", {start / 1000:.1f} kVA" if start else "")


# Going over


def _over(model: Switching, each: Sequence[Joined]) -> Iterator[Step]:
    for x in each:
        if x.source is None or x.station is None or x.waits:
            continue
        for port in x.ports:
            if port.device is None:
                yield from _over_cords(model, x, port)
            elif port.device.bypassed:
                yield Step(f"{port.equipment.name} is out by its bypass: nothing behind it is fed.", leave="its bypass")
            elif port.equipment.automatic:
                yield from _over_by_itself(model, port)
            elif port.equipment.in_panel:
                yield from _over_interlock(model, port)
            else:
                yield from _over_levers(model, port)


def _out_first(model: Switching, x: Joined) -> Iterator[Step]:
    """The charger goes out before anything is switched, and never feeds on its own output."""
    assert x.source is not None
    assert x.station is not None
    ident = f"charger:{x.source.id}"
    if ident in model.parts:
        yield Step(
            f"Pull the charging cord of {x.station.name}.", model.parts[ident].where, _hand(x),
            "Its display shows 0 W in.", "Leave it out until the grid is back for good.", ((ident, "out"),),
        )  # fmt: skip


def _plug_in(model: Switching, port: Joined) -> Iterator[Step]:
    """With the output off, the cord goes in; then the output on."""
    device, station, source = port.device, port.station, port.source
    assert device is not None
    assert station is not None
    assert source is not None
    cord = f"cord:{device.id}"
    if cord in model.parts:
        yield Step(
            f"With the output of {station.name} off, plug the cord into the inlet and turn it until it seats.",
            model.parts[cord].where, _hand(port), "It does not come out when pulled.",
            "No other cord, and none with two plugs.", ((f"out:{source.id}", "off"), (cord, source.id)),
        )  # fmt: skip
    yield Step(
        f"Switch the output of {station.name} on.", model.parts[f"out:{source.id}"].where, _hand(port),
        f"Its display shows {station.leg_volts:g} V out and only its own draw.", "", ((f"out:{source.id}", "on"),),
    )  # fmt: skip


def _over_interlock(model: Switching, port: Joined) -> Iterator[Step]:
    device, home = port.device, port.home
    assert device is not None
    above = "main" if device.panel is None else f"feeder:{device.panel}"
    yield from _out_first(model, port)
    yield Step(
        f"Switch {model.parts[above].name[:1].lower()}{model.parts[above].name[1:]} off.", model.parts[above].where, _hand(port),
        "The whole panel is dark.", "It stays off until the way back.", ((above, "off"),),
    )  # fmt: skip
    every = [c for c in home.circuits.values() if c.panel == device.panel]
    fed = {f.circuit for f in port.plan.feeds.values()}
    dotted = ", ".join(c.name for c in every if c.id not in fed)
    yield Step(
        "Switch every breaker of the panel off, those with a dot too.", port.home.panel_name(device.panel), _hand(port),
        "Every handle points away from the middle.", f"These stay off: {dotted}." if dotted else "",
        tuple((f"b:{c.id}", "off") for c in every),
    )  # fmt: skip
    yield from _plug_in(model, port)
    yield Step(
        "Slide the interlock and switch the source's breaker on.", model.parts[f"sb:{device.id}"].where, _hand(port),
        "The slide holds the main where it is.", "Never force the slide.", ((f"sb:{device.id}", "on"),),
    )  # fmt: skip
    for group in _together(port, _in_order(port, port.plan.feeds.values())):
        moves = tuple((f"b:{f.circuit}", "on") for f in group)
        yield Step(
            f"Switch {_names(port, group)} on.",
            "the panel",
            _hand(port),
            _added(port, group),
            "",
            moves,
            _short(port, group),
        )


def _over_levers(model: Switching, port: Joined) -> Iterator[Step]:
    yield from _out_first(model, port)
    yield from _plug_in(model, port)
    for group in _together(port, _in_order(port, port.plan.feeds.values())):
        off = tuple((f"lever:{f.circuit}", "OFF") for f in group)
        on = tuple((f"lever:{f.circuit}", "SOURCE") for f in group)
        places = " and ".join(str(f.place) for f in group)
        both = " Both go to OFF first: they share a neutral." if len(group) > 1 else ""
        yield Step(
            f"Lever {places}, {_names(port, group)}: over OFF to SOURCE.{both}", port.equipment.name, _hand(port),
            _added(port, group), "", (*off, *on), _short(port, group),
        )  # fmt: skip


def _over_cords(model: Switching, x: Joined, port: Joined) -> Iterator[Step]:
    assert x.source is not None
    assert x.station is not None
    feeds = [f for f in port.plan.feeds.values() if f.load]
    if not feeds:
        return
    yield from _out_first(model, x)
    yield Step(
        f"Switch the output of {x.station.name} on.", model.parts[f"out:{x.source.id}"].where, _hand(x),
        "Its display shows only its own draw.", "", ((f"out:{x.source.id}", "on"),),
    )  # fmt: skip
    for feed in _in_order(port, feeds):
        name = port.target_names[feed.id]
        yield Step(
            f"{name}: its plug out of the wall, into outlet {feed.place} of {x.station.name}.",
            model.parts[f"plug:{feed.load}"].where, _hand(x), _added(port, [feed]), "No cord with two plugs, ever.",
            ((f"plug:{feed.load}", "station"),), _short(port, [feed]),
        )  # fmt: skip


def _over_by_itself(model: Switching, port: Joined) -> Iterator[Step]:
    assert port.station is not None
    who = port.all_of_it.opened
    opened = [c for c in port.home.circuits.values() if c.id in who and f"b:{c.id}" in model.parts]
    opened = opened if port.equipment.traits.whole_panel else []
    hands = list(dict.fromkeys(who[c.id] for c in opened))
    if opened:
        yield Step(
            f"Open the breakers of what is left off: {', '.join(c.name for c in opened)}.", "the panel", ", ".join(hands),
            "Their handles point away from the middle.", "", tuple((f"b:{c.id}", "off") for c in opened),
        )  # fmt: skip
    ms = port.equipment.transfer_ms
    took = f" within {ms:g} ms" if ms is not None and ms < 1000 else ""
    first = _in_order(port, port.plan.feeds.values())[:3]
    key = ", ".join(port.target_names[f.id] for f in first)
    yield Step(
        f"{port.equipment.name} goes over by itself{took}: look, and switch nothing.", port.equipment.name, "anyone",
        f"Its indicator says that {port.station.name} carries the house; {key} run." if key else "Its indicator says so.",
        "Nothing on it needs a hand.",
    )  # fmt: skip


# Coming back


def _back(model: Switching, each: Sequence[Joined]) -> Iterator[Step]:
    x = each[0]
    by_hand = any(p.device is None or not p.equipment.automatic for y in each if not y.waits for p in y.ports)
    if not by_hand:
        yield Step("It comes back by itself when the grid has been steady for a while: look, and switch nothing.", proof=
                   "Its indicator says that the grid carries the house, and that the station charges.")  # fmt: skip
        yield from _closed_again(model, each)
        return
    yield Step(
        f"Wait until the grid has been there, steady, for {STEADY_MIN} minutes.", "", "",
        "A lamp left on an unswitched circuit, the neighbours' windows, or the utility's message tell it.",
        "Nothing yet.",
    )  # fmt: skip
    for y in reversed([y for y in each if y.source is not None and y.station is not None and not y.waits]):
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
        ident = f"charger:{y.source.id}" if y.source is not None else ""
        by_hand = y.source is not None and model.rest.get(f"out:{y.source.id}") == "off"
        if ident in model.parts and y.station is not None and not y.waits and by_hand:
            yield Step(
                f"Plug the charging cord of {y.station.name} in.", model.parts[ident].where, _hand(x),
                "It takes in as many W as are set, and no breaker opens: it is filling for the next time.", "",
                ((f"out:{y.source.id}" if y.source else "", "off"), (ident, "in")),
            )  # fmt: skip


def _closed_again(model: Switching, each: Sequence[Joined]) -> Iterator[Step]:
    opened = [f"b:{c}" for c in each[0].all_of_it.opened if f"b:{c}" in model.parts]
    if opened:
        yield Step("Close the breakers again that were opened.", "the panel", _hand(each[0]), "Their circuits are live.", "",
                   tuple((b, "on") for b in opened))  # fmt: skip


def _unplug(model: Switching, port: Joined) -> Iterator[Step]:
    device, station, source = port.device, port.station, port.source
    assert device is not None
    assert station is not None
    assert source is not None
    waiting = [s.id for s in port.all_of_it.sources.values() if s.after == source.id]
    offs = tuple((f"out:{k}", "off") for k in (source.id, *waiting) if f"out:{k}" in model.parts)
    yield Step(f"Switch the output of {station.name} off.", model.parts[f"out:{source.id}"].where, _hand(port),
               "Its display shows 0 W out.", "", offs)  # fmt: skip
    cord = f"cord:{device.id}"
    if cord in model.parts:
        yield Step("Pull the cord out of the inlet.", model.parts[cord].where, _hand(port), "Its cover is closed.", "",
                   ((cord, "out"),))  # fmt: skip


def _back_levers(model: Switching, port: Joined) -> Iterator[Step]:
    for group in reversed(_together(port, _in_order(port, port.plan.feeds.values()))):
        off = tuple((f"lever:{f.circuit}", "OFF") for f in group)
        on = tuple((f"lever:{f.circuit}", "GRID") for f in group)
        places = " and ".join(str(f.place) for f in group)
        yield Step(
            f"Lever {places}, {_names(port, group)}: over OFF to GRID.", port.equipment.name, _hand(port), "It runs.", "",
            (*off, *on),
        )  # fmt: skip
    yield from _unplug(model, port)


def _back_interlock(model: Switching, port: Joined) -> Iterator[Step]:
    device = port.device
    assert device is not None
    above = "main" if device.panel is None else f"feeder:{device.panel}"
    every = [c for c in port.home.circuits.values() if c.panel == device.panel]
    yield Step("Switch every breaker of the panel off.", "the panel", _hand(port), "All of it is dark.", "",
               tuple((f"b:{c.id}", "off") for c in every))  # fmt: skip
    yield Step("Switch the source's breaker off and slide the interlock back.", model.parts[f"sb:{device.id}"].where,
               _hand(port), "The main is free.", "", ((f"sb:{device.id}", "off"),))  # fmt: skip
    yield from _unplug(model, port)
    yield Step(f"Switch {model.parts[above].name[:1].lower()}{model.parts[above].name[1:]} on.", model.parts[above].where,
               _hand(port), "The panel is live, its circuits not yet.", "", ((above, "on"),))  # fmt: skip
    yield Step(
        "Switch the breakers on, one at a time, what starts hard with half a minute between.", "the panel", _hand(port),
        "Nothing hums or dims for long.", "", tuple((f"b:{c.id}", "on") for c in every),
    )  # fmt: skip


def _back_cords(model: Switching, x: Joined, port: Joined) -> Iterator[Step]:
    assert x.source is not None
    assert x.station is not None
    feeds = [f for f in port.plan.feeds.values() if f.load]
    for feed in reversed(_in_order(port, feeds)):
        yield Step(f"{port.target_names[feed.id]}: its plug back into the wall.", model.parts[f"plug:{feed.load}"].where,
                   _hand(x), "It runs.", "", ((f"plug:{feed.load}", "wall"),))  # fmt: skip
    if feeds and not x.by_device:
        yield Step(f"Switch the output of {x.station.name} off.", model.parts[f"out:{x.source.id}"].where, _hand(x),
                   "Its display shows 0 W out.", "", ((f"out:{x.source.id}", "off"),))  # fmt: skip


# After a shutdown, and when it is low


def _restart(model: Switching, each: Sequence[Joined]) -> Iterator[Step]:
    for x in each:
        if x.source is None or x.station is None or x.waits or not x.fed:
            continue
        name = x.station.name
        yield Step(f"{name} has shut itself off at its floor. Switch everything behind it off first.", by=_hand(x),
                   proof="Nothing would start by itself when it comes back.")  # fmt: skip
        yield Step(_wakes(x), by=_hand(x), proof=f"{name} shows W in, and its charge rises.")
        if x.station.restart == "by_hand":
            yield Step(f"At 5 points above its floor, press the output of {name} on.", by=_hand(x),
                       proof="It stays on.")  # fmt: skip
        if x.plan.floor > 0:
            yield Step(
                f"Only in an emergency, and only to {name}'s own end: lower the floor from {100 * x.plan.floor:g} % to 0 %.",
                by=_hand(x), proof="It gives again.", leave="Never to nothing: drained so, it may not wake by itself.",
            )  # fmt: skip
        for feed in _in_order(x, x.plan.feeds.values(), light_first=True):
            start = max((load.start_extra_va for load in _loads(x, feed)), default=0.0)
            wait = (
                f" Not under {HARD_CHARGE} %, and not within {REST_MIN} minutes of going off." if start >= 300 else ""
            )
            yield Step(
                f"Then {x.target_names[feed.id]}.{wait}", by=_hand(x), proof=_added(x, [feed]), short=_short(x, [feed])
            )


def _wakes(x: Joined) -> str:
    """What brings a station back that shut off at its floor."""
    assert x.station is not None
    ways = []
    if x.plan.arrays:
        ways.append("the sun on its arrays, from the morning on")
    if x.plan.banks:
        ways.append("its bank, where that holds anything")
    if x.generator is not None:
        ways.append(f"{x.generator.name}, set out and running before it is joined")
    ways.append("the wall, once the grid is back")
    return f"{x.station.name} wakes from: {'; '.join(ways)}."


def _low(model: Switching, each: Sequence[Joined]) -> Iterator[Step]:
    """The grid is there and weak: what suffers goes off first."""
    home = each[0].home
    motors = [x for x in home.loads.values() if x.kind in ("compressor", "pump", "motor") and x.run_w >= 50]
    motors.sort(key=lambda load: -load.start_extra_va)
    if not motors:
        return
    names = ", ".join(x.name for x in motors[:6])
    yield Step(f"Motors off first: {names}.", "their breakers or plugs", _hand(each[0]),
               "Lamps are steadier; nothing hums.", "Heaters and lamps may stay on.")  # fmt: skip
    yield Step("Half the house bright, half dim: one leg or the neutral is missing. Switch the main off and call the utility.",
               "main panel", _hand(each[0]), "All is dark; nothing more burns out.", "Do not switch it on again to try.")  # fmt: skip
    yield Step("Then take the card for going over, with the main off where it stands.", by=_hand(each[0]))
    yield Step(f"Back only after {STEADY_MIN} minutes of steady light.", by=_hand(each[0]))
