"""What there is to test follows from the plan: by kind of gear, by what hangs on it, and by what would give first."""

from __future__ import annotations

from dataclasses import replace

import pytest

from imbuto.core.outages.proving.plan_tests import NEAR_LIMIT, procedures
from imbuto.core.outages.proving.test_procedures import TestLine as Line
from imbuto.core.plan.sources import Engine
from imbuto.core.run.run import simulate
from tests.core.run.test_several import BOX
from tests.support import OUTAGE, corded, load, switched

FRIDGE = load("fridge", 140, 62, kind="compressor", purpose="food", room="kitchen", start_va=900)
LAMP = load("lamp", 40, purpose="comfort", room="hall")
KETTLE = load("kettle", 1440, purpose="convenience", room="kitchen")


def named(x, *, with_runs: bool):
    runs = {x.source.id: (simulate(x, OUTAGE), None)} if with_runs else {}
    return {p.id: p for p in procedures([x], runs)}


def test_cords_have_no_legs_no_flicker_and_no_transfer_to_wait_for():
    found = named(corded(FRIDGE, LAMP, station=BOX), with_runs=True)
    assert not {"legs", "flicker", "no_export", "position", "equal", "sharing"} & set(found)
    assert {
        "received",
        "firmware",
        "plugging",
        "one_circuit",
        "proven",
        "rooms",
        "starts",
        "rundown",
        "transfer",
    } <= set(found)
    assert found["one_circuit"].lines[0].what.startswith("Lamp switches to backup")


def test_a_switch_by_hand_is_looked_at_by_an_electrician_and_timed_without_an_aim():
    x, _ = switched((1, [FRIDGE]), (2, [LAMP]))
    found = named(x, with_runs=True)
    assert found["legs"].who == "qualified"
    assert found["transfer"].lines[0].expected is None
    assert "flicker" in found
    assert "no_export" not in found


@pytest.mark.parametrize(("inlet", "offered"), [(40.0, True), (10.0, False)])
def test_a_load_is_stepped_up_only_where_the_inverter_gives_first(inlet, offered):
    x, _ = switched((1, [FRIDGE]), (2, [LAMP]), station=replace(BOX, leg_a=20, inlet_outlet_a=30))
    now = replace(x, equipment=replace(x.equipment, inlet_a=inlet))
    p = named(now, with_runs=True)["limit"]
    assert bool(p.lines) is offered
    assert bool(p.refused) is not offered
    if offered:
        at_most = next(line for line in p.lines if line.id.startswith("leg"))
        assert at_most.expected == pytest.approx(NEAR_LIMIT * 20 * 120)
        assert [line.id for line in p.lines if line.many] == ["house", "unit1"]  # no grid is there
        assert "Leave it off again" in " ".join(p.cautions)
    else:
        assert "carries 10 A, less than the inverter" in p.refused


def test_what_a_life_hangs_on_is_on_a_second_supply_first_and_waits_for_no_day_on_battery():
    calm = named(corded(FRIDGE, LAMP, station=BOX), with_runs=True)
    grave = named(corded(FRIDGE, LAMP, load("concentrator", 300, purpose="life"), station=BOX), with_runs=True)
    assert "day_dark" in calm
    assert "day_dark" not in grave
    for p in ("transfer", "rooms"):
        assert any("second supply" in c for c in grave[p].cautions)
        assert not any("second supply" in c for c in calm[p].cautions)
    assert not any("Concentrator" in x.what for x in grave["one_circuit"].lines)


def test_every_promised_appliance_has_a_line_and_one_without_a_light_another_check():
    found = named(corded(FRIDGE, LAMP, KETTLE, load("pump", 400, kind="pump"), station=BOX), with_runs=True)
    lines = {x.id: x.what for x in found["rooms"].lines}
    assert set(lines) == {"fridge", "lamp", "kettle", "pump"}
    assert "plug-in meter" in lines["fridge"]
    assert "listen" in lines["pump"]
    assert [x.unit for x in found["starts"].lines] == ["°C", "yes", "yes"]
    assert found["starts"].lines[1].id in ("pump", "fridge")
    assert "kettle" not in {x.id for x in found["starts"].lines}


def test_a_generator_and_a_meal_come_with_what_they_need():
    meal = load("stove", 1200, purpose="convenience", use=KETTLE.use.__class__(kind="tasks", times=(18.0,), minutes=30))
    x = corded(FRIDGE, meal, station=replace(BOX, charge_w=300), engine=Engine(generator="ember", source="main"))
    found = named(x, with_runs=True)
    assert "meal" in found
    watts = next(line for line in found["engine"].lines if line.id == "watts")
    assert watts.expected == pytest.approx(300)
    assert any("6 m outside" in c for c in found["engine"].cautions)


def test_several_units_share_and_come_level_first():
    x = corded(FRIDGE, LAMP, station=BOX)
    assert x.source is not None
    two = replace(x, source=replace(x.source, units=2))
    found = named(two, with_runs=False)
    assert found["sharing"].teaches
    assert found["equal"].order < found["full_charge"].order < found["settings"].order < found["proven"].order


def test_nothing_is_tested_where_nothing_hangs():
    bare = replace(corded(LAMP, station=BOX), fed=())
    assert procedures([bare], {}) == []


@pytest.mark.parametrize(
    ("line", "value", "passes"),
    [
        (Line(id="a", what=""), 1, True),
        (Line(id="a", what=""), 0, False),
        (Line(id="a", what="", unit="W"), 5, None),
        (Line(id="a", what="", unit="W", expected=100, within=10), 110, True),
        (Line(id="a", what="", unit="W", expected=100, within=10), 111, False),
    ],
)
def test_a_line_passes_within_what_it_may_differ_by(line, value, passes):
    assert line.passes(value) is passes
