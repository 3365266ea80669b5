"""The ordinary years of a plan's stations, and the house's bills with and without them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from imbuto.core.basics.cache import ContentCache
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
    g = years[0].ground
    p = step_prices(tariffs, g.steps, g.days, g.day)
    without_w, with_w = house_draw(years)
    exports, kwh = bool(years[0].everyday.exports.strip()), STEP_H / 1000
    given = sum((y.given_w for y in years), np.zeros(g.steps.n))
    return tuple(
        bill(
            tariffs,
            p,
            g.days,
            g.day,
            np.maximum(drawn - roof, 0.0) * kwh,
            (more + np.maximum(roof - drawn, 0.0) * exports) * kwh,
        )
        for drawn, roof, more in ((without_w, g.owned_roof_w, 0.0 * given), (with_w, g.roof_w, given))
    )  # type: ignore[return-value]


def house_draw(years: Sequence[Year]) -> tuple[np.ndarray, np.ndarray]:
    """AC W that the whole house buys without the plan and with it, at equal service, (n,) each."""
    g = years[0].ground
    house = g.fed_w + g.rest_w
    driven = sum((y.driven_w for y in years), np.zeros_like(house))
    without = house - sum(y.unserved_w for y in years) + np.maximum(driven, 0.0)
    with_it = house + sum(y.bought_w - y.ground.fed_w for y in years) + np.maximum(-driven, 0.0)
    return np.maximum(without, 0.0), np.maximum(with_it, 0.0)
