"""What the Hours and Source places are told; and undo against a plain model."""

import copy
import itertools

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from imbuto.core.advice.answer import judge
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.equipment.catalogue import shipped
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file
from imbuto.services.desk.run_views import options, run_view
from imbuto.services.desk.verdict_views import verdict_view
from tests.breadth import breadth
from tests.demo import demo_copy
from tests.support import random_plan

BUNDLE = planfile.read(demo_file("saltgrass-house"), "demo")
TEN, SWITCHED, CORDS = BUNDLE.plans[:3]
OUTAGES = {o.id: o for o in BUNDLE.outages}


def view(plan=TEN, outage="november-windstorm"):
    answer = judge(BUNDLE.home, plan, OUTAGES[outage], BUNDLE.catalogue)
    return run_view(answer.lead, answer.band)


@pytest.mark.parametrize("outage", OUTAGES)
@pytest.mark.parametrize("plan", [TEN, SWITCHED, CORDS], ids=["ten", "switched", "cords"])
def test_a_run_is_drawn_within_its_axis(plan, outage):
    run = view(plan, outage)
    assert run.hour[0] == 0
    assert run.hour[-1] <= run.shown_h <= run.simulated_h
    assert all(0 <= c <= 1 for curve in (run.charge, run.low, run.high) for c in curve)
    if plan.engine is None:  # a generator starts sooner in one member than in another: charges are in no order then
        # The band is known each quarter hour, the run each five minutes: a point apart in the minutes between.
        assert all(low <= mid + 0.01 for low, mid in zip(run.low, run.charge, strict=True))
        assert all(mid <= high + 0.01 for mid, high in zip(run.charge, run.high, strict=True))
    assert {p.part for p in run.made_of} == {"loads", "habits", "weather", "battery"}
    assert all(0 <= n.from_h < n.to_h <= run.shown_h for n in run.nights)
    assert all(0 <= t.h <= run.shown_h for t in run.ticks)
    assert [t.h for t in run.ticks] == sorted(t.h for t in run.ticks)
    assert run.served_wh <= run.asked_wh + 1e-6


@pytest.mark.parametrize("plan", [TEN, SWITCHED, CORDS], ids=["ten", "switched", "cords"])
def test_strips_hold_what_was_served_until_dark(plan):
    run = view(plan)
    assert {s.feed for s in run.strips} == set(plan.feeds)
    drawn = sum((min(p.to_h, 72) - p.from_h) * p.w for s in run.strips for p in s.pieces if p.from_h < 72)
    assert drawn == pytest.approx(run.served_wh, rel=0.001)
    for strip in run.strips:
        ends = [(p.from_h, p.to_h) for p in strip.pieces]
        assert all(a < b <= (run.shown_h if plan.engine else run.dark_h) + 1e-9 for a, b in ends)
        assert all(b <= c for (_, b), (c, _) in itertools.pairwise(ends))


def test_turns_by_the_clock_show_as_gaps():
    reef = next(s for s in view().strips if s.feed == "reef")
    assert next((p.from_h, round(p.to_h, 3)) for p in reef.pieces) == (0, 3)  # 17:00 to 20:00
    assert reef.stance == "turns"


def test_ticks_are_local_noons_and_midnights():
    labels = [t.label for t in view().ticks]
    assert labels[:3] == ["Wed", "noon", "Thu"]  # a day is named where it begins, once
    assert view(outage="november-windstorm").ticks[0].h == 7  # from five in the afternoon
    assert [t.label for t in view(outage="evening-cut").ticks][:1] == ["Thu"]


def test_the_waterfall_of_every_demo_run_adds_up():
    for plan in (TEN, CORDS):
        for outage in OUTAGES:
            drops = view(plan, outage).waterfall
            assert drops[0].wh + sum(d.wh for d in drops[1:-1]) == pytest.approx(drops[-1].wh)


def test_each_option_is_what_picking_it_gives():
    for station in options(BUNDLE.home, TEN, OUTAGES["november-windstorm"], BUNDLE.catalogue):
        assert [o.modules for o in station.options] == list(range(station.station.max_modules + 1))
        assert [o.nominal_wh for o in station.options] == sorted(o.nominal_wh for o in station.options)
        assert all((o.hours is None or o.hours >= 0) and o.price > 0 for o in station.options)


def test_a_verdict_view_hides_no_state():
    seen = set()
    for seed in breadth(range(0, 120, 8), range(120)):
        home, plan, outage = random_plan(seed)
        shown = verdict_view(judge(home, plan, outage, shipped()))
        seen.add(shown.state)
        assert shown.fits == (shown.state == "runs")
        assert (shown.neck is None) == (shown.state in ("nothing_chosen", "no_station", "no_loads"))
        assert len(shown.chips) <= 3
        assert {c.id for c in shown.chips} <= {m.id for m in shown.moves} | {c.id for c in shown.chips}
        assert all(c.kind == ("widening" if shown.fits else "fix") for c in shown.chips)
        assert (shown.until is None) == (shown.hours is None)
    assert {"runs", "trips"} <= seen


@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(steps=st.lists(st.sampled_from(["edit", "edit", "add", "drop", "undo", "redo"]), min_size=3, max_size=14))
def test_undo_and_redo_behave_as_a_plain_stack_would(tmp_path_factory, steps):
    planner = demo_copy(tmp_path_factory.mktemp("undo"))
    home = "via-dei-glicini"
    state = planner.state(home)
    now = (state.home, state.plans)
    past, future = [], []
    for i, step in enumerate(steps):
        if step in ("undo", "redo"):
            source, target = (past, future) if step == "undo" else (future, past)
            if not source:
                with pytest.raises(InvalidValue, match=f"nothing to {step}"):
                    getattr(planner, step)(home, f"{i}", None)
                continue
            target.append(now)
            now = source.pop()
            state = getattr(planner, step)(home, f"{i}", None).state
        else:
            loads = now[0]["loads"]
            if step == "edit":
                op = {"op": "replace", "path": "/loads/kettle/run_w", "value": 1900.0 + i}
            elif step == "add":
                value = copy.deepcopy(loads["kettle"]) | {"id": f"n{i}"}
                op = {"op": "add", "path": f"/loads/n{i}", "value": value}
            else:
                fresh = next((k for k in loads if k.startswith("n")), "tv")
                if fresh not in loads:
                    continue
                op = {"op": "remove", "path": f"/loads/{fresh}"}
            past.append(now)
            future.clear()
            state = planner.edit(home, planner.rev(home), f"{i}", step, [{"doc": "home", **op}], None).state
            now = (state.home, state.plans)
        assert (state.home, state.plans) == now
        assert (state.undo is None) == (not past)
        assert (state.redo is None) == (not future)
    planner.database.close()
