"""The program that chooses: circuits, stances and legs as binaries, every limit as rows, class after class."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from imbuto.core.circuits import Circuit, Leg, panel_leg
from imbuto.core.clock import FloatArray, grid
from imbuto.core.equipment import Catalogue
from imbuto.core.home import Home
from imbuto.core.joining import Joined, fed_watts, joined
from imbuto.core.limits import WEAK_SURGE, Instants, amps_held, derating, instants
from imbuto.core.loads import PURPOSES
from imbuto.core.outage import Outage
from imbuto.core.plan import Feed, Plan
from imbuto.core.run import store_of

Riding = Callable[[FloatArray], FloatArray]  # a row over what rides, from a figure a circuit
OnLeg = Callable[[int, FloatArray], FloatArray]  # the same over what is on one leg
Pin = Literal["keep_on", "turns", "off"]
TURNS_SHARE = 0.5  # of the time, for what takes turns; planning default
TURNS_VALUE = 0.5  # what a turn is worth against keeping on; planning default
EPS = 1e-6


@dataclass(frozen=True, slots=True)
class Candidates:
    """The circuits that could ride, and what each asks for; c circuits, m instants that matter.

    both: 240 V; fixed: the leg it cannot leave, None where the place decides; turns: whether turns will do; keep_w,
    turn_w: mean W over the hours asked for; value: of each class, (c, 6); now: the instants of all of them fed.
    """

    circuits: tuple[Circuit, ...]
    both: tuple[bool, ...]
    fixed: tuple[Leg | None, ...]
    turns: tuple[bool, ...]
    keep_w: FloatArray
    turn_w: FloatArray
    value: FloatArray
    now: Instants
    all_fed: Joined


def candidates(home: Home, plan: Plan, outage: Outage, catalogue: Catalogue, hours: float) -> Candidates:
    """What could ride. home: as it is used in the outage."""
    equipment, source = catalogue.transfer[plan.transfer], plan.source
    if source is None or equipment.kind == "cords":
        raise ValueError("a set is proposed for a station behind a switch")
    station = catalogue.stations[source.station]
    circuits = tuple(c for c in home.circuits.values() if home.loads_on(c.id))
    feeds = {c.id: Feed(id=c.id, source=source.id, circuit=c.id, place=2 * i + 1) for i, c in enumerate(circuits)}
    everything = joined(home, replace(plan, feeds=feeds), catalogue)
    both = tuple(c.poles == 2 and home.service.legs == 2 for c in circuits)
    fixed = tuple(panel_leg(c) if equipment.in_panel else None for c in circuits)
    steps = grid(outage.start, home.site.time_zone, max(hours, 1.0))
    keep, turn = np.zeros(len(circuits)), np.zeros(len(circuits))
    value = np.zeros((len(circuits), len(PURPOSES)))
    index = {c.id: i for i, c in enumerate(circuits)}
    for item in everything.fed:
        i = index[item.feed.id]
        keep[i] += float(fed_watts(item.load, "keep_on", (), 1.0, steps).mean())
        turn[i] += float(fed_watts(item.load, "turns", (), TURNS_SHARE, steps).mean())
        value[i, PURPOSES.index(item.load.purpose)] += item.load.weight
    turns = tuple(any(f.load.turns_ok for f in everything.fed if f.feed.id == c.id) for c in circuits)
    now = instants(everything)
    if len(station.legs) == 1:
        both = tuple(False for _ in both)
    return Candidates(circuits, both, fixed, turns, keep, turn, value, now, everything)


def energy_budget(plan: Plan, outage: Outage, catalogue: Catalogue, hours: float) -> float:
    """Mean W of loads that the station bears for so many hours, without sun; infinite for hours of 0."""
    source = plan.source
    if hours <= 0 or source is None:
        return float("inf")
    store = store_of(plan, source, catalogue.stations[source.station], outage)
    return max((store.usable_wh(outage.start_charge) / hours - store.idle_w) * store.efficiency, 0.0)


@dataclass(slots=True)
class _Rows:
    """Rows of the program: coefficients, and what they may reach."""

    n: int
    rows: list[FloatArray]
    upper: list[float]
    lower: list[float]

    def add(self, row: FloatArray, upper: float, lower: float = -np.inf) -> None:
        if np.isfinite(upper) or np.isfinite(lower):
            self.rows.append(row)
            self.upper.append(upper)
            self.lower.append(lower)


def solve(
    found: Candidates, pins: Mapping[str, Pin], budget: float, outage: Outage
) -> tuple[list[Pin], list[Leg | None], tuple[float, ...]]:
    """Solve class by class: the stance and leg of each circuit, and what each class got."""
    from scipy.optimize import Bounds, LinearConstraint, milp  # slow to load, and only wanted here

    c = len(found.circuits)
    legs = found.all_fed.station.legs if found.all_fed.station else ("A",)
    n = 2 * c + c * len(legs) + 1  # keep, turns, each leg, and the heavier leg's amps
    rows = _limits_rows(found, budget, outage, n)
    upper = np.ones(n)
    upper[-1] = 1e6
    lower = np.zeros(n)
    _bounds(found, pins, lower, upper, c)
    integral = np.ones(n)
    integral[-1] = 0

    def best(cost: FloatArray) -> Any:
        constraint = LinearConstraint(np.array(rows.rows), np.array(rows.lower), np.array(rows.upper))
        answer = milp(
            cost, constraints=constraint, bounds=Bounds(lower, upper), integrality=integral, options={"mip_rel_gap": 0}
        )
        return answer.x

    values: list[float] = []
    x = None
    for k in range(len(PURPOSES)):
        cost = np.zeros(n)
        cost[:c], cost[c : 2 * c] = -found.value[:, k], -TURNS_VALUE * found.value[:, k]
        x = best(cost)
        if x is None:
            raise ValueError("no set fits, not even with everything off that is not pinned")
        got = float(-(cost @ np.round(x * integral))) + 0.0  # never written as -0
        values.append(got)
        rows.add(-cost, np.inf, got - EPS)
    if len(legs) > 1:
        cost = np.zeros(n)
        cost[-1] = 1.0
        balanced = best(cost)
        x = balanced if balanced is not None else x
    assert x is not None
    return _read(x, c, legs, found), _legs_of(x, c, legs), tuple(values)


def _bounds(found: Candidates, pins: Mapping[str, Pin], lower: FloatArray, upper: FloatArray, c: int) -> None:
    """Pins, turns that will not do, and circuits that cannot be carried at all."""
    station = found.all_fed.station
    assert station is not None
    for i, circuit in enumerate(found.circuits):
        pin = pins.get(circuit.id)
        cannot = barred(found, i) != ""
        if cannot or pin == "off":
            upper[i] = upper[c + i] = 0
        elif pin == "keep_on":
            lower[i], upper[c + i] = 1, 0
        elif pin == "turns":
            lower[c + i], upper[i] = 1, 0
        elif not found.turns[i]:
            upper[c + i] = 0
        for k, leg in enumerate(station.legs):
            if found.fixed[i] is not None and not found.both[i] and found.fixed[i] != leg and len(station.legs) > 1:
                upper[2 * c + k * c + i] = 0


def barred(found: Candidates, i: int) -> str:
    """Why a circuit cannot ride whatever else does; empty where it may."""
    circuit, now = found.circuits[i], found.all_fed
    station, equipment = now.station, now.equipment
    assert station is not None
    rows = [k for k, f in enumerate(found.now.fed) if f.feed.id == circuit.id]
    if any(now.home.needs_both_legs(found.now.fed[k].load) for k in rows) and len(station.legs) < 2:
        return f"{circuit.name} needs 240 V, and {station.name} gives {station.volts} V"
    if found.both[i] and not equipment.in_panel and "AB" not in equipment.place_legs:
        return f"{circuit.name} takes two places on opposite legs, and this switch has none side by side"
    if circuit.breaker_a > equipment.place_a:
        return f"{circuit.name} has a {circuit.breaker_a:g} A breaker, and a place is rated {equipment.place_a:g} A"
    if rows:
        held = found.now.most(amps_held(found.now, full_rating=now.home.service.volts == 230), rows)
        rating = min(equipment.place_a, circuit.breaker_a)
        if held > rating:
            return f"{circuit.name} by itself asks for {held:.1f} of {rating:g} A, lasting loads counted 1.25 times"
    return ""


def _read(x: FloatArray, c: int, legs: Sequence[Leg], found: Candidates) -> list[Pin]:
    return ["keep_on" if x[i] > 0.5 else "turns" if x[c + i] > 0.5 else "off" for i in range(c)]


def _legs_of(x: FloatArray, c: int, legs: Sequence[Leg]) -> list[Leg | None]:
    return [next((leg for k, leg in enumerate(legs) if x[2 * c + k * c + i] > 0.5), None) for i in range(c)]


def _limits_rows(found: Candidates, budget: float, outage: Outage, n: int) -> _Rows:
    """Every limit as rows over keep, turns and legs."""
    now, c = found.now, len(found.circuits)
    station, equipment = found.all_fed.station, found.all_fed.equipment
    assert station is not None
    rows = _Rows(n, [], [], [])
    owner = _owner(found)

    def on(values: FloatArray) -> FloatArray:
        return np.concatenate([values, values, np.zeros(n - 2 * c)])

    legs = station.legs

    def on_leg(k: int, values: FloatArray) -> FloatArray:
        row = np.zeros(n)
        row[2 * c + k * c : 2 * c + (k + 1) * c] = values
        return row

    for i in range(c):  # one stance; on one leg, or for 240 V on both
        row = np.zeros(n)
        row[i] = row[c + i] = 1
        rows.add(row, 1)
        for k in range(len(legs)):
            if found.both[i] or len(legs) == 1:
                link = row.copy()
                link[2 * c + k * c + i] = -1
                rows.add(link, 0, 0)
        if not found.both[i] and len(legs) > 1:
            link = row.copy()
            for k in range(len(legs)):
                link[2 * c + k * c + i] = -1
            rows.add(link, 0, 0)
    _place_rows(found, rows, on, on_leg)
    _load_rows(found, rows, outage, on, on_leg)
    weak = _weak(found, outage)
    surge = (station.surge_va if station.surge_counts else station.rated_va) * weak
    if equipment.automatic and not equipment.sheds:
        rows.add(on(owner @ (now.va.max(axis=1) + now.extra_va.max(axis=1))), surge)
    row = np.zeros(n)
    row[:c], row[c : 2 * c] = found.keep_w, found.turn_w
    rows.add(row, budget)
    _neutral_rows(found, rows, on, on_leg)
    return rows


def _owner(found: Candidates) -> FloatArray:
    """Which loads hang on which circuit; (c, n), 0 or 1."""
    owner: FloatArray = np.array([[float(f.feed.id == x.id) for f in found.now.fed] for x in found.circuits])
    return owner


def _weak(found: Candidates, outage: Outage) -> float:
    source = found.all_fed.source
    return WEAK_SURGE if source is not None and outage.at(source) < 0 else 1.0


def _load_rows(found: Candidates, rows: _Rows, outage: Outage, on: Riding, on_leg: OnLeg) -> None:
    """Together, legs with their links, and the hardest start, in total and on each leg, at every instant that matters."""
    now, c = found.now, len(found.circuits)
    station, equipment = found.all_fed.station, found.all_fed.equipment
    assert station is not None
    legs = station.legs
    part = derating(
        outage.at(found.all_fed.source) if found.all_fed.source else 20, found.all_fed.home.site.elevation_m
    )
    owner, weak = _owner(found), _weak(found, outage)
    surge, leg_surge = station.surge_va * weak, station.leg_surge_va * weak
    if not station.surge_counts:
        surge, leg_surge = station.rated_va * weak, min(station.leg_surge_va, station.leg_a * station.leg_volts) * weak
    held = (
        amps_held(now, full_rating=station.leg_volts == 230)
        * np.array([f.volts for f in now.fed])[:, None]
        / station.leg_volts
    )
    half = np.array([0.5 if b else 1.0 for b in found.both]) if len(legs) > 1 else np.ones(c)
    for alone in now.alone:
        counted = owner * alone[None, :]
        for column in worst(counted @ now.w):
            rows.add(on(column), station.continuous_w * part)
        plain = worst(counted @ now.va)
        for column in plain:
            rows.add(on(column), station.rated_va * part)
            for k in range(len(legs)):
                amps = column * half / station.leg_volts
                rows.add(on_leg(k, amps), min(station.leg_a, equipment.inlet_a))
                if len(legs) > 1:
                    heavier = on_leg(k, amps)
                    heavier[-1] = -1
                    rows.add(heavier, 0)
        if station.inlet_outlet_a:
            for column in worst(counted @ held):
                for k in range(len(legs)):
                    rows.add(on_leg(k, column * half), station.inlet_outlet_a)
        for s, item in enumerate(now.fed):
            if item.load.start_extra_va <= 0 or not alone[s]:
                continue
            who = next(i for i, x in enumerate(found.circuits) if x.id == item.feed.id)
            start = np.zeros((c, now.va.shape[1]))
            start[who] = now.extra_va[s]
            for column in worst(counted @ now.va + start):
                rows.add(on(column), surge)
                if len(legs) > 1:
                    for k in range(len(legs)):
                        rows.add(on_leg(k, column * half), leg_surge)


def _place_rows(found: Candidates, rows: _Rows, on: Riding, on_leg: OnLeg) -> None:
    """As many as there are places, and on each leg as many as are wired to it."""
    equipment, station = found.all_fed.equipment, found.all_fed.station
    assert station is not None
    two = found.all_fed.home.service.legs == 2
    takes = np.array([2.0 if x.poles == 2 and two else 1.0 for x in found.circuits])
    rows.add(on(takes), equipment.places)
    if len(station.legs) > 1 and not equipment.in_panel:
        for k, leg in enumerate(station.legs):
            count = sum(equipment.leg_of_place(p) == leg for p in range(1, equipment.places + 1))
            rows.add(on_leg(k, np.ones(len(found.circuits))), count)


def _neutral_rows(found: Candidates, rows: _Rows, on: Riding, on_leg: OnLeg) -> None:
    """Two circuits on one neutral: on two legs, or not both, where the source could overload it."""
    station = found.all_fed.station
    assert station is not None
    index = {x.id: i for i, x in enumerate(found.circuits)}
    for circuit in found.circuits:
        partner = index.get(circuit.neutral_partner or "")
        if partner is None or found.circuits[partner].id < circuit.id:
            continue
        wire = min(circuit.breaker_a, found.circuits[partner].breaker_a)
        if min(station.outlet_a or station.leg_a, station.leg_a) <= wire:
            continue
        pair = np.zeros(len(found.circuits))
        pair[[index[circuit.id], partner]] = 1
        if len(station.legs) == 1:
            rows.add(on(pair), 1)
        for k in range(len(station.legs) if len(station.legs) > 1 else 0):
            rows.add(on_leg(k, pair), 1)


def worst(columns: FloatArray) -> list[FloatArray]:
    """The columns that matter: none that another one is at least as large as everywhere. columns: (c, m)."""
    kept: list[FloatArray] = []
    unique = np.unique(np.round(columns, 9), axis=1).T
    for column in unique[np.argsort(-unique.sum(axis=1))]:
        if not any((other >= column - 1e-9).all() for other in kept):
            kept.append(column)
    return kept
