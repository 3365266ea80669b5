"""Limits 2, 3 and 6: the power of everything at once, of each leg, and the volts a load needs."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.units import Leg, number_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.instants import Instants
from imbuto.core.limits.limit_registry import LimitCase, LimitRow
from imbuto.core.limits.rules.switch_slot_limits import amps_held
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import Part


def _volts(part: Part, station: Station) -> Iterator[Limit]:
    service = part.home.service
    source = part.source.id
    if station.leg_volts != service.volts:
        yield Limit(
            id="volts",
            family="volts",
            title="Voltage",
            kind="yes_no",
            severity="refuse",
            ok=False,
            source=source,
            sentence=f"{station.name} supplies {station.leg_volts:g} V and the house runs on {service.volts} V.",
        )
    both = [item.load.name for item in part.fed if part.home.needs_both_legs(item.load)]
    if both:
        wired = all(part.equipment_of(i.feed).traits.wired for i in part.fed if part.home.needs_both_legs(i.load))
        ok = len(station.legs) == 2 and wired
        need = f"{', '.join(both)} {'needs' if len(both) == 1 else 'need'} 240 V"
        why = f"{station.name} supplies {station.volts} V" if len(station.legs) < 2 else "single cords supply 120 V"
        yield Limit(
            id="carry_240",
            family="carry_240",
            title="240 V loads",
            kind="yes_no",
            severity="refuse",
            ok=ok,
            source=source,
            sentence=f"{need}; {station.name} supplies it." if ok else f"{need}; {why}.",
        )


def derating_factor(celsius: float, elevation_m: float) -> float:
    """Share of continuous output left: -2%/°C above 40 °C and -1% per 100 m above 1,000 m. Planning default."""
    heat = max(1 - 0.02 * max(celsius - 40, 0), 0.0)
    return heat * max(1 - 0.01 * max(elevation_m - 1000, 0) / 100, 0.0)


def _together(part: Part, station: Station, now: Instants, outage: Outage) -> Iterator[Limit]:
    source = part.source
    derated = derating_factor(outage.at(source), part.home.site.elevation_m)
    watts, va = now.most(now.w + now.high_w), now.most(now.va)
    yield Limit(
        id="together_w",
        family="together",
        title="Running together",
        used=watts,
        limit=station.continuous_w * derated,
        unit="W",
        ok=watts <= station.continuous_w * derated,
        source=source.id,
        sentence=f"Running together: {number_text(watts)} of {number_text(station.continuous_w * derated)} "
        f"W{_built(part)}.",
    )
    yield Limit(
        id="together_va",
        family="together",
        title="Running together, VA",
        used=va,
        limit=station.rated_va * derated,
        unit="VA",
        ok=va <= station.rated_va * derated,
        source=source.id,
        sentence=f"Running together: {number_text(va)} of {number_text(station.rated_va * derated)} VA, "
        "which is what an inverter is limited by.",
    )


def _built(part: Part) -> str:
    """Which part limits a station built from parts, to follow its watts."""
    weakest = part.unit.weakest_part
    if not weakest:
        return ""
    at = f"at {part.unit.built_low_v:g} V"
    return f", all that its {weakest} {'let' if weakest == 'batteries' else 'lets'} through {at}"


def on_leg(now: Instants, leg: Leg) -> FloatArray:
    """Share of each load that is on a leg; shape (n,). A 240 V load has half its VA, and all its amps, on both."""
    return np.array([1 / len(f.legs) if leg in f.legs else 0.0 for f in now.fed])


def _legs(c: LimitCase) -> Iterator[Limit]:
    """Each leg against every link from the inverter to the place; the weakest link speaks."""
    part, station, now = c.part, c.station, c.now
    amps = now.va / station.leg_volts
    for leg in station.legs:
        share = on_leg(now, leg)[:, None]
        plain = now.most(amps * share)
        links = [(f"{station.name}'s inverter", plain, station.leg_a)]
        for port in c.ports:
            if port.part.equipment.traits.wired:
                links += _links(port, leg, len(c.ports) > 1)
        name, used, limit = max(links, key=lambda link: link[1] / link[2] if link[2] else float("inf"))
        title = f"Leg {leg}" if len(station.legs) > 1 else "Output current"
        yield Limit(
            id=f"leg:{leg}",
            family="leg",
            title=title,
            used=used,
            limit=limit,
            unit="A",
            ok=used <= limit,
            leg=leg,
            source=part.source.id,
            sentence=f"{title}: {number_text(used)} of {number_text(limit)} A. The weakest link is {name}.",
        )


def _links(c: LimitCase, leg: Leg, several: bool) -> list[tuple[str, float, float]]:
    """From the station to one device, on a leg: what each link is called, its A, and what it bears."""
    station, now, equipment = c.station, c.now, c.part.equipment
    share = on_leg(now, leg)[:, None]
    held = amps_held(now, full_rating=station.leg_volts == 230) * np.array([len(f.legs) for f in now.fed])[:, None]
    links = []
    if station.inlet_outlet_a:
        breaker = now.most(held * share)
        links.append((f"{station.name}'s {station.inlet_outlet_a:g} A outlet", breaker, station.inlet_outlet_a))
    what = f"the inlet of {equipment.name}, and its cord" if several else "the inlet and its cord"
    return [*links, (what, now.most(now.va / station.leg_volts * share), equipment.inlet_a)]


ROWS = (
    LimitRow(
        number=2,
        page="together",
        families=("together",),
        answers=("not_together", "larger_station", "more_units"),
        check=lambda c: _together(c.part, c.station, c.now, c.outage),
    ),
    LimitRow(
        number=3,
        page="legs",
        families=("leg",),
        answers=("other_leg", "not_together", "larger_station", "more_units"),
        check=_legs,
    ),
    LimitRow(
        number=6,
        page="120-240",
        families=("volts", "carry_240"),
        state="carry_240",
        answers=("right_volts",),
        check=lambda c: _volts(c.part, c.station),
    ),
)
