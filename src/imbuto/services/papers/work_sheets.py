"""The work, on paper: minutes dark by circuit, tasks and permissions, how it came out, what is on file."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, date, datetime

from imbuto.core.basics.units import clock_text, day_text, hours_text
from imbuto.core.plan.offtime import OffTime, off_time
from imbuto.core.plan.paperwork import ANSWERS, HANDS, STAGES, Stage, in_order, permission_rows, ready_between, unproven
from imbuto.core.plan.paperwork import PERMISSIONS as ASKED
from imbuto.formats import calendar
from imbuto.formats.printing.paper import Bullets, Sheet, SheetPart, TableRows, Words
from imbuto.services.papers.sheet_registry import Asked, Kind

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
BUILT = {"deviation": "built otherwise", "temporary": "only for now", "retired": "serves no more"}


def off_time_of(a: Asked) -> OffTime:
    """The work on the wiring of a plan."""
    return off_time(a.documents.home, a.plan, a.each)


def off_sheet(a: Asked) -> Sheet:
    """Each step with the minutes that dark is dark, and what feeds things meanwhile."""
    made, home = off_time_of(a), a.documents.home
    rows = tuple(
        (
            clock_text(t.at) if t.at else "",
            t.step.name,
            HANDS[t.step.by] + (", booked with the utility" if t.step.booked else ""),
            f"{t.step.minutes:g}\u00a0min",
            "all of the panel" if t.step.whole else ", ".join(home.circuits[c].name for c in t.step.circuits),
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
        "Planning defaults, until whoever does the work says better",
        SheetPart("Settled before", (Bullets(made.cautions, ticks=True),)),
        SheetPart(
            "Step by step",
            (TableRows(("when", "step", "hands", "dark", "what is dark", "meanwhile"), rows),) if rows else (),
        ),
        SheetPart("Each circuit, all in all", (TableRows(("circuit", "dark", "with"), dark),) if dark else ()),
        wide=bool(rows),
    )


def off_calendar(a: Asked) -> bytes:
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
    return calendar.recurring(rows, f"{a.home_id}.{a.plan.id}.work", zone, datetime.now(UTC))


def permissions(a: Asked) -> Sheet:
    """Who does what, who was asked what, and when it may be relied on."""
    plan = a.plan
    tasks = tuple(
        (
            t.name,
            HANDS[t.by],
            t.who,
            _day(t.on),
            _day(t.done),
            f"{t.sum:,.0f} {a.documents.home.site.currency}" if t.sum is not None else "",
            t.quote,
        )
        for t in plan.tasks.values()
    )
    asked = tuple(
        (ASKED[p.kind], ANSWERS[p.state], p.who, _day(p.by), _day(p.on), p.paper)
        for p in permission_rows(plan.permissions)
    )
    line = tuple(
        (STAGES[s.kind], f"{s.low_weeks:g} to {s.high_weeks:g} weeks", _day(s.done), s.note)
        for s in in_order(plan.stages)
    )
    return a.sheet(
        "permissions",
        "Tasks and permissions",
        "What nobody has looked into is not known; it is never “not needed”",
        SheetPart(
            "Tasks",
            (TableRows(("task", "hands", "who", "planned", "done", "offer", "of"), tasks),)
            if tasks
            else (Words("None is entered."),),
        ),
        SheetPart("Permissions", (TableRows(("what", "answer", "who", "to be had by", "answered", "paper"), asked),)),
        SheetPart(
            "Lead time",
            ((TableRows(("stage", "takes", "done", "note"), line),) if line else ())
            + (Words(ready_words(plan.stages, a.today), strong=True),),
        ),
    )


def ready_words(stages: Mapping[str, Stage], today: date) -> str:
    """When a plan may be relied on."""
    between = ready_between(stages, today)
    if between is None:
        return "No lead times are entered."
    low, high = between
    when = day_text(low) if low == high else f"between {day_text(low)} and {day_text(high)}"
    if all(s.done is not None for s in stages.values()):
        return f"Ready since {when}."
    return f"Ready {when}." + (
        " Until its activation is proven its source is not counted on." if unproven(stages) else ""
    )


def _day(day: date | None) -> str:
    return "" if day is None else day_text(day)


def as_built(a: Asked) -> tuple[SheetPart, ...]:
    """How it came out otherwise, and what is still to be marked or taken out."""
    rows = tuple((b.what, BUILT[b.kind], b.where, _day(b.settled) or "open") for b in a.plan.built.values())
    blank = (("", "", "", ""),) * 4
    hint = (
        "A deviation goes into the plan, or is undone; what is only for now has a day. A switch of no use "
        "is marked or removed."
    )
    return (SheetPart("As built", (Words(hint), TableRows(("what", "how", "where", "settled"), rows + blank))),)


def binder(a: Asked) -> Sheet:
    """The index of what is on file."""
    home = a.documents.home
    rows = tuple(
        (
            FILED[f.kind],
            f.title,
            f.of,
            f.number,
            _day(f.on),
            _day(f.until),
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
        "What is kept, and where",
        SheetPart(
            "On file",
            (TableRows(("kind", "what", "of", "number", "day", "until", "file", "note"), rows),)
            if rows
            else (Words("Nothing is filed yet."),),
        ),
        SheetPart(
            "There already", (TableRows(("what", "rating", "bought", "warranty until"), there),) if there else ()
        ),
        SheetPart(
            "Open defects", (TableRows(("what", "symptom", "asked", "meanwhile"), open_cases),) if open_cases else ()
        ),
        wide=True,
    )


def _undone(a: Asked) -> list[str]:
    open_ones = [ASKED[p.kind] for p in permission_rows(a.plan.permissions) if p.state == "unknown"]
    return [*([] if a.plan.tasks else ["the tasks"]), *open_ones[:4], *(["…"] if len(open_ones) > 4 else [])]


def _no_day(a: Asked) -> list[str]:
    return ["a day for the work"] if off_time_of(a).steps and a.plan.works.day is None else []


def _no_warranty(a: Asked) -> list[str]:
    named = " ".join(f"{f.of} {f.title}" for f in a.documents.home.binder.values() if f.kind in ("warranty", "serial"))
    names = dict.fromkeys(x.station.name for x in a.parts)
    return [f"warranty and serial of {n}" for n in names if n not in named]


KINDS = (
    Kind(
        "off-time",
        "Off-time plan",
        "Minutes dark by step and circuit",
        "the electrician, the family",
        "what a life depends on",
        off_sheet,
        _no_day,
        ("ics",),
    ),
    Kind(
        "permissions",
        "Tasks and permissions",
        "Who does what, who was asked what, when it is ready",
        "whoever runs the work",
        "prices",
        permissions,
        _undone,
    ),
    Kind(
        "binder",
        "Binder: index",
        "Warranties, manuals, serials, invoices",
        "whoever makes a claim",
        "serials and prices",
        binder,
        _no_warranty,
    ),
)
