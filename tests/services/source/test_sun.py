"""What the sun does to runs of the demo."""

from dataclasses import replace
from importlib import resources

import numpy as np
import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.basics.clock import grid
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.home.home import SkyMonth, check_home
from imbuto.core.light.solar_light import array_w, day_of, days_of, shares_of, solar_w
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.sources import Array
from imbuto.core.plan.system import resolve_part
from imbuto.core.run.hand_check import waterfall
from imbuto.core.run.run import simulate
from imbuto.formats import planfile

DEMO = planfile.read(
    resources.files("imbuto.services").joinpath("demo_homes/saltgrass-house.json").read_bytes(), "demo"
)
ZONE = DEMO.home.site.time_zone


def with_sun(outage_id: str, plan_id: str = "switched-panel", **changes):
    """A demo plan with eight panels on a roof, joined, in an outage."""
    bundle = DEMO
    outage = next(o for o in bundle.outages if o.id == outage_id)
    base = next(p for p in bundle.plans if p.id == plan_id)
    array = replace(Array(id="shed", name="Shed", panel="slate", series=8, tilt=25, azimuth=170), **changes)
    made = replace(base, arrays={"shed": array}, engine=None)
    return bundle, made, outage, resolve_part(in_outage(bundle.home, made, outage), made, bundle.catalogue)


def test_an_input_clips_ignores_a_glimmer_and_gives_nothing_under_ice():
    _, _, outage, now = with_sun("august-shutoff")
    steps = grid(outage.start, ZONE, 48)
    given = array_w(now.plan.arrays["shed"], now, outage, steps)
    assert given[given > 0].min() >= 0.03 * now.station.solar_max_w
    long = replace(now.plan.arrays["shed"], series=8, parallel=3)
    assert array_w(long, now, outage, steps).max() == pytest.approx(15 * 8 * 32.6)  # the input's amps
    iced = array_w(now.plan.arrays["shed"], now, replace(outage, iced_h=30), steps)
    assert iced[: 30 * 12].max() == 0
    assert iced[30 * 12 :].max() > 0
    assert array_w(replace(long, input=9), now, outage, steps).max() == 0


def test_two_arrays_add_and_none_is_none():
    _, made, outage, now = with_sun("august-shutoff")
    steps = grid(outage.start, ZONE, 24)
    one = solar_w(now, outage, steps)
    west = replace(made.arrays["shed"], id="west", input=2)
    two = solar_w(replace(now, plan=replace(made, arrays=made.arrays | {"west": west})), outage, steps)
    np.testing.assert_allclose(two, 2 * one)
    assert solar_w(replace(now, plan=replace(made, arrays={})), outage, steps) is None


def test_sun_lengthens_the_run_and_the_run_without_it_stands_beside():
    bundle, made, outage, _ = with_sun("august-shutoff")
    v = judge(bundle.home, made, outage, bundle.catalogue)
    bare = judge(bundle.home, replace(made, arrays={}), outage, bundle.catalogue)
    assert v.without_sun.hours == bare.run.hours
    assert v.run.at_least_h > bare.run.hours + 5
    assert bare.without_sun is None
    assert v.band.chance > bare.band.chance


@pytest.mark.parametrize("outage_id", ["august-shutoff", "january-ice", "evening-cut"])
def test_the_waterfall_with_sun_adds_up(outage_id):
    _, _, outage, now = with_sun(outage_id)
    run = simulate(now, outage)
    drops = waterfall(run)
    assert drops[-1].wh == pytest.approx(sum(d.wh for d in drops[:-1]), abs=2)
    assert drops[-1].wh == pytest.approx(run.until_dark.tally.served_wh, abs=1)


def test_a_sky_that_changes_by_the_day_is_each_days_own():
    _, _, outage, now = with_sun("august-shutoff")
    steps = grid(outage.start, ZONE, 72)
    array = now.plan.arrays["shed"]
    skies = replace(outage, skies=("clear", "storm", "broken"))
    mixed = array_w(array, now, skies, steps)
    days = day_of(steps)
    for day, weather in enumerate(("clear", "storm", "broken", "broken")):
        alone = array_w(array, now, replace(outage, weather=weather), steps)
        np.testing.assert_array_equal(mixed[days == day], alone[days == day])
    portable = replace(now.panels["slate"], portable=True)
    held = array_w(array, replace(now, panels={"slate": portable}), skies, steps)
    assert held[days == 1].max() == 0  # it stays in on the stormy day
    assert held[days == 0].max() > 0


def test_the_sites_own_days_stand_before_the_climates():
    own = (SkyMonth(month=1, clear=1.0, broken=0.0, overcast=0.0),)
    site = replace(DEMO.home.site, sky=own)
    assert days_of(site, 1) is own[0]
    assert days_of(site, 2).clear < 1
    assert sum(shares_of(own[0]).values()) == 1
    with pytest.raises(InvalidValue, match="add up to 1"):
        check_home(replace(DEMO.home, site=replace(site, sky=(replace(own[0], broken=0.5),))))
