"""A sheet on the wall is believed: it is told when it is no longer so. And what is on file goes and comes with the
home."""

from __future__ import annotations

import io
from datetime import datetime

import pytest
import vobject
from PIL import Image

from imbuto.core.basics.errors import InvalidValue, NotFound, UnreadableFile
from imbuto.services.everyday.everyday_views import everyday_view
from imbuto.services.everyday.upkeep import upkeep_view
from imbuto.services.outages.outage_now import begin
from imbuto.services.papers.binder_files import attach, file_of, pack_home, take_packed
from imbuto.services.papers.sheet_registry import as_dates, as_table, list_sheets, note_printed
from imbuto.services.papers.work_views import work_view
from tests.demo import demo_copy

HOME, PAIR = "saltgrass-house", ("ten-place", "november-windstorm")


@pytest.fixture
def planner(tmp_path):
    planner = demo_copy(tmp_path)
    yield planner
    planner.database.close()


def put(planner, label, *ops):
    planner.edit(
        HOME, planner.rev(HOME), label, label, [{"doc": d, "op": o, "path": p, "value": v} for d, o, p, v in ops], None
    )


def rows(planner):
    return {s.id: s for s in list_sheets(planner, HOME, *PAIR)}


def test_what_was_printed_says_what_changed_since(planner):
    assert all(s.printed is None and not s.changed for s in rows(planner).values())
    note_printed(planner, HOME, *PAIR, "run-card")
    note_printed(planner, HOME, *PAIR, "parts")
    now = rows(planner)
    assert now["run-card"].printed is not None
    assert now["run-card"].changed == []
    assert now["schedule"].printed is None
    put(planner, "note", ("home", "replace", "/note", "something else"))
    assert rows(planner)["run-card"].changed == [], "a note that is on no sheet changes none"
    before = planner.verdict(HOME, *PAIR).hours
    put(planner, "less", ("ten-place", "remove", "/feeds/counter-west", None))
    changed = rows(planner)["run-card"].changed
    assert "no longer powered: Kitchen counter, west" in changed
    assert any(c.startswith("step removed: Lever 8, Kitchen counter, west") for c in changed)
    assert planner.verdict(HOME, *PAIR).hours > before
    assert any(
        c.startswith("Oxygen concentrator off at ") and " is now Oxygen concentrator off at " in c for c in changed
    )
    put(
        planner,
        "price",
        ("ten-place", "add", "/costs/labour", {"id": "labour", "name": "Labour", "kind": "labour", "sum": 900.0}),
    )
    note_printed(planner, HOME, *PAIR, "pack")
    assert all(s.printed is not None and s.changed == [] for s in rows(planner).values())
    put(planner, "name", ("home", "replace", "/circuits/kitchen-fridge/name", "Cold corner"))
    assert any("powered now: Cold corner" in c for c in rows(planner)["run-card"].changed)
    put(planner, "offer", ("ten-place", "replace", "/costs/labour/sum", 950.0))
    note_printed(planner, HOME, *PAIR, "run-card")
    assert rows(planner)["run-card"].changed == []


def test_a_plan_whose_activation_is_not_proven_is_not_counted_on(planner):
    counted = everyday_view(planner, HOME, "switched-panel", PAIR[1]).ready
    assert counted is not None
    assert counted.chance > 0
    stage = {"id": "activation", "kind": "activation", "low_weeks": 2, "high_weeks": 5, "done": None}
    put(planner, "stage", ("switched-panel", "add", "/stages/activation", stage))
    ready = everyday_view(planner, HOME, "switched-panel", PAIR[1]).ready
    assert ready is not None
    assert (ready.chance, ready.missed, ready.mean_h) == (0, 0, 0)
    assert "activation isn't proven" in ready.not_counted
    with pytest.raises(InvalidValue, match="activation isn't proven"):
        begin(planner, HOME, ("switched-panel", PAIR[1]), None, None, {}, "out")
    begin(planner, HOME, PAIR, None, None, {}, "out-by-hand")  # another plan still carries it
    view = work_view(planner, HOME, "switched-panel")
    assert view.unproven
    assert "doesn't count" in view.ready
    put(planner, "proven", ("switched-panel", "replace", "/stages/activation/done", "2026-11-01"))
    assert everyday_view(planner, HOME, "switched-panel", PAIR[1]).ready == counted
    assert work_view(planner, HOME, "switched-panel").ready == "Ready since 1 November 2026."


def test_deadlines_of_papers_stand_in_the_calendar(planner):
    def titles(now):
        return {d.title: d.first for d in upkeep_view(planner, HOME, *PAIR, now).duties if d.every == "once"}

    due = titles(datetime(2026, 11, 28, 12))
    assert due["Building permit: still to get"] == datetime(2027, 1, 15, 9)
    assert due["Warranty of the station ends"] == datetime(2031, 3, 2, 9)
    assert "Building permit: still to get" not in titles(datetime(2027, 2, 1))
    put(planner, "got", ("ten-place", "replace", "/permissions/permit/state", "granted"))
    assert "Building permit: still to get" not in titles(datetime(2026, 11, 28, 12))


def test_the_days_of_the_work_go_into_any_calendar_and_tables_into_any_sheet(planner):
    assert not list(vobject.readOne(as_dates(planner, HOME, *PAIR, "off-time").decode()).components())
    put(planner, "day", ("ten-place", "replace", "/works/day", "2027-03-01"))
    read = vobject.readOne(as_dates(planner, HOME, *PAIR, "off-time").decode())
    first = min(e.dtstart.value for e in read.vevent_list)
    assert (first.replace(tzinfo=None), len(read.vevent_list)) == (datetime(2027, 3, 1, 9), 21)
    assert "Dark: 20 min" in read.vevent_list[0].description.value
    table = as_table(planner, HOME, *PAIR, "parts")
    assert "Ten-place manual switch" in table
    for sheet, form in (("run-card", "csv"), ("parts", "ics")):
        with pytest.raises(NotFound):
            (as_table if form == "csv" else as_dates)(planner, HOME, *PAIR, sheet)


def picture() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (8, 8), "red").save(out, "JPEG")
    return out.getvalue()


def test_what_is_on_file_goes_and_comes_with_the_home(planner):
    entry = "hogshead-warranty"
    with pytest.raises(NotFound):
        file_of(planner, HOME, entry)
    with pytest.raises(NotFound):
        attach(planner, HOME, "nothing", b"%PDF-1.7", "a.pdf", "e0", None)
    with pytest.raises(UnreadableFile):
        attach(planner, HOME, entry, b"<svg/>", "a.svg", "e0", None)
    for _ in range(2):  # sent again, it is there once
        attach(planner, HOME, entry, b"%PDF-1.7 the paper", "../the paper.PDF", "e1", None)
    path, file = file_of(planner, HOME, entry)
    assert (file.name, file.media, path.read_bytes()) == ("the paper.PDF", "application/pdf", b"%PDF-1.7 the paper")
    assert path.stat().st_mode & 0o077 == 0
    attach(planner, HOME, "hogshead-serial", picture(), "label.jpg", "e2", None)
    planner.undo(HOME, "u1", None)
    with pytest.raises(NotFound):
        file_of(planner, HOME, "hogshead-serial")
    planner.redo(HOME, "r1", None)
    assert file_of(planner, HOME, "hogshead-serial")[1].media == "image/jpeg"
    copy = take_packed(planner, pack_home(planner, HOME), "home.zip")
    assert copy.id != HOME
    assert file_of(planner, copy.id, entry)[0].read_bytes() == b"%PDF-1.7 the paper"
    assert file_of(planner, copy.id, entry)[0] != path
    planner.delete(copy.id)
    assert path.exists()
    assert len(list((planner.database.path.parent / "files").iterdir())) == 1
    path.unlink()
    with pytest.raises(NotFound, match="Add it again"):
        file_of(planner, HOME, entry)
