"""Energy by day as a CSV: a heading with ``date`` and any of the figures of an energy entry, a line for each day."""

from __future__ import annotations

import csv
import io
import math
from datetime import date

from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.outages.promise_and_outcome import KWH

MOST_BYTES, MOST_DAYS, MOST_KWH = 2_000_000, 1_500, 10_000.0


def read(data: bytes, name: str) -> list[tuple[date, dict[str, float]]]:
    """Each day with its kWh, in the file's order. Raises UnreadableFile with the line, for anything that is not
    plainly a figure."""
    if len(data) > MOST_BYTES:
        raise UnreadableFile(name, len(data), f"it is larger than {MOST_BYTES / 1e6:.0f} MB")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise UnreadableFile(name, "", "it isn't UTF-8 text; save it as a CSV with that encoding") from None
    lines = csv.reader(io.StringIO(text), delimiter=";" if text[:400].count(";") > text[:400].count(",") else ",")
    try:
        head = [h.strip().lower() for h in next(lines, [])]
        rows = list(lines)
    except csv.Error as error:
        raise UnreadableFile(name, "", f"the file isn't a CSV: {error}") from None
    known = [h for h in head if h in KWH]
    if "date" not in head or not known or len(set(head)) < len(head):
        raise UnreadableFile(
            name, ", ".join(head)[:80], f"its heading must name date and some of {', '.join(KWH)}, each once"
        )
    if len(rows) > MOST_DAYS:
        raise UnreadableFile(name, len(rows), f"it has more than {MOST_DAYS} days")
    found: dict[date, dict[str, float]] = {}
    for n, row in enumerate(rows, 2):
        if not any(c.strip() for c in row):
            continue
        if len(row) != len(head):
            raise UnreadableFile(f"{name}, line {n}", len(row), f"it has {len(head)} columns in its heading")
        said = dict(zip(head, (c.strip() for c in row), strict=True))
        day = _day(said["date"], f"{name}, line {n}")
        if day in found:
            raise UnreadableFile(f"{name}, line {n}", said["date"], "the file has that day twice")
        found[day] = {h: _kwh(said[h], f"{name}, line {n}, {h}") for h in known if said[h]}
    return list(found.items())


def _day(text: str, where: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise UnreadableFile(where, text[:40], "enter a date such as 2026-11-25") from None


def _kwh(text: str, where: str) -> float:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = math.nan
    if not 0 <= value <= MOST_KWH:
        raise UnreadableFile(where, text[:40], f"enter kWh from 0 to {MOST_KWH:,.0f}")
    return value
