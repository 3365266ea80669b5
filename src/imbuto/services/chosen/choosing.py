"""A proposed set, as an edit to take and reasons to read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from imbuto.core.advice.answer import Answer, judge
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.everyday.ordinary_start import as_left
from imbuto.core.home.home import Home
from imbuto.core.home.loads import PURPOSES, Purpose
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan, narrow_to_source
from imbuto.core.proposal.candidates import Pin
from imbuto.core.proposal.propose_set import Proposal, Sure, Surroundings, propose
from imbuto.formats.documents import PLAN
from imbuto.formats.patch import apply, difference
from imbuto.services.desk.judging import Documents
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
    """A proposed set.

    ops: what to send as an edit to take it
    hours: of the whole plan with it, null when still on at the end
    low_h: what 9 in 10 exceed, likewise
    short: the hours asked for are not reached however it is chosen
    """

    classes: list[ClassView]
    rides: list[RidesView]
    left: list[LeftView]
    hours: float | None
    low_h: float | None
    short: bool
    ops: list[dict[str, Any]]


def _at_device(plan: Plan, ident: str | None) -> Plan:
    """What of a plan stands at one of its devices, the first where none is named: a set is proposed for that."""
    device = plan.devices.get(ident) if ident else plan.device
    if device is None:
        return narrow_to_source(plan, next(iter(plan.sources), ""))
    own = narrow_to_source(plan, device.source if plan.sources else "")
    feeds = {k: f for k, f in own.feeds.items() if (d := plan.device_of(f)) is not None and d.id == device.id}
    alone = replace(device, behind=None)
    return replace(own, feeds=feeds, devices={device.id: alone})


def _without_the_rest(home: Home, plan: Plan, part: Plan) -> Home:
    """The home without what other devices of the plan feed: that is not theirs to choose who choose for this one."""
    elsewhere = {f.circuit for k, f in plan.feeds.items() if k not in part.feeds and f.circuit}
    loads = {k: replace(x, circuit=None) if x.circuit in elsewhere else x for k, x in home.loads.items()}
    return replace(home, loads=loads) if elsewhere else home


def _surroundings(home: Home, plan: Plan, part: Plan, outage: Outage) -> Surroundings | None:
    """What else of the plan there is than the part; None where that is all of it."""
    rest = {k: f for k, f in plan.feeds.items() if k not in part.feeds}
    if not rest and len(plan.sources) < 2:
        return None

    def whole(chosen: Plan) -> Plan:
        return replace(plan, feeds=rest | chosen.feeds, opened=part.opened)

    return Surroundings(in_outage(home, plan, outage), whole)


def proposal(
    planner: Planner,
    home_id: str,
    plan_id: str,
    outage_id: str,
    pins: Mapping[str, Pin],
    hours: float | None,
    sure: Sure = "nine_in_ten",
    device: str | None = None,
) -> ProposalView:
    """Propose a set for a plan in an outage, at one of its devices. Raises NotFound, InvalidValue."""
    documents = planner.open(home_id)
    home = documents.home
    if outage_id not in documents.outages:
        raise NotFound("outage", outage_id, "this home doesn't have that outage")
    whole = _plan_asked_about(documents, plan_id, device, pins, hours)
    at = _at_device(whole, device)
    # Who opens what is left off is asked afterwards.
    free = replace(at, opened=dict.fromkeys(home.circuits, "somebody"))
    outage = as_left(home, whole, documents.outages[outage_id], documents.catalogue, documents.outages.values())
    try:
        found = propose(
            _without_the_rest(home, whole, free),
            free,
            outage,
            documents.catalogue,
            pins=pins,
            hours=hours,
            sure=sure,
            around=_surroundings(home, whole, free, outage),
        )
    except ValueError as error:
        raise InvalidValue("a set", at.name, str(error)) from None
    wanted = outage.goal_hours if hours is None else hours
    return _shown(documents, whole, replace(at, opened=whole.opened), found, outage_id, wanted=wanted, sure=sure)


def _answer_with(documents: Documents, whole: Plan, ops: list[dict[str, Any]], outage_id: str) -> Answer:
    """The answer of the whole plan with a set taken: what is joined elsewhere in it draws too, and may run out
    first."""
    written = PLAN.write(whole)
    changed, _ = apply({whole.id: written}, ops)  # nothing, where it is the set that is there
    after = PLAN.read(changed.get(whole.id, written))
    after = replace(after, opened=dict.fromkeys(documents.home.circuits, "somebody"))
    case = as_left(documents.home, after, documents.outages[outage_id], documents.catalogue, documents.outages.values())
    return judge(documents.home, after, case, documents.catalogue, with_moves=False)


def _plan_asked_about(
    documents: Documents, plan_id: str, device: str | None, pins: Mapping[str, Pin], hours: float | None
) -> Plan:
    """The plan that is asked about. Raises NotFound, InvalidValue."""
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "this home doesn't have that plan")
    whole = documents.plans[plan_id]
    if device is not None and device not in whole.devices:
        raise NotFound("device", device, "this plan doesn't have that device")
    for circuit in pins:
        if circuit not in documents.home.circuits:
            raise NotFound("circuit", circuit, "this home doesn't have that circuit")
    if hours is not None and not 0 <= hours <= MOST_HOURS:
        raise InvalidValue("hours", hours, f"enter hours from 0 (as long as it lasts) to {MOST_HOURS:g}")
    return whole


def _shown(
    documents: Documents, whole: Plan, plan: Plan, found: Proposal, outage_id: str, *, wanted: float, sure: Sure
) -> ProposalView:
    """A proposal beside the plan as it stands, with the edit that takes it."""
    home = documents.home
    fed = {f.circuit for f in found.plan.feeds.values()}
    reasons = {k: v for k, v in plan.reasons.items() if k not in fed} | {x.circuit: x.sentence for x in found.left}
    after = replace(found.plan, reasons=reasons, opened={k: v for k, v in plan.opened.items() if k not in fed})
    before = {f.circuit: (f.place, f.stance) for f in plan.feeds.values()}
    ops = difference(plan.id, PLAN.write(plan), PLAN.write(after))
    answer = _answer_with(documents, whole, ops, outage_id)
    lasts = answer.low_h if sure == "nine_in_ten" else answer.hours
    on_circuits = [
        x for x in home.loads.values() if x.circuit is not None and plan.load_choices.get(x.id) != "unplugged"
    ]
    return ProposalView(
        classes=[
            ClassView(purpose=p, got=max(v, 0.0) + 0.0, of=sum(x.weight for x in on_circuits if x.purpose == p))
            for p, v in zip(PURPOSES, found.values, strict=True)
        ],
        rides=[
            RidesView(
                circuit=f.circuit or "",
                place=f.place,
                stance=f.stance,
                moved=before.get(f.circuit) != (f.place, f.stance),
            )
            for f in found.plan.feeds.values()
        ],
        left=[LeftView(circuit=x.circuit, sentence=x.sentence) for x in found.left],
        hours=answer.hours,
        low_h=answer.low_h,
        short=found.short or (lasts is not None and lasts < wanted - 1e-3),
        ops=ops,
    )
