"""Papers: sheets derived from plan, switching model and logbook, so that none of them can contradict what is on
screen."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from functools import lru_cache
from typing import Literal

from imbuto.core.basics.elsewhere import run_elsewhere
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.formats.csv_tables.csvout import table
from imbuto.formats.printing import paper
from imbuto.services.desk.planner import Planner
from imbuto.services.papers.panel_labels_pdf import CannotPrint
from imbuto.services.papers.print_history import changed_since, note_prints, prints_of
from imbuto.services.papers.private_details import SAID, for_strangers, kinds_revealed, private_words
from imbuto.services.papers.sheet_request import SheetKind, sheet_request
from imbuto.services.papers.sheets import (
    binder_index,
    chosen_sheet,
    compare_sheet,
    hours_sheet,
    household_sheet,
    off_time_plan,
    run_card,
    test_sheet,
)
from imbuto.services.papers.sheets.work import (
    brief_for_quotes,
    circuit_schedule,
    cord_and_slot_labels,
    parts_list,
    permissions_sheet,
    settings_sheet,
    site_preparation,
    wiring_diagram_sheet,
)

Paper = Literal["letter", "a4"]


@dataclass(frozen=True, slots=True, kw_only=True)
class PaperView:
    """A sheet in the table.

    also: other forms it has
    printed: when it was made to be printed last
    changed: what is not so any more
    """

    id: str
    title: str
    use: str
    whom: str
    lacks: list[str]
    also: list[str]
    printed: datetime | None
    changed: list[str]


def list_sheets(planner: Planner, home_id: str, plan_id: str, outage_id: str) -> list[PaperView]:
    """Every sheet with what is still missing in it. Raises NotFound."""
    a = sheet_request(planner, home_id, plan_id, outage_id)
    known = prints_of(a)
    return [
        PaperView(
            id=k.id,
            title=k.title,
            use=k.use,
            whom=k.whom,
            lacks=k.lacks(a),
            also=list(k.also),
            printed=known[k.id].at if k.id in known else None,
            changed=changed_since(a, k, known[k.id]) if k.id in known else [],
        )
        for k in kinds()
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class PrivateView:
    """What a sheet tells that strangers need not know, in words. left: what of that its version for strangers still
    tells."""

    id: str
    reveals: list[str]
    left: list[str]


def private(planner: Planner, home_id: str, plan_id: str, outage_id: str) -> list[PrivateView]:
    """What each sheet reveals, found in its own words, and last ``pack`` with all of it. Raises NotFound."""
    a = sheet_request(planner, home_id, plan_id, outage_id)
    known = private_words(a.documents.home)
    found = []
    for kind in kinds():
        made = kind.make(a)
        found.append((kind.id, kinds_revealed(made, known), kinds_revealed(for_strangers(made, known), known)))
    # The directory names every circuit; it has no version for strangers.
    named = {w.kind for w in known for c in a.documents.home.circuits.values() if w.words == c.name}
    found.append(("directory", [k for k in SAID if k in named], [k for k in SAID if k in named]))
    views = [PrivateView(id=k, reveals=[SAID[x] for x in r], left=[SAID[x] for x in s]) for k, r, s in found]
    shown, left = ({w for v in views[:-1] for w in getattr(v, name)} for name in ("reveals", "left"))
    pack = PrivateView(
        id="pack",
        reveals=[w for w in SAID.values() if w in shown],
        left=[w for w in SAID.values() if w in left],
    )
    return [*views, pack]


def note_printed(planner: Planner, home_id: str, plan_id: str, outage_id: str, sheet: str) -> None:
    """A sheet, or with ``pack`` every one, was made to be printed. Raises NotFound."""
    note_prints(sheet_request(planner, home_id, plan_id, outage_id), _of(sheet))


def _of(sheet: str) -> list[SheetKind]:
    chosen = [k for k in kinds() if sheet in (k.id, "pack")]
    if not chosen:
        raise NotFound("sheet", sheet, f"choose one of pack, {', '.join(k.id for k in kinds())}")
    return chosen


def page(
    planner: Planner,
    home_id: str,
    plan_id: str,
    outage_id: str,
    sheet: str,
    *,
    size: str = "",
    large: bool = False,
    hand: str = "",
    fonts: paper.Fonts = "none",
    strangers: bool = False,
) -> str:
    """A sheet as HTML, or with ``pack`` all of them. size: letter or a4, by default the home's usual one; strangers:
    without what they need not know. Raises NotFound, InvalidValue."""
    a = sheet_request(planner, home_id, plan_id, outage_id, hand)
    chosen = _of(sheet)
    usual: Paper = "letter" if a.documents.home.service.volts == 120 else "a4"
    if size not in ("", "letter", "a4"):
        raise InvalidValue("paper", size, "choose letter or a4")
    title = f"{a.documents.home.name}: {chosen[0].title if len(chosen) == 1 else a.plan.name}"
    chosen_size: Paper = "a4" if size == "a4" else "letter" if size == "letter" else usual
    private = private_words(a.documents.home)
    sheets = [for_strangers(k.make(a), private) if strangers else k.make(a) for k in chosen]
    made = [_fitted(s, chosen_size, large=large) for s in sheets]
    return paper.html(made, paper=chosen_size, large=large, title=title, fonts=fonts)


@lru_cache(maxsize=64)
def _on_one(sheet: paper.Sheet, size: Paper) -> paper.Sheet:
    return run_elsewhere(paper.fit_on_one_page, sheet, size)


def _fitted(sheet: paper.Sheet, size: Paper, *, large: bool) -> paper.Sheet:
    """A card on one page; in large print on as many as it takes, and so where nothing can be drawn here."""
    if not sheet.card or large:
        return replace(sheet, card=False, pt=0.0 if large else sheet.pt)
    try:
        return _on_one(sheet, size)
    except (OSError, ImportError):
        return replace(sheet, pt=paper.SIZES[0])


def as_table(
    planner: Planner, home_id: str, plan_id: str, outage_id: str, sheet: str, *, strangers: bool = False
) -> str:
    """The tables of a sheet as CSV, one under the other; strangers: without what they need not know. Raises
    NotFound."""
    a = sheet_request(planner, home_id, plan_id, outage_id)
    made = _kind(sheet, "csv").make(a)
    if strangers:
        made = for_strangers(made, private_words(a.documents.home))
    found = [
        table((p.title, *b.head), [("", *row) for row in b.rows])
        for p in made.parts
        for b in p.blocks
        if isinstance(b, paper.TableRows)
    ]
    return "\n".join(found)


def as_dates(planner: Planner, home_id: str, plan_id: str, outage_id: str, sheet: str) -> bytes:
    """The steps of a sheet as an iCalendar file. Raises NotFound."""
    _kind(sheet, "ics")
    return off_time_plan.off_calendar(sheet_request(planner, home_id, plan_id, outage_id))


def _kind(sheet: str, form: str) -> SheetKind:
    found = next((k for k in kinds() if k.id == sheet and form in k.also), None)
    if found is None:
        raise NotFound("sheet", f"{sheet}.{form}", "there is no printout in that format")
    return found


def as_pdf(page_: str) -> bytes:
    """A page as PDF. Raises CannotPrint."""
    try:
        return run_elsewhere(paper.pdf, page_)
    except (OSError, ImportError) as error:
        raise CannotPrint.because("papers", error) from None


def kinds() -> tuple[SheetKind, ...]:
    """Return every kind of sheet, in the order in which Papers lists them."""
    return (
        run_card.KIND,
        household_sheet.KIND,
        circuit_schedule.KIND,
        cord_and_slot_labels.KIND,
        test_sheet.KIND,
        hours_sheet.KIND,
        chosen_sheet.KIND,
        compare_sheet.KIND,
        brief_for_quotes.KIND,
        wiring_diagram_sheet.KIND,
        settings_sheet.KIND,
        parts_list.KIND,
        site_preparation.KIND,
        off_time_plan.KIND,
        permissions_sheet.KIND,
        binder_index.KIND,
    )
