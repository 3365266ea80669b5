"""Proposing a set: which circuits ride and where, class by class, with every limit a row.

A mixed-integer program for each class in order: life and health, the house, food, communications, comfort,
convenience. Each is frozen before the next, so that no number of lower ones outweighs a higher. After solving, the
set is judged as any plan is, by every limit and its run; what does not stand is cut away and it is solved again.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.units import Leg, hours_text
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.home.circuits import Circuit
from imbuto.core.home.home import Home
from imbuto.core.limits.all_limits import fit
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Feed, Plan, places_of
from imbuto.core.plan.system import equipment_in, resolve, resolve_part
from imbuto.core.proposal.candidates import TURNS_SHARE, TURNS_VALUE, Candidates, Pin, candidates, why_barred
from imbuto.core.proposal.set_program import solve
from imbuto.core.run.band import joint
from imbuto.core.run.run import simulate

# Habits alone make nine in ten of the members draw so much beyond the mean: no set that lasts for them draws less.
NINE_IN_TEN_MORE = 1.12

LEAST_H = 0.25  # what lasts less than this is no backup; planning default
Sure = Literal["expected", "nine_in_ten"]


@dataclass(frozen=True, slots=True)
class LeftOutCircuit:
    """A circuit that stays off, and why: what breaks with it in, by how much, or the hours then.

    reached_h: those hours, None where it is not for them that it stays off
    """

    circuit: str
    sentence: str
    limit: Limit | None = None
    reached_h: float | None = None


@dataclass(frozen=True, slots=True)
class Proposal:
    """A proposed set.

    values: what each class got, in the order of PURPOSES
    hours: of its run, None when still on at the end
    low_h: hours that 9 in 10 exceed, likewise
    short: it misses the hours asked for however it is chosen
    left: every circuit that stays off
    """

    plan: Plan
    values: tuple[float, ...]
    hours: float | None
    low_h: float | None
    short: bool
    left: tuple[LeftOutCircuit, ...]


@dataclass(frozen=True, slots=True)
class Surroundings:
    """What else there is than the device that a set is chosen for.

    home: with everything in it, as it is used in the outage
    whole: puts the set of a part into the whole plan
    """

    home: Home
    whole: Callable[[Plan], Plan]


@dataclass(frozen=True, slots=True)
class TriedSet:
    """A set judged.

    bad: the worst limit it breaks, None where all hold
    hours: as they were asked for, expected or what 9 in 10 exceed, infinite when still on, 0 where a limit is broken
    """

    bad: Limit | None
    hours: float


class Judge:
    """What the verdict would say of a set: every limit, and whether it lasts. Remembers what it was asked."""

    def __init__(
        self,
        home: Home,
        outage: Outage,
        catalogue: Catalogue,
        wanted: float,
        sure: Sure,
        around: Surroundings | None = None,
    ) -> None:
        self.home, self.outage, self.catalogue, self.wanted, self.sure = home, outage, catalogue, wanted, sure
        self.around = around
        self._known: dict[tuple[object, ...], TriedSet] = {}
        self._anyway: frozenset[tuple[str, str]] | None = None

    def of(self, plan: Plan) -> TriedSet:
        """A plan's limits and hours."""
        key = tuple((f.circuit, f.place, f.stance, f.windows, f.share, f.turn_by) for f in plan.feeds.values())
        if key not in self._known:
            self._known[key] = self._judged(plan)
        return self._known[key]

    def stands(self, plan: Plan) -> bool:
        """Whether no limit is broken and it lasts as long as is wanted."""
        tried = self.of(plan)
        return tried.bad is None and tried.hours >= self.wanted - 1e-3

    def _judged(self, plan: Plan) -> TriedSet:
        now = resolve_part(self.home, plan, self.catalogue)
        bad = [x for x in fit(now, self.outage) if x.stops] or self._broken_around(plan)
        if bad:
            return TriedSet(max(bad, key=lambda x: (x.severity == "refuse", x.excess)), 0.0)
        if not now.fed or self.wanted <= 0:
            return TriedSet(None, float("inf"))
        run = simulate(now, self.outage, hours_only=True)
        hours = run.hours
        if self.sure == "nine_in_ten" and (hours is None or hours >= self.wanted - 1e-3):
            hours = joint([run]).low_h
        return TriedSet(None, float("inf") if hours is None else hours)

    def _broken_around(self, plan: Plan) -> list[Limit]:
        """What of the whole plan a set breaks that holds without any: another device may hang on the same station."""
        if self.around is None:
            return []
        if self._anyway is None:
            self._anyway = frozenset(key for key, _ in self._stopping(replace(plan, feeds={})))
        return [x for key, x in self._stopping(plan) if key not in self._anyway]

    def _stopping(self, plan: Plan) -> list[tuple[tuple[str, str], Limit]]:
        assert self.around is not None
        home, whole = self.around.home, self.around.whole(plan)
        parts = resolve(home, whole, self.catalogue).parts
        return [((p.source.id, x.id), x) for p in parts for x in fit(p, self.outage) if x.stops]


def propose(
    home: Home,
    plan: Plan,
    outage: Outage,
    catalogue: Catalogue,
    *,
    pins: Mapping[str, Pin] | None = None,
    hours: float | None = None,
    sure: Sure = "nine_in_ten",
    around: Surroundings | None = None,
) -> Proposal:
    """Propose a set for a checked plan with a station and a switch.

    pins: circuits whose stance is settled
    hours: to last, None for the outage's goal, 0 for however long it lasts
    sure: whether the hours are the expected ones or those that 9 in 10 exceed
    around: the plan that this one is a part of, None where it is all of it

    Raises ValueError where there is nothing to choose for.
    """
    pins = pins or {}
    used = in_outage(home, plan, outage)
    wanted = outage.goal_hours if hours is None else hours
    if wanted > 0:
        outage = replace(outage, goal_hours=wanted)
    found = candidates(used, plan, outage, catalogue, wanted)
    judge = Judge(used, outage, catalogue, wanted, sure, around)

    def stands(stances: Sequence[Pin], legs: Sequence[Leg | None]) -> bool:
        try:
            return judge.stands(assign_places(plan, found, stances, legs))
        except StopIteration:  # no places are wired so
            return False

    def fits(stances: Sequence[Pin], legs: Sequence[Leg | None]) -> bool:
        try:
            return judge.of(assign_places(plan, found, stances, legs)).bad is None
        except StopIteration:
            return False

    more = NINE_IN_TEN_MORE if sure == "nine_in_ten" else 1.0
    stances, legs, values, lasts = solve(found, pins, outage, wanted, stands, fits, more=more)
    chosen = assign_places(plan, found, stances, legs)
    left: tuple[LeftOutCircuit, ...] = ()
    while True:
        off = [(i, c) for i, c in enumerate(found.circuits) if not _feeds(chosen, c) and used.loads_on(c.id)]
        off.sort(key=lambda pair: tuple(-found.value[pair[0]]))
        tried = {c.id: _tried(used, chosen, c, catalogue, judge, found, i, pins) for i, c in off}
        grown = next((t for t in tried.values() if isinstance(t, Plan)), None) if lasts else None
        if grown is None:
            left = tuple(t for c in found.circuits if isinstance(t := tried.get(c.id), LeftOutCircuit))
            break
        chosen = grown  # it stands with this one in as well
        values = tuple(float(v) for v in _values(found, chosen))
    longest = max((x.reached_h for x in left if x.reached_h is not None), default=0.0)
    if not chosen.feeds and longest > LEAST_H and wanted > longest:
        # Not even one circuit lasts so long. Nothing is no proposal: what lasts as long as any can is one.
        most = propose(home, plan, outage, catalogue, pins=pins, hours=longest * 0.999, sure=sure, around=around)
        return replace(most, short=True)
    now = resolve_part(used, chosen, catalogue)
    run = simulate(now, outage, hours_only=True) if now.fed else None
    return Proposal(
        chosen, values, run.hours if run else None, joint([run]).low_h if run else None, wanted > 0 and not lasts, left
    )


def _values(found: Candidates, plan: Plan) -> FloatArray:
    stance = {f.circuit: f.stance for f in plan.feeds.values()}
    worth = np.array([{"keep_on": 1.0, "turns": TURNS_VALUE}.get(stance.get(c.id, ""), 0.0) for c in found.circuits])
    total: FloatArray = worth @ found.value
    return total


def assign_places(plan: Plan, found: Candidates, stances: Sequence[Pin], legs: Sequence[Leg | None]) -> Plan:
    """The plan with its circuits in places: 240 V ones first, two by two, then each on its leg, where it was if it
    can."""
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
            p
            for p in free
            if p + 1 in free
            and (equipment.in_panel or equipment.leg_of_place(p) != equipment.leg_of_place(p + 1) or not found.both[i])
        )
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
    if equipment.in_panel or leg is None or len(station.legs) < 2:
        return True
    return equipment.leg_of_place(place) == leg


def _tried(
    home: Home,
    plan: Plan,
    circuit: Circuit,
    catalogue: Catalogue,
    judge: Judge,
    found: Candidates,
    i: int,
    pins: Mapping[str, Pin],
) -> Plan | LeftOutCircuit:
    """The set with this circuit in too, where that stands; else what it would break, and by how much."""
    if pins.get(circuit.id) == "off":
        return LeftOutCircuit(circuit.id, f"{circuit.name}: pinned off.")
    if why := why_barred(found, i):
        return LeftOutCircuit(circuit.id, f"{why}.")
    partners = [found.circuits[b if a == i else a] for a, b, _ in found.pairs if i in (a, b)]
    more = [c for c in (circuit, *partners) if not _feeds(plan, c)]
    if any(pins.get(c.id) == "off" for c in more):
        return LeftOutCircuit(
            circuit.id, f"{circuit.name}: it shares its neutral with {partners[0].name}, which is pinned off."
        )
    stance: Literal["keep_on", "turns"] = "turns" if pins.get(circuit.id) == "turns" else "keep_on"
    tries: list[TriedSet] = []
    will_do = all(found.turns[found.circuits.index(c)] for c in more) and not pins.get(circuit.id)
    ways: list[Literal["keep_on", "turns"]] = [stance, "turns"] if will_do and stance == "keep_on" else [stance]
    for tried in ways:
        for made in _with(home, plan, more, catalogue, tried):
            if judge.stands(made):
                return made
            tries.append(judge.of(made))
    name = f"{circuit.name} with {partners[0].name}, which shares its neutral" if len(more) > 1 else circuit.name
    if not tries:
        equipment = equipment_in(plan, catalogue)
        return LeftOutCircuit(circuit.id, f"{name}: no slot is free; {equipment.name} has {equipment.places}.")
    lasting = [t for t in tries if t.bad is None]
    if lasting:
        reached = max(t.hours for t in lasting)
        sure = ", 9 times in 10," if judge.sure == "nine_in_ten" else ""
        return LeftOutCircuit(
            circuit.id,
            f"{name}: with it the hours would be {hours_text(reached)}{sure} short of {hours_text(judge.wanted)}.",
            reached_h=reached,
        )
    limit = min((t.bad for t in tries if t.bad), key=lambda x: x.excess)
    said = limit.sentence
    if not said.startswith(circuit.name):
        said = f"{name}: with it, {said[:1].lower()}{said[1:]}" if said[1:2].islower() else f"{name}: with it, {said}"
    return LeftOutCircuit(circuit.id, said, limit)


def _with(
    home: Home, plan: Plan, more: Sequence[Circuit], catalogue: Catalogue, stance: Literal["keep_on", "turns"]
) -> list[Plan]:
    """The plan with these circuits in as well, in each way their places can differ by leg; none where no place is
    left."""
    equipment, source = equipment_in(plan, catalogue), plan.source
    assert source is not None
    plans = [plan]
    for circuit in more:
        two = circuit.poles == 2 and home.service.legs == 2
        grown = []
        for before in plans:
            taken = {p for f in before.feeds.values() for p in places_of(f, home)}
            options = [p for p in range(1, equipment.places + 1) if not {p, p + 1 if two else p} & taken]
            options = [p for p in options if not two or p < equipment.places]
            by_leg = {(equipment.leg_of_place(p), two and equipment.leg_of_place(p + 1)): p for p in reversed(options)}
            for place in sorted(by_leg.values()):
                feed = Feed(
                    id=circuit.id, source=source.id, circuit=circuit.id, place=place, stance=stance, share=TURNS_SHARE
                )
                grown.append(replace(before, feeds=before.feeds | {circuit.id: feed}))
        plans = grown
    return plans


def _feeds(plan: Plan, circuit: Circuit) -> bool:
    return any(f.circuit == circuit.id for f in plan.feeds.values())
