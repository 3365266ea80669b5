"""What the sun does to runs of the demo."""

from dataclasses import replace
from importlib import resources

import numpy as np
import pytest

from imbuto.core.clock import grid
from imbuto.core.conditions import in_outage
from imbuto.core.joining import joined
from imbuto.core.paper import waterfall
from imbuto.core.plan import Array
from imbuto.core.run import simulate
from imbuto.core.solar import array_w, solar_w
from imbuto.core.verdict import judge
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
    return bundle, made, outage, joined(in_outage(bundle.home, made, outage), made, bundle.catalogue)


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
    assert drops[-1].wh == pytest.approx(run.until_dark.served_wh, abs=1)
