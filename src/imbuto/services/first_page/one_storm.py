"""One storm laid over each home: what each says of the same outage, and the outage kept in it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime

from imbuto.core.advice.answer import judge
from imbuto.core.basics.errors import NotFound
from imbuto.core.basics.moments import LocalTime
from imbuto.core.basics.units import Hours, Name
from imbuto.core.everyday.ordinary_start import as_left
from imbuto.core.plan.outage import Outage, Weather
from imbuto.formats.documents import OUTAGE
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import EditResult, Planner
from imbuto.services.desk.verdict_views import verdict_view
from imbuto.services.first_page.home_summary import foremost

STORM_ID = "shared-storm"
DAYS = 365


@dataclass(frozen=True, slots=True, kw_only=True)
class SharedStorm:
    """An outage that is laid over several homes.

    start: local time in each of them; how warm it is then, each home's own outage in the season says
    """

    name: Name
    start: LocalTime
    hours: Hours
    weather: Weather = "storm"


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanName:
    """A plan to choose."""

    id: str
    name: str


@dataclass(frozen=True, slots=True, kw_only=True)
class StormAnswer:
    """What one home says of the storm.

    plan: judged
    plans: of the home, by id and name
    says: the answer in words
    reaches: the storm's end, 9 times in 10, with everything powered that must stay on
    fits: no limit is broken by known figures
    like, like_name: the home's own outage in the season, whose temperatures it has
    kept: id of the outage that is kept in the home and is the same, empty for none
    """

    home: str
    name: str
    plan: str
    plan_name: str
    plans: list[PlanName]
    says: str
    reaches: bool
    fits: bool
    like: str
    like_name: str
    kept: str


def storm_answer(planner: Planner, home_id: str, storm: SharedStorm, plan_id: str | None = None) -> StormAnswer:
    """What a home says of a storm with one of its plans, by default the one that speaks for it. Raises NotFound."""
    documents = planner.open(home_id)
    if plan_id is not None and plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "this home doesn't have that plan")
    home, plan = documents.home, documents.plans[plan_id] if plan_id else foremost(documents)
    case, like = _case(documents, storm)
    begun = as_left(home, plan, case, documents.catalogue, documents.outages.values())
    view = verdict_view(judge(home, plan, begun, documents.catalogue))
    return StormAnswer(
        home=home_id,
        name=home.name,
        plan=plan.id,
        plan_name=plan.name,
        plans=[PlanName(id=p.id, name=p.name) for p in documents.plans.values()],
        says=view.headline.sentence,
        reaches=view.reaches,
        fits=view.fits,
        like=like.id,
        like_name=like.name,
        kept=case.id if documents.outages.get(case.id) == case else "",
    )


def keep_storm(planner: Planner, home_id: str, storm: SharedStorm, edit_id: str) -> EditResult:
    """Keep a storm among a home's outages, in the place of the one that was kept before; one edit, which can be
    undone. Raises NotFound, Stale."""
    state = planner.state(home_id)
    documents = planner.enter(state)
    case, _ = _case(documents, storm)
    ops = [{"doc": case.id, "kind": "outage", "op": "add", "path": "", "value": OUTAGE.write(case)}]
    if case.id in documents.outages:
        ops.insert(0, {"doc": case.id, "kind": "outage", "op": "remove", "path": ""})
    return planner.edit(home_id, state.rev, edit_id, f"Outage: {case.name}", ops, None)


def _case(documents: Documents, storm: SharedStorm) -> tuple[Outage, Outage]:
    """The storm as this home's outage, and the one it is like."""
    like = in_season(documents.outages.values(), storm.start)
    case = replace(
        like,
        id=STORM_ID,
        name=storm.name,
        start=storm.start,
        hours=storm.hours,
        goal_hours=storm.hours,
        weather=storm.weather,
        skies=(),
        iced_h=min(like.iced_h, storm.hours),
        note="",
    )
    return case, like


def in_season(outages: Iterable[Outage], start: datetime) -> Outage:
    """The outage that begins nearest to a day of the year; of several the first. A storm that was kept before is
    left out where there is another."""

    def apart(case: Outage) -> int:
        days = abs(case.start.timetuple().tm_yday - start.timetuple().tm_yday)
        return min(days, DAYS - days)

    there = list(outages)
    return min([x for x in there if x.id != STORM_ID] or there, key=apart)
