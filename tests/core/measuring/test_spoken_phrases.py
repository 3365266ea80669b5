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
    "60 W between 9 am and noon": None,  # “noon” is not read: the figures are named as not taken
}
REFUSED = {
    "$9 a month": "money",
    "14 euros a month": "money",
    "150 amp hour": "Ah say nothing without volts",
    "4 x 200 Ah 12.8 V in series": "10,240 Wh",
    "640 W, jumps to 2,050 W": "1,410 W",
    "0.6 kW rises to 2 kW": "1,400 W",
}


@pytest.mark.parametrize(("text", "watts"), AVERAGES.items())
def test_what_comes_to_an_average(text, watts):
    assert understand(text).average_w == pytest.approx(watts, rel=2e-3)


@pytest.mark.parametrize(("text", "hours"), WINDOWS.items())
def test_hours_of_the_day_are_taken_or_named(text, hours):
    u = understand(text)
    assert u.run_w == 60
    if hours is None:
        assert any(n.startswith("Not taken: ") for n in u.notes)
        return
    found = re.search(r"for ([\d.]+) h a day", u.echo)
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
