"""Photographed labels and displays: what is found is on the label, and what is ticked without a person is right."""

from __future__ import annotations

import io
import random

import pytest
from PIL import Image

from imbuto.core.basics.errors import UnreadableFile
from imbuto.formats import photograph as reader
from imbuto.services.source.photographs import FIGURE, _number, photographed
from tests.breadth import breadth
from tests.pictures import made_up, picture_of

pytestmark = pytest.mark.skipif(not reader.reads_pictures(), reason="tesseract is not installed")


def figure(value: str) -> tuple[float, str]:
    m = FIGURE.search(value)
    assert m, value
    number, unit = _number(m[1]), m[2].lower().replace(" ", "")
    return (1000 * number, unit[1:]) if unit.startswith("k") else (number, unit)


def test_what_is_found_is_written_there_and_what_is_ticked_unasked_is_right():
    written = found = wrong = 0
    for seed in range(breadth(9, 60)):
        label = made_up(seed)
        seen = photographed(label.picture, "label.jpg", label.what)
        figures = [(figure(v.value), v) for v in seen.values]
        written += len(label.written)
        found += len({f for f, _ in figures} & label.written)
        wrong += sum(f not in label.written for f, _ in figures)
        for f, v in figures:
            assert not v.confirmed or f in label.written, (seed, v)
            assert v.box is not None
            assert 0 <= v.box.left < 1
            assert 0 <= v.box.top < 1
    print(f"{found} of {written} values found, {wrong} misread and left to a person")
    assert found >= 0.8 * written
    assert wrong <= 0.1 * written


def test_a_display_says_what_comes_in_and_what_goes_out():
    lines = ["64 %", "INPUT  120 W", "OUTPUT  310 W"]
    seen = photographed(picture_of(lines, random.Random(4), big=True), "display.jpg", "gauge")
    assert " ".join(v.value for v in seen.values) == "64 % in 120 W 310 W out"
    assert not any(v.confirmed for v in seen.values)


def test_a_station_label_is_read_as_a_pasted_sheet_is():
    lines = ["Capacity 1,024 Wh (51.2 V 20 Ah)", "AC output 1,000 W, surge 2,000 W", "AC charging 600 W"]
    seen = photographed(picture_of(lines, random.Random(8)), "label.jpg", "equipment", "stations")
    values = {v.field: v for v in seen.values}
    assert (values["nominal_wh"].value, values["continuous_w"].value) == ("1024", "1000")
    assert values["nominal_wh"].confirmed == "51.2 V, 20 Ah"
    assert not values["charge_w"].confirmed


def test_where_a_picture_was_taken_is_not_kept_and_a_text_is_refused(monkeypatch):
    picture = Image.new("RGB", (400, 200), "white")
    exif = Image.Exif()
    exif[0x010F] = "Maker"
    exif.get_ifd(0x8825)[2] = (45.0, 30.0, 0.0)
    out = io.BytesIO()
    picture.save(out, "JPEG", exif=exif)
    seen = reader.photograph(out.getvalue(), "x.jpg")
    assert b"Exif" in out.getvalue()
    assert "RXhpZg" not in seen.picture  # “Exif”, as it would stand in there
    assert seen.lines == []
    with pytest.raises(UnreadableFile):
        reader.photograph(b"115 V 1.5 A", "label.txt")
    monkeypatch.setattr(reader.shutil, "which", lambda _: None)
    with pytest.raises(reader.NoReader) as told:
        reader.photograph(out.getvalue(), "x.jpg")
    assert "apt install tesseract-ocr" in told.value.sentence
