"""Homes, edits with undo, and verdicts."""

from __future__ import annotations

import logging
from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time
from threading import Lock
from typing import Literal, cast

from sqlalchemy.orm import Session

from imbuto.core.advice.bands import bands, wants_bands
from imbuto.core.advice.diagram import Diagram, diagram
from imbuto.core.advice.verdict import Verdict, judge
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.basics.measures import IN_USE
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.everyday.left import as_left
from imbuto.core.home.home import Home
from imbuto.core.measuring.readings import Reading
from imbuto.core.plan.joining import parts
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.formats import planfile, strict_json
from imbuto.formats.documents import HOME, OUTAGE, PLAN, Json
from imbuto.services.desk.edits import HomeState, Stale, apply_ops, from_row, known_edit, stale, state_of, to_row
from imbuto.services.desk.views import VerdictView, verdict_view
from imbuto.services.hours.runs import RunView, StationView, options, run_view
from imbuto.store.database import Database
from imbuto.store.files import Files
from imbuto.store.repository import HomeLine, Repository

MOST_VERDICTS = 64
MOST_DOCUMENTS = 16
MOST_OPS = 2_000


@dataclass(frozen=True, slots=True, kw_only=True)
class EditResult:
    """The home after an edit, and the verdict on the pair that was asked about; problem: the edit was kept, and why
    there is no verdict on it all the same."""

    state: HomeState
    verdict: VerdictView | None
    problem: str = ""


@dataclass(frozen=True, slots=True)
class Documents:
    """A home's documents read and checked."""

    home: Home
    plans: dict[str, Plan]
    outages: dict[str, Outage]
    catalogue: Catalogue


Pair = tuple[str, str]
Also = Callable[[Session, str], None]  # what is written with a home in one transaction
log = logging.getLogger("imbuto")
KEPT = (
    "Your change was kept, but no verdict on it could be worked out. Undo takes it back; the server's "
    "log has the details."
)


class Planner:
    """The use cases on homes. Safe to share between threads."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.files = Files(database.path.parent / "files")
        self._documents: OrderedDict[str, Documents] = OrderedDict()
        self._verdicts: OrderedDict[tuple[str, str, str], Verdict] = OrderedDict()
        self._lock = Lock()
        self.live: dict[str, int] = {}  # the newest revision of each home touched, for listeners
        self.clocks: dict[
            str, Callable[[], datetime]
        ] = {}  # UTC, of homes that go by another clock than this machine's

    # Homes

    def homes(self) -> list[HomeLine]:
        """Every home."""
        with self.database.reading() as session:
            return Repository(session).homes()

    def state(self, home_id: str) -> HomeState:
        """A home's documents, and from here on its measures. Raises NotFound."""
        with self.database.reading() as session:
            state = state_of(Repository(session), home_id)
        self.documents(state)
        return state

    def rev(self, home_id: str) -> int:
        """A home's revision. Raises NotFound."""
        with self.database.reading() as session:
            return Repository(session).rev(home_id)

    def take_in(self, data: bytes | str, name: str, also: Also | None = None) -> HomeState:
        """Add a home from a plan file. Raises what ``planfile.read`` or ``also`` raises; then nothing was added."""
        bundle = planfile.read(data, name)
        return self.add(bundle.raw_home, bundle.raw_plans, bundle.raw_outages, bundle.readings, also)

    def add(
        self,
        home: Json,
        plans: list[Json],
        outages: list[Json],
        readings: Sequence[Reading] = (),
        also: Also | None = None,
    ) -> HomeState:
        """Add a home from documents that were checked. also: what else is written with it, given the id it has."""
        with self.database.writing() as session:
            repository = Repository(session)
            home_id = repository.create_home(home, plans or [_first_plan()], outages or [_evening_cut()])
            for reading in readings:
                repository.add_reading(to_row(home_id, reading))
            if also is not None:
                also(session, home_id)
            return state_of(repository, home_id)

    def give_out(self, home_id: str) -> Json:
        """A home's plan file."""
        state = self.state(home_id)
        with self.database.reading() as session:
            rows = Repository(session).readings(home_id)
        loads, circuits = {None, *state.home["loads"]}, {None, *state.home["circuits"]}
        readings = [from_row(row) for row in rows if row.load in loads and row.circuit in circuits]
        catalogue = self.documents(state).catalogue
        return planfile.write(state.home, state.plans, state.outages, catalogue, readings)

    def kept_readings(self, home_id: str) -> list[Reading]:
        """Every reading of a home, the withdrawn ones too, oldest first."""
        with self.database.reading() as session:
            return [from_row(row) for row in Repository(session).readings(home_id)]

    def now(self, home: Home) -> datetime:
        """Local wall-clock time at a home, to the second."""
        clock = self.clocks.get(home.id, lambda: datetime.now(UTC))
        return clock().astimezone(home.site.tz).replace(tzinfo=None, microsecond=0)

    def has_edit(self, edit_id: str) -> bool:
        """Whether an edit of that id was applied before."""
        with self.database.reading() as session:
            return Repository(session).edit(edit_id) is not None

    def delete(self, home_id: str) -> None:
        """Remove a home and its history. Raises NotFound."""
        with self.database.writing() as session:
            Repository(session).delete_home(home_id)
        self.files.drop(home_id)
        with self._lock:
            self._documents.clear()
            self._verdicts.clear()
        self.live.pop(home_id, None)
        self.clocks.pop(home_id, None)

    # Edits

    def edit(
        self,
        home_id: str,
        base_rev: int,
        edit_id: str,
        label: str,
        ops: list[Json],
        pair: Pair | None,
        *,
        trial: bool = False,
    ) -> EditResult:
        """Apply one edit; trial: only to try something. Raises Stale on an older base, InvalidValue and the like on
        what cannot stand.

        An edit_id that was applied before is answered again and changes nothing.
        """
        if not 0 < len(ops) <= MOST_OPS:
            raise InvalidValue("ops", len(ops), f"an edit has 1 to {MOST_OPS} operations")
        strict_json.check_plain(ops, "ops")
        with self.database.writing() as session:
            repository = Repository(session)
            if not known_edit(repository, home_id, edit_id):
                rev = repository.rev(home_id)
                if base_rev != rev:
                    raise stale(repository, home_id, base_rev, rev)
                inverse, new_rev = apply_ops(repository, home_id, ops)
                repository.record(home_id, edit_id, label, new_rev, ops, inverse, trial=trial)
            state = state_of(repository, home_id)
        return self.answer(state, pair)

    def undo(self, home_id: str, edit_id: str, pair: Pair | None, takes: str | None = None) -> EditResult:
        """Undo the newest edit.

        takes: the id of the edit that its sender sees as the newest, None for whichever is. Raises Stale where
        another one is, InvalidValue where there is none."""
        return self._turn(home_id, edit_id, pair, "undo", takes)

    def redo(self, home_id: str, edit_id: str, pair: Pair | None, takes: str | None = None) -> EditResult:
        """Redo the edit undone last. takes and errors as for ``undo``."""
        return self._turn(home_id, edit_id, pair, "redo", takes)

    def _turn(
        self, home_id: str, edit_id: str, pair: Pair | None, way: Literal["undo", "redo"], takes: str | None
    ) -> EditResult:
        with self.database.writing() as session:
            repository = Repository(session)
            rev = repository.rev(home_id)
            if not known_edit(repository, home_id, edit_id):
                row = repository.next_undo(home_id) if way == "undo" else repository.next_redo(home_id)
                if takes is not None and (row is None or row.edit_id != takes):
                    raise Stale(way, takes, f"another edit is the next to {way} by now; look at what changed", rev)
                if row is None:
                    raise InvalidValue(way, None, f"there is nothing to {way}")
                ops = row.inverse if way == "undo" else row.forward
                inverse, new_rev = apply_ops(repository, home_id, ops)
                row.undone = way == "undo"
                for reading_id in row.readings:
                    withdrawn = row.withdraws if way == "redo" else not row.withdraws
                    repository.mark_reading(home_id, reading_id, withdrawn=withdrawn)
                label = f"{way.capitalize()}: {row.label}"
                repository.record(home_id, edit_id, label, new_rev, ops, inverse, counts=False)
            state = state_of(repository, home_id)
        return self.answer(state, pair)

    def answer(self, state: HomeState, pair: Pair | None) -> EditResult:
        """A home's state, with the verdict on a pair where both are there."""
        self.live[state.id] = state.rev
        known = pair is not None and pair[0] in _ids(state.plans) and pair[1] in _ids(state.outages)
        if not known or pair is None:
            return EditResult(state=state, verdict=None)
        try:
            return EditResult(state=state, verdict=verdict_view(self._judged(state, pair)))
        except Exception:  # what was kept stands: say so, rather than that it was not
            log.exception("no verdict on what was kept")
            return EditResult(state=state, verdict=None, problem=KEPT)

    # Verdicts

    def verdict(self, home_id: str, plan: str, outage: str) -> VerdictView:
        """The verdict on a pair. Raises NotFound."""
        return verdict_view(self._judged(self.state(home_id), (plan, outage)))

    def run(self, home_id: str, plan: str, outage: str, source: str | None = None) -> RunView | None:
        """The run of a pair, None where nothing runs; source: which of several stations, the first to end where it is
        not said. Raises NotFound."""
        return run_view(self.judged(home_id, plan, outage, source))

    def judged(self, home_id: str, plan: str, outage: str, source: str | None = None) -> Verdict:
        """The verdict on a pair, or on one of its stations. Raises NotFound."""
        verdict = self._judged(self.state(home_id), (plan, outage))
        if source is None:
            return verdict
        found = next((v for v in verdict.parts or (verdict,) if v.joined.source and v.joined.source.id == source), None)
        if found is None:
            raise NotFound("station", source, "the plan has no such station")
        return found

    def options(self, home_id: str, plan: str, outage: str, source: str | None = None) -> list[StationView]:
        """What each station would do in a plan, in the place of the first or of the one named. Raises NotFound."""
        documents = self.documents(self.state(home_id))
        chosen, case = _pick(documents, (plan, outage))
        key = source or next(iter(chosen.sources), "")
        if source is not None and source not in chosen.sources:
            raise NotFound("station", source, "the plan has no such station")
        return options(documents.home, chosen, case, documents.catalogue, key or None)

    def diagram(self, home_id: str, plan: str, source: str | None = None) -> Diagram:
        """How a plan is joined, all of it or at the station named. Raises NotFound."""
        documents = self.documents(self.state(home_id))
        if plan not in documents.plans:
            raise NotFound("plan", plan, "the home has no such plan")
        each = parts(documents.home, documents.plans[plan], documents.catalogue)
        if source is None and wants_bands(each):
            return bands(each)
        found = next((x for x in each if source is None or (x.source and x.source.id == source)), None)
        if found is None:
            raise NotFound("station", source or "", "the plan has no such station")
        return diagram(found)

    def _judged(self, state: HomeState, pair: Pair) -> Verdict:
        documents = self.documents(state)  # first: what is known already is said in its measures too
        key = (state.content, *pair)  # by what it says: an id can come back with another home behind it
        with self._lock:
            if key in self._verdicts:
                return self._verdicts[key]
        plan, outage = _pick(documents, pair)
        verdict = judge(documents.home, plan, outage, documents.catalogue)
        with self._lock:
            self._verdicts[key] = verdict
            while len(self._verdicts) > MOST_VERDICTS:
                self._verdicts.popitem(last=False)
        return verdict

    def documents(self, state: HomeState) -> Documents:
        """The documents of a state as dataclasses."""
        known = self._documents.get(state.content)
        if known is None:
            home = HOME.read(state.home)
            known = Documents(
                home,
                {p["id"]: PLAN.read(p) for p in state.plans},
                {o["id"]: OUTAGE.read(o) for o in state.outages},
                home.catalogue.over(shipped()),
            )
            with self._lock:
                self._documents[state.content] = known
                while len(self._documents) > MOST_DOCUMENTS:
                    self._documents.popitem(last=False)
        IN_USE.set(known.home.site.in_measures)  # what is said of a home from here on is said in its measures
        return known


def _first_plan() -> Json:
    """Something to choose in, for a home that came without a plan."""
    return cast(Json, PLAN.write(Plan(id="cords-only", name="Cords only")))


def _evening_cut() -> Json:
    """Something to judge, for a home that came without an outage."""
    start = datetime.combine(date.today(), time(18, 30))
    return cast(Json, OUTAGE.write(Outage(id="evening-cut", name="Evening cut", start=start, hours=4, goal_hours=4)))


def _ids(documents: list[Json]) -> set[str]:
    return {d["id"] for d in documents}


def _pick(documents: Documents, pair: Pair) -> tuple[Plan, Outage]:
    if pair[0] not in documents.plans:
        raise NotFound("plan", pair[0], "the home has no such plan")
    if pair[1] not in documents.outages:
        raise NotFound("outage", pair[1], "the home has no such outage")
    plan, outage = documents.plans[pair[0]], documents.outages[pair[1]]
    return plan, as_left(documents.home, plan, outage, documents.catalogue, documents.outages.values())
