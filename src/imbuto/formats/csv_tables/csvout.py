"""Tables out as CSV, safe to open in a spreadsheet."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence
from datetime import datetime
from zoneinfo import ZoneInfo

from imbuto.core.measuring.metered_series import Series

Cell = str | float | int | bool | datetime | None
DANGEROUS = ("=", "+", "-", "@", "\t", "\r")


def safe(cell: Cell) -> str:
    """A cell as text. One that a spreadsheet would run as a formula gets an apostrophe before it; numbers never do."""
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, datetime):
        return cell.isoformat()
    if isinstance(cell, (int, float)):
        return repr(cell)
    # Some spreadsheets pass over blanks before they look for a formula.
    return f"'{cell}" if cell.startswith(DANGEROUS) or cell.lstrip().startswith(DANGEROUS) else cell


def table(head: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    """A CSV with commas, a heading, and lines ended as the format has it."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow([safe(h) for h in head])
    writer.writerows([safe(cell) for cell in row] for row in rows)
    return out.getvalue()


def series_csv(channel: str, series: Series, zone: str) -> str:
    """A series with each time and value as it came; times carry their offset from UTC."""
    clock = ZoneInfo(zone)
    unit = f"{channel} [{series.unit}{', counter' if series.cumulative else ''}]"
    rows = zip(series.seconds.tolist(), series.values.tolist(), strict=True)
    return table(["time", unit], ((datetime.fromtimestamp(at, clock), value) for at, value in rows))


def file_name(text: str) -> str:
    """A file name made of a title."""
    return re.sub(r"[^A-Za-z0-9]+", "-", text).strip("-").lower() or "table"
