"""What a plan costs beside its equipment, and what comes off: rows as they were entered, never tax advice."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Annotated, Literal

from annotated_types import Interval

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.moments import Day
from imbuto.core.basics.units import Fraction, Ident, Name, Text, WattHours

CostKind = Literal["equipment", "cable", "rails", "labour", "permit", "inspection", "delivery", "tax", "other"]
KINDS: tuple[CostKind, ...] = (
    "equipment",
    "cable",
    "rails",
    "labour",
    "permit",
    "inspection",
    "delivery",
    "tax",
    "other",
)
KIND_WORDS: dict[CostKind, str] = {k: "labor" if k == "labour" else k for k in KINDS}
Money = Annotated[float, Interval(ge=0, le=10_000_000)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Cost:
    """One row.

    sum: in the home's currency
    quote: whose offer it is of, empty for what is so in any case
    counts: it is in the total, as one of several offers only the chosen one is
    source, on: where and when it was read
    season: when it is cheaper
    """

    id: Ident
    name: Name
    kind: CostKind = "other"
    sum: Money
    quote: Text = ""
    counts: bool = True
    source: Text = ""
    on: Day | None = None
    season: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Credit:
    """What comes off.

    rate: of the costs of these kinds, or with 0 the sum
    threshold: from so much cost on
    storage_wh: from so much storage on, as labels say, 0 for any
    cap: at most, 0 for none
    begins, ends: of the time in which it has to be installed
    file_by: in words
    """

    id: Ident
    name: Name
    rate: Fraction = 0.0
    sum: Money = 0.0
    of: tuple[CostKind, ...] = ()
    threshold: Money = 0.0
    storage_wh: WattHours = 0.0
    cap: Money = 0.0
    begins: Day | None = None
    ends: Day | None = None
    file_by: Text = ""


def check_costs(costs: Mapping[str, Cost], credit_rows: Mapping[str, Credit]) -> None:
    """Raise InvalidValue for ids that disagree, a credit that is none, and times that run backwards."""
    for key, ident in [*((k, c.id) for k, c in costs.items()), *((k, c.id) for k, c in credit_rows.items())]:
        if key != ident:
            raise InvalidValue(f"costs/{key}/id", ident, f"its key is “{key}”, and the two must be the same")
    for credit in credit_rows.values():
        if (credit.rate > 0) == (credit.sum > 0):
            raise InvalidValue(
                f"{credit.name}, credit",
                f"{credit.rate:g} and {credit.sum:g}",
                "enter either a share of the cost or an amount",
            )
        if credit.begins and credit.ends and credit.ends < credit.begins:
            raise InvalidValue(f"{credit.name}, until", credit.ends.isoformat(), "choose an end after the start")


def credit_unmet(
    credit: Credit, by_kind: Mapping[CostKind, float], on: date, storage_wh: float = math.inf
) -> str | None:
    """Why a credit takes nothing off on a day, in words; None where all it asks for is met.

    storage_wh: of the plan, as labels say"""
    if credit.begins and on < credit.begins:
        return f"starts {credit.begins:%d %b %Y}"
    if credit.ends and on > credit.ends:
        return f"ended {credit.ends:%d %b %Y}"
    basis = _basis(credit, by_kind)
    if basis < credit.threshold or basis <= 0:
        return f"not met: it needs costs of {credit.threshold:,.0f}, and these are {basis:,.0f}"
    if storage_wh < credit.storage_wh:
        has, asks = storage_wh / 1000, credit.storage_wh / 1000
        return f"not met: it needs {asks:,.3g} kWh of storage, and this plan has {has:,.1f}"
    return None


def _basis(credit: Credit, by_kind: Mapping[CostKind, float]) -> float:
    return sum(v for k, v in by_kind.items() if not credit.of or k in credit.of)


def credit_amount(credit: Credit, by_kind: Mapping[CostKind, float], on: date, storage_wh: float = math.inf) -> float:
    """What a credit takes off costs by kind on a day; 0 outside its time, or where what it asks for is not met."""
    if credit_unmet(credit, by_kind, on, storage_wh) is not None:
        return 0.0
    basis = _basis(credit, by_kind)
    off = credit.rate * basis if credit.rate > 0 else min(credit.sum, basis)
    return min(off, credit.cap) if credit.cap > 0 else off


def payback_years(cost: float, saving: float, growth: float, most: float) -> float | None:
    """Years until savings add up to a cost.

    saving: in the first year
    growth: of it, a year, such as 0.02
    most: years that it lasts. None for never within them.
    """
    if cost <= 0:
        return 0.0
    if saving <= 0:
        return None
    left, year = cost, 0
    while year < most:
        this = saving * (1 + growth) ** year
        part = min(1.0, most - year)
        if this * part >= left:
            return year + left / this
        left -= this * part
        year += 1
    return None


def wear_a_kwh(price: float, usable_wh: float, cycles: int) -> float | None:
    """What a delivered kWh wears off: price over what the cells deliver in their life; None where that is unlisted."""
    return price / (usable_wh / 1000 * cycles) if cycles > 0 and usable_wh > 0 else None
