"""What a label leaves out is no zero: a careful default stands in for it, is named, and never blocks keeping."""

from __future__ import annotations

from dataclasses import fields, replace

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.advice.unknowns import unknowns
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.power_station import Station, with_defaults
from imbuto.core.home.home import Site
from imbuto.core.limits.rules.solar_input_limits import record_low_c
from tests.core.run.test_several import CALM
from tests.support import STATION, corded, load

BARE = Station(id="bare", name="Bare", volts="120", nominal_wh=1000, continuous_w=1200)


def judged(station: Station):
    now = corded(load("lamp", 100), load("fridge", 120, start_va=700), station=station)
    return judge(now.home, now.plan, CALM, Catalogue(stations={station.id: station}).over(shipped())), now


def test_a_station_of_five_figures_is_kept_and_judged_by_named_defaults():
    filled, assumed = with_defaults(BARE)
    assert (filled.rated_va, filled.surge_va, filled.leg_a, filled.leg_surge_va) == (1200, 1200, 10, 1200)
    assert (filled.idle_w, filled.outlet_a) == (12, 15)
    assert assumed == {"rated_va", "surge_va", "leg_a", "leg_surge_va", "idle_w", "outlet_a", "outlets"}
    assert with_defaults(replace(BARE, continuous_w=300))[0].idle_w == 10
    assert with_defaults(replace(BARE, volts="230"))[0].outlet_a == 10
    found, now = judged(BARE)
    assert found.run is not None
    limits = {x.id: x for x in found.limits}
    assert not any(x.limit == 0 and x.kind != "yes_no" for x in found.limits), "no sentence says “of 0”"
    assert limits["outlets_unlisted"].severity == "unknown"
    assert limits["together_va"].evidence == "default"
    titles = [u.id for u in unknowns(now, CALM, Catalogue(stations={"bare": BARE}).over(shipped()), found.limits)]
    assert "bare.idle_w" in titles


@pytest.mark.parametrize("name", ["rated_va", "surge_va", "leg_a", "leg_surge_va", "idle_w", "outlet_a"])
def test_blank_equals_its_stated_default(name):
    blank = replace(STATION, **{name: None if name == "idle_w" else 0})
    stated = replace(STATION, **{name: getattr(with_defaults(blank)[0], name)})
    one, other = judged(blank)[0], judged(stated)[0]
    assert one.hours == other.hours
    assert one.band == other.band
    assert [(x.id, x.used, x.limit, x.ok) for x in one.limits if x.severity != "unknown"] == [
        (x.id, x.used, x.limit, x.ok) for x in other.limits if x.severity != "unknown"
    ]


def test_a_zero_that_is_a_figure_stays_one():
    assert with_defaults(replace(STATION, idle_w=0))[0].idle_w == 0
    assert "idle_w" not in with_defaults(replace(STATION, idle_w=0))[1]
    assert {f.name for f in fields(Station)} >= with_defaults(BARE)[1]


@pytest.mark.parametrize(
    ("site", "coldest", "low"),
    [
        (Site(climate=""), None, -40),
        (Site(climate="cold_winter"), 10, -40),
        (Site(climate="mild"), None, -15),
        (Site(climate="hot_summer"), None, -15),
        (Site(climate="mild"), -12, -22),
        (Site(climate="", record_low_c=-8), -12, -8),
    ],
)
def test_the_coldest_morning_is_a_careful_one_until_it_is_entered(site, coldest, low):
    assert record_low_c(site, coldest) == low
