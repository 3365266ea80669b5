"""Solar panels, field by field."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated

from annotated_types import Interval, Len

from imbuto.core.basics.units import (
    PLANNING,
    Celsius,
    FieldMeaning,
    Ident,
    Name,
)
from imbuto.core.equipment.equipment_units import (
    Money,
    PercentPerC,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Panel:
    """A solar panel, as its label and data sheet say."""

    id: Annotated[Ident, FieldMeaning("ID in files")]
    name: Annotated[Name, FieldMeaning("name on screen")]
    w: Annotated[float, Interval(ge=1, le=2_000), FieldMeaning("rated DC power at 1,000 W/m² and 25 °C cells")]
    voc_v: Annotated[float, Interval(ge=1, le=500), FieldMeaning("open-circuit voltage")]
    vmp_v: Annotated[float, Interval(ge=1, le=500), FieldMeaning("at full power")]
    isc_a: Annotated[float, Interval(ge=0.1, le=100), FieldMeaning("short-circuit current")]
    imp_a: Annotated[float, Interval(ge=0.1, le=100), FieldMeaning("at full power")]
    voc_percent_c: Annotated[
        PercentPerC | None, FieldMeaning("change of the open-circuit voltage. null if not listed")
    ] = None
    vmp_percent_c: Annotated[
        PercentPerC, FieldMeaning("change of the voltage at full power. null if not listed", PLANNING)
    ] = -0.36
    power_percent_c: Annotated[PercentPerC, FieldMeaning("change of the power", PLANNING)] = -0.38
    noct_c: Annotated[Celsius, FieldMeaning("cell temperature at 800 W/m² and 20 °C air", PLANNING)] = 45
    max_v: Annotated[
        float, Interval(ge=10, le=1_500), FieldMeaning("highest voltage of a string with this panel", PLANNING)
    ] = 600
    portable: Annotated[bool, FieldMeaning("folding panel, set up by hand")] = False
    weatherproof: Annotated[bool, FieldMeaning("may stay outside in rain")] = True
    weight_kg: Annotated[float, Interval(ge=0, le=200), FieldMeaning("for one")] = 0
    length_m: Annotated[float, Interval(ge=0, le=10), FieldMeaning("for one")] = 0
    width_m: Annotated[float, Interval(ge=0, le=10), FieldMeaning("for one")] = 0
    price: Annotated[Money, FieldMeaning("for one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("price currency")] = "USD"
