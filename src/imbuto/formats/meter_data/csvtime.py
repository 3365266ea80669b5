"""The times of a CSV log: which columns hold them, in which order and zone, and what they are in UTC."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Literal

import numpy as np
import polars as pl

from imbuto.core.basics.clock import BoolArray, FloatArray
from imbuto.core.basics.errors import InvalidValue, UnreadableFile
from imbuto.formats.meter_data.channels import no_moment

Order = Literal["year", "day", "month"]
DATE = re.compile(r"^\s*(\d{1,4})([-/.])(\d{1,2})[-/.](\d{1,4})")
ANYWHERE = re.compile(r"(?<![\d.])\d{1,4}([-/.])\d{1,2}\1\d{1,4}(?![\d.])")
HALVES = re.compile(r"\d\s?[ap]m\b", re.IGNORECASE)
EPOCH = re.compile(r"\d{9,10}(\.\d+)?|\d{13}")
OFFSET = r"\s*(Z|UTC|[+-]\d\d:?\d\d)$"
DATES: dict[Order, tuple[str, ...]] = {
    "year": ("%Y{s}%m{s}%d",),
    "day": ("%d{s}%m{s}%Y", "%d{s}%m{s}%y"),
    "month": ("%m{s}%d{s}%Y", "%m{s}%d{s}%y"),
}
CLOCKS = ("%H:%M:%S", "%H:%M", "%H:%M:%S%.f", "%I:%M:%S %p", "%I:%M %p", "")
WORDS: dict[Order, str] = {"year": "year first", "day": "day first", "month": "month first"}


@dataclass(slots=True)
class Clock:
    """Where the times stand and how they are written.

    formats: the best first
    epoch: seconds since 1970 in them, or thousandths
    offset: whether each carries its own zone
    """

    columns: list[str]
    formats: list[str]
    epoch: bool = False
    thousandths: bool = False
    offset: bool = False


@dataclass(frozen=True, slots=True)
class Moments:
    """A block's times in ms: of UTC, or where ``local`` of the wall clock."""

    ms: np.ndarray[tuple[int], np.dtype[np.int64]]
    local: bool


def looks_like_time(cell: str) -> bool:
    """Whether a cell holds a date or seconds since 1970, and not a heading."""
    return bool(DATE.match(cell) or EPOCH.fullmatch(cell.strip()))


def shown(seconds: float) -> str:
    """A moment as it stands in an error."""
    return (
        f"{seconds:g}" if no_moment(np.array([seconds]))[0] else datetime.fromtimestamp(float(seconds), UTC).isoformat()
    )


def find(sample: pl.DataFrame, zone: str, name: str, notes: list[str], last: Sequence[str] = ()) -> Clock:
    """The clock of a file from its first rows; last: its last lines, which tell day from month where the first are of
    one day. Raises UnreadableFile."""
    for i, column in enumerate(sample.columns):
        first = [v for v in sample[column].to_list()[:200] if v]
        if first and all(EPOCH.fullmatch(v) for v in first):
            notes.append(f"“{column}” holds seconds since 1970, in UTC.")
            return Clock([column], [], epoch=True, thousandths=float(first[0]) > 1e11)
        if first and sum(bool(DATE.match(v)) for v in first) >= 0.9 * len(first):
            columns = [column]
            after = sample.columns[i + 1] if i + 1 < sample.width else ""
            if sum(":" in v for v in first) < 0.5 * len(first) and after:
                second = [v for v in sample[after].to_list()[:200] if v]
                if second and all(":" in v for v in second):
                    columns.append(after)
            return _clock(sample, columns, first, zone, notes, _dates_in(last))
    raise UnreadableFile(name, None, "it has no column with times; the first column should be a date and time")


def _dates_in(lines: Sequence[str]) -> list[str]:
    """The first date of each line."""
    return [m[0] for line in lines if (m := ANYWHERE.search(line))]


def _clock(
    sample: pl.DataFrame, columns: list[str], first: list[str], zone: str, notes: list[str], last: list[str]
) -> Clock:
    order, sep = _order([*first, *last]), next(m[2] for m in map(DATE.match, first) if m)
    texts = _joined(sample, columns)
    offset = bool(texts.drop_nulls().head(50).str.contains(OFFSET).all()) and ":" in "".join(texts.drop_nulls()[:1])
    joint = "T" if any(re.match(r"^\S+\dT\d", v) for v in first[:3]) else " "
    formats = [
        f"{date.format(s=sep)}{joint}{clock}".strip() if clock else date.format(s=sep)
        for date in DATES[order]
        for clock in CLOCKS
    ]
    bare = texts.str.replace(OFFSET, "") if offset else texts
    misses = {f: bare.str.to_datetime(f, strict=False, time_unit="ms").null_count() for f in formats}
    where = "with their own zone" if offset else f"in {zone}, as they carry no zone of their own"
    notes.append(f"“{' and '.join(columns)}” holds times, {WORDS[order]}, {where}.")
    return Clock(columns, sorted(formats, key=lambda f: misses[f]), offset=offset)


def _order(first: list[str]) -> Order:
    parts = [DATE.match(v) for v in first]
    found = [(int(m[1]), int(m[3])) for m in parts if m]
    if any(a > 31 for a, _ in found):
        return "year"
    if any(b > 12 for _, b in found):
        return "month"
    if any(a > 12 for a, _ in found) or any(m and m[2] == "." for m in parts):
        return "day"
    moves = {a for a, _ in found}, {b for _, b in found}
    if len(moves[0]) == len(moves[1]) and any(HALVES.search(v) for v in first):
        return "month"  # who writes am and pm writes the month first
    return "day" if len(moves[0]) >= len(moves[1]) else "month"


def _joined(frame: pl.DataFrame, columns: Sequence[str]) -> pl.Series:
    texts = frame[columns[0]]
    if len(columns) > 1:
        texts = texts.str.strip_chars() + " " + frame[columns[1]].str.strip_chars()
    return texts


def parse(frame: pl.DataFrame, clock: Clock, name: str, above: int) -> Moments:
    """A block's moments. above: rows of the file before the block. Raises InvalidValue with the row."""
    texts = _joined(frame, clock.columns)
    if clock.epoch:
        numbers = texts.cast(pl.Float64, strict=False)
        known = numbers.set(
            pl.Series(no_moment(numbers.fill_null(-1).to_numpy() / (1000 if clock.thousandths else 1))), None
        )
        _all_read(known, texts, clock, name, above)
        return Moments(np.round(numbers.to_numpy() * (1 if clock.thousandths else 1000)).astype(np.int64), False)
    if clock.offset:
        offsets = texts.str.extract(OFFSET)
        _all_read(offsets, texts, clock, name, above, "this row has no time zone, and the rows before it do")
        shifts = {o: _offset_ms(o) for o in offsets.unique().to_list()}
        shift = offsets.replace_strict(shifts, return_dtype=pl.Int64).to_numpy()
        naive = _naive(texts.str.replace(OFFSET, ""), clock.formats)
        _all_read(naive, texts, clock, name, above)
        return Moments(naive.dt.epoch("ms").to_numpy() - shift, False)
    naive = _naive(texts, clock.formats)
    zoned = naive.is_null() & texts.str.contains(r":.*" + OFFSET)
    if zoned.any():
        rule = "this row has a time zone, and the rows before it don't"
        _all_read(naive, texts, clock, name, above, rule)
    _all_read(naive, texts, clock, name, above)
    return Moments(naive.dt.epoch("ms").to_numpy(), True)


def _naive(texts: pl.Series, formats: list[str]) -> pl.Series:
    """By the first format; what it leaves by the next."""
    found = texts.str.to_datetime(formats[0], strict=False, time_unit="ms", cache=False)  # hardly a time comes twice
    if found.null_count() == 0:
        return found
    stripped = texts.str.strip_chars()
    for other in formats:
        found = found.fill_null(stripped.str.to_datetime(other, strict=False, time_unit="ms"))
        if found.null_count() == 0:
            break
    return found


def _all_read(found: pl.Series, texts: pl.Series, clock: Clock, name: str, above: int, rule: str = "") -> None:
    if found.null_count() == 0:
        return
    row = int(found.is_null().to_numpy().argmax())
    where = f"{name}, row {above + row + 1}, column “{' and '.join(clock.columns)}”"
    raise InvalidValue(where, texts[row], rule or "enter a date and time")


def _offset_ms(text: str) -> int:
    if text in ("Z", "UTC"):
        return 0
    sign, digits = -1 if text[0] == "-" else 1, text[1:].replace(":", "")
    return sign * (int(digits[:2]) * 3600 + int(digits[2:]) * 60) * 1000


def to_utc(blocks: list[Moments], zone: str, name: str, above: int) -> FloatArray:
    """All moments as UTC seconds; shape (n,). A wall clock is read in ``zone``. Raises InvalidValue with the row."""
    ms = np.concatenate([b.ms for b in blocks])
    if (strange := no_moment(ms / 1000)).any():
        row = int(np.argmax(strange))
        rule = "enter a time between 1970 and 2200"
        raise InvalidValue(f"{name}, row {above + row + 1}", shown(ms[row] / 1000), rule)
    if not blocks[0].local:
        return ms / 1000
    naive = pl.Series(ms).cast(pl.Datetime("ms"))
    certain = naive.dt.replace_time_zone(zone, ambiguous="null", non_existent="null")
    if certain.null_count() == 0:
        return certain.dt.epoch("ms").to_numpy() / 1000
    local = naive.dt.replace_time_zone(zone, ambiguous="earliest", non_existent="null")
    if local.null_count():
        row = int(local.is_null().to_numpy().argmax())
        rule = (
            f"the clocks of {zone} skipped that hour; if the meter's clock never changes, choose standard time or UTC"
        )
        raise InvalidValue(f"{name}, row {above + row + 1}", str(naive[row]), rule)
    return _through_clock_change(local.dt.epoch("ms").to_numpy() / 1000, certain.is_null().to_numpy())


def _through_clock_change(seconds: FloatArray, twice: BoolArray) -> FloatArray:
    """When clocks go back an hour comes twice: in its second pass a row is an hour later than its reading says."""
    shifted = seconds.copy()
    second_pass = False
    for i in np.flatnonzero(twice):
        second_pass = bool((second_pass and twice[i - 1]) or (i > 0 and shifted[i] < shifted[i - 1]))
        if second_pass:
            shifted[i] += 3600
    return shifted
