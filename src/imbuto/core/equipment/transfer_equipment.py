"""Transfer equipment: switches, panels and inlets between a station and circuits, field by field."""

from __future__ import annotations

from dataclasses import dataclass, fields
from decimal import Decimal
from typing import Annotated, Literal

from annotated_types import Len

from imbuto.core.basics.units import (
    Amps,
    Count,
    FieldMeaning,
    Ident,
    Leg,
    Name,
    Text,
)
from imbuto.core.equipment.equipment_units import (
    Milliseconds,
    Money,
    OutputVolts,
)
from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.traits import LEFT_ON_SOURCE, TRAITS, Traits, TransferKind


@dataclass(frozen=True, slots=True, kw_only=True)
class TransferEquipment:
    """What joins a source to the house."""

    id: Annotated[Ident, FieldMeaning("ID in files")]
    name: Annotated[Name, FieldMeaning("name on screen")]
    kind: Annotated[TransferKind, FieldMeaning("kind of transfer equipment")]
    volts: Annotated[OutputVolts | Literal["any"], FieldMeaning("voltages it suits")] = "any"
    places: Annotated[Count, FieldMeaning("number of circuits. A 240 V circuit takes two")] = 0
    place_legs: Annotated[Text, FieldMeaning("leg of each switch slot, in order, for two-leg sources")] = ""
    place_a: Annotated[Amps, FieldMeaning("rating of one switch slot")] = 0
    place_breaker_a: Annotated[Amps, FieldMeaning("breaker in each switch slot. 0 for none")] = 0
    inlet_a: Annotated[Amps, FieldMeaning("rating of its inlet and cord")] = 0
    automatic: Annotated[bool, FieldMeaning("switches to backup by itself")] = False
    switched_neutral: Annotated[bool, FieldMeaning("also switches the neutral")] = False
    transfer_ms: Annotated[
        Milliseconds | None, FieldMeaning("transfer time. null if not listed or switched by hand")
    ] = None
    sheds: Annotated[bool, FieldMeaning("can drop circuits by itself")] = False
    tops_up: Annotated[bool, FieldMeaning("adds power from the grid while it is on")] = False
    overload_off_grid: Annotated[Text, FieldMeaning("effect of an overload without the grid")] = ""
    overload_on_grid: Annotated[Text, FieldMeaning("effect of an overload with the grid")] = ""
    electrician: Annotated[bool, FieldMeaning("breaker needed in front of it")] = True
    permit: Annotated[bool, FieldMeaning("breaker needed in front of it")] = True
    checklist: Annotated[Text, FieldMeaning("points to check before buying. Separate them with semicolons")] = ""
    price: Annotated[Money, FieldMeaning("price without labor")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("price currency")] = "USD"
    note: Annotated[Text, FieldMeaning("description")] = ""

    @property
    def traits(self) -> Traits:
        """What its kind is and does."""
        return TRAITS[self.kind]

    @property
    def in_panel(self) -> bool:
        """Whether circuits stay in their own panel, and on its legs."""
        return self.traits.in_panel

    def leg_of_place(self, place: int) -> Leg:
        """The leg a place is wired to, counted from 1."""
        legs = self.place_legs or "A"
        return "B" if legs[(place - 1) % len(legs)] == "B" else "A"


@dataclass(frozen=True, slots=True, kw_only=True)
class SwitchLeftOn(TransferEquipment):
    """A switch with levers that stays on the source, whose station passes the grid on and takes over by itself."""

    @property
    def traits(self) -> Traits:
        """What it is and does while it is left so."""
        return LEFT_ON_SOURCE


def left_on(equipment: TransferEquipment, station: Station | None) -> TransferEquipment:
    """The equipment as it acts while it stays on the source; itself where its kind has no levers to leave there."""
    if not equipment.traits.levers:
        return equipment
    plain = {f.name: getattr(equipment, f.name) for f in fields(TransferEquipment)}
    changed = {
        "automatic": True,
        "transfer_ms": station.transfer_ms if station is not None else None,
        "overload_on_grid": "the station goes back to passing the grid on",
    }
    return SwitchLeftOn(**plain | changed)
