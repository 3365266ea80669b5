"""The joining diagram: in each state what is fed leads back to that state's source, and to no other."""

from dataclasses import replace

import pytest

from imbuto.core.diagram.joining_diagram import diagram
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.equipment.wires import Cord
from imbuto.core.plan.plan import Device
from imbuto.core.plan.system import resolve_part, resolve_wiring
from tests.support import STATION, corded, load, switched

CATALOGUE = replace(shipped(), stations=shipped().stations | {STATION.id: STATION})
SWITCHES = [t.id for t in shipped().transfer.values() if t.kind != "cords"]


def of(equipment: str, **plan):
    now, _ = switched((1, [load("a")]), (2, [load("b")]), (4, [load("c")]))
    fed = {k: f for k, f in now.plan.feeds.items() if k != "c4"}
    return diagram(resolve_part(now.home, replace(now.plan.with_equipment(equipment), feeds=fed, **plan), CATALOGUE))


def sources(found, target: str, state: str) -> set[str]:
    """Every box from which live power lines of a state lead to a target, and nothing leads on to."""
    power = [x for x in found.lines if state in x.live and not x.data]
    seen, todo = set(), {target}
    while todo:
        here = todo.pop()
        seen.add(here)
        todo |= {x.start for x in power if x.end == here} - seen
    return {s for s in seen if not any(x.end == s for x in power)}


@pytest.mark.parametrize("equipment", SWITCHES)
def test_what_is_fed_leads_back_to_its_source_in_each_state(equipment):
    found = of(equipment)
    for circuit in ("circuit:c1", "circuit:c2"):
        assert sources(found, circuit, "grid") == {"grid"}
        assert sources(found, circuit, "outage") == {"source"}


@pytest.mark.parametrize("equipment", SWITCHES)
def test_every_target_says_how_each_source_is_selected_and_notes_what_keeps_them_apart(equipment):
    found = of(equipment)
    for name in ("Circuit 1", "Circuit 2"):
        feeds = [f for f in found.feeds if f.target == name]
        assert {"Grid", STATION.name} <= {f.source for f in feeds}
        assert all(f.position for f in feeds)
        for state in ("grid", "outage"):
            assert len([f for f in feeds if state in f.live]) == 1
    assert found.notes
    ids = {b.id for b in found.boxes}
    assert all({x.start, x.end} <= ids for x in found.lines)


def test_circuits_left_in_the_main_panel_are_counted_as_dark():
    panel = next(b for b in of("ten-place").boxes if b.id == "panel")
    assert panel.lines == ("3 circuits", "1 stay off in an outage")
    assert not any(b.id == "panel" for b in of("interlock").boxes)


def test_cords_are_in_the_wall_or_in_the_station():
    now = corded(load("lamp"), load("fan"))
    cord = Cord(wire="awg12", length_m=7.6)
    feeds = {k: replace(f, cord=cord) for k, f in now.plan.feeds.items()}
    found = diagram(replace(now, plan=replace(now.plan, feeds=feeds)))
    assert sources(found, "load:lamp", "grid") == {"grid"}
    assert sources(found, "load:lamp", "outage") == {"source"}
    assert sources(found, "source", "grid") == {"grid"}
    assert sources(found, "source", "outage") == {"source"}  # nothing charges it from itself
    assert {x.label for x in found.lines if x.end == "load:lamp"} == {"outlet 1, 12 AWG 7.6 m", "its own wall outlet"}
    assert any("never connected by a cord with two plugs" in n for n in found.notes)


def test_a_plan_without_a_station_is_drawn_as_far_as_it_goes():
    now, _ = switched((1, [load("a")]))
    found = diagram(resolve_wiring(now.home, replace(now.plan, sources={}), CATALOGUE))
    assert next(b for b in found.boxes if b.id == "source").title == "No station yet"


def test_modules_cords_and_data_cables_stand_where_they_are():
    now, _ = switched((1, [load("a")]))
    source = replace(now.plan.sources["main"], modules=2)
    device = Device(id="main", equipment="relay-panel", cord=Cord(wire="awg10", length_m=5))
    plan = replace(now.plan, devices={"main": device}, sources={"main": source})
    found = diagram(resolve_part(now.home, plan, CATALOGUE))
    boxes = {b.id: b for b in found.boxes}
    assert boxes["module"].title == "2 × Test module"
    assert "cord 10 AWG 5 m" in boxes["inlet"].lines
    assert [(x.start, x.end) for x in found.lines if x.data] == [("source", "device")]
