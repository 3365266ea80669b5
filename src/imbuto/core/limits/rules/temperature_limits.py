"""Limit 14: the temperatures at which a station supplies power."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.measures import temp_text, temps_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.limit_registry import LimitRow
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.sources import SPOT_WORDS
from imbuto.core.plan.system import Part


def _temperature(part: Part, station: Station, outage: Outage) -> Iterator[Limit]:
    at = outage.at(part.source)
    ok = station.discharge_min_c <= at <= station.discharge_max_c
    spot = SPOT_WORDS[part.source.spot]
    yield Limit(
        id="temperature",
        family="temperature",
        title="Cold and heat",
        kind="yes_no",
        ok=ok,
        source=part.source.id,
        sentence=f"{spot.capitalize()} it is {temp_text(at)}; {station.name} supplies power from "
        f"{temps_text(station.discharge_min_c, station.discharge_max_c)}.",
    )


ROWS = (
    LimitRow(
        number=14,
        page="temperature",
        families=("temperature",),
        state="too_cold",
        answers=("indoors",),
        check=lambda c: _temperature(c.part, c.station, c.outage),
    ),
)
