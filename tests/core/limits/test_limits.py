"""Limits: the check figures, and for each a plan just inside and one just outside."""

from dataclasses import replace

import pytest

from imbuto.core.advice.gives_out import violations
from imbuto.core.basics.clock import Window
from imbuto.core.home.loads import Use
from imbuto.core.limits.all_limits import fit
from imbuto.core.limits.rules.power_limits import derating_factor
from imbuto.core.plan.limit import Limit
from tests.support import OUTAGE, STATION, corded, load, switched

TASK = Use(kind="tasks", times=(12,), minutes=10)


def by_id(found: list[Limit]) -> dict[str, Limit]:
    return {x.id: x for x in found}


def test_legs_of_the_check_figures():
    a = [load("a1", 1250), load("a2", 140)]
    b = [load("b1", 305), load("b2", 1400)]
    pair = load("both", 4500, both_legs=True)
    now, outage = switched((1, a), (2, b), (3, [pair]), station=replace(STATION, leg_a=32))
    found = by_id(fit(now, outage))
    # The inverter links count plain amps; the 30 A outlet would count lasting ones 1.25 times, so it is taken out.
    now, outage = switched((1, a), (2, b), (3, [pair]), station=replace(STATION, leg_a=32, inlet_outlet_a=0))
    found = by_id(fit(now, outage))
    assert found["leg:A"].used == pytest.approx(30.33, abs=0.005)
    assert found["leg:B"].used == pytest.approx(32.96, abs=0.005)
    assert not found["leg:B"].ok


STARTS = [(140, 900), (120, 650), (900, 2300), (1250, 1250), (305, 480)]


def test_hardest_start_and_all_at_once_of_the_check_figures():
    loads = [load(f"m{i}", run, start_va=start) for i, (run, start) in enumerate(STARTS)]
    found = by_id(fit(corded(*loads), OUTAGE))
    assert found["start:total"].used == pytest.approx(4115)
    assert found["all_at_once"].used == pytest.approx(5580)
    assert "M2 starting with everything else on" in found["start:total"].sentence


def test_not_together_groups_try_each_member_as_the_one_that_runs():
    loads = [load("a", 180, start_va=180), load("b", 95, start_va=700), load("c", 1500), load("d", 620, start_va=3000)]
    found = by_id(fit(corded(*loads, not_together=(("c", "d"),)), OUTAGE))
    assert found["together_w"].used == pytest.approx(1775)
    assert found["start:total"].used == pytest.approx(3275)


def test_a_leg_may_break_where_the_total_fits():
    a = [load("run", 900), load("pump", 0, start_va=2400)]
    station = replace(STATION, surge_va=6000, leg_surge_va=3000)
    now, outage = switched((1, a), (2, [load("b", 500)]), station=station)
    found = by_id(fit(now, outage))
    assert found["start:A"].used == pytest.approx(3300)
    assert not found["start:A"].ok
    assert found["start:total"].used == pytest.approx(3800)
    assert found["start:total"].ok


def test_the_125_rule_on_a_20_a_breaker():
    now, outage = switched((1, [load("lasting", 1800), load("short", 600, use=TASK)]))
    place = by_id(fit(now, outage))["place:1"]
    assert place.used == pytest.approx(23.75)
    assert not place.ok


def test_windows_that_never_overlap_do_not_add_up():
    day, night = ((Window(start_h=a, end_h=b),) for a, b in ((8, 20), (20, 8)))
    loads = [
        load("d", 900, use=Use(kind="windows", windows=day)),
        load("n", 700, use=Use(kind="windows", windows=night)),
    ]
    assert by_id(fit(corded(*loads), OUTAGE))["together_w"].used == 900


def test_a_surge_too_short_or_unlisted_counts_as_continuous():
    pump = load("pump", 100, start_va=6000)
    for surge_s, limit in [(0.5, STATION.rated_va), (None, STATION.rated_va), (1.0, STATION.surge_va)]:
        found = by_id(fit(corded(pump, station=replace(STATION, surge_s=surge_s)), OUTAGE))
        assert found["start:total"].limit == limit


def test_below_freezing_a_surge_counts_less():
    found = by_id(fit(corded(load("x")), replace(OUTAGE, indoors_c=-1)))
    assert found["start:total"].limit == pytest.approx(0.7 * STATION.surge_va)


@pytest.mark.parametrize(
    ("celsius", "metres", "part"), [(40, 1000, 1), (45, 0, 0.9), (20, 1500, 0.95), (45, 1500, 0.855)]
)
def test_heat_and_height_take_from_the_output(celsius, metres, part):
    assert derating_factor(celsius, metres) == pytest.approx(part)


def test_the_european_socket_carries_10_a_for_long_and_its_breaker_all_of_it():
    station = replace(STATION, volts="230", outlet_a=13)
    found = by_id(fit(corded(load("heater", 2400), volts=230, station=station), OUTAGE))
    assert found["place:1"].limit == 10
    assert found["place:1"].used == pytest.approx(2400 / 230)


SMALL = replace(STATION, continuous_w=1000, rated_va=1000, leg_a=9, surge_va=2000, leg_surge_va=1500)


def _small(item):
    return fit(corded(item, station=SMALL), OUTAGE)


def _cold(celsius: float):
    return fit(corded(load("x")), replace(OUTAGE, indoors_c=celsius))


def _breaker(amps: float):
    now, outage = switched((1, [load("a", 100)]), breaker_a=amps)
    return fit(now, outage)


def _many(n: int):
    return fit(corded(*(load(f"l{i}", 10) for i in range(n))), OUTAGE)


def _two_pole(volts: str):
    now, outage = switched((1, [load("pump", 500, both_legs=True)]), station=replace(STATION, volts=volts))
    return fit(now, outage)


def _auto(extra: float):
    now, outage = switched((1, [load("m", 100, start_va=1000 + extra)]), station=SMALL)
    return fit(replace(now, equipment=replace(now.equipment, automatic=True)), outage)


def _leg(watts: float):
    now, outage = switched((1, [load("a", watts)]), station=replace(SMALL, inlet_outlet_a=0))
    return fit(now, outage)


def _house_volts(volts: str):
    return fit(corded(load("x"), volts=230, station=replace(STATION, volts=volts)), OUTAGE)


TABLE = [
    ("places", lambda: _many(4), lambda: _many(5)),
    ("place_rating:1", lambda: _breaker(20), lambda: _breaker(25)),
    ("place:1", lambda: fit(corded(load("x", 1919)), OUTAGE), lambda: fit(corded(load("x", 1921)), OUTAGE)),
    ("together_w", lambda: _small(load("x", 1000)), lambda: _small(load("x", 1001))),
    (
        "together_va",
        lambda: _small(load("x", 800, power_factor=0.8)),
        lambda: _small(load("x", 801, power_factor=0.8)),
    ),
    ("leg:A", lambda: _leg(1079), lambda: _leg(1081)),
    (
        "start:total",
        lambda: _small(load("x", 100, start_va=2000)),
        lambda: _small(load("x", 100, start_va=2001)),
    ),
    ("all_at_once", lambda: _auto(900), lambda: _auto(1100)),
    ("carry_240", lambda: _two_pole("120/240"), lambda: _two_pole("120")),
    ("volts", lambda: _house_volts("230"), lambda: _house_volts("120")),
    ("temperature", lambda: _cold(-10), lambda: _cold(-10.1)),
]


@pytest.mark.parametrize(("ident", "inside", "outside"), TABLE, ids=[row[0] for row in TABLE])
def test_just_inside_and_just_outside(ident, inside, outside):
    within = by_id(inside()).get(ident)
    assert within is None or within.ok  # a yes/no limit that holds may say nothing
    past = by_id(outside())[ident]
    assert not past.ok
    assert past in violations(outside())
    assert past.sentence.endswith(".")


def test_no_cord_feeds_a_circuit():
    now, outage = switched((1, [load("a", 100)]))
    cords = replace(now.equipment, kind="cords")
    found = by_id(fit(replace(now, equipment=cords), outage))["cord_to_circuit"]
    assert found.severity == "refuse"
    assert "can kill" in found.sentence
