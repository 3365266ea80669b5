"""What was really had: metered energy of any days beside what it would have cost without the plan."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Literal, get_args

import numpy as np

from imbuto.core.basics.clock import FloatArray, Grid, grid
from imbuto.core.everyday.year_ground import STEP_H
from imbuto.core.everyday.yearly_bill import YearlyBill, bill, step_prices
from imbuto.core.home.tariff import Tariff

# house: all that the house used · bought, sent: through the utility's meter · sun: of the panels, before any battery ·
# charged, delivered: AC into a battery and out of it.
Role = Literal["house", "bought", "sent", "sun", "charged", "delivered"]
ROLES: tuple[Role, ...] = get_args(Role)
LEAST_TOLD = 0.98  # of the quarter hours of a period, before it is called wholly metered; planning default
QUARTER_S = 900.0


def by_quarter_hours(seconds: FloatArray, watts: FloatArray, interval_s: float | None) -> dict[int, float]:
    """Wh in each quarter hour that a series tells of whole, by its count since 1970.

    seconds: UTC at which each interval begins, ascending; watts: mean W over it, both (m,)
    interval_s: its length, None for the usual distance
    """
    if not len(seconds):
        return {}
    apart = np.diff(seconds)
    usual = interval_s or (float(np.median(apart)) if len(apart) else 3600.0)
    # One that lasts much longer than usual has a gap behind it, and tells only of its usual length.
    lengths = np.append(np.minimum(apart, 1.5 * usual), usual)
    first, last = int(seconds[0] // QUARTER_S), int((seconds[-1] + lengths[-1]) // QUARTER_S)
    edges = (np.arange(first, last + 2)) * QUARTER_S
    ends = seconds + lengths
    at = np.empty(2 * len(seconds))
    at[0::2], at[1::2] = seconds, ends
    wh, told = np.empty(len(at)), np.empty(len(at))
    steps_wh, steps_s = watts * lengths / 3600, lengths
    wh[0::2], wh[1::2] = np.cumsum(steps_wh) - steps_wh, np.cumsum(steps_wh)
    told[0::2], told[1::2] = np.cumsum(steps_s) - steps_s, np.cumsum(steps_s)
    each_wh, each_s = np.diff(np.interp(edges, at, wh)), np.diff(np.interp(edges, at, told))
    return {first + int(i): float(each_wh[i]) for i in np.flatnonzero(each_s >= QUARTER_S - 0.5)}


@dataclass(frozen=True, slots=True)
class MeteredPeriod:
    """What a period came to, kWh; None where a role is not metered in it.

    saved: at the tariffs of its days, None without; at_price: at the price asked, None without
    told: share of its quarter hours in which what the saving needs was metered
    by_sun: share of the house that was not bought, 0 to 1; at_most: where only sun and grid are known
    worked_out: the house's use was worked out from the other meters
    rows: Wh of each role in each quarter hour, NaN where it is not metered, the house's as worked out among them, (n,)
    """

    first: date
    last: date
    kwh: dict[Role, float | None]
    saved: float | None
    at_price: float | None
    told: float
    by_sun: float | None
    at_most: bool
    worked_out: bool
    without: YearlyBill | None
    with_it: YearlyBill | None
    rows: Mapping[Role, FloatArray]


def metered_period(
    first: date,
    last: date,
    zone: str,
    energy: Mapping[Role, Mapping[int, float]],
    tariffs: Mapping[str, Tariff],
    price: float | None,
) -> MeteredPeriod:
    """Add up a period and set it beside the same use without the plan.

    first, last: local days, both counted
    energy: Wh by quarter hour since 1970
    price: per kWh, to be set beside the tariff's
    """
    steps, days, day = period_steps(first, last, zone)
    begin = round(steps.start.timestamp() / QUARTER_S)
    rows = {role: _row(energy[role], begin, steps.n) for role in ROLES if energy.get(role)}
    kwh: dict[Role, float | None] = {role: _sum(rows.get(role)) for role in ROLES}
    house, worked_out = _house(rows)
    bought, sent = rows.get("bought"), rows.get("sent")
    if house is None or bought is None:
        share, at_most = _by_sun_and_grid(rows)
        return MeteredPeriod(first, last, kwh, None, None, 0.0, share, at_most, worked_out, None, None, rows)
    told = np.isfinite(house) & np.isfinite(bought)
    used, drawn = np.where(told, house, 0.0) / 1000, np.where(told, bought, 0.0) / 1000
    given = np.zeros(steps.n) if sent is None else np.where(told, np.nan_to_num(sent), 0.0) / 1000
    kwh["house"] = float(used.sum())
    share = max(1 - float(drawn.sum()) / float(used.sum()), 0.0) if used.sum() > 0 else None
    without = with_it = None
    saved = at_price = None
    if told.any() and tariffs:
        prices = step_prices(tariffs, steps, days, day)
        without = bill(tariffs, prices, days, day, used, np.zeros(steps.n))
        with_it = bill(tariffs, prices, days, day, drawn, given)
        saved = without.total - with_it.total
    if told.any() and price is not None:
        at_price = float((used - drawn).sum()) * price
    return MeteredPeriod(
        first,
        last,
        kwh,
        saved,
        at_price,
        float(told.mean()),
        share,
        False,
        worked_out,
        without,
        with_it,
        rows | {"house": house},
    )


def period_steps(first: date, last: date, zone: str) -> tuple[Grid, list[date], np.ndarray]:
    """The quarter hours of some local days, these days, and which of them each quarter hour is on."""
    begin = datetime(first.year, first.month, first.day)
    end = datetime(last.year, last.month, last.day) + timedelta(days=1)
    a, b = (grid(t, zone, 1).start.timestamp() for t in (begin, end))
    steps = grid(begin, zone, (b - a) / 3600, STEP_H)
    days = [first + timedelta(days=d) for d in range((last - first).days + 1)]
    starts = [grid(datetime(d.year, d.month, d.day), zone, 1).start.timestamp() for d in days]
    at = a + (np.arange(steps.n) + 0.5) * QUARTER_S
    return steps, days, np.searchsorted(starts, at, side="right") - 1


def _row(wh: Mapping[int, float], begin: int, n: int) -> FloatArray:
    return np.array([wh.get(begin + i, np.nan) for i in range(n)])


def _sum(row: FloatArray | None) -> float | None:
    return None if row is None or not np.isfinite(row).any() else float(np.nansum(row)) / 1000


def _house(rows: Mapping[Role, FloatArray]) -> tuple[FloatArray | None, bool]:
    """What the house used: as metered, or what came in less what went out, where all of that is metered."""
    if "house" in rows:
        return rows["house"], False
    if "bought" not in rows or "sun" not in rows or "sent" not in rows:
        return None, False
    total: FloatArray = rows["bought"] + rows["sun"] - rows["sent"]
    if "charged" in rows:
        total -= rows["charged"]
    if "delivered" in rows:
        total += rows["delivered"]
    return np.maximum(total, 0.0), True


def _by_sun_and_grid(rows: Mapping[Role, FloatArray]) -> tuple[float | None, bool]:
    """With sun and grid alone: at most all of the sun was used in the house."""
    sun, bought = _sum(rows.get("sun")), _sum(rows.get("bought"))
    if sun is None or bought is None or sun + bought <= 0:
        return None, False
    return sun / (sun + bought), True
