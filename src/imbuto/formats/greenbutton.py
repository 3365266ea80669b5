"""Interval data of a utility in Green Button form: ESPI, an open standard, as an Atom feed in XML.

Read as a stream, without following entities or document types. Money, quality marks and addresses are left out.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from pathlib import Path
from typing import IO
from xml.etree.ElementTree import Element, ParseError

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import iterparse

from imbuto.core.basics.errors import InvalidValue, UnreadableFile
from imbuto.core.measuring.series import Series, Unit
from imbuto.formats.channels import MAX_ROWS, Channel, MeterLog, Progress
from imbuto.formats.csvtime import shown

UNITS: dict[int, Unit] = {38: "W", 72: "Wh"}  # of the standard's table of units
CUMULATIVE = {1, 3, 9}  # bulk quantity, cumulative, summation: what a meter's face shows
FED_IN = 19  # direction of flow: from the house into the grid
EVERY = 2000


@dataclass(slots=True)
class _Type:
    unit: Unit | None = None
    factor: float = 1.0
    cumulative: bool = False
    fed_in: bool = False
    said: int = 72


@dataclass(slots=True)
class _Block:
    reading: str
    seconds: list[float] = field(default_factory=list)
    lengths: list[float] = field(default_factory=list)
    values: list[float] = field(default_factory=list)


@dataclass(slots=True)
class _Feed:
    """What a feed says, by the address of each entry."""

    types: dict[str, _Type] = field(default_factory=dict)
    type_of: dict[str, str] = field(default_factory=dict)
    titles: dict[str, str] = field(default_factory=dict)
    blocks: list[_Block] = field(default_factory=list)
    rows: int = 0


def read(path: Path, name: str, zone: str, progress: Progress) -> MeterLog:
    """Read a Green Button file; see ``meterlog.read``."""
    try:
        with path.open("rb") as file:
            feed = _walk(file, path.stat().st_size, name, progress)
    except DefusedXmlException:
        rule = "it defines entities or a document type, which a meter's file never needs and an attack does"
        raise UnreadableFile(name, None, rule) from None
    except ParseError as error:
        line, column = error.position
        rule = f"the XML breaks off or is damaged at line {line}, column {column}; fetch it again"
        raise UnreadableFile(name, None, rule) from None
    if not feed.blocks:
        raise UnreadableFile(name, None, "it is XML, but holds no interval readings")
    return _log(feed, name, zone)


def _tag(element: Element) -> str:
    return str(element.tag).rpartition("}")[2]


def _walk(file: IO[bytes], size: int, name: str, progress: Progress) -> _Feed:
    feed = _Feed()
    links: list[tuple[str, str]] = []
    title, blocks, kind = "", [], _Type()
    has_type = False
    seen = 0
    for _, element in iterparse(file, events=("end",), forbid_dtd=True):
        tag = _tag(element)
        if tag == "IntervalReading":
            seen += 1
            if seen > MAX_ROWS:
                raise UnreadableFile(name, seen, f"it has more than {MAX_ROWS:,} readings; take a shorter time")
            if seen % EVERY == 0:
                progress(0.95 * file.tell() / size)
        elif tag == "IntervalBlock":
            blocks.append(_block(element, name, feed.rows))
            feed.rows += len(blocks[-1].values)
            element.clear()
        elif tag == "ReadingType":
            kind, has_type = _type(element), True
        elif tag == "title":
            title = (element.text or "").strip()
        elif tag == "link":
            links.append((element.get("rel", ""), element.get("href", "")))
        elif tag == "entry":
            _entry(feed, links, title, blocks, kind if has_type else None)
            links, title, blocks, has_type = [], "", [], False
            element.clear()
    return feed


def _entry(feed: _Feed, links: list[tuple[str, str]], title: str, blocks: list[_Block], kind: _Type | None) -> None:
    own = next((href for rel, href in links if rel == "self"), "")
    if kind is not None:
        feed.types[own] = kind
    for block in blocks:
        block.reading = _reading_of(own) or next((_reading_of(h) for rel, h in links if rel == "up"), "")
        feed.blocks.append(block)
    if not blocks and (reading := _reading_of(own)):
        feed.titles[reading] = title
        for rel, href in links:
            if rel == "related" and "ReadingType" in href:
                feed.type_of[reading] = href


def _reading_of(href: str) -> str:
    """The meter reading an address lies in."""
    found = re.search(r"^(.*MeterReading/[^/]+)", href)
    return found[1] if found else ""


def _type(element: Element) -> _Type:
    said = {_tag(child): (child.text or "").strip() for child in element}

    def whole(tag: str, default: int) -> int:
        return int(said[tag]) if re.fullmatch(r"-?\d{1,6}", said.get(tag, "")) else default

    uom = whole("uom", 72)
    return _Type(
        UNITS.get(uom), 10.0 ** whole("powerOfTenMultiplier", 0), whole("accumulationBehaviour", 4) in CUMULATIVE,
        whole("flowDirection", 1) == FED_IN, uom,
    )  # fmt: skip


def _block(element: Element, name: str, above: int) -> _Block:
    block = _Block("")
    for reading in (child for child in element if _tag(child) == "IntervalReading"):
        where = f"{name}, interval reading {above + len(block.values) + 1}"
        said = {_tag(part): (part.text or "").strip() for part in reading.iter()}
        for tag, into in (("start", block.seconds), ("duration", block.lengths), ("value", block.values)):
            try:
                into.append(float(said[tag]))
            except (KeyError, ValueError):
                raise InvalidValue(f"{where}, {tag}", said.get(tag), "a number is wanted") from None
    return block


def _log(feed: _Feed, name: str, zone: str) -> MeterLog:
    notes = [f"{feed.rows:,} interval readings; times in UTC, shown in {zone}."]
    channels: list[Channel] = []
    for i, reading in enumerate(dict.fromkeys(b.reading for b in feed.blocks)):
        kind = feed.types.get(feed.type_of.get(reading, ""), next(iter(feed.types.values()), _Type("Wh")))
        title = feed.titles.get(reading) or f"Meter reading {i + 1}"
        title = title if title not in [c.name for c in channels] else f"{title} ({i + 1})"
        if kind.fed_in:
            notes.append(f"“{title}” is what was fed into the grid; left out.")
            continue
        if kind.unit is None:
            notes.append(f"“{title}” is neither W nor Wh (unit {kind.said} of the standard); left out.")
            continue
        channels.append(Channel(title, _series([b for b in feed.blocks if b.reading == reading], kind, name, title)))
        how = "a counter in" if kind.cumulative else "in each interval," if kind.unit == "Wh" else "in"
        notes.append(f"“{title}” is {how} {kind.unit}.")
    if not channels:
        raise UnreadableFile(name, None, "none of its readings is energy or power drawn: " + " ".join(notes[1:]))
    return MeterLog(channels, feed.rows, notes, zone)


def _series(blocks: list[_Block], kind: _Type, name: str, title: str) -> Series:
    """One channel in order of time; blocks may come in any order, readings twice may not."""
    blocks = sorted((b for b in blocks if b.values), key=lambda b: b.seconds[0])
    seconds = np.array([s for b in blocks for s in b.seconds])
    values = np.array([v for b in blocks for v in b.values]) * kind.factor
    if len(seconds) < 2:
        raise UnreadableFile(name, None, f"“{title}” has fewer than two readings")
    steps = np.diff(seconds)
    if (steps <= 0).any():
        at = int(np.argmax(steps <= 0)) + 1
        what = "stands twice" if steps[at - 1] == 0 else "goes back in time"
        raise InvalidValue(f"{name}, “{title}”, reading {at + 1}", shown(seconds[at]), f"the time {what}")
    if not kind.cumulative and (values < 0).any():
        at = int(np.argmax(values < 0))
        rule = "a load draws at least 0; what is fed in belongs to a reading of its own"
        raise InvalidValue(f"{name}, “{title}”, reading {at + 1}, value", float(values[at]), rule)
    lengths = np.array([x for b in blocks for x in b.lengths])
    even = float(lengths[0]) if len(lengths) and (lengths == lengths[0]).all() and lengths[0] > 0 else None
    assert kind.unit is not None
    return Series(kind.unit, kind.cumulative, seconds, values, None if kind.cumulative else even)
