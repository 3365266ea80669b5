"""How large: each school's answer with its reasoning and where it misleads, beside what the simulation needs."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

import numpy as np

from imbuto.core.basics.clock import FloatArray, grid
from imbuto.core.basics.units import hours_text, kwh_text, number_text
from imbuto.core.light.solar_light import solar_by_store
from imbuto.core.limits.instants import Instants, instants
from imbuto.core.run.band import low_of, many_dark
from imbuto.core.run.hand_check import inverse
from imbuto.core.run.nights import nights
from imbuto.core.run.run import Run
from imbuto.core.run.run_switching import alone, controls_of

SizedPart = Literal["inverter", "battery", "solar"]
FIRST_TRIED, LAST_TRIED, TRIES = 0.25, 4.0, 24  # of what the hand check asks for
PRECISE = 0.01


@dataclass(frozen=True, slots=True)
class SchoolAnswer:
    """One school's answer.

    value: W or Wh, None where it has none here
    how: its reasoning with the values in
    misleads: where
    beside: against the simulation, in words
    """

    part: SizedPart
    name: str
    value: float | None
    unit: str
    how: str
    misleads: str
    beside: str = ""


@dataclass(frozen=True, slots=True)
class SimulatedNeed:
    """What the simulation needs.

    inverter_w, start_va: together, and the hardest start
    battery_wh: on the label, None where no store tried reaches the goal
    """

    inverter_w: float
    start_va: float
    starter: str
    battery_wh: float | None


def simulated_need(run: Run, now: Instants) -> SimulatedNeed:
    """What this run's circuits need in this outage, 9 times in 10, with the station's own efficiency and idle."""
    start, who = now.hardest_start(np.ones(len(now.fed)))
    return SimulatedNeed(now.most(now.w + now.high_w), start, who.name if who else "", battery_needed(run))


def battery_needed(run: Run) -> float | None:
    """The least label capacity with which 9 in 10 members reach the goal, Wh, to 1%; None where four times the hand
    check's does not."""
    paper = _on_paper(run)
    low, high = FIRST_TRIED * paper, LAST_TRIED * paper
    found: float | None = None
    while high / low > 1 + PRECISE:
        sizes = np.geomspace(low, high, TRIES)
        reached = np.flatnonzero(_lows(run, sizes) >= run.outage.goal_hours)
        if not len(reached):
            return found
        first = int(reached[0])
        found = float(sizes[first])
        if first == 0:
            return found
        low, high = float(sizes[first - 1]), found
    return found


def _on_paper(run: Run) -> float:
    s = run.store
    real = s.deliverable * s.health * s.cold
    floor = min(s.floor, 0.95)
    return max(
        inverse(
            run.average_w,
            run.outage.goal_hours,
            efficiency=s.efficiency,
            idle_w=s.idle_w,
            deliverable=real,
            floor=floor,
        ),
        1.0,
    )


def _lows(run: Run, sizes: FloatArray) -> FloatArray:
    k = len(run.stores)
    stores = [tuple(replace(s, nominal_wh=float(x) / k) for s in run.stores) for x in sizes]
    hours = min(run.outage.goal_hours + 1, run.outage.simulated_h)
    steps = grid(run.outage.start, run.part.home.site.time_zone, hours, 0.25)
    now = alone(run.part)
    lights = solar_by_store(now, run.outage, steps)
    controls = controls_of(now, steps) if run.controls is not None else None
    return low_of(many_dark(now, run.outage, stores, lights, hours, controls))


def schools(
    run: Run, house_wh_day: float, per_wh: Decimal | None, budget: Decimal | None, *, billed: bool = True
) -> Iterator[SchoolAnswer]:
    """Every school on inverter and battery.

    house_wh_day: of the whole house, by its bills where there are any (billed)
    per_wh: what a Wh on the label costs in this plan's modules
    budget: in the currency, None where none is set
    """
    now = instants(run.part)
    need = simulated_need(run, now)
    yield from _inverter(run, now, need)
    yield from _battery(run, need, house_wh_day, per_wh, budget, billed=billed)


def _inverter(run: Run, now: Instants, need: SimulatedNeed) -> Iterator[SchoolAnswer]:
    sim = need.inverter_w
    yield SchoolAnswer(
        "inverter",
        "Simulated",
        sim,
        "W",
        f"All loads that may run together, plus {number_text(need.start_va)} VA when {need.starter or 'something'} "
        "starts.",
        "",
    )
    everything = sum(f.load.count * f.load.run_w for f in now.fed)
    yield _answer(
        "inverter",
        "Everything at once",
        everything,
        "W",
        sim,
        f"{len(now.fed)} chosen loads, all at the same moment.",
        "It also counts loads that take turns or never run together, and a larger inverter uses more of the "
        "battery itself.",
    )
    peak = _measured(run)
    yield _answer(
        "inverter",
        "Measured peak and hardest start",
        peak,
        "W",
        sim,
        f"The highest five minutes of this outage, {number_text(peak)} W, and the surge for "
        f"{need.starter or 'a start'}.",
        "A mild day's peak isn't a hard day's peak, and averages over minutes hide short starts.",
    )
    if run.part.generator is not None:
        rated = run.part.generator.running_w
        yield _answer(
            "inverter",
            "The old generator’s rating",
            rated,
            "W",
            sim,
            f"{run.part.generator.name} has powered everything so far.",
            "It shows what was once bought, not what the house uses.",
        )
    yield _answer(
        "inverter",
        "The day’s kWh over 24 h",
        run.average_w,
        "W",
        sim,
        f"{kwh_text(24 * run.average_w)} per day over its hours.",
        "Too small, because an average isn't a peak. It trips at the first start.",
    )


def _measured(run: Run) -> float:
    n = max(1, round(run.outage.hours / run.steps.step_h))
    turns = 0.0 if run.tiers_w is None else float(run.tiers_w[:, :n].max(axis=1).sum())
    return float(run.load_w[:n].max()) + turns


def _battery(
    run: Run, need: SimulatedNeed, house_wh_day: float, per_wh: Decimal | None, budget: Decimal | None, *, billed: bool
) -> Iterator[SchoolAnswer]:
    s, goal, sim = run.store, run.outage.goal_hours, need.battery_wh
    usable = s.deliverable * s.health * s.cold * max(1 - s.floor, 0.05)
    yield SchoolAnswer(
        "battery",
        "Simulated",
        sim,
        "Wh",
        f"{hours_text(goal)} reached 9 times in 10{_helped(run)}."
        if sim is not None
        else f"No battery up to four times the hand check reaches {hours_text(goal)} 9 times in 10.",
        "",
    )
    yield _answer(
        "battery",
        "Hours × average ÷ usable share",
        _on_paper(run),
        "Wh",
        sim,
        f"{hours_text(goal)} × ({number_text(run.average_w)} W ÷ {s.efficiency:g} + {number_text(s.idle_w)} W) "
        f"÷ {usable:.2f}.",
        "Half of all outages use more than the average, and this method ignores sun and nights.",
    )
    night = _longest_night_wh(run)
    if night is not None:
        yield _answer(
            "battery",
            "One night, sun by day",
            night / s.efficiency / usable,
            "Wh",
            sim,
            f"{kwh_text(night)} at the circuits in the longest night of the outage.",
            "In a storm, under ice or in smoke, the sun doesn't recharge it.",
        )
    days = max(1, math.ceil(goal / 24))
    yield _answer(
        "battery",
        "Days of autonomy × daily use",
        days * 24 * run.average_w,
        "Wh",
        sim,
        f"{days} × {kwh_text(24 * run.average_w)} per day.",
        "It treats the label's capacity as usable and rounds hours up to days.",
    )
    yield _answer(
        "battery",
        "Twice the daily bill" if billed else "Twice the daily use",
        2 * house_wh_day,
        "Wh",
        sim,
        f"2 × {kwh_text(house_wh_day)} of the whole house.",
        "It pays for loads that no one would back up, and it doesn't show how long they last. Use it as an upper "
        "limit.",
    )
    if budget is not None and per_wh is not None and per_wh > 0:
        bought = float(budget / per_wh)
        yield _answer(
            "battery",
            "By budget",
            bought,
            "Wh",
            sim,
            f"{number_text(float(budget))} at {number_text(float(1000 * per_wh))} a kWh.",
            "A budget tells you what you can buy, not what is enough. Switch, panels and labor cost extra.",
        )


def _helped(run: Run) -> str:
    helps = [*(["sun"] if run.solar_w is not None else []), *(["generator"] if run.part.plan.engine else [])]
    return f", with {' and '.join(helps)} as planned" if helps else ""


def _longest_night_wh(run: Run) -> float | None:
    """AC energy asked for in the longest night within the outage, Wh; None where it has none."""
    h, spans = run.steps.step_h, nights(run.part.home.site, run.steps)
    within = [(a, min(b, run.outage.hours)) for a, b in spans if a < run.outage.hours]
    if not within:
        return None
    asked = run.with_tiers_w
    return max(float(asked[round(a / h) : max(round(b / h), round(a / h) + 1)].sum()) * h for a, b in within)


def solar_schools(
    need_wh_day: float, worst_wh_per_w: float, year_sun_hours: float, worst_sun_hours: float
) -> Iterator[SchoolAnswer]:
    """Schools on panels.

    need_wh_day: DC a day
    worst_wh_per_w: DC Wh a day of each rated W in the worst month, simulated; sun hours: peak sun hours a day on the
        same plane, over the year and in that month
    """
    sim = need_wh_day / worst_wh_per_w if worst_wh_per_w > 0 else None
    yield SchoolAnswer(
        "solar",
        "Simulated, worst month",
        sim,
        "W",
        f"{kwh_text(need_wh_day)} per day at {1000 * worst_wh_per_w:.0f} Wh per day from each rated kW then.",
        "",
    )
    for name, hours, misleads in (
        (
            "Daily use ÷ the year’s sun hours",
            year_sun_hours,
            "A yearly average hides the dark months, when outages come.",
        ),
        (
            "Daily use ÷ the worst month’s sun hours",
            worst_sun_hours,
            "This is closer, but thresholds, clipping and shade still differ.",
        ),
    ):
        value = need_wh_day / (hours * 0.75) if hours > 0 else None
        yield _answer("solar", name, value, "W", sim, f"{kwh_text(need_wh_day)} ÷ ({hours:.1f} h × 0.75).", misleads)


def _answer(
    part: SizedPart, name: str, value: float | None, unit: str, simulated: float | None, how: str, misleads: str
) -> SchoolAnswer:
    beside = ""
    if value is not None and simulated:
        ratio = value / simulated
        beside = "about what is needed" if 0.9 <= ratio <= 1.15 else f"{ratio:.1f} times what is needed"
    return SchoolAnswer(part, name, value, unit, how, misleads, beside)


def implied_w(run: Run, hours: float) -> float:
    """The average AC W that would make a run end after so many hours, by the hand check; never negative."""
    return max((run.usable_wh / hours - run.store.idle_w) * run.store.efficiency, 0.0)
