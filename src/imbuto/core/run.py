"""Home x Plan x Outage → Run: one simulated outage with its hours."""

from __future__ import annotations

from dataclasses import dataclass, replace

from imbuto.core.balance import Store, Tally, Trace, balance, capacity_factor, charge_factor
from imbuto.core.clock import FloatArray, Grid, grid
from imbuto.core.equipment import Station
from imbuto.core.joining import Joined
from imbuto.core.outage import Outage
from imbuto.core.plan import Plan, Source
from imbuto.core.solar import solar_w

ONE_EFFICIENCY = 0.85  # the school of one system efficiency, idle inside it; planning default


@dataclass(frozen=True, slots=True)
class Run:
    """One simulated outage.

    load_w: mean AC W asked for in each step, shape (n,); average_w: over the outage's own length;
    hours: to the first dark, None when still on at the end of the simulation; solar_w: DC at the inputs, shape (n,), None
    without arrays.
    """

    joined: Joined
    outage: Outage
    store: Store
    steps: Grid
    load_w: FloatArray
    trace: Trace
    average_w: float
    solar_w: FloatArray | None = None

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
        light = None if self.solar_w is None else self.solar_w.tolist()
        start, loads = self.outage.start_charge, self.load_w.tolist()
        return balance(self.store, start, loads, self.steps.step_h, solar_w=light, stop_when_dark=True).tally

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
        floor=plan.floor,
        efficiency=ONE_EFFICIENCY if one else station.efficiency,
        idle_w=0.0 if one else station.idle_w + source.modules * station.module_draw_w,
        restarts_itself=station.restart == "by_itself",
        charge_share=charge_factor(
            outage.at(source), station.charge_min_c, station.charge_max_c, heater=station.heater
        ),
    )


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


def simulate(joined: Joined, outage: Outage, *, hours_only: bool = False, sun: bool = True) -> Run:
    """Run a plan with a station through an outage.

    hours_only: stop at the first dark (served_wh is then short); sun: False
    leaves its arrays out.
    """
    if joined.source is None or joined.station is None:
        raise ValueError("a plan without a station has no run")
    steps = grid(outage.start, joined.home.site.time_zone, outage.simulated_h)
    load_w = joined.watts(steps)
    store = store_of(joined.plan, joined.source, joined.station, outage)
    store = replace(store, even=evenness(joined, steps, outage.hours))
    light = solar_w(joined, outage, steps) if sun else None
    trace = balance(
        store, outage.start_charge, load_w.tolist(), steps.step_h,
        solar_w=None if light is None else light.tolist(), stop_when_dark=hours_only,
    )  # fmt: skip
    average = _within(load_w.tolist(), outage.hours, steps.step_h) * steps.step_h / outage.hours
    return Run(joined, outage, store, steps, load_w, trace, average, light)
