"""Reading and writing documents and their history."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from imbuto.core.basics.errors import NotFound
from imbuto.store.models import DocumentRow, EditRow, FaceRow, HomeRow, PrintRow, ReadingRow

KEPT_EDITS, KEPT_FOR = (
    5_000,
    timedelta(days=365),
)  # of the history of a home: what is older is not offered to be taken back
TIDY_EVERY = 50  # revisions
Json = dict[str, Any]
Ops = list[Json]


@dataclass(frozen=True, slots=True)
class HomeLine:
    """A home in a list."""

    id: str
    name: str
    rev: int


@dataclass(frozen=True, slots=True)
class StoredDocument:
    """A document as kept."""

    id: str
    kind: str
    rev: int
    body: Json


class Repository:
    """All queries on one session; the caller owns the transaction."""

    def __init__(self, session: Session) -> None:
        self.session = session

    def homes(self) -> list[HomeLine]:
        """Every home, oldest first."""
        rows = self.session.scalars(select(HomeRow).order_by(HomeRow.position, HomeRow.id))
        return [HomeLine(r.id, r.name, r.rev) for r in rows]

    def rev(self, home_id: str) -> int:
        """A home's revision. Raises NotFound."""
        found = self.session.scalar(select(HomeRow.rev).where(HomeRow.id == home_id))
        if found is None:
            raise NotFound("home", home_id, "there is no home with that name")
        return found

    def documents(self, home_id: str) -> list[StoredDocument]:
        """A home's documents in order: the home, its plans, its outages."""
        rows = self.session.scalars(
            select(DocumentRow).where(DocumentRow.home_id == home_id).order_by(DocumentRow.position, DocumentRow.id)
        )
        return [StoredDocument(r.id, r.kind, r.rev, r.body) for r in rows]

    def create_home(self, home: Json, plans: Sequence[Json], outages: Sequence[Json]) -> str:
        """Insert a home with its documents; returns its id, made new when taken."""
        home_id = self._free_id(home["id"])
        home = home | {"id": home_id}
        position = self.session.scalar(select(func.max(HomeRow.position))) or 0
        self.session.add(HomeRow(id=home_id, name=home["name"], rev=1, position=position + 1))
        self.session.flush()
        for kind, body in [("home", home), *(("plan", p) for p in plans), *(("outage", o) for o in outages)]:
            self.put(home_id, kind, "home" if kind == "home" else body["id"], body, 1)
        return home_id

    def _free_id(self, wanted: str) -> str:
        taken = set(self.session.scalars(select(HomeRow.id)))
        n = 2
        # It stands in addresses: what cannot is left out.
        wanted = re.sub(r"[^A-Za-z0-9._-]+", "-", wanted).strip(".-")[:50] or "home"
        ident = wanted
        while ident in taken:
            ident, n = f"{wanted}-{n}", n + 1
        return ident

    def delete_home(self, home_id: str) -> None:
        """Remove a home with everything of it. Raises NotFound."""
        self.rev(home_id)
        self.session.execute(delete(HomeRow).where(HomeRow.id == home_id))

    def put(self, home_id: str, kind: str, ident: str, body: Json, rev: int) -> None:
        """Insert or replace a document. A new one goes to the end of its kind."""
        row = self.session.get(DocumentRow, (home_id, ident))
        if row is None:
            last = select(func.max(DocumentRow.position)).where(DocumentRow.home_id == home_id)
            position = (self.session.scalar(last) or 0) + 1
            row = DocumentRow(home_id=home_id, id=ident, kind=kind, position=position)
            self.session.add(row)
        row.body, row.rev = body, rev
        if kind == "home":
            self.session.execute(update(HomeRow).where(HomeRow.id == home_id).values(name=body["name"]))
        self.session.flush()

    def remove(self, home_id: str, ident: str) -> None:
        """Delete a document."""
        self.session.execute(delete(DocumentRow).where(DocumentRow.home_id == home_id, DocumentRow.id == ident))

    def raise_rev(self, home_id: str) -> int:
        """The next revision of a home, set."""
        rev = self.rev(home_id) + 1
        self.session.execute(update(HomeRow).where(HomeRow.id == home_id).values(rev=rev))
        return rev

    def edit(self, edit_id: str) -> EditRow | None:
        """An edit by the id its sender gave it."""
        return self.session.scalar(select(EditRow).where(EditRow.edit_id == edit_id))

    def record(
        self,
        home_id: str,
        edit_id: str,
        label: str,
        rev: int,
        forward: Ops,
        inverse: Ops,
        *,
        counts: bool = True,
        readings: Sequence[str] = (),
        withdraws: bool = False,
        trial: bool = False,
    ) -> None:
        """Append to the history. One that counts drops what waited for redo.

        readings: noted, or taken back
        trial: it only tries something, and is offered to be taken back
        """
        if counts:
            stale = (EditRow.home_id == home_id, EditRow.undone.is_(True), EditRow.counts.is_(True))
            self.session.execute(update(EditRow).where(*stale).values(counts=False))
        self.session.add(
            EditRow(
                home_id=home_id,
                edit_id=edit_id,
                label=label,
                rev=rev,
                at=datetime.now(UTC),
                forward=forward,
                inverse=inverse,
                counts=counts,
                readings=list(readings),
                withdraws=withdraws,
                trial=trial,
            )
        )
        self.session.flush()
        if rev % TIDY_EVERY == 0:
            self.tidy(home_id, datetime.now(UTC))

    def tidy(self, home_id: str, now: datetime) -> None:
        """Forget the oldest edits past a year or 5,000. What waits for redo, and all after it, is kept: redo goes
        forward from the first of them, and would otherwise leave one out."""
        of, counts = EditRow.home_id == home_id, EditRow.counts.is_(True)
        waits = self.session.scalar(select(func.min(EditRow.seq)).where(of, counts, EditRow.undone.is_(True)))
        recent = self.session.scalar(select(func.min(EditRow.seq)).where(of, EditRow.at >= now - KEPT_FOR)) or 0
        # Rows of undo and redo themselves only tell what changed; they are counted apart, or many of them would push
        # edits out.
        for kind, pinned in ((counts, waits), (EditRow.counts.is_(False), None)):
            newest = select(EditRow.seq).where(of, kind).order_by(EditRow.seq.desc()).offset(KEPT_EDITS - 1).limit(1)
            first = max(self.session.scalar(newest) or 0, recent)
            first = first if pinned is None else min(first, pinned)
            self.session.execute(
                delete(EditRow).where(of, kind, EditRow.seq < first).execution_options(synchronize_session=False)
            )

    def settle(self, home_id: str, over: Callable[[Ops], bool]) -> None:
        """Have undo and redo pass over every edit whose operations are over and done with."""
        rows = select(EditRow).where(EditRow.home_id == home_id, EditRow.counts.is_(True))
        for row in self.session.scalars(rows):
            if row.forward and over(row.forward):
                row.counts = False

    def next_undo(self, home_id: str) -> EditRow | None:
        """The edit that undo would take back."""
        return self._end(home_id, undone=False, newest=True)

    def next_redo(self, home_id: str) -> EditRow | None:
        """The edit that redo would bring back."""
        return self._end(home_id, undone=True, newest=False)

    def _end(self, home_id: str, *, undone: bool, newest: bool) -> EditRow | None:
        chosen = select(EditRow).where(EditRow.home_id == home_id, EditRow.counts.is_(True), EditRow.undone.is_(undone))
        return self.session.scalar(chosen.order_by(EditRow.seq.desc() if newest else EditRow.seq).limit(1))

    def since(self, home_id: str, rev: int) -> list[EditRow]:
        """What changed after a revision, oldest first."""
        rows = select(EditRow).where(EditRow.home_id == home_id, EditRow.rev > rev).order_by(EditRow.seq)
        return list(self.session.scalars(rows))

    def readings(self, home_id: str) -> list[ReadingRow]:
        """A home's readings, the withdrawn ones too, oldest first."""
        rows = select(ReadingRow).where(ReadingRow.home_id == home_id).order_by(ReadingRow.at, ReadingRow.id)
        return list(self.session.scalars(rows))

    def add_reading(self, row: ReadingRow) -> None:
        """Append a reading."""
        self.session.add(row)
        self.session.flush()

    def mark_reading(self, home_id: str, reading_id: str, *, withdrawn: bool) -> None:
        """Take a reading back, or let it stand again. Raises NotFound."""
        row = self.session.get(ReadingRow, (home_id, reading_id))
        if row is None:
            raise NotFound("reading", reading_id, "this home doesn't have that reading")
        row.withdrawn = withdrawn
        self.session.flush()

    def faces(self, home_id: str, source: str, since: datetime, until: datetime | None) -> list[FaceRow]:
        """What a watched station showed between two local times, oldest first; until: None for all after."""
        chosen = select(FaceRow).where(FaceRow.home_id == home_id, FaceRow.source == source, FaceRow.at >= since)
        if until is not None:
            chosen = chosen.where(FaceRow.at <= until)
        return list(self.session.scalars(chosen.order_by(FaceRow.at)))

    def add_face(self, row: FaceRow) -> None:
        """Keep what a station showed; the same moment is kept once."""
        self.session.merge(row)

    def prints(self, home_id: str, plan: str) -> list[PrintRow]:
        """The last print of every sheet of a plan."""
        return list(self.session.scalars(select(PrintRow).where(PrintRow.home_id == home_id, PrintRow.plan == plan)))

    def put_print(self, row: PrintRow) -> None:
        """In the place of the print before it."""
        self.session.merge(row)
