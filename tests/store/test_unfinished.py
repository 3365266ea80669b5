"""Whatever a stopped program left beside the database: the next start finishes it, undoes it, or puts it aside and
says so. Nothing that was acknowledged is lost, and no start fails."""

from __future__ import annotations

import json
import os
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from imbuto.core.basics.errors import InvalidValue, UnreadableFile
from imbuto.services.desk import demo
from imbuto.services.desk.demo import DEMO_HOMES, open_demo, open_planner
from imbuto.services.desk.lock import hold_folder
from imbuto.services.desk.safekeeping import back_up, restore
from imbuto.services.house.instruments import Instruments
from imbuto.services.outages.watched_station import Watch
from imbuto.store import state_files
from imbuto.store.database import Database
from tests.demo import demo_copy

HOME = DEMO_HOMES[0]


def noted(folder: Path, words: str) -> None:
    planner = open_planner(folder)
    op = {"doc": "home", "op": "replace", "path": "/note", "value": words}
    planner.edit(HOME, planner.rev(HOME), words, "Noted", [op], None)
    planner.database.close()


def note_in(folder: Path) -> str:
    with hold_folder(folder):
        planner = open_planner(folder)
    note = planner.state(HOME).home["note"]
    planner.database.close()
    return note


def dies_at(nth: int, *names: str):
    """In a child: end the process at the nth call of these functions of ``os``, before (odd) or after (even) it."""
    count = 0

    def dying(real):
        def called(*args, **rest):
            nonlocal count
            count += 1
            if count == nth:
                os._exit(9)
            done = real(*args, **rest)
            count += 1
            if count == nth:
                os._exit(9)
            return done

        return called

    for name in names:
        setattr(os, name, dying(getattr(os, name)))


def in_child(work, nth: int, *names: str) -> bool:
    """Do some work in a child that ends at its nth step; whether it got to the end of it."""
    child = os.fork()
    if child == 0:
        dies_at(nth, *names)
        try:
            work()
        except BaseException:
            os._exit(3)
        os._exit(0)
    code = os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])
    assert code in (0, 9), f"failed by itself at step {nth}: {code}"
    return code == 0


def test_a_restore_stopped_anywhere_leaves_the_old_homes_or_the_new_ones(tmp_path, caplog):
    demo_copy(tmp_path / "first").database.close()
    noted(tmp_path / "first", "in the backup")
    back_up(tmp_path / "first", tmp_path / "all.zip")
    seen, nth, said = set(), 0, set()
    while True:
        nth += 1
        folder = tmp_path / f"kept-{nth}"
        demo_copy(folder).database.close()
        noted(folder, "before the restore")
        caplog.clear()
        ended = in_child(lambda: restore(tmp_path / "all.zip", folder), nth, "rename", "replace")  # noqa: B023
        seen.add(note_in(folder))
        said |= {r.message.split(",")[0] for r in caplog.records}
        left = [p.name for p in tmp_path.iterdir() if folder.name in p.name and "before" not in p.name]
        assert sorted(left) == sorted([folder.name, f".{folder.name}.lock"]), left
        if ended:
            break
    assert nth > 4
    assert seen == {"before the restore", "in the backup"}
    assert any("A restore was stopped halfway" in s for s in said)
    assert any("before it changed anything" in s for s in said)


@pytest.mark.parametrize("nth", range(1, 4))
def test_a_small_file_is_the_old_one_or_the_new_one(tmp_path, nth):
    path = tmp_path / "watch-h.json"
    state_files.write_whole(path, {"old": 1})
    in_child(lambda: state_files.write_whole(path, {"new": 2}), nth, "replace", "fsync")
    assert state_files.read_whole(path) in ({"old": 1}, {"new": 2})
    assert path.stat().st_mode & 0o077 == 0


DAMAGE = ["", "{", "[]", "null", '{"home": 3}', '{"home": "saltgrass-house"}', "\x00\x01", '{"kettle": {"no": 1}}']
GONE = {"home": "nowhere", "zone": "UTC", "source": "main", "plan": "p", "outage": "o", "name": "N"}


@pytest.mark.parametrize("text", [*DAMAGE, json.dumps(GONE), json.dumps(GONE | {"home": HOME})])
def test_a_damaged_file_beside_the_database_never_stops_a_start(tmp_path, text, caplog):
    planner = demo_copy(tmp_path)
    (tmp_path / f"watch-{HOME}.json").write_text(text)
    (tmp_path / f"instruments-{HOME}.json").write_text(text)
    watch = Watch(planner)
    watch.take_up()
    assert not watch.view(HOME).on
    assert (tmp_path / f"watch-{HOME}.json.unused").read_text() == text
    assert "started without it" in caplog.text
    shown = Instruments(planner).read(HOME)
    assert shown.main_w > 0
    assert Instruments(planner).read(HOME).breakers
    planner.database.close()


def test_a_first_demo_start_stopped_between_its_homes_is_finished(tmp_path, monkeypatch):
    real, taken = demo.demo_file, []

    def stopped(name: str) -> str:
        if taken:
            raise KeyboardInterrupt
        taken.append(name)
        return real(name)

    monkeypatch.setattr(demo, "demo_file", stopped)
    with pytest.raises(KeyboardInterrupt):
        open_demo(tmp_path)
    monkeypatch.setattr(demo, "demo_file", real)
    planner = open_demo(tmp_path)
    assert {h.id for h in planner.homes()} == set(DEMO_HOMES)
    planner.delete(DEMO_HOMES[1])
    planner.database.close()
    again = open_demo(tmp_path)
    assert {h.id for h in again.homes()} == {DEMO_HOMES[0]}  # removed by a person: it stays away
    again.database.close()


def test_the_plan_of_a_running_outage_stays(tmp_path):
    planner = demo_copy(tmp_path)
    began = planner.now(planner.documents(planner.state(HOME)).home).replace(microsecond=0).isoformat()
    live = {"doc": "home", "op": "replace", "path": "/live", "value": {"began": began, "plan": "ten-place"}}
    planner.edit(HOME, planner.rev(HOME), "begun", "Outage begun", [live], None)
    gone = [{"doc": "ten-place", "op": "remove", "path": ""}]
    with pytest.raises(InvalidValue, match="The current outage uses this plan"):
        planner.edit(HOME, planner.rev(HOME), "gone", "Plan removed", gone, None)
    over = {"doc": "home", "op": "replace", "path": "/live", "value": None}
    planner.edit(HOME, planner.rev(HOME), "over", "Outage over", [over], None)
    planner.edit(HOME, planner.rev(HOME), "gone now", "Plan removed", gone, None)
    assert "ten-place" not in planner.documents(planner.state(HOME)).plans
    planner.database.close()


@pytest.mark.parametrize(
    ("harm", "words"),
    [
        ("CREATE TRIGGER t AFTER INSERT ON homes BEGIN DELETE FROM homes; END", "trigger t"),
        ("CREATE VIEW v AS SELECT * FROM homes", "view v"),
        ("CREATE TABLE other (a)", "table other"),
        ("DROP TABLE documents", "another program made it"),
    ],
)
def test_only_a_database_of_ours_is_restored(tmp_path, harm, words):
    demo_copy(tmp_path / "kept").database.close()
    alone = tmp_path / "alone.db"
    with closing(sqlite3.connect(tmp_path / "kept" / "imbuto.db")) as source, closing(sqlite3.connect(alone)) as copy:
        source.backup(copy)
        copy.execute("PRAGMA foreign_keys=OFF")
        copy.execute(harm)
        copy.commit()
        copy.execute("PRAGMA journal_mode=DELETE")
    with pytest.raises(UnreadableFile, match=words):
        restore(alone, tmp_path / "kept")
    assert note_in(tmp_path / "kept") is not None


def test_nobody_else_reads_the_database_and_a_folder_is_one_whatever_it_is_called(tmp_path, monkeypatch):
    Database(tmp_path / "kept" / "imbuto.db").close()
    assert (tmp_path / "kept" / "imbuto.db").stat().st_mode & 0o777 == 0o600
    (tmp_path / "kept" / "imbuto.db").chmod(0o644)
    Database(tmp_path / "kept" / "imbuto.db").close()
    assert (tmp_path / "kept" / "imbuto.db").stat().st_mode & 0o777 == 0o600
    (tmp_path / "link").symlink_to(tmp_path / "kept")
    monkeypatch.chdir(tmp_path / "kept")
    for name in (Path(), tmp_path / "link", Path("../kept")):
        with (
            hold_folder(tmp_path / "kept"),
            pytest.raises(Exception, match="another Imbuto is using"),
            hold_folder(name),
        ):
            pass
