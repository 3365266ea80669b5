"""Changes to a plan that Imbuto can try by itself: to widen the neck, or to clear a broken limit."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import chain, combinations

from imbuto.core.basics.clock import Window
from imbuto.core.basics.measures import hour_text
from imbuto.core.basics.units import Leg, number_text
from imbuto.core.equipment.catalogue import Catalogue, Station, shipped
from imbuto.core.equipment.wires import Cord, wires
from imbuto.core.home.loads import PURPOSES, mean_w
from imbuto.core.limits.limit_registry import MoveKind, by_family
from imbuto.core.limits.rules.solar_input_limits import layouts
from imbuto.core.limits.rules.wiring.shared_neutral_limits import neutral_pairs
from imbuto.core.plan.plan import Device, Feed, Plan, places_of
from imbuto.core.plan.sources import Array, Source
from imbuto.core.plan.system import Part, PoweredLoad, circuits_beneath, feed_name

TRIED_SHARE = 0.5  # what takes turns gets half the time; planning default
MOST_UNPLUGGED = 30  # loads that are tried unplugged, the heaviest
STRIP_VA = 200.0  # what runs at no more may share a power strip; planning default
STRIP_KINDS = ("electronics", "corrected", "light")
LARGE_TASK_W = 500.0
DAYTIME = Window(start_h=6, end_h=23)  # of what is switched off at night; planning default
NIGHT_OFF = ("communications", "comfort", "convenience")  # purposes that nobody needs asleep


# Families that another station does nothing for.
@dataclass(frozen=True, slots=True)
class Move:
    """A changed plan.

    family: at most one of each is shown at a glance
    harm: what is given up, 0 for nothing
    enter: id of a load whose true figure is to be entered instead, empty where the plan changes
    """

    id: str
    family: str
    label: str
    plan: Plan
    harm: float = 0.0
    enter: str = ""


def _give_up(item: PoweredLoad) -> float:
    """How much it hurts to lose a load: most for life and health."""
    return 1.0 + len(PURPOSES) - PURPOSES.index(item.load.purpose)


def _by_feed(part: Part) -> dict[str, list[PoweredLoad]]:
    found: dict[str, list[PoweredLoad]] = {feed_id: [] for feed_id in part.plan.feeds}
    for item in part.fed:
        found[item.feed.id].append(item)
    return found


def _with_source(plan: Plan, source: Source) -> Plan:
    return replace(plan, sources=plan.sources | {source.id: source})


def _with_feed(plan: Plan, *feeds: Feed) -> Plan:
    return replace(plan, feeds=plan.feeds | {f.id: f for f in feeds})


def _without_feed(plan: Plan, feed_id: str) -> Plan:
    return replace(plan, feeds={k: f for k, f in plan.feeds.items() if k != feed_id})


def widening_moves(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    """Every move that may lengthen the hours."""
    yield from _one_more_module(part)
    yield from _next_station(part, catalogue)
    yield from _more_units(part, catalogue)
    yield from _more_panels(part)
    yield from _rests(part)
    yield from _nights_off(part)
    yield from _unplugs(part, riders_only=True)


def fixing_moves(part: Part, catalogue: Catalogue, families: set[str]) -> Iterator[Move]:
    """Every move that may clear a broken limit of these families, by what the register says answers them."""
    rows = by_family()
    wanted = {answer for f in families if f in rows for answer in rows[f].answers}
    if not part.equipment.traits.wired:
        wanted.add("larger_station")  # which has more outlets
    if "right_volts" in wanted:
        wanted.discard("larger_station")
    for answer, moves in ANSWERS.items():
        if answer in wanted:
            yield from moves(part, catalogue)
    yield from _leave_offs(part)


def _indoors(part: Part) -> Iterator[Move]:
    if part.source.spot != "indoors":
        inside = replace(part.source, spot="indoors")
        yield Move("indoors", "spot", "bring the station indoors", _with_source(part.plan, inside), 0.05)


def _by_hand(part: Part) -> Iterator[Move]:
    """A switch that was left on its source is thrown by hand instead."""
    for device in part.plan.devices.values():
        if device.left_on:
            thrown = replace(device, left_on=False)
            name = part.by_device[device.id].name
            yield Move(
                f"by-hand:{device.id}",
                "by_hand",
                f"throw the {_named(name)} by hand",
                replace(part.plan, devices=part.plan.devices | {device.id: thrown}),
                0.3,
            )


def _one_more_module(part: Part) -> Iterator[Move]:
    source, station = part.source, part.station
    if source.modules < station.max_modules:
        more = replace(source, modules=source.modules + 1)
        label = f"one more {station.module_name or 'module'}"
        yield Move(
            "module",
            "store",
            label,
            _with_source(part.plan, more),
        )


def _with_array(plan: Plan, array: Array) -> Plan:
    return replace(plan, arrays=plan.arrays | {array.id: array})


def _more_panels(part: Part) -> Iterator[Move]:
    """One string more, or one panel more in each string."""
    for array in part.plan.arrays.values():
        panel = part.panels[array.panel]
        for more in (
            replace(array, parallel=min(array.parallel + 1, 20)),
            replace(array, series=min(array.series + 1, 30)),
        ):
            extra = more.count - array.count
            if extra:
                label = f"{extra} more {panel.name} on {array.name}, {more.series} in series × {more.parallel}"
                yield Move(
                    f"panels:{array.id}:{more.series}:{more.parallel}",
                    "sun",
                    label,
                    _with_array(part.plan, more),
                )


def _other_layouts(part: Part) -> Iterator[Move]:
    """The same panels wired otherwise, some left over if it must be; or the array left away."""
    station = part.station
    for array in part.plan.arrays.values():
        used = {a.input for a in part.plan.arrays.values() if a.id != array.id}
        for free in (array.input, *(i for i in range(1, station.solar_inputs + 1) if i not in used | {array.input})):
            for found in layouts(array, part.panels[array.panel], station, part.home.site)[:2]:
                laid = replace(array, series=found.series, parallel=found.parallel, input=free)
                where = "" if free == array.input else f" on input {free}"
                label = f"{array.name} as {found.series} in series × {found.parallel}{where}"
                yield Move(
                    f"layout:{array.id}:{free}:{found.series}:{found.parallel}",
                    f"layout:{array.id}",
                    label,
                    _with_array(part.plan, laid),
                    0.05 + 0.05 * found.left_over,
                )
        rest = {k: a for k, a in part.plan.arrays.items() if k != array.id}
        yield Move(
            f"array:{array.id}", f"array:{array.id}", f"without {array.name}", replace(part.plan, arrays=rest), 1
        )


def _swap_station(part: Part, station: Station, family: str) -> Iterator[Move]:
    source, old = part.source, part.station
    modules = min(source.modules, station.max_modules)
    new = replace(
        source, station=station.id, modules=modules, module=None, units=1, link="parallel", owned=False, owned_units=1
    )
    yield Move(
        f"station:{station.id}",
        family,
        f"{_sized(station)} instead of {old.name}",
        _with_source(part.plan, new),
    )


def _more_units(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    """One unit more, where the maker lets them stand side by side."""
    source, station = part.source, part.unit
    if source.link == "parallel" and source.units < station.parallel_most:
        more = replace(source, units=source.units + 1)
        yield Move(
            "unit",
            "unit",
            f"{more.units} {station.name} side by side",
            _with_source(part.plan, more),
        )


def _coupled(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    """Two of the same, a leg each, where the maker has a coupler."""
    source, station = part.source, part.unit
    if station.coupler and part.home.service.legs == 2:
        pair = replace(source, units=2, link="coupler")
        yield Move(
            "pair",
            "station",
            f"two {station.name} with the {station.coupler}",
            _with_source(part.plan, pair),
        )


def _unlinked(part: Part) -> Iterator[Move]:
    """Back to one unit, and to modules of the station's own kind."""
    source, whole = part.source, part.station
    if source.units > 1:
        per_unit = whole.max_modules // source.units
        one = replace(source, units=1, link="parallel", modules=min(source.modules, per_unit))
        yield Move("one-unit", "unit", "one unit alone", _with_source(part.plan, one), 0.5)
    if source.module is not None:
        yield Move(
            "own-module",
            "module",
            "modules of the station's own kind",
            _with_source(part.plan, replace(source, module=None)),
            0.1,
        )


def _suited(part: Part, catalogue: Catalogue) -> list[Station]:
    """Stations of the house's own voltage, by size; a car only behind a gateway made for one."""
    volts, car = part.home.service.volts, part.equipment.traits.from_vehicle
    fits = [s for s in catalogue.stations.values() if s.leg_volts == volts and s.vehicle == car]
    return sorted(fits, key=lambda s: (s.nominal_wh, s.id))


def _next_station(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    old = part.station
    bigger = [s for s in _suited(part, catalogue) if s.nominal_wh > old.nominal_wh and len(s.legs) >= len(old.legs)]
    if bigger:
        yield from _swap_station(part, bigger[0], "station")


def _larger_stations(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    old = part.station
    for station in _suited(part, catalogue):
        if station.continuous_w > old.continuous_w:
            yield from _swap_station(part, station, "station")


def _right_volts(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    for station in _suited(part, catalogue):
        if station.id != part.station.id:
            yield from _swap_station(part, station, "station")


def _larger_switch(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    for other in sorted(catalogue.transfer.values(), key=lambda t: (t.places, t.id)):
        if other.kind == part.equipment.kind and other.places > part.equipment.places:
            yield Move(
                f"switch:{other.id}",
                "switch",
                f"the {_named(other.name)}",
                part.plan.with_equipment(other.id),
            )


def _power_strip(part: Part) -> Iterator[Move]:
    """Small things of one room on one power strip, where the station has fewer outlets than there are plugs. Nothing
    that heats, no motor, and nothing that health depends on shares one."""
    if part.equipment.traits.wired:
        return
    rooms: dict[str, list[Feed]] = {}
    for feed in part.plan.feeds.values():
        items = [f for f in part.fed if f.feed.id == feed.id]
        load = part.home.loads.get(feed.load or "")
        if load is None or feed.port != "ac" or load.purpose == "life" or load.kind not in STRIP_KINDS:
            continue
        if load.kind == "light" and not load.room:  # its lamps may be anywhere
            continue
        if sum(i.load.run_va * i.load.count for i in items) <= STRIP_VA:
            rooms.setdefault(load.room.casefold(), []).append(feed)
    for feeds in rooms.values():
        place = min(f.place for f in feeds)
        moved = [replace(f, place=place) for f in feeds if f.place != place]
        if moved:
            names = " and ".join(feed_name(part.home, f) for f in feeds)
            at = f"strip:{feeds[0].id}"
            yield Move(at, at, f"one power strip for {names}", _with_feed(part.plan, *moved), 0.03)


def _sized(station: Station) -> str:
    """Name a station; one that ships is made up, so it is an example of its size."""
    if station.id not in shipped().stations:
        return station.name
    return f"{number_text(station.nominal_wh / 1000)} kWh, such as {station.name} (made up),"


def _named(name: str) -> str:
    """A name inside a sentence."""
    return name[:1].lower() + name[1:]


def _rests(part: Part) -> Iterator[Move]:
    """What keeps on takes turns, where the user says turns will do; what takes turns rests altogether."""
    for feed_id, items in _by_feed(part).items():
        feed = part.plan.feeds[feed_id]
        if (
            not items
            or not all(i.load.turns_ok or i.rides_along for i in items)
            or not any(i.load.turns_ok for i in items)
        ):
            continue
        name = feed_name(part.home, feed)
        if feed.stance == "keep_on":
            turned = replace(feed, stance="turns", windows=(), share=TRIED_SHARE)
            yield Move(
                f"turns:{feed_id}",
                f"rest:{feed_id}",
                f"{name} in turns, half the time",
                _with_feed(part.plan, turned),
                1,
            )
        else:
            yield Move(f"rest:{feed_id}", f"rest:{feed_id}", f"rest {name}", _without_feed(part.plan, feed_id), 2)


def _nights_off(part: Part) -> Iterator[Move]:
    """Switch off at night what is on around the clock and nobody uses asleep: entertainment, the internet."""
    for feed_id, items in _by_feed(part).items():
        feed = part.plan.feeds[feed_id]
        off_at_night = [i for i in items if i.load.use.kind == "always" and i.load.purpose in NIGHT_OFF]
        if not items or len(off_at_night) < len(items) or feed.stance != "keep_on":
            continue
        turned = replace(feed, stance="turns", windows=(DAYTIME,))
        label = f"{feed_name(part.home, feed)} off from {hour_text(DAYTIME.end_h)} to {hour_text(DAYTIME.start_h)}"
        yield Move(f"night:{feed_id}", f"rest:{feed_id}", label, _with_feed(part.plan, turned), 0.7)


def _unplugs(part: Part, *, riders_only: bool) -> Iterator[Move]:
    may = [i for i in part.fed if i.load.purpose != "life" and (i.rides_along or not riders_only)]
    # Each is judged on its own; what draws least frees least, so past so many only the heaviest are tried.
    heaviest = set(sorted((i.load.run_va + i.load.start_extra_va for i in may), reverse=True)[:MOST_UNPLUGGED])
    for item in may:
        if item.load.run_va + item.load.start_extra_va not in heaviest:
            continue
        choices = part.plan.load_choices | {item.load.id: "unplugged"}
        harm = 0.5 if item.rides_along else _give_up(item)
        label = f"unplug {item.load.name}"
        yield Move(
            f"unplug:{item.load.id}", f"unplug:{item.load.id}", label, replace(part.plan, load_choices=choices), harm
        )


def _not_together(part: Part) -> Iterator[Move]:
    """Two large short tasks that need not run at once; the heaviest few are tried."""
    large = [i for i in part.fed if i.load.use.kind in ("tasks", "daily") and i.load.run_w >= LARGE_TASK_W]
    large = sorted(large, key=lambda i: (-i.load.run_va, i.load.id))[:5]
    group_of = {m: group for group in part.plan.not_together for m in group}
    for a, b in combinations(large, 2):
        old = [group_of[x.load.id] for x in (a, b) if x.load.id in group_of]
        if len(old) == 2:
            continue  # one group already, or two that stay apart
        group = (*(old[0] if old else (a.load.id,)), b.load.id if not old or a.load.id in old[0] else a.load.id)
        groups = (*(g for g in part.plan.not_together if g not in old), group)
        names = [part.home.loads[x].name for x in group]
        label = f"{names[0]} never with {names[1]}" if len(group) == 2 else f"{', '.join(names)}: one at a time"
        yield Move(f"apart:{a.load.id}:{b.load.id}", "apart", label, replace(part.plan, not_together=groups), 0.4)


def _other_leg(part: Part) -> Iterator[Move]:
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
            label = f"{name} to leg {other(leg)}, place {spot}"
            yield Move(f"leg:{feed.id}", "leg", label, _with_feed(plan, replace(feed, place=spot)), 0.1)
    for a, b in combinations(single, 2):
        if equipment.leg_of_place(a.place) != equipment.leg_of_place(b.place):
            label = f"swap {feed_name(part.home, a)} and {feed_name(part.home, b)}"
            swapped = _with_feed(plan, replace(a, place=b.place), replace(b, place=a.place))
            yield Move(f"swap:{a.id}:{b.id}", "leg", label, swapped, 0.2)


def other(leg: Leg) -> Leg:
    """The other leg of a split-phase pair."""
    return "B" if leg == "A" else "A"


def _with_partners(part: Part) -> Iterator[Move]:
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
                    _with_feed(plan, beside),
                    0.3,
                )
        else:
            stance = replace(both[0], stance="keep_on", windows=())
            same = (stance, replace(both[1], stance="keep_on", windows=()))
            yield Move(f"same-turns:{a.id}", "partner", f"keep {names} on together", _with_feed(plan, *same), 0.2)
        items = [i for i in part.fed if i.feed in both]
        if not any(i.load.purpose == "life" for i in items):
            rest = {k: f for k, f in plan.feeds.items() if f not in both}
            harm = max((_give_up(i) for i in items), default=0.0) + 0.5
            yield Move(f"pair-off:{a.id}", f"off:{a.id}", f"leave {names} off", replace(plan, feeds=rest), harm)


def _protected(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    """A thicker cord, or gear whose inlet bears the source's breaker and carries as much."""
    plan, station, cord = part.plan, part.station, part.inlet_cord
    if cord is not None:
        metric = wires()[cord.wire].metric
        fits = [w for w in wires().values() if w.metric == metric and w.amps >= station.inlet_outlet_a]
        for wire in sorted(fits, key=lambda w: w.amps)[:1]:
            thicker = _with_cord(plan, replace(cord, wire=wire.id))
            yield Move("cord:inlet", "cord", f"an inlet cord of {wire.name}", thicker, 0.05)
    for other_ in sorted(catalogue.transfer.values(), key=lambda t: (t.price, t.id)):
        same = other_.kind == part.equipment.kind and other_.places >= part.equipment.places
        if same and other_.id != part.equipment.id and other_.inlet_a >= station.inlet_outlet_a:
            yield Move(
                f"switch:{other_.id}",
                "switch",
                f"the {_named(other_.name)}",
                plan.with_equipment(other_.id),
            )


def _with_cord(plan: Plan, cord: Cord) -> Plan:
    """The plan with another cord to the inlet of its first device."""
    device = plan.device
    return plan if device is None else replace(plan, devices=plan.devices | {device.id: replace(device, cord=cord)})


def _charged_at(plan: Plan, circuit: str) -> Plan:
    """The plan with the charger of its source on another circuit."""
    source = plan.source
    if source is None:
        return plan
    return replace(plan, sources=plan.sources | {source.id: replace(source, charge_circuit=circuit)})


def _charge_elsewhere(part: Part) -> Iterator[Move]:
    """The charger on a circuit that is not fed: the nearest in breaker and room is tried."""
    plan, home = part.plan, part.home
    fed = {f.circuit for f in plan.feeds.values()}
    now = part.charge_circuit
    for circuit in sorted(
        home.circuits.values(), key=lambda c: (now is None or c.room != now.room, -c.breaker_a, c.id)
    ):
        if circuit.id not in fed and circuit.poles == 1 and circuit.traced:
            moved = _charged_at(plan, circuit.id)
            yield Move(f"charge:{circuit.id}", "charge", f"charge from {circuit.name}", moved, 0.1)
            return


def _leave_offs(part: Part) -> Iterator[Move]:
    for feed_id, items in _by_feed(part).items():
        if any(i.load.purpose == "life" for i in items):
            continue
        harm = max((_give_up(i) for i in items), default=0.0) + 0.5
        harm += sum(mean_w(i.load) for i in items) * 1e-6
        label = f"leave {feed_name(part.home, part.plan.feeds[feed_id])} off"
        yield Move(f"off:{feed_id}", f"off:{feed_id}", label, _without_feed(part.plan, feed_id), harm)


def _feed_live(part: Part) -> Iterator[Move]:
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
        yield Move("feed_live", "feed_live", label, _with_feed(replace(part.plan, feeds=rest), *more), 0.1)


def _at_its_panel(part: Part) -> Iterator[Move]:
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


def _listed(part: Part, catalogue: Catalogue) -> Iterator[Move]:
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
                (f"the {_named(kit.name)}, listed for it and fitted by an electrician"),
                made,
                0.1,
            )
            return


# What answers a broken limit, in the order in which it is tried.
ANSWERS: dict[MoveKind, Callable[[Part, Catalogue], Iterator[Move]]] = {
    "other_leg": lambda j, _: _other_leg(j),
    "with_partners": lambda j, _: _with_partners(j),
    "protected": _protected,
    "charge_elsewhere": lambda j, _: _charge_elsewhere(j),
    "not_together": lambda j, _: chain(_not_together(j), _unplugs(j, riders_only=False)),
    "right_volts": lambda j, c: chain(_right_volts(j, c), _coupled(j, c)),
    "larger_station": _larger_stations,
    "other_layout": lambda j, _: _other_layouts(j),
    "unlink": lambda j, _: _unlinked(j),
    "more_units": _more_units,
    "larger_switch": _larger_switch,
    "power_strip": lambda j, _: _power_strip(j),
    "indoors": lambda j, _: _indoors(j),
    "feed_live": lambda j, _: _feed_live(j),
    "at_its_panel": lambda j, _: _at_its_panel(j),
    "listed": _listed,
    "by_hand": lambda j, _: _by_hand(j),
}
