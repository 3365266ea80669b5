"""Everything that is kept, as one file and back: the database by SQLite's own online backup, and the files beside it.

A copy is believed only after it was read back. What comes in is looked at piece by piece before anything that is
there is touched; the folder as it was is kept beside."""

from __future__ import annotations

import hashlib
import json
import os
import re
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from pathlib import Path
from urllib.parse import quote

from imbuto.core.basics.archives import Archive, open_archive
from imbuto.core.basics.errors import UnreadableFile
from imbuto.store.models import Base
from imbuto.store.state_files import settle

DATABASE, MANIFEST, FORMAT = "imbuto.db", "manifest.json", "imbuto-backup"
ENTRY = re.compile(r"imbuto\.db|files/[A-Za-z0-9%._~-]{1,200}/[0-9a-f]{64}")
MOST_FILES, MOST_BYTES = 20_000, 4_000_000_000
MAGIC = b"SQLite format 3\0"
COPIES, KEPT = "copies", 7
OURS = {*Base.metadata.tables, "alembic_version", "sqlite_sequence"}
DAILY = re.compile(r"imbuto-\d{4}-\d\d-\d\d\.db")


def copy_database(database: Path, to: Path, *, devices: bool = False) -> None:
    """A copy of a database in use, whole and checked, in the place of what was there. devices: paired ones too;
    without them a copy lets nobody in. Raises OSError, sqlite3.Error."""
    with _aside(to) as made, closing(_reading(database)) as source, closing(sqlite3.connect(made)) as copy:
        source.backup(copy)
        if not devices and _has(copy, "devices"):
            copy.execute("DELETE FROM devices")
            copy.commit()
        copy.execute("PRAGMA journal_mode=DELETE")  # one file, with nothing beside it
        copy.execute("VACUUM")
        check_integrity(copy)


def _reading(database: Path) -> sqlite3.Connection:
    """Open a database that may stand on a disk that cannot be written."""
    connection = sqlite3.connect(database)
    try:
        connection.execute("SELECT count(*) FROM sqlite_master").fetchone()
    except sqlite3.OperationalError:
        connection.close()
        if database.with_name(f"{database.name}-wal").exists():
            raise
        connection = sqlite3.connect(f"file:{quote(str(database))}?immutable=1", uri=True)
    return connection


def check_integrity(connection: sqlite3.Connection) -> None:
    """Raise sqlite3.DatabaseError for a database that is damaged."""
    found = connection.execute("PRAGMA integrity_check").fetchone()[0]
    if found != "ok":
        raise sqlite3.DatabaseError(str(found))
    if (broken := connection.execute("PRAGMA foreign_key_check").fetchone()) is not None:
        raise sqlite3.DatabaseError(f"a row of {broken[0]} points at nothing")


def only_ours(connection: sqlite3.Connection) -> None:
    """Raise sqlite3.DatabaseError for a database that another program made, or that holds more than Imbuto's tables."""
    rows = connection.execute("SELECT type, name, tbl_name FROM sqlite_master").fetchall()
    tables = {name for kind, name, _ in rows if kind == "table"}
    strange = [f"{kind} {name}" for kind, name, of in rows if kind not in ("table", "index") or of not in OURS]
    if strange:
        raise sqlite3.DatabaseError(f"Imbuto doesn't make the {strange[0][:60]} in it")
    if not {"alembic_version", "homes", "documents"} <= tables:
        raise sqlite3.DatabaseError("another program made it")


def pack_folder(folder: Path, version: str, now: datetime, at: Path | None = None) -> bytes:
    """Return everything in a data folder as one ZIP, read back before it is given.

    at: where to work, None for the system's folder for such things; never the data folder's own disk, which may be full
    or read-only. Raises OSError, sqlite3.Error.
    """
    with tempfile.TemporaryDirectory(dir=at, prefix="imbuto-packing-") as scratch:
        plain = Path(scratch) / DATABASE
        copy_database(folder / DATABASE, plain)
        found = [(DATABASE, plain), *_attached(folder)]
        listed = {name: {"size": p.stat().st_size, "sha256": _mark(p.read_bytes())} for name, p in found}
        manifest = {
            "format": FORMAT,
            "version": 1,
            "made": now.isoformat(),
            "program": version,
            "schema": schema_of(plain),
            "files": listed,
        }
        path = Path(scratch) / "packed.zip"
        with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr(MANIFEST, json.dumps(manifest, indent=1))
            for name, p in found:
                archive.write(p, name)
        unpack_folder(path, Path(scratch) / "read-back")
        return path.read_bytes()


def looked_into(path: Path, fresh: Path, files: Path) -> None:
    """A folder as a backup would make it, everything checked. files: that are there now, for a copy of the database
    alone. Raises UnreadableFile, OSError."""
    if not path.read_bytes()[:16].startswith(MAGIC):
        unpack_folder(path, fresh)
        return
    fresh.mkdir(parents=True, mode=0o700)
    try:
        copy_database(path, fresh / DATABASE, devices=True)
        with closing(sqlite3.connect(fresh / DATABASE)) as copy:
            only_ours(copy)
    except (sqlite3.Error, UnicodeError) as error:
        raise UnreadableFile(path.name, None, f"the copy of the database is damaged: {error}") from None
    if files.is_dir():
        shutil.copytree(files, fresh / "files")


def unpack_folder(archive_path: Path, into: Path) -> None:
    """Read a packed folder into an empty one, everything checked. Raises UnreadableFile."""
    name = archive_path.name
    into.mkdir(parents=True, mode=0o700)
    most, begins = MOST_FILES + 1, "it isn't a whole backup"
    with open_archive(
        archive_path, name, most_entries=most, most_bytes=MOST_BYTES, begins=begins, swells=2_000
    ) as archive:
        try:
            listed = _listed(archive, name)
            for entry, said in listed.items():
                data = _read(archive, entry, said["size"], name)
                if _mark(data) != said["sha256"]:
                    raise UnreadableFile(name, None, f"“{entry}” inside is damaged")
                path = into / entry
                path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
                path.write_bytes(data)
                path.chmod(0o600)
            with closing(sqlite3.connect(into / DATABASE)) as copy:
                check_integrity(copy)
                only_ours(copy)
        except (KeyError, TypeError, UnicodeError, sqlite3.Error) as error:
            raise UnreadableFile(name, None, f"{begins}: {error}") from None


def restore_folder(path: Path, folder: Path, now: datetime) -> Path | None:
    """Put a packed folder, or a copy of a database with the files that are there, in the place of the folder that is
    there, which is kept beside under another name; that name, None where there was none. Raises UnreadableFile,
    OSError; then everything is as it was."""
    fresh = folder.with_name(f"{folder.name}.restoring-{os.getpid()}")
    shutil.rmtree(fresh, ignore_errors=True)
    try:
        looked_into(path, fresh, folder / "files")
        old = None
        if folder.exists():
            old = folder.with_name(f"{folder.name}.before-{now:%Y-%m-%d-%H%M%S}")
            os.rename(folder, old)
            settle(folder.parent)
        try:
            os.rename(fresh, folder)
            settle(folder.parent)
        except OSError:
            if old is not None:
                os.rename(old, folder)
            raise
        return old
    finally:
        shutil.rmtree(fresh, ignore_errors=True)


def daily(folder: Path, now: datetime) -> Path | None:
    """Today's copy of the database, made where it is not there yet, and the oldest ones over seven removed; None
    where there is nothing to copy, or today's is there. Raises OSError, sqlite3.Error."""
    database, path = folder / DATABASE, folder / COPIES / f"imbuto-{now:%Y-%m-%d}.db"
    if not database.is_file() or path.exists():
        return None
    copy_database(database, path)
    kept = sorted(p for p in path.parent.iterdir() if DAILY.fullmatch(p.name))
    for old in kept[:-KEPT]:
        old.unlink()
    return path


def copies(folder: Path) -> list[Path]:
    """Every copy of the database that is kept beside it, oldest first."""
    place = folder / COPIES
    return sorted(place.glob("*.db"), key=lambda p: p.stat().st_mtime) if place.is_dir() else []


def erase_from_copies(folder: Path, home_id: str) -> int:
    """Take a home out of every copy that is kept; how many had it. Raises OSError, sqlite3.Error."""
    count = 0
    for path in copies(folder):
        with closing(sqlite3.connect(path)) as copy:
            copy.execute("PRAGMA foreign_keys=ON")
            copy.execute("PRAGMA secure_delete=ON")
            gone = copy.execute("DELETE FROM homes WHERE id = ?", (home_id,)).rowcount if _has(copy, "homes") else 0
            copy.commit()
            if gone:
                copy.execute("VACUUM")
                count += 1
    return count


def schema_of(database: Path) -> str:
    """The revision of the schema a database has; empty for none."""
    with closing(sqlite3.connect(database)) as connection:
        if not _has(connection, "alembic_version"):
            return ""
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    return str(row[0]) if row else ""


@contextmanager
def _aside(to: Path) -> Iterator[Path]:
    """A path to write to, that takes its name only when all went well; readable by its owner only."""
    to.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    made, name = tempfile.mkstemp(dir=to.parent, prefix=".making-")
    os.close(made)
    path = Path(name)
    try:
        yield path
        with path.open("rb+") as file:
            os.fsync(file.fileno())
        os.replace(path, to)
    finally:
        path.unlink(missing_ok=True)


def _attached(folder: Path) -> list[tuple[str, Path]]:
    place = folder / "files"
    return sorted(
        (f"files/{p.parent.name}/{p.name}", p)
        for p in place.glob("*/*")
        if ENTRY.fullmatch(f"files/{p.parent.name}/{p.name}")
    )


def _listed(archive: Archive, name: str) -> dict[str, dict[str, object]]:
    """Return what is packed, by its manifest, which must name all of it and nothing else."""
    names = archive.names
    if MANIFEST not in names:
        raise UnreadableFile(name, None, "this isn't an Imbuto backup: it has no manifest")
    said = json.loads(archive.read(MANIFEST, 10_000_000))
    if not isinstance(said, dict) or said.get("format") != FORMAT:
        raise UnreadableFile(name, None, "this isn't an Imbuto backup")
    if said.get("version") != 1:
        raise UnreadableFile(name, None, "a newer version of Imbuto made it; update Imbuto first")
    files = said.get("files")
    if not isinstance(files, dict) or not all(isinstance(f, dict) for f in files.values()):
        raise UnreadableFile(name, None, "its manifest doesn't list its contents")
    strange = next((n for n in files if not ENTRY.fullmatch(n) or ".." in n), None)
    if strange is not None or sorted(names) != sorted([MANIFEST, *files]):
        raise UnreadableFile(name, None, f"“{(strange or 'what is in it')[:60]}” doesn't belong in a backup")
    if DATABASE not in files:
        raise UnreadableFile(name, None, "it has no database")
    if len(files) > MOST_FILES or sum(int(str(f["size"])) for f in files.values()) > MOST_BYTES:
        raise UnreadableFile(name, None, "the backup is larger than Imbuto can restore")
    return files


def _read(archive: Archive, entry: str, most: object, name: str) -> bytes:
    data = archive.read(entry, MOST_BYTES)  # what the directory says of sizes is not believed
    if len(data) > int(str(most)):
        raise UnreadableFile(name, len(data), f"“{entry}” inside is larger than stated")
    return data


def _mark(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


def _has(connection: sqlite3.Connection, table: str) -> bool:
    return (
        connection.execute("SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = ?", (table,)).fetchone()
        is not None
    )
