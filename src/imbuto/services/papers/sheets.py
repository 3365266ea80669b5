"""Papers: sheets derived from plan, switching model and logbook, so that none of them can contradict what is on screen."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from imbuto.core.advice.diagram import Diagram
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.plan.joining import Joined, parts
from imbuto.core.plan.plan import Plan
from imbuto.formats import paper
from imbuto.services.desk.planner import Documents, Planner
from imbuto.services.papers.papers import CannotPrint

Paper = Literal["letter", "a4"]


@dataclass(frozen=True, slots=True)
class Asked:
    """What a sheet is made of. rev: of the home; day: in words; hand: whose it is, empty for nobody's."""

    planner: Planner
    home_id: str
    documents: Documents
    plan: Plan
    outage_id: str
    each: list[Joined]
    diagram: Diagram
    rev: int
    day: str
    hand: str

    def sheet(self, ident: str, title: str, under: str, *blocks: paper.Part) -> paper.Sheet:
        """With its foot."""
        foot = f"{self.documents.home.name}, {self.plan.name}, revision {self.rev}, {self.day}{f', by {self.hand}' if self.hand else ''}."
        return paper.Sheet(ident, title, under, tuple(b for b in blocks if b.blocks), foot)


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of sheet. use, whom: what it is for, and for whom; reveals: what it tells that not everybody should know; make: the
    sheet; lacks: what is still missing in it, as unknown is never "not needed"."""

    id: str
    title: str
    use: str
    whom: str
    reveals: str
    make: Callable[[Asked], paper.Sheet]
    lacks: Callable[[Asked], list[str]]


@dataclass(frozen=True, slots=True, kw_only=True)
class PaperView:
    """A sheet in the table."""

    id: str
    title: str
    use: str
    whom: str
    reveals: str
    lacks: list[str]


def asked(planner: Planner, home_id: str, plan_id: str, outage_id: str, hand: str = "") -> Asked:
    """Everything that sheets are made of. Raises NotFound."""
    state = planner.state(home_id)
    documents = planner.documents(state)
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "the home has no such plan")
    if outage_id not in documents.outages:
        raise NotFound("outage", outage_id, "the home has no such outage")
    plan, now = documents.plans[plan_id], planner.now(documents.home)
    each = parts(documents.home, plan, documents.catalogue)
    return Asked(
        planner,
        home_id,
        documents,
        plan,
        outage_id,
        each,
        planner.diagram(home_id, plan_id),
        state.rev,
        f"{now:%d %B %Y}",
        hand.strip()[:60],
    )


def listed(planner: Planner, home_id: str, plan_id: str, outage_id: str) -> list[PaperView]:
    """Every sheet with what is still missing in it. Raises NotFound."""
    a = asked(planner, home_id, plan_id, outage_id)
    return [
        PaperView(id=k.id, title=k.title, use=k.use, whom=k.whom, reveals=k.reveals, lacks=k.lacks(a)) for k in kinds()
    ]


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
    """A sheet as HTML, or with ``pack`` all of them. size: letter or a4, by default the home's usual one. Raises NotFound,
    InvalidValue."""
    a = asked(planner, home_id, plan_id, outage_id, hand)
    chosen = [k for k in kinds() if sheet in (k.id, "pack")]
    if not chosen:
        raise NotFound("sheet", sheet, f"one of pack, {', '.join(k.id for k in kinds())} is wanted")
    usual: Paper = "letter" if a.documents.home.service.volts == 120 else "a4"
    if size not in ("", "letter", "a4"):
        raise InvalidValue("paper", size, "choose letter or a4")
    title = f"{a.documents.home.name}: {chosen[0].title if len(chosen) == 1 else a.plan.name}"
    chosen_size: Paper = "a4" if size == "a4" else "letter" if size == "letter" else usual
    return paper.html([k.make(a) for k in chosen], paper=chosen_size, large=large, title=title, fonts=fonts)


def as_pdf(page_: str) -> bytes:
    """A page as PDF. Raises CannotPrint."""
    try:
        return paper.pdf(page_)
    except OSError:
        rule = "the system's text-drawing libraries are missing; install Debian's libpango-1.0-0, libpangoft2-1.0-0 and libharfbuzz-subset0"
        raise CannotPrint("papers", None, rule) from None


def kinds() -> tuple[Kind, ...]:
    """Every kind, in the order of the table."""
    from imbuto.services.papers import at_hand, to_give

    return (*at_hand.KINDS, *to_give.KINDS)
