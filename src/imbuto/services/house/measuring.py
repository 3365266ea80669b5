"""Readings: understood, noted, taken back; each a named edit like any other."""

from __future__ import annotations

import difflib
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from imbuto.core.basics.errors import NotFound, sentences
from imbuto.core.home.home import Home
from imbuto.core.home.loads import Load, Season, Use, figures_of, mean_w
from imbuto.core.measuring.readings import (
    Figure,
    Quantity,
    Reading,
    ReadingEstimate,
    Side,
    as_read,
    figures,
    gives,
    winners,
)
from imbuto.core.measuring.text_field import comes_to, understand
from imbuto.core.measuring.understood_text import NotUnderstood, ReadingKind, ReadText
from imbuto.core.plan.system import Part, resolve
from imbuto.core.run.battery_store import Store
from imbuto.core.run.run import store_of
from imbuto.formats.documents import HOME, USE, Json
from imbuto.formats.patch import escape
from imbuto.services.desk.edits import HOME_DOC, apply_ops, from_row, known_edit, state_of, to_row
from imbuto.services.desk.judging import Pair
from imbuto.services.desk.planner import EditResult, Planner
from imbuto.store.repository import Repository

WHOLE_HOME = ("bill", "house", "home", "whole house", "whole home", "sun", "solar", "yield", "solar yield")


@dataclass(frozen=True, slots=True, kw_only=True)
class GivesView:
    """What a reading gives for one quantity; sigma in the quantity's unit; wins: whether it is the one that counts."""

    quantity: Quantity
    value: float
    sigma: float
    wins: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingView:
    """A reading, what it was understood as, and what it gives.

    of: the name of what was measured
    problem: why it gives nothing here
    """

    id: str
    load: str | None
    circuit: str | None
    of: str
    at: datetime
    raw: str
    side: Side
    setting: str
    season: Season
    withdrawn: bool
    kind: ReadingKind | None
    hours: float
    echo: str
    notes: list[str]
    gives: list[GivesView]
    problem: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Echo:
    """A text understood, before it is noted.

    load: the one it names, or the one asked for
    home: it is of the whole home
    problem: why it says nothing certain, empty where it does
    suggestion: what was likely meant
    says: what that comes to
    other, other_says: a second thing it may mean
    day_wh: what the load would use in a day then
    fields: of a load not entered yet, as the text tells them
    """

    load: str | None = None
    load_name: str = ""
    home: bool = False
    kind: ReadingKind | None = None
    echo: str = ""
    notes: list[str] = field(default_factory=list)
    gives: list[GivesView] = field(default_factory=list)
    problem: str = ""
    suggestion: str = ""
    says: str = ""
    other: str = ""
    other_says: str = ""
    day_wh: float | None = None
    fields: Json = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Target:
    """What a reading is of: a load, a circuit, or with neither the whole home. home: said so, rather than not said."""

    load: str | None = None
    circuit: str | None = None
    home: bool = field(default=False, compare=False)

    def name(self, home: Home) -> str:
        """Its name, as it is now."""
        if self.load is not None:
            return home.loads[self.load].name if self.load in home.loads else self.load
        if self.circuit is not None:
            return home.circuits[self.circuit].name if self.circuit in home.circuits else self.circuit
        return "Whole home"


class Measuring:
    """The use cases on readings."""

    def __init__(self, planner: Planner) -> None:
        self.planner = planner

    def understand(
        self, home_id: str, text: str, load_id: str | None, pair: Pair | None, *, fresh: bool = False
    ) -> Echo:
        """What a text says, and what it would give; or the problem with it, as an answer: it is half typed. fresh:
        for a load that is not entered yet."""
        try:
            return self._of_new(home_id, text) if fresh else self._understand(home_id, text, load_id, pair)
        except NotUnderstood as error:
            # A suggestion keeps the load that the line names.
            return Echo(
                problem=f"{sentences(error.rule)}.",
                suggestion=error.suggestion,
                says=error.comes[0],
                other=error.other,
                other_says=error.comes[1],
            )

    def _of_new(self, home_id: str, text: str) -> Echo:
        """What a text makes of a load that is not entered yet."""
        u = understand(text, self.planner.open(home_id).home.service.volts)
        if u.kind == "gauge" or u.load_percent is not None:
            raise NotUnderstood("reading", text, "enter the load first, then the gauge reading")
        load = Load(id="new", name=u.name or "New load", average_w=50, run_w=50)
        now = Reading(id="now", load="new", at=datetime.now(UTC), raw=text)
        changed = figures(load, winners(gives(load, now, u, None)))
        then = _then(load, changed)
        fields = {k: USE.write(v) if isinstance(v, Use) else v for k, v in changed.items()}
        return Echo(
            load_name=u.name, kind=u.kind, echo=u.echo, notes=list(u.notes), day_wh=24 * mean_w(then), fields=fields
        )

    def _understand(self, home_id: str, text: str, load_id: str | None, pair: Pair | None) -> Echo:
        documents = self.planner.open(home_id)
        u = understand(text, documents.home.service.volts)
        target = _target(documents.home, Target(load_id), u, text, must=False)
        found: list[ReadingEstimate] = []
        if target is not None:
            now = Reading(id="now", load=target.load, circuit=target.circuit, at=datetime.now(UTC), raw=text)
            load = documents.home.loads.get(target.load or "")
            u = _fitting(u, load, self._station(home_id, pair), text, target)
            found = gives(load, now, u, self._store(home_id, pair))
        views = [GivesView(quantity=g.quantity, value=g.value, sigma=g.sigma, wins=False) for g in found]
        load = documents.home.loads.get((target.load if target else None) or "")
        then = _then(load, figures(load, winners(found))) if load is not None else None
        return Echo(
            day_wh=24 * mean_w(then) if then is not None else None,
            load=load.id if load else None,
            load_name=load.name if load else "",
            kind=u.kind,
            echo=u.echo,
            notes=list(u.notes),
            gives=views,
            home=target is not None and load is None and target.circuit is None,
        )

    def note(
        self,
        home_id: str,
        edit_id: str,
        text: str,
        target: Target,
        pair: Pair | None,
        *,
        side: Side = "appliance",
        setting: str = "",
        season: Season = "any",
    ) -> EditResult:
        """Note a reading, and let the load's figures follow. Sent twice, it is noted once. Raises NotUnderstood."""
        home = self.planner.open(home_id).home
        u = understand(text, home.service.volts)
        found = _target(home, target, u, text, must=True)
        assert found is not None
        u = _fitting(u, home.loads.get(found.load or ""), self._station(home_id, pair), text, found)
        known: dict[Figure, float] = {"run_w": u.run_w} if u.load_percent is not None and u.run_w is not None else {}
        reading = Reading(
            id=edit_id,
            load=found.load,
            circuit=found.circuit,
            at=datetime.now(UTC),
            raw=text,
            side=side,
            setting=setting,
            season=season,
            figures=known,
        )
        return self.note_all(home_id, edit_id, [reading], f"{found.name(home)}: {text.strip()}", pair)

    def note_all(
        self,
        home_id: str,
        edit_id: str,
        readings: Sequence[Reading],
        label: str,
        pair: Pair | None,
        also: Callable[[Session], object] = lambda _: None,
    ) -> EditResult:
        """Note several readings as one edit. also: what else to write in the same transaction. Raises NotFound."""
        store = self._store(home_id, pair)
        with self.planner.database.writing() as session:
            repository = Repository(session)
            if not known_edit(repository, home_id, edit_id):
                home = _home(repository, home_id)
                for reading in readings:
                    _exists(home, Target(reading.load, reading.circuit))
                    repository.add_reading(to_row(home_id, reading))
                also(session)
                touched = [home.loads[k] for k in dict.fromkeys(r.load for r in readings) if k is not None]
                ops = [op for load in touched for op in _follow(repository, home_id, load, home, store)]
                done = apply_ops(repository, home_id, ops)
                repository.record(
                    home_id, edit_id, label[:200], done.rev, ops, done.inverse, readings=[r.id for r in readings]
                )
            state = state_of(repository, home_id)
        return self.planner.answer(state, pair)

    def take_back(self, home_id: str, reading_id: str, edit_id: str, pair: Pair | None) -> EditResult:
        """Mark a reading withdrawn; the next best one counts then. Raises NotFound."""
        store = self._store(home_id, pair)
        with self.planner.database.writing() as session:
            repository = Repository(session)
            if not known_edit(repository, home_id, edit_id):
                home = _home(repository, home_id)
                repository.mark_reading(home_id, reading_id, withdrawn=True)
                row = next(r for r in repository.readings(home_id) if r.id == reading_id)
                load = home.loads.get(row.load or "")
                ops = _follow(repository, home_id, load, home, store) if load else []
                done = apply_ops(repository, home_id, ops)
                label = f"Reading undone: {row.raw}"
                repository.record(
                    home_id, edit_id, label[:200], done.rev, ops, done.inverse, readings=[reading_id], withdraws=True
                )
            state = state_of(repository, home_id)
        return self.planner.answer(state, pair)

    def readings(self, home_id: str, pair: Pair | None) -> list[ReadingView]:
        """Every reading, newest first, with which of them count. Raises NotFound."""
        home = self.planner.open(home_id).home
        store = self._store(home_id, pair)
        kept = self.planner.kept_readings(home_id)
        views: list[ReadingView] = []
        for target in dict.fromkeys(Target(r.load, r.circuit) for r in kept):
            if (target.load is None or target.load in home.loads) and (
                target.circuit is None or target.circuit in home.circuits
            ):
                views += _views(home, target, [r for r in kept if Target(r.load, r.circuit) == target], store)
        return sorted(views, key=lambda v: v.at, reverse=True)

    def _station(self, home_id: str, pair: Pair | None) -> Part | None:
        """The judged plan at its first station, all units and modules in; None where it has none."""
        documents = self.planner.open(home_id)
        plan = documents.plans.get(pair[0]) if pair else None
        if plan is None or plan.source is None:
            return None
        return resolve(documents.home, plan, documents.catalogue).part(None)

    def _store(self, home_id: str, pair: Pair | None) -> Store | None:
        """The whole store of the judged plan, made as the run makes it, against which a gauge is read."""
        documents = self.planner.open(home_id)
        now, outage = self._station(home_id, pair), documents.outages.get(pair[1]) if pair else None
        if now is None or outage is None:
            return None
        return store_of(now.plan, now.source, now.station, outage)


def _home(repository: Repository, home_id: str) -> Home:
    repository.rev(home_id)
    return HOME.read(next(d.body for d in repository.documents(home_id) if d.kind == "home"))


def _fitting(u: ReadText, load: Load | None, now: Part | None, text: str, target: Target) -> ReadText:
    """A reading as it can be used for what it is of. Raises NotUnderstood where it cannot, with what to say instead."""
    if u.kind == "gauge" and load is None and target.circuit is None:
        raise NotUnderstood("reading", text, "a gauge shows the use of one load; choose the load that ran")
    if u.kind == "gauge" and now is None:
        raise NotUnderstood("reading", text, "a gauge reading needs the station's size; choose the station first")
    notes = list(u.notes)
    if u.load_percent is not None:
        if now is None or now.station is None:
            raise NotUnderstood("reading", text, "a share of the rating needs a station; choose the station first")
        watts = u.load_percent / 100 * now.load_full_w
        notes.append(
            f"{u.load_percent:g}% of {now.station.name}'s {now.load_full_w:,.0f} W; if its display means "
            "VA, the power factor lowers the watts."
        )
        u = replace(u, run_w=watts, echo=f"{u.echo[:-1]}: {watts:,.0f} W.")
    if load is None:
        return replace(u, notes=tuple(notes))
    cycles = load.use.kind in ("cycling", "weather")
    if u.hours_a_day is not None and cycles and u.plugged is None:
        w = next((m for m in (" W", " kW", "W", "kW") if m in text), "")
        running = re.sub(r"(\d\s*k?W(?:atts?)?)\b", r"\1 running", text, count=1, flags=re.IGNORECASE) if w else ""
        rule = f"{load.name} cycles on and off by itself. Does it run that long, or is it plugged in that long"
        raise NotUnderstood("reading", text, rule, running, running.replace(" running", " plugged in")).told(comes_to)
    if u.va is not None and u.run_w is None:
        how = "as entered" if load.power_factor is not None else "typical for its kind (planning default)"
        notes.append(
            f"{u.va:,.0f} VA × {load.pf:g} is {u.va * load.pf:,.0f} W: the power factor is {load.pf:g}, {how}."
        )
    partly = load.use.kind in ("windows", "tasks", "daily")
    if u.all and partly and (u.hours or 0) < 24:
        notes.append("A sample under a day counts as watts while it is in use. Did it run the whole time?")
    if u.average_w is not None and not u.all and u.kind != "log" and load.count > 1 and not u.counted:
        notes.append(f"This counts for each of the {load.count}.")
    return replace(u, notes=tuple(notes))


def _then(load: Load, changed: dict[str, object]) -> Load:
    """The load with these figures."""
    return replace(load, **changed)  # type: ignore[arg-type]


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
        raise NotUnderstood("reading", text, f"“{name}” could be {which}; type more of the name")
    raise NotUnderstood("reading", text, f"no load is called “{name}”; choose one, or start with its name")


def _exists(home: Home, target: Target) -> None:
    if target.load is not None and target.load not in home.loads:
        raise NotFound("load", target.load, "this home doesn't have that load")
    if target.circuit is not None and target.circuit not in home.circuits:
        raise NotFound("circuit", target.circuit, "this home doesn't have that circuit")


def _target(home: Home, asked: Target, u: ReadText, text: str, *, must: bool) -> Target | None:
    """What a text is about: what is picked, else the load it names, else with “bill” or “house” the whole home."""
    if asked != Target() or asked.home:
        _exists(home, asked)
        return asked
    if u.name.lower() in WHOLE_HOME:
        return Target(home=True)
    if u.name:
        return Target(find_load(home, u.name, text).id)
    if must:
        raise NotUnderstood("reading", text, "start with the load's name")
    return None


def _all_gives(load: Load | None, kept: Sequence[Reading], store: Store | None) -> list[ReadingEstimate]:
    found: list[ReadingEstimate] = []
    for reading in kept:
        if not reading.withdrawn:
            try:
                found += gives(load, reading, as_read(reading), store)
            except NotUnderstood:  # told as its problem in the list; it gives nothing here
                continue
    return found


def _setting_of(load: Load, reading: Reading) -> str:
    """The id of the load's setting that a reading was taken at; empty for the load's own figures."""
    said = reading.setting.strip().lower()
    return next((k for k, s in load.settings.items() if said and said in (k.lower(), s.name.lower())), "")


def _follow(repository: Repository, home_id: str, load: Load, home: Home, store: Store | None) -> list[Json]:
    """The operations that set a load's figures, and those of its settings, by its readings."""
    kept = [from_row(row) for row in repository.readings(home_id) if row.load == load.id]
    raw = HOME.write(home)["loads"][load.id]
    ops: list[Json] = []
    for setting in ["", *load.settings]:
        at_it = [r for r in kept if _setting_of(load, r) == setting]
        shown = replace(load, **figures_of(load.settings[setting])) if setting else load
        changed = figures(shown, winners(_all_gives(shown, at_it, store)))
        before = raw["settings"][setting] if setting else raw
        path = f"/loads/{escape(load.id)}" + (f"/settings/{escape(setting)}" if setting else "")
        ops += [
            {"doc": HOME_DOC, "op": "replace", "path": f"{path}/{name}", "value": value}
            for name, value in ((n, USE.write(v) if isinstance(v, Use) else v) for n, v in changed.items())
            if name in before and before[name] != value
        ]
    return ops


def _views(home: Home, target: Target, kept: Sequence[Reading], store: Store | None) -> list[ReadingView]:
    load = home.loads.get(target.load or "")
    groups: dict[str, list[Reading]] = {}
    for r in kept:
        groups.setdefault(_setting_of(load, r) if load else "", []).append(r)
    best = {
        (setting, quantity): g.reading.id
        for setting, of_it in groups.items()
        for quantity, g in winners(_all_gives(load, of_it, store)).items()
    }
    views = []
    for r in kept:
        kind: ReadingKind | None = None
        hours, echo, problem, notes, found = 0.0, "", "", [], []
        setting = _setting_of(load, r) if load else ""
        try:
            u = as_read(r)
            kind, hours, echo, notes = u.kind, u.hours or 0.0, u.echo, list(u.notes)
            if u.kind == "gauge" and store is None:
                raise NotUnderstood(
                    "reading", r.raw, "a gauge reading needs the station's size; choose the station first"
                )
            found = gives(load, r, u, store)
        except NotUnderstood as error:
            problem = error.sentence
        given = [
            GivesView(
                quantity=g.quantity,
                value=g.value,
                sigma=g.sigma,
                wins=not r.withdrawn and (load is None or best.get((setting, g.quantity)) == r.id),
            )
            for g in found
        ]
        views.append(
            ReadingView(
                id=r.id,
                load=r.load,
                circuit=r.circuit,
                of=target.name(home),
                at=r.at,
                raw=r.raw,
                side=r.side,
                setting=r.setting,
                season=r.season,
                withdrawn=r.withdrawn,
                kind=kind,
                hours=hours,
                echo=echo,
                notes=notes,
                gives=given,
                problem=problem,
            )
        )
    return views
