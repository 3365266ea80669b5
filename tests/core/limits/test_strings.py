"""Limit 10 against the check figures, each part just inside and just outside; ways to wire panels; fixes."""

from dataclasses import replace

import pytest

from imbuto.core.advice.gives_out import fixes, violations
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.solar_panel import Panel
from imbuto.core.equipment.wires import Cord
from imbuto.core.home.home import Site
from imbuto.core.limits.all_limits import fit
from imbuto.core.limits.rules.solar_input_limits import array_limits, cold_v, hot_v, layouts, most_w
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.sources import Array
from imbuto.core.plan.system import resolve_part
from tests.support import OUTAGE, STATION, corded, load

PANEL = Panel(
    id="p", name="Panel", w=400, voc_v=49.6, vmp_v=41.2, isc_a=10.2, imp_a=9.7, voc_percent_c=-0.29, vmp_percent_c=-0.36
)
SITE = Site(record_low_c=-24, record_high_c=40.25)
ROOF = Array(id="roof", name="Roof", panel="p", series=2)
INPUT = {
    "solar_inputs": 1,
    "solar_min_v": 30,
    "solar_max_v": 150,
    "solar_max_a": 12,
    "solar_max_isc_a": 15,
    "solar_max_w": 900,
}


def found(array: Array = ROOF, panel: Panel = PANEL, site: Site = SITE, **of_input: float) -> dict[str, Limit]:
    """The limits of one array by their family."""
    return {
        x.family: x
        for x in array_limits(array, panel, replace(shipped().stations["firkin"], **(INPUT | of_input)), site)
    }


def test_check_figures_of_three_panels():
    assert cold_v(PANEL, 3, -24, tolerance=1.0) == pytest.approx(169.94, abs=0.01)
    assert hot_v(PANEL, 3, 71.25) == pytest.approx(103.02, abs=0.01)
    three = found(replace(ROOF, series=3))["solar_cold"]
    assert (three.ok, three.severity) == (False, "refuse")
    assert three.used == pytest.approx(169.94 * 1.03, abs=0.01)


def test_volts_nobody_lists_are_taken_a_quarter_higher():
    assert cold_v(replace(PANEL, voc_percent_c=None), 2, -24) == pytest.approx(2 * 49.6 * 1.25)


@pytest.mark.parametrize(
    ("family", "inside", "outside"),
    [
        ("solar_cold", found(solar_max_v=116.8), found(solar_max_v=116.6)),  # 2 x 49.6 x 1.1421 x 1.03 = 116.70
        ("solar_isc", found(solar_max_isc_a=10.2), found(solar_max_isc_a=10.1)),
        ("solar_isc", found(solar_max_isc_a=0, solar_max_a=10.2), found(solar_max_isc_a=0, solar_max_a=10.1)),
        ("solar_start", found(solar_min_v=57.2), found(solar_min_v=57.3)),  # 82.4 x 0.8335 / 1.2 = 57.23
        (
            "solar_cable",  # 1.56 x 10.2 = 15.9 A against 18 and 13
            found(replace(ROOF, cord=Cord(wire="awg14", length_m=5))),
            found(replace(ROOF, cord=Cord(wire="awg16", length_m=5))),
        ),
        (
            "solar_drop",  # 2 x L x 0.0103 x 9.7 of 82.4 V: 3 % at 12.37 m
            found(replace(ROOF, cord=Cord(wire="awg14", length_m=12.3))),
            found(replace(ROOF, cord=Cord(wire="awg14", length_m=12.5))),
        ),
    ],
)
def test_each_part_just_inside_and_just_outside(family, inside, outside):
    assert inside[family].ok
    assert inside[family].margin_percent >= 0
    assert not outside[family].ok
    assert outside[family].margin_percent < 0
    assert 0 < outside[family].excess < 0.25


def test_panels_that_may_not_stand_in_so_high_a_string_are_refused():
    assert "solar_system" not in found()
    low = found(panel=replace(PANEL, max_v=100))["solar_system"]
    assert (low.ok, low.severity) == (False, "refuse")


def test_watts_and_amps_past_the_rating_are_clipped_not_refused():
    s = replace(shipped().stations["firkin"], **INPUT)
    two = replace(ROOF, parallel=2)
    assert most_w(ROOF, PANEL, s) == 800  # all of it
    assert most_w(replace(ROOF, series=3), PANEL, s) == 900  # the input's watts
    assert most_w(two, PANEL, replace(s, solar_max_w=2000)) == pytest.approx(12 * 2 * 41.2)  # its amps at their volts


def on_a_plan(array: Array, ticks: tuple[str, ...] = ()):
    """A plan with one array on a station of one input, joined, with its catalogue."""
    bare = corded(load("lamp", 50), station=replace(STATION, **INPUT))
    catalogue = Catalogue(stations={"test": bare.station}, panels={"p": PANEL}).over(shipped())
    made = replace(bare.plan, arrays={array.id: array}, ticks=ticks)
    return resolve_part(replace(bare.home, site=SITE), made, catalogue), catalogue


def test_what_a_person_settles_stays_a_caution_until_ticked():
    wide = replace(ROOF, series=1, parallel=3)
    now, _ = on_a_plan(wide)
    cautions = {x.tick for x in fit(now, OUTAGE) if not x.ok and x.tick}
    assert {"clip:roof", "fuses:roof"} <= cautions
    assert "dc:roof" not in cautions  # 58 V: below what a hand may touch
    ticked, _ = on_a_plan(wide, ("clip:roof", "fuses:roof"))
    assert not {x.tick for x in fit(ticked, OUTAGE) if not x.ok and x.tick} & {"clip:roof", "fuses:roof"}
    high, _ = on_a_plan(ROOF)
    assert "dc:roof" in {x.tick for x in fit(high, OUTAGE) if not x.ok}


def test_an_input_the_station_has_not_is_named():
    now, _ = on_a_plan(replace(ROOF, input=2))
    bad = violations(fit(now, OUTAGE))
    assert [x.family for x in bad] == ["solar_input"]
    assert "1 solar input; Roof is connected to input 2" in bad[0].sentence


def test_ways_to_wire_put_what_fits_first_and_spare_copper():
    s = replace(
        shipped().stations["firkin"], **(INPUT | {"solar_max_a": 25, "solar_max_isc_a": 25, "solar_max_w": 2000})
    )
    ways = layouts(replace(ROOF, series=4), PANEL, s, SITE)
    fitting = [(w.series, w.parallel, w.left_over) for w in ways if not w.bad]
    assert fitting == [(2, 2, 0)]  # one alone reaches 34 V hot, of the 36 V to start on: no
    assert ways[0].cable == "8 AWG"  # 1.56 x 20.4 = 31.8 A
    assert any("destroys" in sentence for w in ways if w.series == 4 for sentence in w.bad)


def test_a_fix_lays_the_string_anew():
    now, catalogue = on_a_plan(replace(ROOF, series=4))
    offered = fixes(now, OUTAGE, fit(now, OUTAGE), catalogue)
    clearing = next(p for p in offered if p.clears)
    after = resolve_part(now.home, clearing.move.plan, catalogue)
    assert not violations(fit(after, OUTAGE))
    assert clearing.move.label == "Roof as 2 in series × 1"
