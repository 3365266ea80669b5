"""The simulated band: its draws, its quantiles against the analytic ones where those exist, and what it is made of."""

from dataclasses import replace
from statistics import NormalDist

import numpy as np
import pytest

from imbuto.core.basics.clock import grid
from imbuto.core.basics.evidence import lognormal_sigma
from imbuto.core.home.loads import Use
from imbuto.core.run.band import band, curves, low_of, made_of, many_dark, members, total_spread
from imbuto.core.run.band_members import MEMBERS, member_loads, member_stores, normals
from imbuto.core.run.run import simulate
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
    dark = np.sort(members(run, frozenset({"loads"})).first_dark_h[:, 0])
    sigma = lognormal_sigma(0.3)
    for share in (0.1, 0.5, 0.9):  # hours fall as the load rises: usable / (150 f / 0.94 + 20)
        factor = np.exp(-sigma * NormalDist().inv_cdf(share) - sigma**2 / 2)
        assert dark[int(share * MEMBERS)] == pytest.approx(run.usable_wh / (150 * factor / 0.94 + 20), rel=0.01)


def test_draws_keep_their_means():
    now = run_of(*MIXED).part
    steps = grid(OUTAGE.start, "UTC", 48, 0.25)
    loads = member_loads(now.fed, steps)
    assert loads.shape == (MEMBERS, 1, steps.n)
    assert loads.mean() == pytest.approx(now.watts(steps).mean(), rel=0.02)
    assert normals("load a").std() == pytest.approx(1, abs=0.01)


def test_a_thermostat_is_on_or_off_and_a_task_moves_by_an_hour_at_most():
    now = run_of(*MIXED[1:]).part
    steps = grid(OUTAGE.start, "UTC", 24, 0.25)
    fridge = member_loads(now.fed[:1], steps, 1, frozenset({"habits"}))[:, 0]
    assert fridge.min(axis=1).max() < 62 * 0.7  # every member rests at some time
    assert fridge.max(axis=1).min() > 62 * 1.3  # and runs at another
    kettle = member_loads(now.fed[1:], steps, 1, frozenset({"habits"}))[:, 0]
    hours = steps.hour[(kettle > 0).any(axis=0)]
    assert ((abs(hours - 7) < 1.4) | (abs(hours - 18) < 1.4)).all()


def test_better_evidence_narrows_it_and_more_battery_lengthens_every_member():
    wide, narrow = (run_of(replace(STEADY, spread=s)) for s in (0.4, 0.08))
    assert band(wide).low_h < band(narrow).low_h < narrow.hours < band(narrow).high_h < band(wide).high_h
    more = run_of(replace(STEADY, spread=0.4), nominal_wh=7000)
    longer, shorter = members(more).first_dark_h, members(wide).first_dark_h
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
    middle = run.charge[: 12 * 12 + 1 : 3]
    assert (np.array(middle)[:40] >= low[:40] - 0.02).all()


def test_many_sources_are_what_the_band_of_each_says():
    run = run_of(*MIXED)
    larger = tuple(replace(s, nominal_wh=1.5 * s.nominal_wh) for s in run.stores)
    dark = many_dark(run.part, run.outage, [run.stores, larger], [None], run.steps.hours, None)
    assert low_of(dark)[0] == pytest.approx(band(run).low_h)
    # Half as much again in the battery lasts half as long again, but for day and night.
    assert low_of(dark)[1] == pytest.approx(1.5 * low_of(dark)[0], rel=0.05)


def test_a_battery_and_its_gauge_are_unsure_and_full_is_full():
    store = run_of(STEADY).stores[0]
    full, start = member_stores([store], 0.995)
    assert full.std() / full.mean() == pytest.approx(0.03 / store.deliverable, rel=0.02)
    assert start.max() == 1.0
    assert start.std() == pytest.approx(0.01, rel=0.5)
    assert (member_stores([store], 1.0)[1] == 1.0).all()
    assert total_spread(run_of(STEADY).part, {}) == 0.0
