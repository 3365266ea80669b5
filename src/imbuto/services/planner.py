"""Homes, edits with undo, and verdicts."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock
from typing import Any, Literal

from imbuto.core.equipment import Catalogue, shipped
from imbuto.core.errors import ImbutoError, InvalidValue, NotFound
from imbuto.core.home import Home, check_home
from imbuto.core.outage import Outage, check_outage
from imbuto.core.plan import Plan, check_plan
from imbuto.core.verdict import Verdict, judge
from imbuto.formats import patch, planfile, strict_json
from imbuto.formats.documents import HOME, OUTAGE, PLAN, Json
from imbuto.services.runs import RunView, StationView, options, run_view
from imbuto.services.views import VerdictView, verdict_view
from imbuto.store.database import Database
from imbuto.store.repository import HomeLine, Repository, Stored

MOST_VERDICTS = 64
MOST_OPS = 2_000
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
    """An edit made since: its label, and the places it touched as ``document/path``."""

    label: str
    rev: int
    paths: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class HomeState:
    """A home with its documents as they are now. undo, redo: the labels of what each would do."""

    id: str
    rev: int
    home: Json
    plans: list[Json]
    outages: list[Json]
    undo: str | None
    redo: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class EditResult:
    """The home after an edit, and the verdict on the pair that was asked about."""

    state: HomeState
    verdict: VerdictView | None


@dataclass(frozen=True, slots=True)
class Documents:
    """A home's documents read and checked, at one revision."""

    rev: int
    home: Home
    plans: dict[str, Plan]
    outages: dict[str, Outage]
    catalogue: Catalogue


Pair = tuple[str, str]


class Planner:
    """The use cases on homes. Safe to share between threads."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self._documents: OrderedDict[str, Documents] = OrderedDict()
        self._verdicts: OrderedDict[tuple[str, int, str, str], Verdict] = OrderedDict()
        self._lock = Lock()
        self.live: dict[str, int] = {}  # the newest revision of each home touched, for listeners

    # Homes

    def homes(self) -> list[HomeLine]:
        """Every home."""
        with self.database.reading() as session:
            return Repository(session).homes()

    def state(self, home_id: str) -> HomeState:
        """A home's documents. Raises NotFound."""
        with self.database.reading() as session:
            return _state(Repository(session), home_id)

    def rev(self, home_id: str) -> int:
        """A home's revision. Raises NotFound."""
        with self.database.reading() as session:
            return Repository(session).rev(home_id)

    def take_in(self, data: bytes | str, name: str) -> HomeState:
        """Add a home from a plan file. Raises what ``planfile.read`` raises; then nothing was added."""
        bundle = planfile.read(data, name)
        return self.add(bundle.raw_home, bundle.raw_plans, bundle.raw_outages)

    def add(self, home: Json, plans: list[Json], outages: list[Json]) -> HomeState:
        """Add a home from documents that were checked."""
        with self.database.writing() as session:
            repository = Repository(session)
            return _state(repository, repository.create_home(home, plans, outages))

    def give_out(self, home_id: str) -> Json:
        """A home's plan file."""
        state = self.state(home_id)
        return planfile.write(state.home, state.plans, state.outages, self._read(state).catalogue)

    def delete(self, home_id: str) -> None:
        """Remove a home and its history. Raises NotFound."""
        with self.database.writing() as session:
            Repository(session).delete_home(home_id)
        self._documents.pop(home_id, None)

    # Edits

    def edit(
        self, home_id: str, base_rev: int, edit_id: str, label: str, ops: list[Json], pair: Pair | None
    ) -> EditResult:
        """Apply one edit. Raises Stale on an older base, InvalidValue and the like on what cannot stand.

        An edit_id that was applied before is answered again and changes nothing.
        """
        if not 0 < len(ops) <= MOST_OPS:
            raise InvalidValue("ops", len(ops), f"an edit has 1 to {MOST_OPS} operations")
        strict_json.check_plain(ops, "ops")
        with self.database.writing() as session:
            repository = Repository(session)
            if repository.edit(edit_id) is None:
                rev = repository.rev(home_id)
                if base_rev != rev:
                    raise _stale(repository, home_id, base_rev, rev)
                inverse, new_rev = _apply(repository, home_id, ops)
                repository.record(home_id, edit_id, label, new_rev, ops, inverse)
            state = _state(repository, home_id)
        return self._answer(state, pair)

    def undo(self, home_id: str, edit_id: str, pair: Pair | None) -> EditResult:
        """Take back the newest edit. Raises InvalidValue when there is none."""
        return self._turn(home_id, edit_id, pair, "undo")

    def redo(self, home_id: str, edit_id: str, pair: Pair | None) -> EditResult:
        """Bring back the edit undone last. Raises InvalidValue when there is none."""
        return self._turn(home_id, edit_id, pair, "redo")

    def _turn(self, home_id: str, edit_id: str, pair: Pair | None, way: Literal["undo", "redo"]) -> EditResult:
        with self.database.writing() as session:
            repository = Repository(session)
            repository.rev(home_id)
            if repository.edit(edit_id) is None:
                row = repository.next_undo(home_id) if way == "undo" else repository.next_redo(home_id)
                if row is None:
                    raise InvalidValue(way, None, f"there is nothing to {way}")
                ops = row.inverse if way == "undo" else row.forward
                inverse, new_rev = _apply(repository, home_id, ops)
                row.undone = way == "undo"
                label = f"{way.capitalize()}: {row.label}"
                repository.record(home_id, edit_id, label, new_rev, ops, inverse, counts=False)
            state = _state(repository, home_id)
        return self._answer(state, pair)

    def _answer(self, state: HomeState, pair: Pair | None) -> EditResult:
        self.live[state.id] = state.rev
        known = pair is not None and pair[0] in _ids(state.plans) and pair[1] in _ids(state.outages)
        view = verdict_view(self._judged(state, pair)) if known and pair else None
        return EditResult(state=state, verdict=view)

    # Verdicts

    def verdict(self, home_id: str, plan: str, outage: str) -> VerdictView:
        """The verdict on a pair. Raises NotFound."""
        return verdict_view(self._judged(self.state(home_id), (plan, outage)))

    def run(self, home_id: str, plan: str, outage: str) -> RunView | None:
        """The run of a pair, None where nothing runs. Raises NotFound."""
        return run_view(self._judged(self.state(home_id), (plan, outage)))

    def options(self, home_id: str, plan: str, outage: str) -> list[StationView]:
        """What each station would do in a plan. Raises NotFound."""
        documents = self._read(self.state(home_id))
        chosen, case = _pick(documents, (plan, outage))
        return options(documents.home, chosen, case, documents.catalogue)

    def _judged(self, state: HomeState, pair: Pair) -> Verdict:
        key = (state.id, state.rev, *pair)
        with self._lock:
            if key in self._verdicts:
                return self._verdicts[key]
        documents = self._read(state)
        plan, outage = _pick(documents, pair)
        verdict = judge(documents.home, plan, outage, documents.catalogue)
        with self._lock:
            self._verdicts[key] = verdict
            while len(self._verdicts) > MOST_VERDICTS:
                self._verdicts.popitem(last=False)
        return verdict

    def _read(self, state: HomeState) -> Documents:
        known = self._documents.get(state.id)
        if known is None or known.rev != state.rev:
            home = HOME.read(state.home)
            known = Documents(
                state.rev,
                home,
                {p["id"]: PLAN.read(p) for p in state.plans},
                {o["id"]: OUTAGE.read(o) for o in state.outages},
                home.catalogue.over(shipped()),
            )
            self._documents[state.id] = known
        return known


def _ids(documents: list[Json]) -> set[str]:
    return {d["id"] for d in documents}


def _pick(documents: Documents, pair: Pair) -> tuple[Plan, Outage]:
    if pair[0] not in documents.plans:
        raise NotFound("plan", pair[0], "the home has no such plan")
    if pair[1] not in documents.outages:
        raise NotFound("outage", pair[1], "the home has no such outage")
    return documents.plans[pair[0]], documents.outages[pair[1]]


def _complete(kind: str, ident: str, body: Json, home_id: str) -> Json:
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


def _check(stored: list[Stored]) -> None:
    """All documents of a home against each other. Raises on the first thing that cannot stand."""
    home = HOME.read(next(d.body for d in stored if d.kind == "home"))
    catalogue = home.catalogue.over(shipped())
    check_home(home)
    for document in stored:
        if document.kind == "plan":
            check_plan(PLAN.read(document.body), home, catalogue)
        elif document.kind == "outage":
            check_outage(OUTAGE.read(document.body))


def _state(repository: Repository, home_id: str) -> HomeState:
    rev = repository.rev(home_id)
    stored = repository.documents(home_id)
    undo, redo = repository.next_undo(home_id), repository.next_redo(home_id)
    return HomeState(
        id=home_id, rev=rev, home=next(d.body for d in stored if d.kind == "home"),
        plans=[d.body for d in stored if d.kind == "plan"], outages=[d.body for d in stored if d.kind == "outage"],
        undo=undo.label if undo else None, redo=redo.label if redo else None,
    )  # fmt: skip


def _stale(repository: Repository, home_id: str, base_rev: int, rev: int) -> Stale:
    changes = [
        Change(label=e.label, rev=e.rev, paths=sorted({f"{op['doc']}{op['path']}" for op in e.forward}))
        for e in repository.since(home_id, base_rev)
    ]
    return Stale("revision", base_rev, f"the home is at revision {rev} by now; look at what changed", rev, changes)


def _apply(repository: Repository, home_id: str, ops: list[Json]) -> tuple[list[Json], int]:
    """Apply operations inside a transaction, checking the whole home; returns their inverse and the new revision."""
    stored = {d.id: d for d in repository.documents(home_id)}
    kinds = {k: d.kind for k, d in stored.items()} | {
        op["doc"]: str(op.get("kind")) for op in ops if op["path"] == patch.WHOLE and op["op"] == "add"
    }
    changed, inverse = patch.apply({k: d.body for k, d in stored.items()}, ops)
    for op in inverse:
        if op["path"] == patch.WHOLE:
            op["kind"] = kinds[op["doc"]]
    rev = repository.raise_rev(home_id)
    for ident, body in changed.items():
        if not body:
            if ident == HOME_DOC:
                raise InvalidValue("home", None, "a home is removed as a whole, not by an edit")
            repository.remove(home_id, ident)
            continue
        completed = _complete(kinds[ident], ident, body, home_id)
        repository.put(home_id, kinds[ident], ident, completed, rev)
    _check(repository.documents(home_id))
    return inverse, rev
