"""Each device of a plan with its places, and the outlets of each station, as the interface draws them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from imbuto.core.advice.answer import Answer
from imbuto.core.plan.system import Part, Wiring, circuits_beneath


@dataclass(frozen=True, slots=True, kw_only=True)
class BoardView:
    """A device with its places, or a source's outlets.

    device: its id, empty for cords
    station: of the source, empty for none
    legs: how many its source has
    place_legs: of each place in order, empty where circuits keep their panel's
    panel: id of the one it stands at, None for the main one
    beneath: of gear that makes a whole panel live, the circuits behind it
    """

    device: str
    source: str
    name: str
    equipment: str
    station: str
    places: int
    used: int
    word: Literal["places", "outlets"]
    legs: int
    place_legs: list[str]
    panel: str | None
    behind: str | None
    whole_panel: bool
    beneath: list[str]


def boards(answer: Answer) -> list[BoardView]:
    """Every device of a plan with its places, and the outlets of what feeds none or cords beside one."""
    return [_board(port) for x in answer.wirings if not (isinstance(x, Part) and x.waits) for port in x.ports]


def _board(port: Wiring) -> BoardView:
    equipment, device = port.equipment, port.device
    station = port.station if isinstance(port, Part) else None
    outlets = equipment.places if equipment.traits.wired else station.outlets if station else 0
    own = equipment.traits.wired and not equipment.in_panel
    beneath = circuits_beneath(port)
    return BoardView(
        device=device.id if device else "",
        source=port.source.id if isinstance(port, Part) else "main",
        name=equipment.name,
        equipment=equipment.id,
        station=station.name if station else "",
        places=len(beneath) if equipment.traits.whole_panel else outlets,
        used=len(port.places_used()),
        word="places" if equipment.traits.wired else "outlets",
        legs=len(station.legs) if station else 0,
        place_legs=[equipment.leg_of_place(p) for p in range(1, equipment.places + 1)] if own else [],
        panel=device.panel if device else None,
        behind=device.behind if device else None,
        whole_panel=equipment.traits.whole_panel,
        beneath=list(beneath),
    )
