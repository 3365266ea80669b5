"""Every plan of a home in every outage: hours 9 in 10, chance, what gives out, money, weight, and the hands needed."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from imbuto.core.advice.answer import Answer
from imbuto.core.advice.hands_needed import steps
from imbuto.core.advice.verdict import State
from imbuto.core.plan.itemised_costs import items, share_more, times, total
from imbuto.core.plan.system import Part
from imbuto.services.desk.planner import Planner
from imbuto.services.desk.verdict_views import HeadlineView, headline_view


@dataclass(frozen=True, slots=True, kw_only=True)
class CostLine:
    """One line of a plan's cost."""

    name: str
    count: int
    price: Decimal
    owned: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Cell:
    """Hold one plan in one outage.

    hours, low_h: None where still on at the end, or where nothing runs; with a broken limit, as if it held
    beside, beside_more: its 9-in-10 hours against the first plan's, in both ways of saying it; empty where a limit of
        either is broken
    """

    outage: str
    state: State
    headline: HeadlineView
    fits: bool
    hours: float | None
    low_h: float | None
    reaches: bool
    neck: str
    simulated_h: float
    beside: str
    beside_more: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanRow:
    """One plan of the matrix.

    price: of everything to be bought that has one
    unpriced: what is to be bought and has none
    per_kwh: of what it stores, None without a station or with nothing to buy
    heaviest_kg: of one piece
    hands: steps someone has to be there for
    beside: its price against the first plan's
    beside_more: the same as a share
    """

    plan: str
    name: str
    status: str
    source: str
    stored_wh: float
    price: Decimal
    currency: str
    per_kwh: Decimal | None
    heaviest_kg: float
    hands: list[str]
    costs: list[CostLine]
    unpriced: list[str]
    beside: str
    beside_more: str
    cells: list[Cell]


@dataclass(frozen=True, slots=True, kw_only=True)
class OutageHead:
    """A column."""

    outage: str
    name: str
    goal_h: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CompareView:
    """The matrix, plans by outages; the first plan is what the others are held against."""

    outages: list[OutageHead]
    rows: list[PlanRow]


def compare(planner: Planner, home_id: str, against: str) -> CompareView:
    """Judge every pair of a home. against: id of the plan the others are held against. Raises NotFound."""
    documents = planner.open(home_id)
    plans = sorted(documents.plans.values(), key=lambda p: p.id != against)
    outages = list(documents.outages.values())
    judged = [[planner.answer_of(home_id, p.id, o.id) for o in outages] for p in plans]
    first = judged[0] if judged else []
    return CompareView(
        outages=[OutageHead(outage=o.id, name=o.name, goal_h=o.goal_hours) for o in outages],
        rows=[_row(row, first, documents.home.site.currency) for row in judged if row],
    )


def _row(row: list[Answer], first: list[Answer], currency: str) -> PlanRow:
    each, plan, parts = row[0].wirings, row[0].plan, row[0].system.parts
    costs = [c for x in each for c in items(x)]
    price, stored = total(costs), sum(x.stored_wh for x in parts)
    other = total([c for x in first[0].wirings for c in items(x)])
    return PlanRow(
        plan=plan.id,
        name=plan.name,
        status=plan.status,
        source=" and ".join(_station(x) for x in parts),
        stored_wh=stored,
        price=price,
        currency=costs[0].currency if costs else currency,
        per_kwh=round(1000 * price / Decimal(stored), 0) if stored > 0 and price > 0 else None,
        heaviest_kg=max((_heaviest_kg(x) for x in parts), default=0.0),
        hands=list(dict.fromkeys(s.title for x in each for s in steps(x))),
        costs=[CostLine(name=c.name, count=c.count, price=c.to_pay, owned=c.owned > 0) for c in costs],
        unpriced=[c.name for c in costs if c.count > c.owned and c.price == 0],
        beside="" if row is first else times(float(price), float(other)),
        beside_more="" if row is first else share_more(float(price), float(other)),
        cells=[_cell(v, w, same=row is first) for v, w in zip(row, first, strict=True)],
    )


def _station(part: Part) -> str:
    station, modules = part.station, part.source.modules
    return station.name + (f" + {modules} {station.module_name}" if modules else "")


def _heaviest_kg(part: Part) -> float:
    station, modules = part.station, part.source.modules
    pieces = [station.weight_kg, station.module_weight_kg if modules else 0.0]
    return max(*pieces, part.generator.weight_kg if part.generator else 0.0)


def _cell(v: Answer, first: Answer, *, same: bool) -> Cell:
    low, other = v.low_h if v.fits else None, first.low_h if first.fits else None
    return Cell(
        outage=v.outage.id,
        state=v.state,
        headline=headline_view(v),
        fits=v.fits,
        hours=v.hours,
        low_h=v.low_h,
        reaches=v.reaches,
        neck=v.neck.title if v.neck else "",
        simulated_h=v.simulated_h,
        beside="" if same or low is None or other is None else times(low, other),
        beside_more="" if same or low is None or other is None else share_more(low, other),
    )
