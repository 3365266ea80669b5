"""Where a time zone's clocks are set: a place good enough for the sun until the home's own is entered."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources


@dataclass(frozen=True, slots=True)
class ZonePlace:
    """The city a time zone is named for. latitude, longitude: degrees, north and east positive."""

    name: str
    latitude: float
    longitude: float


def place_of_zone(zone: str) -> ZonePlace | None:
    """The place of a time zone such as Europe/Rome, None for one without any, such as UTC."""
    return _places().get(zone)


@lru_cache(maxsize=1)
def _places() -> dict[str, ZonePlace]:
    """The table that ships with the time zones themselves: country, latitude and longitude as +DDMM[SS], zone."""
    found: dict[str, ZonePlace] = {}
    table = resources.files("tzdata").joinpath("zoneinfo", "zone.tab").read_text(encoding="utf-8")
    for line in table.splitlines():
        if not line.startswith("#"):
            _, where, zone = line.split("\t")[:3]
            latitude, longitude = re.findall(r"[+-]\d+", where)
            found[zone] = ZonePlace(zone.rpartition("/")[2].replace("_", " "), _degrees(latitude), _degrees(longitude))
    return found


def _degrees(text: str) -> float:
    sign, digits = -1.0 if text[0] == "-" else 1.0, text[1:]
    seconds = int(digits[-2:]) if len(digits) > 5 else 0
    whole = digits[:-2] if len(digits) > 5 else digits
    return round(sign * (int(whole[:-2]) + int(whole[-2:]) / 60 + seconds / 3600), 3)
