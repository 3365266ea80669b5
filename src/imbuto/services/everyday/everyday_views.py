"""Everyday: a plan's ordinary year, its bill beside the same house without the plan, and how ready it leaves the
house."""

from __future__ import annotations

from dataclasses import dataclass

from imbuto.core.basics.units import hours_text
from imbuto.core.everyday.everyday_modes import EverydayModes, can_do
from imbuto.core.everyday.ordinary_year import Year, year_of
from imbuto.core.everyday.readiness import Readiness, readiness, ready_again_h, year_with_missed_switches
from imbuto.core.everyday.year_ground import STEP_H, Ground
from imbuto.core.everyday.yearly_bill import YearlyBill, step_prices
from imbuto.core.plan.entered.cost_entries import wear_a_kwh
from imbuto.core.plan.everyday_policy import Everyday
from imbuto.core.plan.itemised_costs import Purchase, items
from imbuto.core.plan.stop_level import stop_level
from imbuto.formats.csv_tables.csvout import table
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.everyday.counted_readiness import counted_readiness, goal_of, not_counted
from imbuto.services.everyday.everyday_figures import (
    DayFlow,
    MonthKwh,
    cheap_unused,
    grid_steps_at_hold,
    mean_day,
    missing_for_a_year,
    months_of,
    nights_of,
    over_it,
    switches,
    to_move,
)
from imbuto.services.everyday.plan_asked import asked_for
from imbuto.services.everyday.plan_years import bills, ground_of
from imbuto.services.everyday.year_answers import year_answer

NOBODY = EverydayModes((), (), "No station yet. Choose one under Power source.")


@dataclass(frozen=True, slots=True, kw_only=True)
class BillView:
    """A year's bill. by_hand: the sum."""

    lines: list[dict[str, float | str]]
    total: float
    by_hand: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadinessView:
    """Readiness for the goal.

    chance, error: 0 to 1
    missed: the chance with one switch missed a month
    again: how long until at its hold again after an outage, in words
    not_counted: why no outage counts as reaching the goal, whatever is stored; empty where the chance holds
    """

    goal_h: float
    chance: float
    error: float
    by_month: list[float]
    worst: int
    mean_h: float
    missed: float
    again: str
    not_counted: str


@dataclass(frozen=True, slots=True, kw_only=True)
class EverydayView:
    """An ordinary year.

    uses, by, why: what the joining can carry
    hold_kwh, hold_h: over the floor, and hours of what keeps on
    before, after: bills without the plan and with it, None without a tariff
    saving: of them
    wear: a delivered kWh, None where unlisted
    worn: in the year; cycles; unserved_kwh
    switches: of its own between grid and store
    back_h: hours back on the grid at its hold, and move: what draws most then, to be used at another hour
    over: what it carries
    unused: that the cheapest hours are never used, and the next step; empty where they are
    lacking: whether for what is still bought panels or storage are lacking; currency; every_evening: each day's charge
        at dusk and dawn
    """

    source: str
    station: str
    uses: list[str]
    by: list[str]
    why: str
    everyday: Everyday
    stop_level: float
    hold_kwh: float
    hold_h: str
    before: BillView | None
    after: BillView | None
    saving: float | None
    wear: float | None
    worn: float | None
    cycles: float
    unserved_kwh: float
    switches: int
    back_h: float
    move: str
    over: str
    unused: str
    lacking: str
    currency: str
    tariff: str
    months: list[MonthKwh]
    days: list[DayFlow]
    nights: list[list[float]]
    ready: ReadinessView | None


def everyday_view(
    planner: Planner, home_id: str, plan_id: str, outage_id: str, source: str | None = None
) -> EverydayView:
    """A plan's ordinary year. Raises NotFound."""
    documents, plan, key = asked_for(planner, home_id, plan_id, source)
    if not key:
        return _nothing(NOBODY, key, "", plan.everyday or Everyday(), documents.home.site.currency)
    return year_answer(_lived, documents, plan.id, outage_id, key, planner.now(documents.home).year)


def _lived(documents: Documents, plan_id: str, outage_id: str, key: str, year: int) -> EverydayView:
    plan = documents.plans[plan_id]
    currency, policy = documents.home.site.currency, plan.everyday or Everyday()
    g = ground_of(documents, plan, key, year)
    can, station = can_do(g.part), g.part.station
    if not can.uses or station is None:
        return _nothing(can, key, station.name, policy, currency)
    y = year_of(g, policy)
    before, after = bills(documents, [y])
    floor, wh = stop_level(g.part), y.store.available_wh
    held_wh = max(policy.hold - floor, 0.0) * wh
    mean_w = float(g.asked_own_w.mean())
    price = float(sum(p.price * p.count for p in _cells(g)))
    wear = wear_a_kwh(price, (1 - floor) * wh, station.cycle_life)
    out_kwh = y.cycles * wh * y.store.efficiency / 1000
    goal, why_not = goal_of(documents, outage_id), not_counted(documents, plan, outage_id)
    r = counted_readiness(documents, y, goal, why_not)
    return EverydayView(
        source=key,
        station=station.name,
        uses=list(can.uses),
        by=list(can.by),
        why=can.why,
        everyday=policy,
        stop_level=floor,
        hold_kwh=held_wh / 1000,
        hold_h=hours_text(held_wh / y.store.draw_w(mean_w)) if mean_w > 0 else "",
        before=_bill_view(before),
        after=_bill_view(after),
        saving=before.total - after.total if before and after else None,
        wear=wear,
        worn=None if wear is None else wear * out_kwh,
        cycles=y.cycles,
        unserved_kwh=y.unserved_wh / 1000,
        switches=switches(y),
        back_h=float(grid_steps_at_hold(y).sum()) * STEP_H,
        move=to_move(y),
        over=over_it(y),
        unused=_unused(documents, y),
        lacking=missing_for_a_year(y),
        currency=currency,
        tariff=", ".join(dict.fromkeys(documents.home.tariffs[t].name for t in _held(documents, g))),
        months=months_of(y),
        days=[mean_day(y, m) for m in (1, 4, 7, 10)],
        nights=nights_of(y),
        ready=_ready_view(y, goal, r, why_not),
    )


def _held(documents: Documents, g: Ground) -> list[str]:
    if not documents.home.tariffs:
        return []
    return [t for t in dict.fromkeys(step_prices(documents.home.tariffs, g.steps, g.days, g.day).tariffs) if t]


def _unused(documents: Documents, y: Year) -> str:
    g, tariffs = y.ground, documents.home.tariffs
    if not tariffs or not any(_held(documents, g)):
        return ""
    names = {(t.id, r.id): r.name for t in tariffs.values() for r in t.rates.values()}
    return cheap_unused(y, step_prices(tariffs, g.steps, g.days, g.day), names)


def _cells(g: Ground) -> list[Purchase]:
    """What wears: the station's units and modules."""
    x = g.part
    names = {x.unit.name, x.station.module_name}
    return [p for p in items(x) if p.name in names]


def _ready_view(y: Year, goal: float, r: Readiness, why_not: str) -> ReadinessView:
    after = ready_again_h(y, stop_level(y.ground.part))
    with_missed = (
        readiness(year_with_missed_switches(y.ground, y.everyday), goal).chance
        if y.everyday.modes and not why_not
        else r.chance
    )
    again = "not in three days" if after is None else hours_text(after) if after > 0 else "at once"
    return ReadinessView(
        goal_h=goal,
        chance=r.chance,
        error=r.error,
        by_month=list(r.by_month),
        worst=r.worst,
        mean_h=r.mean_h,
        missed=with_missed,
        again=again,
        not_counted=why_not,
    )


def _bill_view(b: YearlyBill | None) -> BillView | None:
    if b is None:
        return None
    lines: list[dict[str, float | str]] = [
        {"name": x.name, "kwh": x.kwh, "price": x.price, "cost": x.cost} for x in b.lines
    ]
    return BillView(lines=lines, total=b.total, by_hand=b.by_hand)


def _nothing(can: EverydayModes, source: str, station: str, policy: Everyday, currency: str) -> EverydayView:
    return EverydayView(
        source=source,
        station=station,
        uses=[],
        by=[],
        why=can.why,
        everyday=policy,
        stop_level=0.0,
        hold_kwh=0,
        hold_h="",
        before=None,
        after=None,
        saving=None,
        wear=None,
        worn=None,
        cycles=0,
        unserved_kwh=0,
        switches=0,
        back_h=0.0,
        move="",
        over="",
        unused="",
        lacking="",
        currency=currency,
        tariff="",
        months=[],
        days=[],
        nights=[],
        ready=None,
    )


def year_csv(planner: Planner, home_id: str, plan_id: str, outage_id: str, source: str | None = None) -> str:
    """The months and the nights of an ordinary year as a table. Raises NotFound."""
    view = everyday_view(planner, home_id, plan_id, outage_id, source)
    head = [
        "what",
        "of",
        "house kWh",
        "on the station kWh",
        "bought for the station kWh",
        "sun kWh",
        "unused kWh",
        "exported kWh",
        "met by sun",
        "at dusk",
        "at dawn",
        "not served kWh",
        "nights short",
        "generator h",
        "fuel (l)",
    ]
    rows: list[list[str | float | int | None]] = [
        [
            "month",
            m.month,
            m.house,
            m.fed,
            m.bought,
            m.sun,
            m.thrown,
            m.given,
            m.by_sun,
            m.dusk,
            m.dawn,
            m.unserved,
            m.failing,
            m.engine_h,
            m.fuel_l,
        ]
        for m in view.months
    ]
    rows += [["night", i + 1, *[None] * 7, dusk, dawn, *[None] * 4] for i, (dusk, dawn) in enumerate(view.nights)]
    return table(head, rows)
