"""Worth it? What a plan costs, what comes off, what it saves, and when that meets: "never" is an answer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from imbuto.core.advice.carried_uses import CarriedUse, carried_uses
from imbuto.core.advice.headline import headline
from imbuto.core.basics.measures import volume_text
from imbuto.core.basics.units import hours_text
from imbuto.core.equipment.equipment_units import OutputVolts
from imbuto.core.everyday.grid_limits import at_limit, gives_w
from imbuto.core.everyday.ordinary_year import Year
from imbuto.core.everyday.year_ground import STEP_H
from imbuto.core.home.tariff import Tariff
from imbuto.core.limits.instants import instants
from imbuto.core.plan.entered.cost_entries import KINDS, CostKind, credit_amount, credit_unmet, payback_years
from imbuto.core.plan.instead_of_plan import generator_instead
from imbuto.core.plan.itemised_costs import times
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.stop_level import stop_level
from imbuto.core.plan.system import Part, resolve
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.everyday.plan_asked import asked_for
from imbuto.services.everyday.plan_years import bills, years_of
from imbuto.services.everyday.worth.worth_lines import (
    GROWTH,
    MOST_YEARS,
    CreditLine,
    NextStep,
    Offer,
    OtherPlanCost,
    OtherTariff,
    PaybackLine,
    WorthCostLine,
    cost_lines,
    offers_on,
    payback_lines,
)
from imbuto.services.everyday.year_answers import year_answer

STANDING_YEARS = 15.0  # of cells whose warranty is unlisted; planning default
STANDS_ONLY = 0.5  # of the currency a year: less than this is nothing
FLAT = 0.01  # of a price: rates closer than this leave nothing to shift


@dataclass(frozen=True, slots=True, kw_only=True)
class WorthView:
    """Everything about money.

    cost: to be paid
    net: with what comes off
    saving: cash in the first year, None without a tariff
    lives: years until its cells end, by calendar or by cycles, and lives_why: which
    avoided: a year's worth of what outages spoil, as it was entered
    instead: nothing at all, and a generator alone, in its place, in words
    nothing: why there is nothing to save
    warning: what breaks in the outage that is looked at, empty where nothing does
    a_kwh, a_usable_kwh: stored
    uses: what stations are carried away for
    """

    currency: str
    lines: list[WorthCostLine]
    credits: list[CreditLine]
    cost: float
    net: float
    saving: float | None
    lives: float
    lives_why: str
    avoided: float
    payback: list[PaybackLine]
    others: list[OtherTariff]
    offers: list[Offer]
    rivals: list[OtherPlanCost]
    instead: list[str]
    steps: list[NextStep]
    nothing: str
    warning: str
    a_kwh: float | None
    a_usable_kwh: float | None
    uses: list[CarriedUse]


def worth(planner: Planner, home_id: str, plan_id: str, outage_id: str, avoided: float = 0.0) -> WorthView:
    """What a plan is worth in money. avoided: a year's worth of what outages spoil. Raises NotFound."""
    documents, plan, _ = asked_for(planner, home_id, plan_id, None)
    today = planner.now(documents.home).date()
    lines = cost_lines(documents, plan)
    by_kind: dict[CostKind, float] = {k: sum(x.sum for x in lines if x.kind == k and x.counts) for k in KINDS}
    parts = resolve(documents.home, plan, documents.catalogue).parts
    stored = sum(x.stored_wh for x in parts)
    credits = [
        CreditLine(
            name=c.name,
            off=credit_amount(c, by_kind, today, stored),
            note=f"file by {c.file_by}" if c.file_by else "",
            met=credit_unmet(c, by_kind, today, stored) or "met, as you entered it",
        )
        for c in plan.credits.values()
    ]
    cost = sum(by_kind.values())
    net = max(cost - sum(c.off for c in credits), 0.0)
    lived = year_answer(_lived, documents, plan.id, today.year)
    saving, lives, wh = lived.saving, lived.lives, lived.stored_wh
    usable = lived.usable_wh
    return WorthView(
        currency=documents.home.site.currency,
        lines=lines,
        credits=credits,
        cost=cost,
        net=net,
        saving=saving,
        lives=lives,
        lives_why=lived.lives_why,
        avoided=avoided,
        payback=payback_lines(net, saving, avoided, lives, never=bool(lived.shuts_off)),
        others=_others(lived, net),
        offers=offers_on(lines),
        rivals=_rivals(planner, home_id, documents, plan, outage_id, net),
        instead=_instead(planner, home_id, documents, plan, outage_id, avoided),
        steps=_steps(planner, home_id, plan_id, outage_id),
        nothing=lived.nothing,
        warning=_trips(planner, home_id, plan_id, outage_id),
        a_kwh=net / (wh / 1000) if wh else None,
        a_usable_kwh=net / (usable / 1000) if usable else None,
        uses=list(carried_uses(plan, parts, documents.home.site.currency)),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class LivedYears:
    """What the ordinary years of a plan's stations come to.

    saving: a year, None without a tariff
    by_tariff: name and a year's saving of each tariff of the home as if it held all year
    lives: years counted on; lives_why: what ends them
    stored_wh: of all that have an ordinary year; usable_wh: of that above the stop level
    shuts_off: why it has no payback, where it shuts off on ordinary days
    nothing: why there is nothing to save, where there is not
    """

    saving: float | None
    by_tariff: list[tuple[str, float]]
    lives: float
    lives_why: str
    stored_wh: float
    usable_wh: float
    shuts_off: str
    nothing: str


def _lived(documents: Documents, plan_id: str, year: int) -> LivedYears:
    years = years_of(documents, documents.plans[plan_id], year)
    saving = _saving(documents, years)
    lives, why = _lives(years)
    each = [(t.name, _saving(_only(documents, t), years)) for t in documents.home.tariffs.values()]
    return LivedYears(
        saving=saving,
        by_tariff=[(name, s) for name, s in each if s is not None],
        lives=lives,
        lives_why=why,
        stored_wh=sum(s.available_wh for y in years for s in y.stores),
        usable_wh=sum(_usable_wh(y) for y in years),
        shuts_off=_shuts_off(years),
        nothing=_nothing(documents, years, saving),
    )


def _usable_wh(y: Year) -> float:
    """What the stations of a line hold above their stop level, with their banks, Wh."""
    whole = sum(s.available_wh for s in y.stores)
    kept = sum(
        stop_level(x) * s.available_wh for rank, x in enumerate(y.ground.line) for s in y.stores[y.ground.places(rank)]
    )
    return whole - kept


def _saving(documents: Documents, years: Sequence[Year]) -> float | None:
    before, after = bills(documents, years)
    return before.total - after.total if before is not None and after is not None else None


def _lives(years: Sequence[Year]) -> tuple[float, str]:
    """Until the first of calendar and cycles ends; wear is not counted a second time."""
    best, why = MOST_YEARS, "Imbuto counts on no more"
    for lived, rank, x in ((y, i, x) for y in years for i, x in enumerate(y.ground.line)):
        station, cycles = x.station, lived.cycles_of(rank)
        calendar = station.warranty_years or STANDING_YEARS
        if calendar < best:
            best, why = (
                calendar,
                "its warranty ends then" if station.warranty_years else "batteries also age when unused",
            )
        if station.cycle_life and cycles > 0 and station.cycle_life / cycles < best:
            best, why = station.cycle_life / cycles, "its cells reach their listed cycles then"
    return best, why


def _trips(planner: Planner, home_id: str, plan_id: str, outage_id: str) -> str:
    """What breaks in an outage: the saving is of ordinary days, and says nothing of that."""
    if outage_id not in planner.open(home_id).outages:
        return ""
    v = planner.answer_of(home_id, plan_id, outage_id)
    if v.fits:
        return ""
    return "The saving counts ordinary days. In an outage this plan doesn't work yet. See the result above."


def _others(lived: LivedYears, net: float) -> list[OtherTariff]:
    """Each tariff of the home as if it held all year."""
    return [
        OtherTariff(name=name, saving=saving, years=payback_years(net, saving, GROWTH[0], lived.lives))
        for name, saving in lived.by_tariff
    ]


def _only(documents: Documents, tariff: Tariff) -> Documents:
    return replace(documents, home=replace(documents.home, tariffs={tariff.id: tariff}))


def _rivals(
    planner: Planner, home_id: str, documents: Documents, plan: Plan, outage_id: str, net: float
) -> list[OtherPlanCost]:
    if outage_id not in documents.outages:
        return []
    found = []
    for other in documents.plans.values():
        v = planner.answer_of(home_id, other.id, outage_id)
        cost = net if other.id == plan.id else sum(x.sum for x in cost_lines(documents, other) if x.counts)
        hours = v.band.low_h if v.band is not None and v.fits else None  # hours past the simulated end are not known
        found.append(
            OtherPlanCost(
                plan=other.id,
                name=other.name,
                cost=cost,
                hours=headline(v).short,
                a_hour=cost / hours if hours else None,
                ratio="" if other.id == plan.id else times(cost, net),
            )
        )
    return found


def _instead(
    planner: Planner, home_id: str, documents: Documents, plan: Plan, outage_id: str, avoided: float
) -> list[str]:
    """What doing without the plan would cost: nothing at all, and a generator that carries the same loads alone."""
    currency, history = documents.home.site.currency, documents.home.household.history
    spoils = f"outages spoil {avoided:,.0f} {currency} per year"
    if avoided <= 0:
        spoils = "spoiled food isn't counted. Enter its cost above"
    said = [f"No backup costs nothing, and {spoils}."]
    if outage_id not in documents.outages:
        return said
    v = planner.answer_of(home_id, plan.id, outage_id)
    runs = [s.run for s in v.stations if s.run is not None and not s.part.waits]
    if not runs:
        return said
    parts = [r.part for r in runs]
    outage = documents.outages[outage_id]
    hours = v.band.low_h if v.band is not None and v.band.low_h is not None else outage.goal_hours
    found = generator_instead(
        documents.catalogue.generators.values(),
        np.sum([r.load_w for r in runs], axis=0),
        sum(now.most(now.va) for now in (instants(x) for x in parts)),
        _needs(documents, parts),
        documents.home.site.elevation_m,
        hours,
        history.a_year,
        history.usual_h,
    )
    if found is None:
        return [*said, "No generator in the equipment list can power all of these loads at once."]
    x = found.generator
    text = f"A generator: {x.name}, {float(x.price):,.0f} {x.currency}, powers the same loads"
    text += f". For {hours_text(hours)} it burns {volume_text(found.hours_l)}"
    if found.year_h > 0:
        text += f", in a usual year ({hours_text(found.year_h)} without the grid) {volume_text(found.year_l)}"
    return [*said, f"{text}. Someone starts and refuels it outdoors, and it saves nothing on ordinary days."]


def _needs(documents: Documents, parts: Sequence[Part]) -> OutputVolts:
    """The volts that the loads of these stations need."""
    if documents.home.service.volts == 230:
        return "230"
    return "120/240" if any(documents.home.needs_both_legs(f.load) for x in parts for f in x.fed) else "120"


def _steps(planner: Planner, home_id: str, plan_id: str, outage_id: str) -> list[NextStep]:
    """What the verdict would do next, each with its hours and its price."""
    view = planner.verdict(home_id, plan_id, outage_id)
    found = []
    for m in view.moves[:6]:
        price = float(m.price) if m.price is not None else None
        gained = max(m.hours_gained or 0.0, 0.0)
        a_hour = price / gained if price and gained > 0 and not m.never_dark else None
        said = f"more than {hours_text(gained)}" if m.never_dark else hours_text(gained)
        found.append(NextStep(label=m.label, hours=said, price=price, a_hour=a_hour))
    return found


def _shuts_off(years: Sequence[Year]) -> str:
    """Why there is no payback, where a station that is moved over by hand shuts off on ordinary days."""
    for y in years:
        for rank, x in enumerate(y.ground.line):
            hours = float(y.overload.over[rank].sum()) * STEP_H
            if hours > 0 and at_limit(x) == "shuts_off":
                return (
                    f"On ordinary days {x.station.name} shuts off: for {hours:,.0f} hours per year its loads draw more "
                    f"than the {gives_w(x):,.0f} W it supplies. Take a load off it first. Otherwise it doesn't pay."
                )
    return ""


def _nothing(documents: Documents, years: Sequence[Year], saving: float | None) -> str:
    """Why there is nothing to save, where there is not."""
    if not documents.home.tariffs:
        return "No tariff is entered yet, so Imbuto can't calculate savings."
    if not years:
        return "Nothing is connected to a station yet, so there is nothing to save."
    prices = [r.price for t in documents.home.tariffs.values() for r in t.rates.values()]
    sun = any(y.ground.sun_w.any() or y.ground.roof_w.any() for y in years)
    if not sun and max(prices) - min(prices) <= FLAT * max(abs(p) for p in prices):
        return (
            "With a flat tariff there is nothing to gain from storing, because every kWh costs the same and "
            "storing loses some."
        )
    if (shuts_off := _shuts_off(years)) != "":
        return shuts_off
    if saving is not None and abs(saving) < STANDS_ONLY:
        return (
            "With these settings it only waits for an outage, so on ordinary days it saves nothing and costs nothing."
        )
    if saving is not None and saving < 0:
        return (
            "With these settings it costs more than it saves, because its own use and losses are higher than the gain."
        )
    return ""
