"""Documents between JSON and the core's dataclasses: one model for API, plan file and schema."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator
from typing import Any, Generic, TypeVar

from pydantic import TypeAdapter, ValidationError
from pydantic_core import ErrorDetails

from imbuto.core.basics.cache import ContentCache
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.moments import rule_of
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.home.alert import Alert
from imbuto.core.home.home import Home
from imbuto.core.home.live_outage import GaugeNote, Live, SavingStep
from imbuto.core.home.loads import TriedStart, Use
from imbuto.core.home.logbook_entries import Entry
from imbuto.core.home.tariff import Tariff
from imbuto.core.measuring.readings import Reading
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.formats import strict_json

T = TypeVar("T")
MOST_KNOWN = 24  # documents of a kind
MOST_FOREIGN = 100_000  # characters of JSON: what a document holds that nothing here reads
Json = dict[str, Any]

# How a field is called in a sentence, and its unit.
WORDS = {
    "average_w": ("average watts", "W"),
    "run_w": ("running watts", "W"),
    "rest_w": ("resting watts", "W"),
    "start_va": ("starting VA", "VA"),
    "power_factor": ("power factor", ""),
    "breaker_a": ("breaker", "A"),
    "volts": ("volts", "V"),
    "hours": ("length", "h"),
    "goal_hours": ("goal", "h"),
    "start_charge": ("start charge", ""),
    "slots": ("slots", ""),
    "floor": ("floor", ""),
    "modules": ("modules", ""),
    "minutes": ("minutes", "min"),
    "contracted_w": ("contracted power", "W"),
    "main_a": ("main breaker", "A"),
    "indoors_c": ("indoors", "°C"),
    "garage_c": ("garage", "°C"),
    "outdoors_c": ("outdoors", "°C"),
    "time_zone": ("time zone", ""),
}


UNSEEN = ("Cc", "Cs", "Zl", "Zp")  # controls, halves of characters, and separators of lines


def _names(raw: Any, of: str = "the document") -> Iterator[tuple[str, str]]:
    """Every name in a document, with the id of what it names."""
    if isinstance(raw, dict):
        own = raw.get("id")
        here = own if isinstance(own, str) else of
        if isinstance(said := raw.get("name"), str):
            yield here, said
        for value in raw.values():
            yield from _names(value, here)
    elif isinstance(raw, list):
        for value in raw:
            yield from _names(value, of)


class Adapter(Generic[T]):
    """Reads and writes one kind of document."""

    def __init__(self, kind: type[T]) -> None:
        self.inner: TypeAdapter[T] = TypeAdapter(kind)
        self._known: ContentCache[T] = ContentCache(MOST_KNOWN)

    def read(self, raw: Any, where: str = "") -> T:
        """The dataclass of a JSON document; unknown keys are passed over. Raises InvalidValue."""
        said = strict_json.dump(raw)

        def parse() -> T:
            try:
                return self.inner.validate_json(said, strict=True)
            except ValidationError as error:
                raise _translated(error.errors()[0], raw, where) from None

        return self._known.get(said, parse)

    def write(self, document: T) -> Any:
        """The JSON document of a dataclass, every field present."""
        return self.inner.dump_python(document, mode="json")

    def complete(self, raw: Json, where: str = "") -> tuple[T, Json]:
        """The dataclass, and the document with its defaults written out and its unknown keys kept."""
        document = self.read(raw, where)
        for named, said in _names(raw):
            if any(unicodedata.category(c) in UNSEEN for c in said):
                rule = "a name can't have control characters or line breaks; type it again"
                raise InvalidValue(f"{named}, name", said.encode("unicode_escape").decode(), rule)
        known = self.write(document)
        whole = merge_unknown_keys(raw, known)
        if whole is not raw and foreign(whole, known) > MOST_FOREIGN:
            rule = (
                f"fields that this version of Imbuto doesn't know may have {MOST_FOREIGN:,} characters in all; "
                "they are kept as they are"
            )
            raise InvalidValue(where or "the document", None, rule)
        return document, whole


HOME: Adapter[Home] = Adapter(Home)
PLAN: Adapter[Plan] = Adapter(Plan)
OUTAGE: Adapter[Outage] = Adapter(Outage)
CATALOGUE: Adapter[Catalogue] = Adapter(Catalogue)
READING: Adapter[Reading] = Adapter(Reading)
USE: Adapter[Use] = Adapter(Use)
ALERT: Adapter[Alert] = Adapter(Alert)
LIVE: Adapter[Live] = Adapter(Live)
NOTED: Adapter[GaugeNote] = Adapter(GaugeNote)
TRIED: Adapter[TriedStart] = Adapter(TriedStart)
ENTRY: Adapter[Entry] = Adapter(Entry)
TARIFF: Adapter[Tariff] = Adapter(Tariff)
TAKEN: Adapter[SavingStep] = Adapter(SavingStep)


def merge_unknown_keys(raw: Any, known: Any) -> Any:
    """``known`` with what only ``raw`` has added, at every depth."""
    if raw == known:
        return raw  # in the order it was written in
    if isinstance(raw, dict) and isinstance(known, dict):
        return (
            known
            | {k: v for k, v in raw.items() if k not in known}
            | {k: merge_unknown_keys(raw[k], known[k]) for k in known if k in raw}
        )
    if isinstance(raw, list) and isinstance(known, list) and len(raw) == len(known):
        return [merge_unknown_keys(r, k) for r, k in zip(raw, known, strict=True)]
    return known


def foreign(whole: Any, known: Any) -> int:
    """Characters of JSON of what only ``whole`` has, at every depth."""
    if isinstance(whole, dict) and isinstance(known, dict):
        return sum(foreign(v, known[k]) if k in known else len(k) + len(strict_json.dump(v)) for k, v in whole.items())
    if isinstance(whole, list) and isinstance(known, list) and len(whole) == len(known):
        return sum(foreign(w, k) for w, k in zip(whole, known, strict=True))
    return 0


def _translated(detail: ErrorDetails, raw: Any, where: str) -> InvalidValue:
    loc = [str(part) for part in detail["loc"]]
    field, unit = _field(loc, raw, where)
    value = "nothing" if detail["type"] == "missing" else detail["input"]
    value = "a group of values" if isinstance(value, dict) else "a list" if isinstance(value, list) else value
    return InvalidValue(field, value, _rule(detail, unit))


def _field(loc: list[str], raw: Any, where: str) -> tuple[str, str]:
    """A path as a person reads it: names instead of ids, words instead of field names."""
    parts = [where] if where else []
    unit = ""
    for key in loc:
        raw = raw.get(key) if isinstance(raw, dict) else None
        if isinstance(raw, dict) and isinstance(raw.get("name"), str) and raw["name"]:
            parts = [raw["name"]]
        else:
            word, unit = WORDS.get(key, (key, ""))
            parts.append(word)
    return ", ".join(p for p in parts if p not in ("loads", "circuits", "feeds", "function-wrap")), unit


def _rule(detail: ErrorDetails, unit: str) -> str:
    ctx = detail.get("ctx", {})
    tail = f" {unit}" if unit else ""
    if detail["type"] == "predicate_failed":
        return rule_of(detail["msg"]) or "this can't be right"
    template = RULES.get(detail["type"])
    if template is None:
        return detail["msg"][:1].lower() + detail["msg"][1:]
    return template.format(tail=tail, **ctx)


RULES = {
    "greater_than_equal": "enter at least {ge:,g}{tail}",
    "greater_than": "enter more than {gt:,g}{tail}",
    "less_than_equal": "enter at most {le:,g}{tail}",
    "missing": "enter a value",
    "float_type": "enter a number",
    "int_type": "enter a whole number",
    "string_type": "enter text",
    "bool_type": "enter true or false",
    "literal_error": "choose {expected}",
    "too_short": "enter at least {min_length} entries",
    "too_long": "enter at most {max_length} entries",
    "string_too_short": "enter some text",
    "string_too_long": "enter at most {max_length} characters",
}
