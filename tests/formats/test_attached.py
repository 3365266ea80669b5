"""What is put on file: looked into, freed of where it was taken, refused with a sentence; and a home packed with it."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from contextlib import suppress
from dataclasses import asdict, replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.home.binder import MOST_BYTES
from imbuto.core.measuring.metered_series import Series
from imbuto.formats import bundle
from imbuto.formats.attached import safe_name, taken_in

PLACE = b"Here it was taken"


def photograph(form: str, mode: str = "RGB") -> bytes:
    """A picture that says where it was taken, how it was held, and what was used."""
    picture = Image.new(mode, (40, 20), 128 if mode in ("L", "P") else None)
    exif = Image.Exif()
    exif[0x010E] = PLACE.decode()
    exif[0x0112] = 6  # held upright
    exif.get_ifd(0x8825).update({1: "N", 2: (45.0, 12.0, 3.0), 3: "W", 4: (123.0, 50.0, 0.0)})
    out = io.BytesIO()
    picture.save(out, form, exif=exif, comment=PLACE)
    return out.getvalue()


@pytest.mark.parametrize(
    ("form", "mode"), [("JPEG", "RGB"), ("JPEG", "L"), ("PNG", "RGB"), ("PNG", "RGBA"), ("PNG", "P")]
)
def test_a_photograph_is_kept_without_where_it_was_taken(form, mode):
    sent = photograph(form, mode)
    assert PLACE in sent
    kept, media = taken_in(sent, "photo")
    assert media == f"image/{form.lower()}"
    assert PLACE not in kept
    assert b"Exif" not in kept
    shown = Image.open(io.BytesIO(kept))
    assert dict(shown.getexif()) == {}
    assert shown.size == (20, 40), "it stands upright without being told to"
    assert set(shown.info) <= {"jfif", "jfif_version", "jfif_unit", "jfif_density", "transparency"}


@pytest.mark.parametrize(
    ("data", "name", "words"),
    [
        (b"", "a.pdf", "empty"),
        (b"<svg onload='x()'/>", "drawing.svg", "Print it to a PDF"),
        (b"  <!doctype html><script>", "page.txt", "Print it to a PDF"),
        (b"\xff\xd8\xff and no picture", "a.jpg", "is damaged"),
        (b"\x89PNG\r\n\x1a\n", "a.png", "is damaged"),
        (b"MZ\x90\x00 a program", "a.pdf", "it isn't a PDF"),
        (b"%PDF-1.7" + b" " * MOST_BYTES, "big.pdf", "lower resolution"),
    ],
)
def test_anything_else_is_refused_with_a_sentence(data, name, words):
    with pytest.raises(UnreadableFile, match=words):
        taken_in(data, name)


def test_a_picture_that_swells_is_refused():
    out = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(out, "PNG")
    assert len(out.getvalue()) < 200_000
    with pytest.raises(UnreadableFile):
        taken_in(out.getvalue(), "bomb.png")


@given(
    st.one_of(
        st.binary(max_size=200),
        st.sampled_from([b"\xff\xd8\xff", b"\x89PNG\r\n\x1a\n"]).flatmap(
            lambda m: st.binary(max_size=120).map(lambda t: m + t)
        ),
    )
)
def test_no_bytes_get_past_but_those_that_are_named(data):
    kept, media = b"", "refused"
    with suppress(UnreadableFile):
        kept, media = taken_in(data, "file.bin")
    if media == "application/pdf":
        assert kept.startswith(b"%PDF-")
    elif media.startswith("text/"):
        assert not kept.decode("utf-8-sig").lstrip().startswith("<")
    elif media != "refused":
        Image.open(io.BytesIO(kept)).load()


@given(st.text(max_size=60))
def test_a_name_is_a_name_and_no_way_anywhere(name):
    made = safe_name(name, "application/pdf")
    assert made.endswith(".pdf")
    assert not set(made) & set('/\\"\r\n\0<>|:*?')
    assert not made.startswith(".")
    assert len(made) <= 120


@given(st.binary(max_size=300), st.lists(st.binary(min_size=1, max_size=300), max_size=4))
def test_a_packed_home_comes_out_as_it_went_in(plan_file, files):
    by = {hashlib.sha256(f).hexdigest(): f for f in files}
    assert bundle.unpack(bundle.pack(plan_file, by), "home.zip") == bundle.BundleContents(plan_file, by, [])


LOG = bundle.LogSheet(
    reading="r1", channel="Pump, =W", file="a.csv", zone="Europe/Rome", unit="W", cumulative=False, interval_s=None
)


@given(
    st.lists(st.integers(0, 7_000_000_000_000), min_size=2, max_size=40, unique=True).map(sorted),
    st.floats(-1e9, 1e9),
    st.booleans(),
)
def test_a_log_comes_out_to_the_thousandth_and_as_measured(ms, first, counter):
    series = Series("W", counter, np.array(ms) / 1000, first + np.arange(len(ms)) / 7, None)
    sheet = replace(LOG, cumulative=counter)
    ((back, found),) = bundle.unpack(bundle.pack(b"{}", {}, [(sheet, series)]), "home.zip").logs
    assert back == sheet
    assert np.round(found.seconds * 1000).tolist() == ms
    assert found.values.tolist() == series.values.tolist()


WHOLE = bundle.pack(b"{" + b"a" * 400 + b"}", {hashlib.sha256(x).hexdigest(): x for x in (b"one", b"two" * 90)})


@given(st.integers(0, len(WHOLE) - 1), st.integers(1, 255))
def test_a_packed_home_changed_anywhere_is_refused_or_its_files_are_the_same(at, by):
    changed = bytearray(WHOLE)
    changed[at] ^= by
    with suppress(UnreadableFile):
        files = bundle.unpack(bytes(changed), "home.zip").files
        assert all(hashlib.sha256(data).hexdigest() == mark for mark, data in files.items())


def archive(entries: list[tuple[str, bytes]]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as z:
        for name, data in entries:
            z.writestr(name, data)
    return out.getvalue()


def logs(said: bytes, *sheets: bytes) -> bytes:
    return archive(
        [("home.imbuto.json", b"{}"), ("logs.json", said), *((f"logs/{n}.csv", x) for n, x in enumerate(sheets))]
    )


SAID = json.dumps([asdict(LOG)]).encode()
MARK = hashlib.sha256(b"a").hexdigest()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (archive([("home.imbuto.json", b"{}"), ("../x", b"a")]), "doesn't belong"),
        (archive([("home.imbuto.json", b"{}"), (f"files/../{MARK}", b"a")]), "doesn't belong"),
        (archive([("home.imbuto.json", b"{}"), (f"files/{MARK}", b"b")]), "damaged or was changed"),
        (archive([(f"files/{MARK}", b"a")]), "is packed in it"),
        (logs(b"[{}]"), "doesn't say what its logs are"),
        (logs(SAID), "is named inside but missing"),
        (logs(SAID, b"t,W\n" + b"2026-01-01T00:00:00,1\n" * 3), "every time needs its offset"),
        (logs(SAID, b"t,W\n" + b"2026-01-01T00:00:00+00:00,1\n" * 3), "must rise"),
    ],
)
def test_a_packed_home_that_is_not_as_it_should_be_is_refused(data, words):
    with pytest.raises(UnreadableFile, match=words):
        bundle.unpack(data, "home.zip")
