"""Moves that lengthen the hours without another station: settings, substitutes, the floor, a warmer spot, a
generator."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from imbuto.core.advice.moves.move import Move
from imbuto.core.basics.measures import temp_text, volume_text
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.home.home import Home
from imbuto.core.plan.load_conditions import as_used
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.sources import Engine
from imbuto.core.plan.system import Part
from imbuto.core.run.battery_temperature import capacity_factor

LEAST_W = 3.0  # a setting that spares less is not worth saying
LOW_FLOOR = 0.05
MORE_FUEL_L = 20.0
EARLIER = 0.20  # of the charge, sooner


def energy_moves(part: Part, outage: Outage, catalogue: Catalogue) -> Iterator[Move]:
    """Every such move; each is still to be tried."""
    yield from _settings(part)
    yield from _substitutes(part)
    yield from _floor(part)
    yield from _warmer(part, outage)
    yield from _generator(part, catalogue)


def home_after(part: Part, plan: Plan, outage: Outage) -> Home:
    """The home, as it is used in an outage, once a plan sets a load otherwise."""
    changed = [k for k, v in plan.settings.items() if v and part.plan.settings.get(k) != v]
    if not changed:
        return part.home
    site, loads = part.home.site, part.home.loads
    return replace(part.home, loads=loads | {k: as_used(loads[k], plan, outage, site) for k in changed})


def _settings(part: Part) -> Iterator[Move]:
    for load in {i.load.id: i.load for i in part.fed}.values():
        for setting in load.settings.values():
            if setting.average_w < load.average_w - LEAST_W and part.plan.settings.get(load.id) != setting.id:
                plan = replace(part.plan, settings=part.plan.settings | {load.id: setting.id})
                label = f"{load.name} set to {setting.name}"
                yield Move(f"set:{load.id}:{setting.id}", f"set:{load.id}", label, plan, 0.4)


def _substitutes(part: Part) -> Iterator[Move]:
    for load in {i.load.id: i.load for i in part.fed if not i.rides_along}.values():
        if load.substitute in ("none", "less_power") or load.purpose == "life":
            continue
        plan = replace(part.plan, load_choices=part.plan.load_choices | {load.id: "unplugged"})
        how = load.substitute_note or "left off"
        yield Move(f"instead:{load.id}", f"unplug:{load.id}", f"{how}, instead of {load.name}", plan, 0.8)


def _floor(part: Part) -> Iterator[Move]:
    plan = part.plan
    if plan.floor > LOW_FLOOR and not plan.below_floor and not part.station.vehicle:
        label = f"stop level {100 * LOW_FLOOR:.0f}% instead of {100 * plan.floor:.0f}%"
        yield Move("floor", "floor", label, replace(plan, floor=LOW_FLOOR), 0.6)


def _warmer(part: Part, outage: Outage) -> Iterator[Move]:
    source = part.source
    if source.spot == "indoors" or capacity_factor(outage.indoors_c) <= capacity_factor(outage.at(source)):
        return
    inside = replace(source, spot="indoors")
    plan = replace(part.plan, sources=part.plan.sources | {source.id: inside})
    yield Move("indoors", "spot", f"the station indoors, at {temp_text(outage.indoors_c)}", plan, 0.2)


def _generator(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    """Fuel, hours and an earlier start for one that is there; else the smallest that carries the house."""
    plan, use = part.plan, part.plan.engine
    if use is None:
        there = any(x.kind == "generator" for x in part.home.household.existing.values())
        if plan.ending == "generator" or there:
            yield from _first_generator(part, catalogue)
        return
    made = part.generator
    name = made.name if made else "the generator"
    more = replace(use, stock_l=min(use.stock_l + MORE_FUEL_L, 10_000.0))
    yield Move("fuel", "fuel", f"{volume_text(MORE_FUEL_L)} more fuel for {name}", replace(plan, engine=more), 0.3)
    start = round(min(use.start_at + EARLIER, use.stop_at - 0.1), 2)
    if use.school == "fill" and start > use.start_at:
        label = f"{name} from {100 * start:.0f}% charge"
        yield Move("fuel:start", "fuel:start", label, replace(plan, engine=replace(use, start_at=start)), 0.1)
    if use.windows:
        label = f"{name} at any hour"
        yield Move("fuel:hours", "fuel:hours", label, replace(plan, engine=replace(use, windows=())), 0.5)


def _first_generator(part: Part, catalogue: Catalogue) -> Iterator[Move]:
    source, currency = part.source, part.home.site.currency
    house_230 = part.home.service.volts == 230
    suited = [g for g in catalogue.generators.values() if g.currency == currency and (g.volts == "230") == house_230]
    for made in sorted(suited, key=lambda g: (g.running_w, g.id)):
        use = Engine(generator=made.id, source=source.id)
        label = f"{made.name}, filling the battery, with {volume_text(use.stock_l)}"
        yield Move(f"generator:{made.id}", "generator", label, replace(part.plan, engine=use), 0.7)
