"""Reach the hour: of the steps still possible, the set that gives up least and lasts until a named time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.outages.gauge_learning import capped_at_full
from imbuto.core.outages.possible_steps import GIVEN_UP, PossibleStep

MOST_STEPS = 24  # that are weighed against each other, those that save most; planning default


@dataclass(frozen=True, slots=True)
class Evening:
    """A store from now on, as its readings say.

    ends: hours since it went out, now and at every end of a step after it, (k + 1,)
    left_wh: then, as it goes, not capped, (k + 1,)
    over_wh: what has to be left then, its floor and what it is sure of, (k + 1,)
    load_w: AC W asked of it in each of the steps, (k,); shares: of each step that lies ahead, (k,)
    first: of them among those of the outage
    scale, efficiency: of the load
    full_wh: it holds no more
    """

    ends: FloatArray
    left_wh: FloatArray
    over_wh: FloatArray
    load_w: FloatArray
    first: int
    scale: float
    efficiency: float
    full_wh: float

    def left(self, steps: Sequence[PossibleStep]) -> FloatArray:
        """Wh left at the ends with these steps taken, (k + 1,)."""
        k = len(self.load_w)
        there = slice(self.first, self.first + k)
        load = self.load_w - sum((s.less_w[there] for s in steps), np.zeros(k))
        came = np.zeros(k)
        for s in steps:
            if s.feeding is not None:
                load, more = s.feeding.ahead(there).on(load)
                came = came + more
        gain = (self.scale * (self.load_w - load) / self.efficiency + came) * np.diff(self.ends)
        return capped_at_full(self.left_wh + np.concatenate([[0.0], np.cumsum(gain)]), self.full_wh)


def reaches(evening: Evening, steps: Sequence[PossibleStep], until_h: float) -> bool:
    """Whether it is never down to what has to be left, from now until an hour since it went out."""
    there = evening.ends <= until_h + 1e-9
    return bool(np.all(evening.left(steps)[there] > evening.over_wh[there]))


def given_up(steps: Sequence[PossibleStep]) -> tuple[float, ...]:
    """How much of each kind a set gives up, and last how many steps it takes."""
    return (*(round(sum(s.given_up[i] for s in steps), 9) for i in range(len(GIVEN_UP))), float(len(steps)))


def least(evening: Evening, steps: Sequence[PossibleStep], until_h: float) -> list[PossibleStep] | None:
    """The set that gives up least and lasts, one of each group at most; None where none lasts. Exact: a branch is
    left only where all of what is open in it, each at its best, would not last, or costs more already than what was
    found."""
    saving = sorted(steps, key=lambda s: (-_gain(evening, s, until_h), s.taken.id))[:MOST_STEPS]
    # What costs most is decided first, and first without it.
    order = sorted(saving, key=lambda s: (s.given_up, s.taken.id), reverse=True)
    best: list[PossibleStep] | None = None
    cost: tuple[float, ...] = ()

    def look(i: int, chosen: list[PossibleStep]) -> None:
        nonlocal best, cost
        now = given_up(chosen)
        if best is not None and now >= cost:
            return
        if reaches(evening, chosen, until_h):
            best, cost = list(chosen), now
            return
        used = {s.group for s in chosen}
        if i == len(order) or not reaches(evening, [*chosen, *_most(evening, order[i:], used, until_h)], until_h):
            return
        look(i + 1, chosen)
        if order[i].group not in used:
            look(i + 1, [*chosen, order[i]])

    look(0, [])
    return best


def _gain(evening: Evening, step: PossibleStep, until_h: float) -> float:
    there = np.searchsorted(evening.ends, until_h)
    at = min(int(there), len(evening.ends) - 1)
    return float(evening.left([step])[at] - evening.left([])[at])


def _most(evening: Evening, steps: Sequence[PossibleStep], used: set[str], until_h: float) -> list[PossibleStep]:
    """Of every group that is open, all of it at its best: no set of these leaves more at any moment."""
    by_group: dict[str, list[PossibleStep]] = {}
    for s in steps:
        if s.group not in used:
            by_group.setdefault(s.group, []).append(s)
    found = []
    for group in by_group.values():
        lead = group[0]
        less = np.maximum.reduce([np.zeros(len(lead.less_w)), *(s.less_w for s in group)])
        found.append(PossibleStep(lead.taken, "", "", "", lead.given_up, lead.group, less, lead.feeding))
    return found
