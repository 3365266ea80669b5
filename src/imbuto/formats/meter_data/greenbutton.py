"""Interval data of a utility in Green Button form: ESPI, an open standard, as an Atom feed in XML.

Read as a stream, without following entities or document types; only numbers are held, so that memory grows with the
readings and with nothing else. Money, quality marks and addresses are left out.
"""

from __future__ import annotations

import re
from array import array
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import IO
from xml.sax import SAXParseException
from xml.sax.handler import ContentHandler
from xml.sax.xmlreader import AttributesImpl

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.sax import parse

from imbuto.core.basics.errors import InvalidValue, UnreadableFile
from imbuto.core.measuring.metered_series import Series, Unit
from imbuto.formats.meter_data.channels import MAX_ROWS, MOST, Channel, MeterLog, Progress, no_moment
from imbuto.formats.meter_data.csvtime import shown
from imbuto.formats.safexml import BoundedFile, check_encoding

UNITS: dict[int, Unit] = {38: "W", 72: "Wh"}  # of the standard's table of units
CUMULATIVE = {1, 3, 9}  # bulk quantity, cumulative, summation: what a meter's face shows
FED_IN = 19  # direction of flow: from the house into the grid
POWERS = 24  # of ten, either way: the standard's own go from -12 to 9
EVERY = 2000
DEEPEST, MOST_NAMED, MOST_TEXT, MOST_LINKS = 64, 2_000, 4_000, 40
FIGURES = ("start", "duration", "value")


@dataclass(slots=True)
class _Type:
    unit: Unit | None = None
    factor: float = 1.0
    cumulative: bool = False
    fed_in: bool = False
    said: int = 72


@dataclass(slots=True)
class _Feed:
    """What a feed says, by the address of each entry.

    figures: of all readings in the file's order
    blocks: where each begins among them
    reading_of: the place in ``readings`` of each block's meter reading
    """

    types: dict[str, _Type] = field(default_factory=dict)
    type_of: dict[str, str] = field(default_factory=dict)
    titles: dict[str, str] = field(default_factory=dict)
    figures: dict[str, array[float]] = field(default_factory=lambda: {k: array("d") for k in FIGURES})
    blocks: array[int] = field(default_factory=lambda: array("q"))
    reading_of: array[int] = field(default_factory=lambda: array("q"))
    readings: dict[str, int] = field(default_factory=dict)

    @property
    def rows(self) -> int:
        """Interval readings so far."""
        return len(self.figures["value"])


def read(path: Path, name: str, zone: str, progress: Progress) -> MeterLog:
    """Read a Green Button file; see ``meterlog.read``."""
    reader = _FeedReader(name)
    try:
        with path.open("rb") as file:
            check_encoding(file.read(400), name)
            file.seek(0)
            reader.told(file, path.stat().st_size, progress)
            parse(BoundedFile(file, name), reader, forbid_dtd=True)
    except DefusedXmlException:
        rule = "it defines entities or a document type, which a meter file never needs; download it again"
        raise UnreadableFile(name, None, rule) from None
    except SAXParseException as error:
        line, column = error.getLineNumber(), error.getColumnNumber()
        rule = f"its XML breaks off or is damaged at line {line}, column {column}; download it again"
        raise UnreadableFile(name, None, rule) from None
    except (UnicodeError, ValueError, LookupError) as error:
        raise UnreadableFile(name, None, f"its text isn't in the encoding that it names: {error}") from None
    if not reader.feed.rows:
        raise UnreadableFile(name, None, "it is XML but has no interval readings")
    return _log(reader.feed, name, zone)


class _FeedReader(ContentHandler):
    """Takes the readings out of the stream."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.name, self.feed = name, _Feed()
        self.open: list[str] = []
        self.text: list[str] = []
        self.held = 0
        self.said: dict[str, str] = {}
        self.kind: dict[str, str] | None = None
        self.tell: Callable[[], None] = lambda: None
        self._fresh_entry()

    def told(self, file: IO[bytes], size: int, progress: Progress) -> None:
        """What to tell how far it is."""
        self.tell = lambda: progress(min(0.95 * file.tell() / max(size, 1), 0.95))

    def _fresh_entry(self) -> None:
        self.links: list[tuple[str, str]] = []
        self.title, self.first_block = "", len(self.feed.blocks)
        self.kind = None

    def startElement(self, name: str, attrs: AttributesImpl) -> None:  # noqa: N802 (the library's own name)
        """A tag is opened."""
        tag = name.rpartition(":")[2]
        if len(self.open) >= DEEPEST:
            raise UnreadableFile(self.name, None, f"its tags are nested more than {DEEPEST} deep")
        self.text, self.held = [], 0
        if tag == "IntervalBlock":
            self.feed.blocks.append(self.feed.rows)
            self.feed.reading_of.append(-1)
        elif tag == "IntervalReading":
            self.said = {}
        elif tag == "ReadingType":
            self.kind = {}
        elif tag == "link" and len(self.links) < MOST_LINKS:
            self.links.append((attrs.get("rel", ""), attrs.get("href", "")))
        self.open.append(tag)

    def characters(self, content: str) -> None:
        """A piece of text."""
        if self.held < MOST_TEXT:
            self.text.append(content)
            self.held += len(content)

    def endElement(self, name: str) -> None:  # noqa: N802 (the library's own name)
        """A tag is closed."""
        tag = self.open.pop()
        if tag in FIGURES:
            self.said.setdefault(tag, "".join(self.text).strip())
        elif tag == "IntervalReading" and self.open[-1:] == ["IntervalBlock"]:
            self._reading()
        elif tag == "title":
            self.title = "".join(self.text).strip()
        elif tag == "entry":
            self._entry()
            self._fresh_entry()
        elif tag == "IntervalBlock":
            self._emptied()
        elif self.kind is not None and self.open[-1:] == ["ReadingType"] and len(self.kind) < MOST_LINKS:
            self.kind[tag] = "".join(self.text).strip()
        self.text, self.held = [], 0

    def _reading(self) -> None:
        rows = self.feed.rows
        if rows >= MAX_ROWS:
            raise UnreadableFile(self.name, rows, f"it has more than {MAX_ROWS:,} readings; take a shorter time")
        if rows % EVERY == 0:
            self.tell()
        for tag in FIGURES:
            try:
                figure = float(self.said[tag])
            except (KeyError, ValueError):
                figure = float("nan")
            if not abs(figure) <= MOST:
                where = f"{self.name}, interval reading {rows + 1}, {tag}"
                raise InvalidValue(where, self.said.get(tag), "enter a number as a meter writes it")
            self.feed.figures[tag].append(figure)

    def _emptied(self) -> None:
        """A block without readings is none."""
        if self.feed.blocks[-1] == self.feed.rows:
            self.feed.blocks.pop()
            self.feed.reading_of.pop()

    def _entry(self) -> None:
        feed = self.feed
        own = next((href for rel, href in self.links if rel == "self"), "")
        if self.kind is not None:
            feed.types[own] = _type(self.kind)
        reading = _reading_of(own)
        if len(feed.blocks) > self.first_block:
            of = reading or next((_reading_of(h) for rel, h in self.links if rel == "up"), "")
            place = feed.readings.setdefault(of, len(feed.readings))
            for i in range(self.first_block, len(feed.blocks)):
                feed.reading_of[i] = place
        elif reading:
            feed.titles[reading] = self.title
            for rel, href in self.links:
                if rel == "related" and "ReadingType" in href:
                    feed.type_of[reading] = href
        if max(len(feed.types), len(feed.titles), len(feed.readings)) > MOST_NAMED:
            raise UnreadableFile(
                self.name, None, f"it has more than {MOST_NAMED:,} meter readings, more than Imbuto can import"
            )


def _reading_of(href: str) -> str:
    """The meter reading an address lies in."""
    found = re.search(r"^(.*MeterReading/[^/]+)", href)
    return found[1] if found else ""


def _type(said: dict[str, str]) -> _Type:
    def whole(tag: str, default: int) -> int:
        return int(said[tag]) if re.fullmatch(r"-?\d{1,6}", said.get(tag, "")) else default

    uom, power = whole("uom", 72), whole("powerOfTenMultiplier", 0)
    known = UNITS.get(uom) if abs(power) <= POWERS else None
    return _Type(
        known,
        10.0**power if known else 1.0,
        whole("accumulationBehaviour", 4) in CUMULATIVE,
        whole("flowDirection", 1) == FED_IN,
        uom,
    )


def _log(feed: _Feed, name: str, zone: str) -> MeterLog:
    notes = [f"{feed.rows:,} interval readings; times in UTC, shown in {zone}."]
    channels: list[Channel] = []
    for reading, place in [*feed.readings.items(), ("", -1)]:
        of = np.flatnonzero(np.asarray(feed.reading_of) == place)
        if not len(of):
            continue
        kind = feed.types.get(feed.type_of.get(reading, ""), next(iter(feed.types.values()), _Type("Wh")))
        title = feed.titles.get(reading) or f"Meter reading {len(channels) + 1}"
        title = title if title not in [c.name for c in channels] else f"{title} ({len(channels) + 1})"
        if kind.fed_in:
            notes.append(f"“{title}” is exported energy, so it is left out.")
            continue
        if kind.unit is None:
            notes.append(f"“{title}” is neither W nor Wh (unit {kind.said} of the standard), so it is left out.")
            continue
        channels.append(Channel(title, _series(feed, of, kind, name, title)))
        how = "a counter in" if kind.cumulative else "in each interval," if kind.unit == "Wh" else "in"
        notes.append(f"“{title}” is {how} {kind.unit}.")
    if not channels:
        raise UnreadableFile(name, None, "none of its readings is energy or power drawn: " + " ".join(notes[1:]))
    return MeterLog(channels, feed.rows, notes, zone)


def _series(feed: _Feed, of: np.ndarray, kind: _Type, name: str, title: str) -> Series:
    """One channel in order of time, out of blocks that may come in any order; readings twice may not. of: its
    blocks."""
    begins = np.asarray(feed.blocks)
    ends = np.append(begins[1:], feed.rows)
    every, lasts, values_ = (np.asarray(feed.figures[k]) for k in FIGURES)
    of = of[np.argsort(every[begins[of]], kind="stable")]
    lengths_of = ends[of] - begins[of]
    before = np.cumsum(lengths_of) - lengths_of
    at = np.arange(int(lengths_of.sum())) + np.repeat(begins[of] - before, lengths_of)
    seconds, values = every[at], values_[at] * kind.factor
    if len(seconds) < 2:
        raise UnreadableFile(name, None, f"“{title}” has fewer than two readings")
    if (strange := no_moment(seconds)).any():
        where = int(np.argmax(strange))
        rule = "enter a time in seconds since 1970"
        raise InvalidValue(f"{name}, “{title}”, reading {where + 1}, start", float(seconds[where]), rule)
    steps = np.diff(seconds)
    if not (steps > 0).all():
        where = int(np.argmax(~(steps > 0))) + 1
        what = "is there twice" if steps[where - 1] == 0 else "goes back in time"
        raise InvalidValue(f"{name}, “{title}”, reading {where + 1}", shown(seconds[where]), f"the time {what}")
    if not kind.cumulative and (values < 0).any():
        where = int(np.argmax(values < 0))
        rule = "a load draws at least 0 W; exported energy needs its own reading"
        raise InvalidValue(f"{name}, “{title}”, reading {where + 1}, value", float(values[where]), rule)
    lengths = lasts[at]
    even = float(lengths[0]) if (lengths == lengths[0]).all() and lengths[0] > 0 else None
    assert kind.unit is not None
    return Series(kind.unit, kind.cumulative, seconds, values, None if kind.cumulative else even)
