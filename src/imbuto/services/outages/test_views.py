"""Tests: what each is and how it went, and what a result would change in the plan, offered as one edit."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from imbuto.core.advice.verdict import Verdict, judge_one
from imbuto.core.basics.clock import grid
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.basics.units import hours_text, number_text
from imbuto.core.everyday.grid_limits import gives_w
from imbuto.core.home.loads import Load
from imbuto.core.home.logbook_entries import Row, Trial
from imbuto.core.light.solar_light import taken_w
from imbuto.core.limits.assumed_ends import at_ends
from imbuto.core.limits.instants import instants
from imbuto.core.outages.proving.plan_tests import CELLS, procedures
from imbuto.core.outages.proving.test_lessons import on_grid_share, run_down, suns_factor
from imbuto.core.outages.proving.test_procedures import WHO, Procedure
from imbuto.core.plan.linked_units import combined_station
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.system import Part, resolve
from imbuto.core.run.run import Run
from imbuto.formats import strict_json
from imbuto.formats.documents import PLAN, TRIED, Json
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner

AGAIN_AFTER = timedelta(days=182)  # by season; planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class RowView:
    """A row as it was found. ok: as expected, None where nothing is."""

    id: str
    line: str
    at: datetime
    value: float
    second: float | None
    note: str
    ok: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Teaching:
    """What a result would change.

    label: of the edit
    found: in words
    ops: of it
    before, after: hours of the verdict
    kept: it was put in already
    problem: why it teaches nothing yet
    """

    label: str
    found: str
    ops: list[Json]
    before: str
    after: str
    kept: bool
    problem: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TrialView:
    """A test as it went.

    passed: every line is as expected
    open: lines that nothing was noted for
    """

    id: str
    began: datetime
    ended: datetime | None
    who: str
    stopped: str
    rows: list[RowView]
    passed: bool
    open: list[str]
    teaching: Teaching | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ProcedureView:
    """A test of the plan.

    by: who may do it, in words
    last: how it went, None for never
    due: why it is called for (again), empty for not
    mark: what the plan is like now, for a new one
    """

    procedure: Procedure
    by: str
    last: TrialView | None
    due: str
    mark: str


def trials_of(
    planner: Planner, home_id: str, plan_id: str, outage_id: str, now: datetime | None = None
) -> list[ProcedureView]:
    """Every test of a plan, commissioning first. Raises NotFound."""
    documents = planner.open(home_id)
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "this home doesn't have that plan")
    if outage_id not in documents.outages:
        raise NotFound("outage", outage_id, "this home doesn't have that outage")
    plan, here = documents.plans[plan_id], now or planner.now(documents.home)
    each = resolve(documents.home, plan, documents.catalogue).parts
    mark, runs = joined_mark(plan), _runs(documents, plan, documents.outages[outage_id])
    found = []
    for p in procedures(each, runs):
        own = [t for t in documents.home.trials.values() if t.plan == plan_id and t.procedure == p.id]
        last = max(own, key=lambda t: (t.ended is None, t.began), default=None)
        view = _trial(documents, plan, documents.outages[outage_id], p, last) if last is not None else None
        found.append(ProcedureView(procedure=p, by=WHO[p.who], last=view, due=_due(p, last, mark, here), mark=mark))
    return found


def joined_mark(plan: Plan) -> str:
    """What a test of a plan hangs on: its sources, devices, feeds, arrays and generator; a few letters that differ
    where they do."""
    body = PLAN.write(plan)
    said = {k: body[k] for k in ("sources", "devices", "feeds", "arrays", "banks", "engine")}
    for source in said["sources"].values():  # what tests themselves teach is no change of the plan
        for learnt in ("own_w", "deliverable", "health"):
            source.pop(learnt, None)
    for array in said["arrays"].values():
        array.pop("factor", None)
    return hashlib.sha256(strict_json.dump(said).encode()).hexdigest()[:12]


def _due(p: Procedure, last: Trial | None, mark: str, now: datetime) -> str:
    if p.refused:
        return ""
    if last is None:
        return "never done" if p.order or p.id in ("transfer", "rooms") else ""
    if last.ended is None:
        return "begun"
    if last.joined != mark:
        return "the plan has changed since"
    if p.order == 0 and now - last.ended > AGAIN_AFTER:
        return "half a year ago; repeat it once each season"
    return ""


def _runs(documents: Documents, plan: Plan, outage: Outage) -> dict[str, tuple[Run, Run | None]]:
    """By source, a day from full in a like outage, and the same without sun."""
    found = {}
    day = replace(outage, hours=24.0, goal_hours=24.0, start_charge=1.0)
    for key in plan.sources:
        v = judge_one(documents.home, plan, day, documents.catalogue, key)
        if v.run is not None:
            found[key] = (v.run, v.without_sun)
    return found


def _trial(documents: Documents, plan: Plan, outage: Outage, p: Procedure, trial: Trial) -> TrialView:
    lines = {x.id: x for x in p.lines}
    rows = sorted(trial.rows.values(), key=lambda r: r.at)
    shown = [
        RowView(
            id=r.id,
            line=r.line,
            at=r.at,
            value=r.value,
            second=r.second,
            note=r.note,
            ok=lines[r.line].passes(r.value) if r.line in lines else None,
        )
        for r in rows
    ]
    latest = {r.line: r for r in shown}
    left = [x.id for x in p.lines if x.id not in latest]
    passed = not left and not trial.stopped and all(r.ok is not False for r in latest.values())
    return TrialView(
        id=trial.id,
        began=trial.began,
        ended=trial.ended,
        who=trial.who,
        stopped=trial.stopped,
        rows=shown,
        passed=passed,
        open=left,
        teaching=_teaching(documents, plan, outage, p, trial) if p.teaches and rows else None,
    )


def _teaching(documents: Documents, plan: Plan, outage: Outage, p: Procedure, trial: Trial) -> Teaching:
    kind, _, source = p.id.partition("@")
    key = source or next(iter(plan.sources))
    each = {x.source.id: x for x in resolve(documents.home, plan, documents.catalogue).parts}
    x = each[key]
    try:
        ops, found = _TEACHERS[kind](documents, plan, x, outage, trial)
    except InvalidValue as error:
        return Teaching(label="", found="", ops=[], before="", after="", kept=trial.kept, problem=error.sentence)
    if not ops:  # it was found, and stands where nobody can change it from here
        return Teaching(label="", found="", ops=[], before="", after="", kept=trial.kept, problem=found)
    before = judge_one(documents.home, plan, outage, documents.catalogue, key)
    after = judge_one(documents.home, _applied(plan, ops), outage, documents.catalogue, key)
    return Teaching(
        label=f"As tested: {p.title}"[:80],
        found=found,
        ops=ops,
        before=_hours(before),
        after=_hours(after),
        kept=trial.kept,
        problem="",
    )


def _applied(plan: Plan, ops: Sequence[Json]) -> Plan:
    """The plan with what an edit says of its sources and arrays."""
    body = PLAN.write(plan)
    for op in ops:
        if op["doc"] == plan.id:
            *way, last = op["path"].lstrip("/").split("/")
            at = body
            for step in way:
                at = at[step]
            at[last] = op["value"]
    return PLAN.read(body)


def _hours(v: Verdict) -> str:
    return "" if v.run is None else "no end expected" if v.run.hours is None else hours_text(v.run.hours)


def _many(trial: Trial, line: str) -> list[tuple[float, float]]:
    return [((r.at - trial.began).total_seconds() / 3600, r.value / 100) for r in trial.rows.values() if r.line == line]


def _one(trial: Trial, line: str) -> Row | None:
    return max((r for r in trial.rows.values() if r.line == line), key=lambda r: r.at, default=None)


def _from_run_down(_d: Documents, plan: Plan, x: Part, _outage: Outage, trial: Trial) -> tuple[list[Json], str]:
    load_w, station, source = _one(trial, "load_w"), x.station, x.source
    found = run_down(
        _many(trial, "nothing"), _many(trial, "loaded"), load_w.value if load_w else 0.0, station.efficiency
    )
    label = x.stored_wh
    share = round(min(max(found.wh / label / source.health, 0.3), 1.0), 3)
    ops = [
        {"doc": plan.id, "op": "replace", "path": f"/sources/{source.id}/own_w", "value": round(found.own_w, 1)},
        {"doc": plan.id, "op": "replace", "path": f"/sources/{source.id}/deliverable", "value": share},
    ]
    said = (
        f"Own draw {found.own_w:.1f} W (± {found.own_error:.1f}), holds {number_text(found.wh)} Wh (± "
        f"{number_text(found.wh_error)}), "
        f"{100 * found.wh / label:.0f}% of its label. Planned: "
        f"{number_text(x.own_draw_w)} W, "
        f"{100 * source.deliverable * source.health:.0f}%."
    )
    return ops, said


def _from_sun(documents: Documents, plan: Plan, x: Part, outage: Outage, trial: Trial) -> tuple[list[Json], str]:
    best, station = _one(trial, "best"), x.station
    arrays = [a for a in x.plan.own_arrays if a.source == (x.source.id)]
    if best is None or best.second is None:
        raise InvalidValue("sun, best hour", "", "enter its watts, and the hour of the day it started")
    steps = grid(best.at.replace(hour=0, minute=0, second=0, microsecond=0), documents.home.site.time_zone, 24)
    there = (steps.hour >= best.second) & (steps.hour < best.second + 1)
    site = documents.home.site
    wanted = sum(
        float(
            taken_w(replace(a, factor=1.0), x.panels[a.panel], station, site, steps, "clear", outage.outdoors_c)[
                there
            ].mean()
        )
        for a in arrays
    )
    most = sum(station.solar_input(a.input).max_w for a in arrays)
    factor = round(suns_factor(best.value, wanted, most), 3)
    ops = [{"doc": plan.id, "op": "replace", "path": f"/arrays/{a.id}/factor", "value": factor} for a in arrays]
    return (
        ops,
        f"{number_text(best.value)} W of the {number_text(wanted)} W that the light and panels allow, a factor of "
        f"{factor:.2f}.",
    )


def _from_starts(documents: Documents, _plan: Plan, x: Part, _outage: Outage, trial: Trial) -> tuple[list[Json], str]:
    ops, names = [], []
    # The test starts each with everything else on: all that the limits may count beside it was there.
    now = instants(at_ends(x))
    cells = _one(trial, CELLS)
    if cells is None:
        raise InvalidValue(
            "starts", "", ("note the cells' temperature too; the result holds at that temperature or warmer")
        )
    for row in trial.rows.values():
        load = documents.home.loads.get(row.line)
        if load is None or row.value < 1:
            continue
        beside = now.most(now.va, [i for i, f in enumerate(now.fed) if f.load.id != load.id])
        tried = {
            "station": x.station.id,
            "on": row.at.date().isoformat(),
            "charge": (row.second if row.second is not None else 100.0) / 100,
            "cell_c": cells.value,
            "others_va": round(beside, 1),
            "modules": x.source.modules,
            "leg": _leg_of(x, load),
        }
        kept = [t for t in load.tried if (t.station, t.on) != (x.station.id, row.at.date())]
        value = [TRIED.write(t) for t in (*kept, TRIED.read(tried))]
        ops.append({"doc": "home", "op": "replace", "path": f"/loads/{load.id}/tried", "value": value})
        names.append(load.name)
    if not ops:
        raise InvalidValue("starts", len(trial.rows), "none has passed yet")
    return ops, f"{', '.join(names)} started and kept running."


def _leg_of(x: Part, load: Load) -> str:
    """The leg a load is on, empty for both or where the station has one."""
    legs = {leg for f in x.fed if f.load.id == load.id for leg in f.legs}
    return next(iter(legs)) if len(legs) == 1 and len(x.station.legs) > 1 else ""


SHIPPED = "This station ships with Imbuto. Copy it to your own list under Equipment, and enter it there."


def _from_sharing(documents: Documents, _plan: Plan, x: Part, _outage: Outage, trial: Trial) -> tuple[list[Json], str]:
    one, most = _one(trial, "one"), _one(trial, "most")
    if one is None or most is None or most.value <= 0 or one.value > most.value:
        raise InvalidValue("sharing", "", "enter the lowest and the highest watts of any unit")
    units = x.source.units
    share = round(min(max(((units - 1) * one.value + most.value) / (units * most.value), 0.5), 1.0), 3)
    said = f"Together they supply {100 * share:.0f}% of what they supply one by one, before the first is at its limit."
    own = documents.home.catalogue.stations.get(x.unit.id)
    if own is None:
        return [], f"{said} {SHIPPED}"
    ops = [{"doc": "home", "op": "replace", "path": f"/catalogue/stations/{own.id}/parallel_share", "value": share}]
    return ops, said


def _from_on_grid(documents: Documents, _plan: Plan, x: Part, _outage: Outage, trial: Trial) -> tuple[list[Json], str]:
    def noted(line: str) -> list[float]:
        return [r.value for r in sorted(trial.rows.values(), key=lambda r: r.at) if r.line == line]

    found = on_grid_share(noted("house"), [noted(f"unit{n + 1}") for n in range(x.source.units)], noted("grid"))
    planned = number_text(gives_w(x))
    said = f"Together with the grid, it supplied {number_text(found.most_w)} W at most. Planned: {planned} W."
    own = documents.home.catalogue.stations.get(x.unit.id)
    if own is None:
        return [], f"{said} {SHIPPED}"
    if own.on_grid_by_modules:
        return [], f"{said} This station lists it by the number of modules. Change it there, under Equipment."
    # What one unit gives, so that so many of them give what was seen.
    whole = combined_station(replace(own, on_grid_w=1.0), x.source, documents.catalogue).on_grid_w
    value = round(found.most_w / whole, 1)
    ops = [{"doc": "home", "op": "replace", "path": f"/catalogue/stations/{own.id}/on_grid_w", "value": value}]
    return ops, said


_TEACHERS = {
    "rundown": _from_run_down,
    "day_sun": _from_sun,
    "starts": _from_starts,
    "sharing": _from_sharing,
    "on_grid": _from_on_grid,
}
