"""Limit 8 for a switch left on its source: when a station may pass the grid on to house circuits all the time.

Planning aids from common practice; your local code, the manufacturer's listing and a licensed electrician decide.
"""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.limit_registry import LimitRow, yes_no
from imbuto.core.limits.rules.wiring.shared_neutral_limits import neutral_pairs
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.system import Part

GROUND_FAULT = ("ground_fault", "both")


def _left_on(part: Part, station: Station) -> Iterator[Limit]:
    """Everything that forbids leaving the circuits on the station; none of it can be settled with a tick."""
    if not part.equipment.traits.passed_on or not part.plan.feeds:
        return
    name, switch = station.name, part.equipment.name
    yield _must(
        "neutral",
        "Switch that is left on the station",
        part.equipment.switched_neutral,
        f"{switch} switches the neutral with each circuit.",
        f"{switch} doesn't switch the neutral. While the station passes the grid on, current would return on two "
        "paths at once and heat a neutral that no breaker watches. Use a switch that switches the neutral, or switch "
        "by hand.",
    )
    yield _must(
        "listed",
        "Passing the grid on all the time",
        bool(station.passes_on.strip()),
        f"The manufacturer allows {name} to pass the grid on all the time: {station.passes_on.strip()}.",
        f"The manufacturer's permission to pass the grid on all the time isn't entered for {name}. Parts that aren't "
        "made for it can overheat. Enter the manual's words under Equipment, or switch by hand.",
    )
    yield from _charging(part, station)
    for a, b in neutral_pairs(part):
        if any(f.circuit in (a.id, b.id) for f in part.plan.feeds.values()):
            yield _must(
                f"shared:{min(a.id, b.id)}",
                "Shared neutral on the station",
                False,
                "",
                f"{a.name} and {b.name} share a neutral. Passed on through one cord, both would return through that "
                "neutral, and it can overheat. Leave them on the grid.",
            )


def _charging(part: Part, station: Station) -> Iterator[Limit]:
    circuit = part.charge_circuit
    if circuit is None:
        yield _must(
            "circuit",
            "Charging circuit that passes the grid on",
            False,
            "",
            f"The circuits get the grid through the charging cord of {station.name}, and its circuit isn't named. "
            "Choose it under Connections.",
        )
        return
    yield _must(
        "receptacle",
        "Receptacle that passes the grid on",
        circuit.protection not in GROUND_FAULT,
        f"{circuit.name} has no ground-fault protection that house circuits would trip.",
        f"{circuit.name} has ground-fault protection. House circuits behind it trip it, and everything on the station "
        "then runs on the battery until it is empty. Charge from a circuit without it.",
    )
    if circuit.poles == 1 and part.home.service.legs == 2:
        both = sorted({f.circuit.name for f in part.fed if f.circuit is not None and f.circuit.poles == 2})
        if both:
            yield _must(
                "volts",
                "240 V through a 120 V cord",
                False,
                "",
                f"{circuit.name} brings 120 V, and {', '.join(both)} needs 240 V. The cord can't pass that on. Leave "
                "it on the grid.",
            )


def _must(ident: str, title: str, ok: bool, fine: str, says: str) -> Limit:
    return yes_no(f"left_on:{ident}", "left_on", title, ok, fine if ok else says)


ROWS = (
    LimitRow(
        number=8,
        page="bypass",
        families=("left_on",),
        answers=("by_hand", "charge_elsewhere"),
        state="refused",
        each_device=True,
        check=lambda c: _left_on(c.part, c.station),
    ),
)
