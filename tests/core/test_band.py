"""The simulated band: its draws, its quantiles against the analytic ones where those exist, and what it is made of."""

from dataclasses import replace
from statistics import NormalDist

import numpy as np
import pytest

from imbuto.core.band import (
    MEMBERS,
    PARTS,
    band,
    curves,
    low_of,
    made_of,
    many_dark,
    member_loads,
    normals,
    run_members,
)
from imbuto.core.clock import grid
from imbuto.core.evidence import lognormal_sigma
from imbuto.core.loads import Use
from imbuto.core.run import simulate
from tests.support import OUTAGE, STATION, corded, load


def run_of(*loads, outage=OUTAGE, **station):
    return simulate(corded(*loads, station=replace(STATION, **station)), outage)


STEADY = load("a", 150, spread=0.3, kind="electronics")
MIXED = (
    STEADY,
    load("fridge", 140, 62, use=Use(kind="cycling"), kind="compressor", rest_w=4, thermostatic=True),
    load("kettle", 1400, 1400, use=Use(kind="tasks", times=(7.0, 18.0), minutes=12)),
)


def test_the_same_run_gives_the_same_band_whatever_was_asked_before():
    first = band(run_of(*MIXED))
    band(run_of(*reversed(MIXED)))
    assert band(run_of(*MIXED)) == first


def test_with_loads_alone_unknown_it_is_the_lognormal_itself():
    run = run_of(STEADY)
    dark = np.sort(run_members(run, frozenset({"loads"}))[0])
    sigma = lognormal_sigma(0.3)
    for share in (0.1, 0.5, 0.9):  # hours fall as the load rises: usable / (150 f / 0.94 + 20)
        factor = np.exp(-sigma * NormalDist().inv_cdf(share) - sigma**2 / 2)
        assert dark[int(share * MEMBERS)] == pytest.approx(run.usable_wh / (150 * factor / 0.94 + 20), rel=0.01)


def test_draws_keep_their_means():
    now = run_of(*MIXED).joined
    steps = grid(OUTAGE.start, "UTC", 48, 0.25)
    loads = member_loads(now.fed, steps, slice(0, steps.n), frozenset(PARTS))
    assert loads.shape == (steps.n, MEMBERS)
    assert loads.mean() == pytest.approx(now.watts(steps).mean(), rel=0.02)
    assert normals("load a").std() == pytest.approx(1, abs=0.01)


def test_a_thermostat_is_on_or_off_and_a_task_moves_by_an_hour_at_most():
    now = run_of(*MIXED[1:]).joined
    steps = grid(OUTAGE.start, "UTC", 24, 0.25)
    fridge = member_loads(now.fed[:1], steps, slice(0, steps.n), frozenset({"habits"}))
    assert fridge.min(axis=0).max() < 62 * 0.7  # every member rests at some time
    assert fridge.max(axis=0).min() > 62 * 1.3  # and runs at another
    kettle = member_loads(now.fed[1:], steps, slice(0, steps.n), frozenset({"habits"}))
    hours = steps.hour[(kettle > 0).any(axis=1)]
    assert ((abs(hours - 7) < 1.4) | (abs(hours - 18) < 1.4)).all()


def test_better_evidence_narrows_it_and_more_battery_lengthens_every_member():
    wide, narrow = (run_of(replace(STEADY, spread=s)) for s in (0.4, 0.08))
    assert band(wide).low_h < band(narrow).low_h < narrow.hours < band(narrow).high_h < band(wide).high_h
    more = run_of(replace(STEADY, spread=0.4), nominal_wh=7000)
    every = frozenset(PARTS)
    longer, shorter = run_members(more, every)[0], run_members(wide, every)[0]
    assert (longer >= shorter).all()
    assert (longer > shorter).mean() > 0.9  # the rest is still on in both


def test_survivors_are_never_averaged():
    short = replace(OUTAGE, hours=10, goal_hours=10)  # looked at for 34 h, where about half are still on
    run = run_of(replace(STEADY, spread=0.5, run_w=100, average_w=100), outage=short)
    found = band(run)
    assert found.high_h is None
    assert found.low_h is not None
    assert found.chance == 1.0


def test_what_it_is_made_of():
    run = run_of(STEADY)
    widths = made_of(run)
    assert widths["loads"] > widths["habits"] > widths["battery"] > 0
    assert widths["weather"] == 0
    assert made_of(run_of(replace(STEADY, spread=0.03)))["loads"] < 0.2 * widths["loads"]


def test_the_curves_begin_at_the_start_and_lie_in_order():
    run = run_of(*MIXED)
    low, high = curves(run, 12)
    assert len(low) == len(high) == 49
    assert low[0] == high[0] == 1
    assert (low <= high).all()
    middle = run.trace.charge[: 12 * 12 + 1 : 3]
    assert (np.array(middle)[:40] >= low[:40] - 0.02).all()


def test_summing_what_is_drawn_is_what_stepping_gives():
    """Without sun the band sums; the members stepped one by one end at the same moments."""
    run = run_of(*MIXED)
    stepped = run_members(run, frozenset(PARTS))[0]
    summed = many_dark(run.joined, run.outage, [run.store], None, run.steps.hours, None)[0]
    np.testing.assert_allclose(summed, stepped, atol=1e-7)
    assert low_of(summed[None, :])[0] == pytest.approx(band(run).low_h)
