"""What is put on file: attached to an entry as one edit, given out as a download, packed with the home."""

from __future__ import annotations

from pathlib import Path
from typing import cast

from sqlalchemy.orm import Session

from imbuto.core.basics.errors import NotFound, UnreadableFile
from imbuto.core.home.binder import AttachedFile
from imbuto.core.measuring.metered_series import Unit
from imbuto.formats import bundle, strict_json
from imbuto.formats.attached import safe_name, taken_in
from imbuto.formats.patch import escape
from imbuto.services.desk.edits import HomeState
from imbuto.services.desk.judging import Pair
from imbuto.services.desk.planner import EditResult, Planner
from imbuto.store import series_blocks as stored
from imbuto.store.models import SeriesRow
from imbuto.store.repository import Repository

KEPT_MB = 500  # of all files of a home


def attach(
    planner: Planner,
    home_id: str,
    entry_id: str,
    data: bytes,
    name: str,
    edit_id: str,
    pair: Pair | None,
    photo_of: str | None = None,
) -> EditResult:
    """Put a file to an entry of the binder. photo_of: make the entry too, a photograph of that. Raises NotFound,
    UnreadableFile."""
    state = planner.state(home_id)
    if planner.has_edit(edit_id):
        return planner.answer(state, pair)
    binder = planner.enter(state).home.binder
    if entry_id not in binder and photo_of is None:
        raise NotFound("entry", entry_id, "the binder doesn't have that entry")
    kept, media = taken_in(data, name)
    there = sum(f.file.size for f in binder.values() if f.file is not None)
    if there + len(kept) > KEPT_MB * 1_000_000:
        raise UnreadableFile(
            name, len(kept), f"with it the binder would have more than {KEPT_MB} MB; remove something first"
        )
    mark = planner.files.put(home_id, kept)
    file = AttachedFile(name=safe_name(name, media), media=media, size=len(kept), sha256=mark)
    value = {"name": file.name, "media": file.media, "size": file.size, "sha256": file.sha256}
    if entry_id in binder:
        op = {"doc": "home", "op": "replace", "path": f"/binder/{escape(entry_id)}/file", "value": value}
        return planner.edit(home_id, state.rev, edit_id, f"{binder[entry_id].title}: a file"[:80], [op], pair)
    of = (photo_of or "").strip()
    title = f"Label of {of}"[:80] if of else "A label"
    today = planner.now(planner.enter(state).home).date().isoformat()
    entry = {"id": entry_id, "kind": "photo", "title": title, "of": of, "on": today, "file": value}
    op = {"doc": "home", "op": "add", "path": f"/binder/{escape(entry_id)}", "value": entry}
    return planner.edit(home_id, state.rev, edit_id, f"On file: {title}"[:80], [op], pair)


def file_of(planner: Planner, home_id: str, entry_id: str) -> tuple[Path, AttachedFile]:
    """Where an entry's file lies, and what it is. Raises NotFound."""
    entry = planner.open(home_id).home.binder.get(entry_id)
    if entry is None or entry.file is None:
        raise NotFound("file", entry_id, "that entry has no file")
    path = planner.files.get(home_id, entry.file.sha256)
    if path is None:
        raise NotFound("file", entry.file.name, "the file is missing from the data folder; add it again")
    return path, entry.file


def pack_home(planner: Planner, home_id: str) -> bytes:
    """A home with everything on file and its metered logs, as a ZIP. Raises NotFound."""
    marks = {f.file.sha256 for f in planner.open(home_id).home.binder.values() if f.file is not None}
    found = {
        mark: path.read_bytes() for mark in sorted(marks) if (path := planner.files.get(home_id, mark)) is not None
    }
    plan_file = planner.give_out(home_id)
    given = {r["id"] for r in plan_file["readings"]}
    logs = []
    with planner.database.reading() as session:
        for row in stored.list_series(session, home_id):
            if row.reading_id in given:
                sheet = bundle.LogSheet(
                    reading=row.reading_id,
                    channel=row.channel,
                    file=row.file,
                    zone=row.zone,
                    unit=cast(Unit, row.unit),
                    cumulative=row.cumulative,
                    interval_s=row.interval_s,
                )
                logs.append((sheet, stored.load(session, home_id, row.id)[1]))
    return bundle.pack(strict_json.dump(plan_file).encode(), found, logs)


def take_packed(planner: Planner, data: bytes, name: str) -> HomeState:
    """A home from a ZIP; nothing is half taken. Raises what reading a plan file raises."""
    whole = bundle.unpack(data, name)

    def with_logs(session: Session, home_id: str) -> None:
        noted = {r.id for r in Repository(session).readings(home_id)}
        for sheet, series in whole.logs:
            if sheet.reading not in noted:
                raise UnreadableFile(
                    name, sheet.reading, f"the log “{sheet.channel}” inside belongs to no reading of the home"
                )
            row = SeriesRow(
                home_id=home_id,
                id=sheet.reading,
                reading_id=sheet.reading,
                channel=sheet.channel,
                file=sheet.file,
                zone=sheet.zone,
                unit=sheet.unit,
                cumulative=sheet.cumulative,
                interval_s=sheet.interval_s,
                samples=len(series.values),
            )
            noted.discard(sheet.reading)
            stored.keep(session, row, series)

    state = planner.take_in(whole.plan_file, name, with_logs)
    files = whole.files
    wanted = {f.file.sha256 for f in planner.enter(state).home.binder.values() if f.file is not None}
    for mark in wanted & set(files):
        planner.files.put(state.id, files[mark])
    return state
