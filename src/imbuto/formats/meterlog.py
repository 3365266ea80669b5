"""Meter logs as CSV of any sane shape: delimiter, decimal mark, date order, units and counters guessed and told."""

from __future__ import annotations

import io
import re
from dataclasses import dataclass
from datetime import datetime
from typing import Literal
from zoneinfo import ZoneInfo

import numpy as np
import polars as pl

from imbuto.core.clock import FloatArray
from imbuto.core.errors import InvalidValue, UnreadableFile

MAX_BYTES = 40_000_000
Unit = Literal["W", "kW", "Wh", "kWh"]
TO_W: dict[Unit, float] = {"W": 1.0, "kW": 1000.0, "Wh": 1.0, "kWh": 1000.0}
DATE = re.compile(r"^\s*(\d{1,4})[-/.](\d{1,2})[-/.](\d{1,4})")
FORMATS_DATE = {"year": ("%Y-%m-%d",), "day": ("%d-%m-%Y", "%d-%m-%y"), "month": ("%m-%d-%Y", "%m-%d-%y")}
FORMATS_TIME = ("%H:%M:%S", "%H:%M", "%I:%M:%S %p", "%I:%M %p")
EMPTY = ("", "-", "na", "n/a", "nan", "null", "none")


@dataclass(frozen=True, slots=True)
class Channel:
    """One column of watts. seconds: UTC since the epoch, ascending; watts: mean over each interval, shape (n,)."""

    name: str
    unit: Unit
    cumulative: bool
    seconds: FloatArray
    watts: FloatArray
    hour_of_day: FloatArray


@dataclass(frozen=True, slots=True)
class MeterLog:
    """A file read. notes: what was guessed, in sentences a person can check."""

    channels: list[Channel]
    rows: int
    notes: list[str]


def read(data: bytes, name: str, zone: str) -> MeterLog:
    """Read a CSV log. zone: of its clock where the times carry none. Raises UnreadableFile or InvalidValue with row
    and column; nothing is half read."""
    if len(data) > MAX_BYTES:
        raise UnreadableFile(
            name, len(data), f"it is {len(data) / 1e6:.0f} MB, and a log has at most {MAX_BYTES / 1e6:.0f} MB"
        )
    text = _text(data, name)
    delimiter = _delimiter(text)
    try:
        frame = pl.read_csv(
            io.StringIO(text), separator=delimiter, infer_schema=False, truncate_ragged_lines=True, has_header=True
        )
    except pl.exceptions.PolarsError:
        raise UnreadableFile(name, None, "its rows do not line up as a table") from None
    if frame.height < 2 or frame.width < 2:
        raise UnreadableFile(name, None, "a log needs a column of times, one of values, and at least two rows")
    notes = [f"{frame.height:,} rows; columns split by {'tab' if delimiter == chr(9) else f'“{delimiter}”'}."]
    seconds, used = _times(frame, zone, name, notes)
    _ascending(seconds, name)
    decimal_comma = delimiter != "," and _has_decimal_comma(frame, used)
    if decimal_comma:
        notes.append("Numbers have decimal commas.")
    hour = _hours(seconds, zone)
    channels = [
        _channel(frame[column], column, seconds, hour, decimal_comma, notes)
        for column in frame.columns
        if column not in used and _numeric(frame[column], decimal_comma)
    ]
    if not channels:
        raise UnreadableFile(name, None, "no column holds numbers beside the times")
    return MeterLog(channels, frame.height, notes)


def _text(data: bytes, name: str) -> str:
    if not data.strip():
        raise UnreadableFile(name, 0, "it is empty")
    if b"\x00" in data[:4096]:
        raise UnreadableFile(name, None, "it is not text, whatever its name says")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("latin-1")


def _delimiter(text: str) -> str:
    """The mark that splits the most lines into equally many pieces."""
    lines = [line for line in text.splitlines()[:50] if line.strip()]
    best, score = ",", 0
    for mark in (";", "\t", ",", "|"):
        counts = [line.count(mark) for line in lines]
        common = max(set(counts), key=counts.count)
        if common > 0 and counts.count(common) * (1 if mark != "," else 0.9) > score:
            best, score = mark, counts.count(common)
    return best


def _times(frame: pl.DataFrame, zone: str, name: str, notes: list[str]) -> tuple[FloatArray, set[str]]:
    """Seconds since the epoch from the column or two that hold them."""
    for i, column in enumerate(frame.columns):
        values = frame[column].str.strip_chars()
        first = values.drop_nulls().head(200).to_list()
        if first and all(re.fullmatch(r"\d{10}(\.\d+)?|\d{13}", v) for v in first):
            epoch = values.cast(pl.Float64, strict=False).to_numpy()
            notes.append(f"“{column}” holds seconds since 1970, in UTC.")
            return (epoch / 1000 if epoch[0] > 1e11 else epoch), {column}
        if first and sum(bool(DATE.match(v)) for v in first) >= 0.9 * len(first):
            used = {column}
            joined = values
            if sum(":" in v for v in first) < 0.5 * len(first):
                after = frame.columns[i + 1] if i + 1 < frame.width else ""
                clock = frame[after].str.strip_chars() if after else None
                if clock is not None and all(":" in v for v in clock.drop_nulls().head(50).to_list()):
                    joined, used = values + " " + clock, {column, after}
            return _parse(joined, first, column, zone, name, notes), used
    raise UnreadableFile(name, None, "no column holds times; the first should be a date and time")


def _parse(values: pl.Series, first: list[str], column: str, zone: str, name: str, notes: list[str]) -> FloatArray:
    order = _order(first)
    words = {"year": "year first", "day": "day first", "month": "month first"}
    notes.append(f"“{column}” holds times, {words[order]}, in {zone} where they carry no zone of their own.")
    plain = values.str.replace_all(r"[/.](\d)", "-$1").str.replace("T", " ").str.replace(r"\.\d+", "")
    plain = plain.str.replace(r"^(\d+)-(\d+)-(\d+)", "$1-$2-$3")
    offset = plain.str.extract(r"(Z|[+-]\d\d:?\d\d)$")
    if offset.null_count() == 0 and plain.str.contains(":").all():
        texts = plain.str.replace(r"\s*(Z|[+-]\d\d:?\d\d)$", "")
        naive = _naive(texts, order)
        shift = np.array([_offset_s(o) for o in offset.to_list()])
        seconds = naive.dt.epoch("s").to_numpy().astype(float) - shift
    else:
        naive = _naive(plain, order)
        local = naive.dt.replace_time_zone(zone, ambiguous="earliest", non_existent="null")
        seconds = local.dt.epoch("s").cast(pl.Float64).to_numpy().copy()
        seconds = _through_clock_change(seconds, naive, zone)
    seconds = np.asarray(seconds, dtype=np.float64)
    if np.isnan(seconds).any():
        row = int(np.argmax(np.isnan(seconds)))
        raise InvalidValue(f"{name}, row {row + 2}, column “{column}”", values[row], "a date and time is wanted")
    return seconds


def _order(first: list[str]) -> Literal["year", "day", "month"]:
    parts = [DATE.match(v) for v in first]
    found = [(int(m[1]), int(m[2])) for m in parts if m]
    if not found:
        return "year"
    if any(a > 31 for a, _ in found):
        return "year"
    if any(b > 12 for _, b in found):
        return "month"
    if any(a > 12 for a, _ in found) or "." in first[0][:6]:
        return "day"
    moves = {a for a, _ in found}, {b for _, b in found}
    return "day" if len(moves[0]) >= len(moves[1]) else "month"


def _naive(texts: pl.Series, order: str) -> pl.Series:
    """The format that reads most; null where it does not fit."""
    best: pl.Series | None = None
    for date in FORMATS_DATE[order]:
        for clock in (*FORMATS_TIME, ""):
            read_ = texts.str.to_datetime(f"{date} {clock}".strip(), strict=False, time_unit="ms")
            if best is None or read_.null_count() < best.null_count():
                best = read_
            if best.null_count() == 0:
                return best
    assert best is not None
    return best


def _offset_s(text: str) -> float:
    if text == "Z":
        return 0.0
    sign = -1 if text[0] == "-" else 1
    digits = text[1:].replace(":", "")
    return sign * (int(digits[:2]) * 3600 + int(digits[2:]) * 60)


def _through_clock_change(seconds: FloatArray, naive: pl.Series, zone: str) -> FloatArray:
    """When clocks go back an hour comes twice: in its second pass a row is an hour later than its reading says."""
    twice = naive.dt.replace_time_zone(zone, ambiguous="null", non_existent="null").is_null().to_numpy()
    second_pass = False
    for i in np.flatnonzero(twice):
        second_pass = bool((second_pass and twice[i - 1]) or (i > 0 and seconds[i] < seconds[i - 1]))
        if second_pass:
            seconds[i] += 3600
    return seconds


def _ascending(seconds: FloatArray, name: str) -> None:
    steps = np.diff(seconds)
    if (steps <= 0).any():
        row = int(np.argmax(steps <= 0)) + 1
        moment = datetime.fromtimestamp(seconds[row], ZoneInfo("UTC")).isoformat()
        what = "stands twice" if steps[row - 1] == 0 else "goes back in time"
        raise InvalidValue(f"{name}, row {row + 2}", moment, f"the time {what}; each row comes after the one before it")


def _hours(seconds: FloatArray, zone: str) -> FloatArray:
    moments = (
        pl.from_epoch(pl.Series(seconds.astype("int64")), "s").dt.replace_time_zone("UTC").dt.convert_time_zone(zone)
    )
    return (moments.dt.hour() + moments.dt.minute() / 60).to_numpy().astype(float)


def _has_decimal_comma(frame: pl.DataFrame, used: set[str]) -> bool:
    sample = [v for c in frame.columns if c not in used for v in frame[c].drop_nulls().head(50).to_list()]
    return any(re.fullmatch(r"\s*-?\d+,\d+\s*", v) for v in sample)


def _plain(values: pl.Series, decimal_comma: bool) -> pl.Series:
    plain = values.str.strip_chars()
    plain = plain.set(plain.str.to_lowercase().is_in(list(EMPTY)).fill_null(True), None)
    return plain.str.replace_all(r"\.", "").str.replace(",", ".") if decimal_comma else plain.str.replace_all(",", "")


def _numeric(values: pl.Series, decimal_comma: bool) -> bool:
    plain = _plain(values, decimal_comma).drop_nulls()
    return plain.len() > 0 and plain.head(200).cast(pl.Float64, strict=False).null_count() == 0


def _channel(
    values: pl.Series, column: str, seconds: FloatArray, hour: FloatArray, decimal_comma: bool, notes: list[str]
) -> Channel:
    plain = _plain(values, decimal_comma)
    numbers = plain.cast(pl.Float64, strict=False)
    wrong = (numbers.is_null() & plain.is_not_null()).to_numpy()
    if wrong.any():
        row = int(np.argmax(wrong))
        raise InvalidValue(f"row {row + 2}, column “{column}”", values[row], "a number is wanted")
    known = numbers.is_not_null().to_numpy() & np.isfinite(numbers.fill_null(0).to_numpy())
    found, at, hours = numbers.to_numpy()[known].astype(float), seconds[known], hour[known]
    unit = _unit(column, found)
    cumulative = unit in ("Wh", "kWh") and _counts_up(found)
    holes = int((~known).sum())
    kind = f"a counter in {unit}" if cumulative else f"{unit} in each interval" if unit.endswith("h") else f"in {unit}"
    notes.append(f"“{column}” is {kind}{f', {holes:,} empty cells left out' if holes else ''}.")
    if cumulative:
        at, found, hours = _from_counter(at, found, hours, column, notes)
    elif unit.endswith("h"):
        step = float(np.median(np.diff(at))) if len(at) > 1 else 3600.0
        found = found / (step / 3600)
    watts = found * TO_W[unit]
    if (watts < 0).any():
        row = int(np.argmax(watts < 0))
        rule = "a load draws at least 0; a channel that feeds in is not a load's"
        raise InvalidValue(f"row {row + 2}, column “{column}”", float(found[row]), rule)
    return Channel(column, unit, cumulative, at, watts, hours)


def _unit(column: str, values: FloatArray) -> Unit:
    named = re.search(
        r"kwh|kilowatt.?hours?|\bwh\b|watt.?hours?|\bkw\b|kilowatts?|\bw\b|watts?", column.lower().replace("_", " ")
    )
    if named:
        word = named[0]
        if "kwh" in word or ("kilo" in word and "hour" in word):
            return "kWh"
        if word == "wh" or "hour" in word:
            return "Wh"
        return "kW" if word.startswith("k") else "W"
    if len(values) and _counts_up(values):
        return "kWh"
    return "W" if len(values) == 0 or float(np.median(values)) > 3 or float(values.max()) > 30 else "kW"


def _counts_up(values: FloatArray) -> bool:
    """A counter never falls, but for a rare reset, and ends far above what one step adds."""
    if len(values) < 3:
        return False
    steps = np.diff(values)
    falls = int((steps < 0).sum())
    return falls <= max(1, len(steps) // 500) and float(values.max() - values.min()) > 3 * float(
        np.median(np.abs(steps)) + 1e-9
    )


def _from_counter(
    at: FloatArray, counted: FloatArray, hours: FloatArray, column: str, notes: list[str]
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Means over intervals from a counter; the interval of a reset is left out and told."""
    steps, held = np.diff(counted), np.diff(at)
    resets = steps < 0
    if resets.any():
        notes.append(f"“{column}” was reset {int(resets.sum())} times; those intervals are left out.")
    keep = ~resets
    return at[:-1][keep], (steps / (held / 3600))[keep], hours[:-1][keep]
