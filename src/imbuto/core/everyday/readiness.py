"""How ready ordinary days leave a house: an outage from every hour of the year, run to its goal from the charge of
that hour."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from math import ceil
from statistics import NormalDist

import numpy as np

from imbuto.core.basics.clock import FloatArray, grid
from imbuto.core.basics.evidence import lognormal_sigma
from imbuto.core.everyday.ordinary_year import LIKE, Year, uses, year_of
from imbuto.core.everyday.year_ground import STEP_H, Ground
from imbuto.core.plan.everyday_policy import Everyday
from imbuto.core.run.band_members import DELIVERABLE, HABITS
from imbuto.core.run.network import run_many
from imbuto.core.run.run import line_stores
from imbuto.core.run.run_switching import controls_of

A_HOUR = round(1 / STEP_H)
AT_ONCE = 6  # parts of a year that are run one after another, so that little memory is taken
DRAWS = (0.1, 0.3, 0.5, 0.7, 0.9)  # shares of houses that stay below a draw, each the middle of a fifth
OFTEN = 3.0  # how much likelier an outage is in a month in which most came; planning default


@dataclass(frozen=True, slots=True)
class Readiness:
    """The chance that an outage, beginning at any hour, finds enough to reach the goal.

    error: one sigma of it, as a year has only so many outages that do not overlap
    by_month: of those beginning in each month, January first
    worst: month, 1 to 12
    mean_h: hours to dark, the goal at most, on average
    """

    chance: float
    error: float
    by_month: tuple[float, ...]
    worst: int
    mean_h: float


NOT_YET = Readiness(
    0.0, 0.0, (0.0,) * 12, 1, 0.0
)  # of a plan whose activation is not proven: nothing of it may be counted on


def readiness(y: Year, goal_h: float, months: Sequence[int] = ()) -> Readiness:
    """From every hour of the year.

    What the loads draw and what the battery delivers is no surer here than in a verdict: the chance of each outage is
    that of five draws, below which one house in ten, three in ten … nine in ten stay.

    goal_h: to reach
    months: in which outages are likelier, none for all alike. The sky is that of the year; a generator is left out.
    """
    hours = lasts(y, goal_h)
    reached = _chance_of_each(y, goal_h, hours)
    month = y.ground.months[::A_HOUR][: len(hours)]
    weight = np.where(np.isin(month, list(months)), OFTEN, 1.0) if months else np.ones(len(hours))
    chance = float((reached * weight).sum() / weight.sum())
    apart = max(len(hours) / max(goal_h, 24.0), 1.0)  # outages that do not overlap
    by_month = tuple(float(reached[month == m].mean()) for m in range(1, 13))
    return Readiness(
        chance,
        float((chance * (1 - chance) / apart) ** 0.5),
        by_month,
        int(np.argmin(by_month)) + 1,
        float((hours * weight).sum() / weight.sum()),
    )


def _chance_of_each(y: Year, goal_h: float, expected_h: FloatArray) -> FloatArray:
    """The chance of the goal for each beginning, in fifths; what reaches it drawing more, does drawing less.

    expected_h: hours with the expected draw"""
    factor = dict(zip(DRAWS, _draw_factors(y), strict=True))

    def reaches(share: float, which: np.ndarray) -> np.ndarray:
        if not len(which):
            return np.zeros(0, dtype=bool)
        drawn = replace(y, ground=_drawing(y.ground, factor[share]))
        found: np.ndarray = lasts(drawn, goal_h, which) >= goal_h - 1e-9
        return found

    chance = np.zeros(len(expected_h))
    over = expected_h >= goal_h - 1e-9
    most, few = np.flatnonzero(over), np.flatnonzero(~over)
    always = reaches(0.9, most)
    chance[most] = np.where(always, 1.0, 0.6)
    chance[most[~always]] += 0.2 * reaches(0.7, most[~always])
    sometimes = reaches(0.1, few)
    chance[few] = 0.2 * sometimes
    chance[few[sometimes]] += 0.2 * reaches(0.3, few[sometimes])
    return chance


def _draw_factors(y: Year) -> list[float]:
    """Factors on the expected draw for ``DRAWS``, as the band of a verdict varies it."""
    fed = [f for x in y.ground.line for f in x.fed]
    total = sum(f.load.average_w * f.load.count for f in fed)
    loads = math.sqrt(sum((f.load.relative_spread * f.load.average_w * f.load.count) ** 2 for f in fed))
    sigma = lognormal_sigma(math.hypot(loads / total if total > 0 else 0.0, HABITS, DELIVERABLE))
    return [math.exp(sigma * NormalDist().inv_cdf(share) - sigma * sigma / 2) for share in DRAWS]


def _drawing(g: Ground, factor: float) -> Ground:
    """The ground with outages that draw more or less; its ordinary days are as they were."""
    return replace(g, outage_w=g.outage_w * factor, tiers_w=g.tiers_w * factor)


def lasts(y: Year, goal_h: float, which: np.ndarray | None = None) -> FloatArray:
    """Hours to the first dark of any station of the line from every hour of the year, the goal at most; (8760,).

    which: hours of the year, ascending; None for all

    The stores, floors, pairs and what a car keeps are those of an outage; what takes turns by the charge goes by it."""
    g, half = y.ground, 2 * STEP_H
    n = max(ceil(goal_h / half - 1e-9), 1)
    starts = np.arange(0, g.loads_w.shape[1], A_HOUR)
    starts = starts if which is None else starts[which]
    lead, stores = g.line[0], line_stores(g.line[0], LIKE)
    counted = _carrying(g)
    loads, tiers = _halves(g.outage_w), _halves(g.tiers_w)
    suns = _halves(g.alone_suns_w) if g.alone_suns_w.any() else None
    gives = None if g.gives is None else g.gives[:, ::2]
    controls = replace(
        controls_of(lead, grid(datetime(2001, 1, 1), "UTC", n * half, half)),
        engine=None,
        awake=np.ones(n, dtype=bool),
        engine_may=np.zeros(n, dtype=bool),
        owes_w=np.zeros((len(stores), n)),
        gap_w=np.zeros((len(stores), n)),
    )
    switched = bool(len(tiers)) or any(x.waits for x in g.line)
    full = np.array([s.available_wh for s in stores])
    first = np.zeros(len(starts))
    for at in np.array_split(np.arange(len(starts)), AT_ONCE):
        found = run_many(
            stores,
            np.tile(full, (len(at), 1)),
            y.charges[starts[at]].copy(),
            _ahead(loads, starts[at] // 2, n),
            half,
            sun_w=None if suns is None else _ahead(suns, starts[at] // 2, n),
            tier_w=_ahead(tiers, starts[at] // 2, n) if len(tiers) else None,
            controls=controls if switched else None,
            gives=None if gives is None else _ahead(gives, starts[at] // 2, n),
            of=counted,
        )
        first[at] = found.first_dark_h[:, counted].min(axis=1)
    return np.minimum(first, n * half)


def _halves(w: FloatArray) -> FloatArray:
    """Quarter hours as half hours, (k, n / 2)."""
    found: FloatArray = w.reshape(len(w), w.shape[1] // 2, 2).mean(axis=2)
    return found


def _ahead(w: FloatArray, begins: np.ndarray, n: int) -> FloatArray:
    """From some half hours on, the year after the year being the same one, (m, k, n)."""
    around = np.concatenate([w, w[:, :n]], axis=1)
    found = np.lib.stride_tricks.sliding_window_view(around, n, axis=1)[:, begins]
    return np.ascontiguousarray(np.swapaxes(found, 0, 1))


def _carrying(g: Ground) -> list[int]:
    """The stores that something hangs on in an outage: the first dark of one of these is the first loss."""
    found = [s for s in range(len(g.outage_w)) if g.outage_w[s].any()]
    return found or list(range(g.places(g.rank).start, g.places(g.rank).stop))


def year_with_missed_switches(g: Ground, everyday: Everyday) -> Year:
    """The year with one switch missed a month, on its middle day: what should have been charged or switched then was
    not."""
    codes = uses(everyday, g)
    dates = np.array([d.day for d in g.days])[g.day]
    rest = uses(replace(everyday, modes={}), g)
    return year_of(g, everyday, use=np.where(dates == 15, rest, codes))


def charge_at(y: Year, at: datetime) -> float:
    """The mean charge that ordinary days of a month leave at an hour of the day."""
    g = y.ground
    hour = at.hour + at.minute / 60
    near = (g.months == at.month) & (np.abs(g.steps.hour - hour) <= 0.5)
    return float(y.charge[:-1][near].mean())


def ready_again_h(y: Year, charge: float) -> float | None:
    """Hours of ordinary days from a charge, in January and in July, the longer, until every store with the grid is at
    its hold again; None for not within three days."""
    g, n = y.ground, 72 * A_HOUR
    on_grid = [s for s, store in enumerate(y.stores) if store.grid]
    hold = np.array([y.stores[s].hold for s in on_grid])
    found = []
    for begin in (0, g.steps.n // 2):
        there = slice(begin, begin + n)
        after = year_of(g.part_of(there), y.everyday, start=charge, use=y.use[there]).charges
        met = np.flatnonzero((after[:, on_grid] >= hold - 1e-6).all(axis=1))
        if len(met) == 0:
            return None
        found.append(float(met[0]) * STEP_H)
    return max(found)
