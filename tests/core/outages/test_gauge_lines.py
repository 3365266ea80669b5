"""One line at a gauge: read in any order, refused with a sentence, never half understood."""

from datetime import datetime, timedelta
from itertools import permutations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.outages.gauge_lines import of_stores, understood

NOW = datetime(2026, 11, 25, 1, 30)


@given(
    st.integers(0, 100),
    st.one_of(st.none(), st.integers(0, 20_000)),
    st.one_of(st.none(), st.integers(0, 20_000)),
    st.one_of(st.none(), st.tuples(st.integers(0, 23), st.integers(0, 59))),
    st.randoms(use_true_random=False),
)
def test_what_is_written_is_read_in_any_order(percent, out, into, clock, random):
    words = [f"{percent}%"]
    words += [] if out is None else [random.choice([f"out {out} W", f"{out}W out"])]
    words += [] if into is None else [random.choice([f"in {into} W", f"{into} w in"])]
    if clock:
        hour, minute = clock
        twelve = f"{hour % 12 or 12}:{minute:02d} {'am' if hour < 12 else 'pm'}"
        words += [random.choice([f"{hour}:{minute:02d}", twelve, f"at {twelve}"])]
    random.shuffle(words)
    said = understood(random.choice([", ", "; ", " "]).join(words), NOW)
    assert (said.charge, said.out_w, said.in_w) == (percent / 100, out, into)
    if clock is None:
        assert said.at == NOW
    else:
        assert (said.at.hour, said.at.minute) == clock
        assert NOW - timedelta(days=1) < said.at <= NOW + timedelta(minutes=1)


def test_one_line_of_each_hand():
    for words in permutations(["64%", "310 W", "in 120 W", "9:20 pm"]):
        said = understood(" ".join(words), NOW)
        assert (said.charge, said.out_w, said.in_w, said.at) == (0.64, 310, 120, datetime(2026, 11, 24, 21, 20))
    assert understood("7,5% 1.2 kW", NOW).out_w == 1200
    assert understood("55 percent at 1 am", NOW).at == datetime(2026, 11, 25, 1, 0)


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("9:20 pm", "Write the display's reading"),
        ("64", "does not understand “64”"),
        ("nothing new", "does not understand"),
        ("140%", "from 0 to 100"),
        ("64% 25:10", "Enter a time of day"),
        ("64% 13 pm", "from 1 to 12"),
        ("64% 12 V", "12 V"),
        ("64% 300 W 200 W", "200 W"),
        ("64% 60%", "60%"),
        ("64% 0 pm", "from 1 to 12"),
        ("64% 9:75 am", "Enter a time of day"),
    ],
)
def test_what_is_not_understood_is_said(text, why):
    with pytest.raises(InvalidValue, match=why):
        understood(text, NOW)


NAMES = {"main": "Hogshead", "small": "Pail", "van": "Pail van"}


def test_several_stores_stand_in_one_line():
    assert of_stores("64% 310 W", NAMES) == [(None, "64% 310 W")]
    assert of_stores("hogshead 64% 310 W; PAIL: 40%, in 20 W", NAMES) == [
        ("main", "64% 310 W"),
        ("small", "40%, in 20 W"),
    ]
    # A semicolon within one reading parts nothing.
    assert of_stores("64%; 310 W; 9:20 pm", NAMES) == [(None, "64% ;  310 W ;  9:20 pm")]
    for ident, part in of_stores("Hogshead 64% 310 W; 9:20 pm; Pail 40%", NAMES):
        said = understood(part, NOW)
        assert (ident, said.charge) in (("main", 0.64), ("small", 0.4))


def test_a_counter_is_read_in_its_unit():
    assert understood("64% 2.4 kWh 310 W", NOW).given_wh == 2400
    assert understood("64% 310 W, 950 Wh so far", NOW).given_wh == 950
    assert understood("64% 310 W", NOW).given_wh is None
    assert understood("64% 2.4 kWh 310 W", NOW).out_w == 310


@pytest.mark.parametrize(
    ("text", "charge", "out_w", "output"),
    [
        ("310 W", None, 310, ""),
        ("off", None, None, "off"),
        ("it's off 9:20 pm", None, None, "off"),
        ("0%, output off", 0.0, None, "off"),
        ("stopped", None, None, "off"),
        ("back on 45%", 0.45, None, "on"),
        ("output on, 120 W", None, 120, "on"),
        ("full", 1.0, None, ""),
        ("empty", 0.0, None, ""),
        ("64% 200 W + 110 W", 0.64, 310, ""),
    ],
)
def test_watts_alone_and_words_are_lines_too(text, charge, out_w, output):
    said = understood(text, NOW)
    assert (said.charge, said.out_w, said.output) == (charge, out_w, output)


def test_a_load_in_percent_is_no_charge():
    said = understood("64%, load 12%", NOW)
    assert (said.charge, said.load) == (0.64, 0.12)
