"""What a breaker must protect: each case refused or not known just outside, and quiet just inside."""

from dataclasses import replace

import pytest

from imbuto.core.advice.hands_needed import steps
from imbuto.core.advice.moves.plan_moves import fixing_moves
from imbuto.core.basics.clock import Window
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.wires import Cord, known_wire
from imbuto.core.home.loads import Use
from imbuto.core.limits.all_limits import fit
from imbuto.core.limits.instants import instants
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.plan import Feed
from imbuto.core.plan.sources import Engine, Source
from imbuto.core.plan.system import resolve_part
from tests.support import OUTAGE, STATION, charged, load, switched

ONE_LEG = replace(STATION, volts="120", leg_a=33, continuous_w=4000)


def limits(now) -> dict[str, Limit]:
    return {x.id: x for x in fit(now, OUTAGE)}


def again(now, *, home=None, plan=None, station=None, equipment=None):
    """The same, with something else in it."""
    home, plan = home or now.home, plan or now.plan
    station, equipment = station or now.station, equipment or now.equipment
    catalogue = Catalogue(stations={station.id: station}, transfer={equipment.id: equipment}).over(shipped())
    return resolve_part(home, plan.with_equipment(equipment.id), catalogue)


def paired(station, *places: int, watts=1400, breaker=20, kind="ten-place", **circuit):
    """Circuits at these places, the first two sharing a neutral, said from one side only."""
    rows = [(p, [load(f"l{p}", watts)]) for p in places]
    now, _ = switched(*rows, station=station, breaker_a=breaker)
    circuits = dict(now.home.circuits)
    first, second = (f"c{p}" for p in (*places, 9)[:2])
    if second not in circuits:
        circuits[second] = replace(circuits[first], id=second, name="Circuit 9", slots=(9,))
    circuits[second] = replace(circuits[second], neutral_partner=first, **circuit)
    equipment = replace(shipped().transfer[kind], place_breaker_a=breaker if kind == "ten-place" else 0, place_a=30)
    return again(now, home=replace(now.home, circuits=circuits), equipment=equipment)


def test_two_circuits_on_one_neutral_of_a_120_v_station_are_refused():
    now = paired(ONE_LEG, 1, 2)
    neutral = limits(now)["neutral:c1"]
    assert not neutral.ok
    assert neutral.severity == "refuse"
    assert neutral.used == pytest.approx(max(2 * 1400 / 120, 30))  # 23.3 A, and a 30 A breaker before a 20 A wire
    assert "23.3 A in a wire for 20 A" in neutral.sentence
    moves = [m.id for m in fixing_moves(now, shipped(), {"neutral"})]
    assert "pair-off:c1" in moves


def test_the_neutrals_figures_are_the_larger_leg_or_the_sum():
    split = paired(STATION, 1, 2, watts=13 * 120)
    assert limits(split)["neutral:c1"].used == pytest.approx(13)
    assert limits(split)["neutral:c1"].ok
    one = paired(replace(ONE_LEG, inlet_outlet_a=20), 1, 2, watts=9 * 120)
    assert limits(one)["neutral:c1"].used == pytest.approx(18)
    assert limits(one)["neutral:c1"].ok  # 18 A behind a 20 A breaker in a wire for 20
    over = paired(replace(ONE_LEG, inlet_outlet_a=20), 1, 2, watts=10.5 * 120)
    assert not limits(over)["neutral:c1"].ok
    same_leg = paired(STATION, 1, 3, watts=9 * 120)  # 18 A, but the outlet's 30 A breaker does not protect a 20 A wire
    assert not limits(same_leg)["neutral:c1"].ok
    household = paired(replace(ONE_LEG, outlet_a=15), 1, 2)
    assert not limits(household)["neutral:c1"].ok  # the station's own outlets have no part in it


def test_a_pair_goes_over_together_or_stays_and_with_the_same_turns():
    alone = paired(STATION, 1)
    assert not limits(alone)["neutral_pair:c1"].ok
    assert limits(alone)["neutral_pair:c1"].severity == "refuse"
    assert "partner:c9" in [m.id for m in fixing_moves(alone, shipped(), {"neutral_pair"})]
    both = paired(STATION, 1, 2)
    assert "neutral_pair:c1" not in limits(both)
    feeds = both.plan.feeds | {"c2": replace(both.plan.feeds["c2"], stance="turns")}
    turns = again(both, plan=replace(both.plan, feeds=feeds))
    assert not limits(turns)["neutral_pair:c1"].ok
    inside = paired(STATION, 1, kind="interlock")  # the main is open: the other is dark, not on the grid
    assert "neutral_pair:c1" not in limits(inside)


def test_what_is_not_known_is_never_ok():
    untraced = limits(paired(STATION, 1, 2, traced=False))
    assert untraced["neutral_traced:c1"].severity == "unknown"
    assert not untraced["neutral_traced:c1"].ok
    assert not untraced["untraced"].ok
    no_size = limits(paired(STATION, 1, 2))["neutral_wire:c1"]
    assert no_size.severity == "unknown"
    now, _ = switched((1, [load("a", 100)]), station=replace(STATION, inlet_outlet_a=0))
    assert limits(now)["inlet_breaker"].severity == "unknown"


@pytest.mark.parametrize(
    ("text", "size"),
    [
        ("12 AWG", "12 AWG"),
        ("12 awg copper", "12 AWG"),
        ("awg10", "10 AWG"),
        ("2,5 mm²", "2.5 mm²"),
        ("2.5mm2", "2.5 mm²"),
        ("thick", None),
        ("13 AWG", None),
        ("12 AWG or 14 AWG", None),
        ("", None),
    ],
)
def test_a_wire_is_an_entry_of_the_table_or_not_known(text, size):
    found = known_wire(text)
    assert (found.name if found else None) == size


def test_a_breaker_protects_what_is_behind_it():
    now, _ = switched((1, [load("a", 100)]), breaker_a=15)
    thirty = replace(now.equipment, place_breaker_a=30)
    assert limits(again(now, equipment=replace(now.equipment, place_breaker_a=15)))["protect:c1"].ok
    assert not limits(again(now, equipment=thirty))["protect:c1"].ok
    thin = replace(now.home, circuits={"c1": replace(now.home.circuits["c1"], breaker_a=20, wire="14 AWG")})
    assert not limits(again(now, home=thin, equipment=replace(thirty, place_breaker_a=20)))["protect:c1"].ok
    inlet = replace(now.equipment, inlet_a=20)
    assert not limits(again(now, equipment=inlet))["protect:inlet"].ok
    assert limits(again(now, equipment=inlet, station=replace(STATION, inlet_outlet_a=20)))["protect:inlet"].ok
    for wire, ok in (("awg16", False), ("awg12", False), ("awg10", True)):  # 13, 25 and 30 A behind 30 A
        corded = again(
            now,
            plan=replace(
                now.plan, devices={"main": replace(now.plan.devices["main"], cord=Cord(wire=wire, length_m=5))}
            ),
        )
        assert limits(corded)["protect:cord"].ok is ok


def test_240_v_in_two_places_of_one_leg_would_be_0_v():
    pump = load("pump", 500, both_legs=True)
    now, _ = switched((1, [pump]))
    circuits = {"c1": replace(now.home.circuits["c1"], poles=2, slots=(1, 3))}
    two = again(now, home=replace(now.home, circuits=circuits))
    assert limits(two)["opposite:c1"].ok
    wrong = again(two, equipment=replace(two.equipment, place_legs="AABB"))
    assert limits(wrong)["opposite:c1"].severity == "refuse"
    assert "0 V" in limits(wrong)["opposite:c1"].sentence


def test_a_charger_on_its_own_output_is_refused_on_automatic_gear_and_a_step_on_manual():
    now, _ = switched((1, [load("a", 100)]))
    plan = charged(now.plan, charge_circuit="c1")
    manual = again(now, plan=plan)
    assert limits(manual)["own_charger"].severity == "caution"
    assert steps(manual)[0].title == "Unplug the charger first"
    auto = again(now, plan=plan, equipment=shipped().transfer["auto-panel"])
    assert limits(auto)["own_charger"].severity == "refuse"
    assert "own_charger" not in limits(again(now, plan=charged(plan, charge_circuit=None)))


@pytest.mark.parametrize(
    ("bonded", "switched_neutral", "ok"),
    [(True, False, False), (False, True, False), (True, True, True), (False, False, True)],
)
def test_a_generators_neutral_is_judged_as_a_stations(bonded, switched_neutral, ok):
    now, _ = switched((1, [load("a", 100)]))
    made = replace(shipped().generators["clinker"], bonded_neutral=bonded)
    equipment = replace(now.equipment, switched_neutral=switched_neutral)
    plan = replace(now.plan, engine=Engine(generator="clinker"))
    catalogue = Catalogue(
        stations={"test": STATION}, transfer={equipment.id: equipment}, generators={"clinker": made}
    ).over(shipped())
    found = limits(resolve_part(now.home, plan, catalogue))
    assert ("engine_bond" not in found) is ok
    if not ok:
        assert found["engine_bond"].severity == "refuse"
        settled = resolve_part(now.home, replace(plan, ticks=("engine_bond",)), catalogue)
        assert limits(settled)["engine_bond"].ok


def test_a_generator_is_limited_by_va_and_by_the_input_it_feeds():
    motor = load("m", 1000, kind="motor", power_factor=0.5)
    now, _ = switched((1, [motor]), station=replace(STATION, volts="120", input_a=15))
    plan = replace(now.plan, engine=Engine(generator="cinder"))  # 1,900 W and VA, at 120 V
    found = limits(again(now, plan=plan))
    assert found["engine_w"].ok  # 1,000 of 1,900 W
    assert found["engine_va"].used == pytest.approx(2000)
    assert not found["engine_va"].ok
    assert found["engine_input"].used == pytest.approx(2000 / 120)
    assert not found["engine_input"].ok
    wide = again(now, plan=plan, station=replace(now.station, input_a=20))
    assert limits(wide)["engine_input"].ok


def test_groups_are_exact_however_many_there_are():
    """Seven pairs that never run together: the larger of each counts, 7 × 100 + 3 × 140 W, not a part of the ways."""
    loads = [load(f"{k}{i}", w, start_va=w) for i in range(7) for k, w in (("a", 20 + 20 * i), ("b", 10 + 20 * i))]
    groups = tuple((f"a{i}", f"b{i}") for i in range(7))
    now, _ = switched((1, loads), not_together=groups)
    assert instants(now).most(instants(now).w) == pytest.approx(sum(20 + 20 * i for i in range(7)))
    # Named twice, a load belongs to the first group that names it: never less than is true.
    twice, _ = switched((1, loads), not_together=(*groups, ("a6", "a5")))
    assert instants(twice).most(instants(twice).w) == pytest.approx(560)


def test_all_at_once_counts_every_piece_and_a_resting_load_keeps_its_windows():
    four = load("fan", 100, start_va=300, count=4)
    now, _ = switched((1, [four]))
    assert limits(now)["all_at_once"].used == pytest.approx(4 * 300)


def test_what_rests_at_a_watt_runs_in_its_windows_only():
    television = load("tv", 100, rest_w=1, use=Use(kind="windows", windows=(Window(start_h=19, end_h=22),)))
    washer = load("washer", 500, use=Use(kind="windows", windows=(Window(start_h=8, end_h=10),)))
    now, _ = switched((1, [television, washer]))
    assert limits(now)["together_w"].used == pytest.approx(501)


def test_an_untraced_circuit_counts_a_twentieth_more():
    now, _ = switched((1, [load("a", 1000)]))
    circuits = {"c1": replace(now.home.circuits["c1"], traced=False)}
    more = again(now, home=replace(now.home, circuits=circuits))
    assert instants(more).most(instants(more).w) == pytest.approx(1050)
    assert not limits(more)["untraced"].ok


def test_contracted_power_is_held_against_charging_beside_the_house():
    now, _ = switched((1, [load("a", 1000)]), station=replace(STATION, charge_w=1500))
    home = replace(now.home, service=replace(now.home.service, contracted_w=2500))
    assert limits(again(now, home=home))["contracted"].ok  # 1,500 + 1,000
    less = replace(home, service=replace(home.service, contracted_w=2499))
    assert not limits(again(now, home=less))["contracted"].ok


def test_a_feed_that_is_unfed_needs_nothing():
    now, _ = switched((1, [load("a", 100)]))
    none = again(now, plan=replace(now.plan, feeds={}, sources={"main": Source(id="main", station="test")}))
    assert not [x for x in fit(none, OUTAGE) if x.family in ("protection", "neutral")]
    assert Feed(id="x", circuit="c1").place == 1
