"""What a station is carried away for, besides outages."""

from dataclasses import replace
from decimal import Decimal

import pytest

from imbuto.core.advice.carried_uses import carried_uses
from imbuto.core.plan.entered.other_uses import OtherUse
from tests.core.run.test_several import BOX, KIT, device, feeds, house, plan, resolve, source

STATION = replace(
    BOX, weight_kg=20, module_weight_kg=25, module_wh=2_000, module_name="Stave", max_modules=3, price=Decimal(900),
    module_price=Decimal(700),
)  # fmt: skip


def found(use: OtherUse, equipment: str = "six-place", **more: object):
    kit = replace(KIT, stations=KIT.stations | {"box": STATION})
    made = plan(
        source(modules=1, **more), devices=(device(equipment=equipment),), feeds=feeds("hall@main"),
        other_uses={use.id: use},
    )  # fmt: skip
    return next(carried_uses(made, resolve(house(hall=10), made, kit).parts, "USD"))


def test_weight_price_and_energy_are_of_what_goes_along_and_no_money_is_made_up():
    camp = OtherUse(id="c", name="Camp", modules=1, days=6)
    one = found(camp)
    assert (one.kg, one.piece_kg, one.stored_wh, one.price) == (45, 25, 3_000, 1_600)
    assert one.a_year is None
    assert "No money is counted for it." in one.says
    assert "two people lift it" in one.says
    assert one.problem == ""
    light = found(replace(camp, modules=0))
    assert (light.kg, light.stored_wh) == (20, 1_000)
    assert "two people" not in light.says
    assert found(camp, owned=True).price == 0


def test_what_a_day_would_cost_otherwise_is_times_the_days_and_no_part_of_the_saving():
    job = found(OtherUse(id="j", name="Job", days=12, instead=35))
    assert job.a_year == pytest.approx(420)
    assert "420 USD per year, as you entered it. It isn't part of the saving." in job.says
    assert "An outage on one of those days finds Box away." in job.says


def test_more_modules_than_the_plan_has_and_a_wired_station_are_said():
    assert found(OtherUse(id="c", name="C", modules=2)).problem == "The plan has 1 Stave for it, not 2."
    wired = next(k for k, e in KIT.transfer.items() if e.traits.beside_mains)
    assert "is wired to" in found(OtherUse(id="c", name="C"), equipment=wired).problem
