"""Edits of a home, with undo and redo, each answered with what changed and the verdict on it."""

from __future__ import annotations

import logging
from dataclasses import dataclass
from typing import Literal

from imbuto.core.basics.errors import InvalidValue
from imbuto.formats import strict_json
from imbuto.formats.documents import Json
from imbuto.services.desk.edits import (
    HomeState,
    Stale,
    apply_ops,
    known_edit,
    stale,
    state_of,
    touches_outage,
    turns_outage,
)
from imbuto.services.desk.judging import Judging, Pair
from imbuto.services.desk.verdict_views import VerdictView, verdict_view
from imbuto.store.repository import Repository

MOST_OPS = 2_000


@dataclass(frozen=True, slots=True, kw_only=True)
class EditResult:
    """The home after an edit, and the verdict on the pair that was asked about; problem: the edit was kept, and why
    there is no verdict on it all the same."""

    state: HomeState
    verdict: VerdictView | None
    problem: str = ""


log = logging.getLogger("imbuto")
KEPT = (
    "Imbuto saved your change but couldn't calculate the result. Undo the change to go back. The server's log has "
    "the details."
)


class Planner(Judging):
    """The use cases on homes: kept, judged and edited. Safe to share between threads."""

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
        stored = None
        with self.database.writing() as session:
            repository = Repository(session)
            if not known_edit(repository, home_id, edit_id):
                rev = repository.rev(home_id)
                if base_rev != rev:
                    raise stale(repository, home_id, base_rev, rev)
                done = apply_ops(repository, home_id, ops)
                stored = done.stored
                turns = turns_outage(ops)
                repository.record(home_id, edit_id, label, done.rev, ops, done.inverse, trial=trial, counts=not turns)
                if turns:
                    repository.settle(home_id, touches_outage)
            state = state_of(repository, home_id, stored)
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
        stored = None
        with self.database.writing() as session:
            repository = Repository(session)
            rev = repository.rev(home_id)
            if not known_edit(repository, home_id, edit_id):
                row = repository.next_undo(home_id) if way == "undo" else repository.next_redo(home_id)
                if takes is not None and (row is None or row.edit_id != takes):
                    raise Stale(
                        way, takes, (f"another edit is the next to {way} now; look at the changes and try again"), rev
                    )
                if row is None:
                    raise InvalidValue(way, None, f"there is nothing to {way}")
                ops = row.inverse if way == "undo" else row.forward
                done = apply_ops(repository, home_id, ops)
                stored = done.stored
                row.undone = way == "undo"
                for reading_id in row.readings:
                    withdrawn = row.withdraws if way == "redo" else not row.withdraws
                    repository.mark_reading(home_id, reading_id, withdrawn=withdrawn)
                label = f"{way.capitalize()}: {row.label}"
                repository.record(home_id, edit_id, label, done.rev, ops, done.inverse, counts=False)
            state = state_of(repository, home_id, stored)
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


def _ids(documents: list[Json]) -> set[str]:
    return {d["id"] for d in documents}
