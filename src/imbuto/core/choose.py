"""Proposing a set: which circuits ride and where, class by class, with every limit a row.

A mixed-integer program for each class in order: life and health, the house, food, communications, comfort,
convenience. Each is frozen before the next, so that no number of lower ones outweighs a higher. After solving, the
set is simulated; where its hours fall short the energy row is tightened and it is solved again.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from imbuto.core.circuits import Circuit, Leg
from imbuto.core.conditions import in_outage
from imbuto.core.equipment import Catalogue
from imbuto.core.fitting import fit
from imbuto.core.home import Home
from imbuto.core.joining import joined
from imbuto.core.limit import Limit
from imbuto.core.loads import Purpose
from imbuto.core.outage import Outage
from imbuto.core.plan import Feed, Plan
from imbuto.core.program import TURNS_SHARE, Candidates, Pin, barred, candidates, energy_budget, solve
from imbuto.core.run import simulate
from imbuto.core.units import hours_text

MOST_TIGHTENINGS = 6


@dataclass(frozen=True, slots=True)
class LeftOut:
    """A circuit that stays off, and why: the limit that would break first, or the hours."""

    circuit: str
    sentence: str
    limit: Limit | None = None


@dataclass(frozen=True, slots=True)
class Proposal:
    """A proposed set. values: what each class got, in the order of PURPOSES; hours: of its run, None when still on at
    the end; short: it misses the hours asked for however it is chosen; left: every circuit that stays off."""

    plan: Plan
    values: tuple[float, ...]
    hours: float | None
    short: bool
    left: tuple[LeftOut, ...]


def propose(
    home: Home, plan: Plan, outage: Outage, catalogue: Catalogue, *, pins: Mapping[str, Pin] | None = None, hours: float | None = None
) -> Proposal:  # fmt: skip
    """Propose a set for a checked plan with a station and a switch.

    pins: circuits whose stance is settled; hours: to last, None for the outage's goal, 0 for however long it lasts.
    Raises ValueError where there is nothing to choose for.
    """
    used = in_outage(home, plan, outage)
    wanted = outage.goal_hours if hours is None else hours
    found = candidates(used, plan, outage, catalogue, wanted)
    budget = energy_budget(plan, outage, catalogue, wanted)
    chosen: Plan | None = None
    values: tuple[float, ...] = ()
    short = False
    for _ in range(MOST_TIGHTENINGS):
        stances, legs, values = solve(found, pins or {}, budget, outage)
        chosen = assigned(plan, found, stances, legs)
        reached = _hours(used, chosen, outage, catalogue)
        short = wanted > 0 and reached is not None and reached < wanted - 1e-3
        drawn = float(
            sum((found.keep_w if s == "keep_on" else found.turn_w)[i] for i, s in enumerate(stances) if s != "off")
        )
        if not short or drawn <= 0 or reached is None:
            break
        budget = min(budget, drawn) * min(reached / wanted, 0.995)
    assert chosen is not None
    reached = _hours(used, chosen, outage, catalogue)
    off = [(i, c) for i, c in enumerate(found.circuits) if not _feeds(chosen, c)]
    left = tuple(
        LeftOut(c.id, f"{why}.")
        if (why := barred(found, i))
        else _why(used, chosen, c, outage, catalogue, wanted, pins or {})
        for i, c in off
    )
    return Proposal(chosen, values, reached, short, left)


def assigned(plan: Plan, found: Candidates, stances: Sequence[Pin], legs: Sequence[Leg | None]) -> Plan:
    """The plan with its circuits in places: 240 V ones first, two by two, then each on its leg, where it was if it can."""
    equipment, source = found.all_fed.equipment, plan.source
    assert source is not None
    two = found.all_fed.home.service.legs == 2
    free = list(range(1, equipment.places + 1))
    feeds: dict[str, Feed] = {}
    before = {f.circuit: f for f in plan.feeds.values() if f.circuit}

    def put(i: int, place: int) -> None:
        circuit, old = found.circuits[i], before.get(found.circuits[i].id)
        stance: Literal["keep_on", "turns"] = "turns" if stances[i] == "turns" else "keep_on"
        keeps = old is not None and old.stance == stance
        made = old if keeps and old else Feed(id=circuit.id, source=source.id, circuit=circuit.id, share=TURNS_SHARE)
        windows = made.windows if keeps else ()
        feeds[made.id] = replace(made, source=source.id, place=place, stance=stance, windows=windows)

    riding = [i for i, s in enumerate(stances) if s != "off"]
    for i in (i for i in riding if found.circuits[i].poles == 2 and two):
        place = next(
            p for p in free
            if p + 1 in free and (equipment.in_panel or equipment.leg_of_place(p) != equipment.leg_of_place(p + 1) or not found.both[i])
        )  # fmt: skip
        free.remove(place)
        free.remove(place + 1)
        put(i, place)
    singles = [i for i in riding if not (found.circuits[i].poles == 2 and two)]
    for i in sorted(singles, key=lambda i: found.circuits[i].id not in before):
        old = before.get(found.circuits[i].id)
        place = (
            old.place
            if old and old.place in free and _suits(found, legs[i], old.place)
            else next(p for p in free if _suits(found, legs[i], p))
        )
        free.remove(place)
        put(i, place)
    return replace(plan, feeds=dict(sorted(feeds.items(), key=lambda kv: kv[1].place)))


def _suits(found: Candidates, leg: Leg | None, place: int) -> bool:
    """Whether a place is wired to a leg; any is where circuits keep their own legs, or there is but one."""
    equipment, station = found.all_fed.equipment, found.all_fed.station
    if equipment.in_panel or leg is None or station is None or len(station.legs) < 2:
        return True
    return equipment.leg_of_place(place) == leg


def _feeds(plan: Plan, circuit: Circuit) -> bool:
    return any(f.circuit == circuit.id for f in plan.feeds.values())


def _hours(home: Home, plan: Plan, outage: Outage, catalogue: Catalogue) -> float | None:
    made = joined(home, plan, catalogue)
    return simulate(made, outage, hours_only=True).hours if made.fed else None


def _why(
    home: Home, plan: Plan, circuit: Circuit, outage: Outage, catalogue: Catalogue, wanted: float, pins: Mapping[str, Pin]
) -> LeftOut:  # fmt: skip
    """What would give out first if this circuit rode too, in the place where that is mildest."""
    if pins.get(circuit.id) == "off":
        return LeftOut(circuit.id, f"{circuit.name}: pinned off.")
    equipment, source = catalogue.transfer[plan.transfer], plan.source
    assert source is not None
    two = circuit.poles == 2 and home.service.legs == 2
    taken = {p for f in plan.feeds.values() for p in _span(f, home)}
    options = [p for p in range(1, equipment.places + 1) if not {p, p + 1 if two else p} & taken]
    by_leg = {equipment.leg_of_place(p): p for p in reversed(options)}
    if not options:
        return LeftOut(circuit.id, f"{circuit.name}: no place is left; {equipment.name} has {equipment.places}.")
    worst_of: list[tuple[float, Limit]] = []
    for place in by_leg.values():
        feed = Feed(id=circuit.id, source=source.id, circuit=circuit.id, place=place)
        more = joined(home, replace(plan, feeds=plan.feeds | {circuit.id: feed}), catalogue)
        bad = [x for x in fit(more, outage) if not x.ok and x.severity != "caution"]
        if not bad:
            reached = simulate(more, outage, hours_only=True).hours
            return LeftOut(circuit.id, _too_short(circuit, reached, wanted))
        first = max(bad, key=lambda x: x.excess)
        worst_of.append((first.excess, first))
    _, limit = min(worst_of, key=lambda pair: pair[0])
    said = limit.sentence
    if not said.startswith(circuit.name):
        said = f"{circuit.name}: {said[:1].lower()}{said[1:]}"
    return LeftOut(circuit.id, said, limit)


def _too_short(circuit: Circuit, reached: float | None, wanted: float) -> str:
    if reached is not None and reached < wanted:
        return f"{circuit.name}: with it the hours would be {hours_text(reached)}, short of {hours_text(wanted)}."
    return f"{circuit.name}: it would crowd out one of a higher class, or as many of its own."


def _span(feed: Feed, home: Home) -> tuple[int, ...]:
    circuit = home.circuits.get(feed.circuit or "")
    two = circuit is not None and circuit.poles == 2 and home.service.legs == 2
    return (feed.place, feed.place + 1) if two else (feed.place,)


def class_name(purpose: Purpose) -> str:
    """A class in words."""
    return {
        "life": "life and health", "house": "water and frost kept out", "food": "food",
        "communications": "communications and work", "comfort": "comfort", "convenience": "convenience",
    }[purpose]  # fmt: skip
