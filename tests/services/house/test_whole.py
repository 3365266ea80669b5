"""The house as a whole and its goals, over the demo home: totals agree with the core, bills and gaps follow
readings."""

import csv
import io
from datetime import datetime

import pytest

from imbuto.core.advice.house_totals import day_night
from imbuto.core.home.home import day_wh
from imbuto.services.house.house_views import goals, whole_house_view
from imbuto.services.house.measuring import Measuring, Target
from imbuto.services.papers.home_tables import table_csv
from tests.demo import demo_copy

HOME, FLAT = "saltgrass-house", "via-dei-glicini"
PAIR = ("ten-place", "november-windstorm")
TODAY = datetime(2026, 11, 25, 12)


@pytest.fixture
def planner(tmp_path):
    planner = demo_copy(tmp_path)
    yield planner
    planner.database.close()


def home_of(planner, home=HOME):
    return planner.documents(planner.state(home)).home


def edit(planner, *ops):
    planner.edit(HOME, planner.rev(HOME), str(planner.rev(HOME)), "x", [{"doc": "home", **op} for op in ops], PAIR)


def test_the_totals_are_the_sums_of_the_loads(planner):
    seen = whole_house_view(planner, HOME, None)
    home = home_of(planner)
    assert seen.day_wh + seen.night_wh == pytest.approx(day_wh(home), rel=1e-3)
    assert seen.together_w == sum(x.count * x.run_w for x in home.loads.values())
    assert {x.id for x in seen.loads} == set(home.loads)
    assert (seen.slots, seen.untraced, seen.doubles) == (40, 1, 5)


def test_weather_and_the_station_come_with_the_judged_pair(planner):
    plain, windy = whole_house_view(planner, HOME, None), whole_house_view(planner, HOME, PAIR)
    icy = whole_house_view(planner, HOME, ("ten-place", "january-ice"))
    pump = {
        name: next(x.day_wh + x.night_wh for x in v.loads if x.id == "heat-pump-load")
        for name, v in {"plain": plain, "windy": windy, "icy": icy}.items()
    }
    assert pump["icy"] > pump["windy"] > pump["plain"]
    assert (plain.own_draw_w, windy.own_draw_w) == (0, 40)
    assert windy.own_draw_wh_day == 24 * 40
    assert {x.word for x in plain.loads} <= {"short use", "steady draw"}
    assert {x.word for x in windy.loads} == {"short use", "steady draw", "runs freely", "not at night"}


def test_the_bills_are_weighed_by_their_length(planner):
    seen = whole_house_view(planner, HOME, PAIR).bills
    assert seen.count == 2
    assert seen.wh_day == pytest.approx(1000 * (1065 + 1247) / 62)
    sum_wh = sum(day_night(x).total_wh for x in home_of(planner).loads.values())
    assert seen.ratio == pytest.approx(sum_wh / seen.wh_day)
    Measuring(planner).take_back(HOME, "bill-october", "t", PAIR)
    assert whole_house_view(planner, HOME, PAIR).bills.wh_day == pytest.approx(1_065_000 / 30)
    Measuring(planner).note(HOME, "short", "house 90 kWh in 3 days", Target(), PAIR)
    assert whole_house_view(planner, HOME, PAIR).bills.count == 1  # three days are no bill
    assert whole_house_view(planner, FLAT, None).bills is None


def test_a_circuit_measured_as_a_whole_stands_against_its_loads(planner):
    gap = whole_house_view(planner, HOME, PAIR).circuits[0]
    office = sum(day_night(x).total_wh for x in home_of(planner).loads_on("office")) / 24
    assert (gap.circuit, gap.measured_w) == ("office", pytest.approx(1510 / 24))
    assert gap.gap_w == pytest.approx(1510 / 24 - office)
    Measuring(planner).note(HOME, "long", "log 168 h, average 70 W", Target(circuit="office"), PAIR)
    assert whole_house_view(planner, HOME, PAIR).circuits[0].measured_w == 70


def test_what_counts_nowhere_is_told(planner):
    for path, value in (("average_w", 0), ("rest_w", 0), ("run_w", 0)):
        edit(planner, {"op": "replace", "path": f"/loads/chimes/{path}", "value": value})
    assert [x.id for x in whole_house_view(planner, HOME, PAIR).loads if x.nowhere] == ["chimes"]


def test_goals_say_what_the_plan_keeps_on_and_who_is_missing(planner):
    seen = goals(planner, HOME, PAIR, TODAY)
    by_harm = {h.harm: h for h in seen.harms}
    assert by_harm["breathing"].loads == by_harm["breathing"].kept == ["concentrator"]
    assert set(by_harm["food"].kept) == {"refrigerator", "freezer"}
    assert "isn't at home" in seen.nobody
    assert [o["id"] for o in seen.proposed] == ["usual-outage", "longest-outage", "second-outage"]
    cords = goals(planner, HOME, ("cords-only", "evening-cut"), TODAY)
    assert next(h for h in cords.harms if h.harm == "flood").kept == []


def test_a_substitute_frees_what_a_run_without_it_gains(planner):
    seen = {s.load: s for s in goals(planner, HOME, PAIR, TODAY).substitutes}
    heater = seen["reef-heater"]
    before = planner.verdict(HOME, *PAIR).hours
    edit(planner, {"op": "replace", "path": "/loads/reef-heater/average_w", "value": 30.0})
    assert planner.verdict(HOME, *PAIR).hours - before == pytest.approx(heater.hours, abs=1e-6)
    assert heater.price is not None
    assert heater.price > 0


def test_a_proposed_outage_is_not_proposed_again_once_it_is_there(planner):
    outage = goals(planner, HOME, PAIR, TODAY).proposed[0]
    op = {"doc": outage["id"], "op": "add", "path": "", "kind": "outage", "value": outage}
    planner.edit(HOME, planner.rev(HOME), "o", "x", [op], (PAIR[0], outage["id"]))
    assert outage["id"] not in [o["id"] for o in goals(planner, HOME, PAIR, TODAY).proposed]


@pytest.mark.parametrize("which", ["loads", "circuits", "readings"])
def test_every_table_goes_out_as_csv(planner, which):
    edit(planner, {"op": "replace", "path": "/loads/chimes/name", "value": "=cmd|chime"})
    rows = list(csv.reader(io.StringIO(table_csv(planner, HOME, which))))
    home = home_of(planner)
    expected = {"loads": len(home.loads), "circuits": len(home.circuits), "readings": 3}
    assert len(rows) == 1 + expected[which]
    assert len({len(r) for r in rows}) == 1
    assert not any(cell.startswith("=") for r in rows for cell in r)
    if which == "loads":
        chime = next(r for r in rows if "chime" in r[0])
        assert chime[0] == "'=cmd|chime"
        assert float(dict(zip(rows[0], chime, strict=True))["average [W]"]) == home.loads["chimes"].average_w
