"""A sheet as HTML: whatever is in it is text, tables keep their shape, and nothing is fetched from anywhere."""

from __future__ import annotations

import re
from html.parser import HTMLParser

import pytest
from hypothesis import given
from hypothesis import strategies as st

from imbuto.formats.printing.paper import (
    FIT,
    Bullets,
    NumberedSteps,
    Paragraph,
    Picture,
    Sheet,
    SheetPart,
    TableRows,
    Tags,
    html,
)

TEXT = st.text(alphabet=st.characters(blacklist_categories=["Cs", "Cc"]), max_size=40)
BLOCK = st.one_of(
    st.builds(Paragraph, TEXT, st.booleans()),
    st.builds(Bullets, st.lists(TEXT, max_size=4).map(tuple), st.booleans(), st.booleans()),
    st.builds(
        lambda n, rows: TableRows(tuple(f"h{i}" for i in range(n)), tuple(tuple(r[:n]) for r in rows)),
        st.integers(1, 4),
        st.lists(st.lists(TEXT, min_size=4, max_size=4), max_size=4),
    ),
    st.builds(Tags, st.lists(st.tuples(TEXT, st.lists(TEXT, max_size=3).map(tuple)), max_size=3).map(tuple)),
    st.builds(lambda key: Picture("<svg></svg>", key), TEXT),
    st.builds(
        NumberedSteps,
        st.lists(st.tuples(TEXT, st.lists(st.tuples(TEXT, TEXT), max_size=3).map(tuple)), max_size=3).map(tuple),
    ),
)
SHEET = st.builds(
    Sheet,
    st.from_regex(r"[a-z]{1,8}", fullmatch=True),
    TEXT,
    TEXT,
    st.lists(st.builds(SheetPart, TEXT, st.lists(BLOCK, max_size=3).map(tuple)), max_size=3).map(tuple),
    TEXT,
    wide=st.booleans(),
    card=st.booleans(),
    pt=st.sampled_from([0.0, 8.25]),
)


class GaugeReading(HTMLParser):
    """Tags as they are opened and closed, and all text."""

    def __init__(self) -> None:
        super().__init__()
        self.tags: list[str] = []
        self.text = ""
        self.cells: list[int] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.append(tag)
        assert not any(name.startswith("on") for name, _ in attrs)
        if tag == "tr":
            self.cells.append(0)
        elif tag in ("td", "th"):
            self.cells[-1] += 1

    def handle_data(self, data: str) -> None:
        self.text += data


def words_of(sheet: Sheet) -> list[str]:
    found = [sheet.title, sheet.under, sheet.foot]
    for part in sheet.parts:
        found.append(part.title)
        for b in part.blocks:
            if isinstance(b, Paragraph):
                found.append(b.text)
            elif isinstance(b, Bullets):
                found += b.items
            elif isinstance(b, Picture):
                found.append(b.key)
            elif isinstance(b, Tags):
                found += [x for head, lines in b.tags for x in (head, *lines)]
            elif isinstance(b, TableRows):
                found += [*b.head, *(c for row in b.rows for c in row)]
            else:
                found += [x for what, more in b.steps for x in (what, *(y for pair in more for y in pair))]
    return found


@given(st.lists(SHEET, min_size=1, max_size=3), TEXT)
def test_whatever_is_in_a_sheet_comes_out_as_text_and_as_nothing_else(sheets, title):
    made = html(sheets, paper="letter", large=False, title=title, fonts="none")
    seen = GaugeReading()
    seen.feed(made)
    assert set(seen.tags) <= {
        "html",
        "meta",
        "title",
        "style",
        "nav",
        "h1",
        "h2",
        "ol",
        "ul",
        "li",
        "a",
        "article",
        "header",
        "p",
        "section",
        "strong",
        "i",
        "table",
        "thead",
        "tbody",
        "tr",
        "th",
        "td",
        "footer",
        "link",
        "b",
        "span",
        "figure",
        "svg",
        "main",
        "div",
    }
    assert seen.tags.count("article") == len(sheets)
    assert ("nav" in seen.tags) == (len(sheets) > 1)
    flat = re.sub(r"\s+", "", seen.text)
    for sheet in sheets:
        for words in words_of(sheet):
            assert re.sub(r"\s+", "", words) in flat
    assert seen.text.count(FIT) == len(sheets)


@given(SHEET)
def test_every_row_of_a_table_has_as_many_cells_as_its_head(sheet):
    seen = GaugeReading()
    seen.feed(html([sheet], paper="a4", large=True, title="t", fonts="none"))
    tables = [b for p in sheet.parts for b in p.blocks if isinstance(b, TableRows)]
    assert seen.cells == [n for b in tables for n in [len(b.head)] * (any(b.head) + len(b.rows))]


@pytest.mark.parametrize(
    ("fonts", "inside", "file"), [("none", False, False), ("inside", True, False), ("file", False, True)]
)
def test_fonts_are_inside_or_from_files_or_none_and_never_from_the_network(fonts, inside, file):
    made = html([Sheet("a", "A", "", (), "")], paper="letter", large=False, title="t", fonts=fonts)
    faces = re.findall(r"@font-face\{[^}]*\}", made)
    if not faces:
        assert not inside or "@font-face" not in made  # the interface was not built, and the system's own stands in
    assert ("data:font/woff2" in made) == (inside and bool(faces))
    assert ("file://" in made) == (file and bool(faces))
    assert "http" not in made


def test_paper_and_print_are_as_asked():
    letter, a4 = (
        html([Sheet("a", "A", "", (), "")], paper=p, large=p == "a4", title="t", fonts="none") for p in ("letter", "a4")
    )
    assert "size: 8.5in 11in" in letter
    assert "size: 210mm 297mm" in a4
    assert "10.5pt" in letter
    assert "15pt" in a4
