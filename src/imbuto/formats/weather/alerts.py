"""Weather alerts in the Common Alerting Protocol, version 1.2: an open standard, in XML.

Read whole, bounded, without following entities or document types.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime, timedelta
from xml.etree.ElementTree import Element, ParseError
from zoneinfo import ZoneInfo

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from imbuto.core.basics.errors import InvalidValue, UnreadableFile
from imbuto.core.basics.measures import distance_text
from imbuto.core.home.alert import Alert, Likely, Weather
from imbuto.formats.safexml import check_encoding
from imbuto.formats.weather.alert_areas import Place, distance_km, is_near

MOST_BYTES = 1_000_000
FIRST_YEAR, LAST_YEAR = 1990, 2200
LASTS_H = 24.0  # where an alert does not say until when it is valid; planning default
LANGUAGE = "en"  # of the reader
LIKELY: dict[str, Likely] = {"observed": "certain", "likely": "likely", "possible": "possible", "unlikely": "possible"}
# Whole words of an event or a hazard code, and the weather they mean; a storm in a description is no storm here.
HAZARDS: dict[Weather, frozenset[str]] = {
    "wind": frozenset(
        {"wind", "winds", "windstorm", "storm", "storms", "gale", "hurricane", "tornado", "thunderstorm"}
    ),
    "ice": frozenset({"ice", "icing", "snow", "freezing", "freeze", "blizzard", "sleet", "glaze"}),
    "heat": frozenset({"heat", "hot", "heatwave"}),
}
NO_STORM = {
    "Exercise": "this alert is an exercise, not a storm",
    "Test": "this alert is a test, not a storm",
    "Draft": "this alert is a draft, not a storm",
    "System": "this alert is a message between systems, not a storm",
    "Ack": "it only confirms another message",
    "Error": "it only rejects another message",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Message:
    """Hold what an alert file asks for.

    alert: the storm, None where the message calls one off
    ref: how other messages refer to this one: sender, identifier and time
    about: the messages it updates or calls off, by their refs
    """

    alert: Alert | None
    ref: str
    about: tuple[str, ...]


def read(data: bytes, name: str, zone: str, home: Place | None = None) -> Message:
    """Read an alerting file in the home's own time. Raises UnreadableFile for what is no storm (an exercise, a test, a
    draft, an answer to another message, an area without this home) as for what cannot be read, and InvalidValue.

    home: latitude and longitude; None where nobody entered them, and then every area may be the home's
    """
    if len(data) > MOST_BYTES:
        raise UnreadableFile(name, None, f"an alert has at most {MOST_BYTES // 1_000_000} MB")
    check_encoding(data[:400], name)
    try:
        root = fromstring(data, forbid_dtd=True)
    except (ParseError, DefusedXmlException, ValueError, LookupError):
        raise UnreadableFile(name, None, "it is not XML that can be read safely") from None
    infos = [e for e in root.iter() if _tag(e) == "info"]
    kind, status = _text(root, "msgType") or "Alert", _text(root, "status") or "Actual"
    if _tag(root) != "alert" or (not infos and kind != "Cancel"):
        raise UnreadableFile(
            name, None, ("it is XML, but not an alert of the Common Alerting Protocol with an info block")
        )
    for word in (status, kind):
        if word in NO_STORM:
            raise UnreadableFile(name, word, NO_STORM[word])
    ref = ",".join(_text(root, k) for k in ("sender", "identifier", "sent"))
    about = tuple(_text(root, "references").split())
    read_here = [x for x in infos if _text(x, "language").lower().startswith(LANGUAGE)] or infos[:1]
    away = {id(x): _distance(x, home) for x in read_here}
    info = next((x for x in read_here if is_near(away[id(x)])), None)
    if info is None and read_here and kind != "Cancel":
        nearest = min(read_here, key=lambda x: away[id(x)] or 0.0)
        raise UnreadableFile(name, None, _elsewhere(_areas(nearest), away[id(nearest)] or 0.0))
    if kind == "Cancel" or info is None or _text(info, "responseType") == "AllClear":
        return Message(alert=None, ref=ref, about=about)
    return Message(alert=_storm(root, info, name, zone, ref), ref=ref, about=about)


def _storm(root: Element, info: Element, name: str, zone: str, ref: str) -> Alert:
    begins = _time(info, ("onset", "effective"), zone) or _time(root, ("sent",), zone)
    if begins is None:
        raise InvalidValue(f"{name}, onset", None, "the alert doesn't say when it starts")
    lapses = _time(info, ("expires",), zone)
    if lapses is not None and lapses <= begins:
        raise InvalidValue(f"{name}, expires", lapses.isoformat(), "choose an end after the start")
    title = (_text(info, "headline") or _text(info, "event") or "An alert")[:80]
    return Alert(
        title=title,
        begins=begins,
        ends=lapses or begins + timedelta(hours=LASTS_H),
        end_known=False,
        brings=_brings(info),
        likely=LIKELY.get(_text(info, "certainty").lower(), "likely"),
        came="file",
        note=_text(info, "instruction")[:2000],
        area=_areas(info)[:2000],
        ref=ref[:2000],
    )


def _distance(info: Element, home: Place | None) -> float | None:
    """Kilometers from the home to the areas of an alert, None where that can't be told."""
    areas = [[(_tag(e), e.text or "") for e in area] for area in info if _tag(area) == "area"]
    drawn = [[(k, text) for k, text in area if k in ("polygon", "circle")] for area in areas]
    if home is None or not all(drawn):  # an area that is only named may be the home's
        return None
    shapes = [x for area in drawn for x in area]
    return distance_km(home, [t for k, t in shapes if k == "polygon"], [t for k, t in shapes if k == "circle"])


def _areas(info: Element) -> str:
    """The areas by name."""
    return "; ".join(x for x in (_text(area, "areaDesc") for area in info if _tag(area) == "area") if x)


def _elsewhere(areas: str, km: float) -> str:
    where = f"“{areas[:80]}”" if areas else "an area"
    return (
        f"this alert is for {where}, {distance_text(km)} from this home. If your home is there, correct its latitude "
        "and longitude in House > Home facts"
    )


def _brings(info: Element) -> tuple[Weather, ...]:
    """The weather that an alert names, by the words of its event, its codes and its headline."""
    codes = " ".join(_text(e, "value") for e in info if _tag(e) == "eventCode")
    said = set(re.findall(r"[a-z]+", f"{_text(info, 'event')} {codes} {_text(info, 'headline')}".lower()))
    return tuple(w for w, words in HAZARDS.items() if said & words)


def _tag(element: Element) -> str:
    return str(element.tag).rsplit("}", 1)[-1]


def _text(parent: Element, tag: str) -> str:
    return next((" ".join((e.text or "").split()) for e in parent if _tag(e) == tag), "")


def _time(parent: Element, tags: tuple[str, ...], zone: str) -> datetime | None:
    for tag in tags:
        text = _text(parent, tag)
        if not text:
            continue
        try:
            at = datetime.fromisoformat(text)
        except ValueError:
            raise InvalidValue(tag, text, "enter a date and time with its zone") from None
        if at.tzinfo is None:
            raise InvalidValue(tag, text, "enter a date and time with its zone")
        if not FIRST_YEAR <= at.year <= LAST_YEAR:
            raise InvalidValue(tag, text, f"enter a date from {FIRST_YEAR} to {LAST_YEAR}")
        return at.astimezone(ZoneInfo(zone)).replace(tzinfo=None, microsecond=0)
    return None
