"""Sheets from the plan: each one says what the screen says, escapes what is typed, and never more than it should."""

from __future__ import annotations

import io
import re

import pytest
from pypdf import PdfReader

from imbuto.core.basics.errors import ImbutoError, NotFound
from imbuto.formats.printing.paper import FIT
from imbuto.services.outages.switching_views import cards_of
from imbuto.services.papers.sheet_registry import as_pdf, kinds, list_sheets, page
from imbuto.services.papers.sheet_request import sheet_request
from tests.breadth import breadth
from tests.demo import demo_copy

HOME, OUTAGE = "saltgrass-house", "november-windstorm"


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("papers"))
    yield planner
    planner.database.close()


def plain(html: str) -> str:
    return re.sub(r"\s+", " ", re.sub(r"<style>.*?</style>|<[^>]+>", " ", html, flags=re.S))


def test_every_sheet_of_every_plan_is_made_and_signed(planner):
    for plan in planner.state(HOME).plans[:: breadth(4, 1)]:
        rows = {s.id: s for s in list_sheets(planner, HOME, plan["id"], OUTAGE)}
        assert list(rows) == [k.id for k in kinds()]
        for ident, row in rows.items():
            made = page(planner, HOME, plan["id"], OUTAGE, ident, hand="Ada")
            assert FIT in plain(made), (plan["id"], ident)
            assert f"revision {planner.rev(HOME)}" in plain(made)
            assert "by Ada" in plain(made)
            assert row.use
            assert row.whom
            assert "<script" not in made
            assert "http" not in made.replace("http-equiv", "")
            assert "file:" not in made


def test_the_run_card_is_the_cards_and_keeps_its_steps_together(planner):
    made = page(planner, HOME, "ten-place", OUTAGE, "run-card")
    text = plain(made)
    for card in cards_of(planner, HOME, "ten-place"):
        assert card.title in text
        for step in card.steps:
            assert step.what in text.replace("&#x27;", "'").replace("&amp;", "&"), step.what
    assert "touch nothing" in text
    assert "break-inside: avoid" in made
    assert "14 h" in text


def test_health_and_absence_stay_out_of_what_is_given_away(planner):
    brief = plain(page(planner, HOME, "ten-place", OUTAGE, "brief")).lower()
    household = plain(page(planner, HOME, "ten-place", OUTAGE, "household")).lower()
    assert "oxygen" in household
    assert "oxygen" not in brief
    assert "concentrator" not in brief.replace("bedroom, concentrator", "")
    for person in planner.documents(planner.state(HOME)).home.household.people.values():
        assert person.name.lower() in household
        assert person.name.lower() not in brief


def test_what_is_missing_is_said_and_never_taken_for_not_needed(planner):
    rows = {s.id: s for s in list_sheets(planner, HOME, "ten-place", OUTAGE)}
    assert rows["joining"].lacks
    bare = {s.id: s for s in list_sheets(planner, "via-dei-glicini", "cords-only", "summer-storm")}
    assert all(isinstance(x, str) and x for s in bare.values() for x in s.lacks)
    assert "to look up" in plain(page(planner, HOME, "ten-place", OUTAGE, "joining"))


def test_what_somebody_typed_is_text_and_nothing_else(planner):
    evil = '<img src=x onerror="alert(1)"> & co'
    op = {"doc": "home", "op": "replace", "path": "/loads/kettle/name", "value": evil}
    planner.edit(HOME, planner.rev(HOME), "evil", "Evil", [op], None)
    for kind in kinds():
        made = page(planner, HOME, "ten-place", OUTAGE, kind.id, hand=evil)
        assert "<img" not in made
        assert "&lt;img" in made
    planner.undo(HOME, "undo-evil", None)


@pytest.mark.parametrize(("size", "inches"), [("letter", (8.5, 11)), ("a4", (8.27, 11.69))][: breadth(1, 2)])
def test_the_pack_is_one_tagged_pdf_with_contents_and_text_to_select(planner, size, inches):
    made = as_pdf(page(planner, HOME, "ten-place", OUTAGE, "pack", size=size, large=size == "a4", fonts="file"))
    pdf = PdfReader(io.BytesIO(made))
    box = pdf.pages[0].mediabox
    assert (float(box.width) / 72, float(box.height) / 72) == (
        pytest.approx(inches[0], abs=0.02),
        pytest.approx(inches[1], abs=0.02),
    )
    catalog = pdf.trailer["/Root"]
    assert catalog["/Lang"] == "en"
    assert catalog["/MarkInfo"]["/Marked"]
    assert "/StructTreeRoot" in catalog
    text = " ".join(p.extract_text() for p in pdf.pages)
    for kind in kinds():
        assert kind.make.__name__
    for words in ("Run card", "When the power is out", "Brief for quotes", "Circuit schedule", "Parts list"):
        assert words in text


def test_one_file_is_carried_away_and_opens_without_a_server(planner):
    made = page(planner, HOME, "ten-place", OUTAGE, "pack", fonts="inside")
    assert len(made.encode()) < 1_500_000
    assert "file:" not in made
    assert 'src:url("http' not in made
    assert made.count("<article") == len(kinds())


def test_what_is_no_sheet_is_refused(planner):
    for plan, outage, sheet in (
        ("none", OUTAGE, "run-card"),
        ("ten-place", "none", "run-card"),
        ("ten-place", OUTAGE, "novel"),
    ):
        with pytest.raises(NotFound):
            page(planner, HOME, plan, outage, sheet)
    with pytest.raises(ImbutoError):
        page(planner, HOME, "ten-place", OUTAGE, "run-card", size="a3")


def test_every_piece_of_the_parts_list_has_its_rating(planner):
    for home, plan in (
        (HOME, "switched-panel"),
        (HOME, "two-panels"),
        (HOME, "ten-place"),
        ("via-dei-glicini", "cords-only"),
    ):
        a = sheet_request(planner, home, plan, planner.state(home).outages[0]["id"])
        (sheet,) = [k.make(a) for k in kinds() if k.id == "parts"]
        equipment = next(p for p in sheet.parts if p.title == "Equipment")
        block, last = equipment.blocks
        for row in block.rows:
            assert row[block.head.index("rating")], row
        # The total is what its own lines say: price times what is not there.
        pay = 0.0
        for row in block.rows:
            many, each, have = (row[block.head.index(x)] for x in ("how many", "each", "owned or to buy"))
            there = int(have.split()[0]) if have != "to buy" else 0
            if each != "not priced":
                pay += float(each.split()[0].replace(",", "")) * (int(many) - there)
        said = re.match(r"To buy: ([\d,]+) [A-Z]{3}", last.text)
        assert (float(said[1].replace(",", "")) if said else 0.0) == pytest.approx(pay, abs=2), (home, plan, last.text)


def test_a_machine_without_the_pdf_part_says_what_to_install(planner, monkeypatch):
    from imbuto.services.papers import sheet_registry

    def missing(*_):
        raise ModuleNotFoundError("weasyprint")

    monkeypatch.setattr(sheet_registry, "run_elsewhere", missing)
    with pytest.raises(sheet_registry.CannotPrint, match=r"pip install 'imbuto\[pdf\]'"):
        as_pdf("<html></html>")
    made = page(planner, HOME, "ten-place", OUTAGE, "run-card")
    assert FIT in plain(made), "the page itself is made all the same"


def test_a_house_with_one_leg_never_hears_of_a_second(planner):
    home = "via-dei-glicini"
    documents = planner.documents(planner.state(home))
    for plan in documents.plans:
        for outage in list(documents.outages)[:1]:
            for kind in kinds():
                text = re.sub(
                    r"<style>.*?</style>|<[^>]+>", " ", page(planner, home, plan, outage, kind.id), flags=re.S
                )
                assert not re.search(r"\blegs?\b|[Hh]alf the house", text), (plan, kind.id)
            for limit in planner.verdict(home, plan, outage).limits:
                assert not re.search(r"\blegs?\b", f"{limit.title} {limit.sentence}"), limit
