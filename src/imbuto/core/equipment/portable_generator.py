"""Generators, field by field."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated

from annotated_types import Interval, Len

from imbuto.core.basics.units import (
    PLANNING,
    Amps,
    FieldMeaning,
    Ident,
    Name,
    Text,
    VoltAmps,
    Watts,
)
from imbuto.core.equipment.equipment_units import (
    Fuel,
    Money,
    OutputVolts,
    Restart,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Generator:
    """An engine with an outlet."""

    id: Annotated[Ident, FieldMeaning("ID in files")]
    name: Annotated[Name, FieldMeaning("name on screen")]
    volts: Annotated[OutputVolts, FieldMeaning("output voltage")] = "120"
    running_w: Annotated[float, Interval(ge=50, le=50_000), FieldMeaning("continuous output at sea level")]
    rated_va: Annotated[VoltAmps, FieldMeaning("continuous VA at sea level. 0 if the label lists only watts")] = 0
    surge_w: Annotated[Watts, FieldMeaning("surge VA for motor starts")] = 0
    fuel: Annotated[Fuel, FieldMeaning("fuel")] = "petrol"
    half_l_h: Annotated[float, Interval(ge=0.01, le=50), FieldMeaning("liters per hour at half load")]
    full_l_h: Annotated[float, Interval(ge=0.01, le=50), FieldMeaning("liters per hour at full load")]
    tank_l: Annotated[float, Interval(ge=0, le=1_000), FieldMeaning("tank size")] = 0
    start: Annotated[Restart, FieldMeaning("starts by itself when called", PLANNING)] = "by_hand"
    plug: Annotated[Text, FieldMeaning("rating of its large outlet")] = ""
    outlet_a: Annotated[Amps, FieldMeaning("rating of its large outlet")] = 0
    bonded_neutral: Annotated[bool, FieldMeaning("neutral is bonded to the frame")] = False
    noise_db: Annotated[float, Interval(ge=0, le=120), FieldMeaning("noise at 7 m")] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=2_000), FieldMeaning("weight without fuel")] = 0
    price: Annotated[Money, FieldMeaning("for one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("price currency")] = "USD"
