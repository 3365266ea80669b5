"""What a year brings to a line of stations whatever they do: what the house draws, and what the sun brings."""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from functools import cached_property
from math import cos, pi

import numpy as np

from imbuto.core.basics.clock import FloatArray, Grid, grid
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.everyday.circuit_schedules import load_watts
from imbuto.core.everyday.grid_limits import leg_loads
from imbuto.core.home.home import Home
from imbuto.core.home.loads import use_watts
from imbuto.core.light.solar_light import day_of, days_of, roof_w, shares_of
from imbuto.core.plan.everyday_policy import Everyday
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage, Weather
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.sources import Array
from imbuto.core.plan.system import Part, PlanSystem, circuits_beneath, resolve
from imbuto.core.run.run import line_gives, line_lights, line_suns
from imbuto.core.run.run_switching import (
    all_stores,
    carriers,
    first_store,
    line_of,
    loads_in_line,
    shares,
    store_count,
    tiers_w_in_line,
)

STEP_H = 0.25
AIR_MEAN_C, AIR_SWING_C = 11.0, 9.0  # of the months, where the home's outages tell nothing; planning default


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
    spared_w: what the house would draw on top if no circuit were off by a schedule, (n,); below 0 while it makes up
    suns_w: DC W at the inputs of each store, (k, n)
    roof_w: AC W of the plan's arrays with an inverter of their own while the grid is there, (n,); owned_roof_w: of that
        what is there without the plan, too
    alone_more_w: DC W on top of suns_w while there is no grid, (k, n): of arrays with an inverter of their own that a
        station runs then, and of those that stay in on ordinary days
    gives: whether each bank may give by its hours or its input's light, (k, n); None for always
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
    spared_w: FloatArray
    suns_w: FloatArray
    roof_w: FloatArray
    owned_roof_w: FloatArray
    alone_more_w: FloatArray
    gives: FloatArray | None = None
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

    @property
    def alone_suns_w(self) -> FloatArray:
        """DC W at the inputs of each store while there is no grid, (k, n)."""
        return self.suns_w + self.alone_more_w

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
        """The same with all that hangs on the stations multiplied in each step, (n,), and another rest, (n,). What
        schedules spare is not known then: metered days are as they were."""
        return replace(
            self,
            loads_w=self.loads_w * share,
            beside_w=self.beside_w * share,
            outage_w=self.outage_w * share,
            tiers_w=self.tiers_w * share,
            legs_w={k: w * share for k, w in self.legs_w.items()},
            rest_w=rest_w,
            spared_w=0.0 * self.spared_w,
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
            spared_w=self.spared_w[at],
            suns_w=self.suns_w[:, at],
            roof_w=self.roof_w[at],
            owned_roof_w=self.owned_roof_w[at],
            alone_more_w=self.alone_more_w[:, at],
            gives=None if self.gives is None else self.gives[:, at],
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
    joined = (np.concatenate([m[i] for m in months], axis=-1) for i in range(6))
    loads, beside, in_outages, tiers, rest, spared = joined
    legs = {k: np.concatenate([m[6][k] for m in months], axis=-1) for k in months[0][6]}
    steps = grid(datetime(year, 1, 1), zone, loads.shape[1] * STEP_H, STEP_H)
    days = tuple(date(year, 1, 1) + timedelta(days=d) for d in range((date(year + 1, 1, 1) - date(year, 1, 1)).days))
    like = _like(home, year)
    suns = _suns(line[0], like, steps)
    roof = [_roof(system, like, steps, owned_only=owned) for owned in (False, True)]
    return Ground(
        steps=steps,
        days=days,
        line=line,
        rank=ids.index(source),
        loads_w=loads,
        beside_w=beside,
        outage_w=in_outages,
        tiers_w=tiers,
        legs_w=legs,
        rest_w=rest,
        spared_w=spared,
        suns_w=suns,
        roof_w=roof[0],
        owned_roof_w=roof[1],
        alone_more_w=np.maximum(_light(line[0], like, steps, lambda *_: True) - suns, 0.0),
        gives=line_gives(line[0], like, steps),
    )


def _roof(system: PlanSystem, like: Outage, steps: Grid, *, owned_only: bool) -> FloatArray:
    total = np.zeros(steps.n)
    for x in system.parts:
        arrays = [a for a in x.plan.ac_arrays if a.owned or not owned_only]
        total += roof_w(x, arrays, like, steps)
    return total


def _month(
    line: tuple[Part, ...], home: Home, elsewhere: set[str], steps: Grid
) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray, FloatArray, FloatArray, dict[int, FloatArray]]:
    """Of a line in a month: what hangs on each store, what of it only while the grid is there, what does in an outage,
    what comes and goes then, the rest of the house, what schedules spare it, and by leg."""
    lead = line[0]
    everyday = lead.whole.everyday or Everyday()
    watts = load_watts(home, everyday.circuits, steps)
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
    spared = sum(
        (use_watts(x, steps) - watts[k] for k, x in home.loads.items() if x.circuit in everyday.circuits), 0 * rest
    )
    in_outage_w, tiers_w = loads_in_line(lead, steps), tiers_w_in_line(lead, steps)
    return np.concatenate(loads), np.concatenate(beside), in_outage_w, tiers_w, rest, spared, legs


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


def _like(home: Home, year: int) -> Outage:
    """What has the skies of a year."""
    begin, skies = datetime(year, 1, 1), skies_of(home, year)
    return Outage(id="y", name="y", start=begin, hours=24, goal_hours=24, outdoors_c=15, skies=skies)


def _suns(lead: Part, like: Outage, steps: Grid) -> FloatArray:
    """DC W at the inputs of each store of a line; folding panels on the days on which somebody sets them out."""
    everyday = lead.whole.everyday or Everyday()

    def by_hand(x: Part, array: Array) -> bool:
        return array.set_out is None and x.panels[array.panel].portable

    def there(array: Array) -> bool:
        return not array.ac and (array.set_out is None or not array.set_out.outage_only)

    total = _light(lead, like, steps, lambda x, array: there(array) and not by_hand(x, array))
    if everyday.sets_out != "never":
        more = _light(lead, like, steps, lambda x, array: there(array) and by_hand(x, array))
        if everyday.sets_out != "all":
            more = more * (steps.weekend == (everyday.sets_out == "weekend"))
        total = total + more
    return total


def _light(lead: Part, like: Outage, steps: Grid, wanted: Callable[[Part, Array], bool]) -> FloatArray:
    """DC W of some of the arrays of a line at the inputs of each of its stores."""

    def only(x: Part) -> Part:
        kept = {k: a for k, a in x.plan.arrays.items() if wanted(x, a)}
        return replace(x, plan=replace(x.plan, arrays=kept))

    line = tuple(only(x) for x in line_of(lead))
    some = replace(line[0], line=line if len(line) > 1 else ())
    found = line_suns(line_lights(some, like, steps), steps.n)
    return np.zeros((sum(all_stores(x) for x in line), steps.n)) if found is None else found
