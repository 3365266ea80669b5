"""Units linked and modules matched: what the maker lists goes, anything else is refused; each just inside and
outside."""

from dataclasses import replace

import pytest

from imbuto.core.advice.gives_out import violations
from imbuto.core.advice.moves.plan_moves import fixing_moves, widening_moves
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.power_station import Module
from imbuto.core.limits.all_limits import fit
from imbuto.core.plan.itemised_costs import price_of_move
from imbuto.core.plan.linked_units import combined_station, link_limits
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.sources import Source
from imbuto.core.plan.system import resolve_part
from imbuto.core.run.hand_check import hand_check, waterfall
from imbuto.core.run.run import simulate
from tests.support import OUTAGE, STATION, load, switched

ONE = replace(
    STATION,
    volts="120",
    leg_a=20,
    leg_surge_va=8000,
    parallel_most=2,
    link_price=100,
    coupler="Pair coupler",
    coupler_price=190,
    connector="F40",
    battery_v=51.2,
    generation=2,
    price=2000,
    solar_inputs=1,
)
SLAB = Module(id="slab", name="Slab", wh=3000, battery_v=51.2, connector="F40", generation=2, price=900)


def catalogue(one=ONE, module=SLAB) -> Catalogue:
    return Catalogue(stations={"test": one}, modules={"slab": module}).over(shipped())


def limits(source: Source, one=ONE, module=SLAB, ticks=()):
    plan = Plan(id="p", name="P", sources={"main": source}, ticks=ticks)
    return {x.id: x for x in link_limits(plan, catalogue(one, module))}


def test_units_side_by_side_carry_nine_tenths_of_their_sum_and_store_all_of_it():
    two = combined_station(ONE, Source(id="main", station="test", units=2), catalogue())
    assert (two.continuous_w, two.rated_va, two.surge_va) == (9000, 9000, 14400)
    assert (two.leg_a, two.nominal_wh, two.idle_w, two.max_modules, two.solar_inputs) == (36, 10000, 40, 6, 2)
    assert (two.price, two.volts, two.name) == (4100, "120", "2 × Test station")


def test_a_pair_gives_each_leg_to_one_unit():
    pair = combined_station(ONE, Source(id="main", station="test", units=2, link="coupler"), catalogue())
    assert (pair.volts, pair.legs, pair.leg_a, pair.continuous_w, pair.price) == (
        "120/240",
        ("A", "B"),
        20,
        10000,
        4190,
    )


PAIR = Source(id="main", station="test", units=2, link="coupler")
WITH_SLAB = Source(id="main", station="test", modules=1, module="slab")


@pytest.mark.parametrize(
    ("ident", "inside", "outside"),
    [
        ("units", limits(replace(PAIR, link="parallel")), limits(replace(PAIR, link="parallel", units=3))),
        ("units", limits(PAIR), limits(PAIR, replace(ONE, coupler=""))),
        ("units", limits(PAIR), limits(replace(PAIR, units=3))),
        ("units", limits(PAIR), limits(PAIR, replace(ONE, volts="120/240"))),
        ("module_fits", limits(WITH_SLAB), limits(WITH_SLAB, module=replace(SLAB, connector="P20"))),
        ("module_fits", limits(WITH_SLAB), limits(WITH_SLAB, module=replace(SLAB, generation=1))),
        (
            "module_fits",  # the maker's adapter, for exactly these two
            limits(WITH_SLAB, module=replace(SLAB, connector="P20", adapters="other; test")),
            limits(WITH_SLAB, module=replace(SLAB, connector="P20", adapters="other")),
        ),
        ("equal_charge", limits(PAIR, ticks=("equal_charge",)), limits(PAIR)),
        ("module_charge", limits(WITH_SLAB, ticks=("module_charge",)), limits(WITH_SLAB)),
    ],
)
def test_each_just_inside_and_just_outside(ident, inside, outside):
    assert inside[ident].ok
    assert not outside[ident].ok
    assert outside[ident].sentence


@pytest.mark.parametrize(
    ("module", "ident"),
    [
        (replace(SLAB, battery_v=25.6, adapters="test"), "module_volts"),
        (replace(SLAB, chemistry="NMC", adapters="test"), "module_kind"),
    ],
)
def test_unlike_voltage_and_chemistry_are_refused_even_with_an_adapter(module, ident):
    found = limits(WITH_SLAB, module=module)[ident]
    assert (found.ok, found.severity) == (False, "refuse")


def test_one_station_with_its_own_modules_asks_nothing():
    assert limits(Source(id="main", station="test", modules=2)) == {}


def pair_on(leg_a_w: float, leg_b_w: float):
    """A joined pair of units with one load on each leg."""
    now, _ = switched((1, [load("a", leg_a_w)]), (2, [load("b", leg_b_w)]), station=replace(ONE, volts="120/240"))
    plan = replace(now.plan, sources={"main": replace(PAIR, deliverable=1.0)}, ticks=("equal_charge",))
    return resolve_part(now.home, plan, catalogue())


def test_hours_of_a_pair_end_with_the_unit_of_the_busier_leg():
    even, uneven = pair_on(200, 200), pair_on(300, 100)
    run = simulate(uneven, OUTAGE)
    # The unit of the busier leg: 5,000 Wh x 0.9 from full to floor, over 300 / 0.94 + 20 W; and the pair stops with it.
    assert run.hours == pytest.approx(4500 / (300 / 0.94 + 20), rel=0.003)
    assert len(run.stores) == 2
    assert sum(d.wh for d in waterfall(run)[:-1]) == pytest.approx(waterfall(run)[-1].wh, abs=2)
    assert "busier leg" in hand_check(run).why
    assert next(d.wh for d in waterfall(run) if d.name == "left in the other unit") < 0
    assert simulate(even, OUTAGE).hours > run.hours


def test_one_of_a_pair_goes_on_where_its_maker_says_so():
    both = simulate(pair_on(300, 100), OUTAGE)
    assert both.trace.dark_h[0] == both.trace.dark_h[1]
    kit = catalogue()
    alone = replace(kit, stations=kit.stations | {"test": replace(kit.stations["test"], pair_goes_on=True)})
    now = pair_on(300, 100)
    apart = simulate(resolve_part(now.home, now.plan, alone), OUTAGE).trace.dark_h
    assert apart[0] == pytest.approx(4500 / (300 / 0.94 + 20), rel=0.003)
    assert apart[1] == pytest.approx(4500 / (100 / 0.94 + 20), rel=0.003)


def test_units_side_by_side_carry_what_their_maker_states():
    stated = replace(ONE, parallel_most=2, parallel_share=0.8)
    two = combined_station(stated, Source(id="main", station="test", units=2), catalogue())
    assert (two.continuous_w, two.surge_va) == (
        pytest.approx(1.6 * ONE.continuous_w),
        pytest.approx(1.6 * ONE.surge_va),
    )
    assert combined_station(
        replace(ONE, parallel_most=2), Source(id="main", station="test", units=2), catalogue()
    ).rated_va == pytest.approx(1.8 * ONE.rated_va)


def test_moves_add_a_unit_couple_two_and_unlink_what_is_refused():
    now = pair_on(200, 200)
    alone = resolve_part(now.home, replace(now.plan, sources={"main": Source(id="main", station="test")}), catalogue())
    unit = next(m for m in widening_moves(alone, catalogue()) if m.family == "unit")
    costs = {m.id: price_of_move(alone, resolve_part(now.home, m.plan, catalogue())) for m in (unit,)}
    assert (unit.label, costs["unit"]) == ("2 Test station side by side", 2100)
    pair = next(m for m in fixing_moves(alone, catalogue(), {"carry_240"}) if m.id == "pair")
    assert pair.label == "two Test station with the Pair coupler"
    assert price_of_move(alone, resolve_part(now.home, pair.plan, catalogue())) == 2190
    assert not violations(fit(resolve_part(now.home, pair.plan, catalogue()), OUTAGE))
    wrong = resolve_part(now.home, replace(now.plan, sources={"main": replace(PAIR, units=3)}), catalogue())
    assert [x.id for x in violations(fit(wrong, OUTAGE))] == ["units"]
    mended = next(m for m in fixing_moves(wrong, catalogue(), {"linking"}) if m.id == "one-unit")
    assert mended.plan.sources["main"].units == 1
    own = resolve_part(now.home, replace(now.plan, sources={"main": WITH_SLAB}), catalogue())
    assert "own-module" in [m.id for m in fixing_moves(own, catalogue(), {"linking"})]
