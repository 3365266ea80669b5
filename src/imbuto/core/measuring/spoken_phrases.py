"""Put how people say it into the words the readers of the text field know: hours of the day, shares of the time,
cycles, weekdays.

Each phrase that is rewritten is named in a note, so that no figure typed vanishes. What is not about a load's power at
all, such as money, is refused in a sentence.
"""

from __future__ import annotations

import re
from collections.abc import Callable

from imbuto.core.measuring.understood_text import NotUnderstood

N = r"(\d+(?:[.,]\d+)?)"
CLOCK = r"(\d{1,2})(?::(\d\d))?\s*(am|pm|a\.m\.|p\.m\.)?"
TO = r"\s*(?:to|until|till|and|–|—|-|→)\s*"
WEEK = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
DAY = r"(mon|tue|wed|thu|fri|sat|sun)[a-z]*"
SHARES = {"half": 1 / 2, "third": 1 / 3, "quarter": 1 / 4, "fifth": 1 / 5, "tenth": 1 / 10}
JUMP = re.compile(
    rf"{N}\s*(k?)w\b.{{0,12}}\b(?:jumps?|rises?|goes|climbs?)\s+(?:up\s+)?to\s+{N}\s*(k?)w\b", re.IGNORECASE
)
DAYS_OF = {"weekday": 5, "weekdays": 5, "weekend": 2, "weekends": 2}


def plainer(said: str) -> tuple[str, tuple[str, ...]]:
    """Rewrite a text, and name what was rewritten. Raises NotUnderstood for what is no reading of a load."""
    if re.search(rf"[$€£]\s*{N}|{N}\s*(?:[$€£]|usd\b|eur\b|dollars?\b|euros?\b)", said, re.IGNORECASE):
        raise NotUnderstood("reading", said, "that is money; take the kWh and the dates from the same bill")
    jump = re.search(
        rf"{N}\s*(k?)w\b.{{0,12}}\b(?:jumps?|rises?|goes|climbs?)\s+(?:up\s+)?to\s+{N}\s*(k?)w\b", said, re.I
    )
    if jump:
        low, high = _number(jump[1]) * (1000 if jump[2] else 1), _number(jump[3]) * (1000 if jump[4] else 1)
        if high > low:
            raise NotUnderstood(
                "reading",
                said,
                f"that is {low:,.0f} W all the time and a load of {high - low:,.0f} W that comes and goes; "
                "enter each by itself",
            )
    text, notes = said, []
    for pattern, write in PHRASES:
        match = pattern.search(text)
        written = write(match) if match else None
        if match and written is not None:
            text = f"{text[: match.start()]}{written}{text[match.end() :]}"
            if re.search(r"\d", match[0]):
                notes.append(f"“{match[0].strip(' ,')}” is taken as {written.strip(' ,')}.")
    return text, tuple(notes)


def _number(text: str) -> float:
    return float(text.replace(",", ".")) if re.fullmatch(r"\d+,\d{1,2}", text) else float(text.replace(",", ""))


def _plain(value: float) -> str:
    return f"{value:.4f}".rstrip("0").rstrip(".")


def _hour(hour: str, minute: str | None, half: str | None, other: str | None) -> float | None:
    """An hour of the day; of “5 and 10 pm” both are in the evening."""
    at = int(hour) + int(minute or 0) / 60
    said = (half or other or "").replace(".", "").lower()
    if at > 24 or (said and int(hour) > 12):
        return None
    if said == "pm" and int(hour) < 12:
        return at + 12
    return at - 12 if said == "am" and int(hour) == 12 else at


def _window(m: re.Match[str], begin: int = 1) -> float | None:
    """Hours between two clock times, past midnight where the second is earlier."""
    g = m.groups()[begin - 1 :]
    half, other = g[2], g[5]
    # “8 pm to 1 am” says each; “5 and 10 pm” says one for both, and “9-5” neither.
    start, end = _hour(g[0], g[1], half, other), _hour(g[3], g[4], other, half)
    if start is None or end is None or start == end:
        return None
    return (end - start) % 24


def _daily(m: re.Match[str]) -> str | None:
    if not any(m.groups()) or not (m[3] or m[6] or m[2] or m[5] or re.match(r"(?:from|between)\b", m[0], re.I)):
        return None
    hours = _window(m)
    return None if hours is None else f" for {_plain(hours)} h a day"


def _on_days(m: re.Match[str]) -> str | None:
    hours = _window(m, 2)
    if hours is None:
        return None
    if not m[4] and not m[7] and int(m[5]) < int(m[2]):  # “9-5” by somebody who says no am or pm
        hours = (int(m[5]) + 12 - int(m[2])) % 24
    return f" for {_plain(hours * DAYS_OF[m[1].lower()] / 7)} h a day"


def _days_apart(m: re.Match[str]) -> str | None:
    first, last = (next(i for i, d in enumerate(WEEK) if d.startswith(m[k].lower())) for k in (1, 5))
    start, end = _hour(m[2], m[3], m[4], None), _hour(m[6], m[7], m[8], None)
    if start is None or end is None:
        return None
    hours = 24 * ((last - first) % 7) + end - start
    return f" in {_plain(hours if hours > 0 else hours + 168)} h"


def _each(m: re.Match[str]) -> str:
    return f"{_plain(_number(m[1]) * _number(m[3]))} {m[2]} a {m[4]}"


def _on_off(m: re.Match[str]) -> str | None:
    on, off = _number(m[1]), _number(m[3])
    same = m[2] or m[4]
    if not same:
        return None
    scale = {"s": 1, "m": 60, "h": 3600}
    a, b = scale[(m[2] or same)[0].lower()] * on, scale[(m[4] or same)[0].lower()] * off
    return f" {_plain(100 * a / (a + b))} % of the time" if a + b > 0 else None


UNIT = r"(s(?:ec\w*)?|m(?:in\w*)?|h(?:ours?|rs?)?)"
PHRASES: tuple[tuple[re.Pattern[str], Callable[[re.Match[str]], str | None]], ...] = tuple(
    (re.compile(pattern, re.IGNORECASE), write)
    for pattern, write in (
        (r"\bkilowatts?\b(?![-\s]*hours?)", lambda m: "kW"),
        (r"\bamp(?:ere)?[-\s]?hours?\b", lambda m: "Ah"),
        (r"\b(\d{1,3})\.(\d{3})(?=\s*btu\b)", lambda m: f"{m[1]}{m[2]}"),
        (
            rf"\b{N}\s*(k?wh)\s*(?:per|a|an|each|every|/)\s*(?:cycle|load|run|wash|use|time)\b[\s,;:x×]*"
            rf"(?:at\s+)?{N}\s*(?:cycles?|loads?|runs?|washes|uses|times|x|×)?\s*(?:per|a|each|every|/)\s*(day|week|month)\b",
            _each,
        ),
        (
            rf"\b{N}\s*(k?wh)\s*(?:per|a|each|every|/)\s*weekday\b",
            lambda m: f"{_plain(_number(m[1]) * 5 / 7)} {m[2]} a day",
        ),
        (rf"\b(?:from\s+)?{DAY},?\s+{CLOCK}{TO}{DAY},?\s+{CLOCK}", _days_apart),
        (rf",?\s*\b(?:on\s+)?(weekdays?|weekends?),?\s+(?:from\s+|between\s+)?{CLOCK}{TO}{CLOCK}(?![\d:])", _on_days),
        (rf",?\s*\b(?:from\s+|between\s+)?{CLOCK}{TO}{CLOCK}(?!\s*[\d:%a-z°])", _daily),
        (r"\b(\d+)\s*h\s+(\d{2})(?![\d.,:/]|\s*(?:h|m|w|k|v|a|%))", lambda m: f"{m[1]} h {m[2]} min"),
        (
            r",?\s*\b(?:it\s+)?(?:runs?|is on|on)?\s*(?:about\s+)?(?:a|one)?\s*"
            r"(half|third|quarter|fifth|tenth)\s+(?:of\s+)?the time\b",
            lambda m: f" {_plain(100 * SHARES[m[1].lower()])} % of the time",
        ),
        (rf",?\s*\b{N}\s*{UNIT}?\s*on\b[\s,;]*(?:and\s+|then\s+)?{N}\s*{UNIT}?\s*off\b", _on_off),
    )
)
