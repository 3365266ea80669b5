"""Replay: a year of the utility's data through a plan."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.elsewhere import run_elsewhere
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.basics.units import hours_text
from imbuto.core.everyday.everyday_modes import can_do
from imbuto.core.everyday.meter_replay import beside_owned_roof, hours_carried, with_metered_draw
from imbuto.core.everyday.ordinary_year import year_of
from imbuto.core.everyday.year_ground import STEP_H, ground
from imbuto.core.everyday.yearly_bill import bill, step_prices
from imbuto.core.measuring.metered_series import watts
from imbuto.core.plan.everyday_policy import Everyday
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.everyday.plan_asked import asked_for
from imbuto.services.everyday.plan_years import house_flows
from imbuto.store import series_blocks as stored
from imbuto.store.models import ReadingRow, SeriesRow


@dataclass(frozen=True, slots=True, kw_only=True)
class Meter:
    """A series of the whole house. begins, ends: local days."""

    id: str
    name: str
    begins: datetime
    ends: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class RealOutage:
    """One the meter saw.

    carried: whether the plan would have lasted through it from what that day left
    says: in words
    """

    at: datetime
    hours: float
    carried: bool
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ReplayView:
    """What a plan would have done.

    days: the meter tells of
    house_kwh: in them
    saved: None without a tariff
    sums: by hand
    note: what isn't counted
    """

    meter: str
    days: float
    house_kwh: float
    saved: float | None
    currency: str
    sums: list[str]
    note: str
    outages: list[RealOutage]


def meters(planner: Planner, home_id: str) -> list[Meter]:
    """The series of the whole house. Raises NotFound."""
    zone = planner.open(home_id).home.site.tz
    found = []
    with planner.database.reading() as session:
        for row in stored.list_series(session, home_id):
            reading = session.get(ReadingRow, (home_id, row.reading_id))
            if reading is not None and reading.load is None and reading.circuit is None and not reading.withdrawn:
                a, b = (
                    datetime.fromtimestamp(s, zone).replace(tzinfo=None)
                    for s in stored.extent(session, home_id, row.id)
                )
                found.append(Meter(id=row.id, name=_named(row), begins=a, ends=b))
    return found


def _named(row: SeriesRow) -> str:
    return f"{row.channel}, {row.file}" if row.channel else row.file


def replay(planner: Planner, home_id: str, plan_id: str, series_id: str, source: str | None = None) -> ReplayView:
    """A meter's year through a plan. Raises NotFound, InvalidValue where the joining carries no ordinary days."""
    documents, plan, key = asked_for(planner, home_id, plan_id, source)
    if series_id not in {m.id for m in meters(planner, home_id)}:
        raise NotFound("meter", series_id, "this home doesn't have that whole-house series")
    with planner.database.reading() as session:
        row, series = stored.load(session, home_id, series_id)
    if not key:
        raise InvalidValue("plan", plan.name, "it has no station yet")
    return run_elsewhere(_replayed, documents, plan.id, key, _named(row), *watts(series))


def _replayed(
    documents: Documents, plan_id: str, key: str, meter: str, seconds: FloatArray, w: FloatArray
) -> ReplayView:
    plan = documents.plans[plan_id]
    zone = documents.home.site.tz
    middle = datetime.fromtimestamp(float(np.median(seconds)), UTC).astimezone(zone)
    g = ground(documents.home, plan, documents.catalogue, key, list(documents.outages.values()), middle.year)
    can = can_do(g.part)
    if not can.uses:
        raise InvalidValue("plan", plan.name, f"it isn't used on ordinary days; {can.why}")
    everyday = plan.everyday or Everyday()
    by_surplus = "surplus" in {everyday.rest, *(m.use for m in everyday.modes.values())} and g.owned_roof_w.any()
    m = with_metered_draw(beside_owned_roof(g), seconds, w)
    y = year_of(m.ground, everyday)
    kwh, there = STEP_H / 1000, m.there
    flows = house_flows([y])
    house = (m.ground.fed_w + m.ground.rest_w) * kwh * there
    saved, sums = None, []
    if documents.home.tariffs:
        p = step_prices(documents.home.tariffs, g.steps, g.days, g.day)
        counted = kwh * there
        before, after = (
            bill(documents.home.tariffs, p, g.days, g.day, bought * counted, sold * counted)
            for bought, sold in ((flows.bought_without_w, flows.sold_without_w), (flows.bought_w, flows.sold_w))
        )
        saved = before.total - after.total
        sums = [f"As it was: {before.by_hand}", f"With the plan: {after.by_hand}"]
    outages = []
    for (first, steps), lasted in zip(m.gone, hours_carried(y, m.gone), strict=True):
        hours = steps * STEP_H
        at = g.steps.start.timestamp() + first * STEP_H * 3600
        held = lasted >= hours - 1e-9
        says = f"{hours_text(hours)} without power" + (
            ", powered throughout" if held else f", without power after {hours_text(lasted)}"
        )
        outages.append(
            RealOutage(at=datetime.fromtimestamp(at, zone).replace(tzinfo=None), hours=hours, carried=held, says=says)
        )
    return ReplayView(
        meter=meter,
        days=float(there.sum()) * STEP_H / 24,
        house_kwh=float(house.sum()),
        saved=saved,
        currency=documents.home.site.currency,
        sums=sums,
        note="This meter counts what you buy, so charging from your roof’s surplus isn’t in it." if by_surplus else "",
        outages=outages,
    )
