"""Data sheets read: forty-eight made-up ones in unlike styles, 95% of what they say right and nothing silently
wrong."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from imbuto.core.measuring.data_sheet import read_sheet
from imbuto.core.measuring.data_sheet_figures import number
from tests.core.measuring.odd_sheets import DENYING, OTHERS
from tests.core.measuring.sheets import SHEETS


def right(value, truth) -> bool:
    if isinstance(truth, str | bool):
        return value == truth
    return isinstance(value, float) and abs(value - truth) <= 0.006 * max(abs(truth), 1)


@pytest.mark.parametrize(("sheets", "many"), [(SHEETS, 48), (DENYING, 10), (OTHERS, 20)])
def test_sheets_are_read_right_and_none_silently_wrong(sheets, many):
    assert len(sheets) == many
    said = good = 0
    wrong = []
    for kind, text, truth in sheets:
        found = {f.field: f for f in read_sheet(text, kind).found}
        for field, true in truth.items():
            said += 1
            have = found.get(field)
            if have is not None and right(have.value, true):
                good += 1
            elif have is not None and not have.ask:
                wrong.append((text.splitlines()[0], field, have.value, true, have.words))
        for field, have in found.items():
            # What the sheet does not say is not made up: it is asked about, or stays unlisted.
            if field not in truth and not have.ask:
                wrong.append((text.splitlines()[0], field, have.value, "not said", have.words))
    assert wrong == []
    assert good / said >= 0.95


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("2,048", 2048),
        ("2.048", 2048),
        ("51.2", 51.2),
        ("51,2", 51.2),
        ("1 200", 1200),
        ("1.204,5", 1204.5),
        ("−10", -10),
        ("0.500", 0.5),
    ],
)
def test_numbers_in_the_usual_ways_of_writing(text, value):
    assert number(text) == value


def test_a_promise_is_not_what_one_unit_holds_and_two_figures_are_asked_about():
    sheet = read_sheet("Jar\nCapacity: 1,000 Wh, expandable to 5,000 Wh\nCapacity: 1,200 Wh", "stations")
    found = {f.field: f for f in sheet.found}
    assert found["nominal_wh"].value == 1000
    assert "which?" in found["nominal_wh"].ask
    assert any("5,000" in x for x in sheet.left)


def test_words_that_stand_above_or_in_between_are_heeded():
    text = (
        "Charging\n AC: 1,440 W max\n Solar: 11–60 V, 15 A, 500 W max\n Both: up to 1,900 W\n"
        "General\n Outlets: 5 (20 A total)\n Weight: 36.4 lb"
    )
    found = {f.field: f for f in read_sheet(text, "stations").found}
    assert (found["charge_w"].value, found["charge_w"].ask) == (1440, "")
    assert found["outlet_a"].ask
    assert found["weight_kg"].value == pytest.approx(16.51, abs=0.01)
    # One line of many things: what it says of one is not said of all.
    line = "Barrel 48V all-in-one, 6000W split phase 120/240V output, peak 12000VA, MPPT 500V max, battery 14.3kWh"
    found = {f.field: f for f in read_sheet(line, "stations").found}
    assert found["solar_max_v"].value == 500
    assert "solar_max_w" not in found
    engine = {f.field: f.value for f in read_sheet("3500 starting watts 2800 running watts", "generators").found}
    assert (engine["surge_w"], engine["running_w"]) == (3500, 2800)


@given(st.text(max_size=300))
def test_no_text_breaks_it(text):
    for kind in ("stations", "modules", "panels", "generators"):
        sheet = read_sheet(text, kind)
        assert all(f.words is not None for f in sheet.found)


def test_a_switch_said_to_be_both_is_asked_about_and_its_kind_always():
    found = {f.field: f for f in read_sheet("Automatic transfer switch with manual override", "transfer").found}
    assert "Which is right" in found["automatic"].ask
    assert found["kind"].ask
    for text in ("Non-automatic switch", "A manual switch", "It is not automatic"):
        said = {f.field: f for f in read_sheet(text, "transfer").found}
        assert said["automatic"].value is False, text


@pytest.mark.parametrize(
    "text",
    [
        "Ausgangsleistung: 2000 W\nKapazität: 2.048 Wh\nGewicht: 22 kg",
        "Capacité: 2 048 Wh\nPuissance de sortie: 2 000 W\nPoids: 22 kg",
        "Capacità 1024 Wh, potenza 1800 W, peso 12,5 kg",
        "Capacidad 2048Wh, potencia 2400W, peso 22kg, salida CA 120V",
        "容量: 1024Wh 出力: 1800W",
    ],
)
def test_of_a_sheet_in_another_language_nothing_is_taken_unasked(text):
    sheet = read_sheet(text, "stations")
    assert "isn't in English" in sheet.note
    assert sheet.found
    assert all(f.ask for f in sheet.found)


def test_english_sheets_and_those_in_two_languages_are_read():
    for kind, text, _ in (*SHEETS, *DENYING, *(x for x in OTHERS if x[2])):
        assert read_sheet(text, kind).note == "", text
    assert read_sheet("Capacity / Kapazität: 2,048 Wh; Output / Ausgangsleistung: 2,000 W max", "stations").note == ""


@pytest.mark.parametrize(
    ("text", "low"), [("–20 to 50 °C", -20), ("–20–60 °C", -20), ("0–40 °C", 0), ("10 – 40 °C", 10), ("0 °C–40 °C", 0)]
)
def test_a_dash_before_a_temperature_is_a_minus_and_between_two_is_none(text, low):
    found = {f.field: f.value for f in read_sheet(f"Operating temperature: {text}", "stations").found}
    assert found["discharge_min_c"] == low
    assert found["discharge_max_c"] >= 40
