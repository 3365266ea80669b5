"""Worth moving? What each circuit that is left in its panel would cost in an outage, and bring on ordinary days."""

from __future__ import annotations

from dataclasses import dataclass, replace

from imbuto.core.advice.answer import Answer, judge
from imbuto.core.home.circuits import Circuit
from imbuto.core.home.loads import mean_w
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.plan import Device, Feed, Plan, places_of
from imbuto.core.plan.system import resolve_wiring
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.everyday.plan_asked import asked_for
from imbuto.services.everyday.plan_years import bills, years_of
from imbuto.services.everyday.year_answers import year_answer

LEAST_W = 1.0  # a circuit that uses less on average is left out; planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class MovableCircuit:
    """One circuit that is left in its panel.

    mean_w: what it uses on average, W
    costs_h: how many fewer hours there are to count on, None where the plan wouldn't run with it
    adds: to the saving of a year, None without a tariff
    why_not: limits that it would break, and that no switch slot is free; empty where it fits
    """

    circuit: str
    name: str
    mean_w: float
    costs_h: float | None
    adds: float | None
    why_not: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WorthMovingView:
    """Every circuit left in a panel, what saves most first; says: why there is none, empty where there is."""

    rows: list[MovableCircuit]
    currency: str
    says: str


def worth_moving(planner: Planner, home_id: str, plan_id: str, outage_id: str) -> WorthMovingView:
    """What moving each circuit to the station would cost and bring. Raises NotFound."""
    documents, plan, _ = asked_for(planner, home_id, plan_id, None)
    currency = documents.home.site.currency
    if outage_id not in documents.outages or plan.device is None or not plan.sources:
        return WorthMovingView(rows=[], currency=currency, says="This plan has no switch that a circuit could move to.")
    rows = year_answer(_rows, documents, plan.id, outage_id, planner.now(documents.home).year)
    says = "" if rows else "Every circuit that uses something is on the station already."
    return WorthMovingView(rows=rows, currency=currency, says=says)


def _rows(documents: Documents, plan_id: str, outage_id: str, year: int) -> list[MovableCircuit]:
    plan, outage = documents.plans[plan_id], documents.outages[outage_id]
    now = judge(documents.home, plan, outage, documents.catalogue, with_moves=False)
    saved = _saving(documents, plan, year, "")
    broken = {x.id for x in _broken(now)}
    fed = {f.circuit for f in plan.feeds.values()}
    rows = []
    for circuit in documents.home.circuits.values():
        used = sum(mean_w(load) for load in documents.home.loads_on(circuit.id))
        moved = None if circuit.id in fed or used < LEAST_W else with_circuit(documents, plan, circuit)
        if moved is None:
            continue
        after_plan, free = moved
        after = judge(documents.home, after_plan, outage, documents.catalogue, with_moves=False)
        worse = [x for x in _broken(after) if x.id not in broken and x.family != "places"]
        lasts = now.low_h is not None and after.low_h is not None and not worse
        saving = _saving(documents, after_plan, year, circuit.id)
        rows.append(
            MovableCircuit(
                circuit=circuit.id,
                name=circuit.name,
                mean_w=used,
                costs_h=now.low_h - after.low_h
                if lasts and now.low_h is not None and after.low_h is not None
                else None,
                adds=None if saved is None or saving is None else saving - saved,
                why_not=_why_not(worse, free=free),
            )
        )
    return sorted(rows, key=lambda r: (r.costs_h is None, bool(r.why_not), -(r.adds or 0.0), r.costs_h or 0.0))


def _why_not(worse: list[Limit], *, free: bool) -> str:
    over = " and ".join(dict.fromkeys(x.title for x in worse[:2]))
    said = ([] if free else ["no free switch slot"]) + ([f"over a limit ({over})"] if over else [])
    return ", ".join(said)


def _broken(answer: Answer) -> list[Limit]:
    return [x for x in answer.limits if not x.ok and x.severity in ("refuse", "broken", "may")]


def _saving(documents: Documents, plan: Plan, year: int, moved: str) -> float | None:
    """A year's saving of the plan; moved: the circuit it was changed by, empty for none."""
    changed = replace(documents, content=f"{documents.content}/{moved}") if moved else documents
    before, after = bills(changed, years_of(changed, plan, year))
    return before.total - after.total if before is not None and after is not None else None


def with_circuit(documents: Documents, plan: Plan, circuit: Circuit) -> tuple[Plan, bool] | None:
    """The plan with a circuit at its first device that may take it, in the first free switch slot, and whether there
    is one; None where the circuit isn't at the panel of any device."""
    wiring = resolve_wiring(documents.home, plan, documents.catalogue)
    for device in plan.devices.values():
        traits = wiring.by_device[device.id].traits
        if circuit.panel != device.panel and not traits.whole_panel:
            continue
        most = wiring.by_device[device.id].places
        taken = {p for f in plan.feeds.values() if plan.device_of(f) == device for p in places_of(f, documents.home)}
        for place in range(1, most + 1):
            feed = _feed(circuit, device, place)
            needs = places_of(feed, documents.home)
            if not taken.intersection(needs) and max(needs) <= most:
                return replace(plan, feeds=plan.feeds | {feed.id: feed}), True
        return replace(plan, feeds=plan.feeds | {circuit.id: _feed(circuit, device, most + 1)}), False
    return None


def _feed(circuit: Circuit, device: Device, place: int) -> Feed:
    return Feed(id=circuit.id, source=device.source, circuit=circuit.id, device=device.id, place=place)
