"""Edits on a home's documents inside one transaction: applied, checked as a whole, with their inverse."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC
from functools import cached_property
from hashlib import blake2b
from typing import Any

from imbuto.core.basics.errors import ImbutoError, InvalidValue
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.home.home import check_home
from imbuto.core.measuring.readings import Reading
from imbuto.core.plan.outage import check_outage
from imbuto.core.plan.plan_checks import check_plan
from imbuto.formats import patch
from imbuto.formats.documents import HOME, OUTAGE, PLAN, READING, Json
from imbuto.store.models import ReadingRow
from imbuto.store.repository import Repository, StoredDocument

HOME_DOC = "home"


class Stale(ImbutoError):
    """The edit was made on an older revision. changes: what came since."""

    kind = "stale"

    def __init__(self, field: str, value: object, rule: str, rev: int = 0, changes: list[Change] | None = None) -> None:
        super().__init__(field, value, rule)
        self.rev = rev
        self.changes = changes or []


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """An edit made since: its label, its id, and the places it touched as ``document/path``."""

    label: str
    edit_id: str
    rev: int
    paths: list[str]


@dataclass(frozen=True, kw_only=True)
class HomeState:
    """A home with its documents as they are now.

    undo, redo: the labels of what each would do, and undo_edit
    redo_edit: the ids of those edits
    revs: the revision at which each document last changed, by its id
    trial: the newest edit only tries something
    """

    id: str
    rev: int
    home: Json
    plans: list[Json]
    outages: list[Json]
    undo: str | None
    redo: str | None
    undo_edit: str | None
    redo_edit: str | None
    revs: dict[str, int]
    trial: bool

    @cached_property
    def content(self) -> str:
        """A digest of what the documents say."""
        said = json.dumps([self.home, self.plans, self.outages], sort_keys=True, separators=(",", ":"))
        return blake2b(said.encode(), digest_size=16).hexdigest()


@dataclass(frozen=True, slots=True, kw_only=True)
class HomeNews:
    """What became of a home since a revision.

    since: that revision, 0 for everything
    home: None where it is as it was
    plans, outages: those that changed
    plan_ids, outage_ids: all there are, in order
    undo, redo: the labels of what each would do
    trial: the newest edit only tries something
    """

    id: str
    rev: int
    since: int
    home: Json | None
    plans: list[Json]
    outages: list[Json]
    plan_ids: list[str]
    outage_ids: list[str]
    undo: str | None
    redo: str | None
    undo_edit: str | None
    redo_edit: str | None
    trial: bool


def news(state: HomeState, since: int | None) -> HomeNews:
    """What of a home changed since a revision; everything where none is given, or one that has not been."""
    known = since if since is not None and 0 < since <= state.rev else 0
    return HomeNews(
        id=state.id,
        rev=state.rev,
        since=known,
        home=state.home if state.revs[HOME_DOC] > known else None,
        plans=[p for p in state.plans if state.revs[p["id"]] > known],
        outages=[o for o in state.outages if state.revs[o["id"]] > known],
        plan_ids=[p["id"] for p in state.plans],
        outage_ids=[o["id"] for o in state.outages],
        undo=state.undo,
        redo=state.redo,
        undo_edit=state.undo_edit,
        redo_edit=state.redo_edit,
        trial=state.trial,
    )


def complete(kind: str, ident: str, body: Json, home_id: str) -> Json:
    """A changed document, checked on its own, with its defaults written out."""
    if kind not in ("home", "plan", "outage"):
        raise InvalidValue("kind", kind, "a document is a home, a plan or an outage")
    if (ident == HOME_DOC) != (kind == "home"):
        raise InvalidValue(f"{kind}, id", ident, f"“{HOME_DOC}” is the home's own")
    expected = home_id if kind == "home" else ident
    if body.get("id") != expected:
        raise InvalidValue(f"{kind}, id", body.get("id"), f"it must stay “{expected}”")
    adapter: Any = {"home": HOME, "plan": PLAN, "outage": OUTAGE}[kind]
    name = body.get("name")
    completed: Json = adapter.complete(body, name if isinstance(name, str) else kind)[1]
    return completed


def check(stored: list[StoredDocument]) -> None:
    """All documents of a home against each other. Raises on the first thing that cannot stand."""
    home = HOME.read(next(d.body for d in stored if d.kind == "home"))
    catalogue = home.catalogue.over(shipped())
    check_home(home)
    if home.live is not None and home.live.ended is None and all(d.id != home.live.plan for d in stored):
        raise InvalidValue("plan", home.live.plan, "the current outage uses this plan; end the outage first")
    for document in stored:
        if document.kind == "plan":
            check_plan(PLAN.read(document.body), home, catalogue)
        elif document.kind == "outage":
            check_outage(OUTAGE.read(document.body))


def known_edit(repository: Repository, home_id: str, edit_id: str) -> bool:
    """Whether this home's edit of that id was applied before. Raises InvalidValue where it is another home's."""
    row = repository.edit(edit_id)
    if row is not None and row.home_id != home_id:
        raise InvalidValue("edit_id", edit_id, "another home used this id; each edit needs its own")
    return row is not None


def state_of(repository: Repository, home_id: str, stored: list[StoredDocument] | None = None) -> HomeState:
    """A home as it is now. stored: its documents, where they were read already. Raises NotFound."""
    rev = repository.rev(home_id)
    stored = repository.documents(home_id) if stored is None else stored
    undo, redo = repository.next_undo(home_id), repository.next_redo(home_id)
    return HomeState(
        id=home_id,
        rev=rev,
        home=next(d.body for d in stored if d.kind == "home"),
        plans=[d.body for d in stored if d.kind == "plan"],
        outages=[d.body for d in stored if d.kind == "outage"],
        undo=undo.label if undo else None,
        redo=redo.label if redo else None,
        undo_edit=undo.edit_id if undo else None,
        redo_edit=redo.edit_id if redo else None,
        revs={d.id: d.rev for d in stored},
        trial=undo is not None and undo.trial,
    )


def stale(repository: Repository, home_id: str, base_rev: int, rev: int) -> Stale:
    changes = [
        Change(
            label=e.label, edit_id=e.edit_id, rev=e.rev, paths=sorted({f"{op['doc']}{op['path']}" for op in e.forward})
        )
        for e in repository.since(home_id, base_rev)
    ]
    return Stale(
        "revision", base_rev, (f"the home is at revision {rev} now; look at the changes and try again"), rev, changes
    )


@dataclass(frozen=True, slots=True)
class EditOutcome:
    """What operations made of a home.

    inverse: the operations that undo them
    rev: the revision they led to
    stored: all documents as they are now
    """

    inverse: list[Json]
    rev: int
    stored: list[StoredDocument]


def apply_ops(repository: Repository, home_id: str, ops: list[Json]) -> EditOutcome:
    """Apply operations inside a transaction, checking the whole home."""
    stored = {d.id: d for d in repository.documents(home_id)}
    kinds = {k: d.kind for k, d in stored.items()} | {
        op["doc"]: str(op.get("kind")) for op in ops if op["path"] == patch.WHOLE and op["op"] == "add"
    }
    changed, inverse = patch.apply({k: d.body for k, d in stored.items()}, ops)
    for op in inverse:
        if op["path"] == patch.WHOLE:
            op["kind"] = kinds[op["doc"]]
    rev = repository.raise_rev(home_id)
    now = dict(stored)
    for ident, body in changed.items():
        if body:
            now[ident] = StoredDocument(ident, kinds[ident], rev, complete(kinds[ident], ident, body, home_id))
        else:
            _check_removal(stored, changed, ident)
            del now[ident]
    check(list(now.values()))
    for ident in changed:
        if ident in now:
            repository.put(home_id, kinds[ident], ident, now[ident].body, rev)
        else:
            repository.remove(home_id, ident)
    return EditOutcome(inverse, rev, list(now.values()))


def turns_outage(ops: Sequence[Json]) -> bool:
    """Return whether an edit starts or ends an outage. That is a fact and no change of a plan, so undo passes it over:
    a key pressed anywhere must not end an outage."""
    return any(op["doc"] == HOME_DOC and op["path"] == "/live" for op in ops)


def touches_outage(ops: Sequence[Json]) -> bool:
    """Return whether an edit is about nothing but the outage that is on: once that is over, it can't be undone."""
    return all(op["doc"] == HOME_DOC and str(op["path"]).startswith("/live/") for op in ops)


def _check_removal(stored: dict[str, StoredDocument], changed: dict[str, Json], ident: str) -> None:
    """Raise InvalidValue where a document may not be removed: the home's own, or the last of its kind."""
    if ident == HOME_DOC:
        raise InvalidValue("home", None, "remove a home as a whole, not by an edit")
    kind = stored[ident].kind
    if not any(d.kind == kind and changed.get(d.id, d.body) for d in stored.values()):
        raise InvalidValue(kind, stored[ident].body.get("name"), f"a home keeps at least one {kind}")


def to_row(home_id: str, reading: Reading) -> ReadingRow:
    """A reading as it is stored."""
    return ReadingRow(
        home_id=home_id,
        id=reading.id,
        load=reading.load,
        circuit=reading.circuit,
        at=reading.at,
        raw=reading.raw,
        side=reading.side,
        setting=reading.setting,
        season=reading.season,
        figures=dict(reading.figures),
        withdrawn=reading.withdrawn,
    )


def from_row(row: ReadingRow) -> Reading:
    """A stored reading. SQLite keeps no zone: moments are kept in UTC."""
    return READING.read(
        {
            "id": row.id,
            "load": row.load,
            "circuit": row.circuit,
            "at": row.at.replace(tzinfo=UTC).isoformat(),
            "raw": row.raw,
            "side": row.side,
            "setting": row.setting,
            "season": row.season,
            "figures": row.figures,
            "withdrawn": row.withdrawn,
        }
    )
