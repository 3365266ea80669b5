"""A home with everything of it, as one ZIP: its plan file, each attachment under its mark, and each metered log as
CSV with what it is in ``logs.json``. An open format, checked piece by piece."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import re
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Annotated

import numpy as np
from annotated_types import Ge, Len
from pydantic import TypeAdapter, ValidationError

from imbuto.core.basics.archives import Archive, open_archive
from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.home.binder import MOST_BYTES
from imbuto.core.measuring.metered_series import Series, Unit
from imbuto.formats import strict_json
from imbuto.formats.csv_tables import csvout
from imbuto.formats.meter_data.channels import MAX_ROWS, no_figure, no_moment

PLAN = "home.imbuto.json"
FILE = re.compile(r"files/([0-9a-f]{64})")
LOGS, LOG = "logs.json", re.compile(r"logs/(\d{1,4})\.csv")
MOST_FILES, MOST_WHOLE = 1_000, 400_000_000
MAGIC = b"PK\x03\x04"


@dataclass(frozen=True, slots=True, kw_only=True)
class LogSheet:
    """What a metered log is. reading: the id of the reading it was noted as; the rest as in the core's Series."""

    reading: Annotated[str, Len(1, 120)]
    channel: Annotated[str, Len(0, 400)]
    file: Annotated[str, Len(0, 400)]
    zone: Annotated[str, Len(0, 80)]
    unit: Unit
    cumulative: bool
    interval_s: Annotated[float, Ge(0)] | None


@dataclass(frozen=True, slots=True)
class BundleContents:
    """What a ZIP holds."""

    plan_file: bytes
    files: dict[str, bytes]
    logs: list[tuple[LogSheet, Series]]


SHEETS: TypeAdapter[list[LogSheet]] = TypeAdapter(list[LogSheet])


def pack(plan_file: bytes, files: Mapping[str, bytes], logs: Sequence[tuple[LogSheet, Series]] = ()) -> bytes:
    """files: by their marks."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(PLAN, plan_file)
        for mark, data in sorted(files.items()):
            archive.writestr(f"files/{mark}", data)
        if logs:
            archive.writestr(LOGS, json.dumps([asdict(sheet) for sheet, _ in logs], ensure_ascii=False, indent=1))
        for n, (sheet, series) in enumerate(logs):
            archive.writestr(f"logs/{n}.csv", csvout.series_csv(sheet.channel, series, "UTC"))
    return out.getvalue()


def unpack(data: bytes, name: str) -> BundleContents:
    """The plan file, the attachments by their marks, and the logs. Raises UnreadableFile for a name that does not
    belong, for sizes and counts past the ceiling, and for what is not what its mark says."""
    begins = "it starts like a ZIP but is damaged"
    with open_archive(data, name, most_entries=MOST_FILES + 1, most_bytes=MOST_WHOLE, begins=begins) as archive:
        names = archive.names
        strange = next(
            (n for n in names if n not in (PLAN, LOGS) and not FILE.fullmatch(n) and not LOG.fullmatch(n)), None
        )
        if strange is not None or len(set(names)) < len(names):
            raise UnreadableFile(name, None, f"“{(strange or names[0])[:60]}” doesn't belong in a packed home")
        if PLAN not in names:
            raise UnreadableFile(name, None, f"no “{PLAN}” is packed in it")
        files = {n[6:]: _checked(archive, n, name) for n in names if FILE.fullmatch(n)}
        return BundleContents(archive.read(PLAN, MOST_WHOLE), files, _logs(archive, names, name))


def _checked(archive: Archive, entry: str, name: str) -> bytes:
    data = archive.read(entry, MOST_BYTES)
    if hashlib.sha256(data).hexdigest() != entry[6:]:
        raise UnreadableFile(name, None, f"“{entry[:20]}…” inside is damaged or was changed")
    return data


def _logs(archive: Archive, names: list[str], name: str) -> list[tuple[LogSheet, Series]]:
    if LOGS not in names:
        return []
    try:
        said = SHEETS.validate_python(strict_json.parse(archive.read(LOGS, MOST_BYTES), LOGS))
    except ValidationError as error:
        raise UnreadableFile(
            name, None, f"“{LOGS}” inside doesn't say what its logs are: {error.errors()[0]['msg']}"
        ) from None
    found = []
    for n, sheet in enumerate(said):
        entry = f"logs/{n}.csv"
        if entry not in names:
            raise UnreadableFile(name, None, f"“{entry}” is named inside but missing")
        found.append((sheet, _series(archive.read(entry, MOST_WHOLE), sheet, f"{name}, {entry}")))
    return found


def _series(data: bytes, sheet: LogSheet, where: str) -> Series:
    """A log as it was written here: a time with its offset, and a value, in every line after the heading."""
    try:
        cells = list(csv.reader(io.StringIO(data.decode("utf-8"), newline="")))[1:]
    except csv.Error as error:
        raise UnreadableFile(where, None, f"its lines aren't a table: {error}") from None
    if not 2 <= len(cells) <= MAX_ROWS:
        raise UnreadableFile(where, None, f"a log has 2 to {MAX_ROWS:,} lines")
    if any(len(c) != 2 for c in cells):
        raise UnreadableFile(where, None, "every line needs a time and a value")
    moments = [datetime.fromisoformat(at) for at, _ in cells]
    if any(m.tzinfo is None for m in moments):
        raise UnreadableFile(where, None, "every time needs its offset")
    seconds = np.array([m.timestamp() for m in moments])
    values = np.array([float(v) for _, v in cells])
    bad = no_moment(seconds) | no_figure(values) | ~np.isfinite(values)
    if bad.any() or (np.diff(seconds) <= 0).any():
        raise UnreadableFile(where, None, "its times must rise, and its values must be figures that a meter can show")
    return Series(sheet.unit, sheet.cumulative, seconds, values, sheet.interval_s)
