"""The balance of one source with what is switched on the way: turns by charge or surplus, a generator, a restart by hand.

Decisions fall at the beginning of a step, on the charge there; inside the step powers are constant, as in ``balance``.
"""

from __future__ import annotations

from collections.abc import Sequence

from imbuto.core.balance import Event, State, Store, Trace, begin, record, step
from imbuto.core.controls import OWED, ROUNDING_H, Controls, Engine, Tier
from imbuto.core.glide import Glider

ABOVE = 1 + 1e-9  # a start threshold met to rounding is met


def steered(
    store: Store,
    start: float,
    load_w: Sequence[float],
    tiers_w: Sequence[Sequence[float]],
    step_h: float,
    controls: Controls,
    *,
    solar_w: Sequence[float] | None = None,
    stop_when_dark: bool = False,
) -> Trace:
    """Step one source through an outage with its controls.

    load_w: mean AC W of what is always fed, shape (n,); tiers_w: of each tier while it is on, shape (k, n); the rest as
    in ``balance``.
    """
    s, trace = begin(store, start)
    hand = _Hand(controls, step_h)
    glider, i, n = Glider(store, load_w, step_h, solar_w), -1, len(load_w)
    while i + 1 < n and not (stop_when_dark and s.dark):
        i += 1
        low_wh = hand.nothing_above(s)
        if low_wh is not None:
            j = glider.from_step(s, trace, i, low_wh)
            hand.passed(trace, j - i)
            i = j
            if i >= n:
                break
        base = load_w[i]
        sun = solar_w[i] if solar_w is not None else 0.0
        surplus = sun * store.mppt_efficiency > store.draw_w(base)
        hand.decide(s, trace, i, surplus=surplus)
        watts = base
        for w, on in zip(tiers_w, hand.tier_on, strict=True):
            if on:
                watts += w[i]
        extra = min(hand.gap_w[i], hand.owed_wh / step_h) if hand.owed_wh and not s.dark else 0.0
        watts += extra
        ac = hand.charger_w(watts)
        t = trace.tally
        served, came, dark_h = t.served_wh, t.ac_in_wh, t.dark_h
        step(s, trace, (watts, sun, ac, hand.engine_on), i * step_h, step_h, stop_when_dark=stop_when_dark)
        record(s, trace, served)
        hand.settle(trace, i, watts, t.ac_in_wh - came, extra, t.dark_h - dark_h)
    return trace


class _Hand:
    """Where every switch stands, and for how long someone has been awake since it should have been another way."""

    def __init__(self, controls: Controls, step_h: float) -> None:
        self.c, self.step_h = controls, step_h
        self.up_h = [step_h if x else 0.0 for x in controls.awake.tolist()]
        self.may: list[bool] = controls.engine_may.tolist()
        self.owes_w: list[float] = controls.owes_w.tolist()
        self.gap_w: list[float] = controls.gap_w.tolist()
        self.tier_on = [False] * len(controls.tiers)
        self.tier_wait = [0.0] * len(controls.tiers)
        self.engine_on, self.engine_wait, self.dark_wait, self.owed_wh = False, 0.0, 0.0, 0.0
        self.fuel_l = controls.engine.fuel_l if controls.engine else 0.0

    def decide(self, s: State, trace: Trace, i: int, *, surplus: bool) -> None:
        charge = s.wh / s.full_wh if s.full_wh else 0.0
        up = self.up_h[i]
        if self.c.engine is not None:
            self._engine(self.c.engine, s, trace, i, charge, up)
        if s.dark or self.dark_wait:
            self._restart(s, trace, i, up)
        for j, tier in enumerate(self.c.tiers):
            self._tier(j, tier, i, charge, up, surplus=surplus)

    def _engine(self, engine: Engine, s: State, trace: Trace, i: int, charge: float, up: float) -> None:
        want = self.may[i] and self.fuel_l > 0
        if engine.school == "fill":
            low = charge < engine.stop_at if self.engine_on else charge <= engine.start_at or s.dark
            want = want and low
        if not want:
            self.engine_on, self.engine_wait = False, 0.0
        elif not self.engine_on:
            if not engine.by_hand or (self.c.hands and self.engine_wait >= self.c.delay_h - ROUNDING_H):
                self.engine_on, self.engine_wait = True, 0.0
                self._back(s, trace, i)
            else:
                self.engine_wait += up

    def _restart(self, s: State, trace: Trace, i: int, up: float) -> None:
        if not s.dark or not self.c.hands or self.c.by_itself or s.wh < s.restart_wh:
            self.dark_wait = 0.0
        elif self.dark_wait >= self.c.delay_h - ROUNDING_H:
            self.dark_wait = 0.0
            self._back(s, trace, i)
        else:
            self.dark_wait += up

    def _back(self, s: State, trace: Trace, i: int) -> None:
        if s.dark:
            s.dark = False
            trace.events.append(Event("back", i * self.step_h))

    def _tier(self, j: int, tier: Tier, i: int, charge: float, up: float, *, surplus: bool) -> None:
        want = charge >= (tier.off_below if self.tier_on[j] else tier.on_from)
        if tier.by == "surplus":
            want = want and surplus
        want = want or self.engine_on
        if want == self.tier_on[j]:
            self.tier_wait[j] = 0.0
        elif i == 0 or not tier.by_hand or (self.c.hands and self.tier_wait[j] >= self.c.delay_h - ROUNDING_H):
            self.tier_on[j], self.tier_wait[j] = want, 0.0
        else:
            self.tier_wait[j] += up

    def nothing_above(self, s: State) -> float | None:
        """The stored Wh above which nothing is switched, None where something may be at any charge."""
        engine = self.c.engine
        if s.dark or self.engine_on or self.tier_on or self.owed_wh:
            return None
        if engine is None:
            return s.floor_wh
        return None if engine.school == "carry" else max(s.floor_wh, engine.start_at * s.full_wh * ABOVE)

    def passed(self, trace: Trace, steps: int) -> None:
        """Steps in which nothing was switched."""
        if steps:
            self.engine_wait = 0.0
            trace.tiers_on.extend([()] * steps)
            trace.engine_on.extend([False] * steps)
            trace.fuel_l.extend([0.0] * steps)

    def charger_w(self, watts: float) -> float:
        """AC W the generator puts into the station beside the house."""
        engine = self.c.engine
        if engine is None or not self.engine_on:
            return 0.0
        return min(engine.charger_w, max(engine.running_w - watts, 0.0))

    def settle(self, trace: Trace, i: int, watts: float, ac_wh: float, extra: float, dark_h: float) -> None:
        """After a step: fuel burnt, and what thermostats owe."""
        trace.tiers_on.append(tuple(self.tier_on))
        trace.engine_on.append(self.engine_on)
        if dark_h or extra:
            on_h = self.step_h - dark_h
            self.owed_wh = max(self.owed_wh + OWED * self.owes_w[i] * dark_h - extra * on_h, 0.0)
        used = 0.0
        if self.c.engine is not None and self.engine_on:
            used = self.c.engine.still_l_h * self.step_h + self.c.engine.l_per_wh * (watts * self.step_h + ac_wh)
            used = min(used, self.fuel_l)
            self.fuel_l -= used
            trace.tally.fuel_l += used
            trace.tally.engine_h += self.step_h
        trace.fuel_l.append(used)
