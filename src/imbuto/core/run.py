"""Home x Plan x Outage → Run: one simulated outage with its hours."""

from __future__ import annotations

from dataclasses import dataclass, replace

from imbuto.core.balance import Store, Tally, Trace, capacity_factor, charge_factor
from imbuto.core.clock import STEP_H, FloatArray, Grid, grid
from imbuto.core.controls import Controls
from imbuto.core.equipment import Station
from imbuto.core.glide import glided
from imbuto.core.joining import Joined
from imbuto.core.outage import Outage
from imbuto.core.plan import Plan, Source
from imbuto.core.solar import solar_w
from imbuto.core.steered import steered
from imbuto.core.switching import controls_of, steady, tiers, watts_of

VEHICLE_KEEPS, VEHICLE_MARGIN = 0.20, 1.3  # of its charge, and times the drive, whichever is more; planning defaults
ONE_EFFICIENCY = 0.85  # the school of one system efficiency, idle inside it; planning default


@dataclass(frozen=True, slots=True)
class Run:
    """One simulated outage.

    load_w: mean AC W asked for in each step whatever the charge, shape (n,); average_w: over the outage's own length, with
    what comes and goes by the charge while it is on; hours: to the first dark, None when still on at the end of the
    simulation; solar_w: DC at the inputs, shape (n,), None without arrays; controls: what is switched on the way, None
    where nothing is; tiers_w: mean AC W of each tier while it is on, shape (k, n).
    """

    joined: Joined
    outage: Outage
    store: Store
    steps: Grid
    load_w: FloatArray
    trace: Trace
    average_w: float
    solar_w: FloatArray | None = None
    controls: Controls | None = None
    tiers_w: tuple[FloatArray, ...] = ()

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
        return self.store.usable_wh(self.outage.start_charge)

    @property
    def paper_hours(self) -> float | None:
        """The hand check: usable / (average / efficiency + idle); None when nothing draws."""
        draw = self.store.draw_w(self.average_w)
        return self.usable_wh / draw if draw > 0 else None

    def solar_by(self, hours: float) -> float:
        """DC Wh the arrays bring to their inputs in the first hours; 0 without arrays."""
        if self.solar_w is None:
            return 0.0
        return _within(self.solar_w.tolist(), hours, self.steps.step_h) * self.steps.step_h

    @property
    def until_dark(self) -> Tally:
        """What flowed until the first dark, to the very minute; the whole run where it never goes dark."""
        if self.hours is None:
            return self.trace.tally
        inputs = _Inputs(self.load_w, self.solar_w, self.controls, self.tiers_w)
        return _trace(self.store, self.outage.start_charge, inputs, self.steps.step_h, hours_only=True).tally

    @property
    def with_tiers_w(self) -> FloatArray:
        """Mean AC W asked for in each step, what comes and goes by the charge counted while it is on; shape (n,)."""
        on = self.trace.tiers_on
        if not on:
            return self.load_w
        total = self.load_w.copy()
        for j, watts in enumerate(self.tiers_w):
            total[: len(on)] += watts[: len(on)] * [x[j] for x in on]
        return total

    @property
    def served_wh(self) -> float:
        """AC energy delivered over the outage's own length."""
        return _within(self.trace.served_wh, self.outage.hours, self.steps.step_h)

    @property
    def asked_wh(self) -> float:
        """AC energy asked for over the outage's own length."""
        return self.average_w * self.outage.hours


def _within(per_step: list[float], hours: float, step_h: float) -> float:
    """The sum over the first hours, the last step in part."""
    whole = int(hours / step_h + 1e-9)
    part = hours / step_h - whole
    rest = part * per_step[whole] if part > 1e-9 and whole < len(per_step) else 0.0
    return sum(per_step[:whole]) + rest


def store_of(plan: Plan, source: Source, station: Station, outage: Outage) -> Store:
    """The plan's station and modules as the balance sees them in an outage."""
    one = plan.losses == "one_efficiency"
    return Store(
        nominal_wh=station.nominal_wh + source.modules * station.module_wh,
        deliverable=source.deliverable,
        health=source.health,
        cold=capacity_factor(outage.at(source)),
        floor=floor_of(plan, source, station),
        efficiency=ONE_EFFICIENCY if one else station.efficiency,
        idle_w=0.0 if one else station.idle_w + source.modules * station.module_draw_w,
        restarts_itself=station.restart == "by_itself",
        charge_share=charge_factor(
            outage.at(source), station.charge_min_c, station.charge_max_c, heater=station.heater
        ),
    )


def floor_of(plan: Plan, source: Source, station: Station) -> float:
    """The charge a source stops at: the plan's floor, nothing in an emergency; a vehicle keeps its drive in any case."""
    floor = 0.0 if plan.below_floor else plan.floor
    if not station.vehicle:
        return floor
    return min(max(floor, VEHICLE_KEEPS, VEHICLE_MARGIN * source.drive_wh / station.nominal_wh), 1.0)


def evenness(joined: Joined, steps: Grid, hours: float) -> float:
    """Of two units that each carry a leg, the share of their whole that is out when the first is empty; else 1.

    Half the whole over the busier leg's share of the energy: exact while the legs keep their shares.
    """
    if joined.source is None or joined.source.units < 2 or joined.source.link != "coupler":
        return 1.0
    n = min(steps.n, max(1, round(hours / steps.step_h)))
    legs = {"A": 0.0, "B": 0.0}
    for item in joined.fed:
        mean = float(item.watts(steps)[:n].mean())
        for leg in item.legs:
            legs[leg] += mean / len(item.legs)
    total = sum(legs.values())
    return 1.0 if total <= 0 else 0.5 * total / max(legs.values())


def simulate(
    joined: Joined, outage: Outage, *, hours_only: bool = False, sun: bool = True, step_h: float = STEP_H
) -> Run:
    """Run a plan with a station through an outage.

    hours_only: stop at the first dark (served_wh is then short); sun: False
    leaves its arrays out; step_h: of the balance, which must divide an hour.
    """
    if joined.source is None or joined.station is None:
        raise ValueError("a plan without a station has no run")
    steps = grid(outage.start, joined.home.site.time_zone, outage.simulated_h, step_h)
    grouped = tiers(joined)
    load_w = watts_of(steady(joined), steps)
    tiers_w = tuple(watts_of(items, steps) for _, items in grouped)
    store = store_of(joined.plan, joined.source, joined.station, outage)
    store = replace(store, even=evenness(joined, steps, outage.hours))
    light = solar_w(joined, outage, steps) if sun else None
    controls = controls_of(joined, steps) if _switched(joined, light) else None
    inputs = _Inputs(load_w, light, controls, tiers_w)
    trace = _trace(store, outage.start_charge, inputs, steps.step_h, hours_only=hours_only)
    run = Run(joined, outage, store, steps, load_w, trace, 0.0, light, controls, tiers_w)
    average = _within(run.with_tiers_w.tolist(), outage.hours, steps.step_h) * steps.step_h / outage.hours
    return replace(run, average_w=average)


def _switched(joined: Joined, light: FloatArray | None) -> bool:
    """Whether anything is switched on the way: without sun or an engine nothing comes back once it is dark."""
    return light is not None or joined.plan.engine is not None or any(f.feed.by_charge for f in joined.fed)


@dataclass(frozen=True, slots=True)
class _Inputs:
    load_w: FloatArray
    solar_w: FloatArray | None
    controls: Controls | None
    tiers_w: tuple[FloatArray, ...]


def _trace(store: Store, start: float, inputs: _Inputs, step_h: float, *, hours_only: bool) -> Trace:
    loads = inputs.load_w.tolist()
    light = None if inputs.solar_w is None else inputs.solar_w.tolist()
    if inputs.controls is None:
        return glided(store, start, loads, step_h, stop_when_dark=hours_only)
    tiers_w = [w.tolist() for w in inputs.tiers_w]
    return steered(
        store, start, loads, tiers_w, step_h, inputs.controls, solar_w=light, stop_when_dark=hours_only
    )  # fmt: skip
