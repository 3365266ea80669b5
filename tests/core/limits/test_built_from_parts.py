"""A station built from parts gives what its weakest part lets through."""

from dataclasses import replace

import pytest

from imbuto.core.limits.all_limits import fit
from tests.support import STATION, load, switched

BUILT = replace(STATION, efficiency=0.9, built_low_v=24, built_battery_a=200, built_cable_a=150, built_fuse_a=100)


@pytest.mark.parametrize(
    ("amps", "watts", "part"),
    [
        ((200, 150, 100), 2_160, "fuse"),  # 100 A x 24 V x 0.9
        ((80, 150, 100), 1_728, "batteries"),
        ((200, 90, 100), 1_944, "cable"),
        ((300, 300, 300), 5_000, ""),  # 6,480 W: the inverter is the least
        ((0, 0, 0), 5_000, ""),
    ],
)
def test_the_least_of_inverter_batteries_cable_and_fuse_counts(amps, watts, part):
    built = replace(BUILT, built_battery_a=amps[0], built_cable_a=amps[1], built_fuse_a=amps[2])
    made, outage = switched((1, [load("lamp", 20)]), station=built)
    found = {x.id: x for x in fit(made, outage)}["together_w"]
    assert found.limit == pytest.approx(watts)
    assert built.weakest_part == part
    assert (f"all that its {part}" in found.sentence) is bool(part)


def test_batteries_that_cannot_give_more_cannot_start_more_and_a_fuse_can():
    by_fuse = replace(BUILT, built_battery_a=0).as_built()
    by_batteries = replace(BUILT, built_cable_a=0, built_fuse_a=0, built_battery_a=100).as_built()
    assert (by_fuse.continuous_w, by_fuse.surge_va) == (pytest.approx(2_160), STATION.surge_va)
    assert (by_batteries.continuous_w, by_batteries.surge_va) == (pytest.approx(2_160), pytest.approx(2_160))
    assert by_fuse.leg_a == pytest.approx(2_160 / 5_000 * STATION.leg_a)


def test_just_inside_and_just_outside():
    for watts, ok in ((2_150, True), (2_170, False)):
        made, outage = switched((1, [load("a", watts / 2)]), (2, [load("b", watts / 2)]), station=BUILT)
        assert {x.id: x.ok for x in fit(made, outage)}["together_w"] is ok


def test_amps_without_a_voltage_are_refused():
    with pytest.raises(ValueError, match="lowest battery voltage"):
        replace(STATION, built_fuse_a=100)
