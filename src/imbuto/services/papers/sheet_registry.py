"""Papers: sheets derived from plan, switching model and logbook, so that none of them can contradict what is on
screen."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, datetime
from functools import lru_cache
from typing import Literal

from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.basics.units import day_text
from imbuto.core.diagram.joining_diagram import Diagram
from imbuto.core.plan.plan import Feed, Plan, places_of
from imbuto.core.plan.system import Part, Wiring, resolve
from imbuto.formats.csv_tables.csvout import table
from imbuto.formats.printing import paper
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.papers.panel_labels_pdf import CannotPrint

Paper = Literal["letter", "a4"]


@dataclass(frozen=True, slots=True)
class Asked:
    """What a sheet is made of. rev: of the home; today: there; hand: whose it is, empty for nobody's."""

    planner: Planner
    home_id: str
    documents: Documents
    plan: Plan
    outage_id: str
    each: tuple[Wiring, ...]
    parts: tuple[Part, ...]
    diagram: Diagram
    rev: int
    today: date
    hand: str

    def sheet(
        self,
        ident: str,
        title: str,
        under: str,
        *blocks: paper.SheetPart,
        wide: bool = False,
        card: bool = False,
        pt: float = 0,
    ) -> paper.Sheet:
        """With its foot. pt: where it is larger than the others."""
        by = f", by {self.hand}" if self.hand else ""
        foot = f"{self.documents.home.name}, {self.plan.name}, revision {self.rev}, {day_text(self.today)}{by}."
        return paper.Sheet(ident, title, under, tuple(b for b in blocks if b.blocks), foot, wide=wide, card=card, pt=pt)


def place_words(x: Wiring, feed: Feed) -> str:
    """The places of a feed, with the device they are of where the plan has several."""
    places = ", ".join(map(str, places_of(feed, x.home)))
    device = x.plan.device_of(feed)
    if device is None or len(x.whole.devices) < 2:
        return places
    return f"{places} of {x.equipments[device.id].name}"


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of sheet. use, whom: what it is for, and for whom; reveals: what it tells that not everybody should
    know; make: the sheet; lacks: what is still missing in it, as unknown is never "not needed"; also: other forms it
    has, csv or ics."""

    id: str
    title: str
    use: str
    whom: str
    reveals: str
    make: Callable[[Asked], paper.Sheet]
    lacks: Callable[[Asked], list[str]]
    also: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class PaperView:
    """A sheet in the table. also: other forms it has; printed: when it was made to be printed last, changed: what is
    not so any more."""

    id: str
    title: str
    use: str
    whom: str
    reveals: str
    lacks: list[str]
    also: list[str]
    printed: datetime | None
    changed: list[str]


def asked(planner: Planner, home_id: str, plan_id: str, outage_id: str, hand: str = "") -> Asked:
    """Everything that sheets are made of. Raises NotFound."""
    state = planner.state(home_id)
    documents = planner.documents(state)
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "the home has no such plan")
    if outage_id not in documents.outages:
        raise NotFound("outage", outage_id, "the home has no such outage")
    plan, now = documents.plans[plan_id], planner.now(documents.home)
    system = resolve(documents.home, plan, documents.catalogue)
    return Asked(
        planner,
        home_id,
        documents,
        plan,
        outage_id,
        system.each,
        system.parts,
        planner.diagram(home_id, plan_id),
        state.rev,
        now.date(),
        hand.strip()[:60],
    )


def listed(planner: Planner, home_id: str, plan_id: str, outage_id: str) -> list[PaperView]:
    """Every sheet with what is still missing in it. Raises NotFound."""
    from imbuto.services.papers.print_history import changed_since, prints_of

    a = asked(planner, home_id, plan_id, outage_id)
    known = prints_of(a)
    return [
        PaperView(
            id=k.id,
            title=k.title,
            use=k.use,
            whom=k.whom,
            reveals=k.reveals,
            lacks=k.lacks(a),
            also=list(k.also),
            printed=known[k.id].at if k.id in known else None,
            changed=changed_since(a, k, known[k.id]) if k.id in known else [],
        )
        for k in kinds()
    ]


def note_printed(planner: Planner, home_id: str, plan_id: str, outage_id: str, sheet: str) -> None:
    """A sheet, or with ``pack`` every one, was made to be printed. Raises NotFound."""
    from imbuto.services.papers.print_history import note_prints

    note_prints(asked(planner, home_id, plan_id, outage_id), _of(sheet))


def _of(sheet: str) -> list[Kind]:
    chosen = [k for k in kinds() if sheet in (k.id, "pack")]
    if not chosen:
        raise NotFound("sheet", sheet, f"one of pack, {', '.join(k.id for k in kinds())} is wanted")
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
) -> str:
    """A sheet as HTML, or with ``pack`` all of them. size: letter or a4, by default the home's usual one. Raises
    NotFound, InvalidValue."""
    a = asked(planner, home_id, plan_id, outage_id, hand)
    chosen = _of(sheet)
    usual: Paper = "letter" if a.documents.home.service.volts == 120 else "a4"
    if size not in ("", "letter", "a4"):
        raise InvalidValue("paper", size, "choose letter or a4")
    title = f"{a.documents.home.name}: {chosen[0].title if len(chosen) == 1 else a.plan.name}"
    chosen_size: Paper = "a4" if size == "a4" else "letter" if size == "letter" else usual
    made = [_fitted(k.make(a), chosen_size, large=large) for k in chosen]
    return paper.html(made, paper=chosen_size, large=large, title=title, fonts=fonts)


@lru_cache(maxsize=64)
def _on_one(sheet: paper.Sheet, size: Paper) -> paper.Sheet:
    return paper.fitted(sheet, size)


def _fitted(sheet: paper.Sheet, size: Paper, *, large: bool) -> paper.Sheet:
    """A card on one page; in large print on as many as it takes, and so where nothing can be drawn here."""
    if not sheet.card or large:
        return replace(sheet, card=False, pt=0.0 if large else sheet.pt)
    try:
        return _on_one(sheet, size)
    except OSError:
        return replace(sheet, pt=paper.SIZES[0])


def as_table(planner: Planner, home_id: str, plan_id: str, outage_id: str, sheet: str) -> str:
    """The tables of a sheet as CSV, one under the other. Raises NotFound."""
    made = _kind(sheet, "csv").make(asked(planner, home_id, plan_id, outage_id))
    found = [
        table((p.title, *b.head), [("", *row) for row in b.rows])
        for p in made.parts
        for b in p.blocks
        if isinstance(b, paper.TableRows)
    ]
    return "\n".join(found)


def as_dates(planner: Planner, home_id: str, plan_id: str, outage_id: str, sheet: str) -> bytes:
    """The steps of a sheet as an iCalendar file. Raises NotFound."""
    from imbuto.services.papers.work_sheets import off_calendar

    _kind(sheet, "ics")
    return off_calendar(asked(planner, home_id, plan_id, outage_id))


def _kind(sheet: str, form: str) -> Kind:
    found = next((k for k in kinds() if k.id == sheet and form in k.also), None)
    if found is None:
        raise NotFound("sheet", f"{sheet}.{form}", "there is none of that form")
    return found


def as_pdf(page_: str) -> bytes:
    """A page as PDF. Raises CannotPrint."""
    try:
        return paper.pdf(page_)
    except OSError:
        rule = (
            "the system's text-drawing libraries are missing; install Debian's libpango-1.0-0, "
            "libpangoft2-1.0-0 and libharfbuzz-subset0"
        )
        raise CannotPrint("papers", None, rule) from None


def kinds() -> tuple[Kind, ...]:
    """Every kind, in the order of the table."""
    from imbuto.services.papers import answer_sheets as figures
    from imbuto.services.papers import electrician_sheets as to_give
    from imbuto.services.papers import household_sheets as at_hand
    from imbuto.services.papers import work_sheets as work

    return (*at_hand.KINDS, *figures.KINDS, *to_give.KINDS, *work.KINDS)
