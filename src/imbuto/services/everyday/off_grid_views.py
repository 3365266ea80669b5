"""Could it run without the grid? In days of the year, with the next steps and their price."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from imbuto.core.basics.measures import volume_text
from imbuto.core.everyday.everyday_modes import can_do
from imbuto.core.everyday.off_grid import OffGrid, lacks_most, off_grid, with_storage, with_sun, without_engine
from imbuto.core.everyday.year_ground import Ground
from imbuto.core.plan.everyday_policy import Everyday
from imbuto.core.plan.itemised_costs import items
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.everyday.plan_asked import asked_for
from imbuto.services.everyday.plan_years import ground_of
from imbuto.services.everyday.year_answers import year_answer

MORE_PANELS = 1.25  # times the panels there are: the next step in sun; planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class OffGridStep:
    """A next step. short: days that come up short with it; price: None where nobody lists one."""

    label: str
    short: int
    price: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class OffGridView:
    """A year without the grid, without a generator but where it says so.

    short: days on which something is not served; longest: the longest run of them; since: its first day
    says: all of it in words
    steps: the cheapest for each day gained first
    """

    short: int
    longest: int
    since: date | None
    unserved_kwh: float
    says: list[str]
    steps: list[OffGridStep]
    currency: str


def off_grid_view(planner: Planner, home_id: str, plan_id: str, source: str | None = None) -> OffGridView | None:
    """A plan's year without any grid; None where nothing hangs on a station. Raises NotFound."""
    documents, plan, key = asked_for(planner, home_id, plan_id, source)
    return year_answer(_alone, documents, plan.id, key, planner.now(documents.home).year) if key else None


def _alone(documents: Documents, plan_id: str, key: str, year: int) -> OffGridView | None:
    plan = documents.plans[plan_id]
    g, everyday = ground_of(documents, plan, key, year), plan.everyday or Everyday()
    if not can_do(g.part).uses:
        return None
    engine = next((x.generator for x in g.line if x.generator is not None), None)
    driven = off_grid(g, everyday) if engine is not None else None
    g = without_engine(g)
    now = off_grid(g, everyday)
    steps = _steps(g, everyday, now)
    says = _says(now, len(g.days), lacks_most(g, everyday, now), has_sun=bool(g.alone_suns_w.any()))
    if driven is not None and engine is not None and now.short:
        left = "no day runs short" if driven.short == 0 else f"{driven.short:,} days still run short"
        fuel = volume_text(driven.fuel_l)
        says.append(f"With {engine.name} {left}: it runs {driven.engine_h:,.0f} hours per year, on {fuel}.")
    return OffGridView(
        short=now.short,
        longest=now.longest,
        since=now.since,
        unserved_kwh=now.unserved_kwh,
        says=says,
        steps=steps,
        currency=documents.home.site.currency,
    )


def _says(now: OffGrid, days: int, lacks: str, *, has_sun: bool) -> list[str]:
    if now.short == 0:
        return ["Yes. In this year no day runs short without the grid."]
    said = [f"Without the grid, {now.short:,} of {days} days run short, by {now.unserved_kwh:,.0f} kWh."]
    if now.since is not None and now.longest > 1:
        said.append(f"The longest spell is {now.longest:,} days, from {now.since:%b} {now.since.day}.")
    if not has_sun:
        said.append("It has no panels, so only a generator can charge it.")
    elif lacks:
        most = {
            "storage": "Storage is the main limit",
            "sun": "Sun is the main limit",
            "both": ("Storage and sun are both limits"),
        }[lacks]
        said.append(f"{most}: twice as much leaves the fewest days short." if lacks != "both" else f"{most}.")
    return said


def _steps(g: Ground, everyday: Everyday, now: OffGrid) -> list[OffGridStep]:
    found: list[OffGridStep] = []
    x = g.part
    if now.short and x.station.module_wh and x.source.modules < x.station.max_modules:
        whole = x.stored_wh
        after = off_grid(with_storage(g, (whole + x.station.module_wh) / whole), everyday)
        price = float(x.station.module_price) or None
        found.append(OffGridStep(label=f"One more {x.station.module_name}", short=after.short, price=price))
    if now.short and g.alone_suns_w.any():
        panels = {a.panel for part in g.line for a in part.plan.arrays.values()}
        names = {part.panels[p].name for part in g.line for p in panels if p in part.panels}
        each = sum(float(i.price) * i.count for part in g.line for i in items(part) if any(n in i.name for n in names))
        after = off_grid(with_sun(g, MORE_PANELS), everyday)
        price = (MORE_PANELS - 1) * each or None
        found.append(OffGridStep(label="A quarter more panels", short=after.short, price=price))

    def a_day(step: OffGridStep) -> float:
        gained = now.short - step.short
        return step.price / gained if step.price is not None and gained > 0 else float("inf")

    return sorted((s for s in found if s.short < now.short), key=a_day)
