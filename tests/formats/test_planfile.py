"""The plan file: round trips to the last digit, and bad files answered by one sentence."""

import copy
import json
from pathlib import Path

import jsonschema
import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.basics.errors import ImbutoError, InvalidValue
from imbuto.core.equipment.wires import Cord
from imbuto.formats import guide, planfile, strict_json
from imbuto.services.compare.estimate import as_json, as_text, estimate
from imbuto.services.desk.demo import DEMO_HOMES, demo_file
from tests.demo import demo_copy

FOUR = Path(__file__).parents[2] / "examples" / "four-loads.json"


def four() -> dict:
    return json.loads(FOUR.read_text())


def test_four_loads_give_the_check_figure_on_paper_and_in_the_balance():
    answer = as_json(estimate(FOUR.read_bytes(), "four-loads.json", None, None))
    assert answer["hours"] == pytest.approx(20.561, abs=0.0005)
    assert answer["paper_hours"] == pytest.approx(20.561, abs=0.0005)
    assert answer["average_w"] == pytest.approx(150)
    assert answer["usable_wh"] == pytest.approx(4096 * 0.9)
    assert answer["served_wh"] == pytest.approx(150 * answer["hours"])
    assert answer["fits"] is True
    assert {
        "hours",
        "goal_hours",
        "paper_hours",
        "average_w",
        "usable_wh",
        "served_wh",
        "fits",
        "limits",
        "neck",
        "widenings",
        "fixes",
    } <= answer.keys()
    assert {"id", "sentence"} <= answer["neck"].keys()


@pytest.mark.parametrize("name", [*DEMO_HOMES, "four-loads"])
def test_out_and_in_again_gives_the_same_figures(name):
    text = FOUR.read_text() if name == "four-loads" else demo_file(name)
    first = planfile.read(text, name)
    written = planfile.write(first.raw_home, first.raw_plans, first.raw_outages, first.catalogue)
    jsonschema.validate(written, planfile.schema())
    again = planfile.read(strict_json.dump(written), name)
    for plan, plan2 in zip(first.plans, again.plans, strict=True):
        for outage, outage2 in zip(first.outages, again.outages, strict=True):
            before = as_json(judge(first.home, plan, outage, first.catalogue))
            assert as_json(judge(again.home, plan2, outage2, again.catalogue)) == before


def test_a_file_of_version_1_gives_its_device_and_its_charger_entries_of_their_own():
    raw = json.loads(demo_file("saltgrass-house"))
    raw["plans"] = raw["plans"][:3]  # those that a file of version 1 could say
    today = planfile.read(json.dumps(raw), "f")
    for plan in raw["plans"]:
        device = next(iter(plan.pop("devices", {}).values()), {"equipment": "cords"})
        plan |= {"transfer": device["equipment"], "inlet_cord": {"wire": "awg10", "length_m": 6}, "x-mine": 1}
        plan |= {"charge_w": 900, "charge_circuit": "garage"}
    old = planfile.read(json.dumps(raw | {"version": 1}), "f")
    for plan, now in zip(old.plans, today.plans, strict=True):
        assert {k: (d.equipment, d.source) for k, d in plan.devices.items()} == {
            k: (d.equipment, d.source) for k, d in now.devices.items()
        }
        assert all(d.cord == Cord(wire="awg10", length_m=6) for d in plan.devices.values())
        assert (plan.source.charge_w, plan.source.charge_circuit) == (900, "garage")
        assert plan.feeds == now.feeds
    assert all(p["x-mine"] == 1 and "transfer" not in p for p in old.raw_plans)


def test_unknown_keys_survive():
    raw = four()
    raw["home"]["x-mine"] = {"deep": [1]}
    raw["home"]["loads"]["a"]["colour"] = "green"
    raw["plans"][0]["sources"]["main"]["sticker"] = "blue"
    bundle = planfile.read(json.dumps(raw), "f")
    assert bundle.raw_home["x-mine"] == {"deep": [1]}
    assert bundle.raw_home["loads"]["a"]["colour"] == "green"
    assert bundle.raw_plans[0]["sources"]["main"]["sticker"] == "blue"


def test_an_entry_that_differs_from_what_ships_stays_with_the_home():
    raw = four()
    assert planfile.read(json.dumps(raw), "f").home.catalogue.stations["example"].idle_w == 18


def changed(path: str, value: object) -> str:
    raw = copy.deepcopy(four())
    at = raw
    *parents, last = path.split("/")
    for part in parents:
        at = at[int(part)] if isinstance(at, list) else at[part]
    at[int(last) if isinstance(at, list) else last] = value
    return json.dumps(raw)


BAD = [
    ("not json at all", "it isn't JSON: expecting value at line 1, column 1"),
    (b"\x89PNG\r\n\xff", "the file isn't text"),
    ("[1, 2]", "not a plan file"),
    ('{"format": "imbuto"}', "its format version"),
    (changed("version", 3), "version 3, and this version of Imbuto reads up to 2"),
    ("[" * 100_000, "nested"),
    (b" " * (strict_json.MAX_BYTES + 1), "at most 20 MB"),
    (
        changed("home/loads/a/run_w", "many"),
        "Modem and router, running watts: “many” can't be used. Enter a number.",
    ),
    (
        changed("home/loads/a/run_w", -5),
        "Modem and router, running watts: -5 can't be used. Enter at least 0 W.",
    ),
    (changed("home/loads/a/run_w", 9e9), "Enter at most 50,000 W"),
    (changed("home/loads/a/average_w", 500), "The average can't be above the 20 W"),
    (changed("home/service/volts", 110), "volts: 110 can't be used. Choose 120 or 230"),
    (changed("outages/0/hours", 0), "Enter at least 0.1 h"),
    (changed("outages/0/hours", 10_000), "Enter at most 336 h"),
    (changed("outages/0/start", "yesterday"), "start"),
    (changed("outages/0/start", "2026-11-24T18:00:00Z"), "without a time zone"),
    (changed("home/loads/a/circuit", "nowhere"), "This home doesn't have that circuit"),
    (changed("plans/0/feeds/b/load", "a"), "has two sources"),
    (changed("plans/0/sources/main/station", "unheard"), "The equipment list doesn't have that entry"),
    (changed("plans/0/sources/main/modules", 3), "takes at most 0"),
    (changed("plans/0/id", "day"), "Use each id once"),
    (changed("home", None), "a plan file has one home"),
    (changed("home/catalogue", 3), "catalogue"),
    (changed("plans", {}), "Enter a list of at most 200"),
    (FOUR.read_text().replace('"run_w": 60.0', '"run_w": NaN', 1), "Enter a finite number"),
    (FOUR.read_text().replace('"run_w": 60.0', '"run_w": 1e999', 1), "Enter a finite number"),
]


@pytest.mark.parametrize(("data", "words"), BAD, ids=[words[:40] for _, words in BAD])
def test_a_bad_file_gets_one_sentence(data, words):
    with pytest.raises(ImbutoError) as caught:
        planfile.read(data, "house.json")
    sentence = caught.value.sentence
    assert words in sentence
    assert sentence.endswith(".")
    assert "\n" not in sentence
    assert len(sentence) < 400


def test_a_240_v_circuit_on_120_v_equipment_is_told_by_name():
    raw = json.loads(demo_file("saltgrass-house"))
    plan = raw["plans"][0]
    del plan["feeds"]["counter-west"]
    feed = plan["feeds"].pop("reef")
    plan["feeds"]["water-heater"] = feed | {"id": "water-heater", "circuit": "water-heater", "place": 7}
    del plan["feeds"]["lights-ground"]
    plan["sources"]["main"] |= {"station": "firkin", "modules": 0}
    answer = as_json(estimate(json.dumps(raw).encode(), "f", "ten-place", None))
    assert answer["state"] == "carry_240"
    assert answer["neck"]["sentence"] == "Heat-pump water heater needs 240 V; Firkin supplies 120 V."
    assert not answer["fits"]


def test_estimate_as_text_has_hours_hand_check_waterfall_limits_neck_and_widenings():
    for outage in ("november-windstorm", "january-ice"):
        text = as_text(estimate(demo_file("saltgrass-house").encode(), "f", "Ten-place switch", outage))
        for words in ("By hand:", "From stored to delivered:", "Limits:", "What gives out first:", "not an approval"):
            assert words in text
    assert "To fix it:" in text
    assert "Will trip" in text


def test_a_plan_without_a_station_is_answered_by_the_inverse():
    raw = four()
    raw["plans"][0]["sources"] = {}
    assert "24 h needs" in as_text(estimate(json.dumps(raw).encode(), "f", None, None))
    raw["plans"][0]["feeds"] = {}
    assert "powers nothing yet" in as_text(estimate(json.dumps(raw).encode(), "f", None, None))
    raw["home"]["loads"] = {}
    assert "add one load" in as_text(estimate(json.dumps(raw).encode(), "f", None, None))


def test_the_guides_page_of_fields_is_current():
    """Made by: python -c 'from imbuto.formats.guide import page; print(page(), end="")' > docs/guide/plan-file.md"""
    shown = (FOUR.parents[1] / "docs" / "guide" / "plan-file.md").read_text()
    assert shown == guide.page()
    assert "| `continuous_w` | number | 10 to 50,000 | must be given |" in shown


@pytest.mark.parametrize("name", DEMO_HOMES)
def test_a_home_is_given_out_byte_for_byte_as_it_was_taken_in(tmp_path, name):
    planner = demo_copy(tmp_path)
    once = strict_json.dump(planner.give_out(name))
    again = strict_json.dump(planner.give_out(planner.take_in(once, "again").id))
    planner.database.close()
    assert again.replace(f'"id":"{name}-2"', f'"id":"{name}"', 1) == once


@pytest.mark.parametrize("name", ["a\x07b", "two\nlines", "\x1b[31mred", "a\u2028b"])
def test_a_name_has_no_control_characters(name):
    raw = json.loads(FOUR.read_text())
    (load, *_) = raw["home"]["loads"]
    raw["home"]["loads"][load]["name"] = name
    with pytest.raises(InvalidValue, match="A name can't have control characters"):
        planfile.read(json.dumps(raw), "file")
