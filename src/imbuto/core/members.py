"""The balance of ``balance.py`` for many members at once: the same rules, vectorised over members.

A test holds it equal to the plain one, member by member.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from imbuto.core.balance import FULL, MOST_CHANGES, Store
from imbuto.core.clock import BoolArray, FloatArray
from imbuto.core.equipment import TAPER_END, TAPER_FROM
from imbuto.core.helm import Helm

LEAST_H = 1e-12


@dataclass(frozen=True, slots=True)
class Members:
    """What happened to m members over n steps. first_dark_h: shape (m,), infinite where never; charge: 0 to 1, shape
    (n + 1, m); served_wh: AC, solar_wh: DC before tracking, lost_wh: all losses, bypass_wh: served past the inverter,
    ac_in_wh: before the charger, shape (m,)."""

    first_dark_h: FloatArray
    charge: FloatArray
    served_wh: FloatArray
    solar_wh: FloatArray
    lost_wh: FloatArray
    bypass_wh: FloatArray
    ac_in_wh: FloatArray


class Pool:
    """Where all members stand. full_wh, start: what each can draw from full to empty, Wh, and its charge, shape (m,);
    tallied: whether energies are added up, which costs time; idle_w: of each, where they differ in that too."""

    def __init__(
        self, store: Store, full_wh: FloatArray, start: FloatArray, *, tallied: bool = False,
        idle_w: FloatArray | None = None,
    ) -> None:  # fmt: skip
        self.store = store
        self.idle_w = store.idle_w if idle_w is None else idle_w
        self.full_wh = full_wh
        self.wh = start * full_wh
        self.floor_wh = store.floor * full_wh
        self.restart_wh = min(store.floor + store.restart_margin, 1.0) * full_wh
        self.first_dark_h = np.full(len(full_wh), np.inf)
        self.tallied = tallied
        self.served_wh, self.solar_wh, self.lost_wh = (np.zeros_like(full_wh) for _ in range(3))
        self.bypass_wh, self.ac_in_wh, self.dark_h = (np.zeros_like(full_wh) for _ in range(3))
        self.engine_on: BoolArray | None = None
        self.turn(self.wh <= self.floor_wh)
        self.first_dark_h[self.dark] = 0.0

    def turn(self, dark: BoolArray) -> None:
        """Note who is dark now, and between which energies nothing changes for each."""
        self.dark = dark
        self.any_dark = bool(dark.any())
        self.low_wh = np.where(dark if self.engine_on is None else dark | self.engine_on, 0.0, self.floor_wh)
        back = np.nextafter(self.restart_wh, 0.0) if self.store.restarts_itself else self.full_wh
        self.high_wh = np.where(dark, back, self.full_wh)

    def acceptance(self, wh: FloatArray) -> FloatArray:
        """As the plain balance has it: tapering near full, 0 when full."""
        s = self.store
        taken = np.full_like(wh, s.charge_share)
        if s.taper:
            charge = np.clip(wh / self.full_wh, TAPER_FROM, 1.0)
            taken *= 1 - (1 - TAPER_END) * (charge - TAPER_FROM) / (1 - TAPER_FROM)
        taken[self.wh >= self.full_wh * FULL] = 0.0
        return taken


def balance_members(
    store: Store,
    full_wh: FloatArray,
    start: FloatArray,
    load_w: FloatArray,
    step_h: float,
    solar_w: FloatArray | None = None,
    helm: Helm | None = None,
    tiers_w: Sequence[FloatArray] = (),
) -> Members:
    """Step all members through an outage.

    store: what they share; full_wh, start: what each can draw from full to empty, Wh, and its charge, 0 to 1, shape (m,);
    load_w: mean AC W, solar_w: DC W at the input, shape (n, m); helm: what is switched on the way, and tiers_w: mean AC W
    of each of its tiers, shape (n, m).
    """
    pool = Pool(store, full_wh, start, tallied=True)
    charge = np.vstack([start, advance(pool, load_w, 0.0, step_h, solar_w, helm, tiers_w)])
    return Members(
        pool.first_dark_h, charge, pool.served_wh, pool.solar_wh, pool.lost_wh, pool.bypass_wh, pool.ac_in_wh
    )


def advance(
    pool: Pool,
    load_w: FloatArray,
    at_h: float,
    step_h: float,
    solar_w: FloatArray | None = None,
    helm: Helm | None = None,
    tiers_w: Sequence[FloatArray] = (),
) -> FloatArray:
    """Step a pool on from an elapsed hour; the charge after each step, 0 to 1, shape (n, m)."""
    s = pool.store
    stored = np.empty(load_w.shape)
    on_w = load_w / s.efficiency + pool.idle_w
    bus_w = None if solar_w is None else solar_w * s.mppt_efficiency
    shines = None if solar_w is None else np.asarray(solar_w.max(axis=1) > 0)
    for i in range(len(load_w)):
        sun = bus_w[i] if bus_w is not None and shines is not None and shines[i] else None
        light = None if sun is None or solar_w is None else solar_w[i]
        if helm is None:
            _take(pool, _Step(load_w[i], on_w[i], sun, light), at_h + i * step_h, step_h)
        else:
            _take_steered(
                pool, helm, _Step(load_w[i], on_w[i], sun, light), [w[i] for w in tiers_w], at_h + i * step_h, step_h
            )
        stored[i] = pool.wh
    charge: FloatArray = stored / pool.full_wh
    return charge


def _take_steered(p: Pool, helm: Helm, step: _Step, tiers_w: list[FloatArray], at_h: float, step_h: float) -> None:
    """One step with what is switched before it."""
    surplus = np.zeros_like(p.dark) if step.bus_w is None else step.bus_w > step.on_w
    back = helm.decide(p.wh, p.full_wh, p.dark, surplus, restart_wh=p.restart_wh, at_h=at_h, step_h=step_h)
    p.engine_on = helm.engine_on if helm.engine_on.any() else None
    p.turn(p.dark & ~back)
    watts = step.load_w
    for on, w in zip(helm.tier_on, tiers_w, strict=True):
        watts = watts + on * w
    extra = np.where(p.dark, 0.0, helm.extra_w(step_h))
    watts = watts + extra
    ac = None if p.engine_on is None else helm.charger_w(watts)
    on_w = watts / p.store.efficiency + p.idle_w
    came, dark_h = p.ac_in_wh, p.dark_h
    _take(p, _Step(watts, on_w, step.bus_w, step.solar_w, ac), at_h, step_h, timed=True)
    helm.settle(watts, p.ac_in_wh - came, extra, p.dark_h - dark_h, step_h)


@dataclass(frozen=True, slots=True)
class _Step:
    """Powers over a step, shape (m,): AC asked for, DC of that with idle, sun past its tracking and before, AC of a
    generator into the charger; W."""

    load_w: FloatArray
    on_w: FloatArray
    bus_w: FloatArray | None
    solar_w: FloatArray | None
    ac_w: FloatArray | None = None


@dataclass(slots=True)
class _Flows:
    """W drawn, W into the battery (negative out of it), and with sun the surplus, W, and the share of it taken."""

    drawn: FloatArray
    net: FloatArray
    surplus: FloatArray | None = None
    taken: FloatArray | float = 0.0


def _take(p: Pool, step: _Step, at_h: float, step_h: float, *, timed: bool = False) -> None:
    """One step, cut for each member wherever its state changes inside it."""
    left: FloatArray | float = step_h
    for _ in range(2 * MOST_CHANGES):  # as in the balance: what flutters faster than that is left as it is
        f = _flows(p, step, left)
        after = p.wh + f.net * left
        below, above = after < p.low_wh, after > p.high_wh
        changes = below | above
        if not changes.any():
            _book(p, step, f, left, timed=timed)
            p.wh = after
            return
        goes, back = below & ~p.dark, above & p.dark & p.store.restarts_itself
        target = np.where(
            below, np.minimum(p.low_wh, p.wh), np.where(back, p.restart_wh, np.where(above, p.full_wh, after))
        )
        span = np.where(changes, np.maximum((target - p.wh) / np.where(f.net == 0, 1.0, f.net), 0.0), left)
        _book(p, step, f, span, timed=timed)
        p.wh = target
        left = np.where(changes, left - span, 0.0)
        if goes.any() or back.any():
            at = at_h + step_h - left
            p.first_dark_h = np.where(goes & np.isinf(p.first_dark_h), at, p.first_dark_h)
            p.turn((p.dark | goes) & ~back)
        if left.max() <= LEAST_H:
            return


def _flows(p: Pool, step: _Step, left_h: FloatArray | float) -> _Flows:
    s = p.store
    drawn = step.on_w
    if p.any_dark:  # empty: standby lives on sun alone
        flat = p.wh <= 0
        spare = 0.0 if step.bus_w is None else np.minimum(s.standby_w, step.bus_w)
        drawn = np.where(p.dark, np.where(flat, spare, s.standby_w), drawn)
    if p.engine_on is not None:  # the generator carries the house past the inverter
        drawn = np.where(p.engine_on, 0.0, drawn)
    if step.bus_w is None and step.ac_w is None:
        return _Flows(drawn, -drawn)
    gap = -drawn if step.bus_w is None else step.bus_w - drawn
    surplus = np.maximum(gap, 0.0)
    offered = surplus * s.solar_charge_efficiency
    short = surplus - gap
    if step.ac_w is not None:
        offered = offered + step.ac_w * s.ac_charge_efficiency
    taken: FloatArray | float = s.charge_share
    if s.taper and ((p.wh + offered * left_h) > TAPER_FROM * p.full_wh).any():
        taken = p.acceptance(p.wh + (offered * p.acceptance(p.wh) - short) * left_h / 2)
    elif not s.taper:
        taken = p.acceptance(p.wh)
    return _Flows(drawn, offered * taken - short, surplus, taken)


def _book(p: Pool, step: _Step, f: _Flows, span_h: FloatArray | float, *, timed: bool) -> None:
    """Add what flowed over a span; timed: what the helm wants to know, even where nothing is tallied."""
    if timed:
        p.dark_h = p.dark_h + p.dark * span_h
        if step.ac_w is not None:
            p.ac_in_wh = p.ac_in_wh + step.ac_w * f.taken * span_h
    if not p.tallied:
        return
    served = np.where(p.dark, 0.0, step.load_w) * span_h
    past = 0.0 if p.engine_on is None else np.where(p.engine_on, served, 0.0)
    p.served_wh += served
    p.bypass_wh += past
    p.lost_wh += f.drawn * span_h - (served - past)
    if step.ac_w is not None:
        p.lost_wh += step.ac_w * f.taken * (1 - p.store.ac_charge_efficiency) * span_h
    if step.solar_w is not None and f.surplus is not None:
        p.solar_wh += step.solar_w * span_h
        p.lost_wh += step.solar_w * (1 - p.store.mppt_efficiency) * span_h
        p.lost_wh += f.surplus * (1 - f.taken * p.store.solar_charge_efficiency) * span_h
