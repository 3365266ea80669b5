"""A year of ordinary days, in quarter hours, on the same network and march as an outage, with the grid there: what the
house draws, what the sun brings, and what the plan makes of both."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property

import numpy as np

from imbuto.core.basics.clock import FloatArray, inside
from imbuto.core.everyday.everyday_modes import EverydayModes, can_do, stands_behind
from imbuto.core.everyday.grid_limits import Overload, relieve
from imbuto.core.everyday.year_ground import STEP_H, Ground
from imbuto.core.plan.everyday_policy import Everyday, Use
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import Part, ahead_of
from imbuto.core.run import march as flow
from imbuto.core.run.battery_store import Store
from imbuto.core.run.network import Supply, run_one
from imbuto.core.run.run import line_stores
from imbuto.core.run.run_controls import Absence, Controls
from imbuto.core.run.run_switching import (
    absence_of,
    all_stores,
    controls_of,
    line_of,
    store_count,
)
from imbuto.core.run.run_trace import Trace

DAY_C = 20.0  # where the store stands, on ordinary days; planning default
NO_LIMIT_W = 1e6
LEAST_SUPPLY_W = 1e-6  # a grid that is there, and gives nothing to charge with
ENDLESS_L = 1e9  # fuel, where somebody buys more
SURPLUS = 10.0  # in a year alone: the march charges with what the grid gives, and then that is the roof's surplus
CODES: dict[Use, float] = {
    "stand": flow.CHARGE,
    "charge": flow.CHARGE,
    "sun": flow.SUN_FIRST,
    "store": flow.CARRY,
    "surplus": SURPLUS,
}
LIKE = Outage(id="y", name="y", start=datetime(2001, 1, 1), hours=24, goal_hours=24, indoors_c=DAY_C, garage_c=DAY_C)


@dataclass(frozen=True)
class Year:
    """What a plan makes of a year; k stores, n steps.

    stores: of the line, with the grid there
    bought_w: AC W from the grid for what hangs on the line, its charging and own draw
    unserved_w: AC W that nobody served
    thrown_w: DC W of the sun that nothing took
    given_w: AC W of that to the street
    charges: of each store after each step, the start first, 0 to 1, (n + 1, k)
    use: the mode of each step; (n,)
    overload: what was more than a station gives beside the grid, and what came of it
    falls_wh: what went out of each store in each step, without what a car drove off with, Wh, (n, k)
    by_roof_w: of what was bought, AC W that the roof gave in its part of the house; spilled_w: of the roof, AC W beyond
        what the house and this line use
    driven_w: AC W that a car took for its drives where positive, and brought home where negative, in the steps in
        which it comes back
    """

    ground: Ground
    everyday: Everyday
    stores: tuple[Store, ...]
    trace: Trace
    bought_w: FloatArray
    unserved_w: FloatArray
    thrown_w: FloatArray
    given_w: FloatArray
    charges: FloatArray
    use: FloatArray
    overload: Overload
    falls_wh: FloatArray
    driven_w: FloatArray
    by_roof_w: FloatArray
    spilled_w: FloatArray

    @property
    def own(self) -> slice:
        """The stores of the station that was asked for."""
        return self.ground.places(self.ground.rank)

    @property
    def store(self) -> Store:
        """The stores of the station that was asked for as one, for sums."""
        own = self.stores[self.own]
        whole = replace(own[0], nominal_wh=sum(s.nominal_wh for s in own), pair=None)
        return whole if len(own) == 1 else replace(whole, idle_w=sum(s.idle_w for s in own))

    @cached_property
    def charge(self) -> FloatArray:
        """Of that station after each step, the start first, 0 to 1, (n + 1,)."""
        return self.charge_of(self.ground.rank)

    def charge_of(self, rank: int) -> FloatArray:
        """Of one station of the line after each step, the start first, 0 to 1, (n + 1,)."""
        own = self.ground.places(rank)
        wh = np.array([s.available_wh for s in self.stores[own]])
        together: FloatArray = self.charges[:, own] @ (wh / wh.sum())
        return together

    def cycles_of(self, rank: int) -> float:
        """Full ones of one station of the line: what went out of its stores over what they hold."""
        own = self.ground.places(rank)
        return float(self.falls_wh[:, own].sum()) / sum(s.available_wh for s in self.stores[own])

    @property
    def cycles(self) -> float:
        """Full ones of the station that was asked for."""
        return self.cycles_of(self.ground.rank)

    @property
    def unserved_wh(self) -> float:
        """What nobody served."""
        return float(self.unserved_w.sum()) * STEP_H

    @property
    def served_w(self) -> FloatArray:
        """AC W of what hangs on the line that was served, by whoever, (n,)."""
        return self.ground.fed_w - self.unserved_w


def uses(everyday: Everyday, g: Ground) -> FloatArray:
    """The march's code of each step, (n,)."""
    found = np.full(g.steps.n, CODES[everyday.rest])
    for mode in everyday.modes.values():
        hit = inside(mode.windows, g.steps.hour, g.steps.weekend)
        if mode.months:
            hit &= np.isin(g.months, mode.months)
        found[hit] = CODES[mode.use]
    if everyday.misses and "hand" in can_do(g.line[0]).by:
        found[missed_days(g, everyday.misses)[g.day]] = CODES[everyday.rest]
    return found


def missed_days(g: Ground, a_month: int) -> np.ndarray:
    """Which days of a year nobody throws the switch: so many of every 30, spread evenly."""
    at = np.arange(len(g.days))
    found: np.ndarray = np.floor((at + 1) * a_month / 30) > np.floor(at * a_month / 30)
    return found


def year_of(g: Ground, everyday: Everyday, start: float | None = None, use: FloatArray | None = None) -> Year:
    """Run a year.

    start: charge of every store at its beginning, the one it ends with where None, so that nothing is won by emptying
        it
    use: the mode of each step, where it is not what the windows say
    """
    lead = g.line[0]
    stores = ordinary_stores(lead, everyday)
    n = g.loads_w.shape[1]
    if everyday.no_grid:  # then gear on the mains serves no more than in an outage
        g = replace(g, loads_w=g.loads_w - g.beside_w, rest_w=g.rest_w + g.beside_w.sum(axis=0))
    use = uses(everyday, g)[g.first : g.first + n] if use is None else use
    modes = [can_do(x) for x in g.line]
    use = _within([m for m, x in zip(modes, g.line, strict=True) if not (x.waits or stands_behind(x))], use)
    by_hand = tuple("hand" in m.by for m in modes)
    overload = relieve(g.line, g.loads_w, g.legs_w, use, reset_steps=_reset_steps(lead), by_hand=by_hand)
    if everyday.no_grid:
        overload = Overload.none(g.loads_w, len(g.line))
    supply = _supply(g, use, overload.loads_w, no_grid=everyday.no_grid)
    controls = _by_engine(g) if everyday.no_grid and any(x.plan.engine for x in g.line) else None
    away = _absence(lead, g)
    suns = g.alone_suns_w if everyday.no_grid else g.suns_w
    sun = suns if suns.any() else None
    begin = [1.0 if start is None else start] * len(stores)

    def run(charges: Sequence[float]) -> Trace:
        return run_one(
            stores,
            charges,
            overload.loads_w,
            STEP_H,
            sun_w=sun,
            grid=supply,
            controls=controls,
            away=away,
            gives=g.gives,
        )

    trace = run(begin)
    if start is None and np.abs(trace.charge[-1] - begin).max() > 1e-6:
        trace = run([float(c) for c in trace.charge[-1]])
    bought = trace.grid_wh.sum(axis=1) / STEP_H + overload.by_grid_w
    lost = trace.lost_wh / STEP_H
    efficiency = np.array([s.efficiency for s in stores])
    gives = bool(everyday.exports.strip())
    given = lost @ efficiency if gives else np.zeros(n)
    thrown = np.zeros(n) if gives else lost.sum(axis=1)
    unserved = np.maximum(overload.loads_w.sum(axis=0) - trace.served_wh.sum(axis=1) / STEP_H, 0.0)
    unserved[unserved < 1e-6] = 0.0
    return Year(
        g,
        everyday,
        stores,
        trace,
        bought,
        unserved + overload.unserved_w,
        thrown,
        given,
        trace.charge,
        use,
        overload,
        _falls(stores, trace, away),
        _driven(stores, trace, away, n),
        *_roof(g, bought, no_grid=everyday.no_grid),
    )


def _supply(g: Ground, use: FloatArray, loads_w: FloatArray, *, no_grid: bool) -> Supply:
    """The grid as the march has it: without a limit, and while a roof's surplus charges, no more than that beside the
    loads, (k, n)."""
    n = len(use)
    awake = ~inside(g.line[0].whole.asleep, g.steps.hour, g.steps.weekend)[g.first : g.first + n]
    if no_grid:
        return Supply(np.zeros(n), use, awake)
    by_surplus = use == SURPLUS
    over_w = np.maximum(g.roof_w - g.fed_w - g.rest_w, 0.0)
    given_w = np.where(by_surplus, loads_w.sum(axis=0) + over_w + LEAST_SUPPLY_W, NO_LIMIT_W)
    return Supply(given_w, np.where(by_surplus, flow.CHARGE, use), awake)


def _roof(g: Ground, bought_w: FloatArray, *, no_grid: bool) -> tuple[FloatArray, FloatArray]:
    """What of a line's draw the roof gives in its part of the house, and what of the roof nothing takes, (n,) each."""
    if no_grid:
        return np.zeros_like(bought_w), np.zeros_like(bought_w)
    house = g.rest_w + bought_w
    used = np.minimum(g.roof_w, house)
    share = np.divide(bought_w, house, out=np.zeros_like(house), where=house > 0)
    return used * share, g.roof_w - used


def _within(modes: Sequence[EverydayModes], use: FloatArray) -> FloatArray:
    """The modes of a year as far as every joining of the line goes; where it does not, the grid carries."""
    offered = [set(m.uses) for m in modes if m.uses]
    for name in ("sun", "store", "surplus"):
        if any(name not in each for each in offered):
            use = np.where(use == CODES[name], CODES["stand"], use)
    return use


def _reset_steps(x: Part) -> int:
    """Steps until somebody has come and reset what shut off."""
    return max(int(np.ceil(x.whole.reaction_h / STEP_H - 1e-9)), 1)


def ordinary_stores(lead: Part, everyday: Everyday) -> tuple[Store, ...]:
    """The stores of a line on ordinary days: those of an outage, with the grid at what hangs behind nothing.

    What somebody moves over by hand is off once it is down to what is kept; what hangs behind another station takes
    that one for its grid, and what waits at an inlet or a bank stays as in an outage."""
    found = list(line_stores(lead, LIKE))
    begin = 0
    for x in line_of(lead):
        own = range(begin, begin + store_count(x))
        begin += all_stores(x)
        if x.waits or everyday.no_grid:
            continue
        if stands_behind(x):  # switched off, and full
            found[own.start : own.stop] = [replace(found[s], floor=1.0, idle_w=0.0) for s in own]
            continue
        thrown = "hand" in can_do(x).by
        behind = ahead_of(x.whole, x.source.id) is not None
        for s in own:
            found[s] = _ordinary(x, found[s], everyday, thrown=thrown, behind=behind)
    return tuple(found)


def _ordinary(x: Part, store: Store, everyday: Everyday, *, thrown: bool, behind: bool) -> Store:
    hold = max(everyday.hold, store.floor)  # a car keeps its drive whatever is set
    resume = max(everyday.resume, hold)
    if behind:
        if store.floor >= 1.0:  # nobody can call on it
            return store
        margin = (resume - hold) * store.available_wh / store.nominal_wh
        return replace(store, floor=hold, restarts_itself=True, restart_margin=max(margin, 0.01))
    back_at = max(everyday.back_at or hold, hold) if thrown else hold
    watts = x.charging_w if everyday.charge_w is None else min(x.charging_w, everyday.charge_w)
    return replace(
        store,
        grid=True,
        thrown=thrown,
        thrown_back=thrown and everyday.back_at is not None,
        grid_w=watts / store_count(x),
        hold=back_at,
        resume=1.0 if thrown and everyday.back_at is not None else resume,
        refill=max(everyday.refill, hold),
        ac_charge_efficiency=x.station.charge_efficiency,
        floor=hold if thrown else store.floor,
    )


def _absence(lead: Part, g: Ground) -> Absence | None:
    """When cars are not at home in an ordinary week; what an outage says of them is for outages."""

    def weekly(x: Part) -> Part:
        away = x.source.away
        left = None if away is None or not away.windows else replace(away, from_h=0, for_h=0)
        return replace(x, source=replace(x.source, away=left))

    line = tuple(weekly(x) for x in line_of(lead))
    found = absence_of(replace(line[0], line=line if len(line) > 1 else ()), g.steps)
    there = slice(g.first, g.first + g.loads_w.shape[1])
    return None if found is None else replace(found, here=found.here[:, there])


def _falls(stores: Sequence[Store], trace: Trace, away: Absence | None) -> FloatArray:
    """Wh that went out of each store in each step, (n, k)."""
    found: FloatArray = np.maximum(-np.diff(trace.charge, axis=0), 0.0) * [s.available_wh for s in stores]
    if away is not None:
        found[away.here.T == 0] = 0.0
    return found


def _driven(stores: Sequence[Store], trace: Trace, away: Absence | None, n: int) -> FloatArray:
    """What cars left at home less than they took: AC W in the step of coming back, spread over nothing."""
    driven = np.zeros(n)
    if away is None:
        return driven
    for s, store in enumerate(stores):
        here = away.here[s] > 0
        left = 1.0
        for i in np.flatnonzero(np.diff(here.astype(int))) + 1:
            if here[i]:
                driven[i] += (left - away.charge[s]) * store.available_wh / store.ac_charge_efficiency / STEP_H
            else:
                left = float(trace.charge[i, s])
    return driven


def _by_engine(g: Ground) -> Controls:
    """The plan's generator, refuelled as it burns; turns are for outages."""
    found, (k, n) = controls_of(g.line[0], g.steps), g.loads_w.shape
    engine = replace(found.engine, fuel_l=ENDLESS_L) if found.engine is not None else None
    return replace(found, tiers=(), engine=engine, owes_w=np.zeros((k, n)), gap_w=np.zeros((k, n)))
