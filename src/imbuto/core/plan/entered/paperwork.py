"""What has to be done, asked and proven before a plan can be relied on: tasks, permissions, the line of lead times,
the wiring as built."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Annotated, Literal

from annotated_types import Interval

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.moments import Day
from imbuto.core.basics.units import Ident, Name, Text
from imbuto.core.plan.entered.cost_entries import Money

Hand = Literal["own", "hired", "certified"]
PermissionKind = Literal["permit", "utility", "export_ban", "tariff", "insurer", "landlord", "family", "rebate"]
Answer = Literal["unknown", "not_needed", "asked", "granted", "refused"]
StageKind = Literal["reservation", "supply", "estimate", "installer", "proof", "activation"]
BuiltKind = Literal["deviation", "temporary", "retired"]
Minutes = Annotated[float, Interval(ge=0, le=1_440)]
Weeks = Annotated[float, Interval(ge=0, le=260)]

HANDS: dict[Hand, str] = {"own": "yourself", "hired": "hired", "certified": "certified only"}
PERMISSIONS: dict[PermissionKind, str] = {
    "permit": "Building permit",
    "utility": "Utility agreement",
    "export_ban": "Export to the grid allowed or not",
    "tariff": "Tariffs available then",
    "insurer": "Insurer informed",
    "landlord": "Landlord or owners' association",
    "family": "The family agrees",
    "rebate": "Rebate requested",
}
ANSWERS: dict[Answer, str] = {
    "unknown": "not known",
    "not_needed": "not needed",
    "asked": "asked",
    "granted": "granted",
    "refused": "refused",
}
STAGES: dict[StageKind, str] = {
    "reservation": "Reservation",
    "supply": "Supply",
    "estimate": "Estimate by the installer",
    "installer": "Steps that only an installer may do",
    "proof": "Proof with photos",
    "activation": "Activation",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Task:
    """Something to do.

    by: whose hands may
    who: does it
    on: planned for
    done: the day it was
    quote, sum: an offer for it
    """

    id: Ident
    name: Name
    by: Hand = "hired"
    who: Text = ""
    on: Day | None = None
    done: Day | None = None
    quote: Text = ""
    sum: Money | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Permission:
    """Something to be asked for.

    state: the answer so far; nobody having looked is never "not needed"
    by: to be had by
    on: answered
    who: answers
    paper: its number, or where it lies
    """

    id: Ident
    kind: PermissionKind
    state: Answer = "unknown"
    by: Day | None = None
    on: Day | None = None
    who: Text = ""
    paper: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class LeadTimeStage:
    """One stage of the lead time, one after the other in the order of STAGES.

    low_weeks, high_weeks: it takes
    done: the day it was
    """

    id: Ident
    kind: StageKind
    low_weeks: Weeks = 0.0
    high_weeks: Weeks = 0.0
    done: Day | None = None
    note: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class BuildChange:
    """How it came out otherwise than planned.

    kind: built otherwise, only for now, or a switch that serves no more; where
    settled: the day it was marked, taken out, or taken into the plan
    """

    id: Ident
    kind: BuiltKind
    what: Name
    where: Text = ""
    settled: Day | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkDays:
    """When the work on the wiring is done.

    day: the first, None while none is settled
    start_h: local hour it begins
    minutes: of a step, where somebody knows better than the planning default, by its id
    """

    day: Day | None = None
    start_h: Annotated[float, Interval(ge=0, le=24)] = 9.0
    minutes: dict[str, Minutes] = field(default_factory=dict)


def check_paperwork(
    where: str,
    tasks: Mapping[str, Task],
    permissions: Mapping[str, Permission],
    stages: Mapping[str, LeadTimeStage],
    built: Mapping[str, BuildChange],
) -> None:
    """Raise InvalidValue for ids that disagree, a kind that stands twice, and weeks or days that run backwards."""
    for kind, rows in (("tasks", tasks), ("permissions", permissions), ("stages", stages), ("built", built)):
        for key, row in rows.items():
            if key != row.id:
                raise InvalidValue(
                    f"{where}, {kind}/{key}/id", row.id, f"its key is “{key}”, and the two must be the same"
                )
    kinds: list[str] = [p.kind for p in permissions.values()] + [s.kind for s in stages.values()]
    twice = next((k for k in kinds if kinds.count(k) > 1), None)
    if twice is not None:
        raise InvalidValue(f"{where}, {twice}", twice, "enter it once")
    for stage in stages.values():
        if stage.high_weeks < stage.low_weeks:
            rule = f"choose a maximum that isn't below the minimum, {stage.low_weeks:g}"
            raise InvalidValue(f"{where}, {STAGES[stage.kind]}, weeks at most", stage.high_weeks, rule)


def in_order(stages: Mapping[str, LeadTimeStage]) -> list[LeadTimeStage]:
    """One after the other."""
    order = list(STAGES)
    return sorted(stages.values(), key=lambda s: order.index(s.kind))


def ready_between(stages: Mapping[str, LeadTimeStage], today: date) -> tuple[date, date] | None:
    """The earliest and the latest day on which everything may be proven and active: what is not done yet, from today
    on. The last done day where all is; None without a line of lead times."""
    if not stages:
        return None
    left = [s for s in stages.values() if s.done is None]
    if not left:
        last = max(s.done for s in stages.values() if s.done is not None)
        return last, last
    low, high = (sum(getattr(s, f) for s in left) for f in ("low_weeks", "high_weeks"))
    return today + timedelta(days=round(7 * low)), today + timedelta(days=round(7 * high))


def unproven(stages: Mapping[str, LeadTimeStage]) -> bool:
    """Whether an activation is still to come: until then nothing of the plan may be counted on."""
    return any(s.kind == "activation" and s.done is None for s in stages.values())


def permission_rows(kept: Mapping[str, Permission]) -> list[Permission]:
    """One row of every kind; what nobody has looked into is not known, and never not needed."""
    by = {p.kind: p for p in kept.values()}
    return [by.get(kind, Permission(id=kind.replace("_", "-"), kind=kind)) for kind in PERMISSIONS]
