"""Limit 6: circuits that share a neutral, which breakers protect it, and which legs they must sit on.

Planning aids from common practice; your local code and a licensed electrician decide.
"""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.units import number_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.home.circuits import Circuit, leg_of_slot, neutral_amps
from imbuto.core.limits.instants import Instants
from imbuto.core.limits.limit_registry import LimitCase, LimitRow
from imbuto.core.limits.rules.wiring.protection_limits import fixed_a, not_known
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.plan import Feed, places_of
from imbuto.core.plan.system import Part, legs_of_feed


def neutral_pairs(part: Part) -> list[tuple[Circuit, Circuit]]:
    """Circuits of the home that share a neutral, each pair once, from whichever side it is said."""
    circuits = part.home.circuits
    pairs = {
        tuple(sorted((c.id, c.neutral_partner)))
        for c in circuits.values()
        if c.neutral_partner is not None and c.neutral_partner in circuits
    }
    return [(circuits[a], circuits[b]) for a, b in sorted(pairs)]


def neutral_wire_a(a: Circuit, b: Circuit) -> float:
    """A the neutral of two circuits carries: of the thinner wire, and no more than the smaller breaker where none is
    known."""
    known = [x for x in (fixed_a(a), fixed_a(b)) if x is not None]
    return min(known) if known else min(a.breaker_a, b.breaker_a)


def _opposite_legs(part: Part, station: Station) -> Iterator[Limit]:
    """A 240 V circuit in two places of one leg gets 0 V."""
    if len(station.legs) < 2:
        return
    for feed in part.plan.feeds.values():
        circuit = part.home.circuits.get(feed.circuit or "")
        places = places_of(feed, part.home)
        if circuit is None or len(places) < 2:
            continue
        if part.equipment.in_panel:
            if len(circuit.slots) < 2:
                continue
            what, legs = "slots", [leg_of_slot(s) for s in circuit.slots[:2]]
            where = circuit.slots[:2]
        else:
            what, legs, where = "places", [part.equipment.leg_of_place(p) for p in places], places
        same = legs[0] == legs[1]
        there = f"{what} {where[0]} and {where[1]}"
        yield Limit(
            id=f"opposite:{feed.id}",
            family="opposite",
            title=f"{circuit.name}: two legs",
            kind="yes_no",
            severity="refuse",
            ok=not same,
            sentence=f"{circuit.name} is in {there}, "
            + (
                f"both on leg {legs[0]}: there are 0 V between them, and the circuit needs 240 V. Choose "
                "two switch slots on opposite legs."
                if same
                else "on opposite legs, which supply its 240 V."
            ),
        )


def _neutrals(part: Part, station: Station, now: Instants) -> Iterator[Limit]:
    """Two circuits on one neutral go over together or not at all, and its wire bears what both send into it."""
    feeds = {f.circuit: f for f in part.plan.feeds.values() if f.circuit}
    for a, b in neutral_pairs(part):
        one, other = feeds.get(a.id), feeds.get(b.id)
        if one is None and other is None:
            continue
        if one is None or other is None:
            yield from _one_alone(part, a if one else b, b if one else a)
            continue
        if not part.equipment.in_panel and _turn(one) != _turn(other):
            yield _refused_pair(
                a,
                b,
                f"{a.name} and {b.name} share a neutral and take different turns, so that one is on "
                f"{station.name} while the other is on the grid. Two sources that aren't in step would share one wire, "
                "which can overheat. Give both the same turns, or keep both on.",
            )
        yield from _neutral(part, station, now, (one, a), (other, b))


def _turn(feed: Feed) -> tuple[object, ...]:
    """What decides when a feed is on."""
    if feed.stance == "keep_on":
        return ("keep_on",)
    return (feed.turn_by, feed.above) if feed.by_charge else ("clock", feed.windows, feed.share)


def _one_alone(part: Part, fed: Circuit, left: Circuit) -> Iterator[Limit]:
    """One of a pair on the station. Behind a switch the other stays on the grid; inside the panel it is off with the
    main."""
    if part.equipment.in_panel:
        return
    yield _refused_pair(
        fed,
        left,
        f"{fed.name} switches to the station and {left.name} stays on the grid, but they share a neutral. Two sources "
        "that aren't in step would share one wire, which can overheat. Switch both to backup, or neither.",
    )


def _refused_pair(a: Circuit, b: Circuit, sentence: str) -> Limit:
    return Limit(
        id=f"neutral_pair:{min(a.id, b.id)}",
        family="neutral_pair",
        title=f"{a.name} with {b.name}",
        kind="yes_no",
        severity="refuse",
        ok=False,
        sentence=sentence,
    )


def _neutral(
    part: Part, station: Station, now: Instants, one: tuple[Feed, Circuit], other: tuple[Feed, Circuit]
) -> Iterator[Limit]:
    (feed_a, a), (feed_b, b) = one, other
    title, pair = f"Neutral of {a.name} and {b.name}", f"{a.name} and {b.name} share a neutral"
    untraced = [c.name for c in (a, b) if not c.traced]
    if untraced:
        yield not_known(
            f"neutral_traced:{a.id}",
            title,
            f"{pair}, and {' and '.join(untraced)} isn't traced, so the current in the shared wire isn't known.",
        )
    rows = {c.id: [i for i, f in enumerate(now.fed) if f.circuit is c] for c in (a, b)}
    amps = now.va / station.leg_volts
    legs = legs_of_feed(part, feed_a)[:1], legs_of_feed(part, feed_b)[:1]
    split = len(station.legs) == 2 and legs[0] != legs[1]
    each = [now.most(amps, rows[c.id]) for c in (a, b)]
    used = neutral_amps(*each, split_phase=True) if split else now.most(amps, rows[a.id] + rows[b.id])
    wire = neutral_wire_a(a, b)
    # What opens before the neutral burns: on two legs each circuit's own breaker; on one, only the source's.
    own = part.equipment.place_breaker_a
    breaker = max(min(c.breaker_a, own or c.breaker_a) for c in (a, b)) if split else station.inlet_outlet_a
    if not breaker and used <= wire:
        yield not_known(
            f"neutral:{a.id}",
            title,
            f"{pair} on one leg, and the breaker of {station.name}'s outlet isn't listed, so nothing is "
            "known to protect it.",
        )
        return
    ok = used <= wire and breaker <= wire
    where = "on two legs the larger counts, as the other may be off" if split else "on one leg their currents add"
    said = f"{pair}; {where}: {number_text(used)} A in a wire for {number_text(wire)} A"
    if breaker > wire:
        said += f", behind a {breaker:g} A breaker that doesn't protect it"
    worst = max(used, breaker) if breaker > wire else used
    yield Limit(
        id=f"neutral:{a.id}",
        family="neutral",
        title=title,
        severity="refuse",
        used=worst,
        limit=wire,
        unit="A",
        ok=ok,
        counts=True,
        evidence="fact" if fixed_a(a) and fixed_a(b) else "default",
        sentence=said + ".",
    )
    if fixed_a(a) is None and fixed_a(b) is None and ok:
        yield not_known(
            f"neutral_wire:{a.id}",
            title,
            f"{pair}, and its wire size isn't entered. Imbuto assumes that it carries the {wire:g} A of its "
            "breaker. Enter the size on the circuit.",
        )


def _wired_neutrals(c: LimitCase) -> Iterator[Limit]:
    if c.part.equipment.traits.wired:
        yield from _neutrals(c.part, c.station, c.now)


ROWS = (
    LimitRow(
        number=6,
        page="120-240",
        families=("opposite",),
        state="misfit",
        answers=("other_leg",),
        each_device=True,
        check=lambda c: () if not c.part.equipment.traits.wired else _opposite_legs(c.part, c.station),
    ),
    LimitRow(
        number=6,
        page="120-240",
        families=("neutral",),
        answers=("other_leg", "with_partners", "larger_station"),
        check=_wired_neutrals,
        each_device=True,
    ),
    LimitRow(
        number=6,
        page="120-240",
        families=("neutral_pair",),
        answers=("with_partners",),
        check=None,
    ),
)
