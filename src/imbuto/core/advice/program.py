"""The program that chooses: circuits, stances and legs as binaries, limits as rows, class after class.

Rows never forbid what the judge allows, or nearly so; whether a set stands is asked of the judge itself, and what it says no
to is cut away. So the answer is as good as trying everything, whatever fills the battery.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal

import numpy as np

from imbuto.core.basics.clock import FloatArray, grid
from imbuto.core.basics.units import Leg
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.home.circuits import Circuit, panel_leg
from imbuto.core.home.home import Home
from imbuto.core.home.loads import PURPOSES
from imbuto.core.limits.carrying import WEAK_SURGE, amps_held, derating
from imbuto.core.limits.instants import Instants, instants
from imbuto.core.limits.protection import neutral_pairs, neutral_wire_a, protected_a
from imbuto.core.plan.joining import Joined, fed_watts, joined
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Feed, Plan
from imbuto.core.run.light import solar_w
from imbuto.core.run.run import store_of

Pin = Literal["keep_on", "turns", "off"]
Stands = Callable[[Sequence[Pin], Sequence[Leg | None]], bool]  # what the judge says of a set
TURNS_SHARE = 0.5  # of the time, for what takes turns; planning default
TURNS_VALUE = 0.5  # what a turn is worth against keeping on; planning default
EPS = 1e-6
MOST_CUTS = 400  # of a class; past that its energy is cut by hundredths instead
MOST_EXACT = 8  # circuits up to which every set is tried by itself where an engine makes more last longer
BIG = 1e5


@dataclass(frozen=True, slots=True)
class Candidates:
    """The circuits that could ride, and what each asks for; c circuits, t steps of the hours asked for.

    both: 240 V; fixed: the leg it cannot leave, None where the place decides; turns: whether turns will do; keep_w,
    turn_w: mean W in each step, (c, t); value: of each class, (c, 6); now: the instants of all of them fed; pairs: those
    that go over together or not at all, by index, with what their neutral bears.
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
    pairs: tuple[tuple[int, int, float], ...]

    def mean_w(self, stances: Sequence[Pin]) -> float:
        """Mean W of a set over the hours asked for."""
        drawn = 0.0
        for i, s in enumerate(stances):
            drawn += 0.0 if s == "off" else float((self.keep_w if s == "keep_on" else self.turn_w)[i].mean())
        return drawn


def candidates(home: Home, plan: Plan, outage: Outage, catalogue: Catalogue, hours: float) -> Candidates:
    """What could ride. home: as it is used in the outage."""
    equipment, source = catalogue.transfer[plan.transfer], plan.source
    if source is None or not equipment.traits.wired:
        raise ValueError("a set is proposed for a station behind a switch")
    station = catalogue.stations[source.station]
    with_loads = {c.id for c in home.circuits.values() if home.loads_on(c.id)}
    partners = {c.neutral_partner for c in home.circuits.values() if c.id in with_loads}
    partners |= {c.id for c in home.circuits.values() if c.neutral_partner in with_loads}
    circuits = tuple(c for c in home.circuits.values() if c.id in with_loads | partners)
    feeds = {c.id: Feed(id=c.id, source=source.id, circuit=c.id, place=2 * i + 1) for i, c in enumerate(circuits)}
    everything = joined(home, replace(plan, feeds=feeds), catalogue)
    both = tuple(c.poles == 2 and home.service.legs == 2 for c in circuits)
    fixed = tuple(panel_leg(c) if equipment.in_panel else None for c in circuits)
    steps = grid(outage.start, home.site.time_zone, max(hours, 1.0))
    keep, turn = np.zeros((len(circuits), steps.n)), np.zeros((len(circuits), steps.n))
    value = np.zeros((len(circuits), len(PURPOSES)))
    index = {c.id: i for i, c in enumerate(circuits)}
    before = {f.circuit: f for f in plan.feeds.values() if f.circuit and f.stance == "turns"}
    for item in everything.fed:
        i, old = index[item.feed.id], before.get(item.feed.id)
        keep[i] += fed_watts(item.load, "keep_on", (), 1.0, steps)
        if old is None or not old.by_charge:  # what comes and goes with the charge need take none of it
            windows, share = (old.windows, old.share) if old else ((), TURNS_SHARE)
            turn[i] += fed_watts(item.load, "turns", windows, share, steps)
        if not item.assumed:
            value[i, PURPOSES.index(item.load.purpose)] += item.load.weight
    life = {
        f.feed.id for f in everything.fed if f.load.purpose == "life"
    }  # never in turns: a physician has set what it needs
    turns = tuple(
        c.id not in life and any(f.load.turns_ok for f in everything.fed if f.feed.id == c.id) for c in circuits
    )  # fmt: skip
    if len(station.legs) == 1 and (everything.station is None or len(everything.station.legs) == 1):
        both = tuple(False for _ in both)
    pairs = tuple(
        (index[a.id], index[b.id], neutral_wire_a(a, b))
        for a, b in neutral_pairs(everything)
        if a.id in index and b.id in index
    )
    return Candidates(circuits, both, fixed, turns, keep, turn, value, instants(everything), everything, pairs)


@dataclass(slots=True)
class _Rows:
    """Rows of the program over n binaries and the helpers that groups of loads want: coefficients, and what they may reach."""

    n: int
    rows: list[dict[int, float]] = field(default_factory=list)
    upper: list[float] = field(default_factory=list)
    lower: list[float] = field(default_factory=list)
    helpers: int = 0

    def add(self, row: FloatArray | dict[int, float], upper: float, lower: float = -np.inf) -> None:
        if np.isfinite(upper) or np.isfinite(lower):
            cells = row if isinstance(row, dict) else {int(i): float(row[i]) for i in np.flatnonzero(row)}
            self.rows.append(cells)
            self.upper.append(upper)
            self.lower.append(lower)

    def helper(self) -> int:
        """A variable of at least 0, for the worst member of a group."""
        self.helpers += 1
        return self.n + self.helpers - 1


@dataclass(frozen=True, slots=True)
class _Layout:
    """Where the variables stand: keep, turns, each leg of each circuit, and the heavier leg's amps."""

    c: int
    legs: int

    @property
    def n(self) -> int:
        return 2 * self.c + self.c * self.legs + 1

    def on(self, i: int) -> tuple[int, ...]:
        """Variables that sum to 1 where circuit i rides."""
        return i, self.c + i

    def leg(self, k: int, i: int) -> tuple[int, ...]:
        """The variable that is 1 where circuit i is on leg k."""
        return (2 * self.c + k * self.c + i,)


Where = Callable[[int], tuple[int, ...]]


def _row(values: FloatArray, where: Where) -> dict[int, float]:
    """A row from a figure a circuit."""
    return {j: float(v) for i, v in enumerate(values) if v for j in where(i)}


@dataclass(slots=True)
class _Program:
    """Limits as rows, energy and what the judge said no to as cuts, and bounds from pins."""

    found: Candidates
    at: _Layout
    legs: tuple[Leg, ...]
    limits: _Rows
    cuts: _Rows
    lower: FloatArray
    upper: FloatArray
    stands: Stands

    def best(self, cost: FloatArray, *, with_cuts: bool = True) -> FloatArray | None:
        """The cheapest set, None where no set fits."""
        from scipy.optimize import Bounds, LinearConstraint, milp  # slow to load, and only wanted here
        from scipy.sparse import csr_array

        n, width = self.at.n, self.limits.n + self.limits.helpers
        each = [self.limits, self.cuts] if with_cuts else [self.limits]
        rows = [row for x in each for row in x.rows]
        cells = [(r, j, v) for r, row in enumerate(rows) for j, v in row.items()]
        matrix = csr_array(
            ([v for *_, v in cells], ([r for r, *_ in cells], [j for _, j, _ in cells])), shape=(len(rows), width)
        )
        integral = np.zeros(width)
        integral[: n - 1] = 1
        bounds = (np.concatenate([b, np.full(width - n, far)]) for b, far in ((self.lower, 0.0), (self.upper, BIG)))
        answer: Any = milp(
            np.concatenate([cost, np.zeros(width - n)]),
            constraints=LinearConstraint(
                matrix, np.array([v for x in each for v in x.lower]), np.array([v for x in each for v in x.upper])
            ),
            bounds=Bounds(*bounds), integrality=integral, options={"mip_rel_gap": 0},
        )  # fmt: skip
        if answer.x is None:
            return None
        x: FloatArray = answer.x[:n]
        x[:-1] = np.round(x[:-1])
        return x

    def read(self, x: FloatArray) -> tuple[list[Pin], list[Leg | None]]:
        """Stances and legs of a solution."""
        c = self.at.c
        stances: list[Pin] = ["keep_on" if x[i] > 0.5 else "turns" if x[c + i] > 0.5 else "off" for i in range(c)]
        legs = [next((leg for k, leg in enumerate(self.legs) if x[self.at.leg(k, i)[0]] > 0.5), None) for i in range(c)]
        return stances, legs

    @property
    def draws(self) -> FloatArray:
        """Mean W of each variable."""
        row = np.zeros(self.at.n)
        row[: self.at.c], row[self.at.c : 2 * self.at.c] = (
            self.found.keep_w.mean(axis=1),
            self.found.turn_w.mean(axis=1),
        )
        return row

    def standing(self, worth: FloatArray) -> FloatArray | None:
        """The set worth most that the judge lets stand, with as little energy as that takes. None where none does."""
        least = min((float(w) for w in worth if w > 0), default=1.0)
        cost = self.draws * (0.2 / max(float(self.draws.sum()), 1.0)) - worth / least
        for tried in range(MOST_CUTS + 200):
            x = self.best(cost)
            if x is None:
                return None
            stances, legs = self.read(x)
            if self.stands(stances, legs):
                return x
            if tried < MOST_CUTS:
                self.cut(stances, legs)
            else:
                self.cuts.add(self.draws, float(self.draws @ x) * 0.99)
        return None

    def cut(self, stances: list[Pin], legs: list[Leg | None]) -> None:
        """No set that holds what is left of this one once all that does not matter has gone: one of it has to give."""
        if self.found.all_fed.generator is not None and self.at.c <= MOST_EXACT:
            # More drawn may start an engine while someone is awake: a larger set can last longer, so only this one goes.
            row = {j: 1.0 if s != "off" else -1.0 for i, s in enumerate(stances) for j in self.at.on(i)}
            row |= {self.at.c + i: 0.0 for i, s in enumerate(stances) if s == "keep_on"}
            row |= {i: 0.0 for i, s in enumerate(stances) if s == "turns"}
            self.cuts.add(row, sum(s != "off" for s in stances) - 1.0)
            return
        left = list(stances)
        together = {i: (i, j) for a, b, _ in self.found.pairs for i, j in ((a, b), (b, a))}
        order = sorted((i for i, s in enumerate(left) if s != "off"), key=lambda i: float(self.found.keep_w[i].mean()))
        for i in order:
            if left[i] == "off" or self.lower[i] or self.lower[self.at.c + i]:
                continue  # gone with its partner, or pinned
            less = list(left)
            for j in together.get(i, (i,)):
                less[j] = "off"
            if not self.stands(less, legs):
                left = less
        row = {}
        for i, s in enumerate(left):
            if s != "off":
                row[i] = 1.0
                if s == "turns":  # where a turn is too much, so is keeping on
                    row[self.at.c + i] = 1.0
        self.cuts.add(row, sum(s != "off" for s in left) - 1.0)


def solve(
    found: Candidates,
    pins: Mapping[str, Pin],
    outage: Outage,
    hours: float,
    stands: Stands,
    fits: Stands,
    *,
    more: float = 1.0,
) -> tuple[list[Pin], list[Leg | None], tuple[float, ...], bool]:
    """Solve class by class: the stance and leg of each circuit, what each class got, and whether it stands.

    hours: to last, 0 for however long; stands: the judge; fits: the judge, of limits alone; more: what loads draw
    beyond their mean at the least, where the
    judge wants more than the mean. Raises ValueError where pins alone break a limit.
    """
    legs = found.all_fed.station.legs if found.all_fed.station else ("A",)
    at = _Layout(len(found.circuits), len(legs))
    limits = _limits_rows(found, outage, at)
    cuts = _energy_rows(found, outage, hours, at, more)
    made = _Program(found, at, legs, limits, cuts, np.zeros(at.n), np.ones(at.n), stands)
    made.upper[-1] = BIG
    _bounds(made, pins)
    _life_first(made, fits)
    values: list[float] = []
    held: FloatArray | None = None
    for k in range(len(PURPOSES)):
        worth = np.zeros(at.n)
        worth[: at.c], worth[at.c : 2 * at.c] = found.value[:, k], TURNS_VALUE * found.value[:, k]
        if held is None or float(worth @ held) < float((worth[: at.c] * made.upper[: at.c]).sum()) - EPS:
            better = made.standing(worth)
            if better is None and held is None:
                return _short(made)
            held = held if better is None else better
        assert held is not None
        values.append(float(worth @ held))
        limits.add(worth, np.inf, values[-1] - EPS)
    assert held is not None
    stances, on_legs = made.read(held)
    if len(legs) > 1:
        on_legs = _balanced(made, stances) or on_legs
    return stances, on_legs, tuple(values), True


def _life_first(made: _Program, fits: Stands) -> None:
    """What life and health depend on is never given up for hours: as much of it as fits stands before the goal is asked for."""
    worth = np.zeros(made.at.n)
    worth[: made.at.c], worth[made.at.c : 2 * made.at.c] = made.found.value[:, 0], TURNS_VALUE * made.found.value[:, 0]
    alone = replace(made, cuts=_Rows(made.at.n), stands=fits)
    x = alone.standing(worth)
    if x is not None:
        made.limits.add(worth, np.inf, float(worth @ x) - EPS)


def _short(made: _Program) -> tuple[list[Pin], list[Leg | None], tuple[float, ...], bool]:
    """What is pinned and what life depends on, and nothing else, where even that does not last."""
    x = made.best(made.draws, with_cuts=False)
    if x is None:
        raise ValueError("no set fits, not even with everything off that is not pinned")
    value = made.found.value
    got = x[: made.at.c] @ value + TURNS_VALUE * (x[made.at.c : 2 * made.at.c] @ value)
    return *made.read(x), tuple(float(v) for v in got), False


def _balanced(made: _Program, stances: list[Pin]) -> list[Leg | None] | None:
    """The same stances with the legs as even as can be, where the judge lets that stand."""
    cost, c = np.zeros(made.at.n), made.at.c
    cost[-1] = 1.0
    for i, s in enumerate(stances):
        made.lower[i] = made.upper[i] = float(s == "keep_on")
        made.lower[c + i] = made.upper[c + i] = float(s == "turns")
    x = made.best(cost)
    if x is None:
        return None
    legs = made.read(x)[1]
    return legs if made.stands(stances, legs) else None


def _bounds(made: _Program, pins: Mapping[str, Pin]) -> None:
    """Pins, turns that will not do, and circuits that cannot be carried at all."""
    found, at, c = made.found, made.at, made.at.c
    for i, circuit in enumerate(found.circuits):
        pin = pins.get(circuit.id)
        if barred(found, i) or pin == "off":
            made.upper[i] = made.upper[c + i] = 0
        elif pin == "keep_on":
            made.lower[i], made.upper[c + i] = 1, 0
        elif pin == "turns":
            made.lower[c + i], made.upper[i] = 1, 0
        elif not found.turns[i]:
            made.upper[c + i] = 0
        for k, leg in enumerate(made.legs):
            if found.fixed[i] is not None and not found.both[i] and found.fixed[i] != leg and len(made.legs) > 1:
                made.upper[at.leg(k, i)[0]] = 0


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
    own = equipment.place_breaker_a
    if own > protected_a(circuit):
        return f"{circuit.name} bears {protected_a(circuit):g} A, and a place has a {own:g} A breaker of its own"
    if now.equipment.automatic and circuit.id == now.plan.charge_circuit:
        return f"{circuit.name} feeds the charger of {station.name}, which would empty itself through it"
    if rows:
        held = found.now.most(amps_held(found.now, full_rating=now.home.service.volts == 230), rows)
        rating = min(equipment.place_a, circuit.breaker_a, own or circuit.breaker_a)
        if held > rating:
            return f"{circuit.name} by itself asks for {held:.1f} of {rating:g} A, lasting loads counted 1.25 times"
    return ""


def _energy_rows(found: Candidates, outage: Outage, hours: float, at: _Layout, more: float) -> _Rows:
    """What any set that lasts must keep to: from the start, and from each dusk as if full, no more is drawn to each dawn and
    to the end than is stored and the sun brings. None with a generator, whose hours hang on what is drawn."""
    rows = _Rows(at.n)
    now = found.all_fed
    if hours <= 0 or now.station is None or now.source is None or now.plan.engine is not None:
        return rows
    store = store_of(now.plan, now.source, now.station, outage)
    steps = grid(outage.start, now.home.site.time_zone, max(hours, 1.0))
    last = min(steps.n, max(1, int(hours / steps.step_h + 1e-9)))
    light = solar_w(now, outage, steps)
    lit = np.zeros(steps.n, dtype=bool) if light is None else light > 0
    turns = np.flatnonzero(np.diff(lit.astype(int)))
    dusks = [0, *(int(i) + 1 for i in turns if lit[i] and i + 1 < last)]
    ends = [*(int(i) + 1 for i in turns if not lit[i] and i + 1 < last), last]
    sun = np.zeros(steps.n + 1) if light is None else np.concatenate([[0.0], light.cumsum() * steps.step_h])
    keep, turn = (
        np.concatenate([np.zeros((at.c, 1)), x.cumsum(axis=1) * steps.step_h], axis=1) * more / store.efficiency
        for x in (found.keep_w, found.turn_w)
    )
    for a in dusks:
        for b in ends:
            if b > a:
                there = (
                    store.usable_wh(outage.start_charge if a == 0 else 1.0) + (sun[b] - sun[a]) * store.mppt_efficiency
                )
                row = np.concatenate([keep[:, b] - keep[:, a], turn[:, b] - turn[:, a], np.zeros(at.n - 2 * at.c)])
                rows.add(row, there - store.idle_w * (b - a) * steps.step_h + 1.0)
    return rows


def _limits_rows(found: Candidates, outage: Outage, at: _Layout) -> _Rows:
    """Every limit as rows over keep, turns and legs."""
    now, c = found.now, at.c
    station, equipment = found.all_fed.station, found.all_fed.equipment
    assert station is not None
    rows = _Rows(at.n)
    for i in range(c):  # one stance; on one leg, or for 240 V on both
        on = dict.fromkeys(at.on(i), 1.0)
        rows.add(on, 1)
        legs = [at.leg(k, i)[0] for k in range(at.legs)]
        for link in [[j] for j in legs] if found.both[i] or at.legs == 1 else [legs]:
            rows.add(on | dict.fromkeys(link, -1.0), 0, 0)
    _place_rows(found, rows, at)
    _load_rows(found, rows, outage, at)
    surge = (station.surge_va if station.surge_counts else station.rated_va) * _weak(found, outage)
    if equipment.automatic and not equipment.sheds:
        count = np.array([f.load.count for f in now.fed])
        each = now.va.max(axis=1) + now.extra_va.max(axis=1) * count
        _add_most(found, rows, each[:, None], at.on, surge)
    _neutral_rows(found, rows, at)
    return rows


def _weak(found: Candidates, outage: Outage) -> float:
    source = found.all_fed.source
    return WEAK_SURGE if source is not None and outage.at(source) < 0 else 1.0


def _add_most(
    found: Candidates, rows: _Rows, per_load: FloatArray, where: Where, limit: float, heavier: int | None = None
) -> None:
    """Rows that hold a sum over loads to a limit at every instant, the worst member of each group counted. per_load: (n, m);
    heavier: a variable on the limit's side instead."""
    if not np.isfinite(limit) and heavier is None:
        return
    index = {x.id: i for i, x in enumerate(found.circuits)}
    owner = [index[f.feed.id] for f in found.now.fed]
    grouped = {i for g in found.now.groups for i in g}
    plain = np.zeros((len(found.circuits), per_load.shape[1]))
    for i, own in enumerate(owner):
        if i not in grouped:
            plain[own] += per_load[i]
    order = [i for g in found.now.groups for i in g]
    c = len(found.circuits)
    for column in worst(np.concatenate([plain, per_load[order]]) if order else plain):
        row = _row(column[:c], where)
        member = dict(zip(order, column[c:], strict=True))
        for group in found.now.groups:
            if any(member[i] > 0 for i in group):
                z = rows.helper()
                row[z] = 1.0
                for i in group:
                    rows.add(_row_of(where(owner[i]), float(member[i])) | {z: -1.0}, 0.0)
        if heavier is not None:
            row[heavier] = -1.0
        rows.add(row, 0.0 if heavier is not None else limit)


def _row_of(where: tuple[int, ...], value: float) -> dict[int, float]:
    return dict.fromkeys(where, value)


def _load_rows(found: Candidates, rows: _Rows, outage: Outage, at: _Layout) -> None:
    """Together, legs with their links, and the hardest start, in total and on each leg, at every instant that matters."""
    now = found.now
    station, equipment = found.all_fed.station, found.all_fed.equipment
    assert station is not None
    part = derating(
        outage.at(found.all_fed.source) if found.all_fed.source else 20, found.all_fed.home.site.elevation_m
    )
    weak = _weak(found, outage)
    surge, leg_surge = station.surge_va * weak, station.leg_surge_va * weak
    if not station.surge_counts:
        surge, leg_surge = station.rated_va * weak, min(station.leg_surge_va, station.leg_a * station.leg_volts) * weak
    volts = np.array([f.volts for f in now.fed])
    held = amps_held(now, full_rating=station.leg_volts == 230) * volts[:, None] / station.leg_volts
    index = {x.id: i for i, x in enumerate(found.circuits)}
    half = np.array([0.5 if at.legs > 1 and found.both[index[f.feed.id]] else 1.0 for f in now.fed])[:, None]
    _add_most(found, rows, now.w + now.high_w, at.on, station.continuous_w * part)
    _add_most(found, rows, now.va, at.on, station.rated_va * part)
    for k in range(at.legs):
        where = _on_leg(at, k)
        amps = now.va * half / station.leg_volts
        _add_most(found, rows, amps, where, min(station.leg_a, equipment.inlet_a))
        if station.inlet_outlet_a:
            _add_most(found, rows, held * half, where, station.inlet_outlet_a)
        if at.legs > 1:
            _add_most(found, rows, amps, where, np.inf, heavier=at.n - 1)
    for s, item in enumerate(now.fed):
        if item.load.start_extra_va > 0:
            starting = now.va.copy()
            starting[s] += now.extra_va[s]
            mates = next((g for g in now.groups if s in g), ())
            starting[[i for i in mates if i != s]] = 0.0  # it is the one of its group that runs
            _add_most(found, rows, starting, at.on, surge)
            for k in range(at.legs if at.legs > 1 else 0):
                _add_most(found, rows, starting * half, _on_leg(at, k), leg_surge)


def _on_leg(at: _Layout, k: int) -> Where:
    return lambda i: at.leg(k, i)


def _place_rows(found: Candidates, rows: _Rows, at: _Layout) -> None:
    """As many as there are places, and on each leg as many as are wired to it."""
    equipment, station = found.all_fed.equipment, found.all_fed.station
    assert station is not None
    two = found.all_fed.home.service.legs == 2
    takes = np.array([2.0 if x.poles == 2 and two else 1.0 for x in found.circuits])
    rows.add(_row(takes, at.on), equipment.places)
    if at.legs > 1 and not equipment.in_panel:
        for k, leg in enumerate(station.legs):
            count = sum(equipment.leg_of_place(p) == leg for p in range(1, equipment.places + 1))
            rows.add(_row(np.ones(at.c), _on_leg(at, k)), count)


def _neutral_rows(found: Candidates, rows: _Rows, at: _Layout) -> None:
    """Two circuits on one neutral go over alike or not at all; on one leg, or from a source with but one, they add up."""
    station, equipment = found.all_fed.station, found.all_fed.equipment
    assert station is not None
    fed = found.now.fed
    for a, b, wire in found.pairs:
        if not equipment.in_panel:
            for x, y in zip(at.on(a), at.on(b), strict=True):
                rows.add({x: 1.0, y: -1.0}, 0, 0)
        ids = {found.circuits[a].id, found.circuits[b].id}
        mine = [i for i, f in enumerate(fed) if f.feed.id in ids]
        amps = found.now.most(found.now.va / station.leg_volts, mine) if mine else 0.0
        if amps <= wire and station.inlet_outlet_a <= wire:
            continue
        for k in range(at.legs):
            rows.add({at.leg(k, a)[0]: 1.0, at.leg(k, b)[0]: 1.0}, 1)


def worst(columns: FloatArray) -> list[FloatArray]:
    """The columns that matter: none that another one is at least as large as everywhere. columns: (c, m)."""
    kept: list[FloatArray] = []
    unique = np.unique(np.round(columns, 9), axis=1).T
    for column in unique[np.argsort(-unique.sum(axis=1))]:
        if not any((other >= column - 1e-9).all() for other in kept):
            kept.append(column)
    return kept
