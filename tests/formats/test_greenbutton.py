"""Interval data in Green Button form: as it was, and refused in sentences where it is damaged or meant ill."""

import pytest

from imbuto.core.basics.errors import ImbutoError
from imbuto.core.measuring.metered_series import watts
from imbuto.formats.meter_data import meterlog

START = 1_788_246_000
HOURS = [412, 380, 377, 395, 520, 910, 1230, 840]


def entry(href, body, related="", title=""):
    links = f'<link rel="self" href="{href}"/>' + (f'<link rel="related" href="{related}"/>' if related else "")
    return f"<entry>{links}<title>{title}</title><content>{body}</content></entry>"


def interval(i, value, at=None, extra=""):
    at = START + 3600 * i if at is None else at
    period = f"<timePeriod><duration>3600</duration><start>{at}</start></timePeriod>"
    return f"<IntervalReading>{period}<value>{value}</value>{extra}</IntervalReading>"


def reading(number, intervals, uom=72, power=0, flow=1, kind=4, title="Energy"):
    base = f"https://example.invalid/UsagePoint/1/MeterReading/{number}"
    type_at = f"https://example.invalid/ReadingType/{number}"
    what = (
        f'<ReadingType xmlns="http://naesb.org/espi"><accumulationBehaviour>{kind}</accumulationBehaviour>'
        f"<flowDirection>{flow}</flowDirection><powerOfTenMultiplier>{power}</powerOfTenMultiplier>"
        f"<uom>{uom}</uom></ReadingType>"
    )
    block = f'<IntervalBlock xmlns="http://naesb.org/espi">{"".join(intervals)}</IntervalBlock>'
    return (
        entry(base, "<MeterReading/>", type_at, title) + entry(type_at, what) + entry(f"{base}/IntervalBlock/1", block)
    )


def feed(*parts, head=""):
    parts = parts or (reading(1, [interval(i, w) for i, w in enumerate(HOURS)]),)
    return f'<?xml version="1.0"?>{head}<feed xmlns="http://www.w3.org/2005/Atom">{"".join(parts)}</feed>'.encode()


@pytest.fixture
def read(tmp_path):
    def call(data):
        (tmp_path / "f").write_bytes(data)
        return meterlog.read(tmp_path / "f", "bill.xml", "America/Los_Angeles")

    return call


def test_hourly_energy_becomes_mean_watts(read):
    log = read(feed())
    seconds, found = watts(log.channels[0].series)
    assert found.tolist() == HOURS
    assert seconds.tolist() == [START + 3600 * i for i in range(len(HOURS))]
    assert (log.channels[0].name, log.rows) == ("Energy", 8)


def test_quarter_hours_multipliers_and_blocks_out_of_order(read):
    late = [interval(i, w) for i, w in enumerate(HOURS)]
    base = "https://example.invalid/UsagePoint/1/MeterReading/1"
    early = [interval(i - 8, w) for i, w in enumerate(HOURS)]
    more = entry(
        f"{base}/IntervalBlock/2", f'<IntervalBlock xmlns="http://naesb.org/espi">{"".join(early)}</IntervalBlock>'
    )
    series = read(feed(reading(1, late, power=-3), more)).channels[0].series
    assert series.values.tolist() == pytest.approx([w / 1000 for w in HOURS * 2])
    assert (series.seconds[1:] > series.seconds[:-1]).all()


def test_what_is_fed_in_and_what_is_no_energy_are_left_out_and_told(read):
    rows = [interval(i, w) for i, w in enumerate(HOURS)]
    log = read(feed(reading(1, rows), reading(2, rows, flow=19, title="Sun"), reading(3, rows, uom=29, title="Volts")))
    assert [c.name for c in log.channels] == ["Energy"]
    assert any("“Sun” is exported energy" in n for n in log.notes)
    assert any("“Volts” is neither W nor Wh" in n for n in log.notes)


def test_a_counter_gives_what_was_used_between(read):
    rows = [interval(i, 70_000 + 100 * i) for i in range(20)]
    series = read(feed(reading(1, rows, kind=3))).channels[0].series
    assert series.cumulative
    assert watts(series)[1] == pytest.approx([100] * 19)


GOOD = [interval(i, w) for i, w in enumerate(HOURS)]
BOMB = '<!DOCTYPE feed [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;&a;">]>'


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (feed()[:-200], "breaks off or is damaged at line 1"),
        (feed(head=BOMB), "it defines entities or a document type"),
        (feed(head='<!DOCTYPE feed SYSTEM "file:///etc/passwd">'), "it defines entities or a document type"),
        (b"<feed></feed>", "has no interval readings"),
        (feed(reading(1, [*GOOD[:4], interval(4, -20), *GOOD[5:]])), "reading 5, value: -20.0 can't be used. A load"),
        (feed(reading(1, [*GOOD[:4], interval(4, "many"), *GOOD[5:]])), "interval reading 5, value: “many”"),
        (feed(reading(1, [*GOOD[:4], interval(4, 9, at=START), *GOOD[5:]])), "reading 5: “2026"),
        (feed(reading(1, [*GOOD, GOOD[-1]])), "The time is there twice"),
        (feed(reading(1, GOOD, flow=19)), "none of its readings is energy or power drawn"),
    ],
)
def test_a_bad_file_is_refused_in_a_sentence(read, data, words):
    with pytest.raises(ImbutoError) as caught:
        read(data)
    assert words in caught.value.sentence
    assert "passwd" not in caught.value.sentence
