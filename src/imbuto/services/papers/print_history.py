"""What was printed, and what has changed since: a sheet on the wall is believed, so that it must be told when it is
no longer so."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import replace

from imbuto.formats.printing import paper
from imbuto.services.outages.switching_views import cards_of
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest
from imbuto.store.models import PrintRow
from imbuto.store.repository import Repository

NAMED = 3  # of what changed, by name


def note_prints(a: SheetRequest, kinds: Sequence[SheetKind]) -> None:
    """These were just made to be printed."""
    circuits, steps, hours = _facts(a)
    now = a.planner.now(a.documents.home)
    with a.planner.database.writing() as session:
        for k in kinds:
            Repository(session).put_print(
                PrintRow(
                    home_id=a.home_id,
                    plan=a.plan.id,
                    sheet=k.id,
                    outage=a.outage_id,
                    rev=a.rev,
                    at=now,
                    words=mark(k.make(a)),
                    circuits=circuits,
                    steps=steps,
                    hours=hours,
                )
            )


def prints_of(a: SheetRequest) -> dict[str, PrintRow]:
    """The last print of each sheet of a plan."""
    with a.planner.database.reading() as session:
        return {row.sheet: row for row in Repository(session).prints(a.home_id, a.plan.id)}


def changed_since(a: SheetRequest, kind: SheetKind, row: PrintRow) -> list[str]:
    """What is no longer as it was printed: circuits, steps, hours; empty where the sheet would say the same today."""
    then = replace(a, outage_id=row.outage) if row.outage in a.documents.outages else a
    if mark(kind.make(then)) == row.words:
        return []
    circuits, steps, hours = _facts(then)
    said = [
        *_apart("powered now", "no longer powered", row.circuits, circuits),
        *_apart("new step", "step removed", row.steps, steps),
        *([f"{row.hours} is now {hours}"] if row.hours != hours else []),
    ]
    if not said and sorted(row.steps) == sorted(steps) and row.steps != steps:
        said = ["the order of the steps"]
    return said or ["changed wording"]


def mark(sheet: paper.Sheet) -> str:
    """Of all that stands on a sheet but its foot."""
    return hashlib.sha256(repr(replace(sheet, foot="")).encode()).hexdigest()


def _facts(a: SheetRequest) -> tuple[list[str], list[str], str]:
    fed = sorted({x.target_names[f.id] for x in a.each for f in x.plan.feeds.values()})
    steps = [s.what for card in cards_of(a.planner, a.home_id, a.plan.id) for s in card.steps]
    return fed, steps, a.planner.verdict(a.home_id, a.plan.id, a.outage_id).headline.sentence


def _apart(more: str, less: str, then: Sequence[str], now: Sequence[str]) -> list[str]:
    added, gone = [x for x in dict.fromkeys(now) if x not in then], [x for x in dict.fromkeys(then) if x not in now]
    found = []
    for word, names in ((more, added), (less, gone)):
        if names:
            rest = f" and {len(names) - NAMED} more" if len(names) > NAMED else ""
            found.append(f"{word}: {', '.join(n.rstrip('.') for n in names[:NAMED])}{rest}")
    return found
