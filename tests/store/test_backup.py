"""Everything as one file and back, dated copies, and a folder that cannot be used: one sentence each, and nothing
lost."""

from __future__ import annotations

import hashlib
import io
import json
import os
import shutil
import sqlite3
import subprocess
import sys
import zipfile
from contextlib import closing, suppress
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import event
from starlette.testclient import TestClient

from imbuto.api.app import create_app
from imbuto.core.basics.errors import DataFolder, ImbutoError, InvalidValue, UnreadableFile
from imbuto.formats import sealed
from imbuto.services.desk.demo import open_planner
from imbuto.services.desk.lock import hold_folder
from imbuto.services.desk.safekeeping import back_up, erase, restore
from imbuto.services.papers.binder_files import attach, file_of
from imbuto.store import backup
from imbuto.store.database import Database, newest
from imbuto.store.models import DeviceRow
from tests.demo import demo_copy

FOUR = Path(__file__).parents[2] / "examples" / "four-loads.json"
HOME, NOON = "saltgrass-house", datetime(2026, 11, 28, 12)


@pytest.fixture
def folder(tmp_path) -> Path:
    """A data folder in use: an edit to undo, a reading, a file, a paired phone."""
    planner = demo_copy(tmp_path / "kept")
    op = {"doc": "home", "op": "replace", "path": "/note", "value": "before the backup"}
    planner.edit(HOME, planner.rev(HOME), "noted", "Noted", [op], None)
    attach(planner, HOME, "hogshead-warranty", b"%PDF-1.7 five years", "warranty.pdf", "filed", None)
    with planner.database.writing() as session:
        session.add(DeviceRow(id="phone", name="A phone", session="secret", paired=NOON, rights="edit"))
    planner.database.close()
    return tmp_path / "kept"


def facts(folder: Path) -> tuple[object, ...]:
    planner = open_planner(folder)
    try:
        state = planner.state(HOME)
        path, _ = file_of(planner, HOME, "hogshead-warranty")
        with planner.database.reading() as session:
            phones = session.query(DeviceRow).count()
        return state.rev, state.undo, state.home, planner.kept_readings(HOME), path.read_bytes(), phones
    finally:
        planner.database.close()


@pytest.mark.parametrize("passphrase", [None, "seven grey herons"])
def test_everything_moves_to_another_folder(folder, tmp_path, passphrase):
    before = facts(folder)
    file = tmp_path / "imbuto.backup"
    size = back_up(folder, file, passphrase)
    assert (file.stat().st_size, file.stat().st_mode & 0o077) == (size, 0)
    assert (b"before the backup" in file.read_bytes()) is False, "packed or sealed, it is not plain to read"
    other = tmp_path / "elsewhere" / "kept"
    assert restore(file, other, passphrase) is None
    assert facts(other) == (*before[:-1], 0), "all of it, and no phone is let in"
    planner = open_planner(other)
    assert planner.undo(HOME, "undone", None).state.home["binder"]["hogshead-warranty"]["file"] is None
    planner.database.close()
    assert not [p for p in tmp_path.iterdir() if p.name.startswith(".imbuto-")]


def test_what_was_there_stays_beside_and_a_refused_backup_changes_nothing(folder, tmp_path):
    file = tmp_path / "b"
    back_up(folder, file)
    planner = open_planner(folder)
    op = {"doc": "home", "op": "replace", "path": "/note", "value": "after it"}
    planner.edit(HOME, planner.rev(HOME), "later", "Later", [op], None)
    planner.database.close()
    later = facts(folder)
    for broken in (file.read_bytes()[:-100], b"", b"PK\x03\x04", os.urandom(500)):
        bad = tmp_path / "bad"
        bad.write_bytes(broken)
        with pytest.raises(UnreadableFile):
            restore(bad, folder)
        assert facts(folder) == later
    with hold_folder(folder), pytest.raises(DataFolder, match="another Imbuto is using"):
        restore(file, folder)
    old = restore(file, folder)
    assert facts(folder)[2]["note"] == "before the backup"
    assert old is not None
    assert facts(old) == later


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(st.data())
def test_a_backup_that_was_changed_anywhere_is_refused_or_the_same(folder, tmp_path, data):
    whole = getattr(test_a_backup_that_was_changed_anywhere_is_refused_or_the_same, "whole", None)
    if whole is None:
        whole = backup.pack_folder(folder, "0", NOON)
        test_a_backup_that_was_changed_anywhere_is_refused_or_the_same.whole = whole
    at = data.draw(st.integers(0, len(whole) - 1))
    changed = bytearray(whole)
    changed[at] ^= data.draw(st.integers(1, 255))
    file, into = tmp_path / "changed", tmp_path / "into"
    file.write_bytes(bytes(changed))
    shutil.rmtree(into, ignore_errors=True)
    with suppress(UnreadableFile):
        backup.unpack_folder(file, into)
        with zipfile.ZipFile(io.BytesIO(whole)) as archive:
            for name in archive.namelist():
                if name != backup.MANIFEST:
                    assert (into / name).read_bytes() == archive.read(name)


def packed_with(entries: dict[str, bytes], **manifest: object) -> bytes:
    files = {n: {"size": len(d), "sha256": hashlib.sha256(d).hexdigest()} for n, d in entries.items()}
    said = {"format": "imbuto-backup", "version": 1, "files": files} | manifest
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("manifest.json", json.dumps(said))
        for name, content in entries.items():
            archive.writestr(name, content)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (packed_with({"imbuto.db": b"x", "../outside": b"x"}), "doesn't belong"),
        (packed_with({"imbuto.db": b"x", "files/../../" + 64 * "a": b"x"}), "doesn't belong"),
        (packed_with({"files/a/" + 64 * "a": b"x"}), "no database"),
        (packed_with({"imbuto.db": b"no database at all"}), "a whole backup"),
        (packed_with({"imbuto.db": b"x"}, version=2), "newer version"),
        (packed_with({"imbuto.db": b"x"}, format="other"), "isn't an Imbuto backup"),
        (packed_with({"imbuto.db": b"x"}, files={"imbuto.db": {"size": 0, "sha256": ""}}), "larger than stated"),
        (
            packed_with({"imbuto.db": b"x"}, files={"imbuto.db": {"size": 5_000_000_000, "sha256": ""}}),
            "larger than Imbuto can restore",
        ),
    ],
)
def test_what_does_not_belong_in_a_backup_is_refused(tmp_path, data, words):
    (tmp_path / "b").write_bytes(data)
    with pytest.raises(UnreadableFile, match=words):
        restore(tmp_path / "b", tmp_path / "kept")
    assert not (tmp_path / "kept").exists()
    assert not (tmp_path / "outside").exists()


def test_a_seal_opens_with_its_own_words_only():
    made = sealed.seal(b"health and absence", "seven grey herons")
    assert sealed.is_sealed(made)
    assert b"health" not in made
    assert sealed.unseal(made, "seven grey herons", "b") == b"health and absence"
    with pytest.raises(UnreadableFile):
        sealed.unseal(made, "six grey herons", "b")
    with pytest.raises(UnreadableFile):
        sealed.unseal(made[:-1] + bytes([made[-1] ^ 1]), "seven grey herons", "b")
    with pytest.raises(UnreadableFile):
        sealed.unseal(sealed.MAGIC, "seven grey herons", "b")
    with pytest.raises(InvalidValue):
        sealed.seal(b"", "short")


def test_seven_dated_copies_are_kept_and_one_is_taken_back(folder):
    for day in range(9):
        assert backup.daily(folder, NOON + timedelta(days=day)) is not None
        assert backup.daily(folder, NOON + timedelta(days=day, hours=5)) is None, "one a day"
    kept = [p.name for p in backup.copies(folder)]
    assert sorted(kept) == [f"imbuto-{(NOON + timedelta(days=d)):%Y-%m-%d}.db" for d in range(2, 9)]
    planner = open_planner(folder)
    planner.delete(HOME)
    planner.database.close()
    assert erase(folder, "via-dei-glicini") == 7
    with closing(sqlite3.connect(backup.copies(folder)[0])) as copy:
        assert [r[0] for r in copy.execute("SELECT id FROM homes")] == [HOME]
        assert copy.execute("SELECT count(*) FROM documents WHERE home_id = 'via-dei-glicini'").fetchone() == (0,)
    assert b"Via dei Glicini" not in backup.copies(folder)[0].read_bytes()
    restore(backup.copies(folder)[-1], folder)
    planner = open_planner(folder)
    assert [h.id for h in planner.homes()] == [HOME]
    planner.database.close()


def test_a_copy_is_kept_before_a_migration_and_an_older_builds_file_comes_up(tmp_path):
    from alembic import command
    from alembic.config import Config

    folder = tmp_path / "kept"
    folder.mkdir()
    config = Config()
    config.set_main_option("script_location", "imbuto.store:migrations")
    config.set_main_option("path_separator", "os")
    database = Database(folder / "imbuto.db")
    with database.engine.connect() as connection:
        config.attributes["connection"] = connection
        command.downgrade(config, "0007")
        connection.commit()
    database.close()
    older = tmp_path / "older.zip"
    older.write_bytes(backup.pack_folder(folder, "older", NOON))
    Database(folder / "imbuto.db").close()
    (copy,) = backup.copies(folder)
    assert (copy.name, backup.schema_of(copy)) == (f"before-{newest()}.db", "0007")
    restore(older, tmp_path / "moved")
    Database(tmp_path / "moved" / "imbuto.db").close()
    assert backup.schema_of(tmp_path / "moved" / "imbuto.db") == newest()


def truncated(path: Path) -> None:
    path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])


def emptied(path: Path) -> None:
    path.write_bytes(b"")


def overwritten(path: Path) -> None:
    path.write_bytes(os.urandom(8_192))


def from_a_newer_one(path: Path) -> None:
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
        connection.commit()


def a_folder(path: Path) -> None:
    path.unlink()
    path.mkdir()


@pytest.mark.parametrize(
    ("harm", "words"),
    [
        (truncated, "it is damaged"),
        (emptied, "it is damaged"),
        (overwritten, "it is damaged"),
        (from_a_newer_one, "a newer version of Imbuto wrote it"),
        (a_folder, "a folder has its name"),
    ],
)
def test_a_damaged_folder_is_told_in_a_sentence_and_never_begun_over(folder, harm, words):
    backup.daily(folder, NOON)
    path = folder / "imbuto.db"
    for beside in folder.glob("imbuto.db-*"):
        beside.unlink()
    harm(path)
    was = path.read_bytes() if path.is_file() else None
    with pytest.raises(DataFolder, match=words) as told:
        open_planner(folder)
    assert "\n" not in told.value.sentence
    if words == "it is damaged":
        assert "imbuto-2026-11-28.db" in told.value.sentence
        assert path.read_bytes() == was, "left as it is"
        restore(backup.copies(folder)[-1], folder)
        assert facts(folder)[2]["note"] == "before the backup"


def test_a_file_in_the_place_of_the_folder_and_nothing_to_back_up(tmp_path):
    (tmp_path / "file").write_text("x")
    for path in (tmp_path / "file", tmp_path / "file" / "deeper"):
        with pytest.raises(ImbutoError, match="a file has its name"):
            open_planner(path)
    with pytest.raises(DataFolder, match="it has no homes"):
        back_up(tmp_path / "nowhere", tmp_path / "b")


def test_what_was_half_received_is_cleared(tmp_path):
    (tmp_path / "kept" / "incoming").mkdir(parents=True)
    (tmp_path / "kept" / "incoming" / "half").write_bytes(b"x")
    with hold_folder(tmp_path / "kept"):
        assert list((tmp_path / "kept" / "incoming").iterdir()) == []


@pytest.mark.parametrize(
    ("pragma", "words"),
    [
        ("max_page_count=1", "the disk is full. Free up space"),
        ("query_only=ON", "Imbuto can't write there. Get permission"),
    ],
)
def test_an_edit_that_cannot_be_written_is_told_and_changes_nothing(folder, pragma, words):
    planner = open_planner(folder)
    rev = planner.state(HOME).rev
    # As an edit meets it: what each new connection is set to is what a full disk, or one that is read-only, does to it.
    event.listen(planner.database.engine, "connect", lambda c, _: c.execute(f"PRAGMA {pragma}"))
    planner.database.engine.dispose()
    client = TestClient(create_app(planner), base_url="http://localhost", raise_server_exceptions=False)
    first = planner.state(HOME).plans[0]
    ops = [
        {"doc": f"p{n}", "op": "add", "path": "", "kind": "plan", "value": first | {"id": f"p{n}"}} for n in range(9)
    ]
    body = {"base_rev": rev, "edit_id": "e", "label": "l", "ops": ops}
    answer = client.post(f"/api/homes/{HOME}/edits", json=body)
    assert (answer.status_code, answer.json()["kind"]) == (507, "data_folder")
    assert words in answer.json()["sentence"]
    assert client.get(f"/api/homes/{HOME}").json()["rev"] == rev
    planner.database.close()


def test_a_folder_that_may_not_be_written_is_told_in_a_sentence(tmp_path):
    kept = tmp_path / "kept"
    kept.mkdir()
    kept.chmod(0o555)
    # The owner of everything may write anywhere, unless it lays that down.
    bare = ["setpriv", "--bounding-set=-dac_override,-dac_read_search"] if os.geteuid() == 0 else []
    told = subprocess.run(
        [*bare, sys.executable, "-m", "imbuto.cli", "import", str(FOUR), "--folder", str(kept)],
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
    )
    assert told.returncode == 2
    assert "Imbuto can't write there. Get permission" in told.stderr
    assert told.stderr.count("\n") == 1
