"""What a year of import and export costs by dated tariffs, rate by rate, with its sum by hand."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from imbuto.core.basics.clock import BoolArray, FloatArray, Grid, inside
from imbuto.core.home.tariff import Tariff, tariff_on


@dataclass(frozen=True, slots=True)
class StepPrices:
    """The price of every step.

    price: of a kWh bought then, without tiers
    export: of one given to the street
    rate: which of ``rates`` holds
    rates: (tariff, rate) by id
    tariffs: of each day by id; shape (n,)
    """

    price: FloatArray
    export: FloatArray
    rate: np.ndarray[tuple[int], np.dtype[np.int64]]
    rates: tuple[tuple[str, str], ...]
    tariffs: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class BillLine:
    """A line of a bill.

    kwh: negative for what went out
    price: of each, the mean where it differs
    cost: negative for a credit
    """

    name: str
    kwh: float
    price: float
    cost: float


@dataclass(frozen=True, slots=True)
class YearlyBill:
    """A year's bill. lines: that add up to total."""

    lines: tuple[BillLine, ...]
    total: float

    @property
    def by_hand(self) -> str:
        """The sum as one writes it."""
        parts = [
            f"{x.kwh:,.1f} kWh × {x.price:.4g} ({x.name})" if x.kwh else f"{x.cost:,.2f} ({x.name})" for x in self.lines
        ]
        return " + ".join(parts) + f" = {self.total:,.2f}"


def step_prices(tariffs: Mapping[str, Tariff], steps: Grid, days: Sequence[date], day: np.ndarray) -> StepPrices:
    """What each step costs.

    days: the calendar days of the grid
    day: which of them each step is on, (n,)

    Raises ValueError without a tariff.
    """
    if not tariffs:
        raise ValueError("no tariff")
    held = [tariff_on(dict(tariffs), d) for d in days]
    price, export, rate = np.zeros(steps.n), np.zeros(steps.n), np.zeros(steps.n, dtype=np.int64)
    rates: list[tuple[str, str]] = []
    for tariff in {t.id: t for t in held if t is not None}.values():
        free = np.array([t is tariff for t in held])
        weekend: BoolArray = steps.weekend | np.isin(day, [i for i, d in enumerate(days) if d in tariff.holidays])
        months = np.array([d.month for d in days])[day]
        here = free[day]
        export[here] = tariff.export_price
        rest_first = sorted(tariff.rates.values(), key=lambda r: bool(r.windows))
        for r in rest_first:
            hit = here & (inside(r.windows, steps.hour, weekend) if r.windows else np.ones(steps.n, dtype=bool))
            if r.months:
                hit &= np.isin(months, r.months)
            rates.append((tariff.id, r.id))
            price[hit], rate[hit] = r.price, len(rates) - 1
    return StepPrices(price, export, rate, tuple(rates), tuple(t.id if t else "" for t in held))


def bill(
    tariffs: Mapping[str, Tariff],
    p: StepPrices,
    days: Sequence[date],
    day: np.ndarray,
    bought_kwh: FloatArray,
    given_kwh: FloatArray,
) -> YearlyBill:
    """A bill of what was bought and given in each step, kWh, (n,)."""
    lines: list[BillLine] = []
    for i, (tariff, rate) in enumerate(p.rates):
        kwh = float(bought_kwh[p.rate == i].sum())
        r = tariffs[tariff].rates[rate]
        if kwh > 0:
            lines.append(BillLine(r.name, kwh, r.price, kwh * r.price))
    months = np.array([d.year * 12 + d.month for d in days])
    for month in np.unique(months):
        of = np.isin(day, np.flatnonzero(months == month))
        lines += _tiers(tariffs, p, int(np.flatnonzero(months == month)[0]), float(bought_kwh[of].sum()))
    lines = _merged(lines)
    fixed = sum(tariffs[p.tariffs[int(np.flatnonzero(months == m)[0])]].fixed for m in np.unique(months))
    if fixed:
        lines.append(BillLine("fixed", 0.0, 0.0, fixed))
    lines += _given(tariffs, p, months, day, bought_kwh, given_kwh)
    return YearlyBill(tuple(lines), sum(x.cost for x in lines))


def _tiers(tariffs: Mapping[str, Tariff], p: StepPrices, first_day: int, kwh: float) -> list[BillLine]:
    tiers = tariffs[p.tariffs[first_day]].tiers
    found = []
    for i, t in enumerate(tiers):
        upper = tiers[i + 1].above_kwh if i + 1 < len(tiers) else np.inf
        within = min(kwh, upper) - t.above_kwh
        if within > 0:
            found.append(BillLine(f"above {t.above_kwh:g} kWh per month", within, t.more, within * t.more))
    return found


def _given(
    tariffs: Mapping[str, Tariff],
    p: StepPrices,
    months: np.ndarray,
    day: np.ndarray,
    bought: FloatArray,
    given: FloatArray,
) -> list[BillLine]:
    """The credit for what went to the street: at its own price, or set off at the price of its hour, no more in a
    month than was bought."""
    if not given.any():
        return []
    credit, kwh = 0.0, float(given.sum())
    for month in np.unique(months):
        first = int(np.flatnonzero(months == month)[0])
        of = np.isin(day, np.flatnonzero(months == month))
        if tariffs[p.tariffs[first]].net:
            credit += min(float((given * p.price)[of].sum()), float((bought * p.price)[of].sum()))
        else:
            credit += float((given * p.export)[of].sum())
    return [BillLine("sent to the grid", -kwh, credit / kwh, -credit)]


def _merged(lines: list[BillLine]) -> list[BillLine]:
    by_name: dict[tuple[str, float], BillLine] = {}
    for x in lines:
        old = by_name.get((x.name, x.price))
        by_name[x.name, x.price] = x if old is None else BillLine(x.name, old.kwh + x.kwh, x.price, old.cost + x.cost)
    return list(by_name.values())
