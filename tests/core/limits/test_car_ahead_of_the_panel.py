"""A car's gateway between meter and main panel: the limits of a car and of a gateway ahead of a panel hold together."""

from dataclasses import replace

import pytest

from imbuto.core.limits.all_limits import fit
from imbuto.core.plan.sources import AwayTimes
from imbuto.core.plan.system import resolve
from imbuto.core.run.run import simulate
from imbuto.core.switching.running_acts import running_acts
from tests.core.run.test_several import BOX, CALM, KIT, device, feeds, house, plan, source

CAR = replace(BOX, id="car", name="Car", nominal_wh=60_000, continuous_w=9_600, rated_va=9_600, vehicle=True)
GARAGE = replace(KIT, stations=KIT.stations | {"car": CAR})


def part_of(station: str = "car", left: float = 50, drive_wh: float = 30_000, **more: object):
    made = plan(
        source(station=station, drive_wh=drive_wh, **more),
        devices=(device(equipment="vehicle-main-gateway"),),
        feeds=feeds("hall@main"),
    )
    return resolve(house(hall=600, attic=left), made, GARAGE).parts[0]


def test_a_car_and_nothing_else_powers_a_cars_gateway():
    assert {x.id: x.ok for x in fit(part_of(), CALM)}["vehicle"]
    refused = {x.id: x for x in fit(part_of("box"), CALM)}["vehicle"]
    assert refused.stops


def test_what_is_left_off_behind_it_is_live_until_its_breaker_is_opened():
    light = {x.id: x for x in fit(part_of(left=50), CALM)}
    heavy = {x.id: x for x in fit(part_of(left=20_000), CALM)}
    assert not any(x.stops and x.family == "together" for x in light.values())
    assert any(x.stops for x in heavy.values())


def test_the_car_keeps_its_drive_and_drives_off_on_the_card():
    """60 kWh less 1.3 x 30 leave 21 kWh: 21 / (650 W + own use), the whole panel on it."""
    calm = replace(CALM, hours=100, goal_hours=40)
    part = part_of(away=AwayTimes(from_h=6, for_h=3, back_with=0.8))
    run = simulate(part, calm)
    store = run.store
    assert store.floor * 60_000 == pytest.approx(39_000, rel=0.05)
    assert any("Car leaves" in x for x in running_acts([part]))
    assert run.hours is not None
    assert run.hours <= 6.01  # what it powers is off while it is away
