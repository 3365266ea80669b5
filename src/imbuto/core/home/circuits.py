"""Circuits: slots, legs, breakers, shared neutrals."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Interval, Len

from imbuto.core.basics.units import Ident, Leg, Name, Text

Protection = Literal["none", "ground_fault", "arc_fault", "both"]
Slot = Annotated[int, Interval(ge=1, le=84)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Circuit:
    """One breaker and what hangs on it.

    panel: id of the sub-panel it is in, None for the main one
    slots: of that panel
    breaker_a: its rating
    poles: 2 spans both legs (240 V)
    leg: None for the leg its slot implies
    wire: its size as the wire table names it, or in words, which then counts as not known
    room: or rooms, in words
    tandem: half a slot, shared with another tandem
    traced: whether it is known what hangs on it
    protection: of the breaker
    neutral_partner: the circuit it shares a neutral with
    """

    id: Ident
    name: Name
    panel: Ident | None = None
    slots: Annotated[tuple[Slot, ...], Len(0, 4)] = ()
    breaker_a: Annotated[float, Interval(ge=1, le=400)] = 15
    poles: Literal[1, 2] = 1
    leg: Leg | None = None
    wire: Text = ""
    room: Text = ""
    traced: bool = True
    tandem: bool = False
    protection: Protection = "none"
    neutral_partner: Ident | None = None
    note: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SubPanel:
    """A further panel, behind a feeder.

    behind: id of the panel its feeder comes from, None for the main one
    feeder_slots: of the breaker there
    feeder_a: its rating
    wire, neutral_wire: sizes as the wire table names them, empty where they are not known, and a neutral that is not
        said is as thick as the others
    length_m: of the feeder, one way
    slots: the panel has
    """

    id: Ident
    name: Name
    behind: Ident | None = None
    feeder_slots: Annotated[tuple[Slot, ...], Len(0, 2)] = ()
    feeder_a: Annotated[float, Interval(ge=1, le=400)] = 60
    wire: Text = ""
    neutral_wire: Text = ""
    length_m: Annotated[float, Interval(ge=0, le=500)] = 0
    slots: Annotated[int, Interval(ge=0, le=84)] = 12
    room: Text = ""


def leg_of_slot(slot: int) -> Leg:
    """The leg a slot is on in a usual split-phase panel, which alternates by row: 1, 2 on A, 3, 4 on B, …"""
    return "A" if ((slot - 1) // 2) % 2 == 0 else "B"


def panel_leg(circuit: Circuit) -> Leg:
    """The leg a single-pole circuit is on in its own panel."""
    if circuit.leg is not None:
        return circuit.leg
    return leg_of_slot(circuit.slots[0]) if circuit.slots else "A"


def breaker_amps(continuous_a: float, other_a: float, *, full_rating: bool = False) -> float:
    """The amps to hold against a breaker: 1.25 x continuous + other (80% rule).

    full_rating: 230 V practice, where a breaker carries 100%.
    """
    return continuous_a + other_a if full_rating else 1.25 * continuous_a + other_a


def neutral_amps(leg_a_a: float, leg_b_a: float, *, split_phase: bool) -> float:
    """Amps to count in a neutral shared by two circuits: the larger on a split-phase source, as the other may be off
    and the harmonics of electronics do not cancel; the sum on a single one, or where both are on one leg."""
    return max(leg_a_a, leg_b_a) if split_phase else leg_a_a + leg_b_a
