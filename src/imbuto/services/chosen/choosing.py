"""A proposed set, as an edit to take and reasons to read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from imbuto.core.advice.candidates import Pin
from imbuto.core.advice.choose import Sure, propose
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.home.loads import PURPOSES, Purpose
from imbuto.core.plan.plan import Plan, narrowed
from imbuto.formats.documents import PLAN
from imbuto.formats.patch import difference
from imbuto.services.desk.planner import Planner

MOST_HOURS = 336.0


@dataclass(frozen=True, slots=True, kw_only=True)
class ClassView:
    """A class of need: how many of its loads there are on circuits, and what of them rides; a turn counts a half."""

    purpose: Purpose
    got: float
    of: float


@dataclass(frozen=True, slots=True, kw_only=True)
class RidesView:
    """A circuit that rides. moved: it did not ride so before."""

    circuit: str
    place: int
    stance: str
    moved: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LeftView:
    """A circuit that stays off, and why."""

    circuit: str
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ProposalView:
    """A proposed set. ops: what to send as an edit to take it; hours: null when still on at the end; low_h: what 9 in 10
    exceed, likewise; short: the hours asked for are not reached however it is chosen."""

    classes: list[ClassView]
    rides: list[RidesView]
    left: list[LeftView]
    hours: float | None
    low_h: float | None
    short: bool
    ops: list[dict[str, Any]]


def _at_the_switch(plan: Plan) -> Plan:
    """What of a plan stands at the transfer equipment: a set is proposed for that."""
    return narrowed(plan, next(iter(plan.sources), ""))


def proposal(
    planner: Planner,
    home_id: str,
    plan_id: str,
    outage_id: str,
    pins: Mapping[str, Pin],
    hours: float | None,
    sure: Sure = "nine_in_ten",
) -> ProposalView:
    """Propose a set for a plan in an outage. Raises NotFound, InvalidValue."""
    documents = planner.documents(planner.state(home_id))
    home = documents.home
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "the home has no such plan")
    if outage_id not in documents.outages:
        raise NotFound("outage", outage_id, "the home has no such outage")
    plan = _at_the_switch(documents.plans[plan_id])
    for circuit in pins:
        if circuit not in home.circuits:
            raise NotFound("circuit", circuit, "the home has no such circuit")
    if hours is not None and not 0 <= hours <= MOST_HOURS:
        raise InvalidValue("hours", hours, f"from 0, for however long it lasts, to {MOST_HOURS:g}")
    try:
        found = propose(
            home, plan, documents.outages[outage_id], documents.catalogue, pins=pins, hours=hours, sure=sure
        )
    except ValueError as error:
        raise InvalidValue("a set", plan.name, str(error)) from None
    reasons = {k: v for k, v in plan.reasons.items() if k not in {f.circuit for f in found.plan.feeds.values()}}
    reasons |= {x.circuit: x.sentence for x in found.left}
    after = replace(found.plan, reasons=reasons)
    before = {f.circuit: (f.place, f.stance) for f in plan.feeds.values()}
    on_circuits = [
        x for x in home.loads.values() if x.circuit is not None and plan.load_choices.get(x.id) != "unplugged"
    ]
    return ProposalView(
        classes=[
            ClassView(purpose=p, got=max(v, 0.0) + 0.0, of=sum(x.weight for x in on_circuits if x.purpose == p))
            for p, v in zip(PURPOSES, found.values, strict=True)
        ],
        rides=[
            RidesView(circuit=f.circuit or "", place=f.place, stance=f.stance, moved=before.get(f.circuit) != (f.place, f.stance))
            for f in found.plan.feeds.values()
        ],
        left=[LeftView(circuit=x.circuit, sentence=x.sentence) for x in found.left],
        hours=found.hours, low_h=found.low_h, short=found.short,
        ops=difference(plan.id, PLAN.write(plan), PLAN.write(after)),
    )  # fmt: skip
