"""The sheet that compares every plan over every outage."""

from __future__ import annotations

from imbuto.core.basics.measures import mass_text
from imbuto.core.basics.units import hours_text, kwh_text
from imbuto.formats.printing.paper import Sheet, SheetPart, TableRows
from imbuto.services.compare.plans_by_outage import Cell, PlanRow, compare
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest


def beside(a: SheetRequest) -> Sheet:
    """Every plan of the home over every outage."""
    view = compare(a.planner, a.home_id, a.plan.id)
    head = ("plan", "source", *(f"{o.name}, goal {hours_text(o.goal_h)}" for o in view.outages))
    rows = tuple((r.name, r.source, *(_cell(c) for c in r.cells)) for r in view.rows)
    cost = tuple(
        (
            r.name,
            kwh_text(r.stored_wh),
            _price(r),
            mass_text(r.heaviest_kg) if r.heaviest_kg else "",
            "; ".join(r.hands),
        )
        for r in view.rows
    )
    return a.sheet(
        "compare",
        "Plans compared",
        "Hours of each plan in each outage",
        SheetPart("How long", (TableRows(head, rows),)),
        SheetPart("What it takes", (TableRows(("plan", "stored", "to buy", "heaviest", "by hand"), cost),)),
        wide=True,
    )


def _cell(c: Cell) -> str:
    return c.headline.short


def _price(r: PlanRow) -> str:
    """Say what is to be bought, and what of it has no price."""
    said = f"{r.price:,.0f} {r.currency}" if r.price or not r.unpriced else ""
    missing = f"no price entered for {', '.join(r.unpriced)}" if r.unpriced else ""
    return "; ".join(x for x in (said, missing) if x)


KIND = SheetKind(
    "compare",
    "Plans compared",
    "Every plan over every outage",
    "the person who decides",
    beside,
    lambda _: [],
)
