"""One line noted at a gauge: “64% 310 W in 120 W 9:20 pm”, with a counter “2.4 kWh”; several stores parted by a
semicolon."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime, timedelta

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.home.live_outage import Output

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


LOAD = re.compile(rf"\bload\s+{FIGURE}\s*(?:%|percent\b)|{FIGURE}\s*(?:%|percent\b)\s*load\b", re.IGNORECASE)
SUM = re.compile(rf"{FIGURE}\s*(k?)w\s*(?:\+|and|plus)\s*{FIGURE}\s*(k?)w\b(?!\s+in\b)", re.IGNORECASE)
STOPPED = re.compile(
    r"\b(?:(?:is|it's|went|gone|switched|output|its output|ac)\s+)*"
    r"(?:off|stopped|dark|dead|shut down|shut off|no output)\b",
    re.IGNORECASE,
)
RUNS = re.compile(r"\b(?:(?:is|it's|back|switched|output|its output|ac)\s+)*on\b", re.IGNORECASE)
EMPTY, FULL = re.compile(r"\bempty\b", re.IGNORECASE), re.compile(r"\b(?:full|fully charged)\b", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class GaugeLine:
    """What a line says.

    charge: 0 to 1, None where it was not said
    out_w, in_w: W, None where they were not said
    given_wh: on a counter of what it has given
    at: local wall-clock time
    output: said to be on or off; empty for not said
    load: of the station's continuous watts, 0 to 1, None where it was not said
    """

    charge: float | None
    out_w: float | None
    in_w: float | None
    given_wh: float | None
    at: datetime
    output: Output = ""
    load: float | None = None


WANTED = "write the display's reading, such as “64% 310 W in 120 W 9:20 pm”, “310 W”, “full” or “off”"


def understood(text: str, now: datetime) -> GaugeLine:
    """What a line noted says; a time later than now is yesterday's. Raises InvalidValue where it says nothing of the
    station, or anything that is not understood."""
    rest = text
    loaded, rest = _take(LOAD, rest)
    percent, rest = _take(PERCENT, rest)
    stopped, rest = _take(STOPPED, rest)
    runs, rest = _take(RUNS, rest) if stopped is None else (None, rest)
    empty, rest = _take(EMPTY, rest)
    full, rest = _take(FULL, rest)
    charge = _number(percent[1]) / 100 if percent is not None else 0.0 if empty else 1.0 if full else None
    if charge is not None and not 0 <= charge <= 1:
        raise InvalidValue("reading, percent", percent[1] if percent else text, "enter a percentage from 0 to 100")
    clock, rest = _take(CLOCK, rest)
    counted, rest = _take(COUNTED, rest)
    came, rest = _take(IN, rest)
    both, rest = _take(SUM, rest)
    went, rest = _take(OUT, rest) if both is None else (None, rest)
    left = re.sub(r"[\s,;·.]|(?:\b(?:at|and|out|gauge|load|charge|battery|display)\b)", "", rest, flags=re.IGNORECASE)
    if left:
        raise InvalidValue("reading", text, f"Imbuto does not understand “{left[:40]}”; {WANTED}")
    out_w = _watts(went) if both is None else sum(_number(both[i]) * (1000 if both[i + 1] else 1) for i in (1, 3))
    load = _number(loaded[1] or loaded[2]) / 100 if loaded is not None else None
    output: Output = "off" if stopped else "on" if runs else ""
    found = GaugeLine(charge, out_w, _watts(came), _watts(counted), _moment(clock, now, text), output, load)
    if output == "" and all(x is None for x in (charge, out_w, found.in_w, found.given_wh, load)):
        raise InvalidValue("reading", text, WANTED)
    return found


def of_stores(text: str, names: dict[str, str]) -> list[tuple[str | None, str]]:
    """The readings of a line, one for each percent or station's name in it.

    Each with the store that it begins with the name of, None where it begins with none; names: by id.
    """
    parts: list[str] = []
    for part in text.split(";"):
        named = any(part.strip().lower().startswith(n.lower()) for n in names.values())
        if parts and not named and not (PERCENT.search(part) and PERCENT.search(parts[-1])):
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
        raise InvalidValue("reading, time", text, "enter a time of day, such as 9:20 pm")
    at = now.replace(hour=hour, minute=minute, second=0, microsecond=0)
    return at - timedelta(days=1) if at > now + timedelta(minutes=1) else at
