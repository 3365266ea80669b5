"""The off-time plan: minutes without power by step and circuit while work is done."""

from __future__ import annotations

from datetime import UTC, datetime

from imbuto.core.basics.units import clock_text, hours_text
from imbuto.core.plan.entered.paperwork import (
    HANDS,
)
from imbuto.core.plan.offtime import OffTime, off_time
from imbuto.formats import calendar
from imbuto.formats.printing.paper import Bullets, Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest


def off_time_of(a: SheetRequest) -> OffTime:
    """The work on the wiring of a plan."""
    return off_time(a.documents.home, a.plan, a.each)


def off_sheet(a: SheetRequest) -> Sheet:
    """Each step with the minutes that dark is dark, and what feeds things meanwhile."""
    made, home = off_time_of(a), a.documents.home
    rows = tuple(
        (
            clock_text(t.at) if t.at else "",
            t.step.name,
            HANDS[t.step.by] + (", booked with the utility" if t.step.booked else ""),
            f"{t.step.minutes:g}\u00a0min",
            "the whole panel" if t.step.whole else ", ".join(home.circuits[c].name for c in t.step.circuits),
            t.meanwhile,
        )
        for t in made.steps
    )
    dark = tuple(
        (home.circuits[c].name, hours_text(m / 60), ", ".join(x.name for x in home.loads_on(c)))
        for c, m in sorted(made.dark.items(), key=lambda item: -item[1])
    )
    return a.sheet(
        "off-time",
        "Off-time plan",
        "Planning defaults until the installer gives better figures",
        SheetPart("Settle first", (Bullets(made.cautions, ticks=True),)),
        SheetPart(
            "Step by step",
            (TableRows(("when", "step", "hands", "dark", "without power", "meanwhile"), rows),) if rows else (),
        ),
        SheetPart("Total for each circuit", (TableRows(("circuit", "dark", "with"), dark),) if dark else ()),
        wide=bool(rows),
    )


def off_calendar(a: SheetRequest) -> bytes:
    """The steps as an iCalendar file; those without a day are left out."""
    zone = a.documents.home.site.tz
    rows = [
        calendar.Recurring(
            t.step.id,
            t.step.name,
            "; ".join([f"Dark: {t.step.minutes:g} min", *([t.meanwhile] if t.meanwhile else [])]),
            t.at,
            "once",
        )
        for t in off_time_of(a).steps
        if t.at is not None
    ]
    return calendar.recurring_events(rows, f"{a.home_id}.{a.plan.id}.work", zone, datetime.now(UTC))


def _no_day(a: SheetRequest) -> list[str]:
    return ["a day for the work"] if off_time_of(a).steps and a.plan.works.day is None else []


KIND = SheetKind(
    "off-time",
    "Off-time plan",
    "Minutes without power by step and circuit",
    "the electrician, the family",
    off_sheet,
    _no_day,
    ("ics",),
)
