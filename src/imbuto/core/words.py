"""The words and units that labels and readings are written in."""

from __future__ import annotations

import re

NUMBER = (
    r"\d+(?:\.\d+)?e[+-]?\d+|(?:\d+\s+)?\d+\s*/\s*\d+|[½¼¾]"
    r"|\d{1,3}(?:[ \u00a0]\d{3})+(?:[.,]\d+)?|\d+(?:[.,]\d+)*|[.,]\d+"
)
UNITS: dict[str, tuple[str, float]] = {
    "kwh": ("wh", 1000), "kw h": ("wh", 1000), "kw-h": ("wh", 1000), "kw·h": ("wh", 1000), "wh": ("wh", 1),
    "kilowatt hours": ("wh", 1000), "kilowatt hour": ("wh", 1000), "kilowatt-hours": ("wh", 1000), "mwh": ("wh", 1e6),
    "watt hours": ("wh", 1), "watt-hours": ("wh", 1), "kilowatts": ("w", 1000), "kilowatt": ("w", 1000),
    "kw": ("w", 1000), "watts": ("w", 1), "watt": ("w", 1), "w": ("w", 1),
    "kva": ("va", 1000), "va": ("va", 1), "volt-amps": ("va", 1),
    "mah": ("ah", 0.001), "ah": ("ah", 1), "amp hours": ("ah", 1), "amp-hours": ("ah", 1),
    "ma": ("a", 0.001), "amperes": ("a", 1), "ampere": ("a", 1), "amps": ("a", 1), "amp": ("a", 1), "a": ("a", 1),
    "volts": ("v", 1), "volt": ("v", 1), "vac": ("v", 1), "vdc": ("v", 1), "v": ("v", 1),
    "horsepower": ("hp", 1), "hp": ("hp", 1), "btu/hr": ("btu", 1), "btu/h": ("btu", 1), "btuh": ("btu", 1),
    "btu": ("btu", 1), "hz": ("hz", 1), "percent": ("%", 1), "%": ("%", 1), "eer": ("eer", 1), "pf": ("pf", 1),
    "hours": ("h", 1), "hour": ("h", 1), "hrs": ("h", 1), "hr": ("h", 1), "h": ("h", 1),
    "minutes": ("h", 1 / 60), "minute": ("h", 1 / 60), "mins": ("h", 1 / 60), "min": ("h", 1 / 60), "m": ("h", 1 / 60),
    "days": ("h", 24), "day": ("h", 24), "d": ("h", 24), "weeks": ("h", 168), "week": ("h", 168),
}  # fmt: skip
UNIT = "|".join(sorted((re.escape(u) for u in UNITS), key=len, reverse=True))
PERIODS = {
    "h": "hour", "hr": "hour", "hour": "hour", "d": "day", "day": "day", "night": "night", "week": "week", "wk": "week",
    "month": "month", "mo": "month", "year": "year", "yr": "year", "y": "year", "annum": "year", "a": "year",
}  # fmt: skip
PERIOD = "|".join(sorted(PERIODS, key=len, reverse=True))
PIECES = re.compile(
    rf"""(?P<per>(?:/\s*|\b(?:per|each|every|a|an)\s+)(?P<period>{PERIOD})\b|\b(?P<adverb>yearly|annual(?:ly)?|daily|weekly|monthly)\b)
    |(?P<clock>\d+:\d\d)(?:\s*(?:hours|hrs|hr|h)\b)?
    |(?P<sign>-\s?)?(?P<low>{NUMBER})\s*(?:{UNIT})?\s*(?:-|–|—|→|->|\bto\b)\s*(?P<high>{NUMBER})\s*(?P<range_unit>{UNIT})(?![a-z])
    |(?P<times>\d+)\s*[x×]\s*(?=\d)|[x×]\s*(?P<after>\d+)\b
    |(?P<named>power\s+factor|cos\s*φ|pf|eer)\s*[:=]?\s*(?P<named_value>{NUMBER})
    |(?P<minus>-\s?)?(?P<value>{NUMBER})\s*(?P<unit>{UNIT})(?![a-z])
    |(?P<bare>(?:-\s?)?(?:{NUMBER}))
    |(?P<word>[a-zà-ÿ][a-zà-ÿ'’]*)""",
    re.IGNORECASE | re.VERBOSE,
)
ROLES = {
    "rest": ("low", "lowest", "min", "minimum", "idle", "idles", "standby", "rest", "rests", "resting", "off"),
    "high": ("high", "highest", "max", "maximum", "peak", "peaks"),
    "start": ("start", "starts", "starting", "surge", "inrush", "lra", "rotor"),
    "average": ("average", "avg", "mean", "averages"),
    "run": ("run", "runs", "running", "on", "rated", "draws", "label"),
    "spot": ("now", "spot", "reads", "shows", "currently"),
}  # fmt: skip
ROLE_OF = {word: role for role, words in ROLES.items() for word in words}
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
