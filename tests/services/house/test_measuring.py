"""Readings: noted once, followed by the load's figures, undone by being withdrawn, carried in the plan file."""

import json

import pytest

from imbuto.core.basics.errors import ImbutoError, NotFound
from imbuto.core.measuring.understood_text import NotUnderstood
from imbuto.formats import strict_json
from imbuto.services.desk.demo import demo_file
from imbuto.services.house.measuring import Measuring, Target
from tests.demo import demo_copy

HOME = "saltgrass-house"
PAIR = ("ten-place", "november-windstorm")
SHIPPED = {r["id"] for r in json.loads(demo_file(HOME))["readings"]}


@pytest.fixture
def measuring(tmp_path):
    planner = demo_copy(tmp_path)
    yield Measuring(planner)
    planner.database.close()


def stove(measuring):
    return measuring.planner.state(HOME).home["loads"]["stove"]


def noted(measuring, home=HOME):
    """The readings noted here, without those the demo comes with."""
    return [r for r in measuring.readings(home, PAIR) if r.id not in SHIPPED]


def in_file(file):
    return [r for r in file["readings"] if r["id"] not in SHIPPED]


def note(measuring, text, edit_id="r1", load="stove", **more):
    return measuring.note(HOME, edit_id, text, more.pop("target", Target(load)), PAIR, **more)


def test_metering_two_hours_and_then_two_days_narrows_the_band_and_reorders_meter_next(measuring):
    verdict = measuring.planner.verdict(HOME, *PAIR)
    assert {m.load for m in verdict.measures} >= {"stove", "reef-heater"}
    short = note(measuring, "0.21 kWh in 2 h", "r1").verdict
    assert stove(measuring)["spread"] == pytest.approx(0.2)
    long = note(measuring, "5.2 kWh in 48 h", "r2").verdict
    assert stove(measuring)["spread"] == pytest.approx(0.08)
    assert stove(measuring)["average_w"] == pytest.approx(108.33, abs=0.01)
    assert stove(measuring)["evidence"] == "metered"
    assert long.hours - long.low_hours < short.hours - short.low_hours
    assert "stove" in {m.load for m in short.measures}
    assert "stove" not in {m.load for m in long.measures}


def test_undo_marks_it_withdrawn_and_redo_lets_it_stand_again(measuring):
    before = stove(measuring)
    note(measuring, "5.2 kWh in 48 h")
    planner = measuring.planner
    assert planner.state(HOME).undo == "Pellet stove: 5.2 kWh in 48 h"
    planner.undo(HOME, "u", PAIR)
    assert stove(measuring) == before
    assert [r.withdrawn for r in noted(measuring)] == [True]
    planner.redo(HOME, "r", PAIR)
    assert stove(measuring)["average_w"] == pytest.approx(108.33, abs=0.01)
    assert [r.withdrawn for r in noted(measuring)] == [False]


def test_taking_one_back_lets_the_next_best_count_and_can_be_undone(measuring):
    note(measuring, "5.2 kWh in 48 h", "long")
    note(measuring, "0.3 kWh in 2 h", "short")
    assert stove(measuring)["average_w"] == pytest.approx(108.33, abs=0.01)
    measuring.take_back(HOME, "long", "b", PAIR)
    assert stove(measuring)["average_w"] == pytest.approx(150)
    wins = {r.id: [g.wins for g in r.gives] for r in noted(measuring)}
    assert wins == {"long": [False], "short": [True]}
    measuring.planner.undo(HOME, "u", PAIR)
    assert stove(measuring)["average_w"] == pytest.approx(108.33, abs=0.01)
    with pytest.raises(NotFound):
        measuring.take_back(HOME, "nowhere", "c", PAIR)


def test_sent_twice_it_is_noted_once(measuring):
    note(measuring, "5.2 kWh in 48 h", "same")
    note(measuring, "5.2 kWh in 48 h", "same")
    assert len(noted(measuring)) == 1


@pytest.mark.parametrize(
    ("text", "load"),
    [
        ("freezer 0.43 kWh in 6.5 h", "freezer"),
        ("Oxygen concentrator 2.4 kWh in 8 h", "concentrator"),
        ("oxygen concentratr 2.4 kWh in 8 h", "concentrator"),
        ("zebra 2.4 kWh in 8 h", None),
        ("router 0.55 kWh in 24 h", "router"),
        ("pellet stve 5.2 kWh in 48 h", "stove"),
    ],
)
def test_a_notebook_line_goes_by_its_name(measuring, text, load):
    if load is None:
        with pytest.raises(NotUnderstood, match="no load is called"):
            note(measuring, text, load=None)
    else:
        note(measuring, text, load=None)
        assert noted(measuring)[0].load == load


@pytest.mark.parametrize(
    ("text", "load", "words"),
    [
        ("lamps 9 W", None, "could be"),
        ("9 W", None, "start with the load's name"),
        ("0.21 kW in 3 h", "stove", "Did you mean “0.21 kWh in 3 h”"),
        ("9 W", "nobody", "that load"),
    ],
)
def test_what_cannot_be_noted_changes_nothing(measuring, text, load, words):
    before = strict_json.dump(measuring.planner.give_out(HOME))
    with pytest.raises(ImbutoError, match=words):
        note(measuring, text, load=load)
    assert strict_json.dump(measuring.planner.give_out(HOME)) == before
    assert noted(measuring) == []


def test_the_echo_says_what_it_would_give_or_what_is_wrong(measuring):
    echo = measuring.understand(HOME, "5.2 kWh in 48 h", "stove", PAIR)
    assert (echo.load_name, echo.problem) == ("Pellet stove", "")
    assert echo.gives[0].sigma == pytest.approx(0.08 * echo.gives[0].value)
    slip = measuring.understand(HOME, "0.21 kW in 3 h", "stove", PAIR)
    assert (slip.suggestion, slip.echo) == ("0.21 kWh in 3 h", "")
    assert measuring.understand(HOME, "71 to 58% in 9 h", "stove", None).problem.startswith("A gauge reading needs")
    gauge = measuring.understand(HOME, "71 to 58% in 9 h", "stove", PAIR)
    assert gauge.gives[0].value == pytest.approx((0.13 * 12_400 * 0.97 * 0.936 / 9 - 40) * 0.94)


def test_readings_go_with_the_plan_file(measuring):
    note(measuring, "5.2 kWh in 48 h", "a")
    note(measuring, "now 320 W", "b")
    file = measuring.planner.give_out(HOME)
    assert [r["raw"] for r in in_file(file)] == ["5.2 kWh in 48 h", "now 320 W"]
    again = measuring.planner.take_in(json.dumps(file), "f").id
    assert measuring.planner.give_out(again)["readings"] == file["readings"]
    assert [r.raw for r in noted(measuring, again)] == ["now 320 W", "5.2 kWh in 48 h"]
    file["readings"][-1]["load"] = "nobody"
    with pytest.raises(ImbutoError, match="doesn't have that load"):
        measuring.planner.take_in(json.dumps(file), "f")


def test_readings_of_a_removed_load_stay_out_of_the_file(measuring):
    note(measuring, "9 W", load="chimes")
    planner = measuring.planner
    planner.edit(HOME, planner.rev(HOME), "e", "x", [{"doc": "home", "op": "remove", "path": "/loads/chimes"}], PAIR)
    assert in_file(planner.give_out(HOME)) == []
    assert noted(measuring) == []


def test_a_bill_and_a_circuit_are_noted_and_change_no_load(measuring):
    before = measuring.planner.state(HOME).home
    note(measuring, "bill 912 kWh in 30 days", "a", target=Target())
    note(measuring, "0.9 kWh in 24 h", "b", target=Target(circuit="office"))
    views = noted(measuring)
    assert [(r.of, r.load) for r in views] == [("Office", None), ("Whole home", None)]
    assert [r.gives[0].value for r in views] == pytest.approx([37.5, 912_000 / 720])
    assert measuring.planner.state(HOME).home == before
    with pytest.raises(NotFound, match=r"doesn.t have that circuit"):
        note(measuring, "9 W", "c", target=Target(circuit="nowhere"))


def test_a_reading_at_a_setting_changes_that_setting_only(measuring):
    planner = measuring.planner
    low = {"id": "low", "name": "Low flame", "average_w": 60, "rest_w": 0, "run_w": 330, "season": "warm"}
    op = {"doc": "home", "op": "add", "path": "/loads/stove/settings/low", "value": low}
    planner.edit(HOME, planner.rev(HOME), "e", "x", [op], PAIR)
    before = stove(measuring)
    note(measuring, "3.6 kWh in 48 h", "a", setting="low flame")
    after = stove(measuring)
    assert after["settings"]["low"]["average_w"] == pytest.approx(75)
    assert after["settings"]["low"]["evidence"] == "metered"
    assert after | {"settings": 0} == before | {"settings": 0}
    assert [g.wins for g in noted(measuring)[0].gives] == [True]
