"""Wire and cords: what they carry, and the volts lost on the way."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated

from annotated_types import Interval

from imbuto.core.basics.data_tables import rows
from imbuto.core.basics.units import Ident, Name

GOOD_DROP, MOST_DROP, START_DROP = 0.03, 0.05, 0.15  # shares of the volts; common practice, planning defaults


@dataclass(frozen=True, slots=True, kw_only=True)
class Wire:
    """A size of copper wire.

    metric: sold by mm²
    amps: it carries as a flexible cord
    fixed_a: as the wire of a circuit, 0 where it is too thin for one
    ohm_per_km: of one conductor at 75 °C
    """

    id: Ident
    name: Name
    metric: bool = False
    area_mm2: float
    amps: float
    fixed_a: float = 0.0
    ohm_per_km: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Cord:
    """A cord as it is laid.

    wire: id in the table
    length_m: one way
    coiled: any of it left on a reel
    chained: made of more than one
    """

    wire: Ident
    length_m: Annotated[float, Interval(ge=0.1, le=200)]
    coiled: bool = False
    chained: bool = False


@lru_cache(maxsize=1)
def wires() -> dict[str, Wire]:
    """The table by id."""
    return {row.id: row for row in rows("wires.csv", Wire)}


SIZE = re.compile(r"(\d+(?:[.,]\d+)?)\s*(awg|mm(?:²|2|\b))", re.IGNORECASE)


@lru_cache(maxsize=512)
def known_wire(text: str) -> Wire | None:
    """The table's entry that a circuit's wire names by its id or its size, such as ``12 AWG copper``; None for
    another."""
    if text.strip() in wires():
        return wires()[text.strip()]
    found = {(m[1].replace(",", "."), m[2][0].lower()) for m in SIZE.finditer(text)}
    if len(found) != 1:
        return None
    size, kind = found.pop()
    name = f"{size} AWG" if kind == "a" else f"{float(size):g} mm²"
    return next((w for w in wires().values() if w.name == name), None)


def drop_v(ohm_per_km: float, length_m: float, amps: float) -> float:
    """Volts lost there and back: 2 x length x A x ohm. length_m: one way; at 240 V the same, of 240."""
    return 2 * length_m / 1000 * ohm_per_km * amps
