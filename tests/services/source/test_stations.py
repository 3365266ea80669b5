"""The simulated station: it adds up, in a process of its own; what it shows teaches, and what reaches the hour keeps
its word."""

from __future__ import annotations

import os
import signal
import time
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from imbuto.core.advice.verdict import judge_one
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.basics.units import floor_minutes
from imbuto.devices.protocols import SimulatedHousehold
from imbuto.devices.simulated import FastClock
from imbuto.devices.station import Label, SimulatedStation, StationOver, StationTruth
from imbuto.formats.documents import TAKEN
from imbuto.services.outages.outage_now import begin, live_view
from imbuto.services.outages.reach_hour_views import reach
from imbuto.services.outages.store_history import case_of
from imbuto.services.outages.watched_station import Watch
from tests.demo import demo_copy

HOME, PAIR = "saltgrass-house", ("ten-place", "november-windstorm")
AT = datetime(2026, 11, 24, 18, tzinfo=UTC)


@pytest.fixture
def planner(tmp_path):
    planner = demo_copy(tmp_path)
    yield planner
    planner.database.close()


@pytest.fixture
def watch(planner):
    watch = Watch(planner)
    yield watch
    watch.close()
    for path in planner.database.path.parent.glob("station-*.json"):
        StationOver(path).end()


def station(house: SimulatedHousehold, charge: float, hours: list[float]):
    """One on a clock that a test turns."""
    label, truth = Label(1000, 0.9, 10, 500, 0.92, 0.1), StationTruth(1100, 12, 1.2)
    return SimulatedStation(label, truth, FastClock(lambda: hours[0] * 3600, AT.timestamp()), house, charge)


def test_it_draws_by_its_own_truth_shows_whole_percents_and_stops_at_its_floor():
    now = [0.0]
    s = station(SimulatedHousehold(AT, 1.0, (100.0,), (0.0,), grid=False), 0.9, now)
    now[0] = 2.0
    shown = s.read()
    assert s.wh == pytest.approx(990 - 2 * (120 / 0.9 + 12), rel=0.01)
    assert shown.charge == round(s.wh / 1100, 2)
    assert shown.out_w == pytest.approx(120, rel=0.2)
    now[0] = 40.0
    assert (s.read().charge, s.read().out_w) == (pytest.approx(0.1, abs=0.01), 0)
    s.live_in(SimulatedHousehold(AT, 1.0, (100.0,), (0.0,), grid=True))
    now[0] = 41.0
    assert s.read().in_w > 500
    assert s.wh == pytest.approx(110 + 460, rel=0.02)
    # An outage that began an hour ago, full then: it has drawn for that hour.
    s.live_in(SimulatedHousehold(AT + timedelta(hours=40), 1.0, (100.0,), (0.0,), grid=False), 1.0)
    s.read()
    assert s.wh == pytest.approx(1100 - (120 / 0.9 + 12), rel=0.01)


def test_it_goes_on_without_the_server_and_is_found_again(planner, watch):
    with pytest.raises(NotFound):
        watch.set_speed(HOME, 60)
    first = watch.begin(HOME, *PAIR, "main", 0.5)
    assert (first.on, first.grid, first.name) == (True, True, "Hogshead")
    with pytest.raises(InvalidValue):
        watch.begin(HOME, *PAIR, "main", 0.5)
    with pytest.raises(InvalidValue):
        watch.set_speed(HOME, 7)
    watch.set_speed(HOME, 1440)
    begin(planner, HOME, PAIR, None, None, {"main": 0.8}, "out")
    for _ in range(60):
        time.sleep(0.1)
        if 0.7 < (shown := watch.view(HOME)).charge < 0.8 and not shown.grid:
            break
    assert not shown.grid
    assert 0.7 < shown.charge < 0.8
    assert planner.now(planner.documents(planner.state(HOME)).home) > datetime.now() - timedelta(days=1)
    watch.close()
    again = Watch(planner)
    again.take_up()
    try:
        later = again.view(HOME)
        assert later.on
        assert later.speed == 1440
        assert later.charge <= shown.charge
        assert live_view(planner, HOME, PAIR[1]).stores[0].streamed
        (path,) = planner.database.path.parent.glob("station-*.json")
        assert oct(path.stat().st_mode)[-3:] == "600"
        assert not again.end(HOME).on
        assert not path.exists()
        assert again.view(HOME).on is False
    finally:
        again.close()


def _command(process: Path) -> bytes:
    try:
        return (process / "cmdline").read_bytes()
    except OSError:
        return b""  # it has just ended


def test_one_that_dies_is_said_to_be_lost_and_the_clock_goes_on(planner, watch, tmp_path):
    watch.begin(HOME, *PAIR, "main", 0.5)
    (ours,) = [p for p in Path("/proc").glob("[0-9]*") if str(tmp_path).encode() in _command(p)]
    os.kill(int(ours.name), signal.SIGKILL)
    for _ in range(40):
        time.sleep(0.1)
        if watch.view(HOME).lost:
            break
    assert watch.view(HOME).lost
    watch.end(HOME)
    (tmp_path / f"watch-{HOME}.json").write_text(
        '{"home": "saltgrass-house", "zone": "UTC", "source": "main", "plan": "ten-place", "outage": "x", "name": "N"}'
    )
    watch.take_up()
    assert not watch.view(HOME).on


def test_what_reaches_the_hour_is_what_the_run_then_gives(planner):
    """Taken, Outage now says so; and the plan run anew with those loads off says the same."""
    now = datetime(2025, 11, 25, 18)
    stay = [
        {"doc": "home", "op": "replace", "path": f"/loads/{k}/turns_ok", "value": False}
        for k in planner.documents(planner.state(HOME)).home.loads
    ]
    planner.edit(HOME, planner.rev(HOME), "stay", "No turns, so that a run with loads off is the same", stay, PAIR)
    begin(planner, HOME, PAIR, now, None, {"main": 1.0}, "out")
    before = live_view(planner, HOME, PAIR[1], now).stores[0]
    assert before.early_at is not None
    until = before.early_at + timedelta(hours=3)
    assert reach(planner, HOME, PAIR[1], now + timedelta(hours=3), now).stores[0].already
    found = reach(planner, HOME, PAIR[1], until, now)
    (store,) = found.stores
    assert found.reached
    assert store.sure  # the concentrator hangs on it
    assert store.early_at is not None
    assert store.early_at >= until
    assert {s.taken.kind for s in store.steps} == {"rest"}
    ops = [
        {"doc": "home", "op": "add", "path": f"/live/taken/{s.taken.id}", "value": TAKEN.write(s.taken)}
        for s in store.steps
    ]
    planner.edit(HOME, planner.rev(HOME), "take", "Steps to last longer", ops, PAIR)
    after = live_view(planner, HOME, PAIR[1], now).stores[0]
    assert (after.dark_at, after.early_at) == (store.dark_at, store.early_at)

    documents = planner.documents(planner.state(HOME))
    assert documents.home.live is not None
    off = {s.taken.load for s in store.steps}
    loads = {
        k: replace(x, average_w=0.0, rest_w=0.0, run_w=0.0, settings={}) if k in off else x
        for k, x in documents.home.loads.items()
    }
    case = case_of(documents, PAIR[1], documents.home.live)
    v = judge_one(replace(documents.home, loads=loads), documents.plans[PAIR[0]], case, documents.catalogue, "main")
    assert v.run is not None
    assert v.run.hours is not None
    assert after.dark_at is not None
    assert (after.dark_at - now).total_seconds() == floor_minutes(v.run.hours) * 60

    never = reach(planner, HOME, PAIR[1], now + timedelta(hours=90), now)
    assert not never.reached
    assert "short of it" in never.stores[0].short
    assert "Don't wait until the power runs out" in never.advice[0]
    for wrong in (now, now + timedelta(days=20)):
        with pytest.raises(InvalidValue):
            reach(planner, HOME, PAIR[1], wrong, now)
