"""Put how people say it into the words the readers of the text field know: hours of the day, shares of the time,
cycles, weekdays.

Each phrase that is rewritten is named in a note, so that no figure typed vanishes. What is not about a load's power at
all, such as money, is refused in a sentence.
"""

from __future__ import annotations

import re
from collections.abc import Callable

from imbuto.core.measuring.reading_words import HUNDREDS, IN_WORDS, NUMBER_WORD, NUMBERS
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
DAYS_IN = {"day": 1, "week": 7}
SECONDS = {"s": 1.0, "m": 60.0, "h": 3600.0}
MINUTES_A_DAY = 1440
MOST_DENOMINATOR = 16  # of a fraction that people type; above that a slash stands between two figures
MONTHS = (
    "january|february|march|april|may|june|july|august|september|october|november|december"
    "|jan|feb|mar|apr|jun|jul|aug|sept?|oct|nov|dec"
)
MONTH_DAYS = dict(
    zip(
        ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"),
        (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31),
        strict=True,
    )
)
DAYS_OF = {"weekday": 5, "weekdays": 5, "weekend": 2, "weekends": 2}


def plainer(said: str) -> tuple[str, tuple[str, ...]]:
    """Rewrite a text, and name what was rewritten. Raises NotUnderstood for what is no reading of a load."""
    if re.search(rf"[$€£]\s*{N}|{N}\s*(?:[$€£]|usd\b|eur\b|dollars?\b|euros?\b)", said, re.IGNORECASE):
        raise NotUnderstood(
            "reading", said, ("that is an amount of money; enter the kWh and the dates from the same bill")
        )
    jump = re.search(
        rf"{N}\s*(k?)w\b.{{0,12}}\b(?:jumps?|rises?|goes|climbs?)\s+(?:up\s+)?to\s+{N}\s*(k?)w\b", said, re.I
    )
    if jump:
        low, high = _number(jump[1]) * (1000 if jump[2] else 1), _number(jump[3]) * (1000 if jump[4] else 1)
        if high > low:
            raise NotUnderstood(
                "reading",
                said,
                f"that is {low:,.0f} W all the time and a load of {high - low:,.0f} W that comes and goes; enter "
                "each separately",
            )
    thousands = re.search(r"(?<![\d.,])([1-9]\d{0,2})\.(\d{3})(?![\d.,])\s*(w|watts?|va)\b", said, re.IGNORECASE)
    if thousands:  # a European label's thousands, or a meter's decimals: nobody can tell
        whole, part, unit = thousands.groups()
        rest = said[: thousands.start()], said[thousands.end() :]
        small = _plain(float(f"{whole}.{part}"))
        raise NotUnderstood(
            "reading",
            said,
            f"“{thousands[0]}” may be {int(whole + part):,} or {small} {unit}; type which it is",
            f"{rest[0]}{whole}{part} {unit}{rest[1]}",
            f"{rest[0]}{small} {unit}{rest[1]}",
        )
    if re.search(r"\b(?:3|three)[-\s]?phases?\b", said, re.IGNORECASE):
        raise NotUnderstood("reading", said, "that is three-phase; a power station supplies one phase. Enter its watts")
    settings = re.search(r"(?<![\d.,/])(\d{2,5})\s*/\s*(\d{2,5})\s*(k?w(?:atts?)?)\b(?!\s*/)", said, re.IGNORECASE)
    if settings and min(int(settings[1]), int(settings[2])) > MOST_DENOMINATOR:
        rest = said[: settings.start()], said[settings.end() :]
        each = [f"{rest[0]}{watts} {settings[3]}{rest[1]}" for watts in (settings[2], settings[1])]
        raise NotUnderstood("reading", said, f"“{settings[0]}” names two settings; enter the one you use", *each)
    text, notes = in_digits(said), []
    span = re.search(rf"\b{N}{TO}{N}\s*(h|hrs?|hours?)\s*(?:(?:a|per|each|every|/)\s*day|daily)\b", text, re.I)
    if span and re.search(r"\d\s*k?w(?:atts?)?\b", text, re.I):
        rest = text[: span.start()], text[span.end() :]
        each = [f"{rest[0]}{hours} h a day{rest[1]}" for hours in (span[1], span[2])]
        raise NotUnderstood("reading", said, f"“{span[0]}” is a range of hours; enter one figure", *each)
    for pattern, write in PHRASES:
        match = pattern.search(text)
        written = write(match) if match else None
        if match and written is not None:
            text = f"{text[: match.start()].rstrip()} {written.strip()} {text[match.end() :].lstrip()}".strip()
            if re.search(r"\d", match[0]):
                notes.append(f"“{match[0].strip(' ,')}” is taken as {written.strip(' ,')}.")
    return text, tuple(notes)


def in_digits(said: str) -> str:
    """Hundreds and thousands in words as figures, and halves beside a whole number."""
    text = re.sub(r"\b(\d+)\s*([½¼¾])", lambda m: _plain(int(m[1]) + {"½": 0.5, "¼": 0.25, "¾": 0.75}[m[2]]), said)
    text = HUNDREDS.sub(_hundreds, text)
    text = IN_WORDS.sub(lambda m: str(NUMBERS[m[1].lower()]), text)
    text = re.sub(r"\bhalf\s+an?\s+(?=k?wh\b|kilowatt)", "0.5 ", text, flags=re.IGNORECASE)
    text = re.sub(r"\ba\s+quarter\s+(?:of\s+)?an?\s+(?=k?wh\b|kilowatt)", "0.25 ", text, flags=re.IGNORECASE)
    for word, times in (("once", 1), ("twice", 2)):
        text = re.sub(
            rf"\b{word}\s+(?=(?:per|an?|each|every)\s+(?:day|week|month|year)\b|daily|weekly)",
            f"{times} times ",
            text,
            flags=re.I,
        )
    return re.sub(
        rf"\b(one|a|{NUMBER_WORD}|\d+)\s+and\s+a\s+half\b",
        lambda m: _plain(_value(m[1]) + 0.5),
        text,
        flags=re.IGNORECASE,
    )


def _value(word: str | None) -> int:
    if word is None:
        return 0
    return int(word) if word.isdigit() else NUMBERS.get(word.lower(), 1)


def _hundreds(m: re.Match[str]) -> str:
    if not m["thousands"] and not m["hundreds"]:
        return m[0]
    after = " " if m[0].endswith(" ") else ""
    return f"{1000 * _value(m['thousands']) + 100 * _value(m['hundreds']) + _value(m['rest'])}{after}"


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


def _often(m: re.Match[str], times: str, period: str, length: str, unit: str) -> str:
    """10 times a day for 3 minutes: minutes a day of what is told in watts, a share of the time of a motor."""
    days = DAYS_IN[{"daily": "day", "weekly": "week"}.get(period.lower(), period.lower())]
    minutes = _number(times) * _number(length) * SECONDS[unit[0].lower()] / 60 / days
    if re.search(r"\d\s*(?:hp|horsepower)\b", m.string, re.IGNORECASE) and minutes <= MINUTES_A_DAY:
        return f" {_plain(100 * minutes / MINUTES_A_DAY)}% of the time "
    return f" for {_plain(minutes)} min a day "


def _fraction_of_time(m: re.Match[str]) -> str | None:
    """1/4 of the time."""
    part, whole = int(m[1]), int(m[2])
    return f" {round(100 * part / whole, 2):g}% of the time " if 0 < part <= whole else None


def _each(m: re.Match[str]) -> str:
    said = (m[4] or m[5]).lower()
    period = {
        "daily": "day",
        "weekly": "week",
        "monthly": "month",
        "yearly": "year",
        "yr": "year",
        "annum": "year",
    }.get(said, said)
    return f"{_plain(_number(m[1]) * _number(m[3]))} {m[2]} a {period}"


def _in_all(m: re.Match[str]) -> str:
    """12 cycles a day of 90 Wh."""
    return f"{_plain(_number(m[1]) * _number(m[3]))} {m[4]} a {m[2]}"


def _of_an_hour(m: re.Match[str]) -> str | None:
    share = _number(m[1]) / (3600 if m[2].lower().startswith("s") else 60)
    return f" {round(100 * share, 2):g}% of the time" if 0 < share <= 1 else None


def _week_of(days: str, hours: str) -> str | None:
    if not 0 < _number(days) <= 7 or not 0 < _number(hours) <= 24:
        return None
    return f" for {_plain(_number(days) * _number(hours) / 7)} h a day"


def _counted(m: re.Match[str]) -> str | None:
    """A meter's count at the beginning and at the end."""
    low, high = _number(m[1]), _number(m[3])
    if m[2] and m[2].lower() != m[4].lower():
        return None
    return f"{_plain(round(high - low, 6))} {m[4]} {m[5]} " if high > low else None


def _every(m: re.Match[str]) -> str | None:
    """30 min every 4 hours."""
    on, whole = _number(m[1]) * SECONDS[m[2][0].lower()], _number(m[3]) * SECONDS[m[4][0].lower()]
    return f" {round(100 * on / whole, 2):g}% of the time " if 0 < on <= whole else None


def _two_states(m: re.Match[str]) -> str | None:
    """110 W for 14 min then 5 W for 22 min."""
    a, b = _number(m[2]) * SECONDS[m[3][0].lower()], _number(m[5]) * SECONDS[m[6][0].lower()]
    high, low, share = (m[1], m[4], a) if _number(m[1]) >= _number(m[4]) else (m[4], m[1], b)
    return f"{high} W {round(100 * share / (a + b), 2):g}% of the time, {low} W standby" if a + b > 0 else None


def _times_long(m: re.Match[str]) -> str:
    """6 openings of 15 s a day."""
    return f" for {_plain(_number(m[1]) * _number(m[2]) * SECONDS[m[3][0].lower()] / 60)} min a day"


def _a_metre(m: re.Match[str]) -> str:
    return f"{_plain(_number(m[1]) * _number(m[2]))} W"


def _quarters(m: re.Match[str]) -> str:
    return f" {15 * (_value(m[1]) if m[1] else 1)} min "


def _month(m: re.Match[str]) -> str:
    return f" in {MONTH_DAYS[m[1].lower()[:3]]} days "


def _on_off(m: re.Match[str]) -> str | None:
    on, off = _number(m[1]), _number(m[3])
    same = m[2] or m[4]
    if not same:
        return None
    scale = {"s": 1, "m": 60, "h": 3600}
    a, b = scale[(m[2] or same)[0].lower()] * on, scale[(m[4] or same)[0].lower()] * off
    return f" {round(100 * a / (a + b), 2):g}% of the time" if a + b > 0 else None


def _loads_long(m: re.Match[str]) -> str:
    """40 min per load, 3 loads a week."""
    minutes = _number(m[1]) * SECONDS[m[2][0].lower()] / 60 * _number(m[3]) / DAYS_IN[m[4].lower()]
    return f" for {_plain(minutes)} min a day"


def _one_day(m: re.Match[str]) -> str:
    """1 h on Sundays."""
    return f" for {_plain(_number(m[1]) * SECONDS[m[2][0].lower()] / 60 / DAYS_IN['week'])} min a day"


UNIT = r"(s(?:ec\w*)?|m(?:in\w*)?|h(?:ours?|rs?)?)"
PHRASES: tuple[tuple[re.Pattern[str], Callable[[re.Match[str]], str | None]], ...] = tuple(
    (re.compile(pattern, re.IGNORECASE), write)
    for pattern, write in (
        (r"\bkilowatts?\b(?![-\s]*hours?)", lambda m: "kW"),
        (rf"^\s*(k?wh)\s*[:=]?\s*{N}\b(?!\s*k?wh)", lambda m: f"{m[2]} {m[1]}"),
        (r",?\s*\btime\s*[:=]?\s*(\d{1,3}):(\d{2})\b", lambda m: f" in {m[1]} h {m[2]} min"),
        (rf"\bamps?\s*[:=]?\s*{N}\b(?!\s*[a-z])", lambda m: f"{m[1]} A"),
        (rf"\b{N}\s*(a|amps?)\s+(?:at|on)\s+(1[012]\d|2[0-4]\d)\b(?!\s*[\d.a-z%])", lambda m: f"{m[1]} A {m[3]} V"),
        (
            rf",?\s*\b(?:for\s+)?{N}\s*{UNIT}\s*(?:per|a|an|each|every|/)\s*(?:load|cycle|run|wash|use)\b[\s,;x×]*"
            rf"{N}\s*(?:loads?|cycles?|runs?|washes|uses|times)\s*(?:per|a|each|every|/)\s*(day|week)\b",
            _loads_long,
        ),
        (rf",?\s*\b(?:for\s+)?{N}\s*{UNIT}\s+(?:on|every|each)\s+{DAY}\b", _one_day),
        (r"\bamp(?:ere)?[-\s]?hours?\b", lambda m: "Ah"),
        (r"\b(\d{1,3})\.(\d{3})(?=\s*btu\b)", lambda m: f"{m[1]}{m[2]}"),
        (
            rf"\b{N}\s*(k?wh)\s*(?:per|a|an|each|every|/)\s*(?:cycle|load|run|wash|use|time)\b[\s,;:x×]*"
            rf"(?:at\s+)?{N}\s*(?:cycles?|loads?|runs?|washes|uses|times|x|×)?\s*"
            r"(?:(?:per|a|each|every|/)\s*(day|week|month|year|yr|annum)\b|(daily|weekly|monthly|yearly)\b)",
            _each,
        ),
        (
            rf"\b{N}\s*(k?wh)\s*,?\s*{N}\s*(?:times|x|×)\s*"
            r"(?:(?:per|a|each|every|/)\s*(day|week|month|year|yr|annum)\b|(daily|weekly|monthly|yearly)\b)",
            _each,
        ),
        (
            rf",?\s*\b(?:about\s+)?{N}\s*(?:times|x|×)\s*(?:(?:per|a|each|every|/)\s*(day|week)|(daily|weekly))\b[\s,;]*"
            rf"(?:for\s+|of\s+|at\s+)?{N}\s*{UNIT}\b(?:\s*each\b)?(?!\s*(?:per|a|an|every|/)\s*(?:day|h))",
            lambda m: _often(m, m[1], m[2] or m[3], m[4], m[5]),
        ),
        (
            rf",?\s*\b(?:for\s+)?{N}\s*{UNIT}\b(?:\s*each)?[\s,;]*{N}\s*(?:times|x|×)\s*"
            r"(?:(?:per|a|each|every|/)\s*(day|week)|(daily|weekly))\b",
            lambda m: _often(m, m[3], m[4] or m[5], m[1], m[2]),
        ),
        (
            rf"\b{N}\s*(k?wh)\s*(?:per|a|each|every|/)\s*weekday\b",
            lambda m: f"{_plain(_number(m[1]) * 5 / 7)} {m[2]} a day",
        ),
        (rf"\b(?:from\s+)?{DAY},?\s+{CLOCK}{TO}{DAY},?\s+{CLOCK}", _days_apart),
        (
            rf",?\s*\bsince\s+{DAY},?\s+{CLOCK}[\s,;]*(?:and\s+)?(?:now|until|till|to|it\s+is)\s+(?:it\s+is\s+)?{DAY},?\s+{CLOCK}",
            _days_apart,
        ),
        (rf",?\s*\b(?:on\s+)?(weekdays?|weekends?),?\s+(?:from\s+|between\s+)?{CLOCK}{TO}{CLOCK}(?![\d:])", _on_days),
        (rf",?\s*\b(?:from\s+|between\s+)?{CLOCK}{TO}{CLOCK}(?!\s*(?:[\d:%°]|(?!at\b)[a-z]))", _daily),
        (r"\b(\d+)\s*h\s+(\d{2})(?![\d.,:/]|\s*(?:h|m|w|k|v|a|%))", lambda m: f"{m[1]} h {m[2]} min"),
        (
            r",?\s*\b(?:it\s+)?(?:runs?|is on|on)?\s*(?:about\s+)?(?:a|one)?\s*"
            r"(half|third|quarter|fifth|tenth)\s+(?:of\s+)?the time\b",
            lambda m: f" {round(100 * SHARES[m[1].lower()], 2):g}% of the time",
        ),
        (r",?\s*\b(?:on\s+)?(?:for\s+)?(\d)/(\d{1,2})\s+of\s+(?:the\s+)?time\b", _fraction_of_time),
        (
            rf"^(.*?)\b{N}\s*(k?w(?:atts?)?)\s+(?:on\s+|in\s+)?(?:standby|stand-by|resting|idle)\s*[,;]\s*(?=.*\d\s*k?w\b)(.+)$",
            lambda m: f"{m[1]}{m[4]}, {m[2]} {m[3]} standby",
        ),
        (rf",?\s*\bon\s+(?:for\s+)?{N}\s*{UNIT}?[\s,;]*(?:and\s+|then\s+)?off\s+(?:for\s+)?{N}\s*{UNIT}?\b", _on_off),
        (
            r",?\s*\b(?:it\s+)?(?:runs?|is on|on)?\s*(?:for\s+)?(?:about\s+)?"
            rf"{N}\s*(s(?:ec\w*)?|min\w*)\s*(?:an|a|per|every|each|/|(?:out )?of (?:each|every|an))\s*(?:h|hr|hour)\b",
            _of_an_hour,
        ),
        (r"\b(?:a\s+|one\s+)?(?:(three|3)\s+)?quarters?\s+of\s+an?\s+hour\b", _quarters),
        (r",?\s*\b(?:every|each|per|an?)\s+(?:morning|evening|afternoon|noon)\b", lambda m: " a day "),
        (
            rf",?\s*\b(?:for\s+|runs?\s+)?{N}\s*{UNIT}\s*(?:every|each|out of(?: every)?)\s+{N}\s*{UNIT}\b(?!\s*off)",
            _every,
        ),
        (
            rf"\b{N}\s*w(?:atts?)?\s+(?:for\s+)?{N}\s*{UNIT}[\s,;]*(?:and\s+|then\s+){N}\s*w(?:atts?)?\s+(?:for\s+)?{N}\s*{UNIT}\b",
            _two_states,
        ),
        (
            rf",?\s*\b{N}\s*[a-z]+\s+of\s+{N}\s*(s(?:ec\w*)?|min\w*)\s*(?:each\s+)?(?:a|per|each|every|/)\s*day\b",
            _times_long,
        ),
        (rf"\b{N}\s*w\s*/\s*m(?:et(?:er|re))?\b[\s,;x×]*{N}\s*m(?:et(?:er|re)s?)?\b", _a_metre),
        (
            rf"\binput\s*:?\s*{N}\s*(k?w)\b(?=.*\boutput\b)[\s,;/]*(?:and\s+)?output\s*:?\s*{N}\s*(k?w)\b",
            lambda m: f"{m[1]} {m[2]}",
        ),
        (rf"^.*\bac\b.*\b(?:output|out)\s*:?\s*(?={N}\s*v(?:dc)?\b[\s,;/x×⎓]*{N}\s*a\b)", lambda m: "DC "),
        (r"\b(?:last|this|the past)\s+week\b", lambda m: " in 7 days "),
        (r"\b(?:over|on|at)\s+the\s+weekend\b(?=\s*$)", lambda m: " in 2 days "),
        (r"\byesterday\b", lambda m: " in 24 h "),
        (r"\bevery\s+(?:other|second)\s+day\b", lambda m: " every 2 days "),
        (
            rf"\b{N}\s*(?:cycles?|loads?|runs?|washes|times|x)\s*(?:per|a|each|every|/)\s*(day|week|month)\b"
            rf"[\s,;:]*(?:of|at|with|each)?\s*{N}\s*(k?wh)\b(?:\s*each\b)?",
            _in_all,
        ),
        (
            rf",?\s*\b{N}\s*days?\s*(?:a|per|each|every|/)\s*week\b[\s,;]*(?:for\s+)?{N}\s*(?:h|hrs?|hours?)\b"
            r"(?:\s*(?:a|per|each|every|/)\s*day|\s+daily)?",
            lambda m: _week_of(m[1], m[2]),
        ),
        (
            rf",?\s*\b(?:for\s+)?{N}\s*(?:h|hrs?|hours?)(?:\s*(?:a|per|each|every|/)\s*day|\s+daily)?[\s,;]*"
            rf"{N}\s*days?\s*(?:a|per|each|every|/)\s*week\b",
            lambda m: _week_of(m[2], m[1]),
        ),
        (rf"\b(?:from\s+){N}\s*(k?wh)?\s*(?:to|–|—|-|→)\s*{N}\s*(k?wh)\s+(in|over|after|within)\b", _counted),
        (rf"\bbetween\s+{N}\s+and\s+{N}(?=\s*k?(?:w|watts?|va)\b)", lambda m: f"{m[1]} to {m[2]}"),
        (rf"\b(?:for|in|of)\s+({MONTHS})\b", _month),
        (r"\b(k?w|watts?)\s+on\s+average\b", lambda m: f"{m[1]} average"),
        (
            r",?\s*\b(?:24\s*/\s*7|24\s*h(?:ours)?\s*a\s*day|day and night"
            r"|around the clock|non-?stop|continuous(?:ly)?(?! duty)|always on|all the time)(?![\w/])",
            lambda m: " average ",
        ),
        (rf",?\s*\b{N}\s+of\s+them\b", lambda m: f" x {m[1]}"),
        (rf"^\s*(\d{{1,2}})\s+{N}[-\s]*(w|watts?)\b(?=\s+[a-z])", lambda m: f"{m[1]} x {m[2]} {m[3]}"),
        (rf",?\s*\b{N}\s*{UNIT}?\s*on\b[\s,;]*(?:and\s+|then\s+)?{N}\s*{UNIT}?\s*off\b", _on_off),
    )
)
