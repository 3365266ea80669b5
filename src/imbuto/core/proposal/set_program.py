"""The program that chooses: circuits, stances and legs as binaries, limits as rows, class after class.

Rows never forbid what the judge allows, or nearly so; whether a set stands is asked of the judge itself, and what it
says no to is cut away. So the answer is as good as trying everything, whatever fills the battery."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.units import Leg
from imbuto.core.home.loads import PURPOSES
from imbuto.core.plan.outage import Outage
from imbuto.core.proposal.candidates import TURNS_VALUE, Candidates, Pin, why_barred
from imbuto.core.proposal.program_rows import BIG, EPS, ProgramLayout, ProgramRows, energy_rows, limits_rows

Stands = Callable[[Sequence[Pin], Sequence[Leg | None]], bool]  # what the judge says of a set
MOST_CUTS = 400  # of a class; past that its energy is cut by hundredths instead
MOST_EXACT = 8  # circuits up to which every set is tried by itself where an engine makes more last longer


@dataclass(slots=True)
class _Program:
    """Limits as rows, energy and what the judge said no to as cuts, and bounds from pins."""

    found: Candidates
    at: ProgramLayout
    legs: tuple[Leg, ...]
    limits: ProgramRows
    cuts: ProgramRows
    lower: FloatArray
    upper: FloatArray
    stands: Stands

    def best(self, cost: FloatArray, *, with_cuts: bool = True) -> FloatArray | None:
        """The cheapest set, None where no set fits."""
        from scipy.optimize import Bounds, LinearConstraint, milp  # slow to load, and only wanted here
        from scipy.sparse import csr_array

        n, width = self.at.n, self.limits.n + self.limits.helpers
        each = [self.limits, self.cuts] if with_cuts else [self.limits]
        rows = [row for x in each for row in x.rows]
        cells = [(r, j, v) for r, row in enumerate(rows) for j, v in row.items()]
        matrix = csr_array(
            ([v for *_, v in cells], ([r for r, *_ in cells], [j for _, j, _ in cells])), shape=(len(rows), width)
        )
        integral = np.zeros(width)
        integral[: n - 1] = 1
        bounds = (np.concatenate([b, np.full(width - n, far)]) for b, far in ((self.lower, 0.0), (self.upper, BIG)))
        answer: Any = milp(
            np.concatenate([cost, np.zeros(width - n)]),
            constraints=LinearConstraint(
                matrix, np.array([v for x in each for v in x.lower]), np.array([v for x in each for v in x.upper])
            ),
            bounds=Bounds(*bounds),
            integrality=integral,
            options={"mip_rel_gap": 0},
        )
        if answer.x is None:
            return None
        x: FloatArray = answer.x[:n]
        x[:-1] = np.round(x[:-1])
        return x

    def read(self, x: FloatArray) -> tuple[list[Pin], list[Leg | None]]:
        """Stances and legs of a solution."""
        c = self.at.c
        stances: list[Pin] = ["keep_on" if x[i] > 0.5 else "turns" if x[c + i] > 0.5 else "off" for i in range(c)]
        legs = [next((leg for k, leg in enumerate(self.legs) if x[self.at.leg(k, i)[0]] > 0.5), None) for i in range(c)]
        return stances, legs

    @property
    def draws(self) -> FloatArray:
        """Mean W of each variable."""
        row = np.zeros(self.at.n)
        row[: self.at.c], row[self.at.c : 2 * self.at.c] = (
            self.found.keep_w.mean(axis=1),
            self.found.turn_w.mean(axis=1),
        )
        return row

    def standing(self, worth: FloatArray) -> FloatArray | None:
        """The set worth most that the judge lets stand, with as little energy as that takes. None where none does."""
        least = min((float(w) for w in worth if w > 0), default=1.0)
        cost = self.draws * (0.2 / max(float(self.draws.sum()), 1.0)) - worth / least
        for tried in range(MOST_CUTS + 200):
            x = self.best(cost)
            if x is None:
                return None
            stances, legs = self.read(x)
            if self.stands(stances, legs):
                return x
            if tried < MOST_CUTS:
                self.cut(stances, legs)
            else:
                self.cuts.add(self.draws, float(self.draws @ x) * 0.99)
        return None

    def cut(self, stances: list[Pin], legs: list[Leg | None]) -> None:
        """No set that holds what is left of this one once all that does not matter has gone: one of it has to give."""
        if self.found.all_fed.generator is not None and self.at.c <= MOST_EXACT:
            # More drawn may start an engine while someone is awake: a larger set can last longer, so only this one
            # goes.
            row = {j: 1.0 if s != "off" else -1.0 for i, s in enumerate(stances) for j in self.at.on(i)}
            row |= {self.at.c + i: 0.0 for i, s in enumerate(stances) if s == "keep_on"}
            row |= {i: 0.0 for i, s in enumerate(stances) if s == "turns"}
            self.cuts.add(row, sum(s != "off" for s in stances) - 1.0)
            return
        left = list(stances)
        together = {i: (i, j) for a, b, _ in self.found.pairs for i, j in ((a, b), (b, a))}
        order = sorted((i for i, s in enumerate(left) if s != "off"), key=lambda i: float(self.found.keep_w[i].mean()))
        for i in order:
            if left[i] == "off" or self.lower[i] or self.lower[self.at.c + i]:
                continue  # gone with its partner, or pinned
            less = list(left)
            for j in together.get(i, (i,)):
                less[j] = "off"
            if not self.stands(less, legs):
                left = less
        row = {}
        for i, s in enumerate(left):
            if s != "off":
                row[i] = 1.0
                if s == "turns":  # where a turn is too much, so is keeping on
                    row[self.at.c + i] = 1.0
        self.cuts.add(row, sum(s != "off" for s in left) - 1.0)


def solve(
    found: Candidates,
    pins: Mapping[str, Pin],
    outage: Outage,
    hours: float,
    stands: Stands,
    fits: Stands,
    *,
    more: float = 1.0,
) -> tuple[list[Pin], list[Leg | None], tuple[float, ...], bool]:
    """Solve class by class: the stance and leg of each circuit, what each class got, and whether it stands.

    hours: to last, 0 for however long
    stands: the judge
    fits: the judge, of limits alone
    more: what loads draw beyond their mean at the least, where the judge wants more than the mean

    Raises ValueError where pins alone break a limit.
    """
    legs = found.all_fed.station.legs
    at = ProgramLayout(len(found.circuits), len(legs))
    limits = limits_rows(found, outage, at)
    cuts = energy_rows(found, outage, hours, at, more)
    made = _Program(found, at, legs, limits, cuts, np.zeros(at.n), np.ones(at.n), stands)
    made.upper[-1] = BIG
    _bounds(made, pins)
    _life_first(made, fits)
    values: list[float] = []
    held: FloatArray | None = None
    for k in range(len(PURPOSES)):
        worth = np.zeros(at.n)
        worth[: at.c], worth[at.c : 2 * at.c] = found.value[:, k], TURNS_VALUE * found.value[:, k]
        if held is None or float(worth @ held) < float((worth[: at.c] * made.upper[: at.c]).sum()) - EPS:
            better = made.standing(worth)
            if better is None and held is None:
                return _short(made)
            held = held if better is None else better
        assert held is not None
        values.append(float(worth @ held))
        limits.add(worth, np.inf, values[-1] - EPS)
    assert held is not None
    stances, on_legs = made.read(held)
    if len(legs) > 1:
        on_legs = _balanced(made, stances) or on_legs
    return stances, on_legs, tuple(values), True


def _life_first(made: _Program, fits: Stands) -> None:
    """What life and health depend on is never given up for hours: as much of it as fits stands before the goal is
    asked for."""
    worth = np.zeros(made.at.n)
    worth[: made.at.c], worth[made.at.c : 2 * made.at.c] = made.found.value[:, 0], TURNS_VALUE * made.found.value[:, 0]
    alone = replace(made, cuts=ProgramRows(made.at.n), stands=fits)
    x = alone.standing(worth)
    if x is not None:
        made.limits.add(worth, np.inf, float(worth @ x) - EPS)


def _short(made: _Program) -> tuple[list[Pin], list[Leg | None], tuple[float, ...], bool]:
    """What is pinned and what life depends on, and nothing else, where even that does not last."""
    x = made.best(made.draws, with_cuts=False)
    if x is None:
        raise ValueError("no set fits, even with everything off that isn't pinned")
    value = made.found.value
    got = x[: made.at.c] @ value + TURNS_VALUE * (x[made.at.c : 2 * made.at.c] @ value)
    return *made.read(x), tuple(float(v) for v in got), False


def _balanced(made: _Program, stances: list[Pin]) -> list[Leg | None] | None:
    """The same stances with the legs as even as can be, where the judge lets that stand."""
    cost, c = np.zeros(made.at.n), made.at.c
    cost[-1] = 1.0
    for i, s in enumerate(stances):
        made.lower[i] = made.upper[i] = float(s == "keep_on")
        made.lower[c + i] = made.upper[c + i] = float(s == "turns")
    x = made.best(cost)
    if x is None:
        return None
    legs = made.read(x)[1]
    return legs if made.stands(stances, legs) else None


def _bounds(made: _Program, pins: Mapping[str, Pin]) -> None:
    """Pins, turns that will not do, and circuits that cannot be carried at all."""
    found, at, c = made.found, made.at, made.at.c
    for i, circuit in enumerate(found.circuits):
        pin = pins.get(circuit.id)
        if why_barred(found, i) or pin == "off":
            made.upper[i] = made.upper[c + i] = 0
        elif pin == "keep_on":
            made.lower[i], made.upper[c + i] = 1, 0
        elif pin == "turns":
            made.lower[c + i], made.upper[i] = 1, 0
        elif not found.turns[i]:
            made.upper[c + i] = 0
        for k, leg in enumerate(made.legs):
            if found.fixed[i] is not None and not found.both[i] and found.fixed[i] != leg and len(made.legs) > 1:
                made.upper[at.leg(k, i)[0]] = 0
