"""A year of ordinary days: energy is conserved, bills add up, and only what is used saves."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import linprog

from imbuto.core.basics.clock import Window, inside
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.everyday.everyday_modes import can_do
from imbuto.core.everyday.ordinary_year import year_of
from imbuto.core.everyday.readiness import charge_at, lasts, readiness, ready_again_h, year_with_missed_switches
from imbuto.core.everyday.year_ground import STEP_H, Ground, air_of, ground, skies_of
from imbuto.core.everyday.yearly_bill import bill, step_prices
from imbuto.core.home.tariff import Rate, Tariff, Tier, check_tariff, tariff_on
from imbuto.core.plan.entered.cost_entries import Cost, Credit, check_costs, credit_amount, payback_years, wear_a_kwh
from imbuto.core.plan.everyday_policy import Everyday, Mode, check_everyday
from imbuto.core.plan.sources import Engine
from tests.core.run.test_several import BOX
from tests.support import OUTAGE, corded, load, switched

NIGHT = (Window(start_h=23, end_h=6),)
REST = (Window(start_h=6, end_h=17), Window(start_h=22, end_h=23))
EVENING = (Window(start_h=17, end_h=22),)
FLAT = Tariff(id="f", name="Flat", since=date(2020, 1, 1), rates={"a": Rate(id="a", name="All day", price=0.3)})
TWO = Tariff(
    id="t",
    name="Two",
    since=date(2020, 1, 1),
    rates={
        "n": Rate(id="n", name="Night", price=0.19, windows=NIGHT),
        "d": Rate(id="d", name="Day", price=0.48),
    },
)


def year_ground(station=BOX, sun_w: float = 0.0, watts: float = 200.0) -> Ground:
    """A year of one steady load on cords, and panels that give a half sine by day."""
    x = corded(load("lamp", watts), station=station)
    g = ground(x.home, x.plan, _catalogue(x, station), "main", [OUTAGE], 2026)
    light = np.maximum(np.sin((g.steps.hour - 7) / 10 * np.pi), 0.0) * (g.steps.hour > 7) * (g.steps.hour < 17)
    return replace(g, suns_w=(sun_w * light)[None])


def _catalogue(x, station):
    return Catalogue(stations={station.id: station}).over(shipped())


def cost_of(g: Ground, y, tariff: Tariff) -> tuple[float, float]:
    """A year without the plan, and with it."""
    tariffs = {tariff.id: tariff}
    p, kwh = step_prices(tariffs, g.steps, g.days, g.day), STEP_H / 1000
    none = np.zeros(g.steps.n)
    before = bill(tariffs, p, g.days, g.day, (g.fed_w + g.rest_w) * kwh, none)
    after = bill(tariffs, p, g.days, g.day, (y.bought_w + g.rest_w) * kwh, y.given_w * kwh)
    return before.total, after.total


@pytest.mark.parametrize("rest", ["stand", "sun", "store", "charge"])
@pytest.mark.parametrize("sun_w", [0.0, 900.0])
def test_a_year_conserves_energy(rest, sun_w):
    g = year_ground(replace(BOX, idle_w=12, efficiency=0.93), sun_w)
    y = year_of(g, Everyday(rest=rest, hold=0.3, resume=0.4, refill=0.35))
    t, store = y.trace.tally, y.store
    came = t.solar_wh + t.ac_in_wh + t.grid_wh
    change = (y.charge[-1] - y.charge[0]) * store.available_wh
    assert came == pytest.approx(t.served_wh + t.lost_wh + change, rel=1e-6)
    assert float(y.bought_w.sum()) * STEP_H == pytest.approx(t.grid_wh + t.ac_in_wh, rel=1e-9)
    assert float(y.thrown_w.sum()) * STEP_H == pytest.approx(t.curtailed_wh, rel=1e-9, abs=1e-6)
    assert y.unserved_wh == 0


def test_one_that_does_nothing_adds_its_own_draw_to_the_bill_of_the_loads():
    g = year_ground(replace(BOX, idle_w=12))
    y = year_of(g, Everyday())
    before, after = cost_of(g, y, FLAT)
    assert before == pytest.approx(200 * 8760 / 1000 * 0.3, rel=1e-3)
    assert after - before == pytest.approx(12 * 8760 / 1000 * 0.3, rel=1e-3)


def test_a_flat_tariff_saves_nothing_by_shifting_and_two_prices_save_what_the_sum_says():
    station = replace(BOX, efficiency=0.9, charge_efficiency=0.9, nominal_wh=2000)
    g = year_ground(station, watts=150)
    shift = Everyday(
        rest="stand",
        hold=0.1,
        resume=0.1,
        refill=0.1,
        modes={
            "d": Mode(id="d", name="Evening", use="store", windows=EVENING),
            "h": Mode(id="h", name="Hold", use="sun", windows=REST),
        },
    )
    y = year_of(g, shift)
    flat_before, flat_after = cost_of(g, y, FLAT)
    assert flat_after > flat_before
    before, after = cost_of(g, y, TWO)
    kwh = 365 * 5 * 0.150
    assert before - after == pytest.approx(shifting_saves(kwh, 0.48, 0.19, 0.9 * 0.9), rel=0.01)


def shifting_saves(kwh: float, dear: float, cheap: float, round_trip: float, wear: float = 0.0) -> float:
    """By hand: what is saved by storing energy cheap and using it dear. wear: per kWh delivered."""
    return kwh * (dear - cheap / round_trip - wear)


def test_only_sun_that_is_used_saves():
    """A made-up month by a plain sum: what the sun carries by day is not bought, what is over is thrown away."""
    g = year_ground(replace(BOX, idle_w=0), 400.0)
    y = year_of(g, Everyday(rest="sun", hold=0.9, resume=0.95, refill=0.9))
    at = g.months == 5
    light = g.sun_w[at] * 0.97
    by_hand = np.maximum(200 - light, 0).sum() * STEP_H
    assert float(y.bought_w[at].sum()) * STEP_H == pytest.approx(by_hand, rel=1e-6)
    assert y.given_w.sum() == 0
    agreed = year_of(g, Everyday(rest="sun", hold=0.9, resume=0.95, refill=0.9, exports="agreed"))
    assert float(agreed.given_w.sum()) == pytest.approx(float(y.thrown_w.sum()) * BOX.efficiency)


def test_the_best_clock_setting_found_beats_none_and_comes_near_a_linear_bound():
    """One made-up week, every start of a charging window and every hold: the best of them against a linear program's
    bound."""
    station = replace(BOX, nominal_wh=3000, efficiency=0.9, charge_efficiency=0.9, charge_w=600)
    g = year_ground(station, watts=180)
    prices = np.where((g.steps.hour >= 23) | (g.steps.hour < 6), 0.19, 0.48)
    week = slice(7 * 96, 14 * 96)

    def week_cost(everyday: Everyday) -> float:
        y = year_of(g, everyday, start=0.1)
        return float((y.bought_w[week] * prices[week]).sum()) * STEP_H / 1000

    def setting(start: int, hold: float) -> Everyday:
        charge = Mode(id="c", name="Cheap", use="charge", windows=(Window(start_h=start, end_h=6),))
        return Everyday(rest="store", hold=hold, resume=min(hold + 0.01, 1), refill=hold, modes={"c": charge})

    holds = [round(h, 2) for h in np.arange(0.10, 0.96, 0.05)]
    tried = {(s, h): week_cost(setting(s, h)) for s in (*range(7, 24), *range(6)) for h in holds}
    best, chosen = min(tried, key=lambda k: tried[k]), setting(23, 0.1)
    nothing = float(180 * prices[week].sum()) * STEP_H / 1000
    assert nothing - week_cost(chosen) >= 0.97 * (nothing - tried[best])
    # Bound: hourly charging c and giving d, no taper, the same losses.
    n, hours = 168, prices[week].reshape(-1, 4).mean(axis=1)
    cost = np.concatenate([hours / 1000, -hours / 1000])
    level = np.tril(np.ones((n, n)))
    up, down = np.hstack([level * 0.9, -level / 0.9]), -np.hstack([level * 0.9, -level / 0.9])
    found = linprog(
        cost,
        A_ub=np.vstack([up, down]),
        b_ub=np.concatenate([np.full(n, 2700.0 * 0.97), np.zeros(n)]),
        bounds=[(0, 600)] * n + [(0, 180)] * n,
    )
    assert found.status == 0
    assert (nothing - tried[best]) / -found.fun > 0.7  # the gap: its taper, and that a week has one setting


def test_readiness_rises_with_the_hold_and_money_falls():
    g = year_ground(replace(BOX, nominal_wh=4000), 900.0)
    g = replace(g, suns_w=g.suns_w * np.random.default_rng(5).uniform(0.05, 1, len(g.days))[g.day])
    each = []
    for hold in (0.1, 0.5, 0.9):
        y = year_of(g, Everyday(rest="store", hold=hold, resume=hold, refill=hold))
        each.append((readiness(y, 20).chance, float(y.bought_w.sum())))
    assert each[0][0] < each[1][0] < each[2][0]
    assert each[0][1] < each[1][1] < each[2][1]
    full = year_of(g, Everyday())
    r = readiness(full, 12)
    assert lasts(full, 12).min() == pytest.approx(12)
    assert 0.9 <= r.chance < 1  # a guessed load may draw more
    assert len(r.by_month) == 12
    y = year_of(g, Everyday(rest="store", hold=0.2, resume=0.2, refill=0.2))
    assert 0.2 <= charge_at(y, datetime(2026, 7, 1, 19)) <= 1
    assert ready_again_h(y, 0.1) is not None
    cheap = Everyday(
        rest="store", hold=0.2, resume=0.2, refill=0.2, modes={"c": Mode(id="c", name="C", use="charge", windows=NIGHT)}
    )
    assert readiness(year_with_missed_switches(g, cheap), 16).chance <= readiness(year_of(g, cheap), 16).chance


def test_without_any_grid_what_the_sun_does_not_bring_is_not_served_unless_an_engine_does():
    x = corded(
        load("lamp", 100),
        station=replace(BOX, charge_w=300),
        engine=Engine(generator="ember", source="main", stock_l=20),
    )
    g = ground(x.home, x.plan, _catalogue(x, x.station), "main", [OUTAGE], 2026)
    bare = replace(g, line=(replace(x, plan=replace(x.plan, engine=None)),))
    alone = year_of(bare, Everyday(no_grid=True))
    assert alone.bought_w.sum() == 0
    assert alone.unserved_wh == pytest.approx(100 * 8760 - alone.trace.tally.served_wh)
    assert alone.unserved_wh > 0.99 * 100 * 8760
    driven = year_of(g, Everyday(no_grid=True))
    assert driven.trace.tally.engine_h > 100
    assert driven.trace.fuel_l.sum() == pytest.approx(driven.trace.tally.fuel_l)
    assert driven.unserved_wh < 0.2 * alone.unserved_wh


def test_what_the_joining_cannot_do_is_not_offered():
    x = corded(load("lamp", 100), station=BOX)
    assert set(can_do(x).uses) == {"stand", "sun", "store", "charge"}
    by_hand, _ = switched((1, [load("lamp", 100)]), station=BOX)
    assert can_do(by_hand).by == ("hand",)
    assert "sun" not in can_do(by_hand).uses


def test_check_figures_of_money():
    assert shifting_saves(6, 0.48, 0.19, 0.86) == pytest.approx(1.554, abs=5e-4)
    assert 250 * shifting_saves(6, 0.48, 0.19, 0.86) == pytest.approx(388.6, abs=0.1)
    wear = wear_a_kwh(1450, 3900 * 0.9, 4000)
    assert wear == pytest.approx(0.1033, abs=5e-5)
    assert shifting_saves(6, 0.48, 0.19, 0.86, wear or 0) == pytest.approx(0.935, abs=1e-3)
    assert pytest.approx(2480) == 12_400 * (0.30 - 0.10)
    assert pytest.approx(20.8) == 80 * (0.31 - 0.05)
    credit = Credit(id="c", name="Credit", rate=0.3, of=("equipment",))
    assert 9300 - credit_amount(credit, {"equipment": 8000, "labour": 1300}, date(2026, 1, 1)) == pytest.approx(6900)
    assert payback_years(6900, 388.60, 0, 25) == pytest.approx(17.8, abs=0.05)
    assert payback_years(6900, 388.60, 0, 10) is None
    assert payback_years(100, -5, 0, 25) is None


def test_credits_have_their_time_their_threshold_and_their_cap():
    c = Credit(id="c", name="C", rate=0.5, threshold=1000, cap=700, begins=date(2026, 1, 1), ends=date(2026, 12, 31))
    assert credit_amount(c, {"equipment": 2000}, date(2026, 6, 1)) == 700
    assert credit_amount(c, {"equipment": 900}, date(2026, 6, 1)) == 0
    assert credit_amount(c, {"equipment": 2000}, date(2027, 1, 1)) == 0
    assert credit_amount(Credit(id="s", name="S", sum=300), {"other": 200}, date(2026, 1, 1)) == 200
    for bad in (
        Credit(id="x", name="X"),
        Credit(id="x", name="X", rate=0.1, sum=5),
        replace(c, id="x", ends=date(2025, 1, 1)),
    ):
        with pytest.raises(InvalidValue):
            check_costs({}, {"x": bad})
    with pytest.raises(InvalidValue):
        check_costs({"y": Cost(id="x", name="X", sum=1)}, {})


def test_bills_by_rate_tier_month_holiday_and_what_is_given():
    tariff = replace(
        TWO,
        fixed=10,
        tiers=(Tier(above_kwh=100, more=0.05),),
        export_price=0.05,
        holidays=(date(2026, 1, 1),),
        rates={
            "w": Rate(id="w", name="Weekend", price=0.1, windows=(Window(start_h=0, end_h=0, days="weekend"),)),
            "s": Rate(id="s", name="Summer", price=0.4, months=(6, 7, 8)),
            "r": Rate(id="r", name="Rest", price=0.3, months=(1, 2, 3, 4, 5, 9, 10, 11, 12)),
        },
    )
    check_tariff(tariff, "USD")
    g = year_ground()
    tariffs = {"t": tariff}
    p = step_prices(tariffs, g.steps, g.days, g.day)
    assert set(p.price[g.day == 0]) == {0.1}  # a holiday on a Thursday
    kwh = np.full(g.steps.n, 0.05)
    b = bill(tariffs, p, g.days, g.day, kwh, np.zeros(g.steps.n))
    assert b.total == pytest.approx(float((kwh * p.price).sum()) + 120 + (g.steps.n * 0.05 - 1200) * 0.05, rel=1e-9)
    assert sum(x.cost for x in b.lines) == pytest.approx(b.total)
    assert "fixed" in b.by_hand
    out = bill(tariffs, p, g.days, g.day, kwh, kwh)
    assert b.total - out.total == pytest.approx(float(kwh.sum()) * 0.05)
    net = {"t": replace(tariff, net=True, tiers=(), fixed=0)}
    assert bill(net, p, g.days, g.day, kwh, 3 * kwh).total == pytest.approx(0)
    later = replace(TWO, id="l", since=date(2026, 7, 1))
    assert [tariff_on({"a": TWO, "l": later}, d).id for d in (date(2026, 6, 30), date(2026, 7, 1))] == ["t", "l"]
    both = step_prices({"t": TWO, "l": replace(later, rates=FLAT.rates)}, g.steps, g.days, g.day)
    assert set(both.price[g.months == 8]) == {0.3}
    assert set(both.price[g.months == 2]) == {0.19, 0.48}


SOME = st.builds(
    Window, start_h=st.integers(0, 23), end_h=st.integers(0, 23), days=st.sampled_from(["all", "weekday", "weekend"])
)
RATE = st.builds(
    Rate,
    id=st.just("x"),
    name=st.just("X"),
    price=st.floats(-0.5, 2.9),
    windows=st.lists(SOME, max_size=2).map(tuple),
    months=st.sets(st.integers(1, 12), max_size=12).map(lambda m: tuple(sorted(m))),
)


@settings(max_examples=200)
@given(st.lists(RATE, max_size=4))
def test_a_tariff_that_stands_gives_every_hour_one_price_and_no_other_does(rates):
    tariff = replace(FLAT, rates={f"r{i}": replace(r, id=f"r{i}", name=f"R{i}") for i, r in enumerate(rates)})
    try:
        check_tariff(tariff, "EUR")
    except InvalidValue:
        return
    for month in range(1, 13):
        for weekend in (False, True):
            hour = np.arange(0, 24, 0.25) + 0.1
            there = [r for r in tariff.rates.values() if not r.months or month in r.months]
            named = np.zeros(len(hour))
            for r in there:
                if r.windows:
                    named += inside(r.windows, hour, np.full(len(hour), weekend))
            rest = sum(1 for r in there if not r.windows)
            assert (named <= 1).all()
            assert rest <= 1
            assert rest == 1 or (named == 1).all()


def test_what_is_not_a_price_a_week_or_a_hold_is_refused_with_a_sentence():
    wrong = [
        replace(FLAT, rates={"a": Rate(id="a", name="A", price=14)}),
        replace(FLAT, rates={}),
        replace(FLAT, export_price=-9),
        replace(TWO, tiers=(Tier(above_kwh=5, more=0.1), Tier(above_kwh=5, more=0.2))),
        replace(FLAT, rates={"b": Rate(id="a", name="A", price=0.1)}),
    ]
    for tariff in wrong:
        with pytest.raises(InvalidValue) as refused:
            check_tariff(tariff, "EUR")
        assert refused.value.sentence.endswith(".")
    check_tariff(replace(FLAT, rates={"a": Rate(id="a", name="A", price=30)}), "JPY")
    check_tariff(replace(FLAT, rates={"a": Rate(id="a", name="A", price=-0.02)}), "EUR")
    overlap = {k: Mode(id=k, name=k, use="store", windows=EVENING) for k in ("a", "b")}
    for policy in (
        Everyday(modes=overlap),
        Everyday(hold=0.05, resume=0.1, refill=0.1),
        Everyday(hold=0.5, resume=0.4),
    ):
        with pytest.raises(InvalidValue):
            check_everyday(policy, 0.1)


def test_a_year_has_its_days_through_clock_changes_leap_years_and_either_hemisphere():
    x = corded(load("lamp", 100), station=BOX)
    for zone in ("America/Los_Angeles", "Europe/Rome", "Australia/Sydney", "UTC"):
        home = replace(x.home, site=replace(x.home.site, time_zone=zone))
        for year, hours in ((2026, 8760), (2028, 8784)):
            g = ground(home, x.plan, _catalogue(x, BOX), "main", [OUTAGE], year)
            assert g.steps.n == hours * 4
            assert len(g.days) == hours // 24
            assert int(g.day[-1]) == len(g.days) - 1
            assert float(g.fed_w.mean()) == 100
    south = replace(x.home, site=replace(x.home.site, latitude=-35.0))
    assert air_of(south, [])[0] > air_of(south, [])[6]
    assert len(skies_of(x.home, 2026)) == 365
    assert skies_of(x.home, 2026) == skies_of(x.home, 2026)
