"""How people say it: hours of the day, shares of the time, cycles and weekdays are taken, or named as not taken."""

from __future__ import annotations

import re

import pytest

from imbuto.core.measuring.text_field import understand
from imbuto.core.measuring.understood_text import NotUnderstood

# What is typed, and the average W over a day that it comes to.
AVERAGES = {
    "12 Wh per cycle, 30 cycles a day": 15.0,
    "0.9 kWh per load, 4 loads a week": 0.9e3 * 4 / 168,
    "45 Wh each use, 2 times a day": 3.75,
    "27 kWh per weekday": 27e3 * 5 / 7 / 24,
    "1.3 kWh in 22 h 40": 1300 / (22 + 40 / 60),
    "0.43 kWh from Monday 8:00 to Tuesday 20:00": 430 / 36,
    "1.2 kWh from Fri 6 pm to Sun 6 pm": 1200 / 48,
    "2 kWh from Sunday 20:00 until Monday 8:00": 2000 / 12,
    "150 W, runs a third of the time": 50.0,
    "90 W half the time": 45.0,
    "200 W, on a quarter of the time": 50.0,
    "120 W, 12 min on, 25 off": 120 * 12 / 37,
    "700 W 5 minutes on, 15 minutes off": 175.0,
    "60 W, 1 h on and 3 h off": 15.0,
    "910 kilowatt hours per month": 910e3 / 730,
    "about 80 watts on average": 80.0,
    "runs 20 minutes an hour at 700 W": 700 / 3,
    "900 W for 10 min of every hour": 150.0,
    "900 W 90 seconds per hour": 900 * 90 / 3600,
    "on 8 min, off 20 min, 150 W": 150 * 8 / 28,
    "85 W day and night": 85.0,
    "nonstop 12 W": 12.0,
    "15 W 24/7": 15.0,
    "7 W around the clock": 7.0,
    "12 cycles a day of 90 Wh": 45.0,
    "3 loads a week at 0.8 kWh each": 2400 / 168,
    "from 14.2 to 15.6 kWh in 20 hours": 70.0,
    "from 812 kWh to 830 kWh over 3 days": 250.0,
    "38 kWh for June": 38e3 / 720,
    "31 kWh in January": 31e3 / 744,
    "500 watts half the time": 250.0,
    "annual energy use 412 kWh": 412e3 / 8766,
    "1 kWh every 3 days": 1000 / 72,
    "0.9 kWh cycle, every other day": 900 / 48,
    "28 kWh last week": 28e3 / 168,
    "3 kWh per load, 2 loads weekly": 6e3 / 168,
    "110 W for 14 min then 5 W for 22 min": (110 * 14 + 5 * 22) / 36,
    "250 W 30 min every 4 hours": 250 / 8,
    "640 W 10 min every 2 hours": 640 / 12,
    "router 9 W always on": 9.0,
}
# What runs in a window of the day: W and the hours a day.
WINDOWS = {
    "60 W 8 pm to 1 am": 5,
    "60 W from 8 pm to 1 am": 5,
    "60 W between 5 and 10 pm": 5,
    "60 W from 22:00 to 6:30": 8.5,
    "60 W 22:00-06:30": 8.5,
    "60 W from 11 pm until 7 am": 8,
    "60 W 6:30 am to 8 am": 1.5,
    "60 W weekdays 9-17": 8 * 5 / 7,
    "60 W weekdays 9-5": 8 * 5 / 7,
    "60 W on weekends from 10 am to 4 pm": 6 * 2 / 7,
    "60 W, weekdays between 8 am and 6 pm": 10 * 5 / 7,
    "60 W 5 days a week 8 hours": 40 / 7,
    "60 W 8 hours a day, 5 days a week": 40 / 7,
    "60 W for 4 hours daily 3 days per week": 12 / 7,
    "60 W weekends 10-14": 8 / 7,
    "60 W a quarter of an hour every morning": 0.25,
    "60 W three quarters of an hour every evening": 0.75,
    "60 W half an hour a day": 0.5,
    "60 W between 9 am and noon": None,  # “noon” is not read: the figures are named as not taken
}
# W of one piece, and how many pieces.
RUNNING = {
    "a hundred and twenty watts": (120, 1),
    "two hundred watts": (200, 1),
    "one thousand five hundred W": (1500, 1),
    "seventy-five watts": (75, 1),
    "one and a half kilowatts": (1500, 1),
    "1½ kW": (1500, 1),
    "two and a half kW": (2500, 1),
    "two 60 W bulbs": (60, 2),
    "six 9 watt lamps": (9, 6),
    "75 W each, three of them": (75, 3),
    "between 200 and 260 W": (260, 1),
    "1,200 W": (1200, 1),
    "led strip 14.4 W/m 5 m": (72, 1),
    "microwave input 1.55 kW, output 1000 W": (1550, 1),
    "garage door 550 W, 6 openings of 15 s a day": (550, 1),
    "3/4 HP pump runs 5 min an hour": (746 * 0.75 / 0.65, 1),
}
REFUSED = {
    "1.200 W": "1,200 or 1.2 W",
    "pump 2.300 watts": "2,300 or 2.3 watts",
    "1100W/1500W": "note the other as a setting",
    "600 W or 900 W": "note the other as a setting",
    "$9 a month": "money",
    "14 euros a month": "money",
    "150 amp hour": "Ah needs volts",
    "4 x 200 Ah 12.8 V in series": "10,240 Wh",
    "640 W, jumps to 2,050 W": "1,410 W",
    "0.6 kW rises to 2 kW": "1,400 W",
}


@pytest.mark.parametrize(("text", "watts"), AVERAGES.items())
def test_what_comes_to_an_average(text, watts):
    assert understand(text).average_w == pytest.approx(watts, rel=2e-3)


@pytest.mark.parametrize(("text", "watts", "count"), [(k, *v) for k, v in RUNNING.items()])
def test_numbers_in_words_and_pieces(text, watts, count):
    u = understand(text)
    assert (u.run_w, u.count) == (pytest.approx(watts), count)


@pytest.mark.parametrize(
    ("text", "watts"),
    {
        "kWh 0.62, time 9:30": 620 / 9.5,
        "rated 1.8 kW, 40 min per load, 3 loads a week": 1800 * 40 * 3 / (7 * 1440),
        "750 W 1 h on Sundays": 750 / 168,
        "runs 6 am to 10 pm at 35 W": 35 * 16 / 24,
    }.items(),
)
def test_a_meter_read_out_and_hours_by_load_and_day(text, watts):
    u = understand(text)
    assert u.count == 1
    hours = re.search(r": ([\d.]+) kWh per day", u.echo)
    average = u.average_w if u.average_w is not None else float(hours[1]) * 1000 / 24
    assert average == pytest.approx(watts, rel=5e-3)


def test_amps_at_a_voltage_are_taken_and_a_range_of_hours_is_asked():
    assert understand("pump draws 8 A at 230").va == 8 * 230
    with pytest.raises(NotUnderstood) as asked:
        understand("TV 120W 3 to 4 hours daily")
    assert "3 to 4 hours daily" in asked.value.sentence
    assert asked.value.suggestion == "TV 120W 3 h a day"


def test_a_motor_by_its_hours_has_a_duty():
    u = understand("3/4 HP pump runs 5 min an hour")
    assert u.average_w == pytest.approx(746 * 0.75 / 0.65 / 12, rel=5e-3)


def test_when_it_runs_is_named_where_no_hours_are_told():
    for text in ("40 W only at night", "40 W at weekends", "40 W sometimes"):
        assert any(n.startswith("Not taken: ") for n in understand(text).notes), text


@pytest.mark.parametrize(("text", "hours"), WINDOWS.items())
def test_hours_of_the_day_are_taken_or_named(text, hours):
    u = understand(text)
    assert u.run_w == 60
    if hours is None:
        assert any(n.startswith("Not taken: ") for n in u.notes)
        return
    found = re.search(r"for ([\d.]+) h per day", u.echo)
    assert found is not None, u.echo
    assert float(found[1]) == pytest.approx(hours, rel=1e-3)


@pytest.mark.parametrize(("text", "words"), REFUSED.items())
def test_what_is_no_reading_of_a_load_is_refused_with_what_to_do(text, words):
    with pytest.raises(NotUnderstood) as refused:
        understand(text)
    assert words in refused.value.sentence
    assert refused.value.suggestion != text


def test_an_adapters_direct_current_has_no_power_factor_and_an_eighth_more_at_the_outlet():
    u = understand("19 V 3.42 A")
    assert u.power_factor is None
    assert u.run_w == pytest.approx(65 * 1.123, rel=5e-3)
    assert "at most 65 W" in u.echo
    whole = understand("AC 100-240V 1.5A output 19V 3.42A")  # the label of the same, read whole
    assert (whole.run_w, whole.power_factor) == (pytest.approx(u.run_w), None)
    assert understand("120 V 1.7 A").va == pytest.approx(204)


def test_european_thousands_of_btu():
    assert understand("8.000 BTU EER 10").run_w == 800
    assert understand("12,000 BTU EER 10").run_w == 1200


def test_no_suggestion_is_what_was_typed():
    with pytest.raises(NotUnderstood) as refused:
        understand("910 kilowatts per month")
    assert refused.value.suggestion.replace(" ", "") == "910kWhpermonth"


@pytest.mark.parametrize("text", [*AVERAGES, *WINDOWS])
def test_no_figure_typed_vanishes(text):
    u = understand(text)
    said = " ".join([u.echo, *u.notes])
    for figure in re.findall(r"\d+(?:[.,]\d+)*", text):
        assert figure.lstrip("0") in said or figure in said, (figure, said)


# Sixty ways to say a load that nothing was built for: the average W over a day, or the watts, VA and pieces.
NEW_AVERAGES = {
    "fridge 1.2 kWh/24h": 50.0,
    "freezer about 45-50 W average": 47.5,
    "well pump 1/2 hp 230V 10 times a day for 3 minutes": 0.5 * 746 / 0.65 * 1.5 * 30 / 1440,  # with its service factor
    "sump pump 800W, 2 minutes every 20 minutes": 80.0,
    "furnace blower 450W 40% duty": 180.0,
    "boiler pump 60 W, cycles 15 min per hour": 15.0,
    "washing machine 0.6 kWh per cycle 4x/week": 2400 / 168,
    "meter: 2.31 kWh after 3 days 4 hours": 2310 / 76,
    "used 5.6kWh since Monday 7am, now Wednesday 7am": 5600 / 48,
    "Kill reading 0.94 kWh 19:30": 940 / 19.5,
    "min 4 W max 310 W avg 62 W": 62.0,
    "75 watt-hours per day": 75 / 24,
    "350Wh/d": 350 / 24,
    "half a kWh a day": 500 / 24,
    "1.5kWh every night": 1500 / 24,
    "dehumidifier 290 W 70% of the time": 203.0,
    "phone charger 20 Wh twice a day": 40 / 24,
    "aquarium heater 100W thermostat on 1/4 of time": 25.0,
    "1.2 kWh/cycle, 220 cycles/yr": 264_000 / 8766,
    "EU label: 95 kWh/annum": 95_000 / 8766,
    "energy guide 630 kWh per year": 630_000 / 8766,
    "bill 812 kWh in 31 days": 812_000 / 744,
    "700 W for 2 hours then 50 W for 22 hours": (1400 + 1100) / 24,
}
# What is typed → W running, hours a day (None: not said), pieces.
NEW_RUNNING = {
    "two lamps 9W each 5 hrs a night": (9, 5, 2),
    "3 LED bulbs @ 9 W": (9, None, 3),
    "coffee maker 900W ten minutes every morning": (900, 1 / 6, 1),
    "laptop charger 65W 4h/day": (65, 4, 1),
    "CPAP 35 W all night": (35, None, 1),
    "CPAP 12V 3A 8 hours": (36 / 0.89, None, 1),
    "microwave 1100 watts, 15 min per day": (1100, 0.25, 1),
    "tv 85w from 7 to 11 pm": (85, 4, 1),
    "kettle 2.2kW 5x a day 3 min": (2200, 0.25, 1),
    "between 40 and 60 watts": (60, None, 1),
    "≈75W": (75, None, 1),
    "garage door 500W 4 times a day 15 s each": (500, 1 / 60, 1),
    "oxygen concentrator 300 W at night 10pm-7am": (300, 9, 1),
    "19.5V⎓2.31A": (19.5 * 2.31 / 0.89, None, 1),
    "5V/2A USB": (10 / 0.89, None, 1),
    "PoE camera 7W x4": (7, None, 4),
    "20 watts each, 6 of them": (20, None, 6),
    "a dozen 7 W bulbs": (7, None, 12),
    "100W + 20W": (120, None, 1),
    "5,000 BTU/h 450W": (450, None, 1),
    "1/3 HP, 120 V": (746 / 3 / 0.65, None, 1),
    "143 VA PF 0.58": (143 * 0.58, None, 1),
    "peak 1240 W, usually 120 W": (120, None, 1),
    "10 W standby, 600 W 1h per day": (600, 1, 1),
}
NEW_VA = {
    "0.8A at 120V": 96,
    "120V 60Hz 1.35A": 162,
    "heat pump 9.5 A cool 11 A heat 240V": 2280,
    "gas dryer 6 A 120 V 45 min 3 times weekly": 720,
}
# Asked, because each can mean two things or lacks one.
NEW_ASKED = (
    "router+modem 18W 24h",
    "6.2 amps",
    "space heater 750/1500 W",
    "0,35 kWh am Tag",
    "12000 BTU window unit",
    "1 ton AC",
    "pellet stove starts 400 W for 10 min then 120 W",
    "-5 W",
    "3 phase 400V 5A",
    "nothing",
    "100",
)


def test_new_ways_to_say_a_load_are_taken_right_or_asked():
    assert len(NEW_AVERAGES) + len(NEW_RUNNING) + len(NEW_VA) + len(NEW_ASKED) >= 60
    for text, average in NEW_AVERAGES.items():
        assert understand(text).average_w == pytest.approx(average, rel=0.003), text
    for text, (watts, hours, pieces) in NEW_RUNNING.items():
        found = understand(text)
        assert (found.run_w, found.count) == (pytest.approx(watts, rel=0.002), pieces), text
        assert found.hours_a_day == (None if hours is None else pytest.approx(hours)), text
    for text, va in NEW_VA.items():
        assert understand(text).va == pytest.approx(va), text
    for text in NEW_ASKED:
        with pytest.raises(NotUnderstood) as asked:
            understand(text)
        assert "?." not in asked.value.sentence
        assert "then" not in asked.value.suggestion  # nothing is offered that leaves a part out
