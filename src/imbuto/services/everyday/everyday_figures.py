"""What an ordinary year is told by: its months, the mean day of a month, its nights, and what is lacking."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.clock import BoolArray, FloatArray
from imbuto.core.everyday.grid_limits import at_limit, gives_w
from imbuto.core.everyday.ordinary_year import SURPLUS, Year
from imbuto.core.everyday.year_ground import STEP_H
from imbuto.core.everyday.yearly_bill import StepPrices
from imbuto.core.home.loads import use_watts
from imbuto.core.limits.instants import instants
from imbuto.core.outages.possible_steps import is_spared
from imbuto.core.run import march as flow

EVENING, DAWN = 72, 24  # quarter hours of a day: six in the evening, where there is no light, and six in the morning


@dataclass(frozen=True, slots=True, kw_only=True)
class MonthKwh:
    """A month of what hangs on the station, kWh.

    house: all of the house
    fed: of that on the station
    bought: for it, with charging and its own draw
    sun: at its inputs
    thrown, given: of that what nothing took, and what went to the street
    by_sun: of what hangs on it, 0 to 1
    dusk, dawn: mean charge then
    unserved: nobody served
    failing: nights in which something was not
    engine_h, fuel_l: of a generator
    """

    month: int
    house: float
    fed: float
    bought: float
    sun: float
    thrown: float
    given: float
    by_sun: float
    dusk: float
    dawn: float
    unserved: float
    failing: int
    engine_h: float
    fuel_l: float


@dataclass(frozen=True, slots=True, kw_only=True)
class DayFlow:
    """The mean day of a month in half hours, W: what hangs on the station, and who gave it; charging from the grid;
    charge, 0 to 1."""

    month: int
    hour: list[float]
    load: list[float]
    grid: list[float]
    sun: list[float]
    store: list[float]
    charging: list[float]
    charge: list[float]


def switches(y: Year) -> int:
    """How often it changes between its store and the grid by itself in a year: each is a blink."""
    carries = (y.bought_w < 1.0) & (y.served_w > 1.0)
    return int(np.abs(np.diff(carries.astype(int))).sum())


def grid_steps_at_hold(y: Year) -> BoolArray:
    """The steps in which the store should carry, and the grid does, since it is at its hold."""
    found: BoolArray = (y.use == flow.CARRY) & (y.bought_w > 1.0)
    return found


def to_move(y: Year) -> str:
    """What draws most while it is back on the grid at its hold, and may be used at another hour."""
    then, best = grid_steps_at_hold(y), ("", 0.0)
    for f in y.ground.part.fed:
        if f.assumed or is_spared(f.load) or f.load.use.kind not in ("tasks", "windows", "daily"):
            continue
        kwh = float((use_watts(f.load, y.ground.steps) * then).sum()) * STEP_H / 1000
        if kwh > best[1]:
            best = (f.load.name, kwh)
    return f"{best[0]}, {best[1]:,.0f} kWh per year of it" if best[1] >= 1 else ""


def over_it(y: Year) -> str:
    """What happens where more is asked of the station than it gives: over a quarter hour, or in a moment."""
    x = y.ground.part
    gives, hours = gives_w(x), float(y.overload.over[y.ground.rank].sum()) * STEP_H
    heavy = max(
        (f.load for f in x.fed if not f.assumed and not is_spared(f.load)), key=lambda load: load.run_va, default=None
    )
    to_shift = f" To move first: {heavy.name}." if heavy is not None else ""
    if hours > 0:
        asked = (
            f"For {hours:,.0f} hours per year the loads need more than the {gives:,.0f} W that "
            f"{x.station.name} supplies"
        )
        if x.follows:
            return f"{asked}. Then its loads switch back to the station ahead of it, with a blink.{to_shift}"
        if at_limit(x) == "fills_in":
            filled = float(y.overload.by_grid_w.sum()) * STEP_H / 1000
            return f"{asked}. The grid fills in, {filled:,.0f} kWh."
        if at_limit(x) == "goes_back":
            return f"{asked}. Then all its loads switch back to the grid, with a blink.{to_shift}"
        return f"{asked}. Then it shuts off until someone resets it, so on ordinary days it doesn't pay.{to_shift}"
    now = instants(x)
    most = now.most(now.va)
    if most <= x.station.rated_va or at_limit(x) == "fills_in":
        return ""
    then = "it shuts off until someone resets it" if at_limit(x) == "shuts_off" else "its loads switch back to the grid"
    return (
        f"If everything on {x.station.name} runs at once, that is {most:,.0f} VA, and it carries "
        f"{x.station.rated_va:,.0f}: then {then}.{to_shift}"
    )


THROWN_IS_MUCH = 0.1  # of the sun made; planning default
NOTHING_KWH = 1.0


def unused_w(y: Year) -> FloatArray:
    """W of the sun that nothing took, of the roof too where none of it may be sent out, (n,)."""
    return y.thrown_w if y.everyday.exports.strip() else y.thrown_w + y.spilled_w


def sent_w(y: Year) -> FloatArray:
    """AC W sent to the grid, (n,)."""
    return y.given_w + y.spilled_w if y.everyday.exports.strip() else y.given_w


def missing_for_a_year(y: Year) -> str:
    """What would save more: the sun that is thrown away beside the sun that is made, and the next step."""
    flows = (y.ground.sun_w + y.ground.roof_w, unused_w(y), y.bought_w - y.by_roof_w)
    made, thrown, bought = (float(w.sum()) * STEP_H / 1000 for w in flows)
    if made < NOTHING_KWH:
        return "Without panels, the battery only moves what you buy to other hours."
    if thrown <= THROWN_IS_MUCH * made:
        used = f"{made - thrown:,.0f} of the {made:,.0f} kWh of sun per year are used"
        return f"{used}. More panels would save more." if bought > NOTHING_KWH else f"{used}."
    said = f"{thrown:,.0f} of the {made:,.0f} kWh of sun per year go unused."
    if bought < NOTHING_KWH:
        return f"{said} The array is larger than these loads need."
    noon = np.abs(y.ground.steps.hour - 12) <= 1
    morning = (y.ground.steps.hour >= 7) & (y.ground.steps.hour < 9)
    if not (y.use == flow.CARRY).any():
        return f"{said} Let the battery power loads in the evening, so that it has room for the next day's sun."
    left = float(y.charge[:-1][morning].mean())
    if left > ROOM_BY_MORNING:
        more = "keep less, or use more from it at night"
        return f"{said} The battery is still {100 * left:.0f}% full in the morning: {more}."
    if float(y.charge[:-1][noon].mean()) < ALREADY_FULL:
        return f"{said} The battery charges too slowly for it, so use more at noon."
    return f"{said} Use more at noon, or add a battery module."


def cheap_unused(y: Year, prices: StepPrices, names: Mapping[tuple[str, str], str]) -> str:
    """That the cheapest hours are never used to charge, and the next step; empty where they are, or where prices
    hardly differ. names: of rates, by tariff and rate."""
    least, most = float(prices.price.min()), float(prices.price.max())
    if most - least <= PRICES_ALIKE * most:
        return ""
    cheap = prices.price <= least + 1e-9
    own_w = sum(s.idle_w for s in y.stores)
    charging_w = np.maximum(gave(y)["charging"] - own_w, 0.0)
    if float(charging_w[cheap].sum()) * STEP_H / 1000 >= NOTHING_KWH:
        return ""
    rate = names.get(prices.rates[int(prices.rate[np.flatnonzero(cheap)[0]])], "the cheapest hours")
    said = f"The cheapest hours ({rate}) are never used to charge."
    if not (y.use == flow.CARRY).any():
        return f"{said} First add a mode “battery first” in the most expensive hours, so that the battery has room."
    return f"{said} Add a mode “charge from the grid” in those hours."


PRICES_ALIKE = 0.1  # of the highest price: rates closer than this are not worth a mode; planning default
ROOM_BY_MORNING, ALREADY_FULL = 0.6, 0.5  # charge; planning defaults


def gave(y: Year) -> dict[str, FloatArray]:
    """Who gave what hangs on it, W: store, sun and grid; and what charges it from the grid."""
    served, out = y.served_w, np.zeros(y.ground.steps.n)
    for s, store_of_line in enumerate(y.stores):
        # What a station draws for itself reaches no load: a pair's unit with nothing on it gives nothing.
        out += np.maximum(y.falls_wh[:, s] / STEP_H - store_of_line.idle_w, 0.0) * store_of_line.efficiency
    store = np.minimum(out, served)
    carries = (y.use != flow.CHARGE) & (y.use != SURPLUS)
    grid_w = np.minimum(np.where(carries, y.bought_w, served), served - store)
    sun = np.maximum(served - store - grid_w, 0.0)
    return {"store": store, "sun": sun, "grid": grid_w, "charging": np.maximum(y.bought_w - grid_w, 0.0)}


def months_of(y: Year) -> list[MonthKwh]:
    """The twelve months of a year."""
    g, kwh = y.ground, STEP_H / 1000
    nights = np.array(nights_of(y))
    dark = y.unserved_w * STEP_H
    failing = np.bincount(g.day, weights=dark > 1.0, minlength=len(g.days)) > 0
    day_month = np.array([d.month for d in g.days])
    found = []
    for m in range(1, 13):
        at = g.months == m
        fed, bought = float(g.fed_w[at].sum()) * kwh, float((y.bought_w - y.by_roof_w)[at].sum()) * kwh
        of = nights[day_month == m]
        found.append(
            MonthKwh(
                month=m,
                house=float((g.fed_w + g.rest_w)[at].sum()) * kwh,
                fed=fed,
                bought=bought,
                sun=float((g.sun_w + g.roof_w)[at].sum()) * kwh,
                thrown=float(unused_w(y)[at].sum()) * kwh,
                given=float(sent_w(y)[at].sum()) * kwh,
                by_sun=min(max(1 - bought / fed, 0.0), 1.0) if fed > 0 and (g.sun_w.any() or g.roof_w.any()) else 0.0,
                dusk=float(of[:, 0].mean()),
                dawn=float(of[:, 1].mean()),
                unserved=float(dark[at].sum()) / 1000,
                failing=int(failing[day_month == m].sum()),
                engine_h=float(y.trace.engine_h[at].sum()),
                fuel_l=float(y.trace.fuel_l[at].sum()),
            )
        )
    return found


def nights_of(y: Year) -> list[list[float]]:
    """Each day's charge at dusk, its last light or six in the evening, and at the next dawn, six in the morning."""
    g = y.ground
    first = np.searchsorted(g.day, np.arange(len(g.days)))
    lit = np.flatnonzero(g.sun_w + g.roof_w > 0)
    last = first + EVENING
    last[g.day[lit]] = lit + 1  # the last light of a day stays
    dawn = np.minimum(np.append(first[1:], g.steps.n) + DAWN, g.steps.n)
    both = np.round(np.stack([y.charge[np.minimum(last, g.steps.n)], y.charge[dawn]], axis=1), 4)
    found: list[list[float]] = both.tolist()
    return found


def mean_day(y: Year, month: int) -> DayFlow:
    """The mean day of a month, 1 to 12."""
    g = y.ground
    at = g.months == month
    half = np.floor(g.steps.hour[at] * 2).astype(int)
    count = np.maximum(np.bincount(half, minlength=48), 1)

    def mean(x: FloatArray) -> list[float]:
        return [round(float(v), 1) for v in np.bincount(half, weights=x[at], minlength=48) / count]

    p = gave(y)
    charge = [round(float(v), 3) for v in np.bincount(half, weights=y.charge[:-1][at], minlength=48) / count]
    return DayFlow(
        month=month,
        hour=[h / 2 for h in range(48)],
        load=mean(g.fed_w),
        grid=mean(p["grid"]),
        sun=mean(p["sun"]),
        store=mean(p["store"]),
        charging=mean(p["charging"]),
        charge=charge,
    )
