"""Limits 7 to 16: the check figures, and for each a plan just inside and one just outside."""

from dataclasses import replace

import pytest

from imbuto.core.advice.gives_out import violations
from imbuto.core.basics.errors import ImbutoError
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.equipment.traits import TRAITS
from imbuto.core.equipment.wires import Cord, drop_v, wires
from imbuto.core.home.circuits import Circuit
from imbuto.core.limits.all_limits import fit
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.plan import Feed, Plan
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.sources import Source
from imbuto.core.plan.system import resolve_part
from tests.support import OUTAGE, STATION, charged, corded, load, switched

DELICATE = load("router", 20, must_not_blink=True)


def by_id(found: list[Limit]) -> dict[str, Limit]:
    return {x.id: x for x in found}


def cords(*loads, station=STATION, outage=OUTAGE, **plan):
    return by_id(fit(corded(*loads, station=station, **plan), outage))


def switch(*circuits, kind="manual_switch", station=STATION, equipment=None, **plan):
    now, outage = switched(*circuits, station=station, **plan)
    changed = replace(now.equipment, kind=kind, automatic=kind != "manual_switch", **(equipment or {}))
    return by_id(fit(replace(now, equipment=changed), outage))


def cord_to(run_w: float, wire: str, metres: float, start_va: float | None = None, **laid):
    now = corded(load("pump", run_w, start_va=start_va or run_w))
    cord = Cord(wire=wire, length_m=metres, **laid)
    fed = tuple(replace(f, feed=replace(f.feed, cord=cord)) for f in now.fed)
    return by_id(fit(replace(now, fed=fed), OUTAGE))


def test_the_drop_of_the_check_figures():
    lost = drop_v(1.98 / 0.3048, 75 * 0.3048, 12.5)  # 75 ft of 12 AWG, 1.98 ohm per 1000 ft, 12.5 A
    assert lost == pytest.approx(3.71, abs=0.005)
    assert lost / 120 == pytest.approx(0.031, abs=0.0005)
    assert wires()["awg12"].ohm_per_km == pytest.approx(1.98 / 0.3048, rel=0.002)


def test_the_table_of_wires_is_copper_at_75_degrees():
    for wire in wires().values():
        at_75 = 1.724e-8 * (1 + 0.00393 * 55) * 1.02 / (wire.area_mm2 * 1e-6) * 1000
        assert wire.ohm_per_km == pytest.approx(at_75, rel=0.02), wire.name


def with_charge(watts: float, other_w: float = 0.0):
    now = corded(load("x", 10), station=replace(STATION, charge_w=5000))
    plan = charged(now.plan, charge_w=watts, charge_circuit="wall")
    wall = Circuit(id="wall", name="Wall", slots=(1,), breaker_a=15)
    more = load("lamp", other_w, circuit="wall") if other_w else None
    home = replace(now.home, circuits={"wall": wall}, loads=now.home.loads | ({"lamp": more} if more else {}))
    return by_id(fit(replace(now, home=home, plan=plan, source=plan.source), OUTAGE))


PUMP = load("pump", 240)
FIRM, FLOATING = {"bonded_neutral": True}, {"bonded_neutral": False}
COLD = replace(OUTAGE, indoors_c=-1)
TABLE = [
    (
        "transfer",
        lambda: switch((1, [DELICATE]), kind="relay_panel", equipment={"transfer_ms": 20}),
        lambda: switch((1, [DELICATE]), kind="relay_panel", equipment={"transfer_ms": 21}),
    ),
    ("transfer", lambda: switch((1, [DELICATE]), ticks=("ups",)), lambda: switch((1, [DELICATE]))),
    ("transfer", lambda: cords(DELICATE, station=replace(STATION, transfer_ms=19)), lambda: cords(DELICATE)),
    # 80 % of 15 A at 120 V is 1,440 W: passed on and charged with.
    (
        "bypass",
        lambda: cords(load("x", 440), charge_w=1000, station=replace(STATION, charge_w=2000)),
        lambda: cords(load("x", 441), charge_w=1000, station=replace(STATION, charge_w=2000)),
    ),
    # 15 A at 120 V, lasting: 15 / 1.25 x 120 = 1,440 W.
    ("charging", lambda: with_charge(1440), lambda: with_charge(1441)),
    ("charging", lambda: with_charge(1340, 100), lambda: with_charge(1341, 100)),
    ("cord_amps:pump", lambda: cord_to(18 * 120, "awg14", 1), lambda: cord_to(18 * 120 + 1, "awg14", 1)),
    # 5 % of 120 V is 6 V: 6 / (2 x 6.50 / 1000 x 12.5) = 36.9 m.
    ("cord_drop:pump", lambda: cord_to(1500, "awg12", 36.9), lambda: cord_to(1500, "awg12", 37.0)),
    # 15 % of 120 V is 18 V: at 60 A, 18 / (2 x 6.50 / 1000 x 60) = 23.1 m.
    (
        "cord_start:pump",
        lambda: cord_to(600, "awg12", 23.0, start_va=7200),
        lambda: cord_to(600, "awg12", 23.2, start_va=7200),
    ),
    ("cord_laid:pump", lambda: cord_to(100, "awg12", 5), lambda: cord_to(100, "awg12", 5, coiled=True)),
    ("cord_laid:pump", lambda: cord_to(100, "awg12", 5), lambda: cord_to(100, "awg12", 5, chained=True)),
    (
        "cord_amps:inlet",
        lambda: switch((1, [load("a", 3000)]), inlet_cord=Cord(wire="awg12", length_m=2)),
        lambda: switch((1, [load("a", 3001)]), inlet_cord=Cord(wire="awg12", length_m=2)),
    ),
    ("auto_off", lambda: cords(PUMP), lambda: cords(PUMP, station=replace(STATION, auto_off_below_w=10))),
    (
        "auto_off",
        lambda: cords(PUMP, station=replace(STATION, auto_off_below_w=10), ticks=("auto_off",)),
        lambda: cords(PUMP, station=replace(STATION, auto_off_below_w=10)),
    ),
    (
        "charge_cold",
        lambda: cords(PUMP, outage=COLD, station=replace(STATION, heater=True)),
        lambda: cords(PUMP, outage=COLD),
    ),
    (
        "bond",
        lambda: switch((1, [PUMP]), station=replace(STATION, **FLOATING)),
        lambda: switch((1, [PUMP]), station=replace(STATION, **FIRM)),
    ),
    (
        "bond",
        lambda: switch((1, [PUMP]), station=replace(STATION, **FIRM), equipment={"switched_neutral": True}),
        lambda: switch((1, [PUMP]), station=replace(STATION, **FLOATING), equipment={"switched_neutral": True}),
    ),
    (
        "bond",
        lambda: switch((1, [PUMP]), station=replace(STATION, **FIRM), ticks=("bond",)),
        lambda: switch((1, [PUMP]), station=replace(STATION, **FIRM)),
    ),
    (
        "weight",
        lambda: cords(PUMP, station=replace(STATION, weight_kg=23)),
        lambda: cords(PUMP, station=replace(STATION, weight_kg=23.1)),
    ),
]


@pytest.mark.parametrize(("ident", "inside", "outside"), TABLE, ids=[f"{i}-{row[0]}" for i, row in enumerate(TABLE)])
def test_just_inside_and_just_outside(ident, inside, outside):
    within = inside().get(ident)
    assert within is None or within.ok  # one that does not arise says nothing
    past = outside()[ident]
    assert not past.ok
    assert past.sentence.endswith(".")
    assert (past in violations(list(outside().values()))) == (past.severity != "caution")


def test_a_caution_is_never_what_gives_out_and_a_bond_always_is():
    worst = violations(list(switch((1, [PUMP]), station=replace(STATION, **FIRM, weight_kg=60)).values()))
    assert [x.id for x in worst] == ["bond"]
    assert worst[0].severity == "refuse"
    assert "Have an electrician resolve it" in worst[0].sentence


def test_nothing_tells_anyone_to_open_a_cover():
    says = " ".join(x.sentence for _, inside, outside in TABLE for x in [*inside().values(), *outside().values()])
    says += " ".join(t.note + t.checklist for t in shipped().transfer.values())
    assert "open the cover" not in says.lower()
    assert "remove the cover" not in says.lower()


def test_each_kind_of_transfer_equipment_ships_with_what_it_does_and_its_checklist():
    kinds = {t.kind for t in shipped().transfer.values()}
    assert len(kinds) == 10
    for item in shipped().transfer.values():
        assert len(item.checklist.split(";")) >= 4, item.id
        assert item.kind == "cords" or (item.overload_off_grid and item.overload_on_grid)
        assert item.automatic == (item.transfer_ms is not None)
        assert item.electrician == (item.kind != "cords")


@pytest.mark.parametrize("kind", [k for k, t in TRAITS.items() if t.in_panel])
def test_circuits_that_stay_in_their_panel_stay_on_its_legs(kind):
    now, _ = switched((1, [load("a")]), (4, [load("b")]))  # slots 1 and 4: legs A and B by the panel's rows
    item = next(t for t in shipped().transfer.values() if t.kind == kind)
    plan = replace(now.plan.with_equipment(item.id), feeds={k: replace(f, place=7) for k, f in now.plan.feeds.items()})
    catalogue = replace(shipped(), stations=shipped().stations | {STATION.id: STATION})
    legs = {f.load.id: f.legs for f in resolve_part(now.home, plan, catalogue).fed}
    assert legs == {"a": ("A",), "b": ("B",)}


def test_a_plan_that_points_at_no_wire_or_circuit_is_refused():
    home = corded(load("x")).home
    plan = Plan(id="p", name="Plan", sources={"main": Source(id="main", station="pail")})
    feed = Feed(id="x", load="x", cord=Cord(wire="string", length_m=3))
    for wrong in (replace(plan, feeds={"x": feed}), charged(plan, charge_circuit="nowhere")):
        with pytest.raises(ImbutoError, match=r"The table of wires|that circuit"):
            check_plan(wrong, home, shipped())
