"""Limit 1: outlets and switch slots, how many there are and the amps each may carry."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.units import number_text
from imbuto.core.home.circuits import breaker_amps
from imbuto.core.home.loads import is_continuous
from imbuto.core.limits.instants import Instants
from imbuto.core.limits.limit_registry import LimitRow, yes_no
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.plan import places_of
from imbuto.core.plan.system import Part


def _slots(part: Part) -> Iterator[Limit]:
    used, count = part.places_used(), part.place_count
    cords = not part.equipment.traits.wired
    what = "outlets" if cords else "slots"
    if cords and "outlets" in part.assumed and used:
        text = f"The number of outlets of {part.station.name} isn't listed. This plan needs {len(used)}; count them."
        yield yes_no("outlets_unlisted", "places", "Outlets", False, text, "unknown")
        yield from _no_cord_to_a_circuit(part)
        return
    needed = len(used)  # a number on a place is no count: outlet 4 of 3 with three loads still takes three
    yield Limit(
        id="places",
        family="places",
        title="Outlets" if cords else "Switch slots",
        used=needed,
        limit=count,
        ok=needed <= count,
        unit=what,
        counts=True,
        sentence=f"{needed} of {count} {what} used."
        if needed <= count
        else f"This needs {needed} {what}; there are {count}.",
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
                f"Switch slot of {name}",
                False,
                f"{name} is in slot {feed.place}, but {part.equipment.name} has {count} slots. Move it to a free slot.",
                "broken",
            )
        circuit = part.home.circuits.get(feed.circuit or "")
        if circuit is not None and circuit.breaker_a > part.equipment.place_a:
            yield Limit(
                id=f"place_rating:{feed.place}",
                family="place_rating",
                title=f"Slot {feed.place} rating",
                unit="A",
                used=circuit.breaker_a,
                limit=part.equipment.place_a,
                ok=False,
                counts=True,
                sentence=f"{circuit.name} has a {circuit.breaker_a:g} A breaker; slot {feed.place} is rated "
                f"{part.equipment.place_a:g} A.",
            )


def _no_cord_to_a_circuit(part: Part) -> Iterator[Limit]:
    """Refused: what is fed from a cord is one appliance, never the wiring behind a receptacle."""
    names = [part.home.circuits[f.circuit].name for f in part.plan.feeds.values() if f.circuit]
    if names:
        yield Limit(
            id="cord_to_circuit",
            family="cord_to_circuit",
            title="Cord into house wiring",
            kind="yes_no",
            severity="refuse",
            ok=False,
            sentence=f"{', '.join(names)}: never power a circuit through a cord. A cord with two plugs is live at "
            "its open end and powers the lines outside, which can kill. Use a listed switch or interlock.",
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
        word = "Outlet" if cords else "Slot"
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


ROWS = (
    LimitRow(
        number=1,
        page="places",
        families=("places",),
        state="misfit",
        answers=("power_strip", "larger_switch"),
        each_device=True,
        check=lambda c: _slots(c.part),
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
)
