"""What a message of an instrument says: a plain number, or numbers anywhere in JSON, each with its path."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from imbuto.core.measuring.minute_log import Meaning

MOST_BYTES = 64_000  # of one message; an instrument's has some hundred
MOST_VALUES = 100
DEEPEST = 8
NUMBER = re.compile(r"\s*([-+]?\d+(?:\.\d+)?(?:[eE][-+]?\d{1,3})?)\s*(kWh|Wh|kW|W|V|A|%)?\s*", re.ASCII)
# By name; the first that fits.
NAMES: tuple[tuple[re.Pattern[str], Meaning], ...] = (
    (re.compile(r"soc|state.?of.?charge|charge.?level|battery.?(?:level|percent)|percent", re.IGNORECASE), "%"),
    (re.compile(r"energy|kwh|(?<![a-z])wh(?![a-z])|total|counter|consum", re.IGNORECASE), "Wh"),
    (re.compile(r"power|watt|load(?![a-z])|(?<![a-z])w(?![a-z])|apower", re.IGNORECASE), "W"),
    (re.compile(r"volt|(?<![a-z])v(?![a-z])", re.IGNORECASE), "V"),
    (re.compile(r"current|amp|(?<![a-z])a(?![a-z])", re.IGNORECASE), "A"),
)


@dataclass(frozen=True, slots=True)
class Leaf:
    """A number in a message.

    path: where in the JSON, such as ``apower`` or ``phases/0/voltage``; empty for a plain number
    value: with k taken out
    unit: as written with it; empty where none is
    kilo: whether its unit or its name says thousands
    """

    path: str
    value: float
    unit: str = ""
    kilo: bool = False


def leaves(payload: bytes) -> list[Leaf]:
    """The numbers in a message, none where it says none: text, a picture, or more than an instrument would send."""
    if len(payload) > MOST_BYTES:
        return []
    try:
        text = payload.decode("utf-8")
    except UnicodeDecodeError:
        return []
    plain = _number("", text)
    if plain is not None:
        return [plain]
    try:
        found = json.loads(text, parse_constant=lambda _: None)
    except (ValueError, RecursionError):
        return []
    return list(_limited(_walk(found, "", 0)))


def _limited(all_: Iterator[Leaf]) -> Iterator[Leaf]:
    for n, leaf in enumerate(all_):
        if n >= MOST_VALUES:
            return
        yield leaf


def _walk(value: Any, path: str, depth: int) -> Iterator[Leaf]:
    if depth > DEEPEST or isinstance(value, bool) or value is None:
        return
    if isinstance(value, int | float):
        leaf = _finite(path, value)
        if leaf:
            yield leaf
    elif isinstance(value, str):
        leaf = _number(path, value)
        if leaf:
            yield leaf
    elif isinstance(value, dict | list):
        each = value.items() if isinstance(value, dict) else enumerate(value)
        for key, inner in each:
            yield from _walk(inner, f"{path}/{key}" if path else str(key), depth + 1)


def _finite(path: str, value: float) -> Leaf | None:
    try:
        number = float(value)
    except OverflowError:
        return None
    return _leaf(path, number, "", kilo=bool(re.search(r"kwh|(?<![a-z])kw(?![a-z])", path, re.IGNORECASE)))


def _leaf(path: str, number: float, unit: str, *, kilo: bool) -> Leaf | None:
    value = 1000 * number if kilo else number
    return Leaf(path, value, unit, kilo) if math.isfinite(value) else None


def _number(path: str, text: str) -> Leaf | None:
    m = NUMBER.fullmatch(text)
    if m is None or len(text) > 40:
        return None
    unit = m[2] or ""
    if unit:
        return _leaf(path, float(m[1]), unit.removeprefix("k"), kilo=unit.startswith("k"))
    return _finite(path, float(m[1]))


def guessed(topic: str, leaf: Leaf) -> Meaning | None:
    """What a number most likely is: by its unit, else its name, never by its size alone; None where nothing tells."""
    if leaf.unit:
        return leaf.unit  # type: ignore[return-value]
    for words in (leaf.path.rsplit("/", 1)[-1], leaf.path, topic):
        for name, meaning in NAMES:
            if words and name.search(words):
                return None if meaning == "%" and not 0 <= leaf.value <= 100 else meaning
    return None
