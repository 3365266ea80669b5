"""Alert files: read in the home's own time, and bad ones refused by one sentence."""

from datetime import datetime
from importlib import resources

import pytest

from imbuto.core.basics.errors import ImbutoError
from imbuto.formats import alerts

SAMPLE = resources.files("imbuto.services").joinpath("demo_homes", "alerts", "windstorm.xml").read_text()


def test_the_sample_is_read_in_the_homes_own_time():
    found = alerts.read(SAMPLE.encode(), "a.xml", "America/Los_Angeles")
    assert (found.begins, found.ends) == (datetime(2026, 11, 24, 17), datetime(2026, 11, 26, 17))
    assert found.brings == ("wind",)
    assert found.likely == "likely"
    assert found.title == "High wind along the bay from Tuesday evening"
    assert alerts.read(SAMPLE.encode(), "a.xml", "Europe/Rome").begins == datetime(2026, 11, 25, 2)


def test_what_an_alert_leaves_out_has_a_default():
    bare = SAMPLE.replace("<expires>2026-11-26T17:00:00-08:00</expires>", "").replace(
        "<onset>2026-11-24T17:00:00-08:00</onset>", ""
    )
    found = alerts.read(bare.encode(), "a.xml", "America/Los_Angeles")
    assert found.begins == datetime(2026, 11, 23, 6, 10)
    assert found.hours == 24
    iced = SAMPLE.replace("High wind", "Freezing rain").replace("storm", "rain").replace("wind", "rain")
    assert alerts.read(iced.encode(), "a.xml", "UTC").brings == ("ice",)


ENTITY = '<!DOCTYPE a [<!ENTITY x "xx"><!ENTITY y "&x;&x;">]>'


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"not xml",
        b"<alert/>",
        b"<html><info/></html>",
        b"\xff\xfe",
        b"<alert>" + b" " * alerts.MOST_BYTES + b"</alert>",
        SAMPLE.replace('encoding="UTF-8"?>', 'encoding="UTF-8"?>' + ENTITY).replace("High wind", "&y;", 1).encode(),
        SAMPLE.replace("2026-11-24T17:00:00-08:00", "soon").encode(),
        SAMPLE.replace("2026-11-24T17:00:00-08:00", "2026-11-24T17:00:00").encode(),
        SAMPLE.replace("2026-11-26T17:00:00-08:00", "2026-11-20T17:00:00-08:00").encode(),
    ],
)
def test_a_bad_file_is_refused_by_a_sentence(data):
    with pytest.raises(ImbutoError, match=r"a\.xml|onset|expires"):
        alerts.read(data, "a.xml", "UTC")
