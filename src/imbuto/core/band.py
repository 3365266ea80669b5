"""How sure the hours are, from the uncertainty of the load figures alone."""

from __future__ import annotations

import math
from dataclasses import dataclass

from imbuto.core.evidence import TARGET_SPREAD, Z_9_IN_10, lognormal_sigma, normal_cdf
from imbuto.core.joining import Joined
from imbuto.core.loads import Load
from imbuto.core.run import Run, simulate

MOST_SIGMAS, HALVINGS = 4.0, 9


@dataclass(frozen=True, slots=True)
class Band:
    """From load figures only. low: the run with loads at their 9-in-10 high; high: at their 1-in-10 low.

    spread: relative one sigma of the fed total; chance: of reaching the goal, 0 to 1.
    """

    low: Run
    high: Run
    spread: float
    chance: float


def fed_energy(run: Run) -> dict[str, float]:
    """Load id → mean W it draws over the outage's own length, turns at their share."""
    n = max(1, round(run.outage.hours / run.steps.step_h))
    return {item.load.id: float(item.watts(run.steps)[:n].mean()) for item in run.joined.fed}


def total_spread(joined: Joined, watts: dict[str, float]) -> float:
    """Relative one sigma of the sum of independent load errors; 0 when nothing is fed."""
    total = sum(watts.values())
    if total <= 0:
        return 0.0
    return math.sqrt(sum((f.load.relative_spread * watts[f.load.id]) ** 2 for f in joined.fed)) / total


def band(run: Run) -> Band:
    """The analytic band of a run: all loads scaled together by their total's lognormal quantiles."""
    spread = total_spread(run.joined, fed_energy(run))
    sigma = lognormal_sigma(spread)
    up = math.exp(Z_9_IN_10 * sigma)
    low = simulate(run.joined, run.outage, scale=up)
    high = simulate(run.joined, run.outage, scale=1 / up)
    return Band(low, high, spread, chance_of(run, sigma))


def chance_of(run: Run, sigma: float) -> float:
    """The chance that the loads' total lets the charge reach the goal: where in its lognormal the goal's total lies.

    Without recharge the goal is reached just when the energy asked for by then fits. With sun the total that just
    reaches it is searched for, as hours only fall when all loads rise.
    """
    if run.solar_w is not None:
        return _chance_with_sun(run, sigma)
    goal = run.outage.goal_hours
    n = min(round(goal / run.steps.step_h), run.steps.n)
    asked = float(run.load_w[:n].sum()) * run.steps.step_h
    room = (run.usable_wh - run.store.idle_w * goal) * run.store.efficiency
    if room <= 0:
        return 0.0
    if asked <= 0 or sigma == 0:
        return 1.0 if asked <= room else 0.0
    return normal_cdf(math.log(room / asked) / sigma)


def _chance_with_sun(run: Run, sigma: float) -> float:
    """The same by halving: between four sigmas less and four more."""

    def reaches(z: float) -> bool:
        then = simulate(run.joined, run.outage, scale=math.exp(z * sigma), hours_only=True)
        return then.hours is None or then.hours >= run.outage.goal_hours

    low, high = -MOST_SIGMAS, MOST_SIGMAS
    if sigma == 0 or not reaches(low):
        return float(sigma == 0 and reaches(0.0))
    if reaches(high):
        return 1.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (middle, high) if reaches(middle) else (low, middle)
    return normal_cdf((low + high) / 2)


@dataclass(frozen=True, slots=True)
class Measure:
    """A load worth measuring. share: of the variance of the hours, 0 to 1; narrows_h: ± hours now minus ± then."""

    load: Load
    share: float
    narrows_h: float


def meter_next(run: Run, most: int = 4) -> list[Measure]:
    """Fed loads ranked by how much measuring each to 8 % narrows the hours of this outage."""
    watts = fed_energy(run)
    draw = run.store.draw_w(sum(watts.values()))
    total = sum((f.load.relative_spread * watts[f.load.id]) ** 2 for f in run.joined.fed)
    if total <= 0 or draw <= 0:
        return []
    per_watt = run.at_least_h / run.store.efficiency / draw  # hours lost per W more, to first order
    found = []
    for item in run.joined.fed:
        own = (item.load.relative_spread * watts[item.load.id]) ** 2
        then = (min(item.load.relative_spread, TARGET_SPREAD) * watts[item.load.id]) ** 2
        narrows = (math.sqrt(total) - math.sqrt(total - own + then)) * per_watt
        if narrows > 1 / 60:
            found.append(Measure(item.load, own / total, narrows))
    return sorted(found, key=lambda m: -m.narrows_h)[:most]
