"""Alert files: read in the home's own time, and bad ones refused by one sentence."""

from datetime import datetime
from importlib import resources

import pytest

from imbuto.core.basics.errors import ImbutoError, InvalidValue, UnreadableFile
from imbuto.core.home.alert import Alert
from imbuto.formats.weather import alerts

SAMPLE = resources.files("imbuto.services").joinpath("demo_homes", "alerts", "windstorm.xml").read_text()


def storm(text: str, zone: str = "America/Los_Angeles") -> Alert:
    found = alerts.read(text.encode(), "a.xml", zone).alert
    assert found is not None
    return found


def test_the_sample_is_read_in_the_homes_own_time():
    found = storm(SAMPLE)
    assert (found.begins, found.ends) == (datetime(2026, 11, 24, 17), datetime(2026, 11, 26, 17))
    assert found.brings == ("wind",)
    assert found.likely == "likely"
    assert found.title == "High wind along the bay"
    assert storm(SAMPLE, "Europe/Rome").begins == datetime(2026, 11, 25, 2)


def test_what_an_alert_leaves_out_has_a_default():
    bare = SAMPLE.replace("<expires>2026-11-26T17:00:00-08:00</expires>", "").replace(
        "<onset>2026-11-24T17:00:00-08:00</onset>", ""
    )
    found = storm(bare)
    assert found.begins == datetime(2026, 11, 23, 6, 10)
    assert found.hours == 24
    iced = SAMPLE.replace("High wind", "Freezing rain").replace("storm", "rain").replace("wind", "rain")
    assert storm(iced, "UTC").brings == ("ice",)


HOME = (44.6, -124.1)
AREA = "<area><areaDesc>The bay</areaDesc></area>"


def around(latitude: float, longitude: float, half: float = 0.5) -> str:
    corners = [(-half, -half), (-half, half), (half, half), (half, -half), (-half, -half)]
    return "<polygon>" + " ".join(f"{latitude + a},{longitude + b}" for a, b in corners) + "</polygon>"


def area(*shapes: str) -> str:
    return f"<area><areaDesc>The bay</areaDesc>{''.join(shapes)}</area>"


# 0.7 degrees north of a home are 77.8 km, and a degree east at 44.6 north is 79.2 km.
FAR, HERE = around(46, -120), around(*HOME)
NORTH_77_KM = f"{HOME[0] + 0.7},{HOME[1]}"


@pytest.mark.parametrize(
    ("areas", "there"),
    [
        (AREA, True),  # only named: it may be here
        (area(HERE), True),
        (area(FAR), False),
        (area(FAR) + area(HERE), True),
        (area(FAR) + AREA, True),
        (area(around(45.25, HOME[1])), True),  # its edge is 16.7 km away, and homes are entered as towns
        (area(around(45.35, HOME[1])), False),  # 27.8 km
        (area(f"<circle>{NORTH_77_KM} 60</circle>"), True),
        (area(f"<circle>{NORTH_77_KM} 55</circle>"), False),
        (area("<circle>44.6,-124.1 0</circle>"), True),
        (area(around(44.6, 179), around(44.6, -179)), False),
    ],
)
def test_a_storm_elsewhere_is_no_storm_here(areas: str, there: bool):
    data = SAMPLE.replace(AREA, areas).encode()
    assert data != SAMPLE.encode() or areas == AREA
    if there:
        found = alerts.read(data, "a.xml", "America/Los_Angeles", HOME).alert
        assert found is not None
        assert "The bay" in found.area
    else:
        with pytest.raises(
            UnreadableFile, match=r"this alert is for “The bay”, .* from this home\. If your home is there"
        ):
            alerts.read(data, "a.xml", "America/Los_Angeles", HOME)
    assert alerts.read(data, "a.xml", "America/Los_Angeles").alert is not None  # no place entered: it may be here


def test_across_the_date_line_near_is_near():
    data = SAMPLE.replace(AREA, area(around(-17, -179.8, 0.1))).encode()
    assert alerts.read(data, "a.xml", "Pacific/Fiji", (-17.0, 179.95)).alert is not None


@pytest.mark.parametrize(
    "shape",
    [
        "<polygon>1,2 3,4</polygon>",
        "<polygon>a,b 1,2 3,4 a,b</polygon>",
        "<circle>44,5</circle>",
        "<circle>91,5 3</circle>",
        "<polygon>1,2 3,4 5,6 7,8</polygon>",
        "<circle>44,5 -3</circle>",
        "<circle>44,5 nan</circle>",
    ],
)
def test_an_area_that_cannot_be_read_is_refused(shape: str):
    with pytest.raises(InvalidValue, match=r"polygon|circle"):
        alerts.read(SAMPLE.replace(AREA, area(shape)).encode(), "a.xml", "UTC", HOME)


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


REF = "weather@bay.example,saltgrass-2026-11-24,2026-11-23T06:10:00-08:00"
INFO = SAMPLE[SAMPLE.index("<info>") : SAMPLE.index("</info>") + 7]


@pytest.mark.parametrize("tag", ["status", "msgType"])
@pytest.mark.parametrize("word", ["Exercise", "Test", "Draft", "System", "Ack", "Error"])
def test_what_is_no_storm_is_said_to_be_none(tag, word):
    was = {"status": "Actual", "msgType": "Alert"}[tag]
    text = SAMPLE.replace(f"<{tag}>{was}</{tag}>", f"<{tag}>{word}</{tag}>")
    with pytest.raises(UnreadableFile, match=r"a\.xml because (this alert is|it only)"):
        alerts.read(text.encode(), "a.xml", "UTC")


@pytest.mark.parametrize(
    ("change", "kind"),
    [
        (("<msgType>Alert", "<msgType>Cancel"), "off"),
        (("<urgency>", "<responseType>AllClear</responseType><urgency>"), "off"),
        (("<msgType>Alert", "<msgType>Update"), "storm"),
        (("<urgency>", "<responseType>Prepare</responseType><urgency>"), "storm"),
    ],
)
def test_a_message_says_what_it_updates_or_calls_off(change, kind):
    text = SAMPLE.replace("<scope>", f"<references>{REF} other,x,2026-11-01T00:00:00-00:00</references><scope>")
    found = alerts.read(text.replace(*change, 1).encode(), "a.xml", "UTC")
    assert (found.alert is None, REF in found.about, found.ref) == (kind == "off", True, REF)


def test_the_readers_language_is_read_and_only_words_that_name_the_hazard():
    german = INFO.replace("<category>", "<language>de-DE</language><category>").replace("High wind along", "Sturm an")
    both = SAMPLE.replace(INFO, german + INFO.replace("<category>", "<language>en-US</language><category>"))
    assert storm(both).title == "High wind along the bay"
    for event, brings in {
        "Ice storm": ("wind", "ice"),
        "Excessive heat": ("heat",),
        "Coastal flood": (),
        "Police notice": (),
        "Window closes": (),
        "Freezing rain": ("ice",),
        "Shot fired": (),
    }.items():
        text = SAMPLE.replace("High wind along the bay", event).replace("High wind", event)
        assert storm(text).brings == brings, event
    assert storm(SAMPLE).end_known is False
