"""A year of ordinary days, in quarter hours, on the same network and march as an outage, with the grid there: what the
house draws, what the sun brings, and what the plan makes of both."""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from functools import cached_property
from math import cos, pi

import numpy as np

from imbuto.core.basics.clock import FloatArray, Grid, grid, inside
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.everyday.everyday_modes import EverydayModes, can_do
from imbuto.core.everyday.grid_limits import Overload, leg_loads, relieve
from imbuto.core.home.home import Home
from imbuto.core.home.loads import use_watts
from imbuto.core.plan.everyday_policy import Everyday, Use
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage, Weather
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.system import Part, PlanSystem, ahead_of, circuits_beneath, resolve
from imbuto.core.run import march as flow
from imbuto.core.run.network import Store, Supply, Trace, run_one
from imbuto.core.run.run import line_lights, line_stores, line_suns
from imbuto.core.run.run_controls import Absence, Controls
from imbuto.core.run.run_switching import (
    absence_of,
    all_stores,
    carriers,
    controls_of,
    first_store,
    line_of,
    loads_in_line,
    shares,
    store_count,
    tiers_w_in_line,
)
from imbuto.core.run.solar_light import day_of, days_of, shares_of

STEP_H = 0.25
YEAR_H = 8760
AIR_MEAN_C, AIR_SWING_C = 11.0, 9.0  # of the months, where the home's outages tell nothing; planning default
DAY_C = 20.0  # where the store stands, on ordinary days; planning default
NO_LIMIT_W = 1e6
ENDLESS_L = 1e9  # fuel, where somebody buys more
CODES: dict[Use, float] = {"stand": flow.CHARGE, "charge": flow.CHARGE, "sun": flow.SUN_FIRST, "store": flow.CARRY}
LIKE = Outage(id="y", name="y", start=datetime(2001, 1, 1), hours=24, goal_hours=24, indoors_c=DAY_C, garage_c=DAY_C)


@dataclass(frozen=True)
class Ground:
    """What a year brings to stations that are stepped together, whatever they do; k stores, n steps.

    steps: quarter hours from 1 January
    days: its dates
    line: the stations, what others hang behind first
    rank: which of them was asked for
    loads_w: AC W of what hangs on each store on ordinary days, (k, n)
    beside_w: the part of that which its gear serves only while the grid is there, (k, n)
    outage_w: that in an outage whatever the charge, with its turns, (k, n)
    tiers_w: in an outage, of what comes and goes with the charge, (t, n)
    legs_w: of each station of one store and two legs, AC W by leg, (2, n)
    rest_w: of all else in the house, (n,)
    suns_w: DC W at the inputs of each store, (k, n)
    first: the step of the year with which it begins, where it is a part of one
    """

    steps: Grid
    days: tuple[date, ...]
    line: tuple[Part, ...]
    rank: int
    loads_w: FloatArray
    beside_w: FloatArray
    outage_w: FloatArray
    tiers_w: FloatArray
    legs_w: dict[int, FloatArray]
    rest_w: FloatArray
    suns_w: FloatArray
    first: int = 0

    @property
    def part(self) -> Part:
        """The station that was asked for."""
        return self.line[self.rank]

    def places(self, rank: int) -> slice:
        """Which stores are those of one of the line, without its banks."""
        begin = first_store(self.part, rank) if len(self.line) > 1 else 0
        return slice(begin, begin + store_count(self.line[rank]))

    @cached_property
    def fed_w(self) -> FloatArray:
        """AC W of all that hangs on them on ordinary days, (n,)."""
        total: FloatArray = self.loads_w.sum(axis=0)
        return total

    @cached_property
    def asked_w(self) -> FloatArray:
        """AC W of all that they are asked for in an outage, with its turns, (n,)."""
        total: FloatArray = self.outage_w.sum(axis=0) + self.tiers_w.sum(axis=0)
        return total

    @cached_property
    def sun_w(self) -> FloatArray:
        """DC W at all their inputs, (n,)."""
        total: FloatArray = self.suns_w.sum(axis=0)
        return total

    @cached_property
    def day(self) -> np.ndarray:
        """Which of the days each step is on, (n,)."""
        return np.minimum(day_of(self.steps), len(self.days) - 1)

    @cached_property
    def months(self) -> np.ndarray:
        """Of each step, 1 to 12, (n,)."""
        found: np.ndarray = np.array([d.month for d in self.days])[self.day]
        return found

    def scaled(self, share: FloatArray, rest_w: FloatArray) -> Ground:
        """The same with all that hangs on the stations multiplied in each step, (n,), and another rest, (n,)."""
        return replace(
            self,
            loads_w=self.loads_w * share,
            beside_w=self.beside_w * share,
            outage_w=self.outage_w * share,
            tiers_w=self.tiers_w * share,
            legs_w={k: w * share for k, w in self.legs_w.items()},
            rest_w=rest_w,
        )

    @property
    def asked_own_w(self) -> FloatArray:
        """AC W that the station that was asked for is asked for in an outage; what comes and goes with the charge
        counts where it is the only one, (n,)."""
        own: FloatArray = self.outage_w[self.places(self.rank)].sum(axis=0)
        return self.asked_w if len(self.line) == 1 else own

    def part_of(self, at: slice) -> Ground:
        """Some of its steps; the clock stays that of the whole."""
        return replace(
            self,
            first=at.start,
            loads_w=self.loads_w[:, at],
            beside_w=self.beside_w[:, at],
            outage_w=self.outage_w[:, at],
            tiers_w=self.tiers_w[:, at],
            legs_w={k: w[:, at] for k, w in self.legs_w.items()},
            rest_w=self.rest_w[at],
            suns_w=self.suns_w[:, at],
        )


def air_of(home: Home, outages: Sequence[Outage]) -> tuple[float, ...]:
    """Mean °C of the months, January first: a wave through the coldest and the warmest outage of the home, where it
    has both."""
    known = [o.outdoors_c for o in outages]
    mean, swing = AIR_MEAN_C, AIR_SWING_C
    if known and max(known) - min(known) >= 5:
        mean, swing = (max(known) + min(known)) / 2, (max(known) - min(known)) / 2
    north = 1 if home.site.latitude >= 0 else -1
    return tuple(mean - north * swing * cos(2 * pi * (m - 0.5) / 12) for m in range(12))


def skies_of(home: Home, year: int) -> tuple[Weather, ...]:
    """A class for each day, in the shares of its month, in an order drawn once for the home."""
    found: list[Weather] = []
    for month in range(1, 13):
        first = date(year, month, 1)
        n = (date(year + month // 12, month % 12 + 1, 1) - first).days
        shares = shares_of(days_of(home.site, month))
        edges = np.cumsum([shares[w] for w in shares])
        classes = [list(shares)[int(np.searchsorted(edges, (i + 0.5) / n * edges[-1]))] for i in range(n)]
        random.Random(f"{home.id}/{month}").shuffle(classes)
        found += classes
    return tuple(found)


def line_with(system: PlanSystem, source: str) -> tuple[Part, ...]:
    """The stations that a station is stepped with, itself among them, what others hang behind first; what the first
    passes on is then no load of its own."""
    lines = [x.line or (x,) for x in system.parts]
    line = max((y for y in lines if any(x.source.id == source for x in y)), key=len)
    return line if len(line) == 1 else (replace(line[0], line=line, rank=0), *line[1:])


def ground(home: Home, plan: Plan, catalogue: Catalogue, source: str, outages: Sequence[Outage], year: int) -> Ground:
    """A year of one source of a checked plan, and of all that it is stepped with."""
    zone, air = home.site.time_zone, air_of(home, outages)
    system = resolve(home, plan, catalogue)
    line = line_with(system, source)
    ids = [x.source.id for x in line]
    elsewhere = {f.load.id for p in system.parts if p.source.id not in ids for f in p.fed}
    months = []
    for month in range(1, 13):
        begin = datetime(year, month, 1)
        end = datetime(year + month // 12, month % 12 + 1, 1)
        steps = grid(begin, zone, _hours(begin, end, zone), STEP_H)
        like = Outage(
            id="m", name="m", start=begin, hours=24, goal_hours=24, outdoors_c=air[month - 1], weather="broken"
        )
        used = in_outage(home, plan, like)
        now = line_with(resolve(used, plan, catalogue), source)
        months.append(_month(now, used, elsewhere, steps))
    loads, beside, in_outages, tiers, rest = (np.concatenate([m[i] for m in months], axis=-1) for i in range(5))
    legs = {k: np.concatenate([m[5][k] for m in months], axis=-1) for k in months[0][5]}
    steps = grid(datetime(year, 1, 1), zone, loads.shape[1] * STEP_H, STEP_H)
    days = tuple(date(year, 1, 1) + timedelta(days=d) for d in range((date(year + 1, 1, 1) - date(year, 1, 1)).days))
    suns = _suns(line[0], home, steps, year)
    return Ground(steps, days, line, ids.index(source), loads, beside, in_outages, tiers, legs, rest, suns)


def _month(
    line: tuple[Part, ...], home: Home, elsewhere: set[str], steps: Grid
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray, FloatArray, dict[int, FloatArray]]:
    """Of a line in a month: what hangs on each store, what of it only while the grid is there, what does in an outage,
    what comes and goes then, the rest of the house, and by leg."""
    lead = line[0]
    watts = {key: use_watts(load, steps) for key, load in home.loads.items()}
    hung: set[str] = set()
    loads: list[FloatArray] = []
    beside: list[FloatArray] = []
    legs: dict[int, FloatArray] = {}
    for rank, x in enumerate(carriers(lead) if len(line) > 1 else line):
        k = store_count(x)
        on, by_leg = np.zeros((all_stores(x), steps.n)), np.zeros((2, steps.n))
        only_beside = np.zeros_like(on)
        for f in x.fed:
            if f.assumed or f.load.id not in watts:
                continue
            hung.add(f.load.id)
            w = watts[f.load.id] * (f.dc_share or 1.0)
            on[:k] += shares(f, k)[:, None] * w
            by_leg += leg_loads(f, w)
        for key in _beside(x) - hung - elsewhere:  # what gear ahead of it serves only while the grid is there
            hung.add(key)
            only_beside[:k] += watts[key] / k
            by_leg += watts[key] / 2
        if k == 1 and len(x.station.legs) == 2:
            legs[rank] = by_leg
        loads.append(on + only_beside)
        beside.append(only_beside)
    rest = np.zeros(steps.n)
    for key, w in watts.items():
        if key not in hung:
            rest += w
    in_outage_w, tiers_w = loads_in_line(lead, steps), tiers_w_in_line(lead, steps)
    return np.concatenate(loads), np.concatenate(beside), in_outage_w, tiers_w, rest, legs


def _beside(x: Part) -> set[str]:
    """Loads that a station serves on ordinary days beyond what it powers in an outage: of the whole house where its
    gear has sensors on the mains, and of the whole panel that its gear stands ahead of."""
    found: set[str] = set()
    for port in x.ports:
        if port.device is None:
            continue
        if port.equipment.traits.beside_mains:
            found |= set(x.home.loads)
        beneath = set(circuits_beneath(port))
        found |= {load.id for load in x.home.loads.values() if load.circuit in beneath}
    return found


def _hours(begin: datetime, end: datetime, zone: str) -> float:
    a, b = (grid(t, zone, 1).start for t in (begin, end))
    return (b.timestamp() - a.timestamp()) / 3600


def _suns(lead: Part, home: Home, steps: Grid, year: int) -> FloatArray:
    """DC W at the inputs of each store of a line; folding panels on the days on which somebody sets them out."""
    like = Outage(
        id="y", name="y", start=datetime(year, 1, 1), hours=24, goal_hours=24, outdoors_c=15, skies=skies_of(home, year)
    )
    everyday = lead.whole.everyday or Everyday()
    total = _light(lead, like, steps, folding=False)
    if everyday.sets_out != "never":
        more = _light(lead, like, steps, folding=True)
        if everyday.sets_out != "all":
            more = more * (steps.weekend == (everyday.sets_out == "weekend"))
        total = total + more
    return total


def _light(lead: Part, like: Outage, steps: Grid, *, folding: bool) -> FloatArray:
    """DC W of the fixed panels of a line alone, or of the folding ones."""

    def only(x: Part) -> Part:
        kept = {k: a for k, a in x.plan.arrays.items() if x.panels[a.panel].portable == folding}
        return replace(x, plan=replace(x.plan, arrays=kept))

    line = tuple(only(x) for x in line_of(lead))
    some = replace(line[0], line=line if len(line) > 1 else ())
    found = line_suns(line_lights(some, like, steps), steps.n)
    return np.zeros((sum(all_stores(x) for x in line), steps.n)) if found is None else found


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
    use = _within([m for m, x in zip(modes, g.line, strict=True) if not x.waits], use)
    by_hand = tuple("hand" in m.by for m in modes)
    overload = relieve(g.line, g.loads_w, g.legs_w, use, reset_steps=_reset_steps(lead), by_hand=by_hand)
    if everyday.no_grid:
        overload = Overload.none(g.loads_w, len(g.line))
    supply = Supply(np.full(n, 0.0 if everyday.no_grid else NO_LIMIT_W), use)
    controls = _by_engine(g) if everyday.no_grid and any(x.plan.engine for x in g.line) else None
    away = _absence(lead, g)
    sun = g.suns_w if g.suns_w.any() else None
    begin = [1.0 if start is None else start] * len(stores)

    def run(charges: Sequence[float]) -> Trace:
        return run_one(stores, charges, overload.loads_w, STEP_H, sun_w=sun, grid=supply, controls=controls, away=away)

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
    )


def _within(modes: Sequence[EverydayModes], use: FloatArray) -> FloatArray:
    """The modes of a year as far as every joining of the line goes; where it does not, the grid carries."""
    offered = [set(m.uses) for m in modes if m.uses]
    for name in ("sun", "store"):
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
    watts = x.charging_w if everyday.charge_w is None else min(x.charging_w, everyday.charge_w)
    return replace(
        store,
        grid=True,
        thrown=thrown,
        grid_w=watts / store_count(x),
        hold=hold,
        resume=resume,
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
