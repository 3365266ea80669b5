"""A year of ordinary days, in quarter hours: what the house draws, what the sun brings, and what the plan makes of
both."""

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
from imbuto.core.home.home import Home
from imbuto.core.home.loads import use_watts
from imbuto.core.plan.everyday_policy import Everyday, Use
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage, Weather
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.system import Part, resolve
from imbuto.core.run import march as flow
from imbuto.core.run.network import Store, Supply, Trace, run_one
from imbuto.core.run.run import store_of
from imbuto.core.run.run_controls import Controls
from imbuto.core.run.run_switching import controls_of
from imbuto.core.run.solar_light import day_of, days_of, shares_of, solar_w

STEP_H = 0.25
YEAR_H = 8760
AIR_MEAN_C, AIR_SWING_C = 11.0, 9.0  # of the months, where the home's outages tell nothing; planning default
DAY_C = 20.0  # where the store stands, on ordinary days; planning default
NO_LIMIT_W = 1e6
ENDLESS_L = 1e9  # fuel, where somebody buys more
CODES: dict[Use, float] = {"stand": flow.CHARGE, "charge": flow.CHARGE, "sun": flow.SUN_FIRST, "store": flow.CARRY}


@dataclass(frozen=True, slots=True)
class EverydayModes:
    """What ordinary days a source's joining can carry.

    uses: modes it can be in
    by: who can switch
    why: in a sentence
    """

    uses: tuple[Use, ...]
    by: tuple[str, ...]
    why: str


def can_do(x: Part) -> EverydayModes:
    """As far as the joining goes, never further."""
    if not x.fed:
        return EverydayModes((), (), "This plan connects nothing to a station.")
    if x.line or x.plan.banks or x.waits:
        return EverydayModes(
            (),
            (),
            "This station powers another one or is powered by one. Ordinary days are "
            "worked out only for single stations.",
        )
    if any(e.in_panel and not e.automatic for e in x.by_device.values()):
        return EverydayModes(
            (),
            (),
            "An interlock switches the whole panel by hand, with no power in between. It isn't used on ordinary days.",
        )
    if not x.by_device:
        return EverydayModes(
            ("stand", "sun", "store", "charge"),
            ("itself", "app"),
            "Loads on its cords stay on the station, which is plugged into the wall.",
        )
    if all(e.automatic for e in x.by_device.values()):
        why = "Its gear stands between grid and circuits, and changes over by itself."
        return EverydayModes(("stand", "sun", "store", "charge"), ("itself", "app"), why)
    why = (
        "You switch it by hand, so it changes only while someone is there, and its loads are off once "
        "the charge is down to the share kept for outages."
    )
    return EverydayModes(("stand", "store", "charge"), ("hand",), why)


@dataclass(frozen=True)
class Ground:
    """What a year brings whatever the plan does.

    steps: quarter hours from 1 January
    days: its dates; day: of each step
    fed_w: AC W of what hangs on the source
    asked_w: that in an outage, with its turns
    rest_w: of all else in the house
    sun_w: DC W at its inputs, (n,)
    """

    steps: Grid
    days: tuple[date, ...]
    fed_w: FloatArray
    asked_w: FloatArray
    rest_w: FloatArray
    sun_w: FloatArray
    part: Part

    @cached_property
    def day(self) -> np.ndarray:
        """Which of the days each step is on, (n,)."""
        return np.minimum(day_of(self.steps), len(self.days) - 1)

    @cached_property
    def months(self) -> np.ndarray:
        """Of each step, 1 to 12, (n,)."""
        found: np.ndarray = np.array([d.month for d in self.days])[self.day]
        return found


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


def ground(home: Home, plan: Plan, catalogue: Catalogue, source: str, outages: Sequence[Outage], year: int) -> Ground:
    """A year of one source of a checked plan."""
    zone, air = home.site.time_zone, air_of(home, outages)
    part = next(x for x in resolve(home, plan, catalogue).parts if x.source.id == source)
    fed_ids = {f.load.id: f for f in part.fed if not f.assumed}
    fed, asked, rest = [], [], []
    for month in range(1, 13):
        begin = datetime(year, month, 1)
        end = datetime(year + month // 12, month % 12 + 1, 1)
        steps = grid(begin, zone, _hours(begin, end, zone), STEP_H)
        like = Outage(
            id="m", name="m", start=begin, hours=24, goal_hours=24, outdoors_c=air[month - 1], weather="broken"
        )
        used = in_outage(home, plan, like)
        loads = used.loads
        asked.append(next(p for p in resolve(used, plan, catalogue).parts if p.source.id == source).watts(steps))
        on, off = np.zeros(steps.n), np.zeros(steps.n)
        for key, load in loads.items():
            watts = use_watts(load, steps)
            if key in fed_ids:
                on += watts * (fed_ids[key].dc_share or 1.0)
            else:
                off += watts
        fed.append(on)
        rest.append(off)
    steps = grid(datetime(year, 1, 1), zone, sum(len(f) for f in fed) * STEP_H, STEP_H)
    days = tuple(date(year, 1, 1) + timedelta(days=d) for d in range((date(year + 1, 1, 1) - date(year, 1, 1)).days))
    on_it, in_outages, beside = (np.concatenate(x) for x in (fed, asked, rest))
    return Ground(steps, days, on_it, in_outages, beside, _sun(part, home, steps, year, days), part)


def _hours(begin: datetime, end: datetime, zone: str) -> float:
    a, b = (grid(t, zone, 1).start for t in (begin, end))
    return (b.timestamp() - a.timestamp()) / 3600


def _sun(x: Part, home: Home, steps: Grid, year: int, days: Sequence[date]) -> FloatArray:
    """DC W at the inputs; folding panels on the days on which somebody sets them out."""
    like = Outage(
        id="y", name="y", start=datetime(year, 1, 1), hours=24, goal_hours=24, outdoors_c=15, skies=skies_of(home, year)
    )
    everyday = x.plan.everyday or Everyday()
    folding = {k for k, a in x.plan.arrays.items() if x.panels[a.panel].portable}
    fixed = replace(x, plan=replace(x.plan, arrays={k: a for k, a in x.plan.arrays.items() if k not in folding}))
    found = solar_w(fixed, like, steps)
    total = np.zeros(steps.n) if found is None else found.copy()
    if folding and everyday.sets_out != "never":
        out = replace(x, plan=replace(x.plan, arrays={k: a for k, a in x.plan.arrays.items() if k in folding}))
        more = solar_w(out, like, steps)
        if more is not None:
            there = (
                np.ones(steps.n, dtype=bool)
                if everyday.sets_out == "all"
                else steps.weekend == (everyday.sets_out == "weekend")
            )
            total += more * there
    return total


@dataclass(frozen=True)
class Year:
    """What a plan makes of a year.

    bought_w: AC W from the grid for what hangs on the source, its charging and own draw
    thrown_w: DC W of the sun that nothing took
    given_w: AC W of that to the street
    charge: after each step, the start first, 0 to 1; dark: share of each step that what hangs on it has no power
    use: the mode of each step; (n,)
    """

    ground: Ground
    everyday: Everyday
    store: Store
    trace: Trace
    bought_w: FloatArray
    thrown_w: FloatArray
    given_w: FloatArray
    charge: FloatArray
    use: FloatArray

    @property
    def cycles(self) -> float:
        """Full ones: what went out of the store over what it holds."""
        fell = np.maximum(-np.diff(self.charge), 0.0)
        return float(fell.sum())

    @property
    def unserved_wh(self) -> float:
        """What nobody served."""
        return self.trace.tally.unserved_wh


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

    start: charge at its beginning, the one it ends with where None, so that nothing is won by emptying it
    use: the mode of each step, where it is not what the windows say
    """
    x = g.part
    by_hand = "hand" in can_do(x).by
    like = Outage(
        id="y", name="y", start=datetime(2001, 1, 1), hours=24, goal_hours=24, indoors_c=DAY_C, garage_c=DAY_C
    )
    store = store_of(x.plan, x.source, x.station, like, off=x.inverter_off)
    watts = x.charging_w if everyday.charge_w is None else min(x.charging_w, everyday.charge_w)
    store = replace(
        store,
        grid=True,
        grid_w=watts,
        hold=everyday.hold,
        resume=everyday.resume,
        refill=everyday.refill,
        ac_charge_efficiency=x.station.charge_efficiency,
        floor=max(store.floor, everyday.hold) if by_hand else store.floor,
    )
    use = uses(everyday, g) if use is None else use
    gone = ((use == flow.CARRY) & by_hand) | everyday.no_grid
    supply = Supply(np.where(gone, 0.0, NO_LIMIT_W), use)
    controls = _by_engine(g) if everyday.no_grid and x.plan.engine is not None else None
    sun = g.sun_w[None] if g.sun_w.any() else None
    begin = 1.0 if start is None else start
    trace = run_one([store], [begin], g.fed_w[None], STEP_H, sun_w=sun, grid=supply, controls=controls)
    if start is None and abs(trace.charge[-1, 0] - begin) > 1e-6:
        trace = run_one(
            [store], [float(trace.charge[-1, 0])], g.fed_w[None], STEP_H, sun_w=sun, grid=supply, controls=controls
        )
    bought = trace.grid_wh[:, 0] / STEP_H
    thrown = trace.lost_wh[:, 0] / STEP_H
    given = thrown * store.efficiency if everyday.exports.strip() else np.zeros(len(thrown))
    return Year(g, everyday, store, trace, bought, thrown - given / store.efficiency, given, trace.charge[:, 0], use)


def _by_engine(g: Ground) -> Controls:
    """The plan's generator, refuelled as it burns; turns are for outages."""
    found, n = controls_of(g.part, g.steps), g.steps.n
    engine = replace(found.engine, fuel_l=ENDLESS_L) if found.engine is not None else None
    return replace(found, tiers=(), engine=engine, owes_w=np.zeros((1, n)), gap_w=np.zeros((1, n)))
