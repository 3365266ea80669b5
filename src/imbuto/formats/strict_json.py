"""JSON without NaN, infinity, or surprises."""

from __future__ import annotations

import json
import math
from typing import Any

from imbuto.core.basics.errors import InvalidValue, UnreadableFile

MAX_BYTES = 20_000_000
MAX_DEPTH = 60
MOST_DIGITS = 30
LEAST = 1e-9  # a number nearer to 0 than this is no measurement, and overflows what divides by it


def parse(data: bytes | str, name: str) -> Any:
    """Parse a document. Raises UnreadableFile when it is too large or not JSON, InvalidValue on a number not finite."""
    if len(data) > MAX_BYTES:
        raise too_large(name, len(data))
    try:
        document = json.loads(data, parse_int=_whole, object_pairs_hook=_once)
    except UnicodeDecodeError:
        raise UnreadableFile(name, None, "the file isn't text, so it can't be a plan file") from None
    except RecursionError:
        raise UnreadableFile(name, None, "it is nested deeper than any plan file") from None
    except _Twice as error:
        raise UnreadableFile(name, None, f"the key “{str(error)[:60]}” is there twice in one place") from None
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise UnreadableFile(name, None, f"it isn't JSON: {error.msg.lower()} at {where}") from None
    check_plain(document)
    return document


class _Twice(ValueError):
    """A key that stands twice in one object: which of them counts is anyone's guess."""


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        keys = [k for k, _ in pairs]
        raise _Twice(next(k for k in keys if keys.count(k) > 1))
    return found


def _whole(digits: str) -> int:
    if len(digits) > MOST_DIGITS:
        raise InvalidValue("a number", f"{digits[:12]}…", f"at most {MOST_DIGITS} digits are read")
    return int(digits)


def _text(value: str, path: str) -> None:
    """Raise InvalidValue on text that no file can hold."""
    if any("\ud800" <= c <= "\udfff" or c == "\x00" for c in value):
        raise InvalidValue(path or "a key", "a broken character", "enter text without broken characters")


def too_large(name: str, size: int) -> UnreadableFile:
    """The error for a file over the ceiling. size: bytes."""
    return UnreadableFile(
        name, size, f"it is {size / 1e6:.0f} MB, and a plan file has at most {MAX_BYTES / 1e6:.0f} MB"
    )


def check_plain(value: Any, path: str = "", depth: int = 0) -> None:
    """Raise InvalidValue on NaN, infinity, numbers too small to mean anything, broken text, or nesting without end."""
    if depth > MAX_DEPTH:
        raise InvalidValue(path[:60], "a nested value", f"nest at most {MAX_DEPTH} deep")
    if isinstance(value, float) and not math.isfinite(value):
        raise InvalidValue(path, str(value), "enter a finite number")
    if isinstance(value, float) and 0 < abs(value) < LEAST:
        raise InvalidValue(path, f"{value:g}", "enter 0, or a figure that something can measure")
    if isinstance(value, str):
        _text(value, path)
    if isinstance(value, dict):
        for key, inner in value.items():
            _text(key, path)
            check_plain(inner, f"{path}/{key}" if path else str(key), depth + 1)
    elif isinstance(value, list):
        for i, inner in enumerate(value):
            check_plain(inner, f"{path}/{i}", depth + 1)


def dump(document: Any) -> str:
    """Compact JSON; raises ValueError on NaN or infinity."""
    return json.dumps(document, ensure_ascii=False, allow_nan=False, separators=(",", ":"))
