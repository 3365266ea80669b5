"""Easily forgotten circuits, and stored water."""

from dataclasses import replace

import pytest

from imbuto.core.advice.often_forgotten import LIST, reminders, water_hours
from tests.support import corded, load


def states(*fed, left=()):
    now = corded(*fed)
    home = replace(now.home, loads=now.home.loads | {x.id: x for x in left})
    return {r.key: r for r in reminders([replace(now, home=home)])}


def test_each_thing_is_fed_left_off_or_absent_by_its_loads_names():
    found = states(load("router", name="Modem and router"), left=[load("sump", name="Sump pump")])
    assert (found["network"].state, found["network"].loads) == ("fed", ("Modem and router",))
    assert (found["sump"].state, found["sump"].loads) == ("left_off", ("Sump pump",))
    assert found["garage"].state == "absent"
    assert len(found) == len(LIST) == 12


@pytest.mark.parametrize(
    "name", ["Septic lift pump", "Pellet stove", "Garage door", "Gas furnace with blower", "Kettle"]
)
def test_the_typical_names_are_known(name):
    assert [r.state for r in states(load("x", name=name)).values()].count("fed") == 1


@pytest.mark.parametrize(("litres", "persons", "hours"), [(60, 2, 48), (0, 2, 0), (15, 1, 24)])
def test_stored_water_lasts(litres, persons, hours):
    assert water_hours(litres, persons) == hours


def test_a_well_pump_left_off_says_how_long_the_water_lasts():
    now = corded(load("lamp", name="Lamp"))
    well = load("well", name="Well pump")
    for litres, words in ((60, "lasts 48 h"), (0, "Enter under Needs and people")):
        house = replace(now.home.household, stored_water_l=litres)
        home = replace(now.home, loads=now.home.loads | {"well": well}, household=house)
        found = {r.key: r for r in reminders([replace(now, home=home)])}
        assert words in found["well"].sentence
