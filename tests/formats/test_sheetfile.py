"""Data sheets as files: the forty made-up sheets printed as PDF, a manual's one page, and what cannot be read."""

import html
import io
from contextlib import suppress

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from pypdf import PdfReader, PdfWriter
from weasyprint import HTML

from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.measuring.data_sheet import read_sheet
from imbuto.formats.sheetfile import text_of
from tests.core.measuring.sheets import SHEETS
from tests.core.measuring.test_sheet import right


def printed(*pages: str) -> bytes:
    style = "white-space: pre-wrap; font: 10pt sans-serif; break-after: page"
    body = "".join(f'<pre style="{style}">{html.escape(page)}</pre>' for page in pages)
    return bytes(HTML(string=body).write_pdf())


SHEET = printed("Keg 2\nCapacity: 2,048 Wh\nAC output: 2,400 W")


def test_sheets_printed_as_pdf_are_read_as_the_pasted_ones_are():
    said = good = 0
    for kind, text, truth in SHEETS:
        found = {f.field: f for f in read_sheet(text_of(printed(text), "sheet.pdf", 60_000).text, kind).found}
        said += len(truth)
        good += sum(field in found and right(found[field].value, true) for field, true in truth.items())
        silent = {f for f, v in found.items() if not v.ask and not (f in truth and right(v.value, truth[f]))}
        assert silent == set(), text.splitlines()[0]
    assert good / said >= 0.95


def test_of_a_manual_the_pages_with_the_figures_are_given_in_their_order():
    manual = ["Keep it dry. " * 60] * 9
    manual[3], manual[7] = "Capacity: 2,048 Wh, 51.2 V", "Output: 2,400 W, 120 V, 60 Hz"
    told = text_of(printed(*manual), "manual.pdf", 800)
    assert (told.pages, told.of) == ([4, 8], 9)
    assert told.text.index("2,048 Wh") < told.text.index("2,400 W")
    assert "dry" not in told.text


def test_a_plain_text_is_taken_as_it_stands_in_either_encoding():
    for encoding in ("utf-8", "utf-8-sig", "latin-1"):
        told = text_of("Kälte: -10 °C\n".encode(encoding), "a.txt", 100)
        assert (told.text, told.pages, told.of) == ("Kälte: -10 °C\n", [1], 1)


def locked() -> bytes:
    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(SHEET)))
    writer.encrypt("made up", algorithm="RC4-128")
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (printed(""), "the file has no text"),
        (b"", "the file has no text"),
        (locked(), "locked with a password"),
        (SHEET[:200], "damaged"),
        (b"PK\x03\x04\x00\x00", "neither a PDF nor plain text"),
        (b"1 W " * 300, "every page is longer than 1,000 characters"),
        (b" " * 30_600_000, "it is 31 MB, and 30 MB is the maximum"),
    ],
    ids=["pictures", "empty", "locked", "cut short", "no text", "long", "large"],
)
def test_what_cannot_be_read_is_refused_with_its_name_and_what_to_do(data: bytes, words: str):
    with pytest.raises(UnreadableFile) as refused:
        text_of(data, "sheet.pdf", 1000)
    assert words in refused.value.sentence
    assert refused.value.sentence.startswith("Imbuto can't use sheet.pdf because ")


@given(
    st.lists(st.tuples(st.integers(0, len(SHEET) - 1), st.integers(0, 255)), max_size=40), st.integers(0, len(SHEET))
)
@example([(SHEET.index(b"FlateDecode"), 0)], len(SHEET))  # a filter that nobody wrote
@settings(max_examples=60, deadline=None)
def test_a_damaged_pdf_gives_its_text_or_a_sentence(flips: list[tuple[int, int]], cut: int):
    data = bytearray(SHEET)
    for at, value in flips:
        data[at] = value
    with suppress(UnreadableFile):  # anything else it raises fails the test
        text_of(bytes(data[: max(cut, 9)]), "sheet.pdf", 1000)
