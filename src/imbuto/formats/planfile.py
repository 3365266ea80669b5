"""The plan file: one JSON document with a home, its plans and outages, and the catalogue entries they use."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from annotated_types import Interval, Len
from pydantic import TypeAdapter

from imbuto.core.basics.errors import InvalidValue, UnknownReference, UnreadableFile
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.home.home import Home, check_home
from imbuto.core.measuring.readings import Reading
from imbuto.core.plan.outage import Outage, check_outage
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.plan_upgrades import from_first
from imbuto.formats import strict_json
from imbuto.formats.documents import CATALOGUE, HOME, OUTAGE, PLAN, READING, Json

FORMAT = "imbuto"
VERSION = 2
ADDRESSABLE = re.compile(r"[A-Za-z0-9_-][A-Za-z0-9._-]*")
MOST_READINGS = 20_000
MOMENT = r"^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d{1,6})?)?(Z|[+-]\d\d:\d\d)?$"


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanFile:
    """What a plan file holds."""

    format: Literal["imbuto"]
    version: Annotated[int, Interval(ge=1, le=VERSION)]
    home: Home
    plans: Annotated[tuple[Plan, ...], Len(0, 200)] = ()
    outages: Annotated[tuple[Outage, ...], Len(0, 200)] = ()
    readings: Annotated[tuple[Reading, ...], Len(0, MOST_READINGS)] = ()
    catalogue: Catalogue = field(default_factory=Catalogue)


@dataclass(frozen=True, slots=True)
class Bundle:
    """A plan file read and checked: dataclasses, and the documents with their unknown keys."""

    home: Home
    plans: list[Plan]
    outages: list[Outage]
    catalogue: Catalogue
    raw_home: Json
    raw_plans: list[Json]
    raw_outages: list[Json]
    readings: list[Reading]


def with_moments(part: Any) -> Any:
    """A schema in which moments are what they are here: ISO 8601, those of the wall clock without an offset, which
    the format ``date-time`` would demand."""
    if isinstance(part, list):
        return [with_moments(p) for p in part]
    if not isinstance(part, dict):
        return part
    if part.get("format") == "date-time":
        return {k: v for k, v in part.items() if k != "format"} | {"pattern": MOMENT}
    return {k: with_moments(v) for k, v in part.items()}


def schema() -> Json:
    """The published JSON Schema of the plan file."""
    made = with_moments(TypeAdapter(PlanFile).json_schema(mode="validation"))
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **made, "title": "Imbuto plan file"}


def read(data: bytes | str, name: str) -> Bundle:
    """Read and check a plan file. Raises UnreadableFile, InvalidValue or UnknownReference; nothing is half taken."""
    raw = strict_json.parse(data, name)
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise UnreadableFile(name, None, f"it is JSON, but not a plan file: its “format” should be “{FORMAT}”")
    version = raw.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise UnreadableFile(name, version, "it doesn't name its format version")
    if version > VERSION:
        raise UnreadableFile(
            name, version, f"it is version {version}, and this version of Imbuto reads up to {VERSION}; update it first"
        )
    if version == 1 and isinstance(raw.get("plans"), list):
        raw["plans"] = [from_first(p) if isinstance(p, dict) else p for p in raw["plans"]]
    if not isinstance(raw.get("home"), dict):
        raise InvalidValue("home", raw.get("home"), "a plan file has one home")
    entries = CATALOGUE.read(raw.get("catalogue") or {}, "catalogue")
    HOME.read(raw["home"], "home")  # so that its own catalogue is known to be one
    raw["home"] = _keep_entries(raw["home"], raw.get("catalogue") or {}, entries)
    home, raw_home = HOME.complete(raw["home"], "home")
    check_home(home)
    catalogue = home.catalogue.over(shipped())
    seen = {"home"}  # how the home itself is called among the documents
    plans, outages = _documents(raw, "plans", PLAN.complete, seen), _documents(raw, "outages", OUTAGE.complete, seen)
    for plan, _ in plans:
        check_plan(plan, home, catalogue)
    for outage, _ in outages:
        check_outage(outage)
    return Bundle(
        home,
        [p for p, _ in plans],
        [o for o, _ in outages],
        catalogue,
        raw_home,
        [r for _, r in plans],
        [r for _, r in outages],
        _readings(raw.get("readings", []), home),
    )


def _keep_entries(raw_home: Json, raw_entries: Json, entries: Catalogue) -> Json:
    """Entries that differ from what ships stay with the home, so that the figures stay the same."""
    own = raw_home.get("catalogue") or {}
    known = CATALOGUE.write(shipped())
    differ = {
        kind: {
            k: entry
            for k, entry in (raw_entries.get(kind) or {}).items()
            if not _ships(entry, read.get(k), known[kind].get(k))
        }
        for kind, read in CATALOGUE.write(entries).items()
    }
    return raw_home | {"catalogue": {kind: differ[kind] | (own.get(kind) or {}) for kind in differ}}


def _ships(raw: Json, read: Json | None, ships: Json | None) -> bool:
    """Whether an entry says nothing that the one that ships does not: a file made before a field existed does not
    state it."""
    return ships is not None and read is not None and all(read[k] == ships[k] for k in read if k in raw)


def _readings(listed: Any, home: Home) -> list[Reading]:
    if not isinstance(listed, list) or len(listed) > MOST_READINGS:
        raise InvalidValue("readings", listed, f"enter a list of at most {MOST_READINGS}")
    found: dict[str, Reading] = {}
    for i, entry in enumerate(listed):
        reading = READING.read(entry, f"readings/{i}")
        if reading.load is not None and reading.load not in home.loads:
            raise UnknownReference(f"readings/{i}, load", reading.load, "this home doesn't have that load")
        if reading.circuit is not None and reading.circuit not in home.circuits:
            raise UnknownReference(f"readings/{i}, circuit", reading.circuit, "this home doesn't have that circuit")
        if not ADDRESSABLE.fullmatch(reading.id):
            raise InvalidValue(
                f"readings/{i}/id", reading.id, "use letters, digits, dots, dashes and underscores in an id"
            )
        if reading.id in found:
            raise InvalidValue(f"readings/{i}/id", reading.id, "use each id once")
        if reading.at.tzinfo is None:
            raise InvalidValue(f"readings/{i}/at", reading.at.isoformat(), "enter the moment with its time zone")
        found[reading.id] = reading
    return list(found.values())


def _documents(raw: Json, key: str, complete: Callable[[Json, str], Any], seen: set[str]) -> list[Any]:
    listed = raw.get(key, [])
    if not isinstance(listed, list) or len(listed) > 200:
        raise InvalidValue(key, listed, "enter a list of at most 200")
    found = []
    for i, entry in enumerate(listed):
        if not isinstance(entry, dict):
            raise InvalidValue(f"{key}/{i}", entry, "enter an object")
        document, completed = complete(entry, f"{key}/{i}")
        if document.id in seen:
            raise InvalidValue(f"{key}/{i}/id", document.id, "use each id once, and “home” is taken")
        seen.add(document.id)
        found.append((document, completed))
    return found


def write(
    raw_home: Json,
    raw_plans: list[Json],
    raw_outages: list[Json],
    catalogue: Catalogue,
    readings: Sequence[Reading] = (),
) -> Json:
    """The plan file of a home's documents, with the catalogue entries its plans use."""
    used_stations = {s["station"] for p in raw_plans for s in p.get("sources", {}).values()}
    used_transfer = {d["equipment"] for p in raw_plans for d in p.get("devices", {}).values()}
    banks = [b for p in raw_plans for b in p.get("banks", {}).values()]
    used_batteries = {x["battery"] for b in banks for x in (b, *b.get("others", ()))}
    used_modules = {s.get("module") for p in raw_plans for s in p.get("sources", {}).values()} - {None}
    used_panels = {a["panel"] for p in raw_plans for a in p.get("arrays", {}).values()}
    used_generators = {p["engine"]["generator"] for p in raw_plans if p.get("engine")}
    entries = Catalogue(
        generators={k: catalogue.generators[k] for k in sorted(used_generators) if k in catalogue.generators},
        stations={k: catalogue.stations[k] for k in sorted(used_stations) if k in catalogue.stations},
        transfer={k: catalogue.transfer[k] for k in sorted(used_transfer) if k in catalogue.transfer},
        modules={k: catalogue.modules[k] for k in sorted(used_modules) if k in catalogue.modules},
        batteries={k: catalogue.batteries[k] for k in sorted(used_batteries) if k in catalogue.batteries},
        panels={k: catalogue.panels[k] for k in sorted(used_panels) if k in catalogue.panels},
    )
    return {
        "format": FORMAT,
        "version": VERSION,
        "home": raw_home,
        "plans": raw_plans,
        "outages": raw_outages,
        "readings": [READING.write(r) for r in readings],
        "catalogue": CATALOGUE.write(entries),
    }


def find(documents: list[Any], ident: str | None, what: str) -> Any:
    """One of the plans or outages by id or name; the first when none is named."""
    if not documents:
        raise InvalidValue(what, None, f"the file has no {what}")
    if ident is None:
        return documents[0]
    for document in documents:
        if ident in (document.id, document.name):
            return document
    names = ", ".join(d.name for d in documents)
    raise InvalidValue(what, ident, f"the file has {names}")
