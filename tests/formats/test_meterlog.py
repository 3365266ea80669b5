"""Meter logs as CSV in many shapes: every timestamp and value as it was, and bad ones told with row and column."""

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from imbuto.core.basics.errors import ImbutoError
from imbuto.core.measuring.metered_series import watts
from imbuto.formats.meter_data import meterlog
from imbuto.formats.meter_data.channels import hours_of_day

ZONE = "America/Los_Angeles"
START = datetime(2026, 11, 13, 22, 0, tzinfo=ZoneInfo(ZONE))
WATTS = [float(4 + (127 if i % 7 < 3 else 0) + i % 3) for i in range(200)]
MOMENTS = [START + timedelta(minutes=i) for i in range(200)]


@pytest.fixture
def read(tmp_path):
    def call(data, name="log.csv", zone=ZONE, **more):
        (tmp_path / "log").write_bytes(data)
        return meterlog.read(tmp_path / "log", name, zone, **more)

    return call


def lines(head, rows):
    return ("\n".join([head, *rows]) + "\n").encode()


def comma(value, digits=3):
    return f"{value:.{digits}f}".replace(".", ",")


COUNTED = np.concatenate([[0.0], np.cumsum(WATTS)]) / 60 / 1000
SHAPES = {
    "ISO and watts": lines("time,power W", [f"{m:%Y-%m-%dT%H:%M:%S},{w}" for m, w in zip(MOMENTS, WATTS, strict=True)]),
    "ISO with offset": lines("time,W", [f"{m.isoformat()},{w}" for m, w in zip(MOMENTS, WATTS, strict=True)]),
    "UTC with Z": lines(
        "time,W", [f"{m.astimezone(UTC):%Y-%m-%dT%H:%M:%SZ},{w}" for m, w in zip(MOMENTS, WATTS, strict=True)]
    ),
    "day first, semicolons, decimal commas": lines(
        "Datum;Leistung kW", [f"{m:%d.%m.%Y %H:%M};{comma(w / 1000)}" for m, w in zip(MOMENTS, WATTS, strict=True)]
    ),
    "month first, date and time apart": lines(
        "Date,Time,Watts", [f"{m:%m/%d/%Y},{m:%I:%M %p},{w}" for m, w in zip(MOMENTS, WATTS, strict=True)]
    ),
    "epoch seconds": lines("ts,W", [f"{int(m.timestamp())},{w}" for m, w in zip(MOMENTS, WATTS, strict=True)]),
    "epoch milliseconds, tabs": lines(
        "ts\tW", [f"{int(m.timestamp() * 1000)}\t{w}" for m, w in zip(MOMENTS, WATTS, strict=True)]
    ),
    "kWh in each interval": lines(
        "start,usage kWh", [f"{m:%Y-%m-%d %H:%M},{w / 60 / 1000:.9f}" for m, w in zip(MOMENTS, WATTS, strict=True)]
    ),
    "a counter in kWh": lines(
        "time,total kWh",
        [f"{START + timedelta(minutes=i):%Y-%m-%d %H:%M},{1200 + c:.9f}" for i, c in enumerate(COUNTED)],
    ),
    "two channels, thousands": lines(
        'time,fridge W,"big W"',
        [f'{m:%Y-%m-%d %H:%M},{w},"1,{200 + i % 9}"' for i, (m, w) in enumerate(zip(MOMENTS, WATTS, strict=True))],
    ),
}


@pytest.mark.parametrize("shape", SHAPES)
def test_every_time_and_value_is_as_it_was(shape, read):
    log = read(SHAPES[shape])
    channel = log.channels[0]
    seconds, found = watts(channel.series)
    assert found == pytest.approx(WATTS, abs=0.5 if "kW" in shape and "kWh" not in shape else 1e-3)
    assert seconds == pytest.approx([m.timestamp() for m in MOMENTS])
    assert hours_of_day(seconds, ZONE)[0] == 22
    assert len(log.notes) >= 3
    assert channel.series.cumulative == (shape == "a counter in kWh")
    assert len(log.channels) == (2 if "two channels" in shape else 1)
    if "two channels" in shape:
        assert log.channels[1].series.values[0] == 1200


def test_blocks_join_and_progress_is_told(read, monkeypatch):
    from imbuto.formats.meter_data import csvlog

    monkeypatch.setattr(csvlog, "BLOCK", 100)
    told = []
    log = read(SHAPES["ISO and watts"], progress=told.append)
    assert watts(log.channels[0].series)[1] == pytest.approx(WATTS)
    assert told == sorted(told)
    assert len(told) > 20
    assert 0 < told[0] < told[-1] <= 1

    class Stop(Exception):
        pass

    def stop(part):
        if part > 0.3:
            raise Stop

    with pytest.raises(Stop):
        read(SHAPES["ISO and watts"], progress=stop)


def test_lines_before_the_table_and_a_missing_heading_are_borne(read):
    rows = [f"{m:%Y-%m-%d %H:%M},{w}" for m, w in zip(MOMENTS, WATTS, strict=True)]
    log = read(lines("Meter report", ["Serial 7", "", "time,W", *rows]))
    assert watts(log.channels[0].series)[1] == pytest.approx(WATTS)
    assert "3 lines before the table left out." in log.notes
    bare = read(lines(rows[0], rows[1:]))
    assert watts(bare.channels[0].series)[1] == pytest.approx(WATTS)
    assert bare.channels[0].name == "column 2"


def test_the_night_the_clocks_go_back_has_its_hour_twice(read):
    start = datetime(2026, 10, 31, 23, 0, tzinfo=ZoneInfo(ZONE)).astimezone(UTC)
    moments = [(start + timedelta(minutes=10 * i)).astimezone(ZoneInfo(ZONE)) for i in range(40)]
    log = read(lines("time,W", [f"{m:%Y-%m-%d %H:%M},5" for m in moments]))
    assert log.channels[0].series.seconds == pytest.approx([m.timestamp() for m in moments])


def test_empty_cells_and_a_reset_are_left_out_and_told(read):
    rows = [f"2026-11-13 {10 + i // 60}:{i % 60:02},{'' if i == 7 else w}" for i, w in enumerate(WATTS)]
    log = read(lines("time,W", rows))
    assert len(log.channels[0].series.values) == 199
    assert any("1 empty cells left out" in n for n in log.notes)
    counted = [*range(100), *range(100)]
    rows = [f"2026-11-13 {10 + i // 60}:{i % 60:02},{c / 1000}" for i, c in enumerate(counted)]
    log = read(lines("time,kWh", rows))
    assert any("was reset 1 times" in n for n in log.notes)
    assert watts(log.channels[0].series)[1] == pytest.approx([60] * 198)


GOOD = [f"2026-11-13 10:{i:02},{5 + i}" for i in range(30)]


def with_row(i, text):
    return lines("time,W", [*GOOD[:i], text, *GOOD[i + 1 :]])


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "log.csv because it is empty."),
        (b"\x89PNG\r\n\x1a\n\x00\x00" * 50, "isn't text"),
        (b"time,W\n", "at least two rows"),
        (lines("a,b", ["x,1", "y,2"]), "no column with times"),
        (lines("time,note", ["2026-11-13 10:00,on", "2026-11-13 10:01,off"]), "no column with numbers"),
        (
            with_row(4, "2026-11-13 10:03,9"),
            "row 6: “2026-11-13T18:03:00+00:00” can't be used. The time is there twice",
        ),
        (with_row(4, "2026-11-13 09:03,9"), "goes back in time"),
        (with_row(9, "2026-11-13 10:09,-9"), "row 11, column “W”: -9.0 can't be used. A load draws at least 0"),
        (with_row(5, "2026-03-08 02:30,9"), "skipped that hour"),
        (
            with_row(5, "2026-11-13 10:05-08:00,9"),
            "row 7, column “time”: “2026-11-13 10:05-08:00” can't be used. This row has a time zone",
        ),
        (with_row(5, "yesterday,9"), "row 7, column “time”: “yesterday” can't be used. Enter a date and time"),
    ],
)
def test_a_bad_log_is_told_with_row_and_column(data, words, read):
    with pytest.raises(ImbutoError) as caught:
        read(data)
    assert words in caught.value.sentence


def test_a_file_over_the_ceiling_is_refused(read, monkeypatch):
    monkeypatch.setattr(meterlog, "MAX_BYTES", 1_000_000)
    with pytest.raises(ImbutoError, match="at most 1 MB"):
        read(b"x" * 1_600_000)


def test_a_word_far_down_a_column_of_numbers_is_told(read):
    rows = [f"2026-11-{1 + i // 1440:02} {i // 60 % 24:02}:{i % 60:02},{5 + i % 7}" for i in range(400)]
    rows[300] = rows[300].split(",")[0] + ",oops"
    with pytest.raises(ImbutoError, match=r"row 302, column “W”: “oops” can.t be used\. Enter a number"):
        read(lines("time,W", rows))


EVERY_MINUTE = [f"{m:%Y-%m-%dT%H:%M:%S}" for m in MOMENTS]


@pytest.mark.parametrize(
    ("cells", "first", "note"),
    [
        (["1.204,31", "998,40", "12,5"], 1204.31, "decimal commas"),  # was read a thousand times too small
        (["1.204", "12.204,5", "3"], 1204.0, "decimal commas"),  # settled by another cell of the column
        (["1,204.31", "998.4", "3"], 1204.31, ""),
        (["1,204", "1,204,000.5", "3"], 1204.0, ""),
        (["1.204.310", "998.400", "3"], 1_204_310.0, "decimal commas"),
        (["0,204", "1,204", "3"], 0.204, "decimal commas"),
        (["1,204", "2,204", "3,204"], 1.204, "probably"),
        (["1.204", "2.204", "3.204"], 1.204, ""),
        (["1 204,5", "998,4", "3"], 1204.5, "decimal commas"),
    ],
)
def test_the_decimal_mark_is_guessed_from_the_whole_column_and_told(read, cells, first, note):
    rows = [f"{t};{cells[i % 3]}" for i, t in enumerate(EVERY_MINUTE)]
    log = read(lines("time;power W", rows))
    assert log.channels[0].series.values[0] == pytest.approx(first)
    assert note in " ".join(log.notes)


def test_what_the_mark_is_can_be_said(read):
    rows = [f"{t};1,204" for t in EVERY_MINUTE]
    assert read(lines("time;W", rows), decimal="point").channels[0].series.values[0] == 1204
    assert read(lines("time;W", rows), decimal="comma").channels[0].series.values[0] == 1.204


def test_a_total_and_a_repeated_row_are_left_out_and_named(read):
    rows = [f"{t},{w}" for t, w in zip(EVERY_MINUTE, WATTS, strict=True)]
    log = read(lines("time,W", [*rows[:50], rows[49], *rows[50:], f"Total,{sum(WATTS)}"]))
    assert log.channels[0].series.values.tolist() == WATTS
    assert any("“Total”, isn't a sample" in n for n in log.notes)
    assert any("repeat the one before" in n and "52" in n for n in log.notes)
    other = [*rows[:50], f"{EVERY_MINUTE[49]},999", *rows[50:]]
    with pytest.raises(ImbutoError, match="is there twice"):  # the same time with another value is no repetition
        read(lines("time,W", other))


@pytest.mark.parametrize(
    ("written", "first_day"),
    [
        ("%m/%d/%Y %H:%M", 9),
        ("%d/%m/%Y %H:%M", 9),
        ("%m/%d/%Y %I:%M %p", 9),
        ("%d.%m.%Y %H:%M", 9),
        ("%Y-%m-%d %H:%M", 9),
    ],
)
def test_day_and_month_are_told_apart_by_the_end_of_the_file_too(read, written, first_day):
    """Its first rows are of one day, which could be read both ways; three days on only one of them stays in
    November."""
    start = datetime(2026, 11, first_day)
    moments = [start + timedelta(minutes=5 * i) for i in range(3 * 288)]
    log = read(lines("at,W", [f"{t:{written}},{i % 7}" for i, t in enumerate(moments)]), zone="UTC")
    assert log.channels[0].series.seconds[0] == start.replace(tzinfo=UTC).timestamp()


def test_who_writes_am_and_pm_writes_the_month_first(read):
    log = read(lines("at,W", [f"11/09/2026 {h}:00 AM,5" for h in range(1, 11)]), zone="UTC")
    assert log.channels[0].series.seconds[0] == datetime(2026, 11, 9, 1, tzinfo=UTC).timestamp()
