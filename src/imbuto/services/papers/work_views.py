"""The work as the screen shows it: each step with its minutes, what was asked, and when it is ready."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date, datetime

from imbuto.core.basics.errors import NotFound
from imbuto.core.basics.units import day_text
from imbuto.core.home.home import Home
from imbuto.core.plan.entered.paperwork import (
    PERMISSIONS,
    STAGES,
    LeadTimeStage,
    Permission,
    permission_rows,
    ready_between,
    unproven,
)
from imbuto.core.plan.offtime import off_time
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.system import resolve
from imbuto.services.desk.planner import Planner

PERMISSION_WORDS: dict[str, str] = dict(PERMISSIONS.items())
STAGE_WORDS: dict[str, str] = dict(STAGES.items())


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkStepView:
    """A step of the work.

    minutes: that dark is dark
    usual: the planning default
    dark: names of circuits, of none where it is the whole panel
    """

    id: str
    name: str
    by: str
    at: datetime | None
    minutes: float
    usual: float
    whole: bool
    booked: bool
    dark: list[str]
    meanwhile: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DarkView:
    """A circuit, and for how many minutes the work leaves it dark in all."""

    circuit: str
    name: str
    minutes: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkView:
    """The work of a plan.

    permissions, stages: a row of every kind, whether it is entered or not, with kinds' words
    ready: in words
    """

    steps: list[WorkStepView]
    dark: list[DarkView]
    cautions: list[str]
    days: int
    permissions: list[Permission]
    permission_words: dict[str, str]
    stages: list[LeadTimeStage]
    stage_words: dict[str, str]
    ready: str
    unproven: bool


def work_view(planner: Planner, home_id: str, plan_id: str) -> WorkView:
    """The work of a plan. Raises NotFound."""
    documents = planner.open(home_id)
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "this home doesn't have that plan")
    home, plan = documents.home, documents.plans[plan_id]
    each = resolve(home, plan, documents.catalogue).each
    made = off_time(home, plan, each)
    return WorkView(
        steps=[
            WorkStepView(
                id=t.step.id,
                name=t.step.name,
                by=t.step.by,
                at=t.at,
                minutes=t.step.minutes,
                usual=t.step.usual,
                whole=t.step.whole,
                booked=t.step.booked,
                dark=[] if t.step.whole else [home.circuits[c].name for c in t.step.circuits],
                meanwhile=t.meanwhile,
            )
            for t in made.steps
        ],
        dark=[
            DarkView(circuit=c, name=home.circuits[c].name, minutes=m)
            for c, m in sorted(made.dark.items(), key=lambda x: -x[1])
        ],
        cautions=list(made.cautions),
        days=made.days,
        permissions=permission_rows(plan.permissions),
        permission_words=PERMISSION_WORDS,
        stages=_stage_rows(plan),
        stage_words=STAGE_WORDS,
        ready=ready_words(plan.stages, planner.now(home).date()),
        unproven=unproven(plan.stages),
    )


def _stage_rows(plan: Plan) -> list[LeadTimeStage]:
    by = {s.kind: s for s in plan.stages.values()}
    return [by.get(kind, LeadTimeStage(id=kind, kind=kind)) for kind in STAGES]


@dataclass(frozen=True, slots=True)
class Deadline:
    """Something that has its last day. why: where it stands."""

    id: str
    title: str
    why: str
    on: date


def deadlines(home: Home, plan: Plan, today: date) -> Iterator[Deadline]:
    """What ends, or is to be had by a day: permissions, tasks, what is on file, and when the source may be relied
    on."""
    for p in plan.permissions.values():
        if p.by is not None and p.by >= today and p.state not in ("granted", "not_needed"):
            yield Deadline(
                f"ask-{p.id}", f"{PERMISSIONS[p.kind]}: still to get", "See Papers > Work and permits.", p.by
            )
    for t in plan.tasks.values():
        if t.on is not None and t.done is None and t.on >= today:
            yield Deadline(f"task-{t.id}", t.name, t.who or "See Papers > Work and permits.", t.on)
    for f in home.binder.values():
        if f.until is not None and f.until >= today:
            yield Deadline(
                f"filed-{f.id}",
                f"{f.title} ends",
                f"From {f.of}. The paper is in the binder." if f.of else "The paper is in the binder.",
                f.until,
            )
    between = ready_between(plan.stages, today)
    if between is not None and any(s.done is None for s in plan.stages.values()):
        yield Deadline(
            "ready",
            f"{plan.name}: ready at the latest, according to lead times",
            "See Papers > Work and permits.",
            between[1],
        )


def ready_words(stages: Mapping[str, LeadTimeStage], today: date) -> str:
    """When a plan may be relied on."""
    between = ready_between(stages, today)
    if between is None:
        return "No lead times are entered."
    low, high = between
    when = day_text(low) if low == high else f"between {day_text(low)} and {day_text(high)}"
    if all(s.done is not None for s in stages.values()):
        return f"Ready since {when}."
    return f"Ready {when}." + (
        " Its station doesn't count until a test proves that it switches on." if unproven(stages) else ""
    )
