"""What a plan must not say: things that point at nothing, and things said twice or in a circle."""

from __future__ import annotations

from imbuto.core.basics.errors import InvalidValue, UnknownReference
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.equipment.wires import wires
from imbuto.core.home.home import Home
from imbuto.core.home.loads import must_stay_on
from imbuto.core.plan.entered.cost_entries import check_costs
from imbuto.core.plan.entered.paperwork import check_paperwork
from imbuto.core.plan.everyday_policy import Everyday, check_everyday
from imbuto.core.plan.plan import CORDS, Feed, Plan, places_of
from imbuto.core.plan.sources import Source

SlotOfDevice = tuple[str | None, int]


def check_plan(plan: Plan, home: Home, catalogue: Catalogue, *, part: bool = False) -> None:
    """Raise InvalidValue or UnknownReference where a plan points at nothing or says two things at once.

    part: it is what belongs to one source of a plan that was checked, and what it says of the others is passed over.
    """
    where = plan.name
    for key, source in plan.sources.items():
        _check_source(f"{where}, source", key, source, home, catalogue)
    _check_devices(where, plan, home, catalogue)
    _check_banks(where, plan, catalogue)
    _check_arrays(where, plan, catalogue)
    _check_feeds(where, plan, home)
    if not part:
        _check_behind(where, plan, catalogue)
        _check_order(where, plan)
    _check_engine(where, plan, catalogue, part=part)
    check_costs(plan.costs, plan.credits)
    check_paperwork(where, plan.tasks, plan.permissions, plan.stages, plan.built)
    if plan.everyday is not None:
        check_everyday(plan.everyday, plan.floor)
        _check_schedules(where, plan.everyday, home)
    for cord in (*(d.cord for d in plan.devices.values()), *(f.cord for f in plan.feeds.values())):
        if cord is not None and cord.wire not in wires():
            raise UnknownReference(f"{where}, cord", cord.wire, f"the table of wires has {', '.join(wires())}")
    for ident, setting in plan.settings.items():
        if ident not in home.loads or (setting and setting not in home.loads[ident].settings):
            raise UnknownReference(f"{where}, setting of {ident}", setting, "this load doesn't have that setting")
    for choice in [*plan.load_choices, *(m for group in plan.not_together for m in group)]:
        if choice not in home.loads:
            raise UnknownReference(f"{where}, load", choice, "this home doesn't have that load")
    for key, use in plan.other_uses.items():
        _same(f"{where}, other uses", key, use.id)
    for load in plan.own_numbers.night.loads if plan.own_numbers else ():
        if load not in home.loads:
            raise UnknownReference(f"{where}, night list", load, "this home doesn't have that load")
    for circuit in plan.opened:
        if circuit not in home.circuits:
            raise UnknownReference(f"{where}, breaker to open", circuit, "this home doesn't have that circuit")


def _check_schedules(where: str, everyday: Everyday, home: Home) -> None:
    """No circuit that life, health or the house depends on is off by a schedule."""
    for key, schedule in everyday.circuits.items():
        _same(f"{where}, off at set hours", key, schedule.id)
        if key not in home.circuits:
            raise UnknownReference(f"{where}, off at set hours", key, "this home doesn't have that circuit")
        kept = next((x for x in home.loads.values() if x.circuit == key and must_stay_on(x)), None)
        if kept is not None:
            rule = f"{kept.name} must stay on; take the circuit off the schedule first"
            raise InvalidValue(f"{where}, off at set hours", home.circuits[key].name, rule)


def _same(where: str, key: str, ident: str) -> None:
    if key != ident:
        raise InvalidValue(f"{where}/{key}/id", ident, f"its key is “{key}”, and the two must be the same")


def _check_source(where: str, key: str, source: Source, home: Home, catalogue: Catalogue) -> None:
    _same(where, key, source.id)
    station = catalogue.stations.get(source.station)
    if station is None:
        raise UnknownReference(f"{where}, station", source.station, "the equipment list doesn't have that entry")
    most = station.max_modules * source.units
    if source.modules > most:
        raise InvalidValue(f"{where}, modules", source.modules, f"{station.name} takes at most {most}")
    if source.module is not None and source.module not in catalogue.modules:
        raise UnknownReference(f"{where}, kind of module", source.module, "the equipment list doesn't have that entry")
    if source.charge_circuit is not None and source.charge_circuit not in home.circuits:
        raise UnknownReference(
            f"{where}, charging circuit", source.charge_circuit, "this home doesn't have that circuit"
        )


def _check_devices(where: str, plan: Plan, home: Home, catalogue: Catalogue) -> None:
    """Each is in the catalogue, at a panel that is there, fed by a source of the plan."""
    for key, device in plan.devices.items():
        _same(f"{where}, devices", key, device.id)
        if device.equipment not in catalogue.transfer:
            raise UnknownReference(
                f"{where}, transfer equipment", device.equipment, "the equipment list doesn't have that entry"
            )
        name = catalogue.transfer[device.equipment].name
        if device.equipment == CORDS:
            raise InvalidValue(f"{where}, {key}", name, "remove the device; a plan with cords has none")
        if device.left_on and not catalogue.transfer[device.equipment].traits.levers:
            rule = "only a switch with a lever for each circuit can stay on the station"
            raise InvalidValue(f"{where}, {name}, left on", "yes", rule)
        if device.panel is not None and device.panel not in home.panels:
            raise UnknownReference(f"{where}, {name}, panel", device.panel, "this home doesn't have that panel")
        if plan.sources and device.source not in plan.sources:
            raise UnknownReference(f"{where}, {name}, source", device.source, "this plan doesn't have that source")


def _check_behind(where: str, plan: Plan, catalogue: Catalogue) -> None:
    """A device hangs behind another one in no circle, and has a source of its own."""
    for key, device in plan.devices.items():
        name = catalogue.transfer[device.equipment].name
        seen, behind = {key}, device.behind
        while behind is not None:
            if behind not in plan.devices:
                raise UnknownReference(f"{where}, {name}, behind", behind, "this plan doesn't have that device")
            if behind in seen:
                raise InvalidValue(f"{where}, {name}, behind", behind, "that station is plugged in behind this one")
            if plan.devices[behind].source == device.source:
                rule = "the same source powers that one; a device behind another needs its own source"
                raise InvalidValue(f"{where}, {name}, behind", behind, rule)
            seen.add(behind)
            behind = plan.devices[behind].behind


def _check_banks(where: str, plan: Plan, catalogue: Catalogue) -> None:
    for key, bank in plan.banks.items():
        _same(f"{where}, banks", key, bank.id)
        for branch in bank.branches:
            if branch.battery not in catalogue.batteries:
                raise UnknownReference(
                    f"{where}, {bank.name}, battery", branch.battery, "the equipment list doesn't have that entry"
                )
        if plan.sources and bank.to not in plan.sources:
            raise UnknownReference(f"{where}, {bank.name}, powers", bank.to, "this plan doesn't have that source")
        if key in plan.sources:
            raise InvalidValue(f"{where}, {bank.name}", key, "a station has that id already")


def _check_arrays(where: str, plan: Plan, catalogue: Catalogue) -> None:
    """One thing on each solar input: an array, a bank, or an array by day and a bank by night."""
    inputs: dict[tuple[str, int], str] = {}
    for key, array in plan.arrays.items():
        _same(f"{where}, arrays", key, array.id)
        if array.panel not in catalogue.panels:
            raise UnknownReference(
                f"{where}, {array.name}, panel", array.panel, "the equipment list doesn't have that entry"
            )
        if plan.sources and array.source not in plan.sources and array.source not in plan.banks:
            raise UnknownReference(f"{where}, {array.name}, source", array.source, "this plan doesn't have that source")
        there = array if array.ac else plan.arrays[inputs.setdefault((array.source, array.input), key)]
        if there.id != key:
            rule = f"{there.name} is on this input already; panels of another kind or direction need their own input"
            raise InvalidValue(f"{where}, {array.name}, solar input", array.input, rule)
        if array.set_out is not None and array.set_out.from_h >= array.set_out.to_h:
            rule = "enter an earlier hour than that at which it comes in"
            raise InvalidValue(f"{where}, {array.name}, set out at", array.set_out.from_h, rule)
        if array.cord is not None and array.cord.wire not in wires():
            raise UnknownReference(f"{where}, {array.name}, cable", array.cord.wire, f"choose {', '.join(wires())}")
    given: dict[tuple[str, int], str] = {}
    for bank in plan.banks.values():
        at = (bank.to, bank.input)
        if at in given:
            raise InvalidValue(f"{where}, {bank.name}, solar input", bank.input, f"{given[at]} is on it already")
        given[at] = bank.name
        if at in inputs and bank.by == "always":
            rule = (
                f"{plan.arrays[inputs[at]].name} is on this input; let someone change the plug, the bank by night, "
                "or choose another input"
            )
            raise InvalidValue(f"{where}, {bank.name}, solar input", bank.input, rule)


def _check_feeds(where: str, plan: Plan, home: Home) -> None:
    fed: dict[tuple[str, str], str] = {}
    places: dict[SlotOfDevice, str] = {}
    for key, feed in plan.feeds.items():
        _same(f"{where}, feeds", key, feed.id)
        if plan.sources and feed.source not in plan.sources:
            raise UnknownReference(f"{where}, feed {key}, source", feed.source, "this plan doesn't have that source")
        target = _target(where, feed, home)
        if target in fed:
            raise InvalidValue(f"{where}, feeds", target[1], "this load has two sources; connect it to one")
        fed[target] = key
        if feed.port == "dc" and feed.load is None:
            raise InvalidValue(
                f"{where}, feed {key}, port", feed.port, "a circuit runs on AC; a DC port powers one load"
            )
        _check_device(where, feed, plan)
        _check_place(where, feed, home, plan, places)
    for kind, ident in fed:
        by = plan.feeds.get(fed.get(("circuit", home.loads[ident].circuit or ""), "")) if kind == "load" else None
        if by is not None and by.source == plan.feeds[fed[kind, ident]].source:
            raise InvalidValue(
                f"{where}, feeds", home.loads[ident].name, "its circuit is powered already; power one of the two"
            )


def _target(where: str, feed: Feed, home: Home) -> tuple[str, str]:
    if (feed.circuit is None) == (feed.load is None):
        raise InvalidValue(f"{where}, feed {feed.id}", feed.circuit, "connect either one circuit or one load")
    if feed.circuit is not None:
        if feed.circuit not in home.circuits:
            raise UnknownReference(
                f"{where}, feed {feed.id}, circuit", feed.circuit, "this home doesn't have that circuit"
            )
        return "circuit", feed.circuit
    assert feed.load is not None
    if feed.load not in home.loads:
        raise UnknownReference(f"{where}, feed {feed.id}, load", feed.load, "this home doesn't have that load")
    return "load", feed.load


def _check_device(where: str, feed: Feed, plan: Plan) -> None:
    """A circuit is at a device of its own source; where there are several sources, cords feed loads only."""
    device = plan.device_of(feed)
    if feed.device is not None and feed.load is None:
        if device is None:
            raise UnknownReference(
                f"{where}, feed {feed.id}, device", feed.device, "this plan doesn't have that device"
            )
        if plan.sources and device.source != feed.source:
            rule = f"{device.source} powers that device; give both the same source"
            raise InvalidValue(f"{where}, feed {feed.id}, source", feed.source, rule)
    if feed.circuit is not None and device is None and len(plan.sources) > 1:
        rule = "that station has no transfer equipment; connect single loads to it by cord"
        raise InvalidValue(f"{where}, feed {feed.id}, source", feed.source, rule)


def _check_place(where: str, feed: Feed, home: Home, plan: Plan, places: dict[SlotOfDevice, str]) -> None:
    """One circuit a place. Cords may share an outlet through a strip."""
    if feed.circuit is None:
        return
    device = plan.device_of(feed)
    for place in places_of(feed, home):
        at = (device.id if device else None, place)
        if at in places:
            raise InvalidValue(f"{where}, place", place, f"{home.circuits[places[at]].name} is in that slot already")
        places[at] = feed.circuit


def _check_order(where: str, plan: Plan) -> None:
    """A station hangs behind one that feeds it, or waits at the inlet of one; neither in a chain of more than two."""
    for source in plan.sources.values():
        if source.plugged_into is not None:
            feed = plan.feeds.get(source.plugged_into)
            if feed is None or feed.source == source.id or plan.sources[feed.source].plugged_into is not None:
                rule = "choose a station that isn't plugged in behind another one, and a load that it powers"
                raise InvalidValue(f"{where}, {source.id}, plugged into", source.plugged_into, rule)
        if source.after is not None:
            first = plan.sources.get(source.after)
            if first is None or first.id == source.id or first.after is not None:
                rule = "choose a station that doesn't wait for another one"
                raise InvalidValue(f"{where}, {source.id}, after", source.after, rule)
            own = [f for f in plan.feeds.values() if f.source == source.id]
            if own or source.plugged_into or any(d.source == source.id for d in plan.devices.values()):
                rule = "a station that waits at an inlet can't power anything else"
                raise InvalidValue(f"{where}, {source.id}, after", source.after, rule)


def _check_engine(where: str, plan: Plan, catalogue: Catalogue, *, part: bool) -> None:
    engine = plan.engine
    if engine is None:
        return
    if engine.generator not in catalogue.generators:
        raise UnknownReference(f"{where}, generator", engine.generator, "the equipment list doesn't have that entry")
    for source in (engine.source, *engine.also):
        if plan.sources and source not in plan.sources and not part:
            raise UnknownReference(f"{where}, generator, source", source, "this plan doesn't have that source")
    if len({engine.source, *engine.also}) < 1 + len(engine.also):
        raise InvalidValue(f"{where}, generator, charges", ", ".join(engine.also), "name each source once")
    if engine.start_at >= engine.stop_at:
        rule = f"it stops at {100 * engine.stop_at:.0f}%, so choose a start level below that"
        raise InvalidValue(f"{where}, generator, starts at", f"{100 * engine.start_at:.0f}%", rule)
