"""One SQLite file: foreign keys, WAL and a busy timeout on every connection, one writer at a time."""

from __future__ import annotations

import json
import re
import shutil
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from importlib import resources
from pathlib import Path
from typing import Any

from sqlalchemy import Engine, create_engine, event, inspect, text
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlalchemy.orm import Session

from imbuto.core.basics.errors import DataFolder
from imbuto.store.backup import COPIES, copies, copy_database

BUSY_MS = 5_000
ROOM = 1_000_000  # bytes: with less, a disk that cannot be written is full
IO = "disk I/O error"
OF_THE_DISK = re.compile(rf"{IO}|is full|readonly|read-only|locked|malformed|not a database|unable to open")


class Database:
    """A database file, brought to the newest schema when opened. Raises DataFolder for one that is damaged, newer, or
    cannot be written; a damaged one is never begun over."""

    def __init__(self, path: Path) -> None:
        self.path = path
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self._look()
            self._for_its_owner()
            self.engine = _engine(path)
            self._writing = threading.Lock()
            self._upgrade()
        except (FileExistsError, NotADirectoryError):
            raise DataFolder(
                "data folder", str(path.parent), "a file has its name; choose a folder with --folder"
            ) from None
        except (DatabaseError, sqlite3.Error, PermissionError) as error:
            raise self._said(error) from None

    def _look(self) -> None:
        if self.path.is_dir():
            raise DataFolder(
                "database", str(self.path), "a folder has its name; move that folder, or choose another with --folder"
            )
        kept = copies(self.path.parent)
        if kept and not self.path.exists():
            rule = f"it is missing, but there are copies; to use the newest, run “imbuto restore {kept[-1]}”"
            raise DataFolder("database", str(self.path), rule)
        if kept and self.path.stat().st_size == 0:
            raise self._said(sqlite3.DatabaseError("it is empty"))

    def _for_its_owner(self) -> None:
        """Have nobody else on this machine read the database: it says when nobody is home. The files that SQLite puts
        beside it take its rights."""
        with suppress(PermissionError, FileExistsError):
            self.path.touch(mode=0o600, exist_ok=False)
        with suppress(OSError):  # a file of another owner, or a disk that cannot be written: told when it is written
            if self.path.stat().st_mode & 0o077:
                self.path.chmod(0o600)

    def _said(self, error: Exception, then: str = "start again") -> DataFolder:
        """What went wrong with the file, and what to do, and then. Only what says so of itself is called damaged: a
        disk without room often says no more than that it could not be written."""
        words = str(getattr(error, "orig", None) or error)
        if "full" in words or (IO in words and shutil.disk_usage(self.path.parent).free < ROOM):
            rule = f"the disk is full; free up space and {then}"
        elif (
            "readonly" in words
            or "read-only" in words
            or "unable to open" in words
            or isinstance(error, PermissionError)
        ):
            rule = "Imbuto can't write there; get permission to write, or choose another folder with --folder"
        elif "locked" in words:
            rule = f"another program is using it; stop that one first, and {then}"
        elif IO in words:
            rule = f"the disk isn't responding properly; check that it is connected and healthy, and {then}"
        else:
            kept = copies(self.path.parent)
            last = f"; the newest copy is {kept[-1]}: “imbuto restore” takes it" if kept else "; restore a backup"
            rule = f"it is damaged ({words}), and is left as it is{last}"
        return DataFolder("database", str(self.path), rule)

    @contextmanager
    def _telling(self) -> Iterator[None]:
        """Raise DataFolder, with what to do, for what the disk or another program did; a mistake in a query stays
        what it is."""
        try:
            yield
        except DatabaseError as error:
            if type(error) in (DatabaseError, OperationalError) and OF_THE_DISK.search(str(error.orig)):
                raise self._said(error, "try again. Nothing was changed") from None
            raise

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A session that sees one consistent state."""
        with self._telling(), Session(self.engine) as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        """A transaction with the write lock taken first; committed at the end, rolled back on any error."""
        with self._writing, self._telling(), Session(self.engine) as session:
            session.execute(text("BEGIN IMMEDIATE"))
            try:
                yield session
                session.commit()
            except BaseException:
                session.rollback()
                raise

    def close(self) -> None:
        """Close every connection."""
        self.engine.dispose()

    def _upgrade(self) -> None:
        now = self._revision()
        if now == newest():
            return
        if now is not None and now > newest():
            rule = "a newer version of Imbuto wrote it; update Imbuto first, or choose another folder with --folder"
            raise DataFolder("database", str(self.path), rule)
        if now is not None:
            copy_database(self.path, self.path.parent / COPIES / f"before-{newest()}.db", devices=True)
        # Slow to load, and most starts find the schema current.
        from alembic import command
        from alembic.config import Config

        config = Config()
        config.set_main_option("script_location", "imbuto.store:migrations")
        config.set_main_option("path_separator", "os")
        with self.engine.connect() as connection:
            # Off, or a table made anew would take the rows that point at it along; it cannot be set inside a
            # transaction.
            connection.exec_driver_sql("PRAGMA foreign_keys=OFF")
            connection.commit()
            event.listen(connection, "begin", lambda c: c.exec_driver_sql("BEGIN IMMEDIATE"))
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
            connection.commit()
        self.engine.dispose()  # the next connections keep to foreign keys again

    def _revision(self) -> str | None:
        with self.engine.connect() as connection:
            if not inspect(connection).has_table("alembic_version"):
                return None
            found = connection.scalar(text("SELECT version_num FROM alembic_version"))
            return None if found is None else str(found)


def newest() -> str:
    """The newest revision of the schema, by the names of the migrations."""
    folder = resources.files("imbuto.store").joinpath("migrations", "versions")
    return max(entry.name[:4] for entry in folder.iterdir() if entry.name.endswith(".py"))


def _dump(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, allow_nan=False, separators=(",", ":"))


def _engine(path: Path) -> Engine:
    engine = create_engine(f"sqlite:///{path}", json_serializer=_dump, connect_args={"timeout": BUSY_MS / 1000})

    @event.listens_for(engine, "connect")
    def prepare(connection: Any, _record: Any) -> None:
        # The driver's own transactions would begin too late; BEGIN is sent by hand, see writing().
        connection.isolation_level = None
        cursor = connection.cursor()
        for pragma in ("foreign_keys=ON", "journal_mode=WAL", f"busy_timeout={BUSY_MS}", "synchronous=FULL"):
            cursor.execute(f"PRAGMA {pragma}")
        cursor.close()

    return engine
