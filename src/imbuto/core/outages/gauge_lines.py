"""One line noted at a gauge: “64 % 310 W in 120 W 9:20 pm”, with a counter “2.4 kWh”; several stores parted by a
semicolon."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime, timedelta

from imbuto.core.basics.errors import InvalidValue

FIGURE = r"(\d+(?:[.,]\d+)?)"
PERCENT = re.compile(rf"{FIGURE}\s*(?:%|percent\b)", re.IGNORECASE)
WATTS = r"\d+(?:[.,]\d+)?\s*k?w\b"
SAYS_OUT = rf"\s+out\b(?!\s+{WATTS})"  # “out” that belongs to the watts before it
IN = re.compile(
    rf"\bin\s+{FIGURE}\s*(k?)w\b(?!{SAYS_OUT})|{FIGURE}\s*(k?)w\s+in\b(?!\s+{WATTS}(?!{SAYS_OUT}))", re.IGNORECASE
)
OUT = re.compile(rf"(?:\bout\s+)?{FIGURE}\s*(k?)w\b(?:\s+out\b)?", re.IGNORECASE)
COUNTED = re.compile(rf"{FIGURE}\s*(k?)wh\b(?:\s+(?:out|given|so far)\b)?", re.IGNORECASE)
CLOCK = re.compile(r"\b(?:at\s+)?(\d{1,2})(?::(\d{2}))?\s*(am|pm)\b|\b(?:at\s+)?(\d{1,2}):(\d{2})\b", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class GaugeLine:
    """What a line says.

    charge: 0 to 1
    given_wh: on a counter of what it has given
    at: local wall-clock time
    """

    charge: float
    out_w: float | None
    in_w: float | None
    given_wh: float | None
    at: datetime


def understood(text: str, now: datetime) -> GaugeLine:
    """What a line noted says; a time later than now is yesterday's. Raises InvalidValue where it says no percent, or
    anything that is none of its figures."""
    rest = text
    percent, rest = _take(PERCENT, rest)
    if percent is None:
        raise InvalidValue("reading", text, "the gauge's percent is wanted, such as “64 % 310 W in 120 W 9:20 pm”")
    charge = _number(percent[1]) / 100
    if not 0 <= charge <= 1:
        raise InvalidValue("reading, percent", percent[1], "from 0 to 100 is wanted")
    clock, rest = _take(CLOCK, rest)
    counted, rest = _take(COUNTED, rest)
    came, rest = _take(IN, rest)
    went, rest = _take(OUT, rest)
    left = re.sub(r"[\s,;·.]|(?:\b(?:at|and|out|gauge|load|charge)\b)", "", rest, flags=re.IGNORECASE)
    if left:
        raise InvalidValue("reading", text, f"“{left[:40]}” is not understood; percent, W, in W, kWh and a time are")
    return GaugeLine(charge, _watts(went), _watts(came), _watts(counted), _moment(clock, now, text))


def of_stores(text: str, names: dict[str, str]) -> list[tuple[str | None, str]]:
    """The readings of a line, one for each percent in it, each with the store that it begins with the name of, None
    where it begins with none; names: by id."""
    parts: list[str] = []
    for part in text.split(";"):
        if parts and not (PERCENT.search(part) and PERCENT.search(parts[-1])):
            parts[-1] += f" ; {part}"
        else:
            parts.append(part)
    found: list[tuple[str | None, str]] = []
    for part in (p.strip() for p in parts):
        ident = next((i for i, n in names.items() if part.lower().startswith(n.lower())), None)
        found.append((ident, part[len(names[ident]) :].strip(" :,") if ident else part))
    return found


def _take(pattern: re.Pattern[str], text: str) -> tuple[re.Match[str] | None, str]:
    found = pattern.search(text)
    return (found, text) if found is None else (found, f"{text[: found.start()]} {text[found.end() :]}")


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _watts(found: re.Match[str] | None) -> float | None:
    if found is None:
        return None
    groups = [g for g in found.groups() if g is not None]
    return _number(groups[0]) * (1000 if len(groups) > 1 and groups[1].lower() == "k" else 1)


def _moment(found: re.Match[str] | None, now: datetime, text: str) -> datetime:
    if found is None:
        return now
    hour, minute = int(found[1] or found[4]), int(found[2] or found[5] or 0)
    if found[3]:
        if not 1 <= hour <= 12:
            raise InvalidValue("reading, time", text, "a clock with am or pm goes from 1 to 12")
        hour = hour % 12 + (12 if found[3].lower() == "pm" else 0)
    if hour > 23 or minute > 59:
        raise InvalidValue("reading, time", text, "a time of the day is wanted, such as 9:20 pm")
    at = now.replace(hour=hour, minute=minute, second=0, microsecond=0)
    return at - timedelta(days=1) if at > now + timedelta(minutes=1) else at
