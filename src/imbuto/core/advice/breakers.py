"""Breakers and fuses every source of a plan wants, and what to have ready before anyone comes. Planning aids: the
maker's book and your local code decide, and an electrician fits what is behind a cover."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from imbuto.core.basics.measures import length_text, mass_text
from imbuto.core.limits.rules.solar_input_limits import CABLE_SHARE, FUSED_FROM, cold_v, record_low_c
from imbuto.core.plan.system import Part, Wiring

STACK_M = 1.0  # a pile taller than this is tied to the wall; planning default
BEND = 8  # a cable is bent no tighter than so many times its own thickness; common practice


@dataclass(frozen=True, slots=True)
class Breaker:
    """One breaker or fuse.

    volts: it must break, 0 where the house's own does
    amps: not to be passed
    direct: whether the current is direct, which an ordinary breaker does not break
    """

    place: str
    volts: float
    amps: float
    direct: bool
    why: str


def guards(part: Part) -> list[Breaker]:
    """Every breaker or fuse between a source and what it feeds."""
    return [*_arrays(part), *_outputs(part)]


def _arrays(part: Part) -> Iterator[Breaker]:
    for array in part.plan.arrays.values():
        panel = part.panels[array.panel]
        volts = cold_v(panel, array.series, record_low_c(part.home.site))
        amps = CABLE_SHARE * array.parallel * panel.isc_a
        yield Breaker(
            f"Disconnect at {array.name}",
            volts,
            amps,
            True,
            "to switch off the cable into the house in daylight. Rated for 1.56 times its short-circuit current",
        )
        if array.parallel >= FUSED_FROM:
            yield Breaker(
                f"A fuse for each string of {array.name}",
                volts,
                CABLE_SHARE * panel.isc_a,
                True,
                "all the other strings feed current into a damaged one",
            )


def _outputs(part: Part) -> Iterator[Breaker]:
    station, equipment = part.station, part.equipment
    volts = station.leg_volts * len(station.legs)
    if station.battery_v and part.source.modules:
        yield Breaker(
            f"Fuse for each {station.module_name}",
            station.battery_v,
            station.continuous_w / station.battery_v,
            True,
            "the manufacturer's own, at its terminals; a short-circuited battery supplies thousands of amps",
        )
    if equipment.traits.wired and equipment.inlet_a:
        amps = min(x for x in (station.inlet_outlet_a or station.leg_a, equipment.inlet_a) if x)
        yield Breaker(
            f"Breaker from {station.name} to the inlet",
            volts,
            amps,
            False,
            "no larger than the cord and the inlet are rated for",
        )
    if station.outlets:
        yield Breaker(
            f"Spare outlet of {station.name}",
            station.leg_volts,
            station.outlet_a,
            False,
            "on its own breaker, for a lamp that shows the outlet is live",
        )
    if part.generator is not None and part.generator.outlet_a:
        yield Breaker(
            f"Outlet of {part.generator.name}",
            volts,
            part.generator.outlet_a,
            False,
            "with its ground-fault device left in place",
        )


def preparations(part: Wiring) -> list[str]:
    """What to measure, buy or clear before the day. Empty for cords without modules."""
    found: list[str] = []
    if isinstance(part, Part):
        station, source = part.station, part.source
        kg = station.weight_kg * source.units + source.modules * station.module_weight_kg
        bears = mass_text(kg) if station.weight_kg else f"{station.name}, weight not listed"
        found.append(
            f"A floor or shelf that holds {bears}, level and dry, with the clearance the "
            "manufacturer asks for on every side."
        )
        if source.modules > 1:
            found.append(
                f"{source.modules} modules stacked no higher than the manufacturer allows, and tied to the wall "
                f"above {length_text(STACK_M)}."
            )
        found.append("Measure doors, turns and stairs for the largest piece. Use two people and a cart.")
    if part.equipment.traits.wired:
        found += [
            "Knock-outs and connectors of the cable's size on both boxes, and bushings where wire passes metal.",
            f"Bends no tighter than {BEND} times the cable's thickness, and room for them behind the panel.",
            "Lugs that match the wire's size and metal, with the crimp tool or screw torque that their "
            "manufacturer lists.",
            "Check by eye and hand that each plug is fully seated. A half-turned twist-lock works loose. A "
            "lighted plug shows that the cord is live.",
        ]
    if part.plan.arrays:
        found.append(
            "Cable rated for sunlight and burial where needed, connectors of one brand, and the tool that opens them."
        )
    return found
