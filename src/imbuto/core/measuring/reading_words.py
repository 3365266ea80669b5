"""The words and units that labels and readings are written in."""

from __future__ import annotations

import re

NUMBER = (
    r"\d+(?:\.\d+)?e[+-]?\d+|(?:\d+\s+)?\d+\s*/\s*\d+|[½¼¾]"
    r"|\d{1,3}(?:[ \u00a0]\d{3}(?!\d))+(?:[.,]\d+)?|\d+(?:[.,]\d+)*|[.,]\d+"
)
BTU_A_TON = 12_000.0  # BTU/h of one ton of cooling
UNITS: dict[str, tuple[str, float]] = {
    "kwh": ("wh", 1000),
    "kw h": ("wh", 1000),
    "kw-h": ("wh", 1000),
    "kw·h": ("wh", 1000),
    "wh": ("wh", 1),
    "kilowatt hours": ("wh", 1000),
    "kilowatt hour": ("wh", 1000),
    "kilowatt-hours": ("wh", 1000),
    "mwh": ("wh", 1e6),
    "watt hours": ("wh", 1),
    "watt-hours": ("wh", 1),
    "kilowatts": ("w", 1000),
    "kilowatt": ("w", 1000),
    "kw": ("w", 1000),
    "watts": ("w", 1),
    "watt": ("w", 1),
    "w": ("w", 1),
    "kva": ("va", 1000),
    "va": ("va", 1),
    "volt-amps": ("va", 1),
    "mah": ("ah", 0.001),
    "ah": ("ah", 1),
    "amp hours": ("ah", 1),
    "amp-hours": ("ah", 1),
    "ma": ("a", 0.001),
    "amperes": ("a", 1),
    "ampere": ("a", 1),
    "amps": ("a", 1),
    "amp": ("a", 1),
    "a": ("a", 1),
    "volts": ("v", 1),
    "volt": ("v", 1),
    "vac": ("v", 1),
    "vdc": ("v", 1),
    "v": ("v", 1),
    "horsepower": ("hp", 1),
    "hp": ("hp", 1),
    "btu/hr": ("btu", 1),
    "btu/h": ("btu", 1),
    "btuh": ("btu", 1),
    "btu": ("btu", 1),
    "tons": ("btu", BTU_A_TON),
    "ton": ("btu", BTU_A_TON),
    "hz": ("hz", 1),
    "percent": ("%", 1),
    "%": ("%", 1),
    "eer": ("eer", 1),
    "seer": ("eer", 1),
    "pf": ("pf", 1),
    "hours": ("h", 1),
    "hour": ("h", 1),
    "hrs": ("h", 1),
    "hr": ("h", 1),
    "h": ("h", 1),
    "minutes": ("h", 1 / 60),
    "minute": ("h", 1 / 60),
    "mins": ("h", 1 / 60),
    "min": ("h", 1 / 60),
    "m": ("h", 1 / 60),
    "days": ("h", 24),
    "day": ("h", 24),
    "d": ("h", 24),
    "weeks": ("h", 168),
    "week": ("h", 168),
    "months": ("h", 730.5),
    "month": ("h", 730.5),
    "years": ("h", 8766),
    "year": ("h", 8766),
    "times": ("times", 1),
    "time": ("times", 1),
    "°c": ("c", 1),
    "°f": ("f", 1),
    "deg c": ("c", 1),
    "deg f": ("f", 1),
}
UNIT = "|".join(sorted((re.escape(u) for u in UNITS), key=len, reverse=True))
PERIODS = {
    "h": "hour",
    "hr": "hour",
    "hour": "hour",
    "d": "day",
    "day": "day",
    "night": "night",
    "week": "week",
    "wk": "week",
    "month": "month",
    "mo": "month",
    "year": "year",
    "yr": "year",
    "y": "year",
    "annum": "year",
    "a": "year",
}
ADVERBS = {
    "yearly": "year",
    "annual": "year",
    "annually": "year",
    "daily": "day",
    "nightly": "night",
    "weekly": "week",
    "monthly": "month",
}
PERIOD = "|".join(sorted(PERIODS, key=len, reverse=True))
PIECES = re.compile(
    rf"""(?P<per>(?:/\s*|\b(?:per|each|every|a|an)\s+)(?P<period>{PERIOD})\b|\b(?P<adverb>{"|".join(ADVERBS)})\b)
    |(?P<clock>\d+:\d\d)(?:\s*(?:hours|hrs|hr|h)\b)?
    |(?P<low>{NUMBER})\s*(?P<low_unit>{UNIT})?\s*(?:-|–|—|→|->|\bto\b)\s*(?P<high>{NUMBER})\s*(?P<range_unit>{UNIT})(?![a-z])
    |(?P<times>\d+)\s*[x×]\s*(?=\d)|[x×]\s*(?P<after>\d+)\b
    |(?P<named>power\s+factor|cos\s*φ|pf|s?eer)\s*[:=]?\s*(?P<named_value>\d+(?:[.,]\d+)?|[.,]\d+)
    |(?P<minus>(?<![\w%])-\s?)?(?P<value>{NUMBER})\s*(?P<unit>{UNIT})(?![a-z])
    |(?P<bare>(?:(?<![\w%])-\s?)?(?:{NUMBER}))
    |(?P<plus>\+|\bplus\b)
    |(?P<word>[a-zà-ÿ][a-zà-ÿ'’]*)""",
    re.IGNORECASE | re.VERBOSE,
)
# Numbers in words, and what stands before them as a unit instead of after.
ONES = (
    *("zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"),
    *("thirteen", "fourteen", "fifteen", "sixteen", "seventeen", "eighteen", "nineteen"),
)
TENS = ("twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety")
NUMBERS = (
    {word: value for value, word in enumerate(ONES) if value > 1}
    | {word: 10 * value for value, word in enumerate(TENS, 2)}
    | {f"{tens}-{ones}": 10 * t + o for t, tens in enumerate(TENS, 2) for o, ones in enumerate(ONES[:10]) if o}
    | {"a dozen": 12, "dozen": 12, "a couple of": 2}
)
NUMBER_WORD = "|".join(sorted((re.escape(w) for w in NUMBERS), key=len, reverse=True))
IN_WORDS = re.compile(rf"\b({NUMBER_WORD})\b", re.IGNORECASE)
HUNDREDS = re.compile(
    rf"\b(?:(?P<thousands>a|one|{NUMBER_WORD})\s+thousand(?:\s+and)?\s*)?"
    rf"(?:(?P<hundreds>a|one|{NUMBER_WORD})\s+hundred(?:\s+and)?\s*)?(?P<rest>one|{NUMBER_WORD})?\b",
    re.IGNORECASE,
)
TURNED = re.compile(
    rf"^\s*((?:(?:{UNIT})\s*[:=]?\s*(?:{NUMBER})\s*[,;]?\s*)+)$".replace("(?:[.,]\\d+)*", "(?:\\.\\d+)?"), re.IGNORECASE
)
UNIT_FIRST = re.compile(rf"({UNIT})\s*[:=]?\s*(\d+(?:\.\d+)?)", re.IGNORECASE)
ROLES = {
    "rest": ("low", "lowest", "min", "minimum", "idle", "idles", "standby", "rest", "rests", "resting", "off"),
    "high": ("high", "highest", "max", "maximum", "peak", "peaks"),
    "start": ("start", "starts", "starting", "surge", "inrush", "lra", "rotor"),
    "average": ("average", "avg", "mean", "averages"),
    "usual": ("usual", "usually", "typical", "typically"),
    "run": ("run", "runs", "running", "on", "rated", "draws", "label"),
    "spot": ("now", "spot", "reads", "shows", "currently"),
}
ROLE_OF = {word: role for role, words in ROLES.items() for word in words}
# Words that change what a figure means: where nothing was made of one, that is said.
MEANT = {w for role in ("rest", "high", "start", "average", "usual") for w in ROLES[role]} | {
    "duty",
    "each",
    "together",
    "apiece",
    "plugged",
    *("dusk", "dawn", "sunset", "sunrise", "midnight"),
    *("night", "nights", "weekday", "weekdays", "weekend", "weekends", "sometimes", "rarely"),
}
MEANT -= {"off", "idle"}
FILLERS = {
    "in",
    "over",
    "for",
    "at",
    "and",
    "of",
    "locked",
    "ac",
    "dc",
    "used",
    "kill",
    "after",
    "it",
    "the",
    "to",
    "from",
}
