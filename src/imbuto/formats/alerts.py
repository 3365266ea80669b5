"""Weather alerts in the Common Alerting Protocol, version 1.2: an open standard, in XML.

Read whole, bounded, without following entities or document types.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from xml.etree.ElementTree import Element, ParseError
from zoneinfo import ZoneInfo

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from imbuto.core.basics.errors import InvalidValue, UnreadableFile
from imbuto.core.home.alert import Alert, Likely, Weather
from imbuto.formats.safexml import encoded

MOST_BYTES = 1_000_000
FIRST_YEAR, LAST_YEAR = 1990, 2200
LASTS_H = 24.0  # where an alert does not say when it ends; planning default
LIKELY: dict[str, Likely] = {"observed": "certain", "likely": "likely", "possible": "possible", "unlikely": "possible"}
WORDS: dict[Weather, tuple[str, ...]] = {
    "wind": ("wind", "storm", "gale", "hurricane", "tornado"),
    "ice": ("ice", "icing", "snow", "freez", "blizzard"),
    "heat": ("heat", "hot"),
}


def read(data: bytes, name: str, zone: str) -> Alert:
    """The first alert with a time of an alerting file, in the home's own time. Raises UnreadableFile, InvalidValue."""
    if len(data) > MOST_BYTES:
        raise UnreadableFile(name, None, f"an alert has at most {MOST_BYTES // 1_000_000} MB")
    encoded(data[:400], name)
    try:
        root = fromstring(data, forbid_dtd=True)
    except (ParseError, DefusedXmlException, ValueError, LookupError):
        raise UnreadableFile(name, None, "it is not XML that can be read safely") from None
    infos = [e for e in root.iter() if _tag(e) == "info"]
    if _tag(root) != "alert" or not infos:
        raise UnreadableFile(name, None, "it is XML, but no alert of the Common Alerting Protocol with an info block")
    info = infos[0]
    begins = _time(info, ("onset", "effective"), zone) or _time(root, ("sent",), zone)
    if begins is None:
        raise InvalidValue(f"{name}, onset", None, "an alert says from when it holds")
    ends = _time(info, ("expires",), zone) or begins + timedelta(hours=LASTS_H)
    if ends <= begins:
        raise InvalidValue(f"{name}, expires", ends.isoformat(), "it ends after it begins")
    said = " ".join(_text(info, k) for k in ("event", "headline", "description")).lower()
    brings = tuple(w for w, words in WORDS.items() if any(x in said for x in words))
    title = (_text(info, "headline") or _text(info, "event") or "An alert")[:80]
    return Alert(
        title=title,
        begins=begins,
        ends=ends,
        brings=brings,
        likely=LIKELY.get(_text(info, "certainty").lower(), "likely"),
        came="file",
        note=_text(info, "instruction")[:2000],
    )


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
            raise InvalidValue(tag, text, "a date and time with its zone is wanted") from None
        if at.tzinfo is None:
            raise InvalidValue(tag, text, "a date and time with its zone is wanted")
        if not FIRST_YEAR <= at.year <= LAST_YEAR:
            raise InvalidValue(tag, text, f"a date from {FIRST_YEAR} to {LAST_YEAR} is wanted")
        return at.astimezone(ZoneInfo(zone)).replace(tzinfo=None, microsecond=0)
    return None
