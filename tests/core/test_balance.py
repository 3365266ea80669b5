"""The balance against the check figures, and energy conserved to 1e-6 of throughput."""

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from imbuto.core.balance import Store, Trace, balance, capacity_factor
from imbuto.core.equipment import shipped

PLAIN = {"standby_w": 0.0, "mppt_efficiency": 1.0, "taper": False, "restarts_itself": True}


def hours(store: Store, load_w: float, start: float = 1.0) -> float:
    dark = balance(store, start, [load_w] * 12 * 48, 1 / 12).first_dark_h
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
    trace = balance(store, 1.0, load, step_h, solar_w=solar)
    assert trace.first_dark_h == pytest.approx(dark_h, rel=tolerance)
    if served_wh:
        assert trace.tally.served_wh == pytest.approx(served_wh, rel=tolerance)


def test_an_hour_of_sun_stores_the_surplus():
    store = Store(nominal_wh=9000, efficiency=0.94, idle_w=30)
    trace = balance(store, 0.5, [400] * 12, 1 / 12, solar_w=[700] * 12)
    assert (trace.charge[-1] - 0.5) * 9000 == pytest.approx(216.76, abs=0.005)


def test_it_comes_back_when_the_sun_has_brought_five_points():
    store = Store(nominal_wh=5000, floor=0.1, standby_w=12, restarts_itself=True)
    trace = balance(store, 0.1, [50] * 288, 1 / 12, solar_w=[0] * 132 + [300] * 156)  # from 21:00, sun from 8:00
    back = next(e.hour for e in trace.events if e.kind == "back")
    assert back == pytest.approx(11 + 1 + 24 / 60 + 41 / 3600, abs=1 / 3600)


def test_without_a_hand_it_stays_dark():
    store = Store(nominal_wh=5000, floor=0.1, restarts_itself=False)
    trace = balance(store, 0.1, [50] * 288, 1 / 12, solar_w=[300] * 288)
    assert [e.kind for e in trace.events] == ["dark"]
    assert trace.tally.served_wh == 0


def test_charging_tapers_near_full():
    store = Store(nominal_wh=4000, floor=0, efficiency=1, idle_w=0, ac_charge_efficiency=0.92)
    trace = balance(store, 0.1, [0] * 300, 1 / 60, ac_charge_w=1000)
    full = next(i for i, c in enumerate(trace.charge) if c >= 1 - 1e-9)
    before = (trace.charge[full - 1], trace.charge[full - 2])
    last = (1 - before[0]) / (before[0] - before[1])  # within the last minute it slows no further to speak of
    assert (full - 1 + last) / 60 == pytest.approx(4.353, rel=0.001)


def test_the_refill_shown_beside_a_station_is_the_balances_own():
    station = replace(
        shipped().stations["firkin"], nominal_wh=1000, module_wh=3000, charge_w=600, charge_w_per_module=400
    )
    assert station.refill_h(1, start=0.10) == pytest.approx(4.353, rel=0.001)
    assert replace(station, charge_w=0, charge_w_per_module=0).refill_h(1) is None


def stored_wh(store: Store, trace: Trace, start: float) -> float:
    return (trace.charge[-1] - start) * store.available_wh


@settings(max_examples=150)
@given(
    nominal=st.floats(200, 30_000),
    floor=st.floats(0, 0.6),
    start=st.floats(0, 1),
    efficiency=st.floats(0.7, 1),
    idle=st.floats(0, 80),
    standby=st.floats(0, 20),
    by_itself=st.booleans(),
    taper=st.booleans(),
    ac=st.sampled_from([0.0, 0.0, 900.0]),
    load=st.lists(st.floats(0, 4000), min_size=1, max_size=60),
    sun=st.lists(st.sampled_from([0.0, 0.0, 300.0, 2500.0]), min_size=60, max_size=60),
)
def test_energy_in_is_energy_out_and_losses_and_change(
    nominal, floor, start, efficiency, idle, standby, by_itself, taper, ac, load, sun
):
    store = Store(
        nominal_wh=nominal, floor=floor, efficiency=efficiency, idle_w=idle, standby_w=standby,
        restarts_itself=by_itself, taper=taper,
    )  # fmt: skip
    trace = balance(store, start, load, 0.5, solar_w=sun[: len(load)], ac_charge_w=ac)
    t = trace.tally
    came_in = t.solar_wh + t.ac_in_wh
    went = t.served_wh + t.lost_wh + stored_wh(store, trace, start)
    throughput = came_in + t.served_wh + t.lost_wh + nominal
    assert came_in - went == pytest.approx(0, abs=1e-6 * throughput)
    assert all(-1e-9 <= c <= 1 + 1e-9 for c in trace.charge)
    assert t.served_wh + t.unserved_wh == pytest.approx(sum(load) * 0.5)


@given(st.floats(10, 3000), st.floats(0, 0.5), st.integers(1, 48))
def test_hours_are_the_same_at_any_step(load_w, floor, n):
    """Steady loads: the step length does not matter, since the dark is interpolated."""
    store = Store(nominal_wh=2000, floor=floor, idle_w=10)
    coarse = balance(store, 1.0, [load_w] * 400, 1.0, stop_when_dark=True).first_dark_h
    fine = balance(store, 1.0, [load_w] * 400 * n, 1 / n, stop_when_dark=True).first_dark_h
    assert coarse == pytest.approx(fine)
