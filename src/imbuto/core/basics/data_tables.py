"""Reads the data tables that ship with the core into its dataclasses."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from dataclasses import fields
from decimal import Decimal
from importlib import resources
from types import NoneType
from typing import Annotated, Any, TypeVar, get_args, get_origin, get_type_hints

T = TypeVar("T")


def rows(file: str, cls: type[T]) -> list[T]:
    """The rows of a table in ``core/data`` as instances of a flat dataclass. An empty cell is the field's default."""
    kinds = {name: _kind(hint) for name, hint in get_type_hints(cls).items()}
    known = {f.name for f in fields(cls)}  # type: ignore[arg-type]
    result = []
    for raw in _read(file):
        unknown = raw.keys() - known
        if unknown:
            raise ValueError(f"{file}: unknown column {sorted(unknown)}")
        result.append(cls(**{name: _cell(text, kinds[name]) for name, text in raw.items() if text != ""}))
    return result


def _read(file: str) -> Iterator[dict[str, str]]:
    text = resources.files("imbuto.core").joinpath("data", file).read_text(encoding="utf-8")
    return csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))


def _kind(hint: Any) -> Any:
    """The plain type behind Annotated, Optional and Literal."""
    hint = get_args(hint)[0] if get_origin(hint) is Annotated else hint
    inner = [a for a in get_args(hint) if a is not NoneType]
    if inner and all(not isinstance(a, str) for a in inner) and get_origin(hint) is not tuple:
        return _kind(inner[0])
    return hint


def _cell(text: str, kind: Any) -> Any:
    if kind is bool:
        return {"yes": True, "no": False}[text]
    return kind(text) if kind in (int, float, Decimal) else text
