"""The sheet of tasks and permissions: who does what, and when the work is ready."""

from __future__ import annotations

from imbuto.core.plan.entered.paperwork import (
    ANSWERS,
    HANDS,
    STAGES,
    in_order,
    permission_rows,
)
from imbuto.core.plan.entered.paperwork import PERMISSIONS as ASKED
from imbuto.formats.printing.paper import Paragraph, Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest, day_or_blank
from imbuto.services.papers.work_views import ready_words


def permissions(a: SheetRequest) -> Sheet:
    """Who does what, who was asked what, and when it may be relied on."""
    plan = a.plan
    tasks = tuple(
        (
            t.name,
            HANDS[t.by],
            t.who,
            day_or_blank(t.on),
            day_or_blank(t.done),
            f"{t.sum:,.0f} {a.documents.home.site.currency}" if t.sum is not None else "",
            t.quote,
        )
        for t in plan.tasks.values()
    )
    asked = tuple(
        (ASKED[p.kind], ANSWERS[p.state], p.who, day_or_blank(p.by), day_or_blank(p.on), p.paper)
        for p in permission_rows(plan.permissions)
    )
    line = tuple(
        (STAGES[s.kind], f"{s.low_weeks:g} to {s.high_weeks:g} weeks", day_or_blank(s.done), s.note)
        for s in in_order(plan.stages)
    )
    return a.sheet(
        "permissions",
        "Tasks and permissions",
        "If no one has asked, write “not known”, never “not needed”",
        SheetPart(
            "Tasks",
            (TableRows(("task", "hands", "who", "planned", "done", "offer", "of"), tasks),)
            if tasks
            else (Paragraph("None entered."),),
        ),
        SheetPart("Permissions", (TableRows(("what", "answer", "who", "get it by", "answered", "paper"), asked),)),
        SheetPart(
            "Lead time",
            ((TableRows(("stage", "takes", "done", "note"), line),) if line else ())
            + (Paragraph(ready_words(plan.stages, a.today), strong=True),),
        ),
    )


def _undone(a: SheetRequest) -> list[str]:
    open_ones = [ASKED[p.kind] for p in permission_rows(a.plan.permissions) if p.state == "unknown"]
    return [*([] if a.plan.tasks else ["the tasks"]), *open_ones[:4], *(["…"] if len(open_ones) > 4 else [])]


KIND = SheetKind(
    "permissions",
    "Tasks and permissions",
    "Who does what, who was asked, and when it is ready",
    "the person who runs the work",
    permissions,
    _undone,
)
