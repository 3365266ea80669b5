"""What if, on my days: the house and the sun as they were metered, run with another plan, module, unit or panels."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from imbuto.core.basics.clock import BoolArray
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.everyday.everyday_modes import can_do
from imbuto.core.everyday.meter_replay import with_house, with_metered_sun
from imbuto.core.everyday.metered_savings import MeteredPeriod, Role, metered_period, period_steps
from imbuto.core.everyday.ordinary_year import Year, year_of
from imbuto.core.everyday.year_ground import STEP_H, ground
from imbuto.core.everyday.yearly_bill import bill, step_prices
from imbuto.core.plan.everyday_policy import Everyday
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.system import resolve
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.everyday.plan_years import house_flows
from imbuto.services.everyday.saved_views import kept_energy
from imbuto.services.everyday.year_answers import year_answer

PER_HOUR = 1 / STEP_H
Told = tuple[tuple[Role, tuple[tuple[int, float], ...]], ...]


@dataclass(frozen=True, slots=True)
class More:
    """What is more of a plan: modules and units of its first station; panels: times its own."""

    modules: int = 0
    units: int = 0
    panels: float = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class WhatIfView:
    """Metered days with another plan, or with more of one.

    plan: what was run, in words
    days: that were metered; house, sun: kWh metered in them, sun None where it isn't
    bought_then, cost_then: as it was metered; both costs are None without a tariff
    bought, cost: with that plan; unserved: kWh that no one would have served
    notes: what isn't counted
    """

    plan: str
    days: float
    house: float
    sun: float | None
    bought_then: float
    cost_then: float | None
    bought: float
    cost: float | None
    unserved: float
    currency: str
    notes: list[str]


def what_if(
    planner: Planner, home_id: str, plan_id: str, first: date, last: date, metered_with: str, more: More
) -> WhatIfView:
    """Run metered days with a plan. metered_with: the plan they were metered with. Raises NotFound, InvalidValue."""
    documents = planner.open(home_id)
    for key in (plan_id, metered_with):
        if key not in documents.plans:
            raise NotFound("plan", key, "this home doesn't have that plan")
    if last < first or first.year != last.year:
        raise InvalidValue("last", str(last), "choose days of one year, the first before the last")
    plan = _with_more(documents.plans[plan_id], more)
    if not plan.sources:
        raise InvalidValue("plan", plan.name, "it has no station yet")
    check_plan(plan, documents.home, documents.catalogue)
    energy = kept_energy(planner, home_id, first, last)
    told: Told = tuple((role, tuple(sorted(wh.items()))) for role, wh in sorted(energy.items()))
    return year_answer(_run, documents, plan_id, metered_with, more, first, last, told)


def _with_more(plan: Plan, more: More) -> Plan:
    lead = plan.source
    if lead is None:
        return plan
    changed = replace(lead, modules=lead.modules + more.modules, units=lead.units + more.units)
    return replace(plan, sources=plan.sources | {lead.id: changed})


def _run(
    documents: Documents, plan_id: str, metered_with: str, more: More, first: date, last: date, told: Told
) -> WhatIfView:
    energy: Mapping[Role, Mapping[int, float]] = {role: dict(rows) for role, rows in told}
    home, plan = documents.home, _with_more(documents.plans[plan_id], more)
    was = metered_period(first, last, home.site.time_zone, energy, home.tariffs, None)
    house, bought_then = was.kwh["house"], was.kwh["bought"]
    if house is None or bought_then is None:
        rule = "choose days in which the house's use and the energy bought are both metered"
        raise InvalidValue("days", f"{first} to {last}", rule)
    there = np.isfinite(was.rows["house"]) & np.isfinite(was.rows["bought"])
    now_w, then_w = _panels_w(documents, plan), _panels_w(documents, documents.plans[metered_with])
    times = more.panels * (now_w / then_w if then_w else 1.0)
    years = _years(documents, plan, first, last, was, there, times)
    if not years:
        raise InvalidValue("plan", plan.name, "nothing is connected to its station")
    steps, days, day = period_steps(first, last, home.site.time_zone)
    kwh = STEP_H / 1000 * there
    flows = house_flows(years)
    bought = flows.bought_w * kwh
    cost = None
    if home.tariffs:
        prices = step_prices(home.tariffs, steps, days, day)
        cost = bill(home.tariffs, prices, days, day, bought, flows.sold_w * kwh).total
    return WhatIfView(
        plan=_named(documents.plans[plan_id], more),
        days=float(there.sum()) * STEP_H / 24,
        house=house,
        sun=was.kwh["sun"],
        bought_then=bought_then,
        cost_then=was.with_it.total if was.with_it is not None else None,
        bought=float(bought.sum()),
        cost=cost,
        unserved=float((sum((y.unserved_w for y in years), np.zeros(steps.n)) * kwh).sum()),
        currency=home.site.currency,
        notes=_notes(was, documents, plan, documents.plans[metered_with], more),
    )


def _years(
    documents: Documents, plan: Plan, first: date, last: date, was: MeteredPeriod, there: BoolArray, times: float
) -> list[Year]:
    """The days run on every line of a plan, with the house and the sun as metered; times: the panels there are now."""
    found, seen = [], set[str]()
    steps, _, _ = period_steps(first, last, documents.home.site.time_zone)
    house_w = np.nan_to_num(was.rows["house"]) * PER_HOUR
    sun = was.rows.get("sun")
    for key in plan.sources:
        if key in seen:
            continue
        year = ground(documents.home, plan, documents.catalogue, key, list(documents.outages.values()), first.year)
        seen |= {x.source.id for x in year.line}
        if not any(can_do(x).uses for x in year.line):
            continue
        begin = round((steps.start.timestamp() - year.steps.start.timestamp()) / 3600 * PER_HOUR)
        g = with_house(year.part_of(slice(begin, begin + steps.n)), house_w, there)
        if sun is not None:
            g = with_metered_sun(g, year, np.nan_to_num(sun) * PER_HOUR * times, np.isfinite(sun))
            most_w = sum(x.station.solar_w for x in year.line)
            if times > 1 and most_w:  # more panels bring no more than the inputs take
                g = replace(g, suns_w=np.minimum(g.suns_w, most_w))
        found.append(year_of(g, plan.everyday or Everyday()))
    return found


def _panels_w(documents: Documents, plan: Plan) -> float:
    parts = resolve(documents.home, plan, documents.catalogue).parts
    return sum(a.count * x.panels[a.panel].w for x in parts for a in x.plan.arrays.values())


def _notes(was: MeteredPeriod, documents: Documents, plan: Plan, metered_with: Plan, more: More) -> list[str]:
    found = []
    if was.kwh["sun"] is None:
        found.append("The sun isn't metered in these days, so Imbuto uses the model's sun.")
    elif not _panels_w(documents, plan):
        found.append("This plan has no panels, so Imbuto doesn't use the metered sun.")
    elif not _panels_w(documents, metered_with):
        found.append("The plan that was metered has no panels, so Imbuto uses the metered sun as it is.")
    elif more.units and plan.own_arrays:
        found.append("Another unit adds no sun because it comes without panels.")
    if not np.isfinite(was.rows["house"]).all():
        found.append("Hours that aren't metered count in neither bill.")
    return found


def _named(plan: Plan, more: More) -> str:
    counted = ((more.modules, "module"), (more.units, "unit"))
    said = [f"{n} more {word if n == 1 else f'{word}s'}" for n, word in counted if n]
    if more.panels != 1.0:
        said.append(f"{more.panels:g} times the panels")
    return f"{plan.name}, {', '.join(said)}" if said else plan.name
