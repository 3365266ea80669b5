"""The house as a whole: totals by hand, words, goals, proposed outages, hands."""

from dataclasses import replace
from datetime import datetime

import pytest

from imbuto.core.advice.hands_needed import blind_spots, nobody, steps
from imbuto.core.advice.house_totals import (
    by_harm,
    counts_nowhere,
    day_night,
    gap_sentence,
    proposed_outages,
    with_substitute,
    without,
    word_for,
)
from imbuto.core.basics.clock import Window
from imbuto.core.basics.errors import ImbutoError
from imbuto.core.home.circuits import Circuit
from imbuto.core.home.home import Home, check_home
from imbuto.core.home.household import History, Household, OwnedItem, Person
from imbuto.core.home.loads import Use
from imbuto.core.run.run import simulate
from tests.support import OUTAGE, STATION, corded, load, switched

EVENING = Use(kind="windows", windows=(Window(start_h=18, end_h=22),))


@pytest.mark.parametrize(
    ("use", "day", "night"),
    # 100 W: the night is 20 to 8 o'clock, twelve hours of it.
    [
        (Use(), 1200, 1200),
        (EVENING, 200, 200),
        (Use(kind="windows", windows=(Window(start_h=22, end_h=7),)), 0, 900),
        (Use(kind="tasks", times=(12,), minutes=30), 50, 0),
        (Use(kind="windows", windows=(Window(start_h=9, end_h=16, days="weekend"),)), 200, 0),
    ],
)
def test_day_and_night_are_told_apart(use, day, night):
    split = day_night(load("a", use=use))
    assert (split.day_wh, split.night_wh) == pytest.approx((day, night), abs=9)


@pytest.mark.parametrize(
    ("item", "word"),
    [
        (load("kettle", 1500, use=Use(kind="tasks", times=(7,), minutes=5)), "short use"),
        (load("router", 14, kind="electronics"), "runs freely"),
        (load("fan", 150, kind="fan"), "not at night"),
        (load("oxygen", 305, kind="compressor", purpose="life"), "steady draw"),
        (load("tv", 90, kind="electronics", use=EVENING), "runs freely"),
    ],
)
def test_words_for_how_it_behaves_on_battery(item, word):
    assert word_for(item, 5_000) == word
    assert word_for(item, 0) in ("short use", "steady draw")


def test_what_counts_nowhere_and_what_the_bill_says():
    assert counts_nowhere(load("a", 0)) == "no watts entered"
    assert counts_nowhere(load("a", 50, 0)) == "its average is 0 W"
    assert counts_nowhere(load("a", 50)) == ""
    assert "8.0 kWh per day that no load accounts for" in gap_sentence(12_000, 20_000)
    assert "entered twice" in gap_sentence(24_000, 20_000)
    assert "agree" in gap_sentence(19_000, 20_000)


def test_doing_without_frees_as_many_hours_as_a_run_without_it():
    part = corded(load("lamp", 100), load("blower", 200, substitute="do_without"))
    run = simulate(part, OUTAGE)
    freed = without(run, simulate(with_substitute(part, part.home.loads["blower"]), OUTAGE), part.home.loads["blower"])
    # 5000 x 0.9 usable; 300 / 0.94 + 20 against 100 / 0.94 + 20.
    usable = 5000 * 0.9
    assert freed.hours == pytest.approx(usable / (100 / 0.94 + 20) - usable / (300 / 0.94 + 20), rel=1e-3)
    assert freed.saved_wh == pytest.approx(200 * 24)
    half = replace(part.home.loads["blower"], substitute="less_power", less_w=50)
    assert simulate(with_substitute(part, half), OUTAGE).average_w == pytest.approx(150)


def test_harms_find_the_loads_that_keep_them_away():
    loads = [
        load("oxygen", purpose="life"),
        load("sump", kind="pump", purpose="house"),
        load("fridge", purpose="food"),
        load("well", kind="pump", purpose="house", harm="no_water"),
        load("tv"),
    ]
    found = {h: [x.id for x in xs] for h, xs in by_harm(loads).items() if xs}
    assert found == {"breathing": ["oxygen"], "flood": ["sump"], "food": ["fridge"], "no_water": ["well"]}


def test_outages_are_proposed_from_those_lived_through():
    history = History(a_year=6, shortest_h=1, usual_h=5, longest_h=90, months=(11, 12))
    found = proposed_outages(history, datetime(2026, 11, 25))
    assert [(o.hours, o.start.month, o.start_charge) for o in found] == [(5, 11, 1), (90, 11, 1), (1, 11, 0.5)]
    assert all(o.start > datetime(2026, 11, 25) for o in found)
    assert found[1].outdoors_c == 0
    assert proposed_outages(History(), datetime(2026, 11, 25)) == []
    assert [o.hours for o in proposed_outages(History(usual_h=400), datetime(2026, 11, 25))] == [336]


def test_hands_and_who_has_them():
    manual, _ = switched((1, [load("a")]))
    assert [s.title for s in steps(manual)] == ["Switch to backup and back", "Restart after it ran out"]
    heavy = corded(load("a"), station=replace(STATION, weight_kg=40, restart="by_itself"))
    assert [(s.title, s.stand_in) for s in steps(heavy)] == [("Carry and plug in", True), ("Move the station", False)]
    me = Person(id="me", name="Whoever built it", can_switch=True)
    assert "No one is entered" in nobody(manual, Household())
    assert nobody(manual, Household(people={"me": me})) == ""
    assert "isn't at home" in nobody(manual, Household(people={"me": replace(me, where="away")}))
    assert "No one at home" in nobody(manual, Household(people={"me": replace(me, can_switch=False)}))


def test_network_gear_left_off_is_told():
    router = load("router", purpose="communications")
    assert blind_spots(corded(router)) == []
    dark = corded(load("lamp"), router)
    without_it = replace(dark, fed=tuple(i for i in dark.fed if i.load.id == "lamp"))
    assert "Router isn't kept on" in blind_spots(without_it)[0]


def circuit(ident, slot, **more):
    return Circuit(id=ident, name=ident.upper(), slots=(slot,), **more)


@pytest.mark.parametrize(
    ("circuits", "household", "words"),
    [
        ([circuit("a", 3), circuit("b", 3)], Household(), "A is already there. Two tandem breakers can share one"),
        ([circuit("a", 3, tandem=True), circuit("b", 3)], Household(), "A is already there"),
        ([circuit("a", 3, tandem=True)] + [circuit(x, 3, tandem=True) for x in "bc"], Household(), "already there"),
        ([circuit("a", 3, neutral_partner="a")], Household(), "another circuit to share it with"),
        ([], Household(history=History(shortest_h=9, usual_h=5)), "Enter the shortest, the usual"),
        ([], Household(existing={"x": OwnedItem(id="y", name="Cord")}), "the two must be the same"),
    ],
)
def test_a_home_that_contradicts_itself_is_refused(circuits, household, words):
    home = Home(id="h", name="Home", circuits={c.id: c for c in circuits}, household=household)
    with pytest.raises(ImbutoError, match=words):
        check_home(home)


def test_two_tandems_share_a_slot():
    both = {c.id: c for c in (circuit("a", 3, tandem=True), circuit("b", 3, tandem=True))}
    check_home(Home(id="h", name="Home", circuits=both))
