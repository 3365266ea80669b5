"""One SQLite file: foreign keys, WAL and a busy timeout on every connection, one writer at a time."""

from __future__ import annotations

import json
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from importlib import resources
from pathlib import Path
from typing import Any

from sqlalchemy import Engine, create_engine, event, inspect, text
from sqlalchemy.orm import Session

BUSY_MS = 5_000


class Database:
    """A database file, brought to the newest schema when opened."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self.engine = _engine(path)
        self._writing = threading.Lock()
        self._upgrade()

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A session that sees one consistent state."""
        with Session(self.engine) as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        """A transaction with the write lock taken first; committed at the end, rolled back on any error."""
        with self._writing, Session(self.engine) as session:
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
        if self._revision() == newest():
            return
        # Slow to load, and most starts find the schema current.
        from alembic import command
        from alembic.config import Config

        config = Config()
        config.set_main_option("script_location", "imbuto.store:migrations")
        config.set_main_option("path_separator", "os")
        with self.engine.connect() as connection:
            # Off, or a table made anew would take the rows that point at it along; it cannot be set inside a transaction.
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
