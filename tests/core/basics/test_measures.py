"""Figures in a home's own measures: turned once, exact by definition, and nothing of the other kind in what is said."""

from __future__ import annotations

import contextvars
import math
import re
from datetime import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from imbuto.core.basics.measures import (
    IN_USE,
    Measures,
    clock_of,
    degrees,
    hour_text,
    least_text,
    length_text,
    mass_text,
    temp_text,
    temps_text,
    volume_text,
)
from imbuto.core.basics.units import clock_text
from imbuto.core.home.home import Site

US, METRIC = Measures(system="us", clock=12), Measures(system="metric", clock=24)


def said(measures, call, *args):
    """What a call says in these measures; nothing stays behind."""

    def within():
        IN_USE.set(measures)
        return call(*args)

    return contextvars.copy_context().run(within)


@pytest.mark.parametrize(
    ("call", "args", "us", "metric"),
    [
        (temp_text, (5,), "41 °F", "5 °C"),
        (temp_text, (-40,), "-40 °F", "-40 °C"),
        (temps_text, (-20, 45), "-4 to 113 °F", "-20 to 45 °C"),
        (length_text, (10.668,), "35 ft", "10.7 m"),
        (length_text, (1.5,), "4.9 ft", "1.5 m"),
        (length_text, (6,), "19.7 ft", "6 m"),
        (mass_text, (58,), "128 lb", "58 kg"),
        (mass_text, (222,), "490 lb", "222 kg"),
        (least_text, (6,), "20 ft", "6 m"),
        (volume_text, (20,), "5.3 gal", "20 l"),
        (volume_text, (3.785411784,), "1 gal", "3.8 l"),
        (hour_text, (18.5,), "6:30 pm", "18:30"),
        (hour_text, (0,), "12:00 am", "0:00"),
        (hour_text, (23.999,), "12:00 am", "0:00"),
        (clock_text, (datetime(2026, 11, 25, 9),), "Wed 9:00 am", "Wed 9:00"),
    ],
)
def test_by_hand(call, args, us, metric):
    assert said(US, call, *args) == us
    assert said(METRIC, call, *args) == metric


@given(st.floats(-60, 70), st.integers(0, 23), st.integers(0, 59))
def test_nothing_is_turned_twice_or_into_something_else(celsius, hour, minute):
    assert said(METRIC, degrees, celsius) == celsius
    assert math.isclose((said(US, degrees, celsius) - 32) / 1.8, celsius, abs_tol=1e-9)
    shown = said(US, clock_of, hour, minute)
    h, m, half = re.fullmatch(r"(\d+):(\d\d) (am|pm)", shown).groups()
    assert (int(h) % 12 + (12 if half == "pm" else 0), int(m)) == (hour, minute)
    assert said(METRIC, clock_of, hour, minute) == f"{hour}:{minute:02d}"


def test_the_place_settles_it_until_somebody_does():
    assert Site(currency="USD").in_measures == US
    assert Site(currency="EUR").in_measures == METRIC
    assert Site(currency="USD", measures=METRIC).in_measures == METRIC
