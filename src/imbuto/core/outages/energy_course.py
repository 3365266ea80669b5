"""The energy a store gains and loses along an outage: the one balance that a gauge is held against.

A store's charge changes by what comes in, less the AC watts over its efficiency, less its own draw."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.clock import FloatArray


@dataclass(frozen=True, slots=True)
class EnergyCourse:
    """Energy up to each end of a step.

    load_w: mean AC W asked of the store in each step, (n,)
    in_w: mean W into its battery, (n,)
    step_h: hours of a step
    efficiency: AC W over battery W
    idle_w: W it draws for itself
    full_wh: from empty to full
    scale: of the load, 1 as planned
    """

    load_w: FloatArray
    in_w: FloatArray
    step_h: float
    efficiency: float
    idle_w: float
    full_wh: float
    scale: float = 1.0

    @property
    def ends(self) -> FloatArray:
        """Hours at the ends of the steps, the beginning among them; (n + 1,)."""
        return np.arange(len(self.load_w) + 1, dtype=np.float64) * self.step_h

    @property
    def drawn_to(self) -> FloatArray:
        """Battery Wh that the load has drawn by each end, as planned; (n + 1,)."""
        return np.concatenate([[0.0], np.cumsum(self.load_w) * self.step_h]) / self.efficiency

    @property
    def came_to(self) -> FloatArray:
        """Wh that have come in by each end; (n + 1,)."""
        return np.concatenate([[0.0], np.cumsum(self.in_w) * self.step_h])

    def came(self, a: float, b: float) -> float:
        """Wh that come in between two hours."""
        return _between(self.ends, self.came_to, a, b)

    def planned_wh(self, a: float, b: float) -> float:
        """Wh that load and own draw take out between two hours."""
        return self.scale * _between(self.ends, self.drawn_to, a, b) + self.idle_w * max(b - a, 0.0)

    def change(self, a: float, b: float) -> float:
        """How the charge changes between two hours, of full; below 0 where it falls."""
        return (self.came(a, b) - self.planned_wh(a, b)) / self.full_wh

    def drawn_wh(self, load_w: float, hours: float) -> float:
        """Wh that a steady load and the own draw take out in so many hours."""
        return (load_w / self.efficiency + self.idle_w) * max(hours, 0.0)

    def share_of(self, wh: float) -> float:
        """Wh as a share of full."""
        return wh / self.full_wh


def _between(ends: FloatArray, total: FloatArray, a: float, b: float) -> float:
    return float(np.interp(b, ends, total) - np.interp(a, ends, total))
