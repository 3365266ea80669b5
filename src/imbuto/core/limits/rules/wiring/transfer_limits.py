"""Limits 7 and 8: the time a switch takes to change over, and passing the grid's power on through a station."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.units import number_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.instants import Instants
from imbuto.core.limits.limit_registry import LimitRow, is_ticked
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.system import Part

RIDE_THROUGH_MS = 20.0  # what most electronics bear without power; planning default


UPS_W = 12.0  # what a small UPS draws; planning default


RECEPTACLE_A = {120: 15.0, 230: 16.0}  # of the circuit behind a receptacle nobody has named; planning default


CONTINUOUS_SHARE = 0.8


def _transfer_time(part: Part, station: Station) -> Iterator[Limit]:
    """7: what must not lose power, even briefly against the time to take over."""
    names = list(dict.fromkeys(i.load.name for i in part.fed if i.load.must_not_blink))
    if not names:
        return
    who = f"{', '.join(names)} must not lose power even briefly"
    ups = f"A small UPS there keeps {'it' if len(names) == 1 else 'each of them'} on and takes about {UPS_W:g} W"
    by_hand = part.equipment.traits.wired and not part.equipment.automatic
    ms = part.equipment.transfer_ms if part.equipment.transfer_ms is not None else station.transfer_ms
    if by_hand or ms is None:
        yield Limit(
            id="transfer",
            family="transfer",
            title="Transfer time",
            kind="yes_no",
            severity="caution",
            ok=is_ticked(part, "ups"),
            tick="ups",
            evidence="default",
            sentence=f"{who}, but switching by hand takes minutes. {ups}."
            if by_hand
            else f"{who}, and the time to take over isn't listed. {ups}. Or test it with a computer without a battery.",
        )
        return
    ok = ms <= RIDE_THROUGH_MS or is_ticked(part, "ups")
    yield Limit(
        id="transfer",
        family="transfer",
        title="Transfer time",
        severity="caution",
        used=ms,
        limit=RIDE_THROUGH_MS,
        unit="ms",
        ok=ok,
        tick="" if ms <= RIDE_THROUGH_MS else "ups",
        evidence="default",
        counts=True,
        sentence=f"{who}. It takes {number_text(ms)} ms to take over, and most electronics stay on for "
        f"{RIDE_THROUGH_MS:g} ms." + ("" if ms <= RIDE_THROUGH_MS else f" {ups}."),
    )


def _bypass(part: Part, station: Station, now: Instants) -> Iterator[Limit]:
    """8: with the grid there, what it passes on and its charger come through its one charging cord."""
    passed_on = part.equipment.traits.passed_on
    if (part.equipment.traits.wired and not passed_on) or not now.fed:
        return
    circuit = part.charge_circuit if passed_on else None
    breaker = circuit.breaker_a if circuit is not None else RECEPTACLE_A[part.home.service.volts]
    volts = float(part.home.service.volts) * (circuit.poles if circuit is not None else 1)
    passed, charger = now.most(now.va), part.charging_w
    used, limit = (passed + charger) / volts, CONTINUOUS_SHARE * breaker
    limit = min(limit, station.input_a or limit)
    settled = used > limit and not passed_on
    yield Limit(
        id="bypass",
        family="bypass",
        title="Passing the grid on",
        severity="broken" if passed_on else "caution",
        used=used,
        limit=limit,
        unit="A",
        ok=used <= limit or (settled and is_ticked(part, "bypass")),
        tick="bypass" if settled else "",
        evidence="fact" if passed_on and station.input_a and circuit is not None else "default",
        counts=True,
        sentence=f"Plugged in all the time, its cord brings {number_text(passed)} VA for the loads and "
        f"{number_text(charger)} W for its charger: {number_text(used)} of {number_text(limit)} A"
        + ("." if used <= limit else _too_much(passed_on)),
    )


def _too_much(passed_on: bool) -> str:
    if passed_on:
        return ". A breaker would open on an ordinary day. Charge more slowly, or leave fewer circuits on the station."
    return ". Charge more slowly, or plug the loads in only in an outage."


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
)
