"""The request for a sheet, the kinds of sheets, and the words for a switch slot on all of them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from imbuto.core.basics.errors import NotFound
from imbuto.core.basics.units import day_text
from imbuto.core.diagram.joining_diagram import Diagram
from imbuto.core.plan.plan import Feed, Plan, places_of
from imbuto.core.plan.system import Part, Wiring, resolve
from imbuto.formats.printing import paper
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner


@dataclass(frozen=True, slots=True)
class SheetRequest:
    """What a sheet is made of.

    rev: of the home
    today: there
    hand: whose it is, empty for nobody's
    """

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
class SheetKind:
    """A kind of sheet.

    use, whom: what it is for, and for whom
    make: the sheet
    lacks: what is still missing in it, as unknown is never "not needed"
    also: other forms it has, csv or ics
    """

    id: str
    title: str
    use: str
    whom: str
    make: Callable[[SheetRequest], paper.Sheet]
    lacks: Callable[[SheetRequest], list[str]]
    also: tuple[str, ...] = ()


def sheet_request(planner: Planner, home_id: str, plan_id: str, outage_id: str, hand: str = "") -> SheetRequest:
    """Everything that sheets are made of. Raises NotFound."""
    state = planner.state(home_id)
    documents = planner.enter(state)
    if plan_id not in documents.plans:
        raise NotFound("plan", plan_id, "this home doesn't have that plan")
    if outage_id not in documents.outages:
        raise NotFound("outage", outage_id, "this home doesn't have that outage")
    plan, now = documents.plans[plan_id], planner.now(documents.home)
    system = resolve(documents.home, plan, documents.catalogue)
    return SheetRequest(
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


def lacks_station(a: SheetRequest) -> list[str]:
    """Return what a sheet about hours lacks: a station that powers something."""
    return [] if any(x.fed for x in a.parts) else ["a station with a load on it"]


def day_or_blank(day: date | None) -> str:
    return "" if day is None else day_text(day)
