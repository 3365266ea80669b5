"""CSV logs: delimiter, preamble, decimal mark, date order, units and counters guessed from the first rows and told;
then read in blocks, so that a large file is followed and can be stopped."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
import polars as pl

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.errors import InvalidValue, UnreadableFile
from imbuto.core.measuring.metered_series import Series, Unit, resets, watts
from imbuto.formats.meter_data import csvtime
from imbuto.formats.meter_data.channels import MAX_ROWS, Channel, Decimal, MeterLog, Progress, no_figure
from imbuto.formats.meter_data.csvtime import Clock

BLOCK = 16_000_000  # bytes read at a time
SAMPLE_ROWS = 400
MOST_COLUMNS = 200
MOST_CELLS = 20_000_000  # of figures: 160 MB of them
TAIL = 65_536  # bytes of its end, looked at for dates
MOST_NAMED = 5
TOTAL = r"^(grand )?(sub)?(total|sum|summe|gesamt|totale|somma|average|mean|mittel|media|minimum|maximum)\b"
EMPTY = ["", "-", "na", "NA", "n/a", "N/A", "nan", "NaN", "null", "NULL", "none", "None"]
KNOWN = re.compile(r"kwh|kilowatt.?hours?|\bwh\b|watt.?hours?|\bkw\b|kilowatts?|\bw\b|watts?")


@dataclass(slots=True)
class _Shape:
    """How a file is written. skip: lines before the first row of data; head: number of the first such row, from 1."""

    encoding: str
    delimiter: str
    columns: list[str]
    skip: int
    clock: Clock
    numeric: list[str]
    plain: bool


def read(path: Path, name: str, zone: str, progress: Progress, decimal: Decimal = "guess") -> MeterLog:
    """Read a CSV log; see ``meterlog.read``. decimal: the mark of its numbers, where it is known better than the
    guess."""
    notes: list[str] = []
    shape = _sniff(path, name, zone, notes)
    size = path.stat().st_size
    moments: list[csvtime.Moments] = []
    columns: dict[str, list[tuple[pl.Series, int]]] = {c: [] for c in shape.numeric}
    left_out = _LeftOut()
    rows = done = 0
    for block in _blocks(path, shape):
        done += len(block)
        frame = left_out.taken(_frame(block, shape, name), shape.clock.columns, rows + shape.skip)
        moments.append(csvtime.parse(frame, shape.clock, name, rows + shape.skip))
        for column in shape.numeric:
            columns[column].append((frame[column], rows + shape.skip))
        rows += frame.height
        if rows > MAX_ROWS:
            raise UnreadableFile(name, rows, f"it has more than {MAX_ROWS:,} rows; split it, or take longer steps")
        if rows * len(shape.numeric) > MOST_CELLS:
            rule = f"it has more than {MOST_CELLS:,} figures; split it, or leave out columns"
            raise UnreadableFile(name, rows, rule)
        progress(min(0.8 * done / size, 0.8))
    if rows < 2:
        raise UnreadableFile(name, None, "a log needs a column of times, one of values, and at least two rows")
    split = "tab" if shape.delimiter == "\t" else f"“{shape.delimiter}”"
    notes.insert(0, f"{rows:,} rows; columns split by {split}.")
    seconds = csvtime.to_utc(moments, zone, name, shape.skip)
    del moments
    values = {c: _numbers(columns.pop(c), c, decimal, shape, notes) for c in shape.numeric}
    seconds, values = left_out.repeated(seconds, values, shape.skip)
    notes += left_out.notes
    _ascending(seconds, name, shape.skip)
    channels = []
    for i, column in enumerate(shape.numeric):
        progress(0.8 + 0.2 * i / len(shape.numeric))
        channels.append(_channel(column, seconds, values.pop(column), shape.skip, notes))
    return MeterLog(channels, rows, notes, zone)


def _sniff(path: Path, name: str, zone: str, notes: list[str]) -> _Shape:
    """The shape, from the first rows."""
    with path.open("rb") as file:
        data = file.read(256_000)
        cut = data.rfind(b"\n") + 1 if file.read(1) else len(data)
        file.seek(max(0, path.stat().st_size - TAIL))
        last = file.read(TAIL).decode("latin-1").splitlines()[1:]
    try:
        text, encoding = data[:cut].decode("utf-8-sig"), "utf-8"
    except UnicodeDecodeError:
        text, encoding = data[:cut].decode("latin-1"), "latin-1"
    lines = text.splitlines()
    delimiter, fields = _delimiter(lines)
    if fields >= MOST_COLUMNS:
        rule = f"it has {fields + 1:,} columns, and a log has at most {MOST_COLUMNS}; leave out those you don't need"
        raise UnreadableFile(name, None, rule)
    first = next((i for i, line in enumerate(lines) if line.count(delimiter) >= fields), 0)
    try:
        table = list(csv.reader(lines[first : first + SAMPLE_ROWS], delimiter=delimiter))
    except csv.Error as error:  # a cell of more than 131,072 characters, most often a quote that is never closed
        raise UnreadableFile(name, None, f"its first rows aren't a table: {error}") from None
    if fields < 1 or len(table) < 2:
        raise UnreadableFile(name, None, "a log needs a column of times, one of values, and at least two rows")
    headed = not any(csvtime.looks_like_time(cell) for cell in table[0])
    columns = _names(table[0] if headed else [f"column {i + 1}" for i in range(len(table[0]))])
    rows = [r for r in table[1 if headed else 0 :] if any(cell.strip() for cell in r)]
    sample = pl.DataFrame(
        {c: [_cell(r, i) for r in rows] for i, c in enumerate(columns)}, schema=dict.fromkeys(columns, pl.String)
    )
    if first:
        notes.append(f"{first} {'line' if first == 1 else 'lines'} before the table left out.")
    clock = csvtime.find(sample, zone, name, notes, last)
    others = [c for c in columns if c not in clock.columns]
    numeric = [c for c in others if _reads(_plain(sample[c], _mark(sample[c], delimiter)[0]))]
    if not numeric:
        raise UnreadableFile(name, None, "it has no column with numbers next to the times")
    plain = all(sample[c].cast(pl.Float64, strict=False).null_count() == (sample[c] == "").sum() for c in numeric)
    return _Shape(encoding, delimiter, columns, first + (1 if headed else 0), clock, numeric, plain)


def _cell(row: list[str], i: int) -> str:
    return row[i].strip() if i < len(row) else ""


def _names(head: list[str]) -> list[str]:
    """Column names, each once."""
    found: list[str] = []
    for i, cell in enumerate(head):
        given = cell.strip() or f"column {i + 1}"
        found.append(given if given not in found else f"{given} ({i + 1})")
    return found


def _delimiter(lines: list[str]) -> tuple[str, int]:
    """The mark that splits the most lines into equally many pieces, and how often it stands in them."""
    lines = [line for line in lines[:60] if line.strip()]
    best, score, fields = ",", 0.0, 0
    for mark in (";", "\t", ",", "|"):
        counts = [line.count(mark) for line in lines]
        common = max(set(counts), key=counts.count, default=0)
        agreeing = counts.count(common) * (0.9 if mark == "," else 1)
        if common > 0 and agreeing > score:
            best, score, fields = mark, agreeing, common
    return best, fields


def _blocks(path: Path, shape: _Shape) -> Iterator[bytes]:
    """The rows after the header, in pieces of whole lines."""
    with path.open("rb") as file:
        for _ in range(shape.skip):
            file.readline()
        rest = b""
        while data := file.read(BLOCK):
            data = rest + data
            cut = data.rfind(b"\n") + 1
            rest = data[cut:]
            if cut:
                yield data[:cut]
        if rest.strip():
            yield rest


def _frame(block: bytes, shape: _Shape, name: str) -> pl.DataFrame:
    """A block as a table: numbers where they read plainly, else text."""
    if shape.encoding != "utf-8":
        block = block.decode(shape.encoding).encode()
    # The library wants its own names for columns of a table without a heading.
    inner = {c: f"column_{i + 1}" for i, c in enumerate(shape.columns)}
    wanted = {inner[c]: c for c in (*shape.clock.columns, *shape.numeric)}
    texts: dict[str, type[pl.DataType]] = dict.fromkeys(inner.values(), pl.String)
    numbers: dict[str, type[pl.DataType]] = texts | {inner[c]: pl.Float64 for c in shape.numeric}
    # Comparing every cell with every word for nothing costs as much as reading; texts are compared later.
    for schema in [numbers, texts] if shape.plain else [texts]:
        try:
            return pl.read_csv(
                io.BytesIO(block),
                separator=shape.delimiter,
                has_header=False,
                schema=schema,
                columns=list(wanted),
                truncate_ragged_lines=True,
            ).rename(wanted)
        except pl.exceptions.PolarsError:
            continue  # a cell that is no plain number: read as text, so that it can be named
    raise UnreadableFile(name, None, "its rows don't line up as a table")


def _plain(values: pl.Series, mark: str) -> pl.Series:
    """Texts as numbers are written plainly; null where a cell is empty. mark: what parts the decimals."""
    plain = values.str.strip_chars()
    plain = plain.set(plain.is_in(EMPTY).fill_null(True), None)
    thousands = "." if mark == "," else ","
    plain = plain.str.replace_all(r"[\s'\u00a0\u202f]", "").str.replace_all(thousands, "", literal=True)
    return plain.str.replace(",", ".", literal=True) if mark == "," else plain


def _mark(values: pl.Series, delimiter: str) -> tuple[str, bool]:
    """The decimal mark of a whole column, and whether its cells settle it.

    A cell with both marks ends with the decimal one; a mark that is there twice, or is followed by other than three
    digits, settles it as well. Where every cell could be read both ways, a point is taken for decimals, or a comma
    where points never stand and columns are not split by commas."""
    cells = values.drop_nulls().str.strip_chars()
    comma = cells.str.contains(r"\.\d{3},\d|^-?\d+,(\d{1,2}|\d{4,})$|^-?0,\d").any()
    twice_comma = cells.str.contains(r"^-?\d{1,3},\d{3}(,\d{3})+").any()
    point = cells.str.contains(r",\d{3}\.\d|^-?\d+\.(\d{1,2}|\d{4,})$|^-?0\.\d").any()
    twice_point = cells.str.contains(r"^-?\d{1,3}\.\d{3}(\.\d{3})+").any()
    if (comma or twice_point) and not (point or twice_comma):
        return ",", True
    if point or twice_comma:
        return ".", True
    if not cells.str.contains(r"[.,]").any():
        return ".", True
    lone = cells.str.contains(",", literal=True).any() and not cells.str.contains(".", literal=True).any()
    return (",", False) if lone and delimiter != "," else (".", False)


@dataclass(slots=True)
class _LeftOut:
    """Rows that are no samples: totals under a table, and rows that stand twice; each is named, none refuses the
    file."""

    notes: list[str] = field(default_factory=list)

    def taken(self, frame: pl.DataFrame, times: list[str], above: int) -> pl.DataFrame:
        """A block without its rows of totals."""
        first = frame[times[0]].cast(pl.String).str.to_lowercase().str.strip_chars()
        total = first.str.contains(TOTAL).fill_null(False)
        for row in np.flatnonzero(total.to_numpy())[:MOST_NAMED]:
            self.notes.append(
                f"Row {above + int(row) + 1}, “{frame[times[0]][int(row)]}”, isn't a sample and is left out."
            )
        return frame.filter(~total) if total.any() else frame

    def repeated(
        self, seconds: FloatArray, values: dict[str, FloatArray], above: int
    ) -> tuple[FloatArray, dict[str, FloatArray]]:
        """Without rows that say again what the row before them said."""
        if len(seconds) < 2 or not (np.diff(seconds) == 0).any():
            return seconds, values
        again = np.concatenate([[False], np.diff(seconds) == 0])
        for found in values.values():
            same = (found[1:] == found[:-1]) | (np.isnan(found[1:]) & np.isnan(found[:-1]))
            again[1:] &= same
        count = int(again.sum())
        if not count:
            return seconds, values
        rows = ", ".join(str(above + int(r) + 1) for r in np.flatnonzero(again)[:MOST_NAMED])
        more = f" and {count - MOST_NAMED} more" if count > MOST_NAMED else ""
        self.notes.append(f"Rows that repeat the one before them are left out: {rows}{more}.")
        return seconds[~again], {c: v[~again] for c, v in values.items()}


def _reads(plain: pl.Series) -> bool:
    """Whether a column is one of numbers: nearly all of its cells are."""
    plain = plain.drop_nulls()
    return plain.len() > 0 and plain.cast(pl.Float64, strict=False).null_count() <= plain.len() // 10


def _numbers(
    blocks: list[tuple[pl.Series, int]], column: str, decimal: Decimal, shape: _Shape, notes: list[str]
) -> FloatArray:
    """A whole column as numbers, not-a-number where a cell is empty. Raises InvalidValue at the first word.

    Its decimal mark is guessed from all of it, told, and can be said instead.
    """
    texts = [b for b, _ in blocks if b.dtype != pl.Float64]
    mark = "."
    if texts:
        mark, sure = _mark(pl.concat(texts), shape.delimiter)
        if decimal != "guess":
            mark, sure = {"comma": ",", "point": "."}[decimal], True
        if mark == ",":
            notes.append(f"“{column}” has decimal commas{'' if sure else ', probably. Check a value'}.")
        elif not sure:
            notes.append(
                f"“{column}” is read with decimal points, but its cells could be read differently. Check a value."
            )
    found = []
    for values, above in blocks:
        if values.dtype != pl.Float64:
            plain = _plain(values, mark)
            numbers = plain.cast(pl.Float64, strict=False)
            wrong = (numbers.is_null() & plain.is_not_null()).to_numpy()
            if wrong.any():
                row = int(np.argmax(wrong))
                raise InvalidValue(f"row {above + row + 1}, column “{column}”", values[row], "enter a number")
            values = numbers
        figures = (values.fill_null(float("nan")) if values.null_count() else values).to_numpy()
        if (strange := no_figure(figures)).any():
            row = int(np.argmax(strange))
            rule = "enter a figure that a meter can show"
            raise InvalidValue(f"row {above + row + 1}, column “{column}”", float(figures[row]), rule)
        found.append(figures)
    return np.concatenate(found)


def _ascending(seconds: FloatArray, name: str, above: int) -> None:
    steps = np.diff(seconds)
    if (steps <= 0).any():
        row = int(np.argmax(steps <= 0)) + 1
        what = "is there twice" if steps[row - 1] == 0 else "goes back in time"
        rule = f"the time {what}; each row comes after the one before it"
        raise InvalidValue(f"{name}, row {above + row + 1}", csvtime.shown(seconds[row]), rule)


def _channel(column: str, seconds: FloatArray, values: FloatArray, above: int, notes: list[str]) -> Channel:
    known = np.isfinite(values)
    holes = int((~known).sum())
    at, found = (seconds, values) if holes == 0 else (seconds[known], values[known])
    unit = _unit(column, found)
    series = Series(unit, unit in ("Wh", "kWh") and _counts_up(found), at, found)
    kind = (
        f"a counter in {unit}"
        if series.cumulative
        else f"{unit} in each interval"
        if unit.endswith("h")
        else f"in {unit}"
    )
    notes.append(f"“{column}” is {kind}{f', {holes:,} empty cells left out' if holes else ''}.")
    if again := resets(series):
        notes.append(f"“{column}” was reset {again} times; those intervals are left out.")
    try:
        watts(series)
    except InvalidValue as error:
        row = int(np.flatnonzero(known)[int(np.argmax(found < 0))])
        raise InvalidValue(f"row {above + row + 1}, column “{column}”", error.value, error.rule) from None
    return Channel(column, series)


def _unit(column: str, values: FloatArray) -> Unit:
    named = KNOWN.search(column.lower().replace("_", " "))
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
    span = float(values.max() - values.min())
    return falls <= max(1, len(steps) // 500) and span > 3 * float(np.median(np.abs(steps)) + 1e-9)
