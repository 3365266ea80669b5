"""The sheet of what the plan powers, and what it leaves off with the reason."""

from __future__ import annotations

from imbuto.core.basics.units import number_text
from imbuto.formats.printing.paper import Paragraph, Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest, place_words

STANCES = {"keep_on": "keep on", "turns": "take turns"}


def chosen(a: SheetRequest) -> Sheet:
    """Loads that are powered, and loads left off with the reason."""
    home, v = a.documents.home, a.planner.verdict(a.home_id, a.plan.id, a.outage_id)
    rows, fed = [], set()
    for x in a.each:
        for feed in sorted(x.plan.feeds.values(), key=lambda f: f.place):
            fed.add(feed.circuit)
            mine = [f for f in x.fed if f.feed.id == feed.id]
            running = sum(f.load.count * f.load.run_w for f in mine)
            start = max((f.load.run_va + f.load.start_extra_va for f in mine if f.load.start_extra_va), default=0.0)
            rows.append(
                (
                    place_words(x, feed),
                    x.target_names[feed.id],
                    ", ".join(f.load.name for f in mine),
                    STANCES[feed.stance],
                    f"{number_text(running)} W",
                    f"{number_text(start)} VA" if start else "",
                )
            )
    left = tuple(
        (
            c.name,
            ", ".join(x.name for x in home.loads_on(c.id)),
            a.plan.reasons.get(c.id) or (f"switched off by: {a.plan.opened[c.id]}" if a.plan.opened.get(c.id) else ""),
        )
        for c in home.circuits.values()
        if c.id not in fed
    )
    return a.sheet(
        "chosen",
        "What to power",
        v.headline.sentence,
        SheetPart(
            "Fed",
            (TableRows(("place", "what", "with", "stance", "all running", "start"), tuple(rows)),)
            if rows
            else (Paragraph("Nothing yet."),),
        ),
        SheetPart("Left off: no power in an outage", (TableRows(("circuit", "with", "why"), left),) if left else ()),
    )


def _no_reason(a: SheetRequest) -> list[str]:
    fed = {f.circuit for f in a.plan.feeds.values()}
    left = [c for c in a.documents.home.circuits.values() if c.id not in fed and c.id not in a.plan.reasons]
    return [f"why {c.name} is left off" for c in left][:4] + (["…"] if len(left) > 4 else [])


KIND = SheetKind(
    "chosen",
    "What to power",
    "Loads that are powered, and loads left off with the reason",
    "the family",
    chosen,
    _no_reason,
)
