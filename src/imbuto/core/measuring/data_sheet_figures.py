"""The figures in the text of a data sheet: numbers with their units and the words that belong to them."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

NUMBER = r"[-−+]?\d{1,3}(?:[ ,.’']\d{3})+(?:[.,]\d+)?(?!\d)|[-−+]?\d+(?:[.,]\d+)?"
UNITS = {
    "kwh": ("Wh", 1000.0),
    "wh": ("Wh", 1.0),
    "kva": ("VA", 1000.0),
    "va": ("VA", 1.0),
    "kw": ("W", 1000.0),
    "w": ("W", 1.0),
    "watts": ("W", 1.0),
    "watt": ("W", 1.0),
    "wp": ("W", 1.0),
    "vdc": ("V", 1.0),
    "vac": ("V", 1.0),
    "volts": ("V", 1.0),
    "v": ("V", 1.0),
    "ah": ("Ah", 1.0),
    "amps": ("A", 1.0),
    "amp": ("A", 1.0),
    "a": ("A", 1.0),
    "ms": ("ms", 1.0),
    "milliseconds": ("ms", 1.0),
    "seconds": ("s", 1.0),
    "sec": ("s", 1.0),
    "s": ("s", 1.0),
    "°c": ("°C", 1.0),
    "°f": ("°F", 1.0),
    "kg": ("kg", 1.0),
    "lbs": ("kg", 0.45359),
    "lb": ("kg", 0.45359),
    "cycles": ("cycles", 1.0),
    "years": ("years", 1.0),
    "year": ("years", 1.0),
    "yr": ("years", 1.0),
    "db": ("dB", 1.0),
    "dba": ("dB", 1.0),
    "db(a)": ("dB", 1.0),
    "mm": ("m", 0.001),
    "cm": ("m", 0.01),
    "m": ("m", 1.0),
    "in": ("m", 0.0254),
    "l/h": ("l/h", 1.0),
    "gal/h": ("l/h", 3.78541),
    "gph": ("l/h", 3.78541),
    "l": ("l", 1.0),
    "liters": ("l", 1.0),
    "litres": ("l", 1.0),
    "gal": ("l", 3.78541),
    "gallons": ("l", 3.78541),
    "%/°c": ("%/°C", 1.0),
    "%/k": ("%/°C", 1.0),
    "hz": ("Hz", 1.0),
}
_UNIT = "|".join(sorted((re.escape(u) for u in UNITS), key=len, reverse=True))
_END = r"(?![a-z°/])"
PARTS = r"[,(/|]|\band\b"
FIGURE = re.compile(
    rf"(?:(?P<many>\d{{1,2}})\s*[x×]\s*)?(?P<low>{NUMBER})\s*(?:(?P<u1>{_UNIT}){_END})?"
    rf"(?:\s*(?:[-–—]|~(?=\d)|\bto\b|\.\.\.|…)\s*(?P<high>{NUMBER}))?[-\s]*(?P<unit>{_UNIT}){_END}",
    re.IGNORECASE,
)
NOTES = re.compile(r"(?<=[\w)°])[¹²³⁴*†‡]+")


@dataclass(frozen=True, slots=True)
class Figure:
    """A number with its unit, where it stands.

    low, high: of a range, alike for one number
    many: "2 ×" before it
    near: the words that belong to it
    line: all of it, with the heading above, but for a line of many things
    heading: above it
    """

    low: float
    high: float
    unit: str
    many: int
    near: str
    line: str
    heading: str
    words: str


def number(text: str, *, thousands: bool = True) -> float:
    """A number as written in any of the usual ways: 2,048 and 2 048 and 2.048 are thousands, 51.2 and 51,2 are not.
    thousands: False where the unit is already a thousand of another: 2.048 kWh and 2,048 kWh are two."""
    text = text.replace("−", "-").replace(" ", "").replace("’", "").replace("'", "")
    marks = [c for c in text if c in ",."]
    if len(set(marks)) == 2:
        last = max(text.rfind(","), text.rfind("."))
        text = text[:last].replace(",", "").replace(".", "") + "." + text[last + 1 :]
    elif marks and thousands and (len(marks) > 1 or re.fullmatch(r"[-+]?[1-9]\d{0,2}[,.]\d{3}", text)):
        text = text.replace(",", "").replace(".", "")
    return float(text.replace(",", "."))


def figures_in(text: str) -> Iterator[Figure]:
    heading = ""
    for raw in _lines(text):
        line = NOTES.sub("", raw).replace("℃", "°C").replace("℉", "°F").replace("º", "°").strip(" -*·|\t")
        line = _minus(re.sub(r"°\s+([CF])\b", r"°\1", line))
        matches = list(FIGURE.finditer(line))
        if not matches:
            if line and len(line) < 60:
                heading = line
            continue
        label = re.match(r"([^\d:|\t]{3,60}?)(?:[:|\t]|\s{2,}|\s?\.{3,})", line)
        for i, m in enumerate(matches):
            before = line[matches[i - 1].end() if i else 0 : m.start()]
            if i:  # what follows the figure before belongs to that one, up to a comma
                before = re.split(PARTS, before, maxsplit=1)[-1]
            after = line[m.end() : matches[i + 1].start() if i + 1 < len(matches) else len(line)]
            after = re.split(PARTS, after, maxsplit=1)[0]
            own = (label[1] + " " if label else "") + before + " " + after
            unit, factor = UNITS[m["unit"].lower()]
            low = number(m["low"], thousands=factor < 1000) * factor
            high = number(m["high"], thousands=factor < 1000) * factor if m["high"] else low
            if m["high"] and m["high"][0] in "-−" and unit not in ("°C", "°F"):
                high = abs(high)
            here = line if label or len(matches) <= 3 else own
            words = (own.lower(), f"{heading} {here}".lower(), heading.lower(), _snippet(line, m))
            yield Figure(low, high, unit, int(m["many"] or 1), *words)


def _minus(line: str) -> str:
    """A dash before a temperature is a minus, unless a figure stands before it: –20 to 50 °C, but 0 –40 °C."""
    if not re.search(r"°[CF]", line, re.IGNORECASE):
        return line
    return re.sub(
        r"(^|[^\d°CF%\s])(\s*)[–‒—](?=\d)", r"\1\2-", re.sub(r"(\bto|\bbis|\band)\s*[–‒—](?=\d)", r"\1 -", line)
    )


def _lines(text: str) -> Iterator[str]:
    """Line by line; a row of more than two filled cells is as many lines, and so is a sentence."""
    text = re.sub(
        r"(?<!\d )\b(running|rated|starting|surge|peak|continuous|output)\s+(?:watts?|wattage)"
        r"\s*(?:[:=|\t]|\.{3,}|\bof\b)?\s*"
        rf"({NUMBER})(?![\d]|[.,]\d|\s*(?:{_UNIT}){_END})",
        r"\1: \2 W,",
        text,
        flags=re.IGNORECASE,
    )
    text = re.sub(
        r"(\d)\s+(running|rated|starting|surge|peak|continuous)\s+(watts?|w)\b", r"\1 W \2,", text, flags=re.IGNORECASE
    )
    text = re.sub(
        r"(\d{3})[ \t]+(running|starting|surge|peak)\b(?!\s*(?:watts?|w|amps?|a)\b)",
        r"\1 W \2,",
        text,
        flags=re.IGNORECASE,
    )
    for line in re.split(r"\r?\n|•|(?:(?<=[a-z\d)²¹%])|(?<=[\d ][WVA])|(?<=VA)|(?<=°[CF]))\. (?=[A-Z\d])", text):
        label = ""
        for piece in line.split(";"):
            cells = [c.strip() for c in piece.split("|") if c.strip()]
            told = cells if len(cells) > 2 else [": ".join(cells)]
            if label and told[0][:1].isdigit():  # a row that goes on after a semicolon
                told = [label + told[0], *told[1:]]
            yield from told
            named = re.match(r"[^\d:|\t]{2,60}[:|\t]", told[0])
            label = named[0] if named else label


def _snippet(line: str, m: re.Match[str]) -> str:
    start, end = max(0, m.start() - 40), min(len(line), m.end() + 24)
    while start > 0 and line[start - 1].isalnum():
        start -= 1
    while end < len(line) and line[end].isalnum():
        end += 1
    return line[start:end].strip(" ,;|\t")


def says(words: str, pattern: str) -> bool:
    return re.search(pattern, words, re.IGNORECASE) is not None
