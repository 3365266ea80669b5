"""Home x Plan x Outage → Run: one simulated outage with its hours."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from imbuto.core.basics.clock import STEP_H, FloatArray, Grid, grid
from imbuto.core.equipment.power_station import Station
from imbuto.core.light.solar_light import bank_may, bank_w, solar_by_store
from imbuto.core.limits.instants import instants
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.sources import Bank, Source
from imbuto.core.plan.stop_level import floor_of
from imbuto.core.plan.system import Part, PoweredLoad, ahead_of
from imbuto.core.run.battery_store import Store
from imbuto.core.run.battery_temperature import capacity_factor, charge_factor, most_charge_w
from imbuto.core.run.network import run_one
from imbuto.core.run.run_controls import Absence, ChargeTier, Controls
from imbuto.core.run.run_switching import (
    absence_of,
    all_stores,
    controls_of,
    first_store,
    hands,
    line_of,
    loads_in_line,
    places_in_line,
    store_count,
    tiers_in_line,
    tiers_w_in_line,
)
from imbuto.core.run.run_trace import Trace

NOTHING = Trace(np.zeros(0), np.zeros(0), np.zeros(0), np.zeros(0), np.zeros(0))
BANK_DELIVERABLE = 0.97  # of a bare battery, as of a station; planning default
ONE_EFFICIENCY = 0.85  # the school of one system efficiency, idle inside it; planning default


@dataclass(frozen=True, slots=True)
class Run:
    """Hold one simulated outage of one station; stations that are joined are stepped together.

    joined, outage: what was run, and through which outage
    stores: the stores of this source: one, or one for each leg
    steps: the time grid, n steps
    loads_w: mean AC W asked of each store in each step whatever the charge, shape (k, n)
    trace: what happened
    average_w: AC W over the outage's own length, with what comes and goes by the charge while it is on
    suns_w: DC W at the inputs of each store, shape (k, n); None without arrays
    controls: what is switched on the way; None where nothing is
    tiers: the circuits that come and go by the charge, grouped
    tiers_w: mean AC W of each tier while it is on, shape (t, n)
    line: everything that was stepped together
    """

    part: Part
    outage: Outage
    stores: tuple[Store, ...]
    steps: Grid
    loads_w: FloatArray
    trace: Trace
    average_w: float
    suns_w: FloatArray | None = None
    controls: Controls | None = None
    tiers: tuple[tuple[ChargeTier, list[PoweredLoad]], ...] = ()
    tiers_w: FloatArray | None = None
    line: SteppedLine | None = None

    @property
    def store(self) -> Store:
        """All stores as one, for sums: their energy and idle added up."""
        first = self.stores[0]
        if len(self.stores) == 1:
            return first
        idle_w = sum(s.idle_w for s in self.stores)
        return replace(first, nominal_wh=sum(s.nominal_wh for s in self.stores), idle_w=idle_w, pair=None)

    @property
    def load_w(self) -> FloatArray:
        """Mean AC W asked for in each step whatever the charge; shape (n,)."""
        total: FloatArray = self.loads_w.sum(axis=0)
        return total

    @property
    def solar_w(self) -> FloatArray | None:
        """DC W at all inputs, shape (n,); None without arrays."""
        return None if self.suns_w is None else self.suns_w.sum(axis=0)

    @property
    def charge(self) -> FloatArray:
        """Of all stores together after each step, with the start first, 0 to 1; shape (n + 1,)."""
        wh = np.array([s.available_wh for s in self.stores])
        together: FloatArray = self.trace.charge @ (wh / wh.sum())
        return together

    @property
    def served_by_step_wh(self) -> FloatArray:
        """AC Wh delivered in each step; shape (n,)."""
        total: FloatArray = self.trace.served_wh.sum(axis=1)
        return total

    @property
    def hours(self) -> float | None:
        """To the first dark; None: still on at the end."""
        return self.trace.first_dark_h

    @property
    def at_least_h(self) -> float:
        """Hours, with a run that never goes dark counted as long as it was simulated."""
        return self.steps.hours if self.hours is None else self.hours

    @property
    def usable_wh(self) -> float:
        """From the start charge to the floor."""
        return self.store.usable_wh(self.outage.charge_of(self.part.source.id))

    @property
    def paper_hours(self) -> float | None:
        """The hand check: usable / (average / efficiency + idle); None when nothing draws."""
        draw = self.store.draw_w(self.average_w)
        return self.usable_wh / draw if draw > 0 else None

    def solar_by(self, hours: float) -> float:
        """DC Wh the arrays bring to their inputs in the first hours; 0 without arrays."""
        if self.solar_w is None:
            return 0.0
        return _within(self.solar_w, hours, self.steps.step_h) * self.steps.step_h

    @property
    def until_dark(self) -> Trace:
        """What happened until the first dark, to the very minute; the whole run where it never goes dark."""
        return self.trace if self.hours is None else _trace(self, hours_only=True)

    @property
    def with_tiers_w(self) -> FloatArray:
        """Mean AC W asked for in each step, what comes and goes by the charge counted while it is on; shape (n,)."""
        if self.tiers_w is None or not self.tiers:
            return self.load_w
        total, on = self.load_w.copy(), self.trace.tiers_on.T
        total[: on.shape[1]] += (self.tiers_w[:, : on.shape[1]] * on).sum(axis=0)
        return total

    @property
    def served_wh(self) -> float:
        """AC energy delivered over the outage's own length."""
        return _within(self.served_by_step_wh, self.outage.hours, self.steps.step_h)

    @property
    def asked_wh(self) -> float:
        """AC energy asked for over the outage's own length."""
        return self.average_w * self.outage.hours


def _within(per_step: FloatArray, hours: float, step_h: float) -> float:
    """The sum over the first hours, the last step in part."""
    whole = int(hours / step_h + 1e-9)
    part = hours / step_h - whole
    rest = part * float(per_step[whole]) if part > 1e-9 and whole < len(per_step) else 0.0
    return float(per_step[:whole].sum()) + rest


@dataclass(frozen=True, slots=True)
class SteppedLine:
    """Hold what is stepped together.

    stores: all stores, each source's own before its banks
    loads_w, suns_w, tiers_w: as in ``Run``, of all stores and tiers
    own, tiers: which stores and tiers are this run's
    away: when stores are not at home, None where all of them stay
    """

    stores: tuple[Store, ...]
    loads_w: FloatArray
    suns_w: FloatArray | None
    tiers_w: FloatArray
    own: slice
    tiers: slice
    away: Absence | None = None


def stores_of(part: Part, outage: Outage) -> tuple[Store, ...]:
    """The source as the march sees it in an outage: one store, or for two units on a maker's coupler one a leg, of
    which none goes on without the other, unless its maker says so. An odd module is the first unit's."""
    if not part.is_pair:
        whole = store_of(part.plan, part.source, part.station, outage, off=part.inverter_off)
        return (replace(whole, nominal_wh=whole.nominal_wh - left_wh(part)),)
    station, modules = part.station, part.source.modules
    each = replace(
        station,
        nominal_wh=station.nominal_wh / 2,
        charge_w=station.charge_w / 2,
        idle_w=station.own_idle_w / 2,
        solar_inputs=part.unit.solar_inputs,
        solar_each=part.unit.solar_each,
    )
    first, second = (
        store_of(part.plan, replace(part.source, units=1, modules=n), each, outage, off=part.inverter_off)
        for n in (modules - modules // 2, modules // 2)
    )
    return (first, second) if part.unit.pair_goes_on else (replace(first, pair=1), replace(second, pair=0))


def left_wh(part: Part) -> float:
    """What stays in linked units that do not keep each other even: their power splits evenly, the one with fewer
    modules ends first, and what is left in the others counts only if they carry it all alone."""
    source, unit = part.source, part.unit
    if source.units < 2 or source.link == "coupler" or unit.parallel_balances:
        return 0.0
    station = part.station
    more = source.modules % source.units
    if not more:
        return 0.0
    now = instants(part)
    carries = more * (unit.parallel_share if more > 1 else 1.0) * unit.as_built().rated_va
    return 0.0 if now.most(now.va) <= carries else more * station.module_wh


def line_stores(part: Part, outage: Outage) -> tuple[Store, ...]:
    """All stores of a line, each source's own before its banks: what hangs behind another takes from it and draws its
    own from what it passes on, what waits at an inlet takes its turn there, a bank gives to its source's solar
    input."""
    found: list[Store] = []
    line = line_of(part)
    by_id = {x.source.id: first_store(part, i) for i, x in enumerate(line)}
    for i, x in enumerate(line):
        source, own, begin = x.source, stores_of(x, outage), first_store(part, i)
        own = tuple(s if s.pair is None else replace(s, pair=s.pair + begin) for s in own)
        if source.after in by_id:
            own = tuple(replace(s, after=by_id[source.after]) for s in own)
        elif (up := by_id.get(ahead_of(x.whole, source.id) or "")) is not None:
            own = tuple(_behind(x, s, up) for s in own)
        waiting = next((y.source for y in line if y.source.after == source.id), None)
        if waiting is not None:
            own = tuple(replace(s, swap_at=waiting.swap_at) for s in own)
        found += [*own, *(bank_store(x, bank, outage, begin) for bank in x.plan.banks.values())]
    return tuple(found)


def line_charges(part: Part, outage: Outage) -> list[float]:
    """The charge of every store of a line at the start, 0 to 1, in the order of ``line_stores``; a bank's is its
    station's."""
    return [outage.charge_of(x.source.id) for x in line_of(part) for _ in range(all_stores(x))]


def _behind(part: Part, store: Store, up: int) -> Store:
    """A store that hangs behind another one by its place. Plugged in, it passes that one's power on itself; at a
    switch the power goes round it, and where that is thrown by hand and nobody can, it is never called on."""
    source = part.source
    if source.plugged_into is not None:
        return replace(store, behind=up, own_first=source.own_first, own_pass_w=store.idle_w)
    called = hands(part) or all(part.equipment_of(f.feed).automatic for f in part.fed)
    floor = store.floor if called else 1.0
    return replace(store, behind=up, own_first=source.own_first and called, through_switch=True, floor=floor)


def bank_store(part: Part, bank: Bank, outage: Outage, to: int) -> Store:
    """Bare batteries as the march sees them: they give to a store by its place what lead, input and their makers
    allow."""
    station, branches = part.station, [(x, part.batteries[x.battery]) for x in bank.branches]
    at = outage.garage_c if bank.spot == "garage" else outage.indoors_c
    amps = min(bank.amps, station.solar_input(bank.input).max_a or bank.amps)
    # Amps don't divide evenly among unlike kinds: any of them may carry nearly all.
    amps = min([amps, *(x.parallel * b.discharge_a for x, b in branches if b.discharge_a)])
    volts = min(x.series * b.volts for x, b in branches)
    watts = min(volts * amps, station.solar_input(bank.input).max_w or volts * amps)
    charging = bank.controller_w if at >= max(b.charge_min_c for _, b in branches) else 0.0
    charging = min([charging, *(x.parallel * b.charge_a * volts for x, b in branches if b.charge_a)])
    return Store(
        nominal_wh=sum(x.count * b.wh for x, b in branches),
        deliverable=BANK_DELIVERABLE,
        cold=capacity_factor(at),
        floor=part.plan.floor,
        standby_w=0.0,
        dc_to=to,
        dc_w=watts if at >= max(b.discharge_min_c for _, b in branches) else 0.0,
        dc_dark=bank.by == "night",
        most_charge_w=charging,
    )


def line_lights(part: Part, outage: Outage, steps: Grid) -> list[FloatArray | None]:
    """DC W at the inputs of each store of a line, each source's own before its banks, shape (n,) each; None where
    there are no arrays."""
    found: list[FloatArray | None] = []
    for x in line_of(part):
        found += [*solar_by_store(x, outage, steps), *(bank_w(x, b, outage, steps) for b in x.plan.banks.values())]
    return found


def line_gives(part: Part, outage: Outage, steps: Grid) -> FloatArray | None:
    """Whether each bank of a line may give by its hours or by its input's light, 1 or 0, shape (k, n) in the order of
    ``line_stores``; None where all always may."""
    rows, any_told = [], False
    for x in line_of(part):
        rows.append(np.ones((store_count(x), steps.n)))
        for bank in x.plan.banks.values():
            may = bank_may(x, bank, outage, steps)
            any_told = any_told or may is not None
            rows.append(np.ones((1, steps.n)) if may is None else may[None].astype(float))
    return np.concatenate(rows) if any_told else None


def line_suns(lights: Sequence[FloatArray | None], n: int) -> FloatArray | None:
    """DC W at the inputs of each store of a line, shape (k, n), from ``line_lights``; None where none has any."""
    if all(light is None for light in lights):
        return None
    return np.stack([np.zeros(n) if light is None else light for light in lights])


def store_of(plan: Plan, source: Source, station: Station, outage: Outage, *, off: bool = False) -> Store:
    """The plan's station and modules as one store in an outage. off: its AC output stays off, and takes nothing."""
    one = plan.losses == "one_efficiency"
    factor = charge_factor(outage.at(source), station.charge_min_c, station.charge_max_c, heater=station.heater)
    charger = station.charger_w(source.modules)
    store = Store(
        nominal_wh=station.stored_wh(source.modules),
        deliverable=source.deliverable,
        health=source.health,
        cold=capacity_factor(outage.at(source)),
        efficiency=ONE_EFFICIENCY if one else station.efficiency,
        idle_w=0.0 if one else (0.0 if off else station.own_idle_w) + source.modules * station.module_draw_w,
        restarts_itself=station.restart == "by_itself",
        most_charge_w=most_charge_w(factor, charger, station.solar_w),
    )
    return replace(store, floor=floor_of(plan, source, station, store.available_wh))


def simulate(part: Part, outage: Outage, *, hours_only: bool = False, sun: bool = True, step_h: float = STEP_H) -> Run:
    """Run a plan with a station through an outage.

    hours_only: stop at the first dark (served_wh is then short)
    sun: False leaves its arrays out
    step_h: of the balance, which must divide an hour
    """
    if part.station is None:
        raise ValueError("a plan without a station has no run")
    steps = grid(outage.start, part.home.site.time_zone, outage.simulated_h, step_h)
    own, tiers = places_in_line(part)
    stores, grouped = line_stores(part, outage), tiers_in_line(part)
    loads_w, tiers_w = loads_in_line(part, steps), tiers_w_in_line(part, steps)
    lights = line_lights(part, outage, steps) if sun else [None] * len(stores)
    suns_w = line_suns(lights, steps.n)
    controls = controls_of(part, steps) if _switches(part, lights) else None
    line = SteppedLine(stores, loads_w, suns_w, tiers_w, own, tiers, absence_of(part, steps))
    run = Run(
        part,
        outage,
        stores[own],
        steps,
        loads_w[own],
        NOTHING,
        0.0,
        None if suns_w is None else suns_w[own],
        controls,
        tuple(grouped[tiers]),
        tiers_w[tiers],
        line,
    )
    run = replace(run, trace=_trace(run, hours_only=hours_only))
    average = _within(run.with_tiers_w, outage.hours, steps.step_h) * steps.step_h / outage.hours
    return replace(run, average_w=average)


def _switches(part: Part, lights: Sequence[FloatArray | None]) -> bool:
    """Whether anything is switched on the way: without sun, an engine or a second store nothing comes back once it is
    dark."""
    line = line_of(part)
    if any(light is not None for light in lights) or any(x.plan.engine is not None or x.waits for x in line):
        return True
    return any(f.feed.by_charge for x in line for f in x.fed) or any(x.source.away for x in line)


def _trace(run: Run, *, hours_only: bool) -> Trace:
    line = run.line
    assert line is not None
    start = line_charges(run.part, run.outage)
    whole = run_one(
        line.stores,
        start,
        line.loads_w,
        run.steps.step_h,
        sun_w=line.suns_w,
        tier_w=line.tiers_w,
        controls=run.controls,
        away=line.away,
        gives=line_gives(run.part, run.outage, run.steps),
        until_dark=hours_only,
        of=line.own,
    )
    return whole if len(line.stores) == len(run.stores) else whole.of(line.own, line.tiers)
