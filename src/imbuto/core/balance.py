"""The energy balance of one source over an outage, step by step. Energy in = energy out + losses + change."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field

from imbuto.core.equipment import TAPER_END, TAPER_FROM

COLD_POINTS = ((-20.0, 0.55), (-10.0, 0.75), (0.0, 0.88), (10.0, 0.95), (25.0, 1.00))
RESTART_MARGIN = 0.05  # comes back at floor + 5 points of charge; planning default
DARK_STANDBY_W = 8.0  # planning default
COLD_CHARGE, WARM_CHARGE_C = 0.2, 15.0  # a fifth of the charging power at 0 °C, all of it from 15 °C; planning default
FULL = 1 - 1e-9
MOST_CHANGES = 40  # of dark and back within one step; more is a flutter, not a plan


def capacity_factor(cell_c: float) -> float:
    """Share of an LFP cell's 25 °C energy that can be drawn at a temperature in °C; linear between points.

    Planning default. Below -20 °C the last value holds, above 25 °C it is 1.
    """
    if cell_c <= COLD_POINTS[0][0]:
        return COLD_POINTS[0][1]
    for (c0, f0), (c1, f1) in itertools.pairwise(COLD_POINTS):
        if cell_c <= c1:
            return f0 + (f1 - f0) * (cell_c - c0) / (c1 - c0)
    return 1.0


def charge_factor(cell_c: float, least_c: float, most_c: float, *, heater: bool) -> float:
    """Share of its charging power a battery takes at a temperature in °C.

    None outside the maker's range, rising from 0.2 to 1 between 0 and 15 °C; all of it with a heater below, whose own
    draw is not counted. Planning default.
    """
    if cell_c > most_c or (cell_c < least_c and not heater):
        return 0.0
    if heater or cell_c >= WARM_CHARGE_C:
        return 1.0
    return COLD_CHARGE + (1 - COLD_CHARGE) * max(cell_c, 0.0) / WARM_CHARGE_C


@dataclass(frozen=True, slots=True, kw_only=True)
class Store:
    """A source as the balance sees it.

    nominal_wh: on the label, modules in; deliverable, health, cold: factors, 0 to 1; floor: charge at which it stops;
    efficiency: AC out over DC in, idle not in it; idle_w: DC, while the output is on; standby_w: DC, while dark;
    charge_share: of its charging power, at its temperature; even: share of the whole that is out when the first of two
    units that each carry a leg is empty, 1 where all share all.
    """

    nominal_wh: float
    deliverable: float = 1.0
    health: float = 1.0
    cold: float = 1.0
    even: float = 1.0
    floor: float = 0.10
    efficiency: float = 0.94
    idle_w: float = 0.0
    standby_w: float = DARK_STANDBY_W
    restarts_itself: bool = False
    restart_margin: float = RESTART_MARGIN
    mppt_efficiency: float = 0.97
    solar_charge_efficiency: float = 0.97
    ac_charge_efficiency: float = 0.92
    taper: bool = True
    charge_share: float = 1.0

    @property
    def available_wh(self) -> float:
        """What could be drawn from full to empty, Wh."""
        return self.nominal_wh * self.deliverable * self.health * self.cold * self.even

    def usable_wh(self, start: float) -> float:
        """What can be drawn from a start charge down to the floor, Wh; never negative."""
        return self.available_wh * max(start - self.floor, 0.0)

    def draw_w(self, load_w: float) -> float:
        """Battery side of an AC load, W."""
        return load_w / self.efficiency + self.idle_w


@dataclass(slots=True)
class Tally:
    """Energy so far, Wh. All positive; solar_wh is DC before tracking loss, ac_in_wh before the charger; bypass_wh: served
    past the inverter by a generator; dark_h, engine_h: h dark, and of a generator running; fuel_l: it burnt, l."""

    served_wh: float = 0.0
    unserved_wh: float = 0.0
    solar_wh: float = 0.0
    ac_in_wh: float = 0.0
    conversion_wh: float = 0.0
    idle_wh: float = 0.0
    standby_wh: float = 0.0
    tracking_wh: float = 0.0
    charging_wh: float = 0.0
    curtailed_wh: float = 0.0
    bypass_wh: float = 0.0
    dark_h: float = 0.0
    engine_h: float = 0.0
    fuel_l: float = 0.0

    @property
    def lost_wh(self) -> float:
        """Everything that went in and neither came out nor stayed."""
        losses = self.conversion_wh + self.idle_wh + self.standby_wh
        return losses + self.tracking_wh + self.charging_wh + self.curtailed_wh


@dataclass(frozen=True, slots=True)
class Event:
    """kind: ``dark`` or ``back``; hour: elapsed hours."""

    kind: str
    hour: float


@dataclass(slots=True)
class Trace:
    """What happened. charge: fraction after each step, with the start first, n + 1; served_wh: AC, each step, n;
    tiers_on, engine_on: what was on in each step, and fuel_l: burnt in it; empty where nothing is switched on the way;
    fluttered: it went on and off more often within a step than is followed."""

    charge: list[float] = field(default_factory=list)
    served_wh: list[float] = field(default_factory=list)
    events: list[Event] = field(default_factory=list)
    tiers_on: list[tuple[bool, ...]] = field(default_factory=list)
    engine_on: list[bool] = field(default_factory=list)
    fuel_l: list[float] = field(default_factory=list)
    fluttered: bool = False
    tally: Tally = field(default_factory=Tally)

    @property
    def first_dark_h(self) -> float | None:
        """Elapsed hours at the first dark, None when it never goes dark."""
        return next((e.hour for e in self.events if e.kind == "dark"), None)


def balance(
    store: Store,
    start: float,
    load_w: Sequence[float],
    step_h: float,
    *,
    solar_w: Sequence[float] | None = None,
    ac_charge_w: float = 0.0,
    stop_when_dark: bool = False,
) -> Trace:
    """Step one source through an outage.

    start: charge, 0 to 1; load_w: mean AC W per step, shape (n,); step_h: h; solar_w: DC W at the input, shape (n,);
    ac_charge_w: W from another AC source into the charger; stop_when_dark: end at the first dark, for hours alone.
    Within a step powers are constant, and going dark and coming back are interpolated.
    """
    s, trace = begin(store, start)
    for i, watts in enumerate(load_w):
        if stop_when_dark and s.dark:
            break
        before = trace.tally.served_wh
        inputs = (watts, solar_w[i] if solar_w is not None else 0.0, ac_charge_w, False)
        step(s, trace, inputs, i * step_h, step_h, stop_when_dark=stop_when_dark)
        record(s, trace, before)
    return trace


def begin(store: Store, start: float) -> tuple[State, Trace]:
    """A source at its start charge, dark from the first moment where that is at the floor or below."""
    s = State(store, start * store.available_wh)
    trace = Trace(charge=[start])
    if s.wh <= s.floor_wh:
        s.dark = True
        trace.events.append(Event("dark", 0.0))
    return s, trace


def record(s: State, trace: Trace, served_before_wh: float) -> None:
    """Note the charge after a step, and what was served in it."""
    trace.charge.append(s.wh / s.full_wh if s.full_wh else 0.0)
    trace.served_wh.append(trace.tally.served_wh - served_before_wh)


class State:
    """Where a source stands: stored Wh, and whether it is dark."""

    __slots__ = ("dark", "floor_wh", "full_wh", "restart_wh", "store", "wh")

    def __init__(self, store: Store, wh: float) -> None:
        self.store = store
        self.wh = wh
        self.full_wh = store.available_wh
        self.floor_wh = store.floor * self.full_wh
        self.restart_wh = min(store.floor + store.restart_margin, 1.0) * self.full_wh
        self.dark = False

    def acceptance(self, wh: float) -> float:
        """The share of the charging power offered that is taken at a stored energy: tapering near full, 0 when full."""
        charge = wh / self.full_wh if self.full_wh else 1.0
        if self.wh >= self.full_wh * FULL:
            return 0.0
        share = self.store.charge_share
        if not self.store.taper or charge <= TAPER_FROM:
            return share
        return share * (1 - (1 - TAPER_END) * (min(charge, 1.0) - TAPER_FROM) / (1 - TAPER_FROM))


@dataclass(slots=True)
class _Flows:
    """Constant powers over a piece of a step, W; net_w: into the battery, negative out of it."""

    drawn_w: float
    net_w: float
    surplus_w: float = 0.0
    accepted: float = 0.0


Inputs = tuple[
    float, float, float, bool
]  # AC load, DC solar, AC into the charger, all W; whether a generator carries it


def _flows(s: State, inputs: Inputs, span_h: float) -> _Flows:
    load_w, solar_w, ac_w, bypass = inputs
    store = s.store
    bus_w = solar_w * store.mppt_efficiency
    drawn_w = store.standby_w if s.dark else load_w / store.efficiency + store.idle_w
    if bypass:
        drawn_w = 0.0
    elif s.dark and s.wh <= 0:
        drawn_w = min(drawn_w, bus_w)  # empty: standby lives on sun alone
    if bus_w <= 0 and ac_w <= 0:
        return _Flows(drawn_w, -drawn_w)
    surplus_w = max(bus_w - drawn_w, 0.0)
    offered_w = surplus_w * store.solar_charge_efficiency + ac_w * store.ac_charge_efficiency
    short_w = max(drawn_w - bus_w, 0.0)
    # The taper is read at the middle of the piece, which makes it exact to second order.
    taken = s.acceptance(s.wh + (offered_w * s.acceptance(s.wh) - short_w) * span_h / 2)
    return _Flows(drawn_w, offered_w * taken - short_w, surplus_w, taken)


def step(s: State, trace: Trace, inputs: Inputs, at_h: float, step_h: float, *, stop_when_dark: bool = False) -> None:
    """One step, cut wherever the state changes inside it."""
    if inputs[1] <= 0 and inputs[2] <= 0 and not inputs[3] and _plain_step(s, trace.tally, inputs[0], step_h):
        return
    left = step_h
    changes = 0
    while left > 1e-12 and not (stop_when_dark and s.dark):
        flows = _flows(s, inputs, left)
        span, event = _until_change(s, flows.net_w, left)
        _book(s, trace.tally, inputs, flows, span)
        s.wh = min(s.wh + flows.net_w * span, s.full_wh)
        left -= span
        if event == "empty":
            s.wh = 0.0
        elif event and changes >= MOST_CHANGES:
            # Going on and off faster than anything is switched: dark for what is left of the step.
            trace.fluttered = True
            s.dark = True
            _book(s, trace.tally, inputs, _Flows(0.0, 0.0), left)
            return
        elif event:
            changes += 1
            s.dark = event == "dark"
            s.wh = min(s.floor_wh, s.wh) if s.dark else s.restart_wh  # a generator may stop below the floor
            trace.events.append(Event(event, at_h + step_h - left))


def _plain_step(s: State, tally: Tally, load_w: float, step_h: float) -> bool:
    """The common step: nothing comes in and nothing changes. False, and nothing done, where it is not that."""
    store = s.store
    drawn_wh = (store.standby_w if s.dark else load_w / store.efficiency + store.idle_w) * step_h
    after = s.wh - drawn_wh
    if after < (0.0 if s.dark else s.floor_wh):
        return False
    s.wh = after
    if s.dark:
        tally.dark_h += step_h
        tally.unserved_wh += load_w * step_h
        tally.standby_wh += drawn_wh
    else:
        tally.served_wh += load_w * step_h
        tally.conversion_wh += drawn_wh - (load_w + store.idle_w) * step_h
        tally.idle_wh += store.idle_w * step_h
    return True


def _until_change(s: State, net_w: float, left_h: float) -> tuple[float, str]:
    """How long these powers hold, h, and what then happens: dark, back, empty, or nothing."""
    after = s.wh + net_w * left_h
    if not s.dark and net_w < 0 and after < s.floor_wh:
        return max((s.wh - s.floor_wh) / -net_w, 0.0), "dark"
    if s.dark and net_w < 0 and after < 0:
        return s.wh / -net_w, "empty"
    if s.dark and s.store.restarts_itself and net_w > 0 and after >= s.restart_wh:
        return max((s.restart_wh - s.wh) / net_w, 0.0), "back"
    if net_w > 0 and after > s.full_wh:
        return (s.full_wh - s.wh) / net_w, ""
    return left_h, ""


def _book(s: State, tally: Tally, inputs: Inputs, flows: _Flows, span_h: float) -> None:
    """Add what flowed over a span to the tally."""
    load_w, solar_w, ac_w, bypass = inputs
    store = s.store
    if bypass:
        tally.served_wh += load_w * span_h
        tally.bypass_wh += load_w * span_h
    elif s.dark:
        tally.dark_h += span_h
        tally.unserved_wh += load_w * span_h
        tally.standby_wh += flows.drawn_w * span_h
    else:
        tally.served_wh += load_w * span_h
        tally.conversion_wh += load_w * (1 / store.efficiency - 1) * span_h
        tally.idle_wh += store.idle_w * span_h
    if solar_w > 0:
        tally.solar_wh += solar_w * span_h
        tally.tracking_wh += solar_w * (1 - store.mppt_efficiency) * span_h
        tally.charging_wh += flows.surplus_w * flows.accepted * (1 - store.solar_charge_efficiency) * span_h
        tally.curtailed_wh += flows.surplus_w * (1 - flows.accepted) * span_h
    if ac_w > 0:
        tally.ac_in_wh += ac_w * flows.accepted * span_h
        tally.charging_wh += ac_w * flows.accepted * (1 - store.ac_charge_efficiency) * span_h
