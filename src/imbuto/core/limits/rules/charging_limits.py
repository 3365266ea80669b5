"""Limits 9 and 14: the circuit a station charges from, the power the supplier allows, and charging in the cold."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.measures import temp_text, temps_text
from imbuto.core.basics.units import number_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.home.circuits import breaker_amps
from imbuto.core.home.loads import is_continuous, mean_w
from imbuto.core.limits.limit_registry import LimitRow, is_ticked
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import Part


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
        sentence=f"Charging at {number_text(part.charging_w)} W with everything else on {circuit.name}: "
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
    with_ = f", including {largest.name}" if largest else ""
    yield Limit(
        id="contracted",
        family="charging",
        title="Contracted power",
        severity="caution",
        used=used,
        limit=most,
        unit="W",
        ok=used <= most or is_ticked(part, "contracted"),
        tick="" if used <= most else "contracted",
        counts=True,
        sentence=f"Charging at {number_text(charger)} W while the house draws {number_text(beside)} W{with_}: "
        f"{number_text(used)} of the "
        f"{number_text(most)} W contracted"
        + (
            "."
            if used <= most
            else ". The utility's meter would switch off. Charge more slowly, or at night with the rest off."
        ),
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
            sentence=f"At {temp_text(at)} {station.name} doesn't charge, not even from the sun or a generator. It "
            "charges from "
            f"{temps_text(station.charge_min_c, station.charge_max_c)}, and has no heater.",
        )


def _set_beyond(part: Part, station: Station) -> Iterator[Limit]:
    """9: what is set on the charger and it never reaches."""
    everyday = part.plan.everyday
    most = station.charger_w(part.source.modules)
    for ident, watts, when in (
        ("charge_set", part.source.charge_w, ""),
        ("charge_set_everyday", everyday.charge_w if everyday else None, " on ordinary days"),
    ):
        if watts is not None and most and watts > most:
            with_ = f" with {number_text(part.source.modules)} {station.module_name}" if part.source.modules else ""
            yield Limit(
                id=ident,
                family="charging",
                title="A charging setting that isn't reached",
                kind="yes_no",
                severity="caution",
                ok=False,
                counts=True,
                sentence=f"{number_text(watts)} W are set{when}, but {station.name}{with_} takes "
                f"{number_text(most)} W.",
            )


ROWS = (
    LimitRow(
        number=9,
        page="charging",
        families=("charging",),
        check=lambda c: (
            *_charging_circuit(c.part, c.station),
            *_contracted(c.part, c.station),
            *_set_beyond(c.part, c.station),
        ),
    ),
    LimitRow(
        number=14,
        page="temperature",
        families=("charge_cold",),
        check=lambda c: _charge_cold(c.part, c.station, c.outage),
    ),
)
