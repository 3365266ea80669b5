"""The test and commissioning sheet: each line with the expected result."""

from __future__ import annotations

from imbuto.core.basics.units import number_text
from imbuto.formats.printing.paper import Bullets, Paragraph, Sheet, SheetPart, TableRows
from imbuto.services.outages.test_views import trials_of
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest, day_or_blank, lacks_station

BUILT = {"deviation": "built differently", "temporary": "temporary", "retired": "no longer used"}


def as_built(a: SheetRequest) -> tuple[SheetPart, ...]:
    """How it came out otherwise, and what is still to be marked or taken out."""
    rows = tuple((b.what, BUILT[b.kind], b.where, day_or_blank(b.settled) or "open") for b in a.plan.built.values())
    blank = (("", "", "", ""),) * 4
    hint = (
        "Enter each difference in the plan, or undo it. Give temporary work an end date. Label or remove "
        "switches that are no longer used."
    )
    return (SheetPart("As built", (Paragraph(hint), TableRows(("what", "how", "where", "settled"), rows + blank))),)


def tests(a: SheetRequest) -> Sheet:
    """Each test with the expected result, to be filled in by hand."""
    parts = []
    for p in trials_of(a.planner, a.home_id, a.plan.id, a.outage_id):
        one = p.procedure
        if one.refused:
            continue
        rows = tuple(
            (
                x.what,
                "yes"
                if x.unit == "yes"
                else f"{number_text(x.expected)} ± {number_text(x.within)} {x.unit}"
                if x.expected is not None
                else x.unit,
                "",
                x.fails,
            )
            for x in one.lines
        )
        first = (
            (Bullets((*one.cautions, *((f"Stop: {one.stop}",) if one.stop else ())), boxed=True),)
            if one.cautions or one.stop
            else ()
        )
        parts.append(
            SheetPart(
                one.title,
                (
                    Paragraph(f"{one.why} By {p.by}."),
                    *first,
                    TableRows(("line", "expected", "found", "where it differs"), rows),
                ),
            )
        )
    return a.sheet(
        "tests",
        "Tests and commissioning",
        ("Test in this order. Note each failure in the logbook as a defect."),
        *parts,
        *as_built(a),
    )


KIND = SheetKind(
    "tests",
    "Test and commissioning sheet",
    "Each test with the expected result, to be filled in",
    "the person who tests, the electrician",
    tests,
    lacks_station,
)
