"""Every combination of stations, units, modules and panels: what each costs and how long it reaches, 9 times in 10."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from itertools import groupby
from math import isfinite
from typing import Literal

import numpy as np

from imbuto.core.advice.gives_out import violations
from imbuto.core.basics.clock import FloatArray, grid
from imbuto.core.basics.measures import volume_text
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.solar_panel import Panel
from imbuto.core.home.home import Home
from imbuto.core.home.loads import guards
from imbuto.core.light.solar_light import solar_by_store
from imbuto.core.limits.all_limits import fit
from imbuto.core.limits.rules.solar_input_limits import MOST_SERIES, array_limits
from imbuto.core.plan.itemised_costs import to_buy
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.sources import Array, Engine, Source
from imbuto.core.plan.system import Part, Wiring, equipment_in, resolve, resolve_part
from imbuto.core.run.band import joint, low_of, many_dark
from imbuto.core.run.band_members import BAND_STEP_H
from imbuto.core.run.battery_store import Store
from imbuto.core.run.run import simulate, stores_of
from imbuto.core.run.run_switching import alone, controls_of

BEYOND_H = 24.0  # looked at past the goal
STRINGS = (1, 2)  # of panels tried on the first input; planning default
TILT = 30.0
AT_ONCE = 24  # combinations in one batch
Certainty = Literal["fits", "may", "breaks"]
OnProgress = Callable[[float], None]


@dataclass(frozen=True, slots=True)
class Combination:
    """One way to buy.

    panels: or a generator, in words, empty for none
    plan: with it in place
    """

    plan: Plan
    panels: str

    @property
    def source(self) -> Source:
        """Its station with modules."""
        return next(iter(self.plan.sources.values()))


@dataclass(frozen=True, slots=True)
class FrontierPoint:
    """What a combination comes to.

    low_h: hours 9 in 10 exceed, None where that is past horizon_h
    price: of what is still to be bought, where the plan is built without what is there
    beaten_by: one that is no dearer and no shorter, and better in one of the two; None on the frontier
    room: modules that still fit on
    may_trip: a limit may be broken by what is assumed; such a one never beats one that fits, and never reaches the goal
        where health, frost or water in the house depend on it
    """

    combination: Combination
    part: Part
    low_h: float | None
    price: Decimal
    stored_wh: float
    reaches: bool
    room: int
    may_trip: bool = False
    beaten_by: FrontierPoint | None = None


@dataclass(frozen=True, slots=True)
class Frontier:
    """All that fit, cheapest first.

    tried: looked at
    misfit: of those, how many break a limit
    horizon_h: how far it looks
    """

    reaches: list[FrontierPoint]
    tried: int
    misfit: int
    horizon_h: float

    @property
    def best(self) -> list[FrontierPoint]:
        """Those nothing beats, cheapest first."""
        return [r for r in self.reaches if r.beaten_by is None]


def combinations(home: Home, plan: Plan, catalogue: Catalogue) -> Iterator[Combination]:
    """Every station that suits the house and the transfer equipment, alone or linked, with each number of modules,
    without panels, with the plan's own and with a string or two more; and with a generator instead."""
    car = equipment_in(plan, catalogue).traits.from_vehicle
    base = plan.source or Source(id="main", station="")
    for station in sorted(catalogue.stations.values(), key=lambda s: (s.nominal_wh, s.id)):
        if station.leg_volts != home.service.volts or station.vehicle != car or station.currency != home.site.currency:
            continue
        for units, link in _links(station):
            same = (station.id, units, link) == (base.station, base.units, base.link)
            alone = replace(
                base,
                station=station.id,
                module=base.module if same else None,
                units=units,
                link=link,  # type: ignore[arg-type]
                owned=base.owned and same,
            )
            most = station.max_modules * units
            for arrays, words in _arrays(home, plan, station, base.id, catalogue):
                for modules in range(most + 1):
                    source = replace(alone, modules=modules)
                    yield Combination(replace(plan, sources={base.id: source}, arrays=arrays), words)
            made = _smallest_engine(home, plan, catalogue)
            if made is None:
                continue
            for modules in sorted({0, most}):
                use = Engine(generator=made.id, source=base.id)
                source = replace(alone, modules=modules)
                words = f"{made.name} with {volume_text(use.stock_l)}"
                yield Combination(replace(plan, sources={base.id: source}, arrays={}, engine=use), words)


def _smallest_engine(home: Home, plan: Plan, catalogue: Catalogue) -> Generator | None:
    """The smallest generator of the house's voltage, where the plan has none: fuel is a way to the goal as well."""
    house_230 = home.service.volts == 230
    suited = [
        g for g in catalogue.generators.values() if g.currency == home.site.currency and (g.volts == "230") == house_230
    ]
    return min(suited, key=lambda g: (g.running_w, g.id), default=None) if plan.engine is None else None


def _links(station: Station) -> list[tuple[int, str]]:
    pair = [(2, "coupler")] if station.coupler and station.volts == "120" else []
    return [(1, "parallel"), *((n, "parallel") for n in range(2, station.parallel_most + 1)), *pair]


def _arrays(
    home: Home, plan: Plan, station: Station, source_id: str, catalogue: Catalogue
) -> list[tuple[dict[str, Array], str]]:
    found: list[tuple[dict[str, Array], str]] = [({}, "")]
    if plan.arrays:
        found.append((dict(plan.arrays), "the plan’s panels"))
    if not station.solar_inputs:
        return found[:1]
    for panel in catalogue.panels.values():
        if panel.currency != home.site.currency or panel.portable:
            continue
        series = fewest(panel, station, home)
        if series is None:
            continue
        for strings in STRINGS:
            south = 180.0 if home.site.latitude >= 0 else 0.0
            array = Array(
                id="tried",
                name="New panels",
                panel=panel.id,
                series=series,
                parallel=strings,
                tilt=TILT,
                azimuth=south,
                source=source_id,
            )
            found.append(({"tried": array}, f"{array.count} × {panel.name}"))
        break  # one kind of panel is enough to see what sun buys
    return found


def fewest(panel: Panel, station: Station, home: Home) -> int | None:
    """The fewest panels in series that an input starts on and bears; None where no number does."""
    for series in range(1, MOST_SERIES + 1):
        tried = Array(id="tried", name="Tried", panel=panel.id, series=series)
        if all(x.ok for x in array_limits(tried, panel, station, home.site)):
            return series
    return None


def frontier(
    home: Home,
    plan: Plan,
    outage: Outage,
    catalogue: Catalogue,
    *,
    tell: OnProgress = lambda _: None,
    most: int = 20_000,
    whole: Callable[[Plan], Plan] | None = None,
) -> Frontier:
    """Run every combination through an outage.

    home: as it is used in the outage
    tell: called with the part done
    whole: puts a combination into the plan that this one is a part of: then all of that is run, as what shares the
        loads or gives into the station decides with it. None where the plan is one station by itself
    """
    tried = list(combinations(home, plan, catalogue))[:most]
    groups = [list(g) for _, g in groupby(tried, key=lambda c: (replace(c.source, modules=0), c.panels))]
    horizon = min(outage.goal_hours + BEYOND_H, outage.simulated_h)
    there = resolve(home, plan, catalogue).each[0]
    found: list[FrontierPoint] = []
    misfit = done = 0
    for group in groups:
        tell(done / max(len(tried), 1))
        if whole is not None:
            for c in group:
                tell(done / max(len(tried), 1))
                point = _in_whole(home, c, whole(c.plan), outage, catalogue, horizon, there)
                found += [point] if point is not None else []
                misfit += point is None
                done += 1
            continue
        same = _fit(home, group, outage, catalogue)
        if same == "breaks":  # modules hold more, they carry no more
            misfit += len(group)
            done += len(group)
            continue
        for first in range(0, len(group), AT_ONCE):
            tell(done / max(len(tried), 1))
            batch = group[first : first + AT_ONCE]
            each = [resolve_part(home, c.plan, catalogue) for c in batch]
            judged = [(c, x, same or _certainty(x, outage)) for c, x in zip(batch, each, strict=True)]
            good = [(c, x, how == "may") for c, x, how in judged if how != "breaks"]
            misfit += len(batch) - len(good)
            found += _reached(good, outage, horizon, there)
            done += len(batch)
    return Frontier(_ranked(found), len(tried), misfit, horizon)


def _certainty(part: Part, outage: Outage) -> Certainty:
    limits = fit(part, outage)
    if violations(limits):
        return "breaks"
    return "may" if any(x.severity == "may" for x in limits) else "fits"


def _fit(home: Home, group: Sequence[Combination], outage: Outage, catalogue: Catalogue) -> Certainty | None:
    """Whether all of a group that differs by its modules alone fit, may trip or break a limit; None where that hangs on
    their number."""
    ends = {_certainty(resolve_part(home, c.plan, catalogue), outage) for c in (group[0], group[-1])}
    return ends.pop() if len(ends) == 1 else None


def by_itself(plan: Plan) -> bool:
    """Whether a plan is one station that is always there, and nothing that gives into it: many sizes of it are then
    run at once."""
    return len(plan.sources) < 2 and not plan.banks and not any(s.away for s in plan.sources.values())


def _in_whole(
    home: Home, c: Combination, plan: Plan, outage: Outage, catalogue: Catalogue, horizon: float, there: Wiring
) -> FrontierPoint | None:
    """A combination as a part of a whole plan; None where a limit is broken anywhere in it."""
    system = resolve(home, plan, catalogue)
    sure = [_certainty(x, outage) for x in system.parts]
    if "breaks" in sure:
        return None
    may = "may" in sure
    runs = [simulate(x, outage, hours_only=True) for x in system.parts if not x.waits and x.fed]
    low = joint(runs).low_h if runs else None
    x = resolve_part(home, c.plan, catalogue)
    guarded = any(guards(f.load) for part in system.parts for f in part.fed if not f.assumed)
    low = None if low is None or low >= horizon else low
    return FrontierPoint(
        c,
        x,
        low,
        to_buy(x, there),
        x.station.stored_wh(c.source.modules),
        (low is None or low >= outage.goal_hours) and not (may and guarded),
        x.station.max_modules - c.source.modules,
        may,
    )


def _reached(
    found: Sequence[tuple[Combination, Part, bool]], outage: Outage, horizon: float, there: Wiring
) -> Iterator[FrontierPoint]:
    if not found:
        return
    good = [(c, alone(x)) for c, x, _ in found]
    now = good[0][1]
    steps = grid(outage.start, now.home.site.time_zone, horizon, BAND_STEP_H)
    lights = solar_by_store(now, outage, steps)
    stores = [stores_of(x, outage) for _, x in good]
    lows = _lows(good, outage, stores, lights, horizon)
    for (combination, x), low, (_, _, may) in zip(good, lows, found, strict=True):
        sure = not may or not any(guards(f.load) for f in x.fed if not f.assumed)
        station, modules = x.station, combination.source.modules
        yield FrontierPoint(
            combination,
            x,
            low if isfinite(low) else None,
            to_buy(x, there),
            station.stored_wh(modules),
            low >= outage.goal_hours and sure,
            station.max_modules - modules,
            may,
        )


def _lows(
    good: Sequence[tuple[Combination, Part]],
    outage: Outage,
    stores: list[tuple[Store, ...]],
    lights: Sequence[FloatArray | None],
    horizon: float,
) -> list[float]:
    """Hours 9 in 10 exceed. With a generator each is run apart, since its charger differs; else all in one batch."""
    now = good[0][1]
    steps = grid(outage.start, now.home.site.time_zone, horizon, BAND_STEP_H)
    switched = any(f.feed.by_charge for f in now.fed)
    if any(x.plan.engine is not None for _, x in good):
        dark = [
            many_dark(x, outage, [store], lights, horizon, controls_of(x, steps))
            for (_, x), store in zip(good, stores, strict=True)
        ]
        return [float(v) for v in low_of(np.concatenate(dark))]
    controls = controls_of(now, steps) if switched else None
    return [float(v) for v in low_of(many_dark(now, outage, stores, lights, horizon, controls))]


def _ranked(found: list[FrontierPoint]) -> list[FrontierPoint]:
    """Cheapest first, each with the one that beats it: no dearer, no shorter, no less sure, and better in one of the
    three."""
    order = sorted(found, key=lambda r: (r.price, -_hours(r), r.may_trip))
    ranked: list[FrontierPoint] = []
    longest: dict[bool, FrontierPoint] = {}  # so far, by whether it may trip
    for r in order:
        rivals = [longest[may] for may in ((False, True) if r.may_trip else (False,)) if may in longest]
        better = next((x for x in rivals if _hours(x) >= _hours(r)), None)
        if better is None:
            longest[r.may_trip] = r
        ranked.append(r if better is None else replace(r, beaten_by=better))
    return ranked


def _hours(r: FrontierPoint) -> float:
    return float("inf") if r.low_h is None else r.low_h
