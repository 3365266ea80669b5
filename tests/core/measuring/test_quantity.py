"""The text field: many ways of writing a label or a reading, and what is refused with a helpful sentence."""

from datetime import UTC, datetime

import pytest

from imbuto.core.home.loads import Use
from imbuto.core.measuring.figure_scan import to_number
from imbuto.core.measuring.readings import Reading, figures, gauge_average_w, gives, winners
from imbuto.core.measuring.text_field import understand
from imbuto.core.measuring.understood_text import NotUnderstood
from imbuto.core.run.battery_store import Store
from tests.support import load

HP = 746
UNDERSTOOD = [
    # plug-in meters
    ("0.24 kWh in 3 h", {"kind": "meter", "average_w": 80, "hours": 3}),
    ("0.43 kWh in 6.5 h", {"average_w": 66.1538}),
    ("0,24 kWh in 3 h", {"average_w": 80}),
    ("2.78kWh/48h", {"average_w": 57.9167}),
    ("2.78 kWh over 48 hours", {"average_w": 57.9167}),
    ("2.78 kWh 48 h", {"average_w": 57.9167}),
    ("48 h: 2.78 kWh", {"average_w": 57.9167}),
    ("2780 Wh in 2 days", {"average_w": 57.9167}),
    ("2,780 Wh over 2 d", {"average_w": 57.9167}),
    ("0.06 kWh in 45 min", {"average_w": 80}),
    ("2 h 30 min: 0.2 kWh", {"average_w": 80, "hours": 2.5}),
    ("0.2 kWh in 2:30", {"average_w": 80}),
    ("0.2 kWh in 2:30 h", {"average_w": 80}),
    ("1.39 kWh a day", {"kind": "meter", "average_w": 57.9167}),
    ("1.39 kWh per day", {"average_w": 57.9167}),
    ("1.39kWh/day", {"average_w": 57.9167}),
    ("9.7 kWh a week", {"average_w": 57.7381}),
    ("2.78 kWh in 48 h, low 4 W, high 131 W", {"rest_w": 4, "highest_w": 131, "average_w": 57.9167}),
    ("2.78 kWh in 48 h lowest 4 W highest 131 W", {"rest_w": 4, "highest_w": 131}),
    ("2.78 kWh in 48 h, 4 W min, 131 W max", {"rest_w": 4, "highest_w": 131}),
    ("0.24 kilowatt hours in 3 hours", {"average_w": 80}),
    ("fridge 2.78 kWh in 48 h", {"name": "fridge", "average_w": 57.9167}),
    ("Chest freezer: 0.43 kWh in 6.5 h", {"name": "Chest freezer"}),
    ("1.4 kWh per hour", {"average_w": 1400}),
    (
        "log 168 h, average 58.2 W, rest 4 W, runs 131 W",
        {"kind": "log", "average_w": 58.2, "run_w": 131, "rest_w": 4, "hours": 168},
    ),
    ("fridge log 72 h average 58 W", {"kind": "log", "name": "fridge"}),
    # yearly labels
    ("350 kWh/yr", {"kind": "yearly", "average_w": 39.9270}),
    ("350 kWh per year", {"average_w": 39.9270}),
    ("350 kWh a year", {"average_w": 39.9270}),
    ("350 kWh annual", {"average_w": 39.9270}),
    ("30 kWh per month", {"kind": "yearly", "average_w": 41.0678}),
    # ratings
    ("950 W", {"kind": "rating", "run_w": 950}),
    ("950W", {"run_w": 950}),
    ("950 watts", {"run_w": 950}),
    ("0.95 kW", {"run_w": 950}),
    ("1,500 W", {"run_w": 1500}),
    ("1 350 W", {"run_w": 1350}),
    ("1.350,5 W", {"run_w": 1350.5}),
    ("1800-2000 W", {"run_w": 2000}),
    ("220-240V 50Hz 1800-2000W", {"run_w": 2000}),
    ("rated 62 W", {"run_w": 62}),
    ("3 x 9 W", {"count": 3, "run_w": 9}),
    ("9 W x 3", {"count": 3, "run_w": 9}),
    ("4 × 18 W", {"count": 4, "run_w": 18}),
    ("1.6 A 120 V", {"kind": "rating", "va": 192, "run_w": None}),
    ("120V 1.4A", {"va": 168}),
    ("AC 120V 60Hz 1.4A", {"va": 168}),
    ("120 V ~ 12 A", {"va": 1440}),
    ("1.4 amps at 120 volts", {"va": 168}),
    ("500 mA 120 V", {"va": 60}),
    ("220-240 V 2 A", {"va": 480}),
    ("120 V 1.4 A pf 0.6", {"va": 168, "run_w": 100.8, "power_factor": 0.6}),
    ("120 V 1.4 A power factor .65", {"run_w": 109.2}),
    ("180 VA", {"va": 180}),
    ("1.2 kVA", {"va": 1200}),
    ("180 VA pf 0.9", {"run_w": 162}),
    ("1/2 hp", {"run_w": HP * 0.5 / 0.65}),
    ("½ hp", {"run_w": HP * 0.5 / 0.65}),
    ("0.5 horsepower", {"run_w": HP * 0.5 / 0.65}),
    ("1 1/2 hp", {"run_w": HP * 1.5 / 0.75}),
    ("1/2 hp submersible", {"run_w": 746 * 1.5 * 0.5 / 0.65}),
    ("3/4 hp 240 V 6.9 A", {"va": 1656, "run_w": HP * 0.75 / 0.65}),
    ("12000 BTU EER 10", {"run_w": 1200}),
    ("12,000 BTU/h, EER: 12", {"run_w": 1000}),
    ("9000 btu 11.25 EER", {"run_w": 800}),
    # how people list loads
    ("1200 W 5 hours a day", {"run_w": 1200, "hours_a_day": 5}),
    ("Space heater 600 W for 3 hours a day", {"name": "Space heater", "run_w": 600, "hours_a_day": 3}),
    ("40 W 30 minutes twice a day", {"run_w": 40, "hours_a_day": 1}),
    ("60 W 7 h a week", {"run_w": 60, "hours_a_day": 1}),
    ("45 W average over 24 h", {"kind": "meter", "average_w": 45, "hours": 24}),
    ("0.5 kWh in three hours", {"average_w": 500 / 3, "hours": 3}),
    ("8 lamps at 11 W", {"count": 8, "run_w": 11}),
    ("12 x 9 W", {"count": 12, "run_w": 9}),
    ("640 W + 210 W", {"run_w": 850}),
    ("520 W on one leg, 410 W on the other", {"run_w": 930}),
    ("V 120 A 2.5", {"va": 300}),
    ("35 to 55 W average", {"average_w": 45, "spread": 20 / 2.56 / 45}),
    ("usual 45 W, low 35 W, high 55 W", {"run_w": 45, "high_w": 55}),
    ("700 W at 40% duty", {"kind": "rating", "run_w": 700, "average_w": 280}),
    ("700 W running 40% of the time", {"average_w": 280}),
    ("3 ton air conditioner EER 10", {"run_w": 3600}),
    ("load 12%", {"kind": "spot", "load_percent": 12}),
    ("12% of 1800 W", {"run_w": 216}),
    ("charger 8 A 120 V", {"run_w": 960}),
    ("charger 20 A at 48 V battery", {"run_w": 960 / 0.92}),
    ("9.7 kWh in 2 weeks", {"average_w": 9700 / 336, "all": True}),
    ("2.4 kWh in 24 h in a room of 27 °C", {"average_w": 100, "room_c": 27}),
    ("71.4 to 70.9% in 2 h", {"kind": "gauge", "step": 0.1}),
    ("71 to 58% in 9 h, 0.4 kWh came in", {"kind": "gauge", "in_wh": 400}),
    # levels, starts, moments, gauges
    ("low 4 W, high 131 W", {"kind": "levels", "rest_w": 4, "highest_w": 131}),
    ("idle 3 W", {"rest_w": 3}),
    ("standby 0.5 W", {"rest_w": 0.5}),
    ("starts 1180 VA", {"kind": "start", "start_va": 1180}),
    ("surge 1200 W", {"start_va": 1200}),
    ("LRA 32 A at 240 V", {"start_va": 7680}),
    ("inrush 9.5 A 120 V", {"start_va": 1140}),
    ("now 62 W", {"kind": "spot", "run_w": 62}),
    ("reads 62 W", {"kind": "spot"}),
    ("71 to 58% in 9 h", {"kind": "gauge", "from_percent": 71, "to_percent": 58, "hours": 9, "step": 1.0}),
    (
        "71 to 66% in 9 h",
        {"kind": "gauge", "from_percent": 71, "to_percent": 66, "step": 1.0},
    ),  # five steps are enough
    ("71% → 58% over 9 h", {"from_percent": 71, "to_percent": 58}),
    ("battery from 71% to 58% after 9 hours", {"from_percent": 71, "to_percent": 58}),
]

REFUSED = [
    ("", "type the figures from the meter", ""),
    ("abc", "no figure with a unit", ""),
    ("950", "950 of what", "950 W"),
    ("0.24 kW in 3 h", "W is a rate", "0.24 kWh in 3 h"),
    ("400 W in 2 h", "counts over hours shows energy", "400 Wh in 2 h"),
    ("57 W per hour", "“per hour” doesn't apply", "57 W"),
    ("57 W/h", "“per hour” doesn't apply", "57 W"),
    ("13 kW a day", "use per day is energy", "13 kWh a day"),
    ("45 W over 24 h", "counts over hours shows energy", "45 W average over 24 h"),
    ("600 W for 3 h", "is that each day", "600 W 3 h a day"),
    ("3 ton air conditioner", "Add the EER", "3 ton EER 10"),
    ("640 W 210 W", "Write + between them", "640 W + 210 W"),
    ("82-95 to 60-65% in 9 h", "several figures for one end", ""),
    ("20 Ah", "needs volts", ""),
    ("20 Ah 12 V", "a battery of 240 Wh", ""),
    ("1.6 A", "add the volts, such as 5 A at 120 V", "1.6 A 120 V"),
    ("LRA 32 A", "add the volts, such as 5 A at 120 V", "LRA 32 A 120 V"),
    ("2.78 kWh", "how many hours", "2.78 kWh in 24 h"),
    ("2.78 kWh in 0 h", "more than 0", ""),
    ("350 kWh/yr in 3 h", "both a period and hours", ""),
    ("120 V", "volts alone", ""),
    ("220-240 V 50 Hz", "volts alone", ""),
    ("48 h", "hours of what", ""),
    ("pf 0.65", "doesn't show the power", ""),
    ("5 peak hp", "a sales figure", ""),
    ("5 hp peak", "a sales figure", ""),
    ("12000 BTU", "Add the EER", "12000 BTU EER 10"),
    ("-5 W", "at least 0", "5 W"),
    ("900 kW", "more than any load in a home", ""),
    ("1e9 W", "more than any load in a home", ""),
    ("low 131 W, high 4 W", "a lowest figure below the highest", "low 4 W, high 131 W"),
    ("2.78 kWh in 4 h, high 131 W", "can't be above the highest", ""),
    ("71%", "two gauge readings", ""),
    ("71 to 58%", "over how many hours", "71 to 58% in 9 h"),
    ("58 to 71% in 9 h", "a lower second reading", "71 to 58% in 9 h"),
    ("71 to 69% in 9 h", "are too few", ""),
    ("log 72 h", "hours and its average", "log 72 h, average 58 W, rest 4 W, runs 131 W"),
    ("120 V 1.4 A pf 3", "from 0 to 1", ""),
    ("1/0 hp", "more than any load in a home", ""),
    ("0 x 9 W", "from 1 to 200", ""),
    ("x" * 300, "fewer than 200 characters", ""),
]


def test_there_are_enough_of_both():
    assert len(UNDERSTOOD) >= 60
    assert len(REFUSED) >= 25


@pytest.mark.parametrize(("text", "expected"), UNDERSTOOD, ids=[t for t, _ in UNDERSTOOD])
def test_what_people_write_is_understood(text, expected):
    u = understand(text)
    for name, value in expected.items():
        got = getattr(u, name)
        assert got == (pytest.approx(value, rel=1e-4) if isinstance(value, float | int) else value), (name, u)
    assert u.echo.endswith(".")
    again = understand(text.upper() if u.name == "" else text)
    assert (again.average_w, again.run_w, again.va) == (u.average_w, u.run_w, u.va)


@pytest.mark.parametrize(("text", "words", "suggestion"), REFUSED, ids=[t[:20] or "empty" for t, *_ in REFUSED])
def test_what_says_nothing_certain_is_answered_with_what_was_meant(text, words, suggestion):
    with pytest.raises(NotUnderstood) as caught:
        understand(text)
    assert words in caught.value.sentence
    assert caught.value.suggestion == suggestion
    if suggestion:
        assert understand(suggestion).echo  # the suggestion itself is understood


@pytest.mark.parametrize(
    ("text", "value"),
    [("1/2", 0.5), ("1 1/2", 1.5), ("¾", 0.75), ("0,18", 0.18), ("1,500", 1500), ("1.500,5", 1500.5), (".65", 0.65)],
)
def test_numbers_as_people_write_them(text, value):
    assert to_number(text) == pytest.approx(value)


def reading(text, at=1, **more):
    return Reading(id=f"r{at}{text}", load="x", at=datetime(2026, 11, at, tzinfo=UTC), raw=text, **more)


def best(item, *readings, store=None, season="any"):
    return winners([g for r in readings for g in gives(item, r, understand(r.raw), store, season)])


CYCLING = load("x", 130, 60, use=Use(kind="cycling"), kind="compressor")
STEADY = load("x", 130, kind="electronics")


@pytest.mark.parametrize(
    ("item", "text", "part"),
    [
        (CYCLING, "2.78 kWh in 48 h", 0.08),
        (CYCLING, "0.43 kWh in 6.5 h", 0.12),
        (CYCLING, "0.24 kWh in 3 h", 0.20),
        (CYCLING, "0.09 kWh in 1 h", 0.40),
        (STEADY, "0.24 kWh in 3 h", 0.20 / 3),
        (STEADY, "2.78 kWh in 48 h", 0.03),  # a third of 8 % is under the least
        (CYCLING, "log 100 h, average 58 W", 0.05),
        (CYCLING, "log 30 h, average 58 W", 0.08),
        (CYCLING, "350 kWh/yr", 0.20),
        (STEADY, "90 W", 0.25),
        (load("x", 130), "90 W", 0.08),
        (STEADY, "0.01 kWh in 24 h", 1 / (10 / 24)),  # never better than 1 W
    ],
)
def test_how_well_an_average_is_known(item, text, part):
    average = best(item, reading(text))["average_w"]
    assert average.sigma / average.value == pytest.approx(part)


def test_the_longest_meter_wins_whatever_came_last():
    chosen = best(CYCLING, reading("2.78 kWh in 48 h", 1), reading("0.09 kWh in 1 h", 9), reading("350 kWh/yr", 12))
    assert chosen["average_w"].reading.raw == "2.78 kWh in 48 h"
    newer = best(CYCLING, reading("2.78 kWh in 48 h", 1), reading("2.6 kWh in 48 h", 9))
    assert newer["average_w"].value == pytest.approx(2600 / 48)


def test_the_right_season_comes_first_and_the_wrong_one_is_less_known():
    warm, cold = reading("2.78 kWh in 48 h", 9, season="warm"), reading("0.3 kWh in 7 h", 1, season="cold")
    assert best(CYCLING, warm, cold, season="cold")["average_w"].reading is cold
    alone = best(CYCLING, warm, season="cold")["average_w"]
    assert alone.sigma / alone.value == pytest.approx((0.08**2 + 0.20**2) ** 0.5)


def test_gauge_drop_of_the_check_figures():
    store = Store(nominal_wh=3000, health=0.95, idle_w=15, efficiency=0.93)
    u = understand("71 to 58% in 9 h")
    average, sigma = gauge_average_w(u, store)
    assert average == pytest.approx(24.33, abs=0.005)
    quantisation = 0.41 / 13 * (0.13 * 3000 * 0.95 / 9) * 0.93
    assert quantisation == pytest.approx(1.21, abs=0.005)
    assert sigma > quantisation
    with pytest.raises(NotUnderstood, match="the station alone takes 60 W"):
        gauge_average_w(u, Store(nominal_wh=3000, health=0.95, idle_w=60, efficiency=0.93))


def test_a_battery_side_reading_is_turned_into_watts_at_the_appliance():
    store = Store(nominal_wh=3000, idle_w=20, efficiency=0.9)
    average = best(STEADY, reading("2.4 kWh in 24 h", side="battery"), store=store)["average_w"]
    assert average.value == pytest.approx((100 - 20) * 0.9)


def test_a_spot_reading_gives_running_watts_and_no_average_of_what_cycles():
    assert set(best(CYCLING, reading("now 62 W"))) == {"run_w"}
    assert set(best(STEADY, reading("now 62 W"))) == {"run_w", "average_w"}


def test_figures_never_leave_running_below_the_average():
    changed = figures(CYCLING, best(CYCLING, reading("7.2 kWh in 48 h")))
    assert changed["average_w"] == changed["run_w"] == 150
    assert changed["evidence"] == "metered"
    assert changed["spread"] == pytest.approx(0.08)
