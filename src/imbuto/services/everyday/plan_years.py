"""The ordinary years of a plan's stations, and the house's bills with and without them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.cache import ContentCache
from imbuto.core.basics.clock import FloatArray
from imbuto.core.everyday.everyday_modes import can_do
from imbuto.core.everyday.ordinary_year import Year, year_of
from imbuto.core.everyday.year_ground import STEP_H, Ground, ground
from imbuto.core.everyday.yearly_bill import YearlyBill, bill, step_prices
from imbuto.core.plan.everyday_policy import Everyday
from imbuto.core.plan.plan import Plan
from imbuto.services.desk.judging import Documents

MOST_GROUNDS = 8
_grounds: ContentCache[Ground] = ContentCache(MOST_GROUNDS)


def ground_of(documents: Documents, plan: Plan, source: str, year: int) -> Ground:
    """The light and loads of a plan's year, kept for as long as the documents say the same."""

    def make() -> Ground:
        return ground(documents.home, plan, documents.catalogue, source, list(documents.outages.values()), year)

    sets_out = plan.everyday.sets_out if plan.everyday else "never"
    return _grounds.get((documents.content, plan.id, source, year, sets_out), make)


def years_of(documents: Documents, plan: Plan, year: int) -> list[Year]:
    """A plan's ordinary years: one for all stations that are stepped together; none where nothing hangs on them."""
    found: list[Year] = []
    seen: set[str] = set()
    for key in plan.sources:
        if key in seen:
            continue
        g = ground_of(documents, plan, key, year)
        seen |= {x.source.id for x in g.line}
        if any(can_do(x).uses for x in g.line):
            found.append(year_of(g, plan.everyday or Everyday()))
    return found


def bills(documents: Documents, years: Sequence[Year]) -> tuple[YearlyBill, YearlyBill] | tuple[None, None]:
    """The house's bills without the plan and with it, at equal service: what the plan leaves unserved is bought in
    neither, and what cars take for their drives in both. None without a tariff."""
    tariffs = documents.home.tariffs
    if not tariffs or not years:
        return None, None
    g, kwh = years[0].ground, STEP_H / 1000
    p = step_prices(tariffs, g.steps, g.days, g.day)
    flows = house_flows(years)
    return tuple(
        bill(tariffs, p, g.days, g.day, bought * kwh, sold * kwh)
        for bought, sold in ((flows.bought_without_w, flows.sold_without_w), (flows.bought_w, flows.sold_w))
    )  # type: ignore[return-value]


@dataclass(frozen=True, slots=True)
class HouseFlows:
    """What a house's meter would count with a plan and without it, at equal service; AC W of each step, (n,).

    bought_w, sold_w: with the plan; bought_without_w, sold_without_w: without it, with the roof that is there anyway
    """

    bought_w: FloatArray
    sold_w: FloatArray
    bought_without_w: FloatArray
    sold_without_w: FloatArray


def house_flows(years: Sequence[Year]) -> HouseFlows:
    """What the meter counts: a roof's power is used in the house first, and sold only where the plan has leave to."""
    g = years[0].ground
    sells = bool(years[0].everyday.exports.strip())
    without_w, with_w = house_draw(years)
    given = sum((y.given_w for y in years), np.zeros_like(with_w))
    return HouseFlows(
        bought_w=np.maximum(with_w - g.roof_w, 0.0),
        sold_w=given + np.maximum(g.roof_w - with_w, 0.0) * sells,
        bought_without_w=np.maximum(without_w - g.owned_roof_w, 0.0),
        sold_without_w=np.maximum(g.owned_roof_w - without_w, 0.0) * sells,
    )


def house_draw(years: Sequence[Year]) -> tuple[FloatArray, FloatArray]:
    """AC W that the whole house draws from grid and roof, without the plan and with it, (n,) each: at equal service,
    but for circuits that the plan has off by a schedule."""
    g = years[0].ground
    house = g.fed_w + g.rest_w
    driven = sum((y.driven_w for y in years), np.zeros_like(house))
    without = house + g.spared_w - sum(y.unserved_w for y in years) + np.maximum(driven, 0.0)
    with_it = house + sum(y.bought_w - y.ground.fed_w for y in years) + np.maximum(-driven, 0.0)
    return np.maximum(without, 0.0), np.maximum(with_it, 0.0)
