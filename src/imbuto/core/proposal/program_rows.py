"""Limits and energy as rows of the program. They never forbid what the judge allows, or nearly so."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from imbuto.core.basics.clock import FloatArray, grid
from imbuto.core.light.solar_light import solar_w
from imbuto.core.limits.rules.power_limits import derating_factor
from imbuto.core.limits.rules.start_limits import WEAK_SURGE
from imbuto.core.limits.rules.switch_slot_limits import amps_held
from imbuto.core.plan.outage import Outage
from imbuto.core.proposal.candidates import Candidates
from imbuto.core.run.run import store_of

EPS = 1e-6
BIG = 1e5


@dataclass(slots=True)
class ProgramRows:
    """Rows of the program over n binaries and the helpers that groups of loads want: coefficients, and what they may
    reach."""

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
class ProgramLayout:
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


def row_over(values: FloatArray, where: Where) -> dict[int, float]:
    """A row from a figure a circuit."""
    return {j: float(v) for i, v in enumerate(values) if v for j in where(i)}


def energy_rows(found: Candidates, outage: Outage, hours: float, at: ProgramLayout, more: float) -> ProgramRows:
    """What any set that lasts must keep to: from the start, and from each dusk as if full, no more is drawn to each
    dawn and to the end than is stored and the sun brings. None with a generator, whose hours hang on what is
    drawn."""
    rows = ProgramRows(at.n)
    now = found.all_fed
    if hours <= 0 or now.plan.engine is not None:
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


def limits_rows(found: Candidates, outage: Outage, at: ProgramLayout) -> ProgramRows:
    """Every limit as rows over keep, turns and legs."""
    now, c = found.now, at.c
    station, equipment = found.all_fed.station, found.all_fed.equipment
    assert station is not None
    rows = ProgramRows(at.n)
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
    return WEAK_SURGE if outage.at(source) < 0 else 1.0


def _add_most(
    found: Candidates, rows: ProgramRows, per_load: FloatArray, where: Where, limit: float, heavier: int | None = None
) -> None:
    """Rows that hold a sum over loads to a limit at every instant, the worst member of each group counted.

    per_load: (n, m)
    heavier: a variable on the limit's side instead
    """
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
        row = row_over(column[:c], where)
        member = dict(zip(order, column[c:], strict=True))
        for group in found.now.groups:
            if any(member[i] > 0 for i in group):
                z = rows.helper()
                row[z] = 1.0
                for i in group:
                    rows.add(row_of(where(owner[i]), float(member[i])) | {z: -1.0}, 0.0)
        if heavier is not None:
            row[heavier] = -1.0
        rows.add(row, 0.0 if heavier is not None else limit)


def row_of(where: tuple[int, ...], value: float) -> dict[int, float]:
    return dict.fromkeys(where, value)


def _load_rows(found: Candidates, rows: ProgramRows, outage: Outage, at: ProgramLayout) -> None:
    """Together, legs with their links, and the hardest start, in total and on each leg, at every instant that
    matters."""
    now = found.now
    station, equipment = found.all_fed.station, found.all_fed.equipment
    assert station is not None
    part = derating_factor(outage.at(found.all_fed.source), found.all_fed.home.site.elevation_m)
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


def _on_leg(at: ProgramLayout, k: int) -> Where:
    return lambda i: at.leg(k, i)


def _place_rows(found: Candidates, rows: ProgramRows, at: ProgramLayout) -> None:
    """As many as there are places, and on each leg as many as are wired to it."""
    equipment, station = found.all_fed.equipment, found.all_fed.station
    assert station is not None
    two = found.all_fed.home.service.legs == 2
    takes = np.array([2.0 if x.poles == 2 and two else 1.0 for x in found.circuits])
    rows.add(row_over(takes, at.on), equipment.places)
    if at.legs > 1 and not equipment.in_panel:
        for k, leg in enumerate(station.legs):
            count = sum(equipment.leg_of_place(p) == leg for p in range(1, equipment.places + 1))
            rows.add(row_over(np.ones(at.c), _on_leg(at, k)), count)


def _neutral_rows(found: Candidates, rows: ProgramRows, at: ProgramLayout) -> None:
    """Two circuits on one neutral go over alike or not at all; on one leg, or from a source with but one, they add
    up."""
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
