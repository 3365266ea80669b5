"""Every instant a limit has to look at."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.home.loads import Load
from imbuto.core.plan.load_states import changes, states
from imbuto.core.plan.system import Part, PoweredLoad


@dataclass(frozen=True, slots=True)
class Instants:
    """Every instant a limit has to look at: n loads x q states of a weekday and a weekend day, one for each stretch in
    which no load changes.

    w, va: drawn, shape (n, q)
    high_w: what a meter's highest adds to W, one piece's, where it may run, (n, q)
    extra_va: what a start of one piece adds, (n, q)
    groups: rows of the loads of which one runs at a time, no row in two of them. Sums add, so the worst member of each
        group can be taken by itself.
    """

    fed: Sequence[PoweredLoad]
    w: FloatArray
    va: FloatArray
    extra_va: FloatArray
    high_w: FloatArray
    groups: tuple[tuple[int, ...], ...] = ()

    def most(self, per_load: FloatArray, rows: list[int] | None = None) -> float:
        """The largest sum over loads (or over those rows), at any instant, with the worst member of each group."""
        chosen = list(range(len(self.fed))) if rows is None else rows
        return float(self._sum(per_load, chosen).max()) if chosen else 0.0

    def _sum(self, per_load: FloatArray, rows: Sequence[int]) -> FloatArray:
        """At each instant, shape (q,)."""
        if not self.groups:
            whole = len(rows) == len(self.fed)
            plain: FloatArray = per_load.sum(axis=0) if whole else per_load[list(rows)].sum(axis=0)
            return plain
        kept, grouped = set(rows), {i for g in self.groups for i in g}
        total: FloatArray = per_load[[i for i in rows if i not in grouped]].sum(axis=0)
        for group in self.groups:
            members = [i for i in group if i in kept]
            if members:
                total = total + per_load[members].max(axis=0)
        return total

    def hardest_start(self, share: FloatArray) -> tuple[float, Load | None]:
        """The largest sum of running VA plus one start, and whose start it is. share: of each load, shape (n,).

        A member that starts is the one of its group that runs.
        """
        if not len(self.fed):
            return 0.0, None
        va, extra = self.va * share[:, None], self.extra_va * share[:, None]
        added = extra.copy()
        for group in self.groups:
            members = list(group)
            added[members] += va[members] - va[members].max(axis=0)
        base = self._sum(va, range(len(self.fed)))
        # Only what can start counts as a start; with nothing that can, the running VA stand.
        total = base + np.maximum(np.where(extra > 0, added, -np.inf).max(axis=0), 0.0)
        at = int(total.argmax())
        starts = np.where(extra[:, at] > 0, added[:, at], -np.inf)
        who = int(starts.argmax())
        named = total[at] > 0 and starts[who] >= 0
        return float(total[at]), self.fed[who].load if named else None

    def all_starting_va(self) -> float:
        """Everything starting at once, every piece of it; of a group the worst member."""
        each = self.va.max(axis=1) + self.extra_va.max(axis=1) * np.array([f.load.count for f in self.fed])
        return float(self._sum(each[:, None], range(len(self.fed))).sum()) if len(self.fed) else 0.0


def instants(part: Part) -> Instants:
    """The instants of a plan."""
    fed = tuple(f for f in part.fed if not f.direct)  # what hangs on direct current is none of the inverter's business
    each = [(f.load, f.feed.stance, () if f.feed.by_charge else f.feed.windows) for f in fed]
    # Five minutes like the five before them say nothing new.
    new = np.unique(np.concatenate([[0], *(changes(*x) for x in each)])).astype(int)
    w, extra, high = np.zeros((len(fed), len(new))), np.zeros((len(fed), len(new))), np.zeros((len(fed), len(new)))
    for i, x in enumerate(each):
        drawn, active = states(*x)
        load, may = x[0], active[new]
        w[i] = drawn[new]
        extra[i] = may * load.start_extra_va
        if load.highest_w is not None:
            high[i] = may * max(load.highest_w - load.run_w, 0.0)
    pf = np.array([f.load.pf for f in fed])
    return Instants(fed, w, w / pf[:, None] if len(fed) else w, extra, high, _groups(part, fed))


def _groups(part: Part, fed: Sequence[PoweredLoad]) -> tuple[tuple[int, ...], ...]:
    """Not-together groups as rows; a load named twice belongs to the first group that names it, which is the safe
    side."""
    ids = [item.load.id for item in fed]
    taken: set[str] = set()
    found = []
    for group in part.plan.not_together:
        members = [m for m in dict.fromkeys(group) if m in ids and m not in taken]
        taken |= set(members)
        if len(members) > 1:
            found.append(tuple(ids.index(m) for m in members))
    return tuple(found)
