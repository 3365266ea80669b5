"""Find a town by its name: where it is, and its time zone."""

from __future__ import annotations

import csv
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources

MOST_TOWNS = 8  # offered for what is typed so far


@dataclass(frozen=True, slots=True, kw_only=True)
class Town:
    """Describe a town of 15,000 people or more.

    region: the state's code in the US, empty elsewhere
    country: its ISO code
    latitude, longitude: degrees, north and east positive
    """

    name: str
    region: str
    country: str
    latitude: float
    longitude: float
    time_zone: str

    @property
    def place(self) -> str:
        """Name the town so that it is found again: ``Springfield, IL, US``."""
        return ", ".join(x for x in (self.name, self.region, self.country) if x)


def towns_named(text: str, most: int = MOST_TOWNS) -> list[Town]:
    """List the largest towns whose names begin with a text; ``Springfield, MO`` names the state or country too.

    Accents, case and punctuation don't matter. Empty for fewer than two letters.
    """
    name, _, rest = text.partition(",")
    begins, also = _key(name), {w.upper() for w in _key(rest).split()}
    if len(begins) < 2:
        return []
    found = []
    for town in _beginning_with(begins, whole=bool(rest.strip())):
        if all(town.region.startswith(w) or town.country.startswith(w) for w in also):
            found.append(town)
        if len(found) == most:
            break
    return found


def town_named(text: str) -> Town | None:
    """Return the largest town of exactly that name, None where the table has none."""
    return next((t for t in towns_named(text, most=200) if _key(t.name) == _key(text.partition(",")[0])), None)


def _beginning_with(begins: str, *, whole: bool) -> Iterator[Town]:
    table, sought = _table(), f"\n{begins}{',' if whole else ''}"
    at = table.find(sought)
    while at >= 0:
        end = table.find("\n", at + 1)
        _, name, region, country, latitude, longitude, zone = next(csv.reader([table[at + 1 : end]]))
        yield Town(
            name=name,
            region=region,
            country=country,
            latitude=float(latitude),
            longitude=float(longitude),
            time_zone=zone,
        )
        at = table.find(sought, end)


def _key(text: str) -> str:
    plain = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode()
    return " ".join("".join(c if c.isalnum() else " " for c in plain.casefold()).split())


@lru_cache(maxsize=1)
def _table() -> str:
    """The table as text, searched as it is: 34,000 rows as objects would take 20 MB."""
    return resources.files("imbuto.core").joinpath("data", "towns.csv").read_text(encoding="utf-8")
