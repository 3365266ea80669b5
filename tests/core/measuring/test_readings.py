"""What readings make of a load: a day stays a day, a highest is no running watts, conditions are carried."""

from dataclasses import replace
from datetime import UTC, date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from imbuto.core.advice.house_totals import UtilityBill, billed_wh_day
from imbuto.core.basics.clock import Window
from imbuto.core.home.home import Site
from imbuto.core.home.loads import Load, TriedStart, Use, mean_w
from imbuto.core.measuring.readings import Reading, as_read, figures, gauge_average_w, gives, winners
from imbuto.core.measuring.text_field import understand
from imbuto.core.plan.load_conditions import as_used
from imbuto.core.plan.plan import Plan
from imbuto.core.run.battery_store import Store
from tests.core.limits.test_protection import again, limits
from tests.support import OUTAGE, STATION, load, switched

NIGHT = Use(kind="windows", windows=(Window(start_h=22, end_h=7),))
USES = (Use(), NIGHT, Use(kind="tasks", times=(8, 18), minutes=45), Use(kind="daily", hours=5), Use(kind="cycling"))


def noted(item: Load, *texts: str, **more: object) -> Load:
    """The load once these readings were noted."""
    at = datetime(2026, 11, 1, tzinfo=UTC)
    kept = [Reading(id=t, load=item.id, at=at, raw=t, **more) for t in texts]  # type: ignore[arg-type]
    return replace(item, **figures(item, winners([g for r in kept for g in gives(item, r, as_read(r), None)])))  # type: ignore[arg-type]


@given(
    kwh=st.floats(0.05, 20),
    days=st.integers(1, 30),
    count=st.integers(1, 8),
    rest=st.sampled_from([0.0, 1.0, 30.0]),
    use=st.sampled_from(USES),
)
def test_a_days_energy_stays_a_days_energy(kwh, days, count, rest, use):
    item = load("x", 130, 100, rest_w=rest, use=use, count=count)
    typed = float(f"{kwh * days:.3f}")
    then = noted(item, f"{typed} kWh in {24 * days} h")
    assert 24 * mean_w(then) == pytest.approx(1000 * typed / days, rel=2e-5, abs=0.02)


def test_the_cases_that_were_seen():
    assert 24 * mean_w(noted(load("x", 305, use=NIGHT), "2.4 kWh a day")) == pytest.approx(2400, abs=0.01)
    lamps = noted(
        load("lamps", 11, use=Use(kind="windows", windows=(Window(start_h=17, end_h=23),)), count=8), "0.6 kWh in 24 h"
    )
    assert 24 * mean_w(lamps) == pytest.approx(600, abs=0.02)
    heater = noted(load("h", 900), "1200 W 5 hours a day")
    assert (heater.run_w, heater.use.kind, heater.use.hours) == (1200, "daily", 5)
    assert 24 * mean_w(heater) == pytest.approx(6000)
    assert noted(load("l", 20), "8 lamps at 11 W").count == 8


def test_a_meters_highest_bounds_the_running_watts_and_is_never_multiplied_into_a_start():
    fridge = load("f", 130, 60, kind="compressor", power_factor=0.65, use=Use(kind="cycling"))
    then = noted(fridge, "0.24 kWh in 3 h, low 6 W, high 410 W")
    assert (then.average_w, then.run_w, then.highest_w) == (80, 130, 410)
    assert noted(fridge, "0.24 kWh in 3 h, high 110 W").run_w == 110
    now, _ = switched((1, [then]))
    found = limits(now)
    assert found["together_w"].used == pytest.approx(410)  # a defrost runs for minutes: it counts once, as W
    assert found["start:total"].used == pytest.approx(14 * 130)  # its highest by kind, of full-load watts
    assert found["start:total"].evidence == "default"


def test_a_summer_reading_is_not_raised_for_summer_again():
    fridge = Load(
        id="r",
        name="Fridge",
        kind="compressor",
        purpose="food",
        average_w=52,
        rest_w=2,
        run_w=102,
        use=Use(kind="cycling"),
    )
    plan, site = Plan(id="p", name="P"), Site(time_zone="UTC")

    def in_heat(item: Load) -> float:
        return as_used(item, plan, replace(OUTAGE, indoors_c=30), site).average_w

    assert in_heat(noted(fridge, "1.248 kWh in 24 h")) == pytest.approx(2 + 50 * 1.32, abs=0.01)  # unknown: 22 °C
    assert in_heat(noted(fridge, "1.248 kWh in 24 h in a room of 30 °C")) == pytest.approx(52)
    assert in_heat(noted(fridge, "1.248 kWh in 24 h in a room of 86 °F")) == pytest.approx(52)
    assert in_heat(noted(fridge, "1.248 kWh in 24 h", season="warm")) == pytest.approx(2 + 50 * 1.12, abs=0.01)


def test_a_gauge_counts_its_steps_and_what_came_in():
    store = Store(nominal_wh=3000, deliverable=0.97, health=0.95, cold=0.9, idle_w=15, efficiency=0.93)
    average, _ = gauge_average_w(understand("71 to 58% in 9 h, 0.4 kWh came in"), store)
    assert average == pytest.approx((0.13 * 3000 * 0.97 * 0.95 * 0.9 + 400 - 9 * 15) * 0.93 / 9)
    coarse = gauge_average_w(understand("71 to 58% in 9 h"), store)
    fine = gauge_average_w(understand("71.0 to 58.0% in 9 h"), store)
    assert fine[0] == coarse[0]
    assert fine[1] < coarse[1]


def test_a_start_that_was_tried_holds_for_those_conditions_and_milder_ones():
    pump = load("pump", 400, kind="pump", power_factor=1.0, start_va=9000)
    lamp = load("lamp", 500)
    tried = TriedStart(station="test", on=date(2026, 9, 3), charge=0.6, cell_c=10, others_va=500)

    def start(change: dict[str, object] | None, cell_c: float = 25) -> bool:
        item = replace(pump, tried=(replace(tried, **change),)) if change is not None else pump
        now, _ = switched((1, [item]), (2, [lamp]))
        warm = replace(OUTAGE, indoors_c=cell_c)
        from imbuto.core.limits.all_limits import fit

        return {x.id: x for x in fit(again(now), warm)}["start:total"].ok

    assert not start(None)
    assert start({})
    assert not start({"others_va": 400})  # more runs now than ran then
    assert not start({"station": "another"})
    assert not start({}, cell_c=5)
    assert start({}, cell_c=8)  # two degrees are a thermometer's
    assert not start({"modules": 1})
    assert start({"leg": "B"})  # of the whole station nobody asks which leg
    now, _ = switched((1, [replace(pump, tried=(tried,))]), (2, [lamp]))
    assert not limits(now)["start:low"].ok  # at 60 %; nobody tried below
    now, _ = switched((1, [replace(pump, tried=(replace(tried, others_va=400),))]), (2, [lamp]))
    said = limits(now)["start:total"].sentence  # what the proof still lacks
    assert "It started on 2026-09-03 with 400 VA running; up to 500 VA may run with it here. Try it again" in said
    assert STATION.surge_va == 8000


def test_a_default_that_alone_breaks_a_limit_says_so():
    now, _ = switched((1, [load("pump", 1500, kind="pump", power_factor=1.0)]))
    broken = limits(now)["start:total"]
    assert not broken.ok
    assert (broken.severity, broken.evidence) == ("may", "default")
    assert "Measure the start of Pump, or enter its label's. Up to 8,000 VA fits." in broken.sentence
    assert broken.load == "pump"


def test_bills_over_the_same_dates_add_and_gaps_are_named():
    a, b, c = date(2026, 1, 1), date(2026, 1, 31), date(2026, 3, 2)
    day, night = UtilityBill("day meter", 300_000, 720, a, b), UtilityBill("night meter", 120_000, 720, a, b)
    assert billed_wh_day([day, night]) == (pytest.approx(420_000 / 30), ())
    later = UtilityBill("next", 240_000, 720, b, c)
    assert billed_wh_day([day, later])[0] == pytest.approx(540_000 / 60)
    april = UtilityBill("april", 300_000, 720, date(2026, 4, 1), date(2026, 5, 1))
    assert billed_wh_day([day, april])[1] == ("Nothing is entered from 2026-01-31 to 2026-04-01.",)
    half = UtilityBill("half", 150_000, 360, date(2026, 1, 16), b)
    mean, minded = billed_wh_day([day, half])
    assert mean == pytest.approx(450_000 / 30)
    assert "overlap from 2026-01-16 to 2026-01-31" in minded[0]
    dated = understand("bill 420 kWh 2026-01-01 to 2026-01-31")
    assert (dated.begins, dated.ends, dated.hours) == (a, b, 720)


def test_hp_is_its_usual_watts_and_only_a_submersible_runs_into_its_service_factor():
    assert understand("1/2 hp").run_w == pytest.approx(746 * 0.5 / 0.65)
    assert understand("1/2 hp").high_w == pytest.approx(746 * 0.5 / 0.65 * 1.15)
    assert understand("1 hp submersible").run_w == pytest.approx(746 / 0.75 * 1.5)
    assert understand("1 hp submersible 230 V max 6 A").run_w == pytest.approx(min(746 / 0.75 * 1.5, 1380))


def test_a_logs_figures_are_kept_as_they_were_found():
    kept = Reading(
        id="r",
        load="x",
        at=datetime(2026, 11, 1, tzinfo=UTC),
        raw="log 168 h, average 58.2 W",
        figures={"average_w": 58.2468},
    )
    assert as_read(kept).average_w == 58.2468
