"""Meter data as people have it: a CSV of any sane shape, or interval data in Green Button (ESPI) XML."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.measuring.series import Series

MAX_BYTES = 150_000_000
MAX_ROWS = 2_000_000
Progress = Callable[[float], None]
Decimal = Literal["guess", "comma", "point"]  # what parts the decimals of a CSV's numbers


@dataclass(frozen=True, slots=True)
class Channel:
    """One column or meter reading of a file. series: as measured, without the empty cells."""

    name: str
    series: Series


@dataclass(frozen=True, slots=True)
class MeterLog:
    """A file read. notes: what was guessed, in sentences a person can check; zone: of its clock."""

    channels: list[Channel]
    rows: int
    notes: list[str]
    zone: str


def read(path: Path, name: str, zone: str, progress: Progress = lambda _: None, decimal: Decimal = "guess") -> MeterLog:
    """Read a log. zone: of its clock where the times carry none; decimal: the mark of a CSV's numbers; progress: told
    the part done, 0 to 1; what it raises
    stops the reading. Raises UnreadableFile or InvalidValue with row and column; nothing is half read."""
    from imbuto.formats import csvlog, greenbutton

    size = path.stat().st_size
    if size > MAX_BYTES:
        raise UnreadableFile(name, size, f"it is {size / 1e6:.0f} MB, and a log has at most {MAX_BYTES / 1e6:.0f} MB")
    with path.open("rb") as file:
        head = file.read(4096)
    if not head.strip():
        raise UnreadableFile(name, 0, "it is empty")
    # A binary has zero bytes; so has UTF-16, which would need to be saved anew.
    if b"\x00" in head:
        raise UnreadableFile(name, None, "it is not text, whatever its name says; save it as a CSV in UTF-8")
    start = head.removeprefix(b"\xef\xbb\xbf").lstrip()
    if start.startswith(b"<"):
        return greenbutton.read(path, name, zone, progress)
    return csvlog.read(path, name, zone, progress, decimal)


def hours_of_day(seconds: FloatArray, zone: str) -> FloatArray:
    """Local hour of the day, 0 to 24, of moments in UTC seconds; shape (n,)."""
    import numpy as np
    import polars as pl

    moments = pl.from_epoch(pl.Series(np.asarray(seconds, dtype=np.int64)), "s").dt.replace_time_zone("UTC")
    local = moments.dt.convert_time_zone(zone)
    return (local.dt.hour().cast(pl.Float64) + local.dt.minute() / 60).to_numpy()
