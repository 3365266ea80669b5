"""Stores, what joins them and what is switched on the way, as the march takes them; and what it gives back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, fields, replace

import numpy as np

from imbuto.core.basics.clock import BoolArray, FloatArray
from imbuto.core.equipment.conversion import dc_draw_w
from imbuto.core.run import march as flow
from imbuto.core.run.run_controls import Absence, Controls, Motor

RESTART_MARGIN = 0.05  # of nominal: comes back five points above the floor; planning default
DARK_STANDBY_W = 8.0  # planning default
MOST_EVENTS = 20_000  # of one run; a run that has more ends its list there


@dataclass(frozen=True, slots=True, kw_only=True)
class Store:
    """Hold one store as the march steps it. Places are indexes into the list of stores; None where there is none.

    nominal_wh: Wh on the label, with modules
    deliverable, health, cold: factors on that, 0 to 1
    floor: charge at which it stops, 0 to 1
    efficiency: AC out over DC in, without the own draw
    idle_w, standby_w: own draw in DC W, while the output is on and while it is off
    restarts_itself: it comes back without anyone
    restart_margin: charge above the floor at which it comes back, of nominal
    mppt_efficiency, solar_charge_efficiency, ac_charge_efficiency: 0 to 1
    taper: charging slows down from 90%
    most_charge_w: most W into the battery at its temperature, infinite where only the taper limits it
    own_pass_w: W it draws from what is passed on to it
    through_switch: a switch leads the power past it, so that its circuits stay powered while it is away
    behind: the store that powers its AC input, which comes first in the list
    own_first: it empties itself before it takes from that one
    after: the store at whose inlet it waits its turn
    swap_at: its charge at which someone plugs in the next that waits; negative for once it is off
    pair: the store that goes off with it
    dc_to, dc_w: the store whose solar input a bank gives to, and how many W; a bank has no inverter
    dc_dark: a bank gives only while no light comes to that store
    grid: it is connected to the grid
    thrown: somebody moves its circuits over to it, so that they have no grid while it carries them, and it draws
        nothing for itself while the grid does
    thrown_back: the same person throws it back to the grid at its hold, if awake
    hold, resume: charge at which it stops and starts carrying loads again while the grid is there
    grid_w, refill: AC W it charges with from the grid, and the charge it is filled to
    """

    nominal_wh: float
    deliverable: float = 1.0
    health: float = 1.0
    cold: float = 1.0
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
    most_charge_w: float = np.inf
    own_pass_w: float = 0.0
    through_switch: bool = False
    behind: int | None = None
    own_first: bool = False
    after: int | None = None
    swap_at: float = -1.0
    pair: int | None = None
    dc_to: int | None = None
    dc_w: float = 0.0
    dc_dark: bool = False
    grid: bool = False
    thrown: bool = False
    thrown_back: bool = False
    hold: float = 0.0
    resume: float = 0.0
    grid_w: float = 0.0
    refill: float = 1.0

    @property
    def available_wh(self) -> float:
        """What could be drawn from full to empty, Wh."""
        return self.nominal_wh * self.deliverable * self.health * self.cold

    def usable_wh(self, start: float) -> float:
        """What can be drawn from a start charge down to the floor, Wh; never negative."""
        return self.available_wh * max(start - self.floor, 0.0)

    def draw_w(self, load_w: float) -> float:
        """Battery side of an AC load, W."""
        return dc_draw_w(load_w, self.efficiency, self.idle_w)


def _kind(annotation: str) -> type:
    """What the march keeps a field of a dataclass as; None in a place among the stores is -1."""
    return {"float": np.float64, "bool": np.bool_, "int": np.int64, "int | None": np.int64}[annotation]


# As the march has a store, a tier and a generator: records with the names of the fields they are made of.
STORE = np.dtype([(f.name, _kind(str(f.type))) for f in fields(Store)], align=True)
TIER = np.dtype(
    [
        ("store", np.int64),
        ("off_below", np.float64),
        ("on_from", np.float64),
        ("surplus", np.bool_),
        ("by_hand", np.bool_),
    ],
    align=True,
)
ENGINE = np.dtype(
    [
        *((name, np.float64) for name in ("running_w", "still_l_h", "l_per_wh", "fuel_l", "start_at", "stop_at")),
        ("school", np.int64),
        ("by_hand", np.bool_),
    ],
    align=True,
)


def _records(rows: Sequence[tuple[object, ...]], kind: np.dtype[np.void]) -> np.ndarray:
    return np.array(list(rows), dtype=kind)


def _store_record(store: Store) -> tuple[object, ...]:
    values = (getattr(store, f.name) for f in fields(store))
    return tuple(-1 if value is None else value for value in values)


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


assert len(fields(Tally)) == flow.TALLY_COLUMNS

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


@dataclass(frozen=True, slots=True)
class Supply:
    """The grid over a run.

    watts: it gives in each step, 0 where it is gone, shape (n,)
    use: what stores do while it is there, ``flow.CARRY``, ``SUN_FIRST`` or ``CHARGE``, shape (n,)
    awake: whether anyone is up to throw a switch back, shape (n,); None for always
    """

    watts: FloatArray
    use: FloatArray
    awake: BoolArray | None = None


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


NONE = np.zeros(0)
SCHOOLS = {"fill": flow.FILL, "carry": flow.CARRY_HOUSE}


def _given(
    stores: Sequence[Store],
    controls: Controls | None,
    grid: Supply | None,
    away: Absence | None,
    step_h: float,
    ends: FloatArray,
    n: int,
) -> flow.SharedInputs:
    """What all members share, as the march takes it; n: steps."""
    k = len(stores)
    engine = controls.engine if controls is not None else None
    charger = np.full(k, -1.0)
    if engine is not None:
        charger[list(engine.stores)] = engine.charger_w / len(engine.stores)
        for store, watts in engine.also:
            charger[store] = watts
    still, always = np.zeros((k, n)), np.ones(n)
    return flow.SharedInputs(
        stores=_records([_store_record(s) for s in stores], STORE),
        tiers=_records(
            [(x.store, x.off_below, x.on_from, x.by == "surplus", x.by_hand) for x in controls.tiers]
            if controls is not None
            else [],
            TIER,
        ),
        engine=_records([_engine_record(engine)], ENGINE),
        charger_w=charger,
        awake=_awake(controls, grid, always),
        may=always if controls is None else controls.engine_may.astype(float),
        owes_w=still if controls is None else _each(controls.owes_w, k, n),
        gap_w=still if controls is None else _each(controls.gap_w, k, n),
        hands=controls is not None and bool(controls.hands),
        delay_h=0.0 if controls is None else float(controls.delay_h),
        grid_w=NONE if grid is None else np.ascontiguousarray(grid.watts, dtype=float),
        use=NONE if grid is None else np.ascontiguousarray(grid.use, dtype=float),
        here=np.zeros((k, 0)) if away is None else np.ascontiguousarray(away.here, dtype=float),
        home_charge=np.zeros(k) if away is None else away.charge,
        step_h=step_h,
        ends=ends,
    )


def _awake(controls: Controls | None, grid: Supply | None, always: FloatArray) -> FloatArray:
    if controls is not None:
        return controls.awake.astype(float)
    return always if grid is None or grid.awake is None else grid.awake.astype(float)


def _engine_record(e: Motor | None) -> tuple[object, ...]:
    if e is None:
        return (0.0, 0.0, 0.0, 0.0, 0.0, 0.0, flow.NO_ENGINE, False)
    return (e.running_w, e.still_l_h, e.l_per_wh, e.fuel_l, e.start_at, e.stop_at, SCHOOLS[e.school], e.by_hand)


def _scratch(k: int, t: int) -> flow.Scratch:
    return flow.Scratch(np.zeros(k, flow.STATE), np.zeros(t, flow.TURN), np.zeros(1, flow.NOW))


def _each(watts: FloatArray, k: int, n: int) -> FloatArray:
    """A row a store; one row alone belongs to the first."""
    found = np.zeros((k, n))
    found[: 1 if watts.ndim == 1 else k] = watts
    return found


def _ends(k: int, until_dark: bool, of: slice | list[int]) -> FloatArray:
    found = np.zeros(k)
    found[of] = until_dark
    return found


def _march(
    given: flow.SharedInputs,
    full_wh: FloatArray,
    start: FloatArray,
    load_w: FloatArray,
    sun_w: FloatArray | None,
    tier_w: FloatArray | None,
    gives: FloatArray | None,
    told: flow.Results,
) -> None:
    m, k, n = load_w.shape
    # A part of an array would be a type of its own, and compiled once more.
    members = flow.Members(
        *(
            np.ascontiguousarray(x, dtype=float)
            for x in (
                full_wh,
                start,
                load_w,
                np.zeros((m, k, 0)) if sun_w is None else sun_w,
                np.zeros((m, 0, n)) if tier_w is None else tier_w,
                np.zeros((m, k, 0)) if gives is None else np.broadcast_to(gives, (m, k, n)),
            )
        )
    )
    flow.march(given, members, told, _scratch(k, len(given.tiers)))


def run_many(
    stores: Sequence[Store],
    full_wh: FloatArray,
    start: FloatArray,
    load_w: FloatArray,
    step_h: float,
    *,
    sun_w: FloatArray | None = None,
    tier_w: FloatArray | None = None,
    controls: Controls | None = None,
    grid: Supply | None = None,
    away: Absence | None = None,
    gives: FloatArray | None = None,
    with_charge: bool = False,
    with_tally: bool = False,
    until_dark: bool = True,
    of: slice | list[int] = slice(None),
) -> MembersResult:
    """Step m members through an outage.

    stores: what all share
    full_wh, start: what each member's can draw from full to empty, Wh, and its charge, 0 to 1, (m, k)
    load_w: mean AC W, (m, k, n)
    sun_w: DC W at the inputs, (m, k, n)
    tier_w: mean AC W of each tier while it is on, (m, t, n)
    gives: whether each bank may give, (k, n) for all members alike or (m, k, n); None for always
    until_dark: a member ends at the first dark of one of these stores, for hours alone
    """
    m, k, n = load_w.shape
    first = np.full((m, k), np.inf)
    charge = np.full((m if with_charge else 0, n + 1, k), np.nan)  # nan: after a member has ended
    tally = np.zeros((m if with_tally else 0, k, flow.TALLY_COLUMNS))
    nothing = np.zeros((0, k))
    told = flow.Results(
        first,
        charge,
        tally,
        served_at=nothing,
        tier_at=np.zeros((0, 0)),
        engine_at=NONE,
        fuel_at=NONE,
        grid_at=nothing,
        lost_at=nothing,
        events=np.zeros((0, 4)),
        counts=np.zeros(3, dtype=np.int64),
    )
    given = _given(stores, controls, grid, away, step_h, _ends(k, until_dark, of), n)
    _march(given, full_wh, start, load_w, sun_w, tier_w, gives, told)
    return MembersResult(first, charge, tally)


def run_one(
    stores: Sequence[Store],
    start: Sequence[float],
    load_w: FloatArray,
    step_h: float,
    *,
    sun_w: FloatArray | None = None,
    tier_w: FloatArray | None = None,
    controls: Controls | None = None,
    grid: Supply | None = None,
    away: Absence | None = None,
    gives: FloatArray | None = None,
    until_dark: bool = False,
    of: slice = slice(None),
) -> Trace:
    """Step stores through an outage once.

    start: charge of each, 0 to 1
    load_w: mean AC W of what hangs on each, (k, n)
    sun_w: DC W at the inputs of each, (k, n)
    tier_w: (t, n)
    gives: whether each bank may give, (k, n); None for always
    step_h: h
    until_dark: end at the first dark of one of these stores
    """
    k, n = load_w.shape
    t = 0 if tier_w is None else len(tier_w)
    seen = n if grid is not None else 0
    told = flow.Results(
        first_dark=np.empty((1, k)),
        charge_at=np.zeros((1, n + 1, k)),
        tally=np.zeros((1, k, flow.TALLY_COLUMNS)),
        served_at=np.zeros((n, k)),
        tier_at=np.zeros((n, t)),
        engine_at=np.zeros(n),
        fuel_at=np.zeros(n),
        grid_at=np.zeros((seen, k)),
        lost_at=np.zeros((seen, k)),
        events=np.zeros((MOST_EVENTS, 4)),
        counts=np.zeros(3, dtype=np.int64),
    )
    given = _given(stores, controls, grid, away, step_h, _ends(k, until_dark, of), n)
    full_wh = np.array([[s.available_wh for s in stores]])
    _march(
        given,
        full_wh,
        np.array([start], dtype=float),
        load_w[None],
        None if sun_w is None else sun_w[None],
        None if tier_w is None else tier_w[None],
        gives,
        told,
    )
    noted, fluttered, n = (int(x) for x in told.counts)
    return Trace(
        charge=told.charge_at[0, : n + 1],
        served_wh=told.served_at[:n],
        tiers_on=told.tier_at[:n],
        engine_h=told.engine_at[:n],
        fuel_l=told.fuel_at[:n],
        events=[Event(KINDS[int(e[1])], float(e[0]), int(e[2]), bool(e[3])) for e in told.events[:noted]],
        dark_h=told.first_dark[0],
        tallies=[Tally(*(float(x) for x in row)) for row in told.tally[0]],
        fluttered=bool(fluttered),
        grid_wh=told.grid_at[:n],
        lost_wh=told.lost_at[:n],
    )
