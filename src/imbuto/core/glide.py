"""Stretches of a balance in which nothing comes in and nothing can change: taken at once, by sums known beforehand.

The same figures as step by step, to rounding; only sooner.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from imbuto.core.balance import State, Store, Trace, begin, record, step

LEAST = 4  # steps; a shorter stretch is not worth it


class Glider:
    """Sums of what a source is asked for, so that a stretch of any length costs the same."""

    def __init__(self, store: Store, load_w: Sequence[float], step_h: float, solar_w: Sequence[float] | None) -> None:
        load = np.asarray(load_w, dtype=float)
        self.step_h, self.n = step_h, len(load)
        self.idle_wh = store.idle_w * step_h
        self.served_wh = load * step_h
        self.drawn = np.concatenate([[0.0], np.cumsum((load / store.efficiency + store.idle_w) * step_h)])
        self.served = np.concatenate([[0.0], np.cumsum(self.served_wh)])
        lit = np.zeros(self.n, dtype=bool) if solar_w is None else np.asarray(solar_w) > 0
        ahead = np.where(lit, np.arange(self.n), self.n)
        self.sun_at = np.minimum.accumulate(ahead[::-1])[::-1]

    def from_step(self, s: State, trace: Trace, i: int, low_wh: float) -> int:
        """Go on from step i while no sun shines and at least low_wh is left after each step; the step it stopped at."""
        room = s.wh - low_wh
        if room <= 0:
            return i
        last = int(np.searchsorted(self.drawn, self.drawn[i] + room, side="right")) - 1
        j = min(last, int(self.sun_at[i]), self.n)
        if j - i < LEAST:
            return i
        path = s.wh - (self.drawn[i + 1 : j + 1] - self.drawn[i])
        trace.charge.extend((path / s.full_wh).tolist())
        trace.served_wh.extend(self.served_wh[i:j].tolist())
        served, drawn = float(self.served[j] - self.served[i]), float(self.drawn[j] - self.drawn[i])
        trace.tally.served_wh += served
        trace.tally.idle_wh += self.idle_wh * (j - i)
        trace.tally.conversion_wh += drawn - served - self.idle_wh * (j - i)
        s.wh = float(path[-1])
        return j


def glided(
    store: Store, start: float, load_w: Sequence[float], step_h: float, *, stop_when_dark: bool = False
) -> Trace:
    """The plain balance without sun or charger: at once to where it goes dark, and step by step from there."""
    s, trace = begin(store, start)
    i = 0 if s.dark else Glider(store, load_w, step_h, None).from_step(s, trace, 0, s.floor_wh)
    while i < len(load_w) and not (stop_when_dark and s.dark):
        before = trace.tally.served_wh
        step(s, trace, (load_w[i], 0.0, 0.0, False), i * step_h, step_h, stop_when_dark=stop_when_dark)
        record(s, trace, before)
        i += 1
    return trace
