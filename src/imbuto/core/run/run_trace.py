"""What a run gives back: what happened in each step, what was switched, and the energy of each store."""

from __future__ import annotations

from dataclasses import dataclass, field, fields, replace

import numpy as np

from imbuto.core.basics.clock import FloatArray


@dataclass(frozen=True, slots=True)
class Tally:
    """Add up energy, in Wh, all of it positive.

    served_wh, unserved_wh: AC asked for, and delivered or not
    solar_wh: DC at the inputs before tracking loss
    ac_in_wh: AC into the charger, before its loss
    conversion_wh, idle_wh, standby_wh, tracking_wh, charging_wh: losses
    curtailed_wh: sun that nothing took
    bypass_wh, grid_wh: served past the inverter, by a generator and by the grid
    dc_given_wh: given by a bank
    from_up_wh, passed_on_wh: taken from the store ahead, and passed on to those behind
    came_back_wh, went_away_wh: with a store that drives off and comes back
    dark_h, engine_h, fuel_l: hours without power, hours the generator ran, liters it burned
    """

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
    grid_wh: float = 0.0
    dc_given_wh: float = 0.0
    from_up_wh: float = 0.0
    passed_on_wh: float = 0.0
    came_back_wh: float = 0.0
    went_away_wh: float = 0.0
    dark_h: float = 0.0
    engine_h: float = 0.0
    fuel_l: float = 0.0

    @property
    def lost_wh(self) -> float:
        """Everything that went in and neither came out nor stayed."""
        losses = self.conversion_wh + self.idle_wh + self.standby_wh
        return losses + self.tracking_wh + self.charging_wh + self.curtailed_wh


KINDS = (
    "dark",
    "back",
    "engine_on",
    "engine_off",
    "tank_empty",
    "turn_on",
    "turn_off",
    "swap",
    "away",
    "home",
    "grid_back",
    "grid_gone",
)


@dataclass(frozen=True, slots=True)
class Event:
    """kind: one of ``KINDS``; hour: elapsed hours; which: the store, or of turns the tier; by_hand: somebody does
    it."""

    kind: str
    hour: float
    which: int = 0
    by_hand: bool = False


@dataclass(slots=True)
class Trace:
    """Hold what happened to one member; k stores, n steps, t tiers.

    charge: after each step, with the start first, 0 to 1, shape (n + 1, k)
    served_wh: AC Wh delivered in each step, shape (n, k)
    tiers_on: share of each step that a tier was on, shape (n, t)
    engine_h, fuel_l: hours the generator ran and liters it burned in each step, shape (n,)
    events: what was switched, in order
    dark_h: elapsed hours at which each store's circuits first lost power, infinite for never, shape (k,)
    tallies: energy of each store
    fluttered: it went off and on more often within a step than is followed
    grid_wh: AC Wh from the grid for all uses, shape (n, k); empty without a grid
    lost_wh: DC Wh of the sun that nothing took, shape (n, k); empty without a grid
    """

    charge: FloatArray
    served_wh: FloatArray
    tiers_on: FloatArray
    engine_h: FloatArray
    fuel_l: FloatArray
    events: list[Event] = field(default_factory=list)
    dark_h: FloatArray = field(default_factory=lambda: np.full(1, np.inf))
    tallies: list[Tally] = field(default_factory=list)
    fluttered: bool = False
    grid_wh: FloatArray = field(default_factory=lambda: np.zeros((0, 0)))
    lost_wh: FloatArray = field(default_factory=lambda: np.zeros((0, 0)))

    def of(self, stores: slice, tiers: slice) -> Trace:
        """What happened to some of the stores, with their own tiers."""
        events = []
        for e in self.events:
            within = {"dark": stores, "back": stores, "turn_on": tiers, "turn_off": tiers}.get(e.kind)
            if within is None:
                events.append(e)
            elif within.start <= e.which < within.stop:
                events.append(replace(e, which=e.which - within.start))
        return Trace(
            self.charge[:, stores],
            self.served_wh[:, stores],
            self.tiers_on[:, tiers],
            self.engine_h,
            self.fuel_l,
            events,
            self.dark_h[stores],
            self.tallies[stores],
            self.fluttered,
        )

    @property
    def first_dark_h(self) -> float | None:
        """Elapsed hours at the first dark of any, None when none goes dark."""
        first = float(self.dark_h.min())
        return None if np.isinf(first) else first

    @property
    def tally(self) -> Tally:
        """Of all stores together."""
        if len(self.tallies) == 1:
            return self.tallies[0]
        return Tally(*(sum(getattr(x, f.name) for x in self.tallies) for f in fields(Tally)))


@dataclass(frozen=True, slots=True)
class MembersResult:
    """What happened to m members.

    first_dark_h: shape (m, k)
    charge: (m, n + 1, k), empty unless asked for
    tally: (m, k, ``flow.TALLY_COLUMNS``), empty unless asked for
    """

    first_dark_h: FloatArray
    charge: FloatArray
    tally: FloatArray
