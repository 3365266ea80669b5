"""The database file: migrations, pragmas, transactions, and what cascades."""

import json
import os
import sqlite3
import threading

import pytest
from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, event, inspect, text

from imbuto.store.database import Database
from imbuto.store.models import Base
from imbuto.store.repository import Repository
from tests.breadth import breadth

HOME = {"id": "h", "name": "Home"}
PLAN = {"id": "p", "name": "Plan"}


@pytest.fixture
def database(tmp_path):
    database = Database(tmp_path / "deep" / "imbuto.db")
    yield database
    database.close()


def made(database) -> str:
    with database.writing() as session:
        return Repository(session).create_home(HOME, [PLAN], [])


def config() -> Config:
    config = Config()
    config.set_main_option("script_location", "imbuto.store:migrations")
    config.set_main_option("path_separator", "os")
    return config


def test_the_migrations_make_what_the_models_say(database):
    found = inspect(database.engine)
    for table in Base.metadata.sorted_tables:
        assert {c["name"] for c in found.get_columns(table.name)} == {c.name for c in table.columns}
        assert found.get_pk_constraint(table.name)["constrained_columns"] == [c.name for c in table.primary_key]


def test_a_start_that_is_killed_at_any_statement_is_taken_up_again(tmp_path):
    """The process ends at the nth statement of its first start, for every seventh n, in the long form every other; the next start opens what it
    left."""
    n = ended = 0
    while True:
        path = tmp_path / str(n) / "imbuto.db"
        child = os.fork()
        if child == 0:
            _die_at(n)
            Database(path)
            os._exit(0)
        killed = os.waitpid(child, 0)[1] != 0
        again = Database(path)
        assert made(again) == "h"
        assert {t.name for t in Base.metadata.sorted_tables} <= set(inspect(again.engine).get_table_names())
        again.close()
        if not killed:
            break
        n, ended = n + breadth(7, 2), ended + 1
    assert ended > breadth(6, 20)


def _die_at(n: int) -> None:
    seen = iter(range(n))

    @event.listens_for(Engine, "before_cursor_execute")
    def _(*_args: object) -> None:
        if next(seen, None) is None:
            os._exit(9)


def test_every_migration_goes_down_again(database):
    script = config()
    assert len(list(ScriptDirectory.from_config(script).walk_revisions())) >= 2
    with database.engine.connect() as connection:
        script.attributes["connection"] = connection
        command.downgrade(script, "base")
        connection.commit()
        assert set(inspect(connection).get_table_names()) <= {"alembic_version"}
        command.upgrade(script, "head")
        connection.commit()
        assert "readings" in inspect(connection).get_table_names()


def test_an_older_database_is_brought_up_with_its_contents(tmp_path):
    first = Database(tmp_path / "imbuto.db")
    made(first)
    script = config()
    with first.engine.connect() as connection:
        script.attributes["connection"] = connection
        command.downgrade(script, "0001")
        connection.commit()
    first.close()
    again = Database(tmp_path / "imbuto.db")
    with again.reading() as session:
        assert [h.name for h in Repository(session).homes()] == ["Home"]
        assert Repository(session).readings("h") == []
    again.close()


@pytest.mark.parametrize(("pragma", "value"), [("foreign_keys", 1), ("journal_mode", "wal"), ("synchronous", 2)])
def test_every_connection_is_prepared(database, pragma, value):
    with database.reading() as session:
        assert session.execute(text(f"PRAGMA {pragma}")).scalar() == value


def test_an_error_rolls_everything_back(database):
    made(database)

    def broken():
        with database.writing() as session:
            Repository(session).raise_rev("h")
            Repository(session).put("h", "plan", "q", {"id": "q"}, 2)
            raise RuntimeError

    with pytest.raises(RuntimeError):
        broken()
    with database.reading() as session:
        assert Repository(session).rev("h") == 1
        assert [d.id for d in Repository(session).documents("h")] == ["home", "p"]


def test_a_reader_sees_the_state_before_while_a_writer_is_at_work(database):
    made(database)
    seen = []

    def look():
        with database.reading() as session:
            seen.append(Repository(session).rev("h"))

    with database.writing() as session:
        Repository(session).raise_rev("h")
        reader = threading.Thread(target=look)
        reader.start()
        reader.join(timeout=10)
    look()
    assert seen == [1, 2]


def test_removing_a_home_takes_all_of_it_along(database):
    made(database)
    with database.writing() as session:
        repository = Repository(session)
        repository.record("h", "e", "Edit", 2, [], [])
        repository.delete_home("h")
    with sqlite3.connect(database.path) as raw:
        left = {t: raw.execute(f"SELECT count(*) FROM {t}").fetchone()[0] for t in ("homes", "documents", "edits")}
    raw.close()
    assert left == {"homes": 0, "documents": 0, "edits": 0}


def test_documents_keep_their_order_and_ids_are_made_free(database):
    made(database)
    assert made(database) == "h-2"
    with database.writing() as session:
        repository = Repository(session)
        for ident in ("z", "a"):
            repository.put("h", "plan", ident, {"id": ident}, 2)
        repository.put("h", "plan", "p", PLAN | {"name": "Renamed"}, 3)
    with database.reading() as session:
        assert [d.id for d in Repository(session).documents("h")] == ["home", "p", "z", "a"]


def test_no_number_that_is_not_finite_is_stored(database):
    made(database)
    with pytest.raises(Exception, match="JSON compliant"), database.writing() as session:
        Repository(session).put("h", "plan", "p", {"id": "p", "w": float("nan")}, 2)


def test_a_trial_named_in_an_older_label_becomes_a_field_and_goes_back(database):
    made(database)
    script = config()
    labels = "SELECT label, trial FROM edits ORDER BY seq"
    insert = (
        "INSERT INTO edits (home_id, edit_id, label, rev, at, forward, inverse, undone, counts, readings, withdraws)"
        " VALUES ('h', :id, :label, 1, '2026-10-01', '[]', '[]', 0, 1, '[]', 0)"
    )
    with database.engine.connect() as connection:
        script.attributes["connection"] = connection
        command.downgrade(script, "0005")
        for label in ("Try: Office off", "Try it out"):
            connection.execute(text(insert), {"id": label, "label": label})
        command.upgrade(script, "head")
        assert connection.execute(text(labels)).all() == [("Office off", 1), ("Try it out", 0)]
        command.downgrade(script, "0005")
        assert connection.execute(text(labels.replace(", trial", ""))).scalars().all() == [
            "Try: Office off",
            "Try it out",
        ]


def test_a_plan_with_one_device_becomes_one_with_several_and_edits_that_spoke_of_it_leave(database):
    made(database)
    script = config()
    old = {
        "id": "p",
        "name": "P",
        "transfer": "ten-place",
        "sources": {"a": {"id": "a", "station": "pail"}},
        "charge_w": 500,
        "inlet_cord": None,
        "x-mine": 1,
    }
    op_ = '[{"doc": "p", "op": "replace", "path": "/%s", "value": 1}]'
    insert = (
        "INSERT INTO edits (home_id, edit_id, label, rev, at, forward, inverse, undone, counts, readings, "
        "withdraws, trial)"
        " VALUES ('h', :id, :id, 1, '2026-10-01', :ops, '[]', 0, 1, '[]', 0, 0)"
    )
    with database.engine.connect() as connection:
        script.attributes["connection"] = connection
        command.downgrade(script, "0006")
        connection.execute(text("UPDATE documents SET body = :b WHERE id = 'p'"), {"b": json.dumps(old)})
        for name, path in (("before", "floor"), ("device", "transfer"), ("after", "floor")):
            connection.execute(text(insert), {"id": name, "ops": op_ % path})
        command.upgrade(script, "head")
        body = json.loads(connection.execute(text("SELECT body FROM documents WHERE id = 'p'")).scalar_one())
        left = connection.execute(text("SELECT edit_id FROM edits WHERE edit_id IN ('before', 'device', 'after')"))
        assert left.scalars().all() == ["after"]
        assert body["devices"]["main"]["equipment"] == "ten-place"
        assert body["devices"]["main"]["source"] == "a"
        assert body["sources"]["a"]["charge_w"] == 500
        assert body["x-mine"] == 1
        command.downgrade(script, "0006")
        again = json.loads(connection.execute(text("SELECT body FROM documents WHERE id = 'p'")).scalar_one())
        assert again["transfer"] == "ten-place"
        assert again["charge_w"] == 500
