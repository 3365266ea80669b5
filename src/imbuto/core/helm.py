"""What is switched on the way, for many members at once: the rules of ``steered`` over arrays."""

from __future__ import annotations

import numpy as np

from imbuto.core.clock import BoolArray, FloatArray
from imbuto.core.controls import OWED, ROUNDING_H, Controls, Engine, Tier


class Helm:
    """Where every switch stands for each of m members."""

    def __init__(self, controls: Controls, m: int) -> None:
        self.c = controls
        self.tier_on = [np.zeros(m, dtype=bool) for _ in controls.tiers]
        self.tier_wait = [np.zeros(m) for _ in controls.tiers]
        self.engine_on = np.zeros(m, dtype=bool)
        self.engine_wait, self.dark_wait, self.owed_wh = np.zeros(m), np.zeros(m), np.zeros(m)
        self.fuel_l = np.full(m, controls.engine.fuel_l if controls.engine else 0.0)
        self.i = 0

    def decide(
        self, wh: FloatArray, full_wh: FloatArray, dark: BoolArray, surplus: BoolArray, *, restart_wh: FloatArray,
        at_h: float, step_h: float,
    ) -> BoolArray:  # fmt: skip
        """Turn every switch for the step that begins; which members come back, shape (m,)."""
        self.i = round(at_h / step_h)
        charge = wh / full_wh
        up = step_h if self.c.awake[self.i] else 0.0
        back = np.zeros_like(dark)
        if self.c.engine is not None:
            back = dark & self._start(self.c.engine, charge, dark, up)
        back = back | self._hand(wh, dark & ~back, restart_wh, up)
        for j, tier in enumerate(self.c.tiers):
            self._tier(j, tier, charge, surplus, up)
        return back

    def _start(self, engine: Engine, charge: FloatArray, dark: BoolArray, up: float) -> BoolArray:
        want = (self.fuel_l > 0) & bool(self.c.engine_may[self.i])
        if engine.school == "fill":
            want = want & np.where(self.engine_on, charge < engine.stop_at, (charge <= engine.start_at) | dark)
        waiting = want & ~self.engine_on
        there = (self.engine_wait >= self.c.delay_h - ROUNDING_H) & self.c.hands
        starts = waiting & there if engine.by_hand else waiting
        self.engine_wait = np.where(waiting & ~starts, self.engine_wait + up, 0.0)
        self.engine_on = (self.engine_on & want) | starts
        return starts

    def _hand(self, wh: FloatArray, dark: BoolArray, restart_wh: FloatArray, up: float) -> BoolArray:
        waiting = dark & (wh >= restart_wh) & (self.c.hands and not self.c.by_itself)
        back = waiting & (self.dark_wait >= self.c.delay_h - ROUNDING_H)
        self.dark_wait = np.where(waiting & ~back, self.dark_wait + up, 0.0)
        return back

    def _tier(self, j: int, tier: Tier, charge: FloatArray, surplus: BoolArray, up: float) -> None:
        on, wait = self.tier_on[j], self.tier_wait[j]
        want = charge >= np.where(on, tier.off_below, tier.on_from)
        if tier.by == "surplus":
            want = want & surplus
        want = want | self.engine_on
        waiting = want != on
        there = (wait >= self.c.delay_h - ROUNDING_H) & self.c.hands
        turns = waiting & there if tier.by_hand and self.i > 0 else waiting
        self.tier_on[j] = on ^ turns
        self.tier_wait[j] = np.where(waiting & ~turns, wait + up, 0.0)

    def extra_w(self, step_h: float) -> FloatArray:
        """What thermostats draw more while they catch up, W, shape (m,)."""
        extra: FloatArray = np.minimum(self.c.gap_w[self.i], self.owed_wh / step_h)
        return extra

    def charger_w(self, watts: FloatArray) -> FloatArray:
        """AC W the generator puts into the station beside the house, shape (m,)."""
        engine = self.c.engine
        if engine is None:
            return np.zeros_like(watts)
        room = np.minimum(engine.charger_w, np.maximum(engine.running_w - watts, 0.0))
        return np.where(self.engine_on, room, 0.0)

    def settle(
        self, watts: FloatArray, ac_wh: FloatArray, extra: FloatArray, dark_h: FloatArray, step_h: float
    ) -> None:
        """After a step: fuel burnt, and what thermostats owe."""
        on_h = step_h - dark_h
        owes = OWED * float(self.c.owes_w[self.i])
        self.owed_wh = np.maximum(self.owed_wh + owes * dark_h - extra * on_h, 0.0)
        engine = self.c.engine
        if engine is not None and self.engine_on.any():
            used = engine.still_l_h * step_h + engine.l_per_wh * (watts * step_h + ac_wh)
            self.fuel_l = np.where(self.engine_on, np.maximum(self.fuel_l - used, 0.0), self.fuel_l)
