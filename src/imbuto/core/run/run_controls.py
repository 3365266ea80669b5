"""What is switched while an outage runs: circuits that come and go with the charge, a generator, and hands that take
their time and sleep at night."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from imbuto.core.basics.clock import BoolArray, FloatArray
from imbuto.core.plan.sources import School

HYSTERESIS = 0.05  # a charge threshold is left five points away from where it was met; planning default
SURPLUS_FROM = 0.95  # circuits that live on surplus come on from this charge, while the sun brings more than is drawn
CHARGER_SHARE = 0.80  # of a generator's running W that a charger may take; planning default

Turn = Literal["charge", "surplus"]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargeTier:
    """Circuits fed at some charges only.

    off_below, on_from: charge, 0 to 1
    by: the charge alone, or with it the sun bringing more than the rest draws
    by_hand: someone has to come and switch
    store: whose, by its place
    """

    by: Turn
    off_below: float
    on_from: float
    by_hand: bool
    store: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Motor:
    """A generator as the balance sees it.

    running_w: after height
    charger_w: AC it may put into the station, 0 where that input only feeds loads
    still_l_h: fuel at no load
    l_per_wh: for each Wh on top
    fuel_l: at hand
    start_at, stop_at: charge
    school: fill the battery and stop, or carry the house as long as there is fuel
    by_hand: someone has to come and start it
    stores: whose inputs it is plugged into, by their places; its charger is shared out evenly
    also: other stores with the AC W it may put into each, in the order of their places, with what is left
    """

    running_w: float
    charger_w: float
    still_l_h: float
    l_per_wh: float
    fuel_l: float
    start_at: float = 0.25
    stop_at: float = 0.90
    school: School = "fill"
    by_hand: bool = True
    stores: tuple[int, ...] = (0,)
    also: tuple[tuple[int, float], ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Controls:
    """Everything that is switched in one run.

    awake: whether anyone is up
    engine_may: whether the generator may run
    owes_w: mean W of thermostats on what is kept on
    gap_w: what they draw more while catching up; shape (n,) or (k, n)
    delay_h: until someone has noticed and come
    hands: someone can switch at all
    by_itself: the station comes back without them
    """

    tiers: tuple[ChargeTier, ...]
    engine: Motor | None
    awake: BoolArray
    engine_may: BoolArray
    owes_w: FloatArray
    gap_w: FloatArray
    delay_h: float
    hands: bool
    by_itself: bool


@dataclass(frozen=True, slots=True)
class Absence:
    """When stores are at home.

    here: shape (k, n)
    charge: with how much each comes back, 0 to 1, shape (k,)
    """

    here: FloatArray
    charge: FloatArray
