"""Readings: understood, noted, taken back; each a named edit like any other."""

from __future__ import annotations

import difflib
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime

from imbuto.core.balance import Store
from imbuto.core.errors import NotFound
from imbuto.core.home import Home
from imbuto.core.loads import Load
from imbuto.core.quantity import NotUnderstood, ReadingKind, Understood, understand
from imbuto.core.readings import Gives, Quantity, Reading, Season, Side, figures, gives, winners
from imbuto.core.run import store_of
from imbuto.formats.documents import HOME, Json
from imbuto.services.edits import HOME_DOC, apply_ops, from_row, state_of, to_row
from imbuto.services.planner import EditResult, Pair, Planner
from imbuto.store.repository import Repository


@dataclass(frozen=True, slots=True, kw_only=True)
class GivesView:
    """What a reading gives for one quantity; sigma in the quantity's unit; wins: whether it is the one that counts."""

    quantity: Quantity
    value: float
    sigma: float
    wins: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingView:
    """A reading, what it was understood as, and what it gives. problem: why it gives nothing here."""

    id: str
    load: str
    at: datetime
    raw: str
    side: Side
    setting: str
    season: Season
    withdrawn: bool
    kind: ReadingKind | None
    echo: str
    notes: list[str]
    gives: list[GivesView]
    problem: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Echo:
    """A text understood, before it is noted. load: the one it names, or the one asked for.

    problem: why it says nothing certain, empty where it does; suggestion: what was likely meant.
    """

    load: str | None = None
    load_name: str = ""
    kind: ReadingKind | None = None
    echo: str = ""
    notes: list[str] = field(default_factory=list)
    gives: list[GivesView] = field(default_factory=list)
    problem: str = ""
    suggestion: str = ""


class Measuring:
    """The use cases on readings."""

    def __init__(self, planner: Planner) -> None:
        self.planner = planner

    def understand(self, home_id: str, text: str, load_id: str | None, pair: Pair | None) -> Echo:
        """What a text says, and what it would give; or the problem with it, as an answer: it is half typed."""
        try:
            return self._understand(home_id, text, load_id, pair)
        except NotUnderstood as error:
            return Echo(problem=error.rule[:1].upper() + error.rule[1:] + ".", suggestion=error.suggestion)

    def _understand(self, home_id: str, text: str, load_id: str | None, pair: Pair | None) -> Echo:
        documents = self.planner.documents(self.planner.state(home_id))
        u = understand(text, documents.home.service.volts)
        load = _target(documents.home, load_id, u, text, must=False)
        found: list[Gives] = []
        if load is not None:
            store = self._store(home_id, pair)
            now = Reading(id="now", load=load.id, at=datetime.now(UTC), raw=text)
            _needs_station(u, store, text)
            found = gives(load, now, u, store)
        views = [GivesView(quantity=g.quantity, value=g.value, sigma=g.sigma, wins=False) for g in found]
        return Echo(
            load=load.id if load else None, load_name=load.name if load else "", kind=u.kind, echo=u.echo,
            notes=list(u.notes), gives=views,
        )  # fmt: skip

    def note(
        self,
        home_id: str,
        edit_id: str,
        text: str,
        load_id: str | None,
        pair: Pair | None,
        *,
        side: Side = "appliance",
        setting: str = "",
        season: Season = "any",
    ) -> EditResult:
        """Note a reading, and let the load's figures follow. Sent twice, it is noted once. Raises NotUnderstood."""
        store = self._store(home_id, pair)
        with self.planner.database.writing() as session:
            repository = Repository(session)
            if repository.edit(edit_id) is None:
                home = _home(repository, home_id)
                u = understand(text, home.service.volts)
                load = _target(home, load_id, u, text, must=True)
                assert load is not None
                _needs_station(u, store, text)
                reading = Reading(
                    id=edit_id, load=load.id, at=datetime.now(UTC), raw=text, side=side, setting=setting, season=season
                )
                repository.add_reading(to_row(home_id, reading))
                ops = _follow(repository, home_id, load, home, store)
                inverse, rev = apply_ops(repository, home_id, ops)
                label = f"{load.name}: {text.strip()}"
                repository.record(home_id, edit_id, label[:200], rev, ops, inverse, reading_id=reading.id)
            state = state_of(repository, home_id)
        return self.planner.answer(state, pair)

    def take_back(self, home_id: str, reading_id: str, edit_id: str, pair: Pair | None) -> EditResult:
        """Mark a reading withdrawn; the next best one counts then. Raises NotFound."""
        store = self._store(home_id, pair)
        with self.planner.database.writing() as session:
            repository = Repository(session)
            if repository.edit(edit_id) is None:
                home = _home(repository, home_id)
                repository.mark_reading(home_id, reading_id, withdrawn=True)
                row = next(r for r in repository.readings(home_id) if r.id == reading_id)
                load = home.loads.get(row.load)
                ops = _follow(repository, home_id, load, home, store) if load else []
                inverse, rev = apply_ops(repository, home_id, ops)
                label = f"Reading taken back: {row.raw}"
                repository.record(
                    home_id, edit_id, label[:200], rev, ops, inverse, reading_id=reading_id, withdraws=True
                )
            state = state_of(repository, home_id)
        return self.planner.answer(state, pair)

    def readings(self, home_id: str, pair: Pair | None) -> list[ReadingView]:
        """Every reading, newest first, with which of them count. Raises NotFound."""
        documents = self.planner.documents(self.planner.state(home_id))
        store = self._store(home_id, pair)
        with self.planner.database.reading() as session:
            kept = [from_row(row) for row in Repository(session).readings(home_id)]
        views = []
        for load_id in dict.fromkeys(r.load for r in kept):
            load = documents.home.loads.get(load_id)
            if load is not None:
                views += _views(load, [r for r in kept if r.load == load_id], store)
        return sorted(views, key=lambda v: v.at, reverse=True)

    def _store(self, home_id: str, pair: Pair | None) -> Store | None:
        """The station of the judged plan, against which a gauge is read."""
        documents = self.planner.documents(self.planner.state(home_id))
        plan, outage = (documents.plans.get(pair[0]), documents.outages.get(pair[1])) if pair else (None, None)
        if plan is None or outage is None or plan.source is None:
            return None
        return store_of(plan, plan.source, documents.catalogue.stations[plan.source.station], outage)


def _home(repository: Repository, home_id: str) -> Home:
    repository.rev(home_id)
    return HOME.read(next(d.body for d in repository.documents(home_id) if d.kind == "home"))


def _needs_station(u: Understood, store: Store | None, text: str) -> None:
    if u.kind == "gauge" and store is None:
        raise NotUnderstood("reading", text, "a gauge is read against a station's size; pick the station first")


def find_load(home: Home, name: str, text: str) -> Load:
    """The load a notebook line names. Raises NotUnderstood when none or several fit."""
    words = name.lower().split()
    fitting = [x for x in home.loads.values() if words and all(w in f"{x.name} {x.room}".lower() for w in words)]
    exact = [x for x in fitting if x.name.lower() == name.lower()] or [x for x in fitting if words[0] in x.name.lower()]
    fitting = exact or fitting
    if not fitting:
        names = {x.name.lower(): x for x in home.loads.values()}
        fitting = [names[n] for n in difflib.get_close_matches(name.lower(), names, n=2, cutoff=0.6)][:1]
    if len(fitting) == 1:
        return fitting[0]
    if fitting:
        which = ", ".join(x.name for x in fitting[:4])
        raise NotUnderstood("reading", text, f"“{name}” could be {which}; write more of the name")
    raise NotUnderstood("reading", text, f"no load is called “{name}”; pick one, or begin with its name")


def _target(home: Home, load_id: str | None, u: Understood, text: str, *, must: bool) -> Load | None:
    """A name in the text comes before the load that is picked, when it names one."""
    if u.name and load_id is None:
        return find_load(home, u.name, text)
    if load_id is not None:
        if load_id not in home.loads:
            raise NotFound("load", load_id, "the home has no such load")
        return home.loads[load_id]
    if must:
        raise NotUnderstood("reading", text, "say which load it is for: begin with its name")
    return None


def _all_gives(load: Load, kept: Sequence[Reading], store: Store | None) -> list[Gives]:
    found: list[Gives] = []
    for reading in kept:
        if not reading.withdrawn:
            try:
                found += gives(load, reading, understand(reading.raw), store)
            except NotUnderstood:  # told as its problem in the list; it gives nothing here
                continue
    return found


def _follow(repository: Repository, home_id: str, load: Load, home: Home, store: Store | None) -> list[Json]:
    """The operations that set a load's figures by its readings."""
    kept = [from_row(row) for row in repository.readings(home_id) if row.load == load.id]
    changed = figures(load, winners(_all_gives(load, kept, store)))
    raw = HOME.write(home)["loads"][load.id]
    path = f"/loads/{load.id.replace('~', '~0').replace('/', '~1')}"
    return [
        {"doc": HOME_DOC, "op": "replace", "path": f"{path}/{name}", "value": value}
        for name, value in changed.items()
        if raw[name] != value
    ]


def _views(load: Load, kept: Sequence[Reading], store: Store | None) -> list[ReadingView]:
    best = winners(_all_gives(load, kept, store))
    views = []
    for r in kept:
        kind: ReadingKind | None = None
        echo, problem, notes, found = "", "", [], []
        try:
            u = understand(r.raw)
            kind, echo, notes = u.kind, u.echo, list(u.notes)
            _needs_station(u, store, r.raw)
            found = gives(load, r, u, store)
        except NotUnderstood as error:
            problem = error.sentence
        given = [
            GivesView(
                quantity=g.quantity, value=g.value, sigma=g.sigma,
                wins=not r.withdrawn and g.quantity in best and best[g.quantity].reading.id == r.id,
            )
            for g in found
        ]  # fmt: skip
        views.append(
            ReadingView(
                id=r.id, load=r.load, at=r.at, raw=r.raw, side=r.side, setting=r.setting, season=r.season,
                withdrawn=r.withdrawn, kind=kind, echo=echo, notes=notes, gives=given, problem=problem,
            )
        )  # fmt: skip
    return views
