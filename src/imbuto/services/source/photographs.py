"""What a photographed label or display says: each value with its place in the picture, for a person to confirm."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from imbuto.core.basics.elsewhere import run_elsewhere
from imbuto.core.measuring.data_sheet_meanings import SheetKind
from imbuto.formats.photograph import Box, Photograph, PictureLine, photograph
from imbuto.services.source.own_equipment import read_label

What = Literal["equipment", "load", "gauge"]
NEAR = 0.06  # two figures of a label that should agree may differ by so much; labels are rounded
NUMBER = r"(?<![\w.,])(\d{1,3}(?:[,.]\d{3})+|\d+(?:[.,]\d+)?)"
FIGURE = re.compile(
    rf"{NUMBER}\s*(k?Wh(?:\s*(?:/|per)\s*(?:yr|year|annum|day))?|Ah|VA|k?W|V|A|Hz|%)(?![\w°])", re.IGNORECASE
)
# What a load's reading takes; frequencies and the like are on every label and say nothing of it.
READINGS = ("w", "v", "a", "wh", "va")
OUT = re.compile(r"\b(?:out(?:put)?|load|ac\s*out|discharg\w*)\b", re.IGNORECASE)
IN = re.compile(r"\b(?:in(?:put)?|charg\w*|solar|pv|grid)\b", re.IGNORECASE)


@dataclass(frozen=True, slots=True, kw_only=True)
class PhotoValue:
    """One value that was read.

    field: of equipment its field; else the unit
    value: as it is typed into the form or the line
    words: the line of the picture it stands in
    box: where that is; None where the words stand in several lines
    sure: how sure the reader is of that line, 0 to 1
    confirmed: the other words on the label that say the same; empty where none do, and then a person has to look
    ask: why to look at it first
    """

    field: str
    value: str
    words: str
    box: Box | None
    sure: float
    confirmed: str
    ask: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class PhotoView:
    """A photograph that was read. Nothing of it is kept or taken.

    picture: as a data address, of width by height pixels
    left: lines with figures that were not understood
    missing: fields of equipment that must still be given
    """

    picture: str
    width: int
    height: int
    values: list[PhotoValue]
    left: list[str]
    missing: list[str]


@dataclass(frozen=True, slots=True)
class Figure:
    """A number with a unit. value: in the unit without its k; unit: in lower case."""

    value: float
    unit: str
    said: str
    line: PictureLine

    @property
    def typed(self) -> str:
        """As a person would type it."""
        return re.sub(r"^([\d.,]+)\s*", r"\1 ", re.sub(r"\s+", " ", self.said))


def photographed(data: bytes, name: str, what: What, kind: SheetKind = "stations") -> PhotoView:
    """Read a photograph of a label or a display. Raises UnreadableFile, NoReader."""
    seen = run_elsewhere(photograph, data, name)
    figures = list(_figures(seen.lines))
    if what == "equipment":
        sheet = read_label(kind, seen.text)
        values = []
        for f in sheet.found:
            line = _line_of(f.words, seen.lines)
            said = next((_agrees(x, figures) for x in figures if line and x.line is line and x.said in f.words), "")
            values.append(
                PhotoValue(
                    field=f.field,
                    value=f.value,
                    words=line.text if line else f.words,
                    box=line.box if line else None,
                    sure=line.sure if line else 0.0,
                    confirmed=said,
                    ask=f.ask,
                )
            )
        return _view(seen, values, list(sheet.left), list(sheet.missing))
    values = _gauge(figures, seen.lines) if what == "gauge" else _reading(figures)
    used = {v.words for v in values}
    left = [x.text for x in seen.lines if re.search(r"\d", x.text) and x.text not in used]
    return _view(seen, values, left, [])


def _view(seen: Photograph, values: list[PhotoValue], left: list[str], missing: list[str]) -> PhotoView:
    return PhotoView(
        picture=seen.picture, width=seen.width, height=seen.height, values=values, left=left, missing=missing
    )


def _figures(lines: Sequence[PictureLine]) -> Iterator[Figure]:
    for line in lines:
        for m in FIGURE.finditer(line.text):
            value, unit = _number(m[1]), m[2].lower().replace(" ", "")
            if unit.startswith("k"):
                value, unit = 1000 * value, unit[1:]
            yield Figure(value, unit, m[0], line)


def _number(text: str) -> float:
    """1,200 and 1.200 are thousands; 1,5 and 1.5 are not."""
    grouped = re.fullmatch(r"\d{1,3}(?:[.,]\d{3})+", text)
    return float(re.sub(r"[.,]", "", text)) if grouped else float(text.replace(",", "."))


def _agrees(x: Figure, figures: Sequence[Figure]) -> str:
    """The words of the label that confirm a figure: the same one once more, or volts and amps that make its watts."""
    again = next((f for f in figures if f.line is not x.line and (f.unit, f.value) == (x.unit, x.value)), None)
    if again:
        return again.line.text
    for whole, one, other in (("w", "v", "a"), ("va", "v", "a"), ("wh", "v", "ah")):
        if x.unit not in (whole, one, other):
            continue
        for p in (f for f in figures if f.unit == whole):
            for v in (f for f in figures if f.unit == one):
                for a in (f for f in figures if f.unit == other):
                    if x in (p, v, a) and abs(v.value * a.value - p.value) <= NEAR * p.value:
                        return ", ".join(f.typed for f in (p, v, a) if f is not x)
    return ""


def _reading(figures: Sequence[Figure]) -> list[PhotoValue]:
    """Watts, volts, amps and energy of a load's label, each once."""
    found: dict[tuple[str, float], Figure] = {}
    for f in figures:
        if f.unit.split("/")[0].split("per")[0] in READINGS and f.value > 0:
            found.setdefault((f.unit, f.value), f)
    return [_value(f, f.typed, _agrees(f, figures)) for f in found.values()]


def _gauge(figures: Sequence[Figure], lines: Sequence[PictureLine]) -> list[PhotoValue]:
    """Charge, watts in and watts out of a station's display."""
    values = [_value(f, f.typed, _agrees(f, figures)) for f in figures if f.unit == "%" and f.value <= 100][:1]
    for f in (f for f in figures if f.unit == "w"):
        way = _way(f, figures, lines)
        words = {"in": f"in {f.typed}", "out": f"{f.typed} out"}.get(way, f.typed)
        values.append(_value(f, words, "", "" if way else "Is that power in, or out?"))
    return values


def _way(f: Figure, figures: Sequence[Figure], lines: Sequence[PictureLine]) -> str:
    """Whether watts on a display come in or go out: by the words in their line, else in the line above or below."""
    own = _ways(f.line.text)
    if len(own) == 1:
        return own[0]
    there = [x for x in figures if x.line is f.line and x.unit == "w"]
    if own and len(own) == len(there):
        return own[there.index(f)]
    at = lines.index(f.line)
    for near in (at - 1, at + 1):
        if 0 <= near < len(lines) and not any(x.line is lines[near] and x.unit == "w" for x in figures):
            ways = _ways(lines[near].text)
            if len(ways) == len(there):
                return ways[there.index(f)]
    return ""


def _ways(text: str) -> list[str]:
    found = [(m.start(), "out") for m in OUT.finditer(text)] + [(m.start(), "in") for m in IN.finditer(text)]
    return [way for _, way in sorted(found)]


def _value(f: Figure, value: str, confirmed: str, ask: str = "") -> PhotoValue:
    return PhotoValue(
        field=f.unit, value=value, words=f.line.text, box=f.line.box, sure=f.line.sure, confirmed=confirmed, ask=ask
    )


def _line_of(words: str, lines: Sequence[PictureLine]) -> PictureLine | None:
    """The line in which words of the sheet stand: the one that shares most of their pieces."""
    pieces = set(words.split())
    best = max(lines, key=lambda x: len(pieces & set(x.text.split())), default=None)
    return best if best and pieces & set(best.text.split()) else None
