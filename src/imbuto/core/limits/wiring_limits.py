"""What must hold around the arithmetic of loads: limits 7 to 9 and 11 to 16, and their sentences.

Time to take over, passing the grid on, the receptacle it charges from, cords, auto-off, charging in the cold, the
neutral's bond, weight. What a person has settled is a tick in the plan; nothing here is settled by arithmetic alone.
"""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.measures import mass_text, temp_text, temps_text
from imbuto.core.basics.units import number_text
from imbuto.core.equipment.catalogue import Station
from imbuto.core.equipment.wires import GOOD_DROP, MOST_DROP, START_DROP, Cord, drop_v, wires
from imbuto.core.home.circuits import breaker_amps
from imbuto.core.home.loads import is_continuous, mean_w
from imbuto.core.limits.instants import Instants
from imbuto.core.limits.limit_registry import LimitRow
from imbuto.core.limits.load_limits import on_leg
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import Part

RIDE_THROUGH_MS = 20.0  # what most electronics bear without power; planning default
UPS_W = 12.0  # what a small UPS draws; planning default
RECEPTACLE_A = {120: 15.0, 230: 16.0}  # of the circuit behind a receptacle nobody has named; planning default
CONTINUOUS_SHARE = 0.8
ONE_PERSON_KG = 23.0


def _ticked(part: Part, tick: str) -> bool:
    return tick in part.plan.ticks


def _transfer_time(part: Part, station: Station) -> Iterator[Limit]:
    """7: what must not blink against the time to take over."""
    names = list(dict.fromkeys(i.load.name for i in part.fed if i.load.must_not_blink))
    if not names:
        return
    who = f"{', '.join(names)} must not blink"
    ups = f"a small UPS there holds {'it' if len(names) == 1 else 'each'} and takes about {UPS_W:g} W"
    if part.equipment.traits.wired and not part.equipment.automatic:
        yield Limit(
            id="transfer",
            family="transfer",
            title="Time to take over",
            kind="yes_no",
            severity="caution",
            ok=_ticked(part, "ups"),
            tick="ups",
            evidence="default",
            sentence=f"{who}, and a switch thrown by hand takes minutes; {ups}.",
        )
        return
    ms = part.equipment.transfer_ms if part.equipment.transfer_ms is not None else station.transfer_ms
    if ms is None:
        yield Limit(
            id="transfer",
            family="transfer",
            title="Time to take over",
            kind="yes_no",
            severity="caution",
            ok=_ticked(part, "ups"),
            tick="ups",
            evidence="default",
            sentence=f"{who}, and the time to take over is unlisted; {ups}, or test it with a computer without "
            f"battery.",
        )
        return
    ok = ms <= RIDE_THROUGH_MS or _ticked(part, "ups")
    yield Limit(
        id="transfer",
        family="transfer",
        title="Time to take over",
        severity="caution",
        used=ms,
        limit=RIDE_THROUGH_MS,
        unit="ms",
        ok=ok,
        tick="" if ms <= RIDE_THROUGH_MS else "ups",
        evidence="default",
        counts=True,
        sentence=f"{who}: {number_text(ms)} ms to take over, and most electronics go on for {RIDE_THROUGH_MS:g} ms"
        + ("." if ms <= RIDE_THROUGH_MS else f"; {ups}."),
    )


def _bypass(part: Part, station: Station, now: Instants) -> Iterator[Limit]:
    """8: with the grid there, what it passes on and its charger come through its one charging cord."""
    if part.equipment.traits.wired or not now.fed:
        return
    volts = float(part.home.service.volts)
    passed, charger = now.most(now.va), part.charging_w
    used, limit = (passed + charger) / volts, CONTINUOUS_SHARE * RECEPTACLE_A[part.home.service.volts]
    limit = min(limit, station.input_a or limit)
    yield Limit(
        id="bypass",
        family="bypass",
        title="Passing the grid on",
        severity="caution",
        used=used,
        limit=limit,
        unit="A",
        ok=used <= limit or _ticked(part, "bypass"),
        tick="" if used <= limit else "bypass",
        evidence="default",
        counts=True,
        sentence=f"Plugged in all the time, its cord brings {number_text(passed)} VA for the loads and "
        f"{number_text(charger)} W for its charger: {number_text(used)} of {number_text(limit)} A"
        + ("." if used <= limit else ". Charge more slowly, or plug the loads in only in an outage."),
    )


def _charging_circuit(part: Part, station: Station) -> Iterator[Limit]:
    """9: the charger and what else is on its circuit, by the breaker's own rule."""
    circuit = part.charge_circuit
    if circuit is None:
        return
    european = part.home.service.volts == 230
    volts = part.home.service.volts * circuit.poles if part.home.service.legs == 2 else part.home.service.volts
    held = part.charging_w / volts * breaker_amps(1.0, 0.0, full_rating=european)
    for load in part.home.loads_on(circuit.id):
        factor = breaker_amps(1.0, 0.0, full_rating=european) if is_continuous(load) else 1.0
        held += load.run_va / volts * factor
    yield Limit(
        id="charging",
        family="charging",
        title=f"Charging on {circuit.name}",
        severity="caution",
        used=held,
        limit=circuit.breaker_a,
        unit="A",
        ok=held <= circuit.breaker_a,
        counts=True,
        sentence=f"Charging at {number_text(part.charging_w)} W with all else on {circuit.name}: "
        f"{number_text(held)} of {circuit.breaker_a:g} A"
        + ("." if held <= circuit.breaker_a else ". Charge more slowly, or on a circuit of its own."),
    )


def _contracted(part: Part, station: Station) -> Iterator[Limit]:
    """9: what the supplier allows at once, against charging beside the house: what it uses on average, and its
    largest load."""
    most = part.home.service.contracted_w
    charger = part.charging_w
    if not most or not charger:
        return
    loads = list(part.home.loads.values())
    average = sum(mean_w(x) for x in loads)
    largest = max(loads, key=lambda x: x.count * x.run_w - mean_w(x), default=None)
    beside = average + (max(largest.count * largest.run_w - mean_w(largest), 0.0) if largest else 0.0)
    used = charger + beside
    with_ = f", {largest.name} running among it" if largest else ""
    yield Limit(
        id="contracted",
        family="charging",
        title="Contracted power",
        severity="caution",
        used=used,
        limit=most,
        unit="W",
        ok=used <= most or _ticked(part, "contracted"),
        tick="" if used <= most else "contracted",
        counts=True,
        sentence=f"Charging at {number_text(charger)} W beside {number_text(beside)} W of the house{with_}: "
        f"{number_text(used)} of the "
        f"{number_text(most)} W contracted"
        + ("." if used <= most else "; the meter would switch off. Charge more slowly, or at night with the rest off."),
    )


def _cords(part: Part, station: Station, now: Instants) -> Iterator[Limit]:
    """11: ampacity by size, volts lost running and starting, no coils and no chains."""
    volts = station.leg_volts
    if part.equipment.traits.wired:
        if part.inlet_cord is not None and now.fed:
            amps = max(now.most(now.va / volts * on_leg(now, leg)[:, None]) for leg in station.legs)
            yield from _cord(part.inlet_cord, "inlet", "The inlet's cord", amps, 0.0, volts)
        return
    for i, item in enumerate(now.fed):
        cord = item.feed.cord
        if cord is not None:
            start = item.load.run_va + item.load.start_extra_va
            name = f"The cord to {item.load.name}"
            yield from _cord(
                cord, item.feed.id, name, now.most(now.va, [i]) / item.volts, start / item.volts, item.volts
            )


def _cord(cord: Cord, ident: str, name: str, amps: float, start_a: float, volts: float) -> Iterator[Limit]:
    wire = wires()[cord.wire]
    yield Limit(
        id=f"cord_amps:{ident}",
        family="cord",
        title=name,
        used=amps,
        limit=wire.amps,
        unit="A",
        ok=amps <= wire.amps,
        evidence="default",
        sentence=f"{name}, {wire.name}: {number_text(amps)} of {wire.amps:g} A.",
    )
    lost = drop_v(wire.ohm_per_km, cord.length_m, amps)
    share = lost / volts
    yield Limit(
        id=f"cord_drop:{ident}",
        family="cord",
        title=f"{name}: volts lost",
        used=100 * share,
        limit=100 * MOST_DROP,
        unit="%",
        ok=share <= MOST_DROP,
        evidence="default",
        severity="broken",
        sentence=f"{name} loses {number_text(lost)} V of {volts:g}, {number_text(100 * share)} %"
        + (
            " over its length."
            if share <= GOOD_DROP
            else f"; {100 * GOOD_DROP:g} % is good, {100 * MOST_DROP:g} % the end. Take a thicker or a shorter one."
        ),
    )
    if start_a > amps:
        dip = drop_v(wire.ohm_per_km, cord.length_m, start_a) / volts
        yield Limit(
            id=f"cord_start:{ident}",
            family="cord",
            title=f"{name}: starting",
            used=100 * dip,
            limit=100 * START_DROP,
            unit="%",
            ok=dip <= START_DROP,
            evidence="default",
            severity="caution",
            sentence=f"{name} dips {number_text(100 * dip)} % at a start; over {100 * START_DROP:g} % a motor "
            f"may not start.",
        )
    if cord.coiled or cord.chained:
        what = (
            "left on its reel it overheats; unroll it all"
            if cord.coiled
            else "cords in a row loosen and heat; take one"
        )
        yield Limit(
            id=f"cord_laid:{ident}",
            family="cord_laid",
            title=f"{name}: how it lies",
            kind="yes_no",
            severity="caution",
            ok=False,
            sentence=f"{name}: {what}.",
        )


def _auto_off(part: Part, station: Station) -> Iterator[Limit]:
    """13: an output that switches itself off loses a refrigerator between its cycles."""
    if station.auto_off_below_w > 0:
        yield Limit(
            id="auto_off",
            family="auto_off",
            title="Switching itself off",
            kind="yes_no",
            severity="caution",
            ok=_ticked(part, "auto_off"),
            tick="auto_off",
            sentence=f"{station.name} switches its output off below {station.auto_off_below_w:g} W for "
            f"{station.auto_off_after_h:g} h, between a refrigerator's cycles too: turn that off for backup.",
        )


def _charge_cold(part: Part, station: Station, outage: Outage) -> Iterator[Limit]:
    """14: outside the maker's range nothing charges."""
    if station.heater:
        return
    at = outage.at(part.source)
    if not station.charge_min_c <= at <= station.charge_max_c:
        yield Limit(
            id="charge_cold",
            family="charge_cold",
            title="Charging in the cold or heat",
            kind="yes_no",
            severity="caution",
            ok=False,
            sentence=f"At {temp_text(at)} {station.name} does not charge, from sun or generator either; it does from "
            f"{temps_text(station.charge_min_c, station.charge_max_c)}, and has no heater.",
        )


def _bond(part: Part, station: Station) -> Iterator[Limit]:
    """15: neutral and ground meet once, in one place, whatever feeds the house."""
    if not part.equipment.traits.wired:
        return
    switched = part.equipment.switched_neutral
    settled = _ticked(part, "bond")
    if station.bonded_neutral and not switched:
        rule = (
            f"{station.name} joins neutral and ground, and so does the house, as this switch leaves the neutral "
            "connected: ground-fault devices trip, or current runs on the ground unseen. An electrician resolves it."
        )
    elif not station.bonded_neutral and switched:
        rule = (
            f"{station.name} leaves neutral and ground apart, and this switch cuts the house's joint off: a "
            f"fault would "
            "open no breaker. An electrician resolves it."
        )
    else:
        yield Limit(
            id="bond",
            family="bond",
            title="Neutral and ground",
            kind="yes_no",
            severity="refuse",
            ok=True,
            sentence="Neutral and ground meet once: " + ("in the station." if switched else "in the house."),
        )
        return
    yield Limit(
        id="bond",
        family="bond",
        title="Neutral and ground",
        kind="yes_no",
        severity="refuse",
        ok=settled,
        tick="bond",
        sentence=rule,
    )


def _vehicle(part: Part, station: Station) -> Iterator[Limit]:
    """A car feeds a house only through what both makers list; it keeps what the drive needs."""
    gateway = part.equipment.traits.from_vehicle
    if station.vehicle or gateway:
        both = station.vehicle and gateway
        yield Limit(
            id="vehicle",
            family="vehicle",
            title="A car as source",
            kind="yes_no",
            severity="refuse",
            ok=both,
            sentence=f"{station.name} gives power through {part.equipment.name}, as both makers list."
            if both
            else f"{station.name} on {part.equipment.name}: a car feeds a house only through a two-way charger and "
            "gateway that both makers list for it, and such a gateway takes nothing else.",
        )
    if station.vehicle:
        kept = part.source.drive_wh
        yield Limit(
            id="drive",
            family="vehicle",
            title="The drive to a charger",
            kind="yes_no",
            severity="caution",
            ok=kept > 0,
            evidence="default",
            sentence=f"{number_text(1.3 * kept)} Wh stay in the car: 1.3 times the drive entered, and never "
            f"under a fifth."
            if kept > 0
            else "Enter what the drive to a working charger takes, there and with a detour; a fifth of the charge "
            "is kept in any case.",
        )


def _weight(part: Part, station: Station) -> Iterator[Limit]:
    """16: what one person does not lift."""
    kg = max(station.weight_kg, station.module_weight_kg if part.source.modules else 0)
    if kg > ONE_PERSON_KG and not station.vehicle:
        yield Limit(
            id="weight",
            family="weight",
            title="Weight",
            kind="yes_no",
            severity="caution",
            evidence="default",
            ok=_ticked(part, "weight"),
            tick="weight",
            sentence=f"{mass_text(kg)} in one piece: two people and a cart, and nobody alone on stairs.",
        )


ROWS = (
    LimitRow(
        number=7,
        page="transfer",
        families=("transfer",),
        each_device=True,
        check=lambda c: _transfer_time(c.part, c.station),
    ),
    LimitRow(
        number=8,
        page="bypass",
        families=("bypass",),
        each_device=True,
        check=lambda c: _bypass(c.part, c.station, c.now),
    ),
    LimitRow(
        number=9,
        page="charging",
        families=("charging",),
        check=lambda c: (*_charging_circuit(c.part, c.station), *_contracted(c.part, c.station)),
    ),
    LimitRow(
        number=11,
        page="cords",
        families=("cord", "cord_laid"),
        state="misfit",
        each_device=True,
        check=lambda c: _cords(c.part, c.station, c.now),
    ),
    LimitRow(number=13, page="auto-off", families=("auto_off",), check=lambda c: _auto_off(c.part, c.station)),
    LimitRow(
        number=14,
        page="temperature",
        families=("charge_cold",),
        check=lambda c: _charge_cold(c.part, c.station, c.outage),
    ),
    LimitRow(
        number=15,
        page="bond",
        families=("bond",),
        answers=(),
        each_device=True,
        check=lambda c: _bond(c.part, c.station),
    ),
    LimitRow(number=16, page="weight", families=("weight",), check=lambda c: _weight(c.part, c.station)),
    LimitRow(number=18, page="vehicle", families=("vehicle",), check=lambda c: _vehicle(c.part, c.station)),
)
