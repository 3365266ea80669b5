"""What can be bought: every combination as the band itself would judge it, and nothing beaten on the frontier."""

import itertools
from dataclasses import replace

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.advice.frontier import combinations, frontier
from imbuto.core.advice.sizing_methods import battery_needed, implied_w, schools, simulated_need
from imbuto.core.limits.instants import instants
from imbuto.core.plan.load_conditions import in_outage
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file

BUNDLE = planfile.read(demo_file("saltgrass-house"), "demo")
HOME, KIT = BUNDLE.home, BUNDLE.catalogue
CORDS = next(p for p in BUNDLE.plans if p.id == "cords-only")
TEN = next(p for p in BUNDLE.plans if p.id == "ten-place")
EVENING = next(o for o in BUNDLE.outages if o.id == "evening-cut")
LONG = replace(EVENING, hours=12, goal_hours=12)


@pytest.fixture(scope="module")
def found():
    return frontier(in_outage(HOME, CORDS, LONG), CORDS, LONG, KIT)


def test_every_way_is_what_the_verdict_says_of_it(found):
    for r in [*found.best[:6], *found.reaches[-3:]]:
        v = judge(HOME, r.combination.plan, LONG, KIT, with_moves=False)
        assert v.fits
        low = v.band.low_h
        if low is None or low > found.horizon_h:
            assert r.low_h is None or r.low_h == pytest.approx(low)
        else:
            assert r.low_h == pytest.approx(low, abs=1e-9)
        assert r.may_trip == (v.may_trip is not None)
        assert r.reaches == ((low is None or low >= 12) and not (r.may_trip and v.guards))


def test_nothing_on_the_frontier_is_beaten_and_all_else_is(found):
    def hours(r):
        return float("inf") if r.low_h is None else r.low_h

    best = found.best
    assert len(best) > 3
    for sure in ([r for r in best if not r.may_trip], [r for r in best if r.may_trip]):
        assert all(a.price < b.price and hours(a) < hours(b) for a, b in itertools.pairwise(sure))
    for r in found.reaches:
        if r.beaten_by is not None:
            other = r.beaten_by
            assert other.price <= r.price
            assert hours(other) >= hours(r)
            assert r.may_trip or not other.may_trip, "what only may fit ranks below what fits"
    assert found.tried == len(found.reaches) + found.misfit


def test_combinations_are_those_makers_allow():
    units = {(c.source.station, c.source.units, c.source.link) for c in combinations(HOME, TEN, KIT)}
    assert ("firkin", 2, "coupler") in units
    assert ("hogshead", 3, "parallel") in units
    assert not any(s == "gill" and n > 1 for s, n, _ in units)
    assert not any(s.endswith("-eu") or s == "dray" for s, _, _ in units)
    assert all(
        c.source.modules <= KIT.stations[c.source.station].max_modules * c.source.units
        for c in combinations(HOME, TEN, KIT)
    )


def test_the_work_is_told_and_can_be_stopped():
    told: list[float] = []

    def tell(part: float) -> None:
        told.append(part)
        if part > 0.2:
            raise InterruptedError

    with pytest.raises(InterruptedError):
        frontier(in_outage(HOME, CORDS, LONG), CORDS, LONG, KIT, tell=tell)
    assert told == sorted(told)
    assert told[0] == 0


def run_of(plan=TEN, outage=EVENING):
    return judge(HOME, plan, outage, KIT, with_moves=False).run


def test_the_battery_needed_reaches_the_goal_and_a_little_less_does_not():
    run = run_of()
    need = battery_needed(run)
    station = KIT.stations["hogshead"]
    for share, reaches in ((1.0, True), (0.97, False)):
        bare = replace(TEN.source, modules=0)
        made = replace(TEN, sources={"main": bare})
        idle = station.idle_w + 2 * station.module_draw_w  # of the modules the need was reckoned with
        sized = replace(station, nominal_wh=share * need, idle_w=idle)
        kit = replace(KIT, stations=KIT.stations | {"hogshead": sized})
        low = judge(HOME, made, EVENING, kit, with_moves=False).band.low_h
        assert (low >= EVENING.goal_hours) is reaches


def test_each_school_says_what_it_reckons_with():
    run = run_of()
    need = simulated_need(run, instants(run.part))
    by = {s.name: s for s in schools(run, 37_000, None, None)}
    assert by["Everything at once"].value >= need.inverter_w
    assert by["The day’s kWh over 24 h"].value == pytest.approx(run.average_w)
    assert by["Twice the daily bill"].value == 74_000
    assert "By budget" not in by
    s = run.store
    paper = (run.average_w / s.efficiency + s.idle_w) * 4 / (s.deliverable * s.health * s.cold * (1 - s.floor))
    assert by["Hours × average ÷ usable share"].value == pytest.approx(paper)
    assert all(x.misleads for x in by.values() if x.name != "Simulated")


def test_hours_told_by_feel_are_the_hand_check_turned_round():
    run = run_of()
    implied = implied_w(run, run.paper_hours)
    assert implied == pytest.approx(run.average_w)
    assert implied_w(run, 10_000) == 0


def test_what_is_built_is_not_bought_again(found):
    by = {
        (r.combination.source.station, r.combination.source.units, r.combination.source.modules): r.price
        for r in found.reaches
        if not r.combination.panels
    }
    assert CORDS.status == "built"
    assert by["pail", 1, 0] == 0  # it is there
    assert by["pail", 1, 1] == KIT.stations["pail"].module_price
    assert by["firkin", 1, 0] == KIT.stations["firkin"].price
    draft = frontier(in_outage(HOME, CORDS, LONG), replace(CORDS, status="draft"), LONG, KIT, most=60)
    assert min(r.price for r in draft.reaches) > 0
    swap = next(w for w in judge(HOME, CORDS, EVENING, KIT).widenings if w.move.id == "station:firkin")
    assert swap.price == KIT.stations["firkin"].price  # the old one is not given back


def test_the_ways_to_the_goal_include_an_engine():
    """A plan without one is tried with the smallest of the house's voltage; its price is in the sum."""
    tried = list(combinations(HOME, CORDS, KIT))
    engines = [c for c in tried if c.plan.engine is not None]
    assert {c.plan.engine.generator for c in engines} == {"cinder"}
    assert all("Cinder" in c.panels for c in engines)
    reached = frontier(in_outage(HOME, CORDS, LONG), CORDS, LONG, KIT, most=40).reaches
    fuelled = next(r for r in reached if r.combination.plan.engine and r.combination.source.station == "pail")
    assert fuelled.price >= KIT.generators["cinder"].price
