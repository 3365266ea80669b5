"""Stores, what joins them and what is switched on the way, as the march takes them, and the ways to run it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np

from imbuto.core.basics.clock import BoolArray, FloatArray
from imbuto.core.run import march as flow
from imbuto.core.run.battery_store import Store
from imbuto.core.run.run_controls import Absence, Controls, Motor
from imbuto.core.run.run_trace import KINDS, Event, MembersResult, Tally, Trace

MOST_EVENTS = 20_000  # of one run; a run that has more ends its list there


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


assert len(fields(Tally)) == flow.TALLY_COLUMNS


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
