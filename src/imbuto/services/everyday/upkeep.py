"""Keeping it going: who switches what and when, what is looked after how often, and what may run when the sun brings
more than is used."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Literal

import numpy as np

from imbuto.core.basics.clock import Window, inside
from imbuto.core.basics.errors import NotFound
from imbuto.core.basics.measures import least_text
from imbuto.core.basics.units import number_text
from imbuto.core.home.home import Home
from imbuto.core.limits.rules.generator_limits import FAR_M
from imbuto.core.plan.everyday_policy import CircuitSchedule, Everyday, Mode
from imbuto.core.plan.plan import Plan
from imbuto.formats import calendar
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.everyday.plan_years import years_of
from imbuto.services.everyday.year_answers import year_answer
from imbuto.services.outages.test_views import trials_of
from imbuto.services.papers.work_views import deadlines

Every = Literal["once", "day", "week", "month", "half_year", "year"]
HEAVY_W = 300.0  # what is worth waiting for the sun with; planning default
USE_WORDS = {
    "stand": "stay full",
    "sun": "sun first",
    "store": "battery first",
    "charge": "charge from the grid",
    "surplus": "charge from the roof's surplus",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Duty:
    """Something to do again and again.

    first: the next time, local
    on: days of a weekly one, Monday 0, empty for that of the first
    who: does it
    """

    id: str
    title: str
    why: str
    first: datetime
    every: Every
    on: list[int]
    who: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SpareSunLoad:
    """A load that may wait for spare sun.

    w: running
    fits: into what is thrown away at noon this month
    """

    load: str
    name: str
    w: float
    fits: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class KeepingView:
    """The calendar of a plan, by its next time.

    spare: what may run on it, by day a few large ones in turn and at night none
    spare_w: thrown away at noon this month on average
    """

    duties: list[Duty]
    spare: list[SpareSunLoad]
    spare_w: float
    says: str


def upkeep_view(
    planner: Planner, home_id: str, plan_id: str, outage_id: str, now: datetime | None = None
) -> KeepingView:
    """Everything to keep going. Raises NotFound."""
    documents = planner.open(home_id)
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "this home doesn't have that plan")
    plan, here = documents.plans[plan_id], now or planner.now(documents.home)
    duties = [*_switching(plan, documents.home, here), *_upkeep(documents, plan, here)]
    due = [p for p in trials_of(planner, home_id, plan_id, outage_id, here) if p.due and not p.procedure.refused]
    if due:
        names = ", ".join(p.procedure.title for p in due[:3]) + (f" and {len(due) - 3} more" if len(due) > 3 else "")
        duties.append(
            _duty(
                "tests",
                f"{len(due)} tests to do" if len(due) > 1 else "1 test to do",
                f"{names}: see Outages > Tests.",
                _next(here, 10),
                "month",
            )
        )
    spare_w = year_answer(_spare_w, documents, plan.id, here.year, here.month)
    spare = [
        SpareSunLoad(load=x.id, name=x.name, w=x.run_w * x.count, fits=x.run_w * x.count <= spare_w)
        for x in documents.home.loads.values()
        if x.run_w * x.count >= HEAVY_W and x.use.kind == "tasks"
    ]
    says = (
        f"At noon about {number_text(spare_w)} W of sun go unused this month. Run a few large appliances by day, "
        "one after the other. At night there's none to spare."
        if spare_w >= 1
        else "No solar power is left over this month, so nothing more is free."
    )
    return KeepingView(
        duties=sorted(duties, key=lambda d: d.first),
        spare=sorted(spare, key=lambda s: -s.w),
        spare_w=spare_w,
        says=says,
    )


def as_calendar(planner: Planner, home_id: str, plan_id: str, outage_id: str) -> bytes:
    """The calendar as an iCalendar file."""
    view = upkeep_view(planner, home_id, plan_id, outage_id)
    zone = planner.open(home_id).home.site.tz
    rows = [calendar.Recurring(d.id, d.title, d.why, d.first, d.every, tuple(d.on)) for d in view.duties]
    return calendar.recurring_events(rows, f"{home_id}.{plan_id}", zone, datetime.now(UTC))


def _duty(
    ident: str, title: str, why: str, first: datetime, every: Every, who: str = "", on: tuple[int, ...] = ()
) -> Duty:
    return Duty(id=ident, title=title, why=why, first=first, every=every, on=list(on), who=who)


def _next(now: datetime, hour: float, day: date | None = None) -> datetime:
    at = datetime.combine(day or now.date(), time()) + timedelta(hours=hour)
    return at if at > now else at + timedelta(days=1)


def _switching(plan: Plan, home: Home, now: datetime) -> Iterator[Duty]:
    """What somebody has to switch, unless it does so by itself."""
    policy = plan.everyday
    if policy is None:
        return
    for schedule in policy.circuits.values():
        if schedule.by != "itself":
            yield from _off_and_on(schedule, home.circuits[schedule.id].name, now)
    if policy.by == "itself":
        return
    who = "in its app" if policy.by == "app" else policy.who.strip() or "by hand"
    for mode in policy.modes.values():
        for begins in (True, False):
            for i, (hour, days) in enumerate(changes_of(mode.windows, begins=begins)):
                yield _change(mode, hour, days, i, now, who, begins=begins, policy=policy)
    if policy.sets_out != "never":
        yield _on(
            "out",
            "Folding panels out",
            "Bring them in at dusk, or before wind.",
            9.0,
            {"all": tuple(range(7)), "weekday": tuple(range(5)), "weekend": (5, 6)}[policy.sets_out],
            now,
            "someone at home",
        )


def _off_and_on(schedule: CircuitSchedule, name: str, now: datetime) -> Iterator[Duty]:
    how = "in its app" if schedule.by == "app" else "by hand"
    for begins, word in ((True, "off"), (False, "on")):
        for i, (hour, days) in enumerate(changes_of(schedule.off, begins=begins)):
            yield _on(f"{schedule.id}-{word}-{i}", f"{name} {word}", f"Switch it {how}.", hour, days, now, how)


SATURDAY = 5
MOMENT_H = 1 / 120  # h before and after a change of a window


def changes_of(windows: Sequence[Window], *, begins: bool) -> list[tuple[float, tuple[int, ...]]]:
    """When windows begin, or end, as hours of the day with the weekdays, 0 for Monday, on which they do. Windows that
    touch, such as two whole days of a weekend, have one beginning and one end."""
    hours = sorted({h % 24 for w in windows for h in (w.start_h, w.end_h)} | {0.0})
    found = []
    for hour in hours:
        after = np.full(7, hour + MOMENT_H)
        before = np.full(7, (hour - MOMENT_H) % 24)
        days = np.arange(7)
        earlier = (days - 1) % 7 if hour < MOMENT_H else days
        on = inside(windows, after, days >= SATURDAY)
        was = inside(windows, before, earlier >= SATURDAY)
        hit = np.flatnonzero(on & ~was if begins else was & ~on)
        if len(hit):
            found.append((hour, tuple(int(d) for d in hit)))
    return found


def _change(
    mode: Mode,
    hour: float,
    days: tuple[int, ...],
    i: int,
    now: datetime,
    who: str,
    *,
    begins: bool,
    policy: Everyday,
) -> Duty:
    to = mode.use if begins else policy.rest
    title = f"{mode.name}: {USE_WORDS[to]}" if begins else f"End of {mode.name}: {USE_WORDS[to]}"
    ident = f"{mode.id}-{i}-{'on' if begins else 'off'}"
    return _on(ident, title, f"Switch it {who}.", hour, days, now, who)


def _on(ident: str, title: str, why: str, hour: float, on: tuple[int, ...], now: datetime, who: str) -> Duty:
    first = _next(now, hour)
    while first.weekday() not in on:
        first += timedelta(days=1)
    return _duty(ident, title, why, first, "week", who, on)


# What is looked after again and again: id, title, why, how often, and what calls for it.
UPKEEP: tuple[tuple[str, str, str, Every, Literal["always", "store", "engine", "life"]], ...] = (
    (
        "topup",
        "Check every unused battery",
        "Charge it to two thirds or more. Switch off outputs that no one uses.",
        "month",
        "store",
    ),
    (
        "exercise",
        "Run the generator for half an hour under load",
        "Outside, at least {far} away; then shut its fuel and let it run dry where its maker says so.",
        "month",
        "engine",
    ),
    (
        "fuel",
        "Fuel: use it up and buy fresh",
        "It ages within half a year, sooner where it is warm.",
        "half_year",
        "engine",
    ),
    (
        "alarms",
        "Test the smoke and carbon-monoxide alarms",
        "Press their test button. Replace batteries once a year.",
        "month",
        "always",
    ),
    (
        "gfci",
        "Test the ground-fault outlets",
        "Press their test button. If one trips without a reason, never remove it. Call an electrician.",
        "month",
        "always",
    ),
    (
        "life",
        "The medical device's second supply",
        "Its charge, its adapter, the supplier's number, and where to go.",
        "month",
        "life",
    ),
)


def _upkeep(documents: Documents, plan: Plan, now: datetime) -> Iterator[Duty]:
    month = _next(now, 10, date(now.year, now.month, 1)) if now.day == 1 else _next(now, 10, _first_of_next(now))
    called = {
        "always": True,
        "store": bool(plan.sources),
        "engine": plan.engine is not None,
        "life": any(x.purpose == "life" for x in documents.home.loads.values()),
    }
    for ident, title, why, every, by in UPKEEP:
        if called[by]:
            yield _duty(ident, title, why.format(far=least_text(FAR_M)), month, every)
    for d in deadlines(documents.home, plan, now.date()):
        yield _duty(d.id, d.title, d.why, datetime.combine(d.on, time(9)), "once")
    if plan.arrays:
        yield from _tilting(now)
    for credit in plan.credits.values():
        if credit.ends and credit.ends >= now.date():
            why = f"File by {credit.file_by or 'its date'}; as you entered it."
            yield _duty(
                f"credit-{credit.id}", f"{credit.name} ends", why, datetime.combine(credit.ends, time(9)), "once"
            )


def _tilting(now: datetime) -> Iterator[Duty]:
    for name, month, tilt in (("spring", 3, "flatter"), ("autumn", 9, "steeper")):
        at = datetime(now.year, month, 21, 10)
        first = at if at > now else at.replace(year=now.year + 1)
        title = f"Panels {tilt}, where they can be tilted"
        yield _duty(f"tilt-{name}", title, "Wipe them, and check their cables.", first, "year")


def _first_of_next(now: datetime) -> date:
    return date(now.year + now.month // 12, now.month % 12 + 1, 1)


def _spare_w(documents: Documents, plan_id: str, year: int, month: int) -> float:
    """Mean W of sun that nothing takes from eleven to one, that month."""
    plan, total = documents.plans[plan_id], 0.0
    for y in years_of(documents, plan, year):
        noon = (y.ground.months == month) & (np.abs(y.ground.steps.hour - 12) <= 1)
        total += float(y.thrown_w[noon].mean())
    return total
