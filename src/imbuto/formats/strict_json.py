"""JSON without NaN, infinity, or surprises."""

from __future__ import annotations

import json
import math
from typing import Any

from imbuto.core.errors import InvalidValue, UnreadableFile

MAX_BYTES = 20_000_000
MAX_DEPTH = 60


def parse(data: bytes | str, name: str) -> Any:
    """Parse a document. Raises UnreadableFile when it is too large or not JSON, InvalidValue on a number not finite."""
    if len(data) > MAX_BYTES:
        raise too_large(name, len(data))
    try:
        document = json.loads(data)
    except UnicodeDecodeError:
        raise UnreadableFile(name, None, "it is not text, so it is no plan file") from None
    except RecursionError:
        raise UnreadableFile(name, None, "it is nested far deeper than any plan file") from None
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise UnreadableFile(name, None, f"it is not JSON: {error.msg.lower()} at {where}") from None
    check_plain(document)
    return document


def too_large(name: str, size: int) -> UnreadableFile:
    """The error for a file over the ceiling. size: bytes."""
    return UnreadableFile(
        name, size, f"it is {size / 1e6:.0f} MB, and a plan file has at most {MAX_BYTES / 1e6:.0f} MB"
    )


def check_plain(value: Any, path: str = "", depth: int = 0) -> None:
    """Raise InvalidValue on NaN, infinity, or nesting without end."""
    if depth > MAX_DEPTH:
        raise InvalidValue(path[:60], "a nested value", f"nest at most {MAX_DEPTH} deep")
    if isinstance(value, float) and not math.isfinite(value):
        raise InvalidValue(path, str(value), "a finite number is wanted")
    if isinstance(value, dict):
        for key, inner in value.items():
            check_plain(inner, f"{path}/{key}" if path else str(key), depth + 1)
    elif isinstance(value, list):
        for i, inner in enumerate(value):
            check_plain(inner, f"{path}/{i}", depth + 1)


def dump(document: Any) -> str:
    """Compact JSON; raises ValueError on NaN or infinity."""
    return json.dumps(document, ensure_ascii=False, allow_nan=False, separators=(",", ":"))
