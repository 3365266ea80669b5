"""Sheets over every kind of equipment and a hundred generated plans: what is on paper is in the plan, and what of it
must be is there."""

from __future__ import annotations

import io
import re
from dataclasses import replace

import pikepdf
import pypdfium2
import pytest
from pypdf import PdfReader

from imbuto.core.equipment.catalogue import shipped
from imbuto.core.switching.switch_model import states_along, switching_model
from imbuto.core.switching.switching_cards import cards
from imbuto.formats.documents import HOME, OUTAGE, PLAN
from imbuto.formats.printing import paper
from imbuto.formats.printing.paper import Bullets, NumberedSteps, Sheet, TableRows, Tags
from imbuto.services.desk.demo import DEMO_HOMES
from imbuto.services.papers.sheet_registry import as_pdf, kinds, page
from imbuto.services.papers.sheet_request import SheetRequest, sheet_request
from imbuto.services.papers.sheets.run_card import run_card
from tests.breadth import breadth
from tests.core.run.test_several import KIT, random_several
from tests.demo import demo_copy
from tests.support import OUTAGE as CASE
from tests.support import load, switched


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("papers"))
    yield planner
    planner.database.close()


def asked_of(planner, home, plan) -> SheetRequest:
    """A home of its own with this plan, as it is asked for."""
    if not home.catalogue.stations:
        home = replace(home, catalogue=KIT)
    state = planner.add(HOME.write(home), [PLAN.write(plan)], [OUTAGE.write(CASE)])
    return sheet_request(planner, state.id, plan.id, CASE.id)


def cells(sheet: Sheet, *heads: str) -> list[str]:
    """Everything in a sheet's tables under one of these heads."""
    found = []
    for part in sheet.parts:
        for b in part.blocks:
            if isinstance(b, TableRows):
                found += [row[i] for row in b.rows for i, h in enumerate(b.head) if h in heads]
    return found


def words(sheet: Sheet) -> str:
    return repr(sheet.parts)


def holds(a: SheetRequest) -> None:
    """Both ways: everything on the sheets is in the plan, everything of the plan is on the sheets that are to have
    it."""
    home, plan = a.documents.home, a.plan
    made = {k.id: k.make(a) for k in kinds()}
    targets = {x.target_names[f.id] for x in a.each for f in x.plan.feeds.values()}
    circuits = {home.circuits[f.circuit].name for f in plan.feeds.values() if f.circuit}
    cords = {x.target_names[f.id] for x in a.each for f in x.plan.feeds.values() if f.circuit is None}
    assert set(cells(made["chosen"], "what")) == targets
    assert set(cells(made["schedule"], "circuit")) == circuits
    assert set(cells(made["schedule"], "to")) == cords
    assert set(cells(made["chosen"], "circuit")) == {c.name for c in home.circuits.values()} - circuits
    assert set(cells(made["brief"], "circuit")) == circuits
    assert set(cells(made["joining"], "what")) >= targets or not a.parts
    named = cells(made["parts"], "what")
    assert {n.removeprefix("Cord to ") for n in named if n.startswith("Cord to") and "inlet of" not in n} == cords
    tags = [head for part in made["labels"].parts for b in part.blocks if isinstance(b, Tags) for head, _ in b.tags]
    assert {t: tags.count(t) for t in cords} == dict.fromkeys(cords, 2), "one for both ends of every cord"
    dark = set(cells(made["off-time"], "circuit"))
    assert dark <= {c.name for c in home.circuits.values()}
    if plan.devices and dark:
        assert dark >= circuits
    for kind in made.values():
        assert kind.foot.startswith(home.name)
        assert f"revision {a.rev}" in kind.foot


def replays(a: SheetRequest) -> None:
    """What the run card says to do is the cards' own, in their order, and walking it through the model harms nobody."""
    sheet, model = run_card(a), switching_model(a.each)
    printed = [what for p in sheet.parts for b in p.blocks if isinstance(b, NumberedSteps) for what, _ in b.steps]
    made = cards(a.each)
    assert printed == [s.what for card in made for s in card.steps]
    by_text = {s.what: s for card in made for s in card.steps}
    for title in {c.title for c in made if c.kind == "over" and not c.refused}:
        part = next(p for p in sheet.parts if p.title == title)
        state = model.rest
        for b in part.blocks:
            for what, _ in b.steps if isinstance(b, NumberedSteps) else ():
                for now in states_along(model, state, by_text[what].moves):
                    state = now
                    assert model.dangers(model.settled(state, grid=False), grid=False) == [], what
                    assert model.dangers(model.settled(state, grid=True), grid=True) == [], what
        ends = {
            model.parts[p].name for p, to in state.items() if to.lower() == "off" and model.rest[p].lower() != "off"
        }
        never = next(p for p in sheet.parts if p.title.startswith("Never on"))
        said = " ".join(i for b in never.blocks if isinstance(b, Bullets) for i in b.items)
        for name in ends:
            assert name in said, name


@pytest.mark.parametrize("equipment", [t.id for t in shipped().transfer.values()])
def test_every_kind_of_equipment(planner, equipment):
    now, _ = switched(
        (1, [load("lamp", 60)]),
        (2, [load("fridge", 150, kind="compressor", purpose="food")]),
        (3, [load("oxygen", purpose="life")]),
    )
    plan = now.plan.with_equipment(equipment)
    if equipment == "cords":
        plan = replace(
            plan,
            feeds={k: replace(f, circuit=None, load=now.home.loads_on(f.circuit)[0].id) for k, f in plan.feeds.items()},
        )
    a = asked_of(
        planner, replace(now.home, catalogue=replace(KIT, stations=KIT.stations | {now.station.id: now.station})), plan
    )
    holds(a)
    replays(a)


@pytest.mark.parametrize("tens", range(breadth(1, 10)))
def test_generated_plans(planner, tens):
    for seed in range(10 * tens, 10 * tens + 10):
        home, plan, _ = random_several(seed)
        a = asked_of(planner, home, plan)
        holds(a)
        replays(a)


DEMO = [
    (home, plan, size)
    for home, plans in (("saltgrass-house", ("ten-place", "two-panels")), ("via-dei-glicini", ("cords-only",)))
    for plan in plans
    for size in ("letter", "a4")
][:: breadth(3, 1)]


@pytest.mark.parametrize(("home", "plan", "size"), DEMO)
def test_the_run_card_has_one_page_and_all_of_it_is_there(planner, home, plan, size):
    """With fourteen breakers on it too; nothing is lost on the way to paper."""
    outage = planner.state(home).outages[0]["id"]
    a = sheet_request(planner, home, plan, outage)
    made = paper.fit_on_one_page(run_card(a), size)
    assert made.pt >= 7
    pdf = PdfReader(io.BytesIO(as_pdf(paper.html([made], paper=size, large=False, title="Run card", fonts="file"))))
    assert len(pdf.pages) == made.sides
    assert made.sides == 1 or plan == "two-panels"  # three stations, a camper and fifty steps: two sides on Letter
    text = re.sub(r"\s+", "", "".join(p.extract_text() for p in pdf.pages))
    for card in cards(a.each):
        assert re.sub(r"\s+", "", card.title) in text
        for step in card.steps:
            assert re.sub(r"\s+", "", step.what) in text, step.what


@pytest.mark.parametrize(("home", "size"), list(zip(DEMO_HOMES, ("letter", "a4"), strict=True))[breadth(1, 0) :])
def test_all_sheets_pass_qpdf_and_nothing_is_cut_or_empty(planner, home, size):
    """By the syntax check of its library; drawn, each page has something on it and a clear edge."""
    state = planner.state(home)
    plan, outage = state.plans[-1]["id"], state.outages[0]["id"]
    made = as_pdf(page(planner, home, plan, outage, "pack", size=size, fonts="file"))
    with pikepdf.open(io.BytesIO(made)) as pdf:
        assert pdf.check_pdf_syntax() == []
        assert pdf.Root.MarkInfo.Marked
        assert str(pdf.Root.Lang) == "en"
        fonts = {str(f.BaseFont) for p in pdf.pages for f in p.resources.get("/Font", {}).values()}
    assert fonts
    drawn = pypdfium2.PdfDocument(made)
    try:
        for i in range(len(drawn)):
            sheet = drawn[i]
            picture = sheet.render(scale=0.6).to_pil().convert("L")
            assert picture.getextrema()[0] < 100, f"page {i + 1} is empty"
            width, height = picture.size
            edge = 10
            for strip in (
                (0, 0, edge, height),
                (width - edge, 0, width, height),
                (0, 0, width, edge),
                (0, height - edge, width, height),
            ):
                assert picture.crop(strip).getextrema()[0] > 200, f"page {i + 1} is cut"
            sheet.close()
    finally:
        drawn.close()


def test_a_card_too_long_for_one_side_has_two_and_reads_on_in_order():
    parts = tuple(
        paper.SheetPart(
            f"Part {n}",
            (NumberedSteps(tuple((f"Step {n}.{i} of a long card, said at some length", ()) for i in range(24))),),
        )
        for n in range(8)
    )
    made = paper.fit_on_one_page(Sheet("run-card", "Run card", "", parts, "foot", card=True), "letter")
    assert (made.sides, made.pt >= 7) == (2, True)
    pdf = PdfReader(io.BytesIO(as_pdf(paper.html([made], paper="letter", large=False, title="Run card", fonts="file"))))
    assert len(pdf.pages) == 2
    read = [int(n) for p in pdf.pages for n in re.findall(r"Part (\d+)", p.extract_text())]
    assert read == list(range(8))
