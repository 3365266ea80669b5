"""How large, and what to buy: schools beside the simulation, what each load takes, and the frontier of what can be
bought."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from decimal import Decimal
from functools import partial
from typing import Any

from imbuto.core.advice.frontier import Frontier, FrontierPoint, by_itself, fewest, frontier
from imbuto.core.advice.house_totals import without
from imbuto.core.advice.sizing_methods import SchoolAnswer, implied_w, schools, solar_schools
from imbuto.core.basics.clock import grid
from imbuto.core.basics.elsewhere import Progress, run_elsewhere_with_progress
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.basics.units import number_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.solar_panel import Panel
from imbuto.core.everyday.ordinary_start import as_left
from imbuto.core.home.home import day_wh
from imbuto.core.home.loads import Load
from imbuto.core.light.solar_light import MONTH_STEP_H, MONTHS_OF, days_of, mean_wh, month_wh, plane_w_m2, shares_of
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan, narrow_to_source
from imbuto.core.plan.sources import Array
from imbuto.core.plan.system import Part, vary_in_line
from imbuto.core.run.run import Run, simulate
from imbuto.formats.documents import PLAN
from imbuto.formats.patch import apply, difference
from imbuto.services.desk.background_jobs import Job, Jobs, JobState
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.house.house_views import bills_wh_day

AGES = (0, 3, 5, 10)
YEARLY_LOSS = 0.02  # of capacity, standing mostly full; planning default
MOST_MONEY = Decimal(1_000_000)


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadCost:
    """What a load takes of the hours: how much longer it would last without it. never_dark: past the end of the run."""

    load: str
    name: str
    mean_w: float
    hours: float
    never_dark: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class YearView:
    """The same plan so many years on.

    health: what age has left of its cells
    hours: None while still on at the end
    """

    years: int
    health: float
    hours: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class SizeView:
    """Sizes by every school.

    years: the plan as its cells age
    felt: what hours told by feel would mean, in words
    loads: by what they take of the hours, the most first
    goes_dark: whether it does at all. Empty without a station or anything fed.
    """

    schools: list[SchoolAnswer]
    loads: list[LoadCost]
    years: list[YearView]
    felt: str
    currency: str
    goes_dark: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class BuyView:
    """One way to buy.

    low_h: None past the horizon; beside: what the next cheaper on the frontier lacks
    within: the budget
    beaten_by: what beats it, in words
    may_trip: a limit may be broken by what is assumed
    ops: what to send as an edit to take it
    """

    name: str
    stored_wh: float
    panels: str
    price: Decimal
    low_h: float | None
    reaches: bool
    room: int
    within: bool
    beaten_by: str
    may_trip: bool
    ops: list[dict[str, Any]]


@dataclass(frozen=True, slots=True, kw_only=True)
class FrontierView:
    """All that can be bought for this plan in this outage.

    best: what nothing beats, cheapest first
    beaten: some of the rest, with what beats them
    reach: the cheapest that reaches the goal
    for_budget: the longest within it
    """

    best: list[BuyView]
    beaten: list[BuyView]
    reach: BuyView | None
    for_budget: BuyView | None
    tried: int
    misfit: int
    horizon_h: float
    goal_h: float
    currency: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FrontierJob:
    """The work on a frontier. part: done, 0 to 1."""

    id: str
    state: JobState
    part: float
    problem: str
    result: FrontierView | None


def check_money(budget: Decimal | None) -> None:
    """Raise InvalidValue for a budget that is none."""
    if budget is not None and not 0 < budget <= MOST_MONEY:
        raise InvalidValue("budget", str(budget), f"enter an amount up to {MOST_MONEY:,}")


def size_view(
    planner: Planner, home_id: str, plan: str, outage: str, budget: Decimal | None = None, felt_h: float | None = None
) -> SizeView:
    """Sizes for a plan in an outage. Raises NotFound, InvalidValue."""
    check_money(budget)
    if felt_h is not None and not 0 < felt_h <= 2_000:
        raise InvalidValue("hours", felt_h, "enter more than 0 and at most 2,000")
    answer = planner.answer_of(home_id, plan, outage)
    home = planner.open(home_id).home
    run = answer.run
    if run is None:
        return SizeView(schools=[], loads=[], years=[], felt="", currency=home.site.currency)
    bills = bills_wh_day(planner, home_id)
    found = [
        *schools(run, bills or day_wh(home), _per_wh(run.part), budget, billed=bool(bills)),
        *_solar(run, planner, home_id),
    ]
    return SizeView(
        schools=found,
        loads=_loads(run, answer.powered_w),
        years=_years(run),
        felt=_felt([v.run for v in answer.stations if v.run is not None], felt_h),
        currency=home.site.currency,
        goes_dark=run.hours is not None,
    )


def _per_wh(now: Part) -> Decimal | None:
    station = now.station
    if station.module_wh > 0 and station.module_price > 0:
        return station.module_price / Decimal(station.module_wh)
    return station.price / Decimal(station.nominal_wh) if station.price > 0 else None


def _loads(run: Run, powered: dict[str, float]) -> list[LoadCost]:
    found = []
    # What life and health depend on is nobody's savings.
    for load in {f.load.id: f.load for f in run.part.fed if f.load.purpose != "life" and not f.assumed}.values():
        if not _without(run.part, load).fed or run.hours is None:
            continue
        less = vary_in_line(run.part, partial(_without, load=load), all_of_line=True)
        freed = without(run, simulate(less, run.outage, hours_only=True), load)
        found.append(
            LoadCost(
                load=load.id,
                name=load.name,
                mean_w=powered[load.id],
                hours=freed.hours,
                never_dark=freed.never_dark,
            )
        )
    return sorted(found, key=lambda x: -x.hours)


def _without(part: Part, load: Load) -> Part:
    return replace(part, fed=tuple(f for f in part.fed if f.load.id != load.id))


def _years(run: Run) -> list[YearView]:
    """Two points of capacity a year by the calendar, less than a wear by daily cycles would be."""
    now, found = run.part, []
    for years in AGES:
        health = round(now.source.health * (1 - YEARLY_LOSS) ** years, 4)
        left = round((1 - YEARLY_LOSS) ** years, 4)
        aged = vary_in_line(now, partial(_aged, left=left), all_of_line=True)
        then = simulate(aged, run.outage, hours_only=True)
        found.append(YearView(years=years, health=health, hours=then.hours))
    return found


def _aged(part: Part, left: float) -> Part:
    """A station with so much left of what its cells hold now."""
    source = replace(part.source, health=round(part.source.health * left, 4))
    return replace(part, source=source, plan=replace(part.plan, sources=part.plan.sources | {source.id: source}))


def _felt(runs: list[Run], hours: float | None) -> str:
    """What hours told by feel would mean, for each station."""
    if hours is None:
        return ""
    if len(runs) == 1:
        return _felt_of(runs[0], hours)
    return " ".join(f"{r.part.station.name}: {_felt_of(r, hours)}" for r in runs)


def _felt_of(run: Run, hours: float) -> str:
    implied = implied_w(run, hours)
    gap = run.average_w - implied
    says = f"{number_text(hours)} h from this charge would mean {number_text(implied)} W on average"
    if abs(gap) <= 0.1 * max(run.average_w, 1):
        return f"{says}, and your circuits draw {number_text(run.average_w)} W: the feeling is about right."
    more = "more" if gap > 0 else "less"
    return f"{says}; your circuits draw {number_text(run.average_w)} W, {number_text(abs(gap))} W {more}. " + (
        "That person had fewer loads on, or didn't count them all." if gap > 0 else "That person had more loads on."
    )


def _solar(run: Run, planner: Planner, home_id: str) -> list[SchoolAnswer]:
    """Panels by every school, for the plan's first array, or for one facing the sun where it has none."""
    sun = sun_on_plane(run.part, planner, home_id)
    if sun is None:
        return []
    rated = sun.array.count * sun.panel.w
    need = 24 * run.store.draw_w(run.average_w) / run.store.mppt_efficiency
    hours = sun.hours
    return list(solar_schools(need, sun.means_wh[sun.worst] / rated, sum(hours.values()) / 12, hours[sun.worst]))


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaneSun:
    """The sun on a plan's first array, or on one facing the sun where it has none.

    means_wh: DC Wh of the mean day, by month; worst: the month of the least
    hours: peak sun hours of the mean day, by month
    """

    array: Array
    panel: Panel
    means_wh: dict[int, float]
    hours: dict[int, float]

    @property
    def worst(self) -> int:
        """The month that gives least, 1 to 12."""
        return min(self.means_wh, key=lambda m: self.means_wh[m])


def sun_on_plane(now: Part, planner: Planner, home_id: str) -> PlaneSun | None:
    """The sun that a station's panels see; None without a solar input, or where no panel fits it."""
    station, site = now.station, now.home.site
    if not station.solar_inputs:
        return None
    array = next(iter(now.plan.arrays.values()), None) or _imagined(now, station, planner, home_id)
    if array is None:
        return None
    panel = planner.open(home_id).catalogue.panels[array.panel]
    return PlaneSun(
        array=array,
        panel=panel,
        means_wh={m: mean_wh(month_wh(array, panel, station, site, m), days_of(site, m)) for m in range(1, 13)},
        hours={m: _sun_hours(array, now, m) for m in range(1, 13)},
    )


def _imagined(now: Part, station: Station, planner: Planner, home_id: str) -> Array | None:
    site = now.home.site
    for panel in planner.open(home_id).catalogue.panels.values():
        series = fewest(panel, station, now.home)
        if series is not None and panel.currency == site.currency:
            south = 180.0 if site.latitude >= 0 else 0.0
            return Array(id="tried", name="Tried", panel=panel.id, series=series, azimuth=south)
    return None


def _sun_hours(array: Array, now: Part, month: int) -> float:
    """Peak sun hours of the mean day of a month on an array's plane."""
    site = now.home.site
    steps = grid(datetime(MONTHS_OF, month, 15), site.time_zone, 24, MONTH_STEP_H)
    shares = shares_of(days_of(site, month))
    return sum(
        share * float(plane_w_m2(site, steps, w, array.tilt, array.azimuth, array.shade).sum()) * MONTH_STEP_H / 1000
        for w, share in shares.items()
    )


def begin_frontier(
    planner: Planner, jobs: Jobs, home_id: str, plan: str, outage: str, budget: Decimal | None
) -> FrontierJob:
    """Start looking at everything that can be bought. Raises NotFound, InvalidValue."""
    check_money(budget)
    documents = planner.open(home_id)
    chosen, case = documents.plans.get(plan), documents.outages.get(outage)
    if chosen is None or case is None:
        raise NotFound(
            "plan" if chosen is None else "outage",
            plan if chosen is None else outage,
            ("this home doesn't have that one"),
        )
    if not chosen.feeds:
        raise InvalidValue("what to buy", chosen.name, "nothing is powered yet; choose circuits or loads first")

    def work(job: Job) -> object:
        return run_elsewhere_with_progress(looked_at, job.progress, documents, chosen, case, budget)

    return frontier_job(jobs, jobs.start(home_id, work).id)


def looked_at(
    documents: Documents, plan: Plan, case: Outage, budget: Decimal | None, progress: Progress
) -> FrontierView:
    """In the worker: look at everything that can be bought for a plan's first station."""
    base = narrow_to_source(plan, next(iter(plan.sources), ""))
    used = in_outage(documents.home, plan, case)
    before, all_of_it = PLAN.write(base), PLAN.write(plan)

    def whole(chosen: Plan) -> Plan:
        changed, _ = apply({plan.id: all_of_it}, difference(plan.id, before, PLAN.write(chosen)))
        return PLAN.read(changed.get(plan.id, all_of_it))

    case = as_left(documents.home, plan, case, documents.catalogue, documents.outages.values())
    found = frontier(used, base, case, documents.catalogue, tell=progress, whole=None if by_itself(plan) else whole)
    return _frontier_view(found, before, case.goal_hours, budget, documents.home.site.currency)


def frontier_job(jobs: Jobs, job_id: str) -> FrontierJob:
    """How far it is, and what it came to. Raises NotFound."""
    job = jobs.get(job_id)
    result = job.result if isinstance(job.result, FrontierView) else None
    return FrontierJob(id=job.id, state=job.state, part=job.part, problem=job.problem, result=result)


def _frontier_view(
    found: Frontier, before: dict[str, Any], goal: float, budget: Decimal | None, currency: str
) -> FrontierView:
    def view(r: FrontierPoint) -> BuyView:
        after = PLAN.write(r.combination.plan)
        return BuyView(
            name=_name(r),
            stored_wh=r.stored_wh,
            panels=r.combination.panels,
            price=r.price,
            low_h=r.low_h,
            reaches=r.reaches,
            room=r.room,
            within=budget is None or r.price <= budget,
            beaten_by=_name(r.beaten_by) if r.beaten_by else "",
            may_trip=r.may_trip,
            ops=difference(str(before["id"]), before, after),
        )

    best = found.best
    affordable = [r for r in best if budget is not None and r.price <= budget]
    reach = next((r for r in best if r.reaches), None)
    beaten = [r for r in found.reaches if r.beaten_by is not None]
    beaten.sort(key=lambda r: -(r.low_h or found.horizon_h) / max(float(r.price), 1.0))
    return FrontierView(
        best=[view(r) for r in best],
        beaten=[view(r) for r in beaten[:8]],
        reach=view(reach) if reach else None,
        for_budget=view(affordable[-1]) if affordable else None,
        tried=found.tried,
        misfit=found.misfit,
        horizon_h=found.horizon_h,
        goal_h=goal,
        currency=currency,
    )


def _name(r: FrontierPoint) -> str:
    source, station = r.combination.source, r.part.station
    pair = " as a pair" if source.link == "coupler" and source.units > 1 else ""
    modules = f" + {source.modules} {station.module_name}" if source.modules else ""
    panels = f", {r.combination.panels}" if r.combination.panels else ""
    return f"{station.name}{pair}{modules}{panels}"
