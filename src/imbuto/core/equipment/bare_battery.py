"""Batteries without an inverter, field by field."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated

from annotated_types import Interval, Len

from imbuto.core.basics.units import (
    PLANNING,
    Amps,
    Celsius,
    FieldMeaning,
    Ident,
    Name,
    Text,
)
from imbuto.core.equipment.equipment_units import (
    Money,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Battery:
    """A bare battery, to be put in series and side by side; it has no inverter."""

    id: Annotated[Ident, FieldMeaning("ID in files")]
    name: Annotated[Name, FieldMeaning("name on screen")]
    volts: Annotated[float, Interval(ge=1, le=100), FieldMeaning("nominal voltage of one battery")]
    charged_v: Annotated[
        float,
        Interval(ge=1, le=120),
        FieldMeaning("highest voltage while charging. Must not exceed the input's limit"),
    ]
    ah: Annotated[float, Interval(ge=1, le=2_000), FieldMeaning("capacity")]
    chemistry: Annotated[Text, FieldMeaning("cell chemistry. Never connect different ones")] = "LFP"
    charge_a: Annotated[Amps, FieldMeaning("highest charging current. 0 if not listed")] = 0
    discharge_a: Annotated[Amps, FieldMeaning("highest discharge current. 0 if not listed")] = 0
    series_most: Annotated[
        int, Interval(ge=1, le=40), FieldMeaning("most batteries in series that the manufacturer allows")
    ] = 1
    parallel_most: Annotated[
        int, Interval(ge=1, le=20), FieldMeaning("most parallel strings that the manufacturer allows")
    ] = 1
    discharge_min_c: Annotated[Celsius, FieldMeaning("lowest cell temperature for output", PLANNING)] = -20
    charge_min_c: Annotated[Celsius, FieldMeaning("lowest cell temperature for charging", PLANNING)] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=200), FieldMeaning("for one")] = 0
    price: Annotated[Money, FieldMeaning("for one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("price currency")] = "USD"

    @property
    def wh(self) -> float:
        """It stores, Wh."""
        return self.volts * self.ah
