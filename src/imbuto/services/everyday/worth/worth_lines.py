"""What a plan costs and what is paid back, line by line."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from imbuto.core.plan.entered.cost_entries import payback_years
from imbuto.core.plan.itemised_costs import items
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.system import resolve
from imbuto.services.desk.judging import Documents

GROWTH = (0.0, 0.02, 0.05)  # of prices, a year: none, usual, steep; planning defaults
MOST_YEARS = 25.0  # nothing longer is counted on; planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class WorthCostLine:
    """One line of what it costs.

    owned: is there already
    sum: to be paid
    quote: whose offer
    counts: it is in the total
    """

    name: str
    kind: str
    count: int
    each: float
    sum: float
    owned: int
    quote: str
    counts: bool
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CreditLine:
    """What comes off, as it was entered. met: whether what it asks for is met, and else why not, in words."""

    name: str
    off: float
    note: str
    met: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PaybackLine:
    """When it has paid for itself.

    growth: of prices a year
    years: None for never
    avoided: with the worth of what an outage spoils
    """

    growth: float
    avoided: bool
    years: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherTariff:
    """The saving at another tariff of the home; years: until it has paid, None for never."""

    name: str
    saving: float
    years: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """One whole offer: what it comes to with what is in any case. chosen: its rows are in the total."""

    name: str
    total: float
    chosen: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherPlanCost:
    """Another plan, at its own hours.

    a_hour: cost of each hour it lasts, None where it does not
    ratio: beside this one
    """

    plan: str
    name: str
    cost: float
    hours: str
    a_hour: float | None
    ratio: str


@dataclass(frozen=True, slots=True, kw_only=True)
class NextStep:
    """One move more, and what it buys.

    hours: in words
    price: None where nobody lists one
    """

    label: str
    hours: str
    price: float | None
    a_hour: float | None


def cost_lines(documents: Documents, plan: Plan) -> list[WorthCostLine]:
    each = resolve(documents.home, plan, documents.catalogue).each
    found = [
        WorthCostLine(
            name=p.name,
            kind="equipment",
            count=p.count,
            each=float(p.price),
            sum=float(p.to_pay),
            owned=p.owned,
            quote="",
            counts=True,
            note="",
        )
        for x in each
        for p in items(x)
    ]
    for c in plan.costs.values():
        said = [c.source, f"{c.on:%d %b %Y}" if c.on else "", f"cheaper in {c.season}" if c.season else ""]
        found.append(
            WorthCostLine(
                name=c.name,
                kind=c.kind,
                count=1,
                each=c.sum,
                sum=c.sum,
                owned=0,
                quote=c.quote,
                counts=c.counts,
                note=", ".join(s for s in said if s),
            )
        )
    return found


def payback_lines(net: float, saving: float | None, avoided: float, lives: float, *, never: bool) -> list[PaybackLine]:
    """never: it shuts off on ordinary days, so nothing of it is counted on."""
    if saving is None:
        return []
    each = [(False, saving), *([(True, saving + avoided)] if avoided > 0 else [])]
    return [
        PaybackLine(growth=g, avoided=with_it, years=None if never else payback_years(net, sum_, g, lives))
        for with_it, sum_ in each
        for g in GROWTH
    ]


def offers_on(lines: Sequence[WorthCostLine]) -> list[Offer]:
    always = sum(x.sum for x in lines if not x.quote)
    names = dict.fromkeys(x.quote for x in lines if x.quote)
    return [
        Offer(
            name=n,
            total=always + sum(x.sum for x in lines if x.quote == n),
            chosen=any(x.counts for x in lines if x.quote == n),
        )
        for n in names
    ]
