"""What must hold of a generator in a plan, and what its fuel does."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from imbuto.core.basics.measures import least_text
from imbuto.core.basics.units import number_text
from imbuto.core.equipment.fuel import at_height
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.limits.instants import Instants
from imbuto.core.limits.limit_registry import LimitRow
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.stop_level import stop_level
from imbuto.core.plan.system import Part

FAR_M = 6  # an engine stands at least so far from doors and windows; the usual caution


def engine_limits(part: Part, now: Instants) -> Iterator[Limit]:
    """It carries what runs together, and a start on top; cautions of exhaust and neutral."""
    made, use = part.generator, part.plan.engine
    if made is None or use is None:
        return
    house = 230 if part.home.service.volts == 230 else 120
    if (made.volts == "230") != (house == 230):
        yield Limit(
            id="engine_volts",
            family="engine",
            title="Generator, voltage",
            kind="yes_no",
            severity="refuse",
            ok=False,
            sentence=f"{made.name} supplies {made.volts} V and the house runs on {house} V.",
        )
    yield from _power(part, made, now)
    settled = part.plan.ticks
    yield Limit(
        id="engine_place",
        family="engine",
        title="Generator location",
        kind="yes_no",
        severity="caution",
        ok="engine_place" in settled,
        tick="engine_place",
        sentence=f"Exhaust kills indoors. Run {made.name} outdoors only, dry, at least {least_text(FAR_M)} from "
        "doors and windows, "
        "with its exhaust away from the house, and never in a garage or shed. Test a carbon-monoxide alarm indoors. "
        "Refuel only when the engine is cold.",
    )
    yield from _bond(part, made)
    stop = stop_level(part)
    if made.start == "by_itself" and use.school == "fill" and use.start_at <= stop:
        yield Limit(
            id="engine_calls",
            family="engine",
            title="Called too late",
            kind="yes_no",
            severity="caution",
            ok=False,
            counts=True,
            sentence=f"{part.station.name} calls {made.name} at {100 * use.start_at:.0f}%, but shuts off at "
            f"{100 * stop:.0f}%, and then it can't call anything: someone has to start {made.name} by hand. Choose a "
            "higher start level.",
        )
    if not use.charges or (not part.station.charges_while_supplying):
        yield Limit(
            id="engine_charges",
            family="engine",
            title="The generator doesn't charge the station",
            kind="yes_no",
            severity="caution",
            ok="engine_charges" in settled,
            tick="engine_charges",
            sentence="While the generator powers the house, nothing is stored: the station passes the power on and "
            "doesn't charge. That fuel only pays for the hours the generator runs.",
        )


def _bond(part: Part, made: Generator) -> Iterator[Limit]:
    """A generator's neutral is judged as a station's: neutral and ground meet once."""
    switched = part.equipment.switched_neutral
    if not part.equipment.traits.wired or made.bonded_neutral == switched:
        return
    rule = (
        f"{made.name} bonds neutral to its frame. The house bonds it to ground too, because this switch doesn't switch "
        "the neutral. Its ground-fault device may trip, or current may flow on the ground wire unnoticed. Have an "
        "electrician resolve it, and never disconnect a ground."
        if made.bonded_neutral
        else f"{made.name} doesn't bond neutral and ground, and this switch disconnects the house's bond. A fault "
        "would "
        "then open no breaker. Have an electrician resolve it."
    )
    yield Limit(
        id="engine_bond",
        family="bond",
        title="Generator, neutral and ground",
        kind="yes_no",
        severity="refuse",
        ok="engine_bond" in part.plan.ticks,
        tick="engine_bond",
        sentence=rule,
    )


def _power(part: Part, made: Generator, now: Instants) -> Iterator[Limit]:
    running = at_height(made.running_w, part.home.site.elevation_m)
    surge = max(at_height(made.surge_w, part.home.site.elevation_m), running)
    together = now.most(now.w + now.high_w)
    yield Limit(
        id="engine_w",
        family="engine",
        title="Generator load",
        used=together,
        limit=running,
        unit="W",
        ok=together <= running,
        evidence="default",
        sentence=f"While {made.name} runs it powers the house past the inverter: {number_text(together)} of "
        f"{number_text(running)} W can run together.",
    )
    va, carries = now.most(now.va), at_height(made.rated_va or made.running_w, part.home.site.elevation_m)
    yield Limit(
        id="engine_va",
        family="engine",
        title="Generator load, VA",
        used=va,
        limit=carries,
        unit="VA",
        ok=va <= carries,
        evidence="fact" if made.rated_va else "default",
        sentence=f"{made.name} is limited by VA, too: {number_text(va)} of {number_text(carries)} VA may run together.",
    )
    yield from _input(part, made, now)
    start, who = now.hardest_start(np.ones(len(now.fed)))
    yield Limit(
        id="engine_start",
        family="engine",
        title="Generator, hardest start",
        used=start,
        limit=surge,
        unit="VA",
        ok=start <= surge,
        severity="caution",
        evidence="default",
        sentence=f"{who.name if who else 'Nothing'} starting with everything else on asks {made.name} for "
        f"{number_text(start)} of {number_text(surge)} VA. Start it before the generator takes over, or with less "
        "running.",
    )


def _input(part: Part, made: Generator, now: Instants) -> Iterator[Limit]:
    """The station's AC input: the house passes through it, and it charges with what is left."""
    station = part.station
    if not station.input_a:
        return
    volts = station.leg_volts * (2 if made.volts == "120/240" and len(station.legs) == 2 else 1)
    used = now.most(now.va) / volts
    yield Limit(
        id="engine_input",
        family="engine",
        title="Generator through the station's input",
        used=used,
        limit=station.input_a,
        unit="A",
        ok=used <= station.input_a,
        sentence=f"While {made.name} runs, the house passes through {station.name}'s input: {number_text(used)} of "
        f"{number_text(station.input_a)} A; what is left of it charges.",
    )


ROWS = (LimitRow(number=17, page="generator", families=("engine",), check=lambda c: engine_limits(c.part, c.now)),)
