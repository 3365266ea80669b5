"""The march against the check figures, for one store and for several that are joined; energy conserved to 1e-6; the
compiled function against the same lines as plain Python."""

import math
import os
import subprocess
import sys
from dataclasses import fields, replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from imbuto.core.equipment.catalogue import shipped
from imbuto.core.equipment.fuel import at_height, fuel_line
from imbuto.core.run import march as flow
from imbuto.core.run.battery_store import Store
from imbuto.core.run.battery_temperature import capacity_factor, charge_factor, most_charge_w
from imbuto.core.run.jit import _compiled, fingerprint, inlined
from imbuto.core.run.network import ENGINE, STORE, TIER, Absence, Supply, run_many, run_one
from imbuto.core.run.run_controls import ChargeTier, Controls, Motor
from imbuto.core.run.run_trace import Tally, Trace


def one(store, start, load_w, tiers_w=(), step_h=None, controls=None, *, solar_w=None, until_dark=False) -> Trace:
    """One store; tiers_w and controls may be left out, and then the step comes third."""
    if step_h is None:
        tiers_w, step_h = (), tiers_w
    return run_one(
        [store],
        [start],
        np.array([load_w], dtype=float),
        step_h,
        controls=controls,
        until_dark=until_dark,
        sun_w=None if solar_w is None else np.array([solar_w], dtype=float),
        tier_w=np.array(tiers_w, dtype=float) if len(tiers_w) else None,
    )


PLAIN = {"standby_w": 0.0, "mppt_efficiency": 1.0, "taper": False, "restarts_itself": True}


def hours(store: Store, load_w: float, start: float = 1.0) -> float:
    dark = one(store, start, [load_w] * 12 * 48, 1 / 12).first_dark_h
    assert dark is not None
    return dark


@pytest.mark.parametrize(
    ("store", "start", "load_w", "expected"),
    [
        (Store(nominal_wh=4096, floor=0.10, efficiency=0.93, idle_w=18), 1.0, 150, 20.561),
        (Store(nominal_wh=4100, floor=0.10, efficiency=0.94, idle_w=38), 1.0, 85, 28.733),
        (Store(nominal_wh=5200, health=0.92, cold=0.915, floor=0.12, efficiency=0.94, idle_w=22), 0.85, 130, 19.935),
    ],
)
def test_steady_loads_last_as_long_as_the_check_figures_say(store, start, load_w, expected):
    assert hours(store, load_w, start) == pytest.approx(expected, abs=0.0006)


def test_draw_and_idle_of_the_check_figures():
    assert Store(nominal_wh=4096, efficiency=0.93, idle_w=18).draw_w(150) == pytest.approx(179.29, abs=0.005)
    assert pytest.approx(0.222, abs=0.0005) == 24 * 38 / 4100
    assert capacity_factor(5.0) == pytest.approx(0.915)


@pytest.mark.parametrize(
    ("celsius", "factor"), [(-40, 0.55), (-20, 0.55), (-10, 0.75), (0, 0.88), (10, 0.95), (25, 1), (60, 1)]
)
def test_cold_takes_what_the_table_says(celsius, factor):
    assert capacity_factor(celsius) == pytest.approx(factor)


def sunny_days(step_h: float, sun: bool) -> tuple[list[float], list[float]]:
    """210 W always + 300 W from 22 to 7, from 18:00 for 72 h; 900 sin W of sun from 8 to 17."""
    load, solar = [], []
    for i in range(round(72 / step_h)):
        h = (18 + (i + 0.5) * step_h) % 24
        load.append(210.0 + (300 if h >= 22 or h < 7 else 0))
        solar.append(900 * math.sin(math.pi * (h - 8) / 9) if sun and 8 < h < 17 else 0.0)
    return load, solar


@pytest.mark.parametrize(("step_h", "tolerance"), [(1 / 60, 0.001), (1 / 12, 0.003)])
@pytest.mark.parametrize(
    ("nominal", "sun", "dark_h", "served_wh"),
    [(8200, False, 18.22, None), (8200, True, 32.67, 17_102), (12_300, True, 56.56, 20_314)],
)
def test_nights_and_sun(step_h, tolerance, nominal, sun, dark_h, served_wh):
    load, solar = sunny_days(step_h, sun)
    store = Store(nominal_wh=nominal, floor=0.1, efficiency=0.94, idle_w=24, solar_charge_efficiency=0.97, **PLAIN)
    trace = one(store, 1.0, load, step_h, solar_w=solar)
    assert trace.first_dark_h == pytest.approx(dark_h, rel=tolerance)
    if served_wh:
        assert trace.tally.served_wh == pytest.approx(served_wh, rel=tolerance)


def test_an_hour_of_sun_stores_the_surplus():
    store = Store(nominal_wh=9000, efficiency=0.94, idle_w=30)
    trace = one(store, 0.5, [400] * 12, 1 / 12, solar_w=[700] * 12)
    assert (trace.charge[-1] - 0.5) * 9000 == pytest.approx(216.76, abs=0.005)


def test_it_comes_back_when_the_sun_has_brought_five_points():
    store = Store(nominal_wh=5000, floor=0.1, standby_w=12, restarts_itself=True)
    trace = one(store, 0.1, [50] * 288, 1 / 12, solar_w=[0] * 132 + [300] * 156)  # from 21:00, sun from 8:00
    back = next(e.hour for e in trace.events if e.kind == "back")
    assert back == pytest.approx(11 + 1 + 24 / 60 + 41 / 3600, abs=1 / 3600)


def test_without_a_hand_it_stays_dark():
    store = Store(nominal_wh=5000, floor=0.1, restarts_itself=False)
    trace = one(store, 0.1, [50] * 288, 1 / 12, solar_w=[300] * 288)
    assert [e.kind for e in trace.events] == ["dark"]
    assert trace.tally.served_wh == 0


def test_charging_tapers_near_full():
    store = Store(nominal_wh=4000, floor=0, efficiency=1, idle_w=0, ac_charge_efficiency=0.92)
    store = replace(store, grid=True, grid_w=1000)
    n = 300
    there = Supply(np.full(n, 1500.0), np.full(n, flow.CHARGE))
    trace = run_one([store], [0.1], np.zeros((1, n)), 1 / 60, grid=there)
    full = next(i for i, c in enumerate(trace.charge) if c >= 1 - 1e-9)
    before = (trace.charge[full - 1, 0], trace.charge[full - 2, 0])
    last = (1 - before[0]) / (before[0] - before[1])  # within the last minute it slows no further to speak of
    assert (full - 1 + last) / 60 == pytest.approx(4.353, rel=0.001)


def test_the_refill_shown_beside_a_station_is_the_balances_own():
    station = replace(
        shipped().stations["firkin"], nominal_wh=1000, module_wh=3000, charge_w=600, charge_w_per_module=400
    )
    assert station.refill_h(1, start=0.10) == pytest.approx(4.353, rel=0.001)
    assert replace(station, charge_w=0, charge_w_per_module=0).refill_h(1) is None


STILL, EACH = fuel_line(2800, 0.9, 1.5)


def controls(n: int, **kw) -> Controls:
    always, none = np.ones(n, dtype=bool), np.zeros(n)
    plain = {"tiers": (), "engine": None, "awake": always, "engine_may": always, "owes_w": none, "gap_w": none}
    return Controls(**(plain | {"delay_h": 0.0, "hands": True, "by_itself": False} | kw))


def engine(**kw) -> Motor:
    plain = {
        "running_w": 2800,
        "charger_w": 1500,
        "still_l_h": STILL,
        "l_per_wh": EACH,
        "fuel_l": 1e6,
        "by_hand": False,
    }
    return Motor(**(plain | kw))


def test_fuel_is_a_line_through_half_and_full_load():
    assert pytest.approx(0.3) == STILL
    assert pytest.approx(0.9) == STILL + 1400 * EACH
    assert pytest.approx(1.5) == STILL + 2800 * EACH
    assert fuel_line(1000, 0.3, 0.9) == (0.0, pytest.approx(0.0009))  # never below nothing at no load
    assert at_height(2800, 1500) == pytest.approx(2800 * 0.825)


CHECK = Store(nominal_wh=20_000, floor=0.1, efficiency=0.94, idle_w=20, taper=False, standby_w=0)


def test_carrying_the_house_burns_what_the_check_figure_says():
    n = 12 * 24
    trace = one(CHECK, 1.0, [320.0] * n, [], 1 / 12, controls(n, engine=engine(school="carry")))
    assert trace.tally.fuel_l == pytest.approx(10.491, rel=0.001)
    assert trace.tally.engine_h == pytest.approx(24)
    assert trace.charge[-1] == 1.0


def test_filling_and_stopping_burns_half_of_that():
    """Over many days: 4.970 h and 5.368 l a day, by the check figure."""
    days = 60
    n = 60 * 24 * days
    trace = one(CHECK, 0.5, [320.0] * n, [], 1 / 60, controls(n, engine=engine(start_at=0.3, stop_at=0.7)))
    ran_h, stored = trace.tally.engine_h, (trace.charge[-1] - 0.5) * CHECK.available_wh
    missing_h = stored / (1500 * 0.92)  # what was stored over the whole time needed no running
    assert (ran_h - missing_h) / days == pytest.approx(4.970, rel=0.003)
    assert trace.tally.fuel_l / ran_h == pytest.approx(5.368 / 4.970, rel=0.001)
    assert trace.first_dark_h is None


def test_a_station_that_only_passes_power_on_stores_none_of_it():
    n = 12 * 24
    trace = one(CHECK, 0.4, [320.0] * n, [], 1 / 12, controls(n, engine=engine(charger_w=0, start_at=0.25)))
    assert trace.tally.ac_in_wh == 0
    assert trace.tally.bypass_wh > 0


def test_an_engine_nobody_can_start_stands_and_fuel_ends():
    n = 12 * 200
    still = one(CHECK, 1.0, [320.0] * n, [], 1 / 12, controls(n, engine=engine(by_hand=True), hands=False))
    assert still.tally.engine_h == 0
    some = one(CHECK, 1.0, [320.0] * n, [], 1 / 12, controls(n, engine=engine(fuel_l=5.0)))
    assert some.tally.fuel_l == pytest.approx(5.0)
    assert some.first_dark_h > still.first_dark_h


def test_a_hand_comes_after_its_delay_and_not_at_night():
    n = 12 * 24
    store = Store(nominal_wh=5000, floor=0.1, standby_w=0, idle_w=0)
    asleep = np.arange(n) < 12 * 8  # until 8 h on
    by_day = controls(n, awake=~asleep, delay_h=0.5)
    trace = one(store, 0.1, [0.0] * n, [], 1 / 12, by_day, solar_w=[600.0] * n)
    assert [e.kind for e in trace.events] == ["dark", "back"]
    assert trace.events[1].hour == pytest.approx(8.5)
    alone = one(store, 0.1, [0.0] * n, [], 1 / 12, controls(n, hands=False), solar_w=[600.0] * n)
    assert [e.kind for e in alone.events] == ["dark"]


def test_turns_by_charge_keep_five_points_apart():
    n = 12 * 30
    tier = ChargeTier(by="charge", off_below=0.5, on_from=0.55, by_hand=False)
    store = Store(nominal_wh=1000, floor=0.0, efficiency=1, idle_w=0, taper=False)
    trace = one(store, 1.0, [0.0] * n, [[100.0] * n], 1 / 12, controls(n, tiers=(tier,)))
    assert trace.charge[-1] == pytest.approx(0.5, abs=0.01)
    assert [on for (on,) in trace.tiers_on].count(True) == pytest.approx(60, abs=1)
    sun = [0.0] * 120 + [40.0] * 240
    lit = one(store, 1.0, [0.0] * n, [[100.0] * n], 1 / 12, controls(n, tiers=(tier,)), solar_w=sun)
    turns = [(e.kind, e.hour) for e in lit.events]
    assert turns[:2] == [("turn_on", 0.0), ("turn_off", pytest.approx(5.0))]  # cut within the step
    assert turns[2] == ("turn_on", pytest.approx(10 + 50 / (40 * 0.97 * 0.97)))


def test_surplus_feeds_only_what_the_battery_has_no_room_for():
    n = 12 * 10
    tier = ChargeTier(by="surplus", off_below=0.90, on_from=0.95, by_hand=False)
    store = Store(nominal_wh=2000, floor=0.0, efficiency=1, idle_w=0)
    sun = [0.0] * 36 + [800.0] * 48 + [0.0] * 36
    trace = one(store, 1.0, [50.0] * n, [[400.0] * n], 1 / 12, controls(n, tiers=(tier,)), solar_w=sun)
    on = [x for (x,) in trace.tiers_on]
    assert not any(on[:36] + on[84:])
    assert any(on[36:84])


def test_a_thermostat_makes_up_four_fifths_of_what_it_missed():
    n = 12 * 20
    store = Store(nominal_wh=5000, floor=0.1, standby_w=0, idle_w=0, efficiency=1)
    owing = {"owes_w": np.full(n, 60.0), "gap_w": np.full(n, 80.0)}
    dark_h = 4.0
    awake = np.arange(n) >= 12 * dark_h
    sun = [800.0] * n
    plain = one(store, 0.1, [60.0] * n, [], 1 / 12, controls(n, awake=awake, delay_h=1 / 12), solar_w=sun)
    owes = one(store, 0.1, [60.0] * n, [], 1 / 12, controls(n, awake=awake, delay_h=1 / 12, **owing), solar_w=sun)
    away = plain.tally.dark_h
    assert owes.tally.served_wh - plain.tally.served_wh == pytest.approx(0.8 * 60 * away, rel=1e-6)


# ---- several stores ----

H = 1 / 12
LONG = 12 * 40


def idle(n: int = LONG) -> np.ndarray:
    return np.zeros(n)


def watts(w: float, n: int = LONG) -> np.ndarray:
    return np.full(n, float(w))


def plain(**kw) -> Store:
    return Store(**({"standby_w": 0.0, "floor": 0.0} | kw))


def test_two_stores_a_leg_each_end_apart():
    hour = (18 + (np.arange(LONG) + 0.5) * H) % 24
    night = np.where((hour >= 18) | (hour < 6), 400.0, 0.0)
    leg = plain(nominal_wh=4000, floor=0.1, efficiency=0.94, idle_w=20)
    trace = run_one([leg, leg], [1, 1], np.stack([night, 400 - night]), H)
    assert trace.dark_h.tolist() == pytest.approx([8.080, 19.542], abs=0.001)
    # With both on one coupler that stops as a whole, the first takes the other with it.
    both = run_one([replace(leg, pair=1), replace(leg, pair=0)], [1, 1], np.stack([night, 400 - night]), H)
    assert both.dark_h.tolist() == pytest.approx([8.080, 8.080], abs=0.001)


@pytest.mark.parametrize(
    ("own_first", "hours"), [(False, 28.349), (True, 2000 / (200 / 0.9 + 10) + 5000 / (210 / 0.9 + 20))]
)
def test_one_behind_another_lasts_as_long_as_both(own_first, hours):
    up = plain(nominal_wh=5000, efficiency=0.9, idle_w=20)
    low = plain(nominal_wh=2000, efficiency=0.9, idle_w=10, own_pass_w=10, behind=0, own_first=own_first)
    trace = run_one([up, low], [1, 1], np.stack([idle(), watts(200)]), H)
    if own_first:  # the upper idles meanwhile
        hours = 2000 / (200 / 0.9 + 10)
        hours += (5000 - 20 * hours) / (210 / 0.9 + 20)
    assert trace.dark_h[1] == pytest.approx(hours, abs=0.001)


def test_two_in_line_at_one_inlet_are_swapped_by_a_hand():
    first = plain(nominal_wh=3000, efficiency=0.9, idle_w=15)
    loads = np.stack([watts(250), idle()])
    trace = run_one([first, replace(first, after=0)], [1, 1], loads, H, controls=controls(LONG, delay_h=0.5))
    assert [e.kind for e in trace.events] == ["dark", "swap", "back", "dark"]
    assert [e.hour for e in trace.events] == pytest.approx([10.247, 10.747, 10.747, 20.993], abs=0.001)
    asleep = controls(LONG, delay_h=0.5, awake=np.zeros(LONG, dtype=bool))
    assert [e.kind for e in run_one([first, replace(first, after=0)], [1, 1], loads, H, controls=asleep).events] == [
        "dark"
    ]


def test_a_bank_feeds_a_solar_input():
    store = plain(nominal_wh=3000, efficiency=0.94, idle_w=30)
    bank = plain(nominal_wh=10_000, dc_to=0, dc_w=500)
    trace = run_one([store, bank], [1, 1], np.stack([watts(600), idle()]), H)
    assert trace.dark_h[0] == pytest.approx(16.37, abs=0.005)
    assert trace.tallies[1].dc_given_wh == pytest.approx(
        500 * 20, rel=1e-6
    )  # it goes on into standby until it is empty


@pytest.mark.parametrize(("fuel_l", "hours"), [(0.01, 18.44), (0.0, 18.29)])
def test_a_hundredth_of_a_litre_does_not_carry_a_step(fuel_l, hours):
    store = plain(nominal_wh=2048, deliverable=0.97, cold=capacity_factor(20), floor=0.1, efficiency=0.9, idle_w=15)
    still, each = fuel_line(1800, 0.7, 1.2)
    motor = engine(running_w=1800, still_l_h=still, l_per_wh=each, fuel_l=fuel_l, start_at=0.3)
    trace = one(store, 1.0, watts(73), H, controls=controls(LONG, engine=motor))
    assert trace.first_dark_h == pytest.approx(hours, abs=0.005)


def test_a_store_that_is_away_leaves_the_dark_and_comes_back_with_its_charge():
    n = 240
    here = np.ones((1, n))
    here[0, 60:120] = 0
    car = plain(nominal_wh=10_000, restarts_itself=True)
    trace = run_one([car], [1.0], watts(100, n)[None], H, away=Absence(here, np.array([0.6])))
    assert [(e.kind, e.hour) for e in trace.events if e.kind in ("dark", "back")] == [("dark", 5.0), ("back", 10.0)]
    assert trace.charge[121, 0] == pytest.approx(0.6 - (100 / 0.94) * H / 10_000)


def test_the_grid_comes_back_fills_it_and_goes_again():
    n = 12 * 30
    there = np.zeros(n)
    there[12 * 10 : 12 * 13] = 1000.0
    store = plain(
        nominal_wh=2000, efficiency=1, taper=False, grid=True, grid_w=900, hold=0.2, resume=0.3, ac_charge_efficiency=1
    )
    use = Supply(there, np.full(n, flow.CHARGE))
    trace = run_one([store], [1.0], watts(300, n)[None], H, grid=use)
    # 2,000 Wh at 300 W: dark after 6 h 40 m; three hours of grid carry 300 W and charge with the 700 left of its
    # 1,000 W.
    assert [e.kind for e in trace.events] == ["dark", "grid_back", "back", "grid_gone", "dark"]
    assert [e.hour for e in trace.events] == pytest.approx([2000 / 300, 10, 10, 13, 13 + 2000 / 300])
    assert trace.tally.ac_in_wh == pytest.approx(2000)
    assert trace.tally.grid_wh == pytest.approx(900)


def test_ordinary_days_hold_what_is_kept_for_outages():
    n = 12 * 24
    store = plain(nominal_wh=2000, efficiency=1, grid=True, grid_w=0, hold=0.4, resume=0.5)
    first = run_one([store], [1.0], watts(300, n)[None], H, grid=Supply(watts(5000, n), np.full(n, flow.CARRY)))
    assert first.charge[-1, 0] == pytest.approx(0.4)
    assert first.tally.grid_wh == pytest.approx(300 * 24 - 1200)
    sun = np.where(np.arange(n) < 144, 200.0, 0.0)[None]
    second = run_one(
        [store], [0.5], watts(300, n)[None], H, sun_w=sun, grid=Supply(watts(5000, n), np.full(n, flow.SUN_FIRST))
    )
    assert second.charge[-1, 0] == pytest.approx(0.5)
    assert second.tally.grid_wh == pytest.approx(300 * 24 - 200 * 12 * 0.97)


def test_cold_limits_charging_to_a_share_of_the_rated_power():
    assert most_charge_w(charge_factor(7.5, 0, 45, heater=False), 1000, 0) == pytest.approx(0.6 * 920)
    assert most_charge_w(0.6, 400, 2000) == pytest.approx(0.6 * 1940)
    assert math.isinf(most_charge_w(1.0, 400, 0))
    assert most_charge_w(0.0, 400, 0) == 0
    store = plain(nominal_wh=9000, idle_w=0, most_charge_w=300, solar_charge_efficiency=1, mppt_efficiency=1)
    trace = one(store, 0.1, [0.0] * 12, H, solar_w=[200.0] * 6 + [900.0] * 6)
    assert (trace.charge[-1, 0] - 0.1) * 9000 == pytest.approx(100 + 150)  # 200 W is under the limit and taken whole
    assert trace.tally.curtailed_wh == pytest.approx(300)


# ---- generated networks ----


def network(seed: int, m: int = 2, n: int = 72, most: int = 4) -> dict[str, object]:
    """Stores joined at random, most of them, with everything that is switched on the way, as ``run_many`` takes them."""
    rng = np.random.default_rng(seed)
    k, step_h = int(rng.integers(1, most + 1)), float(rng.choice([1 / 12, 0.25, 1.0]))
    loads = rng.uniform(0, 700, (m, k, n)) * (rng.random((m, k, n)) < 0.8)
    stores = []
    for s in range(k):
        store = Store(
            nominal_wh=rng.uniform(300, 9000),
            floor=rng.choice([0.0, 0.1, 0.4]),
            efficiency=rng.uniform(0.7, 1),
            idle_w=rng.uniform(0, 60),
            standby_w=rng.uniform(0, 20),
            restarts_itself=bool(rng.random() < 0.5),
            taper=bool(rng.random() < 0.8),
            most_charge_w=rng.choice([np.inf, 200.0]),
            grid=bool(rng.random() < 0.6),
            hold=0.3,
            resume=0.45,
            grid_w=rng.uniform(0, 900),
            refill=0.8,
        )
        join = rng.choice(["none", "behind", "after", "bank", "pair"]) if s else "none"
        if join == "behind":
            store = replace(store, behind=0, own_first=bool(rng.random() < 0.5), own_pass_w=rng.uniform(0, 20))
        elif join == "after":
            store = replace(store, after=0)
        elif join == "bank":
            store = replace(store, dc_to=0, dc_w=rng.uniform(50, 500), grid=False)
        elif join == "pair":
            store = replace(store, pair=0)
        if join in ("after", "bank"):
            loads[:, s] = 0.0
        stores.append(store)
    tiers = tuple(
        ChargeTier(
            by=rng.choice(["charge", "surplus"]), off_below=0.4, on_from=0.45, by_hand=bool(rng.random() < 0.5), store=0
        )
        for _ in range(int(rng.integers(0, 3)))
    )
    motor = None
    if rng.random() < 0.6:
        motor = engine(
            school=rng.choice(["fill", "carry"]),
            fuel_l=rng.uniform(0, 6),
            by_hand=bool(rng.random() < 0.5),
            stores=(0, k - 1) if k > 1 and stores[-1].after is None and stores[-1].dc_to is None else (0,),
        )
    owes = rng.uniform(0, 80, (k, n))
    owes[[s for s, x in enumerate(stores) if x.after is not None or x.dc_to is not None]] = 0.0
    now = controls(
        n,
        tiers=tiers,
        engine=motor,
        awake=rng.random(n) < 0.7,
        engine_may=rng.random(n) < 0.8,
        delay_h=rng.choice([0.0, 0.3]),
        hands=bool(rng.random() < 0.8),
        owes_w=owes,
        gap_w=rng.uniform(0, 90, (k, n)),
    )
    grid = Supply(rng.uniform(200, 2000, n) * (rng.random(n) < 0.3), rng.integers(0, 3, n).astype(float))
    here = (rng.random((k, n)) < 0.9).astype(float)
    full = np.array([[s.available_wh for s in stores]] * m) * rng.uniform(0.9, 1.1, (m, 1))
    return {
        "stores": stores,
        "full_wh": full,
        "start": rng.choice([1.0, 0.05, 0.6], (m, k)),
        "load_w": loads,
        "step_h": step_h,
        "sun_w": rng.uniform(0, 1500, (m, k, n)) * (rng.random(n) < 0.5) if rng.random() < 0.6 else None,
        "tier_w": rng.uniform(0, 400, (m, len(tiers), n)),
        "controls": now,
        "grid": grid if rng.random() < 0.5 else None,
        "away": Absence(here, rng.uniform(0.2, 1, k)) if rng.random() < 0.3 else None,
    }


@settings(max_examples=300)
@given(st.integers(0, 2**32 - 1))
def test_energy_in_is_energy_out_and_losses_and_change(seed):
    now = network(seed)
    found = run_many(**now, with_charge=True, with_tally=True, until_dark=False)
    assert (found.charge >= 0).all()
    assert (found.charge <= 1 + 1e-12).all()
    for j in range(len(now["load_w"])):
        each = [Tally(*(float(x) for x in row)) for row in found.tally[j]]
        t = Tally(*(sum(getattr(x, f.name) for x in each) for f in fields(Tally)))
        full = now["full_wh"][j]
        came = t.solar_wh + t.ac_in_wh + t.bypass_wh + t.grid_wh + t.came_back_wh + (now["start"][j] * full).sum()
        went = t.served_wh + t.lost_wh + t.went_away_wh + (found.charge[j, -1] * full).sum()
        assert came == pytest.approx(went, rel=1e-6, abs=1e-4)
        assert min(getattr(t, f.name) for f in fields(Tally)) >= -1e-6
        heads = [s for s, x in enumerate(now["stores"]) if x.after is None]
        asked = now["load_w"][j, heads].sum() * now["step_h"]
        if not now["tier_w"].shape[1] and not now["controls"].owes_w.any():
            assert t.served_wh + t.unserved_wh == pytest.approx(asked)


@settings(max_examples=40)
@given(st.integers(0, 2**32 - 1))
def test_the_compiled_march_is_the_plain_one(seed):
    now = network(seed, m=1, n=40)
    compiled, fast = run_many(**now, with_charge=True, with_tally=True, until_dark=False), flow.march
    flow.march = flow.march.py_func
    try:
        told = run_many(**now, with_charge=True, with_tally=True, until_dark=False)
    finally:
        flow.march = fast
    np.testing.assert_allclose(compiled.charge, told.charge, atol=1e-9)
    np.testing.assert_allclose(compiled.tally, told.tally, rtol=1e-7, atol=1e-6)
    np.testing.assert_allclose(compiled.first_dark_h, told.first_dark_h, atol=1e-9)


@settings(max_examples=300)
@given(st.integers(0, 2**32 - 1), st.booleans(), st.booleans())
def test_the_short_ways_are_the_whole_way(seed, told, until_dark):
    """A store by itself takes a shorter way while nothing changes; with a place to be away from, it takes the whole one."""
    now = network(seed, m=2, most=1) | {"grid": None, "away": None}
    now["start"] = np.maximum(now["start"], 0.3)
    whole = now | {"away": Absence(np.ones((1, now["load_w"].shape[2])), np.ones(1))}
    short, long = (run_many(**x, with_charge=told, with_tally=told, until_dark=until_dark) for x in (now, whole))
    np.testing.assert_allclose(short.first_dark_h, long.first_dark_h, atol=1e-9)
    np.testing.assert_allclose(short.charge, long.charge, atol=1e-9)
    np.testing.assert_allclose(short.tally, long.tally, rtol=1e-7, atol=1e-6)


def test_what_was_compiled_is_known_by_all_it_depends_on(monkeypatch):
    march = flow.march._function
    before = fingerprint(march)
    monkeypatch.setattr(flow, "OWED", 0.7)
    assert fingerprint(march) != before
    monkeypatch.undo()
    assert fingerprint(march) == before
    monkeypatch.setattr(flow, "rises_to", inlined(lambda now, x, s, mark: None))
    assert fingerprint(march) != before
    with pytest.raises(ImportError, match="same file"):
        _compiled(march)


@pytest.mark.parametrize("kind", [flow.STATE, flow.TURN, flow.NOW, STORE, TIER, ENGINE])
def test_no_field_of_a_record_hides_behind_a_method_of_numpy(kind):
    """As plain Python a record's field is an attribute, and a method of the same name would be read in its place."""
    assert [name for name in kind.names if hasattr(np.record, name)] == []


def test_one_run_is_one_member():
    now = network(7, m=3)
    many = run_many(**now, with_charge=True, until_dark=False)
    for j in range(3):
        stores = [
            replace(s, deliverable=float(f / s.nominal_wh))
            for s, f in zip(now["stores"], now["full_wh"][j], strict=True)
        ]
        trace = run_one(
            stores,
            now["start"][j].tolist(),
            now["load_w"][j],
            now["step_h"],
            controls=now["controls"],
            grid=now["grid"],
            sun_w=None if now["sun_w"] is None else now["sun_w"][j],
            tier_w=now["tier_w"][j],
            away=now["away"],
        )
        np.testing.assert_allclose(trace.charge, many.charge[j], atol=1e-9)
        np.testing.assert_allclose(trace.dark_h, many.first_dark_h[j], atol=1e-9)


def test_without_its_compiler_it_runs_as_plain_python():
    code = (
        "import numpy as np; from imbuto.core.run.network import Store, run_one; s = Store(nominal_wh=4096, "
        "efficiency=0.93, idle_w=18);"
        "print(run_one([s], [1.0], np.full((1, 300), 150.0), 1 / 12).first_dark_h)"
    )
    said = subprocess.run(
        [sys.executable, "-c", code], env=os.environ | {"NUMBA_DISABLE_JIT": "1"}, capture_output=True, check=True
    )
    assert float(said.stdout) == pytest.approx(20.561, abs=0.0006)


@given(st.floats(10, 3000), st.floats(0, 0.5), st.integers(1, 48))
def test_hours_are_the_same_at_any_step(load_w, floor, n):
    """Steady loads: the step length does not matter, since the dark is interpolated."""
    store = Store(nominal_wh=2000, floor=floor, idle_w=10)
    coarse = one(store, 1.0, [load_w] * 400, 1.0, until_dark=True).first_dark_h
    fine = one(store, 1.0, [load_w] * 400 * n, 1 / n, until_dark=True).first_dark_h
    assert coarse == pytest.approx(fine)
