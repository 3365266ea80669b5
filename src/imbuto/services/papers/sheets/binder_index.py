"""The index of the binder: warranties, manuals, serial numbers, invoices."""

from __future__ import annotations

from imbuto.formats.printing.paper import Paragraph, Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest, day_or_blank

FILED = {
    "warranty": "Warranty",
    "manual": "Manual",
    "serial": "Serial",
    "invoice": "Invoice",
    "firmware": "Firmware",
    "photo": "Photograph",
    "permit": "Permit",
    "settings": "Settings",
    "other": "Other",
}


def binder(a: SheetRequest) -> Sheet:
    """The index of what is on file."""
    home = a.documents.home
    rows = tuple(
        (
            FILED[f.kind],
            f.title,
            f.of,
            f.number,
            day_or_blank(f.on),
            day_or_blank(f.until),
            f.file.name if f.file else "on paper",
            f.note,
        )
        for f in sorted(home.binder.values(), key=lambda f: (list(FILED).index(f.kind), f.title))
    )
    there = tuple((x.name, x.rating, x.bought, x.warranty_until) for x in home.household.existing.values())
    open_cases = tuple(
        (e.title, e.case.symptom, e.case.asked, e.case.workaround)
        for e in home.book.values()
        if e.case and not e.case.closed
    )
    return a.sheet(
        "binder",
        "Binder: index",
        "What is filed, and where",
        SheetPart(
            "On file",
            (TableRows(("kind", "what", "of", "number", "day", "until", "file", "note"), rows),)
            if rows
            else (Paragraph("Nothing is filed yet."),),
        ),
        SheetPart(
            "Already owned", (TableRows(("what", "rating", "bought", "warranty until"), there),) if there else ()
        ),
        SheetPart(
            "Open defects",
            (TableRows(("what", "symptom", "asked", "meanwhile"), open_cases),) if open_cases else (),
        ),
        wide=True,
    )


def _no_warranty(a: SheetRequest) -> list[str]:
    named = " ".join(f"{f.of} {f.title}" for f in a.documents.home.binder.values() if f.kind in ("warranty", "serial"))
    names = dict.fromkeys(x.station.name for x in a.parts)
    return [f"warranty and serial of {n}" for n in names if n not in named]


KIND = SheetKind(
    "binder",
    "Binder: index",
    "Warranties, manuals, serials, invoices",
    "the person who makes a claim",
    binder,
    _no_warranty,
)
