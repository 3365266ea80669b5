"""Meter data: read in the background, kept whole, noted once, given back as it came."""

import csv
import io
import time
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from imbuto.core.basics.errors import ImbutoError, NotFound
from imbuto.formats.meter_data import meterlog
from imbuto.services.desk.background_jobs import Jobs
from imbuto.services.house.importing import Importing, KeptChannel
from imbuto.services.house.measuring import Measuring
from imbuto.services.papers.binder_files import pack_home, take_packed
from tests.demo import demo_copy
from tests.formats.test_greenbutton import HOURS, feed, interval, reading
from tests.formats.test_meterlog import SHAPES

HOME = "saltgrass-house"
PAIR = ("ten-place", "november-windstorm")
CYCLES = "\n".join(
    f"2026-11-{1 + i // 1440:02} {i // 60 % 24:02}:{i % 60:02},{131 if i % 43 < 18 else 4}" for i in range(5 * 1440)
)


@pytest.fixture
def importing(tmp_path):
    jobs = Jobs()
    planner = demo_copy(tmp_path)
    yield Importing(planner, jobs)
    jobs.close()
    planner.database.close()


def begin(importing, data, name="log.csv", **more):
    path = importing.planner.database.path.parent / "sent"
    path.write_bytes(data if isinstance(data, bytes) else data.encode())
    job = importing.begin(HOME, path, name, **more)
    while (seen := importing.view(job.id)).state in ("waiting", "running"):
        time.sleep(0.01)
    assert not path.exists()
    return seen


def fridge(importing):
    return importing.planner.state(HOME).home["loads"]["refrigerator"]


def keep(importing, job, edit_id="keep", **kept):
    kept.setdefault("channel", job.log.channels[0].name)
    return importing.keep(HOME, edit_id, job.id, [KeptChannel(**kept)], PAIR)


def test_a_log_is_analysed_kept_and_counts_as_logged(importing):
    job = begin(importing, f"time,refrigerator W\n{CYCLES}\n")
    channel = job.log.channels[0]
    assert channel.average_w == pytest.approx(4 + 127 * 18 / 43, rel=0.005)
    assert (job.state, job.part, channel.shape, channel.problem) == ("done", 1, "cycling", "")
    assert len(channel.parts[0].spans) == pytest.approx(168, abs=2)
    assert all(0 <= a < b <= 1 for a, b in channel.parts[0].spans)
    assert max(high for _, high in channel.sketch_w) == 131
    assert min(low for low, _ in channel.sketch_w) == 4
    before = fridge(importing)
    keep(importing, job, load="refrigerator", season="cold")
    keep(importing, job, load="refrigerator", season="cold")
    found = fridge(importing)
    assert (found["evidence"], found["run_w"], found["rest_w"], found["spread"]) == ("logged", 131, 4, 0.05)
    assert [(s.of, s.samples) for s in importing.series(HOME)] == [("Refrigerator", 7200)]
    assert importing.look(HOME, "keep-0").average_w == pytest.approx(channel.average_w)
    importing.planner.undo(HOME, "u", PAIR)
    assert fridge(importing) == before
    assert [s.withdrawn for s in importing.series(HOME)] == [True]
    importing.planner.redo(HOME, "r", PAIR)
    assert fridge(importing) == found


def test_a_packed_home_carries_its_logs(importing):
    planner = importing.planner
    keep(importing, begin(importing, CYCLES), load="refrigerator")
    copy = take_packed(planner, pack_home(planner, HOME), "home.zip")
    assert [(s.of, s.channel, s.samples) for s in importing.series(copy.id)] == [
        (s.of, s.channel, s.samples) for s in importing.series(HOME)
    ]
    assert importing.export(copy.id, "keep-0") == importing.export(HOME, "keep-0")


def read_back(text):
    rows = list(csv.reader(io.StringIO(text)))[1:]
    return [datetime.fromisoformat(at).timestamp() for at, _ in rows], [float(v) for _, v in rows]


FILES = {
    "day first": SHAPES["day first, semicolons, decimal commas"],
    "month first": SHAPES["month first, date and time apart"],
    "a counter": SHAPES["a counter in kWh"],
    "milliseconds": SHAPES["epoch milliseconds, tabs"],
    "Green Button": feed(reading(1, [interval(i, w) for i, w in enumerate(HOURS * 3)], power=-1)),
}


@pytest.mark.parametrize("which", FILES)
def test_every_time_and_value_comes_back_as_it_came(importing, tmp_path, which):
    (tmp_path / "again").write_bytes(FILES[which])
    original = meterlog.read(tmp_path / "again", "f", "America/Los_Angeles").channels[0].series
    job = begin(importing, FILES[which])
    keep(importing, job, circuit="office")
    text, name = importing.export(HOME, "keep-0")
    seconds, values = read_back(text)
    assert seconds == original.seconds.tolist()
    assert values == original.values.tolist()
    assert name
    first = text.splitlines()[0]
    assert original.unit in first
    assert ("counter" in first) == original.cumulative


def test_two_channels_are_kept_together_or_not_at_all(importing):
    rows = "\n".join(f"2026-11-01 {10 + i // 60}:{i % 60:02},{5 + i % 3},{7 if i < 5 else ''}" for i in range(200))
    job = begin(importing, f"time,a W,b W\n{rows}\n")
    assert [bool(c.problem) for c in job.log.channels] == [False, True]
    assert "At least 12 samples" in job.log.channels[1].problem
    before = Measuring(importing.planner).readings(HOME, PAIR)
    both = [KeptChannel(channel="a W", load="router"), KeptChannel(channel="b W", load="office-pc")]
    with pytest.raises(ImbutoError, match="At least 12 samples"):
        importing.keep(HOME, "x", job.id, both, PAIR)
    with pytest.raises(NotFound):
        importing.keep(HOME, "y", job.id, [KeptChannel(channel="a W", load="nobody")], PAIR)
    with pytest.raises(ImbutoError, match=r"doesn.t have that channel"):
        importing.keep(HOME, "z", job.id, [KeptChannel(channel="c W", load="router")], PAIR)
    assert importing.series(HOME) == []
    assert Measuring(importing.planner).readings(HOME, PAIR) == before


def test_a_bad_file_fails_with_its_sentence_and_a_stopped_one_keeps_nothing(importing):
    job = begin(importing, "time,W\nyesterday,9\ntoday,8\n")
    assert (job.state, job.log) == ("failed", None)
    assert "no column with times" in job.problem
    with pytest.raises(NotFound, match="nothing to save"):
        importing.keep(HOME, "x", job.id, [KeptChannel(channel="W", load="router")], PAIR)
    good = begin(importing, f"time,W\n{CYCLES}\n")
    importing.jobs.drop(good.id)
    assert importing.view(good.id).state == "stopped"
    with pytest.raises(NotFound):
        importing.view("nowhere")


def test_a_stop_reaches_the_reader_at_its_next_sign(importing):
    def work(job):
        while True:
            job.progress(0.5)
            time.sleep(0.005)

    job = importing.jobs.start(HOME, work)
    while job.state != "running":
        time.sleep(0.005)
    importing.jobs.drop(job.id)
    until = time.monotonic() + 5
    while job.state != "stopped" and time.monotonic() < until:
        time.sleep(0.005)
    assert job.state == "stopped"


def test_a_clock_that_never_changes_is_read_in_standard_time(importing):
    start = datetime(2026, 3, 8, 0, 0)
    rows = "\n".join(f"{start + timedelta(minutes=10 * i):%Y-%m-%d %H:%M},{5 + i % 4}" for i in range(60))
    assert "standard time or UTC" in begin(importing, f"time,W\n{rows}\n").problem
    job = begin(importing, f"time,W\n{rows}\n", clock="standard")
    assert job.log.channels[0].start == datetime(2026, 3, 8, 8, 0, tzinfo=UTC)
    assert begin(importing, f"time,W\n{rows}\n", clock="utc").log.channels[0].start.hour == 0


def test_the_largest_files_keep_their_days_apart(importing):
    from imbuto.store.series_blocks import pack, unpack

    rng = np.random.default_rng(5)
    ms = np.cumsum(rng.integers(1, 10_000, 5_000)) + 1_700_000_000_000
    values = rng.normal(100, 40, 5_000)
    again_ms, again = unpack(pack(ms, values))
    assert (again_ms == ms).all()
    assert (again == values).all()
