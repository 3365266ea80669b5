"""Damaged, spliced and malicious files of every kind: read, or refused with a sentence. The long form is in
bench/hardness.py."""

import tracemalloc

import pytest

from imbuto.core.basics.errors import UnreadableFile
from imbuto.formats.meter_data import greenbutton
from tests import fuzzing
from tests.formats.test_greenbutton import feed, interval, reading


@pytest.mark.parametrize("name", ["x" * 400, "x-none", "idna", "hex"])
def test_an_encoding_that_is_none_is_refused_by_name(tmp_path, name):
    file = written(tmp_path / "f", [f'<?xml version="1.0" encoding="{name}"?>'.encode(), feed()])
    with pytest.raises(UnreadableFile, match=f"written in “{name[:40]}”"):
        greenbutton.read(file, "f", "UTC", lambda _: None)


@pytest.mark.parametrize("reader", fuzzing.READERS)
def test_whatever_is_done_to_a_file_it_is_read_or_refused_with_a_sentence(reader):
    for n, data in enumerate(fuzzing.inputs(reader, 1, 100)):
        raised = fuzzing.undeclared(reader, data)
        assert raised is None, (n, data[:200], raised)


def written(path, data):
    with path.open("wb") as out:
        for piece in data:
            out.write(piece)
    return path


def test_memory_is_for_readings_alone(tmp_path):
    whole = feed(reading(1, [interval(i, 400 + i) for i in range(200)]))
    stray = written(tmp_path / "stray", [whole[:-7], *[b"<a><b/></a>" * 1000] * 200, b"</feed>"])
    tracemalloc.start()
    assert greenbutton.read(stray, "stray", "UTC", lambda _: None).rows == 200
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert peak < 4_000_000  # bytes, of 400,000 elements: a tree of them takes thirty times as much


def test_a_tag_longer_than_any_meter_writes_is_refused_before_it_costs_anything(tmp_path):
    long = written(tmp_path / "long", [b'<feed><entry a="', *[b"x" * 1_000_000] * 40, b'"/></feed>'])
    with pytest.raises(UnreadableFile, match="longer than 1 MB"):
        greenbutton.read(long, "long", "UTC", lambda _: None)
    deep = written(tmp_path / "deep", [b"<a>" * 100_000])
    with pytest.raises(UnreadableFile, match="64 deep"):
        greenbutton.read(deep, "deep", "UTC", lambda _: None)
