"""Limits of places, power, legs and starts, and of the cold; and their sentences."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.measures import temp_text, temps_text
from imbuto.core.basics.units import Leg, number_text
from imbuto.core.equipment.catalogue import Station
from imbuto.core.home.circuits import breaker_amps
from imbuto.core.home.loads import Load, TriedStart, is_continuous
from imbuto.core.limits.instants import Instants
from imbuto.core.limits.limit_registry import LimitCase, LimitRow, yes_no
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import places_of
from imbuto.core.plan.system import Part

LOW_CHARGE = 0.20  # below this charge, and below 0 °C, a surge counts 0.7; planning default
WEAK_SURGE = 0.7


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
            sentence=f"{station.name} gives {station.leg_volts:g} V and the house runs on {service.volts} V.",
        )
    both = [item.load.name for item in part.fed if part.home.needs_both_legs(item.load)]
    if both:
        wired = all(part.equipment_of(i.feed).traits.wired for i in part.fed if part.home.needs_both_legs(i.load))
        ok = len(station.legs) == 2 and wired
        need = f"{', '.join(both)} {'needs' if len(both) == 1 else 'need'} 240 V"
        why = f"{station.name} gives {station.volts} V" if len(station.legs) < 2 else "single cords give 120 V"
        yield Limit(
            id="carry_240",
            family="carry_240",
            title="240 V loads",
            kind="yes_no",
            severity="refuse",
            ok=ok,
            source=source,
            sentence=f"{need}; {station.name} carries it." if ok else f"{need}; {why}.",
        )


def _places(part: Part) -> Iterator[Limit]:
    used, count = part.places_used(), part.place_count
    cords = not part.equipment.traits.wired
    what = "outlets" if cords else "places"
    if cords and "outlets" in part.assumed and used:
        text = f"The number of outlets of {part.station.name} isn't listed. This plan needs {len(used)}; count them."
        yield yes_no("outlets_unlisted", "places", "Outlets", False, text, "unknown")
        yield from _no_cord_to_a_circuit(part)
        return
    needed = len(used)  # a number on a place is no count: outlet 4 of 3 with three loads still takes three
    yield Limit(
        id="places",
        family="places",
        title="Outlets" if cords else "Places",
        used=needed,
        limit=count,
        ok=needed <= count,
        unit=what,
        counts=True,
        sentence=f"{needed} of {count} {what} used."
        if needed <= count
        else f"It needs {needed} {what}; there are {count}.",
    )
    if cords:
        yield from _no_cord_to_a_circuit(part)
        return
    for feed in part.plan.feeds.values():
        if needed <= count and any(p > count for p in places_of(feed, part.home)):
            name = part.target_names[feed.id]
            yield yes_no(
                f"place_number:{feed.place}",
                "places",
                f"Place of {name}",
                False,
                f"{name} is on place {feed.place}, but {part.equipment.name} has {count} places. "
                "Move it to a free place.",
                "broken",
            )
        circuit = part.home.circuits.get(feed.circuit or "")
        if circuit is not None and circuit.breaker_a > part.equipment.place_a:
            yield Limit(
                id=f"place_rating:{feed.place}",
                family="place_rating",
                title=f"Place {feed.place} rating",
                unit="A",
                used=circuit.breaker_a,
                limit=part.equipment.place_a,
                ok=False,
                counts=True,
                sentence=f"{circuit.name} has a {circuit.breaker_a:g} A breaker; place {feed.place} is rated "
                f"{part.equipment.place_a:g} A.",
            )


def _no_cord_to_a_circuit(part: Part) -> Iterator[Limit]:
    """Refused: what is fed from a cord is one appliance, never the wiring behind a receptacle."""
    names = [part.home.circuits[f.circuit].name for f in part.plan.feeds.values() if f.circuit]
    if names:
        yield Limit(
            id="cord_to_circuit",
            family="cord_to_circuit",
            title="A cord into the wiring",
            kind="yes_no",
            severity="refuse",
            ok=False,
            sentence=f"{', '.join(names)}: no cord feeds a circuit. A cord with two plugs is live at its open "
            "end and reaches the street; it can kill. A listed switch or interlock does this.",
        )


def amps_held(now: Instants, *, full_rating: bool) -> FloatArray:
    """A of each load as its breaker counts it: continuous ones 1.25 times; shape (n, q)."""
    factor = [breaker_amps(1.0, 0.0, full_rating=full_rating) if is_continuous(f.load) else 1.0 for f in now.fed]
    volts = np.array([f.volts for f in now.fed])
    held: FloatArray = now.va / volts[:, None] * np.array(factor)[:, None]
    return held


def _place_amps(part: Part, now: Instants) -> Iterator[Limit]:
    """Each place's breaker against what hangs on it; with cords, each outlet."""
    if not now.fed:
        return
    european = part.home.service.volts == 230
    amps = amps_held(now, full_rating=european)
    cords = not part.equipment.traits.wired
    by_place: dict[int, list[int]] = {}
    for i, item in enumerate(now.fed):
        by_place.setdefault(item.feed.place, []).append(i)
    for place, rows in sorted(by_place.items()):
        used = now.most(amps, rows)
        first = now.fed[rows[0]]
        rating = part.station.outlet_a if cords else part.equipment.place_a
        if first.circuit is not None:
            rating = min(rating, first.circuit.breaker_a, part.equipment.place_breaker_a or rating)
        if european and cords and any(is_continuous(now.fed[i].load) for i in rows):
            rating = min(rating, 10.0)  # household sockets beyond two hours
        name = first.circuit.name if first.circuit else ", ".join(now.fed[i].load.name for i in rows)
        word = "Outlet" if cords else "Place"
        yield Limit(
            id=f"place:{place}",
            family="place",
            title=f"{word} {place}: {name}",
            used=used,
            limit=rating,
            unit="A",
            ok=used <= rating,
            sentence=f"{word} {place}, {name}: {number_text(used)} of {number_text(rating)} A"
            f"{'' if european else ', lasting loads counted 1.25 times'}.",
        )


def derating(celsius: float, elevation_m: float) -> float:
    """Share of continuous output left: -2 %/°C above 40 °C and -1 % per 100 m above 1,000 m. Planning default."""
    heat = max(1 - 0.02 * max(celsius - 40, 0), 0.0)
    return heat * max(1 - 0.01 * max(elevation_m - 1000, 0) / 100, 0.0)


def _together(part: Part, station: Station, now: Instants, outage: Outage) -> Iterator[Limit]:
    source = part.source
    derated = derating(outage.at(source), part.home.site.elevation_m)
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
        sentence=f"Running together: {number_text(watts)} of {number_text(station.continuous_w * derated)} W.",
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


def _starts(part: Part, station: Station, now: Instants, outage: Outage) -> Iterator[Limit]:
    cold = outage.at(part.source) < 0
    weak = WEAK_SURGE if cold else 1.0
    surge, leg_surge = station.surge_va, station.leg_surge_va
    if not station.surge_counts:
        surge, leg_surge = station.rated_va, min(leg_surge, station.leg_a * station.leg_volts)
    total, who = now.hardest_start(np.ones(len(now.fed)))
    found = [_start(part, outage, "start:total", "Hardest start", total, surge * weak, who, total)]
    worst, worst_limit, worst_who = total, surge, who
    if len(station.legs) > 1:
        for leg in station.legs:
            used, starter = now.hardest_start(on_leg(now, leg))
            title = f"Hardest start, leg {leg}"
            found.append(_start(part, outage, f"start:{leg}", title, used, leg_surge * weak, starter, total, leg))
            if used * worst_limit > worst * leg_surge:
                worst, worst_limit, worst_who = used, leg_surge, starter
    yield from found
    held = _held(part, outage, worst_who, total)
    low = worst_limit * WEAK_SURGE
    if held is not None and held.charge > part.plan.floor and worst > low:
        yield Limit(
            id="start:low",
            family="start_low",
            title="Starting when nearly empty",
            severity="caution",
            used=worst,
            limit=low,
            unit="VA",
            ok=False,
            sentence=f"{worst_who.name if worst_who else 'It'} was seen to start at {100 * held.charge:.0f} % "
            f"charge; below that "
            "nobody has tried.",
        )
    elif part.plan.floor < LOW_CHARGE and not cold:
        yield Limit(
            id="start:low",
            family="start_low",
            title="Starting when nearly empty",
            severity="caution",
            used=worst,
            limit=low,
            unit="VA",
            ok=worst <= low,
            evidence="default",
            sentence=f"Below 20 % charge a station starts less: count on {number_text(low)} VA, and "
            f"{worst_who.name if worst_who else 'a start'} asks for {number_text(worst)} VA with the rest running.",
        )
    everything = now.all_starting_va()
    # Thrown by hand, or by equipment that sheds, circuits come back one at a time.
    hand = not part.equipment.automatic or part.equipment.sheds
    yield Limit(
        id="all_at_once",
        family="all_at_once",
        title="All starting at once",
        used=everything,
        limit=surge * weak,
        unit="VA",
        ok=everything <= surge * weak,
        severity="caution" if hand else "broken",
        sentence=f"After a dark spell everything may call at once: {number_text(everything)} VA of "
        f"{number_text(surge * weak)}."
        + ("" if everything <= surge * weak else f" One at a time: {' → '.join(staggered(now))}."),
    )


def _held(part: Part, outage: Outage, load: Load | None, total: float) -> TriedStart | None:
    """A start of this load that held on this station with as much else running and cells as cold; the lowest charge
    first.

    total: of all legs, since nobody notes on which one the rest ran.
    """
    source = part.source
    if load is None or source is None:
        return None
    others = total - load.run_va - load.start_extra_va
    fits = [
        t
        for t in load.tried
        if t.station == source.station and t.others_va >= others - 0.5 and t.cell_c <= outage.at(source)
    ]
    return min(fits, key=lambda t: t.charge, default=None)


def staggered(now: Instants) -> list[str]:
    """The order to switch on in: the largest starts first, while little else runs."""
    order = sorted(now.fed, key=lambda f: -f.load.start_extra_va)
    return list(dict.fromkeys(f.circuit.name if f.circuit else f.load.name for f in order if f.load.start_extra_va > 0))


def _start(
    part: Part,
    outage: Outage,
    ident: str,
    title: str,
    used: float,
    limit: float,
    who: Load | None,
    total: float,
    leg: Leg | None = None,
) -> Limit:
    """One start on all the rest. What only a default breaks says so; what was seen to hold, holds."""
    held = _held(part, outage, who, total) if used > limit else None
    starter = f"{who.name} starting on all the rest" if who else "Nothing starts"
    said = f"{title}: {number_text(used)} of {number_text(limit)} VA, {starter}."
    if held is not None:
        said += f" It was tried on {held.on:%Y-%m-%d} and held."
    return Limit(
        id=ident,
        family="start",
        title=title,
        used=used,
        limit=limit,
        unit="VA",
        ok=used <= limit or held is not None,
        leg=leg,
        load=who.id if who else "",
        sentence=said,
    )


def _temperature(part: Part, station: Station, outage: Outage) -> Iterator[Limit]:
    at = outage.at(part.source)
    ok = station.discharge_min_c <= at <= station.discharge_max_c
    spot = "in the garage" if part.source.spot == "garage" else "indoors"
    yield Limit(
        id="temperature",
        family="temperature",
        title="Cold and heat",
        kind="yes_no",
        ok=ok,
        source=part.source.id,
        sentence=f"{spot.capitalize()} it is {temp_text(at)}; {station.name} gives power from "
        f"{temps_text(station.discharge_min_c, station.discharge_max_c)}.",
    )


ROWS = (
    LimitRow(
        number=1,
        page="places",
        families=("places",),
        state="misfit",
        answers=("larger_switch",),
        each_device=True,
        check=lambda c: _places(c.part),
    ),
    LimitRow(
        number=1,
        page="places",
        families=("place_rating", "cord_to_circuit"),
        state="misfit",
        answers=("listed",),
        check=None,
    ),
    LimitRow(
        number=1,
        page="places",
        families=("place",),
        answers=("not_together",),
        each_device=True,
        check=lambda c: _place_amps(c.part, c.now),
    ),
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
        number=4,
        page="start",
        families=("start", "start_low"),
        answers=("other_leg", "not_together", "larger_station", "more_units", "indoors"),
        check=lambda c: _starts(c.part, c.station, c.now, c.outage),
    ),
    LimitRow(
        number=5,
        page="all-at-once",
        families=("all_at_once",),
        answers=("not_together", "larger_station"),
        check=None,
    ),
    LimitRow(
        number=6,
        page="120-240",
        families=("volts", "carry_240"),
        state="carry_240",
        answers=("right_volts",),
        check=lambda c: _volts(c.part, c.station),
    ),
    LimitRow(
        number=14,
        page="temperature",
        families=("temperature",),
        state="too_cold",
        answers=("indoors",),
        check=lambda c: _temperature(c.part, c.station, c.outage),
    ),
)
