"""Each move by itself: when it is offered, what it changes, what it costs."""

from dataclasses import replace
from decimal import Decimal

import pytest

from imbuto.core.advice.gives_out import glance, widenings
from imbuto.core.advice.moves.plan_moves import fixing_moves, widening_moves
from imbuto.core.basics.clock import Window
from imbuto.core.basics.units import clock_text, floor_minutes, hours_text, kwh_text, number_text, until
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.home.loads import Use
from imbuto.core.plan.itemised_costs import price_of_move
from imbuto.core.plan.sources import Source
from imbuto.core.plan.system import resolve_part
from imbuto.core.run.run import simulate
from tests.support import OUTAGE, STATION, corded, load, switched

TASK = Use(kind="tasks", times=(12,), minutes=10)


def offered(now, kind=widening_moves, **more):
    return {m.id: m for m in kind(now, more.pop("catalogue", shipped()), **more)}


def test_one_more_module_as_long_as_there_is_room():
    station = replace(STATION, module_price=Decimal(900), currency="EUR")
    now = corded(load("a"), station=station)
    move = offered(now)["module"]
    assert move.plan.source.modules == now.plan.source.modules + 1
    catalogue = Catalogue(stations={"test": station}).over(shipped())
    assert (price_of_move(now, resolve_part(now.home, move.plan, catalogue)), move.label) == (
        Decimal(900),
        "one more Test module",
    )
    full = corded(load("a"), station=station, sources={"main": Source(id="main", station="test", modules=3)})
    assert "module" not in offered(full)


def test_the_next_station_up_is_of_the_same_voltage_and_has_both_legs():
    now = corded(load("a"))
    moves = [m for m in offered(now).values() if m.family == "station"]
    assert [m.plan.source.station for m in moves] == ["puncheon"]  # 6,100 Wh, the next above 5,000
    after = resolve_part(now.home, moves[0].plan, shipped())
    assert price_of_move(now, after) == shipped().stations["puncheon"].price
    european = corded(load("a"), volts=230, station=replace(STATION, volts="230", nominal_wh=1000))
    assert [m.plan.source.station for m in offered(european).values() if m.family == "station"] == ["pail-eu"]


def test_turns_only_where_the_user_said_turns_will_do():
    now, _ = switched((1, [load("yes", turns_ok=True)]), (2, [load("no")]))
    moves = offered(now)
    assert moves["turns:c1"].plan.feeds["c1"].stance == "turns"
    assert "turns:c2" not in moves
    turning = replace(now.plan, feeds=now.plan.feeds | {"c1": replace(now.plan.feeds["c1"], stance="turns")})
    moves = offered(resolve_part(now.home, turning, Catalogue(stations={"test": STATION}).over(shipped())))
    assert "c1" not in moves["rest:c1"].plan.feeds


def test_a_rider_is_unplugged_but_never_what_life_hangs_on():
    fridge, coffee = load("fridge", purpose="food"), load("coffee", purpose="convenience")
    now, _ = switched((1, [fridge, coffee]), (2, [load("oxygen", purpose="life"), load("lamp", purpose="comfort")]))
    assert {m for m in offered(now) if m.startswith("unplug")} == {"unplug:coffee", "unplug:lamp"}
    all_unplugs = {m for m in offered(now, fixing_moves, families={"together"}) if m.startswith("unplug")}
    assert all_unplugs == {"unplug:fridge", "unplug:coffee", "unplug:lamp"}
    assert "off:c2" not in offered(now, fixing_moves, families={"together"})


def test_a_wanted_load_rides_along_no_longer():
    now, _ = switched((1, [load("fridge", purpose="food"), load("coffee")]), load_choices={"coffee": "wanted"})
    assert not any(f.rides_along for f in now.fed)
    assert "unplug:coffee" not in offered(now)


def test_to_a_free_place_on_the_other_leg_or_by_changing_places():
    now, _ = switched((1, [load("a")]), (3, [load("b")]), (2, [load("c")]))
    moves = offered(now, fixing_moves, families={"leg"})
    assert moves["leg:c1"].plan.feeds["c1"].place == 4
    assert moves["leg:c1"].label == "Circuit 1 to leg B, place 4"
    swapped = moves["swap:c1:c2"].plan.feeds
    assert (swapped["c1"].place, swapped["c2"].place) == (2, 1)
    assert "swap:c1:c3" not in moves  # both on leg A
    single = replace(STATION, volts="120")
    now, _ = switched((1, [load("a")]), (2, [load("c")]), station=single)
    assert not any(m.startswith(("leg", "swap")) for m in offered(now, fixing_moves, families={"leg"}))


def test_two_large_tasks_never_together():
    kettle, toaster = load("kettle", 1500, use=TASK), load("toaster", 900, use=TASK)
    now = corded(kettle, toaster, load("lamp", 9, use=TASK))
    move = offered(now, fixing_moves, families={"together"})["apart:kettle:toaster"]
    assert move.plan.not_together == (("kettle", "toaster"),)
    after = resolve_part(now.home, move.plan, Catalogue(stations={"test": STATION}).over(shipped()))
    assert not any(m.startswith("apart") for m in offered(after, fixing_moves, families={"together"}))


@pytest.mark.parametrize(
    ("families", "prefix"), [({"places"}, "switch:"), ({"carry_240"}, "station:"), ({"volts"}, "station:")]
)
def test_what_is_bought_fits_what_is_broken(families, prefix):
    now, _ = switched((1, [load("a")]))
    small = replace(now, equipment=shipped().transfer["six-place"], by_device={"main": shipped().transfer["six-place"]})
    found = [m for m in offered(small, fixing_moves, families=families).values() if m.id.startswith(prefix)]
    assert found
    catalogue = Catalogue(stations={"test": STATION}).over(shipped())
    assert all(price_of_move(small, resolve_part(now.home, m.plan, catalogue)) is not None for m in found)


@pytest.mark.parametrize("families", [{"temperature"}, {"start"}])
def test_a_station_in_the_garage_may_come_indoors(families):
    source = Source(id="main", station="test", spot="garage")
    now = corded(load("a"), sources={"main": source})
    assert offered(now, fixing_moves, families=families)["indoors"].plan.source.spot == "indoors"
    assert "indoors" not in offered(corded(load("a")), fixing_moves, families=families)


def test_a_glance_shows_three_at_most_and_one_of_a_family():
    night = (Window(start_h=20, end_h=8),)
    now, outage = switched(
        (1, [load("a", 300, turns_ok=True)]),
        (2, [load("b", 200, purpose="food"), load("c", 80)]),
        (3, [load("d", 90, turns_ok=True, use=Use(kind="windows", windows=night))]),
    )
    found = widenings(simulate(now, outage), Catalogue(stations={"test": STATION}).over(shipped()))
    shown = glance(found)
    assert len(shown) == 3
    assert len({p.move.family for p in shown}) == 3
    assert [p.hours_gained for p in found] == sorted((p.hours_gained for p in found), reverse=True)
    costs = [bool(p.price) for p in shown]
    assert costs == sorted(costs)  # what costs nothing first
    assert any(costs) == any(p.price for p in found)


@pytest.mark.parametrize(
    ("hours", "text", "minutes"),
    [(18.22, "18 h 10 m", 1090), (2.999999999, "3 h", 180), (0.75, "45 m", 45), (24.0, "24 h", 1440)],
)
def test_hours_are_rounded_down_once(hours, text, minutes):
    assert hours_text(hours) == text
    assert floor_minutes(hours) == minutes
    assert (until(OUTAGE.start, hours) - OUTAGE.start).total_seconds() == 60 * minutes


def test_figures_are_written_as_people_read_them():
    assert clock_text(OUTAGE.start) == "Tue 6:00 pm"
    assert clock_text(OUTAGE.start.replace(hour=0, minute=5)) == "Tue 12:05 am"
    assert kwh_text(12_400) == "12.4 kWh"
    assert [number_text(x) for x in (1180, 27.14, 25.0, 0.25)] == ["1,180", "27.1", "25", "0.2"]
