"""One price everywhere: of a plan before, a plan after, and how much of it is there already."""

from dataclasses import replace
from decimal import Decimal

import numpy as np
import pytest

from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.plan.instead_of_plan import generator_instead
from imbuto.core.plan.itemised_costs import items, price_of_move, to_buy, total
from imbuto.core.plan.sources import Source
from imbuto.core.plan.system import Part, resolve_part
from tests.support import STATION, load, switched

SMALL = replace(
    STATION,
    price=Decimal(4000),
    module_price=Decimal(900),
    parallel_most=3,
    link_price=Decimal(100),
    coupler="Pair coupler",
    coupler_price=Decimal(190),
)
LARGE = replace(STATION, id="large", name="Large", nominal_wh=9000, price=Decimal(5100))
KIT = Catalogue(stations={"test": SMALL, "large": LARGE}).over(shipped())
SWITCH = shipped().transfer["ten-place"].price
NOW, _ = switched((1, [load("a")]), station=SMALL)


def a_plan(status: str = "draft", **source: object) -> Part:
    main = Source(id="main", station="test", **source)  # type: ignore[arg-type]
    if "station" in source:
        main = replace(main, station=source["station"])
    return resolve_part(NOW.home, replace(NOW.plan, status=status, sources={"main": main}), KIT)


@pytest.mark.parametrize(
    ("before", "after", "price"),
    [
        (a_plan(), a_plan(modules=1), 900),
        (
            a_plan(),
            resolve_part(NOW.home, replace(NOW.plan, sources={"main": Source(id="main", station="large")}), KIT),
            1100,
        ),
        # What is owned gives nothing back, and is there for the new plan only as itself.
        (
            a_plan(owned=True),
            resolve_part(NOW.home, replace(NOW.plan, sources={"main": Source(id="main", station="large")}), KIT),
            5100,
        ),
        (a_plan(owned=True), a_plan(owned=True, units=2), 4100),  # one is there, the second and its link are not
        (a_plan(), a_plan(units=2), 4100),
        (a_plan(owned=True, units=2, owned_units=2), a_plan(owned=True, units=3, owned_units=2), 4100),
        (a_plan("built"), a_plan("built", units=2), 4100),
        (a_plan("built"), a_plan("built", modules=2), 1800),
        (a_plan("built", modules=2), a_plan("built", modules=1), 0),  # nothing is given back
        (a_plan(), a_plan(units=2, link="coupler"), 4190),
        (a_plan(), a_plan(spot="garage"), None),
    ],
)
def test_a_move_costs_what_is_still_to_be_bought(before, after, price):
    assert price_of_move(before, after) == (None if price is None else Decimal(price))


def test_the_money_list_says_the_same_as_the_price_of_the_whole_plan():
    for x in (a_plan(), a_plan(owned=True), a_plan("built"), a_plan(units=2, modules=3)):
        assert total(items(x)) == to_buy(x, x)
    assert total(items(a_plan())) == 4000 + SWITCH
    assert total(items(a_plan(owned=True))) == SWITCH
    assert total(items(a_plan("built"))) == 0


def test_the_cheapest_generator_that_carries_the_same_loads_with_its_fuel_for_the_same_hours():
    def made(ident: str, watts: float, volts: str, price: int) -> Generator:
        return Generator(
            id=ident, name=ident, running_w=watts, volts=volts, half_l_h=0.9, full_l_h=1.5, price=Decimal(price)
        )  # type: ignore[arg-type]

    kinds = [
        made("weak", 1500, "120", 300),
        made("one", 2800, "120", 700),
        made("both", 2800, "120/240", 900),
        made("other", 2800, "230", 100),
    ]
    found = generator_instead(kinds, np.full(100, 320.0), 2000, "120", 0, hours=10, outages_a_year=3, usual_h=5)
    assert found is not None
    still, each = 0.3, 1.2 / 2800  # by the figures at half and full load
    assert found.generator.id == "one"
    assert found.hours_l == pytest.approx(10 * (still + 320 * each))
    assert (found.year_h, found.year_l) == (15, pytest.approx(15 * (still + 320 * each)))
    assert generator_instead(kinds, np.full(9, 320.0), 2000, "120/240", 0, 10, 0, 0).generator.id == "both"  # type: ignore[union-attr]
    assert generator_instead(kinds, np.full(9, 320.0), 2000, "230", 0, 10, 0, 0).generator.id == "other"  # type: ignore[union-attr]
    assert generator_instead(kinds, np.full(9, 320.0), 2700, "120", 1500, 10, 0, 0) is None  # 17.5% less at that height
