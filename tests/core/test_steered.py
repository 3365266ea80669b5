"""What is switched on the way: turns by charge and surplus, a generator in both schools, a restart by hand, what
thermostats owe; and the vectorised one against the plain one, member by member."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from imbuto.core.balance import Store
from imbuto.core.controls import Controls, Engine, Tier, at_height, fuel_line
from imbuto.core.helm import Helm
from imbuto.core.members import balance_members
from imbuto.core.steered import steered

STILL, EACH = fuel_line(2800, 0.9, 1.5)


def controls(n: int, **kw) -> Controls:
    always, none = np.ones(n, dtype=bool), np.zeros(n)
    plain = {"tiers": (), "engine": None, "awake": always, "engine_may": always, "owes_w": none, "gap_w": none}
    return Controls(**(plain | {"delay_h": 0.0, "hands": True, "by_itself": False} | kw))


def engine(**kw) -> Engine:
    plain = {
        "running_w": 2800,
        "charger_w": 1500,
        "still_l_h": STILL,
        "l_per_wh": EACH,
        "fuel_l": 1e6,
        "by_hand": False,
    }
    return Engine(**(plain | kw))


def test_fuel_is_a_line_through_half_and_full_load():
    assert pytest.approx(0.3) == STILL
    assert engine().l_h(1400) == pytest.approx(0.9)
    assert engine().l_h(2800) == pytest.approx(1.5)
    assert fuel_line(1000, 0.3, 0.9) == (0.0, pytest.approx(0.0009))  # never below nothing at no load
    assert at_height(2800, 1500) == pytest.approx(2800 * 0.825)


CHECK = Store(nominal_wh=20_000, floor=0.1, efficiency=0.94, idle_w=20, taper=False, standby_w=0)


def test_carrying_the_house_burns_what_the_check_figure_says():
    n = 12 * 24
    trace = steered(CHECK, 1.0, [320.0] * n, [], 1 / 12, controls(n, engine=engine(school="carry")))
    assert trace.tally.fuel_l == pytest.approx(10.491, rel=0.001)
    assert trace.tally.engine_h == pytest.approx(24)
    assert trace.charge[-1] == 1.0


def test_filling_and_stopping_burns_half_of_that():
    """Over many days: 4.970 h and 5.368 l a day, by the check figure."""
    days = 60
    n = 60 * 24 * days
    trace = steered(CHECK, 0.5, [320.0] * n, [], 1 / 60, controls(n, engine=engine(start_at=0.3, stop_at=0.7)))
    ran_h, stored = trace.tally.engine_h, (trace.charge[-1] - 0.5) * CHECK.available_wh
    missing_h = stored / (1500 * 0.92)  # what was stored over the whole time needed no running
    assert (ran_h - missing_h) / days == pytest.approx(4.970, rel=0.003)
    assert trace.tally.fuel_l / ran_h == pytest.approx(5.368 / 4.970, rel=0.001)
    assert trace.first_dark_h is None


def test_a_station_that_only_passes_power_on_stores_none_of_it():
    n = 12 * 24
    trace = steered(CHECK, 0.4, [320.0] * n, [], 1 / 12, controls(n, engine=engine(charger_w=0, start_at=0.25)))
    assert trace.tally.ac_in_wh == 0
    assert trace.tally.bypass_wh > 0


def test_an_engine_nobody_can_start_stands_and_fuel_ends():
    n = 12 * 200
    still = steered(CHECK, 1.0, [320.0] * n, [], 1 / 12, controls(n, engine=engine(by_hand=True), hands=False))
    assert still.tally.engine_h == 0
    some = steered(CHECK, 1.0, [320.0] * n, [], 1 / 12, controls(n, engine=engine(fuel_l=5.0)))
    assert some.tally.fuel_l == pytest.approx(5.0)
    assert some.first_dark_h > still.first_dark_h


def test_a_hand_comes_after_its_delay_and_not_at_night():
    n = 12 * 24
    store = Store(nominal_wh=5000, floor=0.1, standby_w=0, idle_w=0)
    asleep = np.arange(n) < 12 * 8  # until 8 h on
    by_day = controls(n, awake=~asleep, delay_h=0.5)
    trace = steered(store, 0.1, [0.0] * n, [], 1 / 12, by_day, solar_w=[600.0] * n)
    assert [e.kind for e in trace.events] == ["dark", "back"]
    assert trace.events[1].hour == pytest.approx(8.5)
    alone = steered(store, 0.1, [0.0] * n, [], 1 / 12, controls(n, hands=False), solar_w=[600.0] * n)
    assert [e.kind for e in alone.events] == ["dark"]


def test_turns_by_charge_keep_five_points_apart():
    n = 12 * 30
    tier = Tier(by="charge", off_below=0.5, on_from=0.55, by_hand=False)
    store = Store(nominal_wh=1000, floor=0.0, efficiency=1, idle_w=0, taper=False)
    trace = steered(store, 1.0, [0.0] * n, [[100.0] * n], 1 / 12, controls(n, tiers=(tier,)))
    assert trace.charge[-1] == pytest.approx(0.5, abs=0.01)
    assert [on for (on,) in trace.tiers_on].count(True) == pytest.approx(60, abs=1)
    sun = [0.0] * 120 + [40.0] * 240
    lit = steered(store, 1.0, [0.0] * n, [[100.0] * n], 1 / 12, controls(n, tiers=(tier,)), solar_w=sun)
    again = next(i for i, (on,) in enumerate(lit.tiers_on) if i > 120 and on)
    assert lit.charge[again] >= 0.55


def test_surplus_feeds_only_what_the_battery_has_no_room_for():
    n = 12 * 10
    tier = Tier(by="surplus", off_below=0.90, on_from=0.95, by_hand=False)
    store = Store(nominal_wh=2000, floor=0.0, efficiency=1, idle_w=0)
    sun = [0.0] * 36 + [800.0] * 48 + [0.0] * 36
    trace = steered(store, 1.0, [50.0] * n, [[400.0] * n], 1 / 12, controls(n, tiers=(tier,)), solar_w=sun)
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
    plain = steered(store, 0.1, [60.0] * n, [], 1 / 12, controls(n, awake=awake, delay_h=1 / 12), solar_w=sun)
    owes = steered(store, 0.1, [60.0] * n, [], 1 / 12, controls(n, awake=awake, delay_h=1 / 12, **owing), solar_w=sun)
    away = plain.tally.dark_h
    assert owes.tally.served_wh - plain.tally.served_wh == pytest.approx(0.8 * 60 * away, rel=1e-6)


@settings(max_examples=60)
@given(
    st.integers(0, 2**32 - 1), st.booleans(), st.sampled_from([None, "fill", "carry"]), st.booleans(), st.booleans(),
    st.sampled_from([0.0, 0.5]), st.booleans(),
)  # fmt: skip
def test_every_steered_member_is_what_the_plain_one_gives(seed, sun, school, by_itself, by_hand, delay, hands):
    rng = np.random.default_rng(seed)
    n, m, step_h = 120, 5, 0.25
    full, start = rng.uniform(800, 6000, m), rng.choice([1.0, 0.05, rng.uniform()], m)
    load = rng.uniform(0, 500, (n, m))
    tiers_w = [rng.uniform(0, 400, (n, m)) for _ in range(2)]
    light = rng.uniform(0, 1500, (n, m)) * (rng.random((n, 1)) < 0.5) if sun else None
    tiers = (
        Tier(by="charge", off_below=0.4, on_from=0.45, by_hand=by_hand),
        Tier(by="surplus", off_below=0.90, on_from=0.95, by_hand=False),
    )
    motor = engine(school=school, fuel_l=rng.uniform(0, 20), by_hand=by_hand) if school else None
    now = controls(
        n, tiers=tiers, engine=motor, awake=rng.random(n) < 0.7, engine_may=rng.random(n) < 0.8, delay_h=delay,
        hands=hands, by_itself=by_itself, owes_w=rng.uniform(0, 80, n), gap_w=rng.uniform(0, 90, n),
    )  # fmt: skip
    common = {"floor": 0.1, "efficiency": 0.93, "idle_w": 21.0, "restarts_itself": by_itself}
    found = balance_members(Store(nominal_wh=1, **common), full, start, load, step_h, light, Helm(now, m), tiers_w)
    for k in range(m):
        one = steered(
            Store(nominal_wh=float(full[k]), **common), float(start[k]), load[:, k].tolist(),
            [w[:, k].tolist() for w in tiers_w], step_h, now, solar_w=None if light is None else light[:, k].tolist(),
        )  # fmt: skip
        dark = np.inf if one.first_dark_h is None else one.first_dark_h
        assert found.first_dark_h[k] == pytest.approx(dark, abs=1e-7)
        np.testing.assert_allclose(found.charge[:, k], one.charge, atol=1e-7)
        assert found.served_wh[k] == pytest.approx(one.tally.served_wh, rel=1e-6, abs=1e-5)
        came = start[k] * full[k] + found.solar_wh[k] + found.ac_in_wh[k] + found.bypass_wh[k]
        went = found.charge[-1, k] * full[k] + found.served_wh[k] + found.lost_wh[k]
        assert came == pytest.approx(went, rel=1e-6)
