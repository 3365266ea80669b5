"""n linked units are n single stations, but for what their link itself states; each field of a station is one or the
other."""

from __future__ import annotations

from dataclasses import fields, replace

import pytest

from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.all_limits import fit
from imbuto.core.plan.linked_units import ADDED, KEPT, LINKED, combined_station
from imbuto.core.plan.sources import Array
from imbuto.core.plan.system import resolve
from imbuto.core.run.run import simulate, stores_of
from tests.core.run.test_several import BOX, CALM, KIT, device, feeds, house, plan, source

# Side by side without loss, so that n units are n times one.
EVEN = replace(
    BOX, parallel_share=1.0, solar_each="2: 20, 100, 10, 12, 400", output_by_modules="1: 7000", dc_ports="24: 10; 5: 3"
)


def test_every_field_of_a_station_is_added_kept_or_settled_by_the_link():
    names = {f.name for f in fields(Station)}
    assert names == ADDED | KEPT | LINKED, names ^ (ADDED | KEPT | LINKED)
    assert not ADDED & KEPT
    assert not LINKED & (ADDED | KEPT)


@pytest.mark.parametrize("n", [2, 3])
def test_each_figure_of_n_units_is_n_times_one_or_the_same(n):
    whole = combined_station(EVEN, source(units=n), KIT)
    for name in ADDED - {"solar_each", "price", "dc_ports"}:
        assert getattr(whole, name) == pytest.approx(n * getattr(EVEN, name)), name
    assert whole.dc_amps == {v: n * a for v, a in EVEN.dc_amps.items()}
    for name in KEPT:
        assert getattr(whole, name) == getattr(EVEN, name), name
    for unit in range(n):  # the inputs of each unit are as they are on one
        for i in range(1, EVEN.solar_inputs + 1):
            assert whole.solar_input(unit * EVEN.solar_inputs + i) == EVEN.solar_input(i), (unit, i)


@pytest.mark.parametrize("n", [2, 3])
@pytest.mark.parametrize("modules", [0, 1])
def test_n_units_last_as_long_as_each_with_its_share_of_the_load(n, modules):
    kit = replace(KIT, stations=KIT.stations | {"box": replace(EVEN, efficiency=0.9, idle_w=12)})
    one = plan(source(modules=modules), devices=(device(),), feeds=feeds("hall@main"))
    many = plan(source(units=n, modules=n * modules), devices=(device(),), feeds=feeds("hall@main"))
    single = simulate(resolve(house(hall=60), one, kit).parts[0], CALM).hours
    assert simulate(resolve(house(hall=60 * n), many, kit).parts[0], CALM).hours == pytest.approx(single, rel=1e-6)


def test_a_string_that_destroys_an_input_is_refused_on_the_second_unit_too():
    # Input 2 of a unit takes 100 V, input 1 only 60: on two units input 4 is the second of the second.
    kit = replace(KIT, stations=KIT.stations | {"box": EVEN})
    home = house(hall=50)

    def refused(number: int, units: int) -> bool:
        array = Array(id="roof", name="Roof", panel="slate", series=2, input=number)
        made = plan(source(units=units), devices=(device(),), feeds=feeds("hall@main"), arrays={"roof": array})
        found = fit(resolve(home, made, kit).parts[0], CALM)
        return any(x.id == "solar_cold:roof" and not x.ok for x in found)

    one = [refused(i, 1) for i in (1, 2)]
    assert one[0] != one[1], "the array tells the two inputs apart"
    assert [refused(i, 2) for i in (1, 2, 3, 4)] == one * 2


def test_output_by_modules_counts_the_modules_of_each_unit():
    by = replace(BOX, continuous_w=1800, rated_va=1800, output_by_modules="1: 2700; 2: 3600", parallel_share=1.0)
    for modules, expected in ((0, 3600), (1, 1800 + 2700), (2, 5400), (4, 7200)):
        assert combined_station(by, source(units=2, modules=modules), KIT).continuous_w == expected, modules
    assert combined_station(by, source(modules=2), KIT).continuous_w == 3600


def test_the_sun_on_one_unit_of_a_pair_charges_that_unit_alone():
    # 100 W on A, where the array is, and 100 W on B, where none is: B ends as if there were no sun.
    array = Array(id="roof", name="Roof", panel="slate", series=1, parallel=2, input=1, tilt=30, azimuth=180)
    begun = replace(CALM, start=CALM.start.replace(month=6, day=21, hour=6), weather="clear", hours=12)
    sunny = plan(
        source(station="onward", units=2, link="coupler"),
        devices=(device(),),
        feeds=feeds("hall@main", "den@main"),
        arrays={"roof": array},
    )
    dull = replace(sunny, arrays={})
    home = house(hall=100, den=100)
    with_sun, without = (simulate(resolve(home, x, KIT).parts[0], begun) for x in (sunny, dull))
    legs = {f.load.id: f.legs for f in with_sun.part.fed}
    assert legs == {"hall-load": ("A",), "den-load": ("B",)}
    assert with_sun.suns_w[0].sum() > 0
    assert with_sun.suns_w[1].sum() == 0
    assert with_sun.hours == pytest.approx(without.hours, rel=1e-6)
    assert with_sun.trace.charge[:, 0].max() > without.trace.charge[:, 0].max() - 1e-9


def test_an_odd_module_is_whole_and_on_one_unit():
    made = plan(source(units=2, link="coupler", modules=3), devices=(device(),), feeds=feeds("hall@main", "den@main"))
    part = resolve(house(hall=100, den=50), made, KIT).parts[0]
    assert [s.nominal_wh for s in stores_of(part, CALM)] == [3000, 2000]
    # 3,000 Wh for 100 W on A and 2,000 Wh for 50 W on B: A ends first.
    assert simulate(part, CALM).hours == pytest.approx(30.0, rel=1e-3)


def test_ratings_of_one_thing_never_multiply():
    pair, three = (combined_station(BOX, source(units=n, link=k), KIT) for n, k in ((2, "coupler"), (3, "parallel")))
    assert pair.inlet_outlet_a == three.inlet_outlet_a == BOX.inlet_outlet_a
    assert pair.outlet_a == three.outlet_a == BOX.outlet_a
