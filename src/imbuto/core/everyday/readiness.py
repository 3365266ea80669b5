"""How ready ordinary days leave a house: an outage from every hour of the year, run to its goal from the charge of
that hour."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from math import ceil

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.everyday.ordinary_year import STEP_H, Ground, Year, uses, year_of
from imbuto.core.plan.everyday_policy import Everyday
from imbuto.core.run.network import Store, run_many

A_HOUR = round(1 / STEP_H)
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

    goal_h: to reach
    months: in which outages are likelier, none for all alike. The sky is that of the year; a generator is left out.
    """
    hours = lasts(y, goal_h)
    reached = (hours >= goal_h - 1e-9).astype(float)
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


def lasts(y: Year, goal_h: float) -> FloatArray:
    """Hours to the first dark from every hour of the year, the goal at most; (8760,)."""
    g, half = y.ground, 2 * STEP_H
    n = max(ceil(goal_h / half - 1e-9), 1)
    starts = np.arange(0, g.steps.n, A_HOUR)
    store, window = _outage_store(y), np.lib.stride_tricks.sliding_window_view

    def ahead(w: FloatArray) -> FloatArray:
        """From every hour on in half hours, (8760, 1, n)."""
        halves = w.reshape(-1, 2).mean(axis=1)
        found: FloatArray = np.ascontiguousarray(window(np.concatenate([halves, halves[:n]]), n)[starts // 2])[
            :, None, :
        ]
        return found

    found = run_many(
        [store],
        np.full((len(starts), 1), store.available_wh),
        y.charge[starts][:, None].copy(),
        ahead(g.asked_w),
        half,
        sun_w=ahead(g.sun_w) if g.sun_w.any() else None,
    )
    return np.minimum(found.first_dark_h[:, 0], n * half)


def _outage_store(y: Year) -> Store:
    """The store with the grid away: what is held is for now."""
    return replace(y.store, grid=False, floor=y.ground.part.plan.floor)


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
    """Hours of ordinary days from a charge, in January and in July, the longer, until the store is at its hold again;
    None for not within three days."""
    g, n = y.ground, 72 * A_HOUR
    found = []
    for begin in (0, g.steps.n // 2):
        there = slice(begin, begin + n)
        part = replace(g, fed_w=g.fed_w[there], sun_w=g.sun_w[there])
        after = year_of(part, y.everyday, start=charge, use=y.use[there]).charge
        met = np.flatnonzero(after >= y.everyday.hold - 1e-6)
        if len(met) == 0:
            return None
        found.append(float(met[0]) * STEP_H)
    return max(found)
