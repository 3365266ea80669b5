"""Verdicts: necks, promises kept when moves are applied, the hand check, the band."""

from dataclasses import replace

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.advice.gives_out import neck, violations
from imbuto.core.basics.clock import Window
from imbuto.core.basics.errors import InvalidValue, UnknownReference
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.home.loads import Use
from imbuto.core.limits.all_limits import fit
from imbuto.core.plan.plan import Device, Feed
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.system import resolve_part
from imbuto.core.run.band import band, meter_next, total_spread
from imbuto.core.run.hand_check import hand_check, inverse, waterfall
from imbuto.core.run.nights import nights, which_part
from imbuto.core.run.run import simulate
from tests.support import OUTAGE, STATION, corded, load, random_plan, switched


def test_a_fix_worsens_no_limit():
    for seed in range(60):
        home, plan, outage = random_plan(seed)
        verdict = judge(home, plan, outage, shipped())
        were = {x.id: x.excess for x in violations(verdict.limits)}
        for promise in verdict.fixes:
            after = fit(resolve_part(home, promise.move.plan, shipped()), outage)
            assert all(x.excess <= were.get(x.id, 0) + 1e-9 for x in violations(after)), promise.move.label


def judged(now, outage=OUTAGE):
    catalogue = Catalogue(stations={now.station.id: now.station}).over(shipped())
    return judge(now.home, now.plan, outage, catalogue)


@pytest.mark.parametrize(
    ("loads", "outage", "ident", "words"),
    [
        ([load("a", 400)], OUTAGE, "energy:store", "Stored energy, night 1"),
        ([load("a", 140)], replace(OUTAGE, start_charge=0.6), "energy:start", "Starting at 60%"),
        ([load("a", 140)], replace(OUTAGE, indoors_c=-8), "energy:losses", "The cold"),
        ([load("a", 158)], OUTAGE, "energy:losses", "The station's own draw"),
        ([load("a", 150, spread=0.4)], OUTAGE, "energy:draw", "Stored energy"),
        ([load("a", 20)], OUTAGE, "next:", "left"),
        ([load("a", 6000)], OUTAGE, "place:1", "of 20 A"),
    ],
)
def test_the_neck_names_what_gives_out_first(loads, outage, ident, words):
    verdict = judged(corded(*loads), outage)
    assert verdict.neck.id.startswith(ident)
    assert words in verdict.neck.title


def test_refusals_come_before_what_is_further_beyond():
    now, outage = switched(
        (1, [load("pump", 500, both_legs=True), load("big", 9000)]), station=replace(STATION, volts="120")
    )
    verdict = judged(now, outage)
    assert verdict.state == "carry_240"
    assert verdict.neck.kind == "refused"
    assert verdict.neck.sentence == "Pump needs 240 V; Test station supplies 120 V."


def test_counting_limits_never_give_out_next():
    loads = [load(f"l{i}", 5) for i in range(4)]
    verdict = judged(corded(*loads))
    assert {x.id: x for x in verdict.limits}["places"].margin_percent == 0
    assert verdict.neck.id != "next:places"


def test_states_without_a_run():
    now = corded(load("x", 100))
    empty = judged(replace(now, home=replace(now.home, loads={}), plan=replace(now.plan, feeds={})))
    assert empty.state == "no_loads"
    assert judged(replace(now, plan=replace(now.plan, feeds={}))).state == "nothing_chosen"
    without = judge(now.home, replace(now.plan, sources={}), OUTAGE, shipped())
    assert without.state == "no_station"
    assert without.needs_wh == pytest.approx((100 / 0.94 + 15) * 24 / (0.97 * 0.9))
    assert without.neck is None


def test_the_inverse_turns_the_hand_check_round():
    need = inverse(150, 20.561, efficiency=0.93, idle_w=18, deliverable=1, floor=0.1)
    assert need == pytest.approx(4096, rel=1e-4)


def test_the_waterfall_adds_up_and_the_hand_check_names_its_factors():
    run = simulate(corded(load("a", 150), floor=0.2), replace(OUTAGE, start_charge=0.9, indoors_c=5))
    drops = {d.kind: 0.0 for d in waterfall(run)}
    for d in waterfall(run):
        drops[d.kind] += d.wh
    assert drops["stored"] == pytest.approx(-drops["loss"] - drops["held"] + drops["reaches"])
    check = hand_check(run)
    assert check.hours == pytest.approx(run.paper_hours)
    assert "0.915 cold" in check.formula


def test_never_dark_is_told_as_still_on_and_widens_no_further():
    verdict = judged(corded(load("a", 1), station=replace(STATION, idle_w=1, nominal_wh=20_000)))
    assert verdict.run.hours is None
    assert verdict.run.at_least_h == 48
    assert verdict.widenings == []
    assert sum(d.wh for d in waterfall(verdict.run) if d.kind == "held") < 0


def test_night_loads_make_the_run_differ_from_paper_and_it_says_so():
    night = load("n", 400, use=Use(kind="windows", windows=(Window(start_h=18, end_h=6),)))
    run = simulate(corded(night), replace(OUTAGE, start=OUTAGE.start.replace(hour=18)))
    assert run.hours < run.paper_hours
    assert "less" in hand_check(run).why


def test_average_counts_turns_at_their_share():
    now = corded(load("a", 200), load("b", 100))
    feeds = now.plan.feeds | {"b": replace(now.plan.feeds["b"], stance="turns", share=0.25)}
    plan = replace(now.plan, feeds=feeds)
    after = resolve_part(now.home, plan, replace(shipped(), stations=shipped().stations | {STATION.id: STATION}))
    assert simulate(after, OUTAGE).average_w == pytest.approx(225)


def test_independent_errors_cancel_in_the_total():
    loads = [load(f"l{i}", 50, spread=0.4) for i in range(4)]
    now = corded(*loads)
    assert total_spread(now, {x.id: 50.0 for x in loads}) == pytest.approx(0.4 / 2)


def test_meter_next_ranks_the_least_known_large_load_first():
    now = corded(load("known", 300, spread=0.08), load("guess", 100, spread=0.4), load("tiny", 2, spread=0.4))
    ranked = meter_next(simulate(now, OUTAGE))
    assert next(m.load.id for m in ranked) == "guess"
    assert all(m.narrows_h > 0 for m in ranked)


def test_nights_are_counted_in_the_homes_own_place():
    now = corded(load("a", 100))
    steps = simulate(now, replace(OUTAGE, hours=72)).steps
    found = nights(replace(now.home.site, latitude=44.6, longitude=0.0), steps)
    assert found[0][0] == 0  # 18:00 in November is night
    assert 12 < found[0][1] < 14.5
    assert which_part(now.home.site, steps, 3) == "night 1"
    assert which_part(now.home.site, steps, 18) == "day 1"
    assert which_part(now.home.site, steps, 27) == "night 2"


@pytest.mark.parametrize(
    ("change", "error", "words"),
    [
        ({"devices": {"main": Device(id="main", equipment="magic")}}, UnknownReference, "transfer equipment"),
        ({"feeds": {"x": Feed(id="x", load="nobody")}}, UnknownReference, "that load"),
        ({"feeds": {"x": Feed(id="x")}}, InvalidValue, "one circuit or one load"),
        ({"feeds": {"x": Feed(id="x", load="a"), "y": Feed(id="y", load="a")}}, InvalidValue, "has two sources"),
        ({"not_together": (("a", "b"),)}, UnknownReference, "doesn't have that load"),
    ],
)
def test_a_plan_that_points_nowhere_is_refused(change, error, words):
    now = corded(load("a"))
    catalogue = replace(shipped(), stations=shipped().stations | {STATION.id: STATION})
    with pytest.raises(error, match=words):
        check_plan(replace(now.plan, **change), now.home, catalogue)


def test_a_circuit_and_a_load_on_it_cannot_both_be_fed():
    now, _ = switched((1, [load("a")]), (2, [load("b")]))
    feeds = now.plan.feeds | {"b": Feed(id="b", load="b", place=3)}
    catalogue = replace(shipped(), stations=shipped().stations | {STATION.id: STATION})
    with pytest.raises(InvalidValue, match="Its circuit is powered already"):
        check_plan(replace(now.plan, feeds=feeds), now.home, catalogue)
    two = now.plan.feeds | {"c2": replace(now.plan.feeds["c2"], place=1)}
    with pytest.raises(InvalidValue, match="Circuit 1 is in that slot already"):
        check_plan(replace(now.plan, feeds=two), now.home, catalogue)


def test_neck_is_pure():
    """The same run judged twice says the same."""
    run = simulate(corded(load("a", 150)), OUTAGE)
    found = fit(run.part, OUTAGE)
    assert neck(found, run, band(run)) == neck(found, run, band(run))


def test_energy_is_conserved_in_the_runs_of_generated_plans():
    for seed in range(80):
        home, plan, outage = random_plan(seed)
        run = judge(home, plan, outage, shipped(), with_moves=False).run
        if run is None:
            continue
        t, available = run.trace.tally, run.store.available_wh
        change = float(run.charge[-1] - run.charge[0]) * available
        throughput = t.served_wh + t.lost_wh + abs(change)
        assert t.solar_wh + t.ac_in_wh + t.bypass_wh == pytest.approx(
            t.served_wh + t.lost_wh + change, abs=1e-6 * throughput
        )
        assert run.served_by_step_wh.sum() == pytest.approx(t.served_wh)


@pytest.mark.parametrize(("both", "asked"), [(True, False), (False, True)])
def test_a_start_is_asked_for_only_where_one_would_help(both, asked):
    """A 240 V pump on single cords: what its label says of its start changes nothing; on one leg it is what to look
    up."""
    pump = load("pump", kind="motor", average_w=40, run_w=1_200, start_va=None, both_legs=both)
    found = corded(pump)
    verdict = judge(found.home, found.plan, OUTAGE, Catalogue(stations={STATION.id: STATION}).over(shipped()))
    assert violations(verdict.limits)
    assert any(p.move.enter == "pump" for p in verdict.fixes) is asked
