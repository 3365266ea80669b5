"""Tasks, permissions and lead times; and the work on the wiring, laid around what must not be dark."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.home.binder import AttachedFile, BinderEntry, check_filed
from imbuto.core.home.circuits import Circuit
from imbuto.core.plan.entered.paperwork import (
    PERMISSIONS,
    STAGES,
    BuildChange,
    LeadTimeStage,
    Permission,
    Task,
    WorkDays,
    in_order,
    permission_rows,
    ready_between,
    unproven,
)
from imbuto.core.plan.offtime import LATEST_H, off_time
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.system import resolve
from tests.core.run.test_several import KIT, random_several
from tests.support import STATION, load, switched

CATALOGUE = Catalogue(stations={STATION.id: STATION}).over(shipped())
TODAY = date(2026, 11, 28)
KINDS = [t.id for t in shipped().transfer.values()]
WEEKS = st.floats(0, 100, allow_nan=False)
STAGE = st.builds(
    lambda kind, low, more, done: LeadTimeStage(id=kind, kind=kind, low_weeks=low, high_weeks=low + more, done=done),
    st.sampled_from(list(STAGES)),
    WEEKS,
    WEEKS,
    st.one_of(st.none(), st.dates(date(2024, 1, 1), TODAY)),
)
LINE = st.lists(STAGE, max_size=6, unique_by=lambda s: s.kind).map(lambda rows: {s.id: s for s in rows})


@given(LINE)
def test_a_line_of_lead_times_says_when_it_is_ready_and_what_is_open(stages):
    """By hand: the weeks of what is not done, from today on; done, the last of its days."""
    between = ready_between(stages, TODAY)
    left = [s for s in stages.values() if s.done is None]
    if not stages:
        assert between is None
    elif not left:
        assert between == (max(s.done for s in stages.values()),) * 2
    else:
        low, high = between
        assert low == TODAY + timedelta(days=round(7 * sum(s.low_weeks for s in left)))
        assert TODAY <= low <= high
    assert unproven(stages) == any(s.kind == "activation" for s in left)
    assert [s.kind for s in in_order(stages)] == [k for k in STAGES if k in stages]


def test_what_nobody_has_looked_into_is_not_known_and_never_not_needed():
    kept = {"p": Permission(id="p", kind="permit", state="granted", on=TODAY)}
    rows = permission_rows(kept)
    assert [r.kind for r in rows] == list(PERMISSIONS)
    assert rows[0].state == "granted"
    assert {r.state for r in rows[1:]} == {"unknown"}
    assert {r.state for r in permission_rows({})} == {"unknown"}


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"tasks": {"a": Task(id="b", name="B")}}, "the two must be the same"),
        ({"built": {"a": BuildChange(id="b", kind="retired", what="An old switch")}}, "the two must be the same"),
        ({"permissions": {k: Permission(id=k, kind="permit") for k in "ab"}}, "Enter it once"),
        ({"stages": {k: LeadTimeStage(id=k, kind="supply") for k in "ab"}}, "Enter it once"),
        ({"stages": {"a": LeadTimeStage(id="a", kind="supply", low_weeks=3, high_weeks=2)}}, "minimum, 3"),
    ],
)
def test_paperwork_that_contradicts_itself_is_refused(change, words):
    part, _ = switched((1, [load("a")]))
    with pytest.raises(InvalidValue, match=words):
        check_plan(replace(part.plan, **change), part.home, CATALOGUE)


@pytest.mark.parametrize(
    ("filed", "words"),
    [
        (BinderEntry(id="a", kind="warranty", title="A", on=TODAY, until=TODAY - timedelta(days=1)), "end after"),
        (
            BinderEntry(
                id="a", kind="photo", title="A", file=AttachedFile(name="a", media="image/png", size=1, sha256="x" * 64)
            ),
            "64 digits",
        ),
    ],
)
def test_what_is_filed_wrongly_is_refused(filed, words):
    with pytest.raises(InvalidValue, match=words):
        check_filed(filed)


def home_with(equipment: str):
    """Three circuits: a life on its own battery for three hours, a refrigerator, a lamp; and one that stays."""
    part, _ = switched(
        (1, [load("lamp")]),
        (2, [load("fridge", 150, kind="compressor", purpose="food")]),
        (3, [load("oxygen", 300, purpose="life", own_battery_h=3.0)]),
    )
    circuits = part.home.circuits | {"stays": Circuit(id="stays", name="Stays")}
    return replace(part.home, circuits=circuits), part.plan.with_equipment(equipment)


@pytest.mark.parametrize("equipment", KINDS)
def test_every_kind_of_equipment_says_what_it_leaves_dark(equipment):
    home, plan = home_with(equipment)
    made = off_time(home, plan, resolve(home, plan, CATALOGUE).parts)
    names = [t.step.name for t in made.steps]
    if equipment == "cords":
        assert names == []
        assert made.dark == {}
        assert "nothing loses power" in made.cautions[0]
        return
    by_hand: dict[str, float] = {}
    for t in made.steps:
        for c in t.step.circuits:
            by_hand[c] = by_hand.get(c, 0) + t.step.minutes
    assert made.dark == by_hand
    assert set(made.dark) >= set(home.circuits), "the work at the panel darkens all of it once"
    booked = [t for t in made.steps if t.step.booked]
    assert len(booked) in (0, 2), "parted once, joined once"
    assert bool(booked) == any("the utility to disconnect" in c for c in made.cautions)
    stretch = sum(t.step.minutes for t in made.steps if t.step.whole)
    life = next(t for t in made.steps if t.step.whole)
    assert ("own battery ends after 3 h" in life.meanwhile) == (stretch >= 180)
    moved = [n for n in names if n.endswith(" moved")]
    traits = shipped().transfer[equipment].traits
    assert len(moved) == (0 if traits.in_panel else 3)
    if moved:
        assert moved[0].startswith(home.circuits["c3"].name), "a life first, then food: they have the day to recover"
        assert moved[1].startswith(home.circuits["c2"].name)


@given(st.integers(0, 99), st.dictionaries(st.integers(0, 30), st.floats(0, 1_000), max_size=5), st.floats(0, 16))
def test_the_days_of_any_work_hold_its_steps(seed, minutes, start_h):
    """Generated plans of several devices: nothing begins before the hour, nothing ends after the working day unless
    it is longer than that by itself, and the utility's parting and joining are on one day."""
    home, plan, _ = random_several(seed)
    each = resolve(home, plan, KIT).parts
    usual = off_time(home, plan, each)
    known = {t.step.id: minutes[i] for i, t in enumerate(usual.steps) if i in minutes}
    worked = replace(plan, works=WorkDays(day=date(2027, 3, 1), start_h=start_h, minutes=known))
    made = off_time(home, worked, each)
    assert [t.step.id for t in made.steps] == [t.step.id for t in usual.steps]
    assert all(t.step.minutes == known.get(t.step.id, t.step.usual) for t in made.steps)
    first = datetime(2027, 3, 1) + timedelta(hours=start_h)
    ends: datetime | None = None
    parted = None
    for t in made.steps:
        assert t.at is not None
        assert t.at >= first
        assert ends is None or t.at >= ends - timedelta(seconds=1)
        ends = t.at + timedelta(minutes=t.step.minutes)
        alone = t.at.hour + t.at.minute / 60 == pytest.approx(start_h, abs=0.02)
        if not parted and not t.step.booked and not alone:
            assert ends <= datetime.combine(t.at.date(), datetime.min.time()) + timedelta(hours=LATEST_H, seconds=1)
        if t.step.booked:
            if parted is None:
                parted = t.at
            else:
                assert t.at - parted < timedelta(hours=24 * 3)
                parted = None
    assert parted is None, "what the utility parted it joins again"
