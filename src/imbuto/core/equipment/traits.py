"""What each kind of transfer equipment is and does: a row of traits, and what stands on a drawing of it.

A new kind is a row here and a word in ``TransferKind``; nothing asks for a kind by its name.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

TransferKind = Literal[
    "cords",
    "manual_switch",
    "interlock",
    "automatic_panel",
    "relay_panel",
    "grid_parallel",
    "vehicle",
    "inverter_bypass",
    "main_gateway",
    "vehicle_main_gateway",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class Traits:
    """One kind.

    wired: it joins the house's wiring, and cords do not
    in_panel: circuits stay in their own panel, and on its legs
    levers: each place is a switch of its own, with a breaker where the maker fits one
    inlet: what comes through a cord and an inlet, and else by fixed wire
    data_cable: source and device talk, as both makers list it
    beside_mains: it has sensors on both mains and works in parallel
    from_vehicle: its source is a car
    bypass: a position of its own joins grid and circuits without the source
    passed_on: its circuits stay on the source, which passes the grid on to them and takes over by itself
    whole_panel: it stands ahead of a panel's main, so that everything behind it is live unless its breaker is open
    title: on a drawing, empty for the entry's own name
    positions: what each selects
    place_word: what a circuit is behind
    on_grid, on_source: the positions that select each, with {place} and {slot}
    takes_for: who takes what for what, with {name}
    """

    wired: bool = True
    in_panel: bool = False
    levers: bool = False
    inlet: bool = True
    data_cable: bool = False
    beside_mains: bool = False
    from_vehicle: bool = False
    bypass: bool = False
    passed_on: bool = False
    whole_panel: bool = False
    title: str = ""
    positions: tuple[str, ...] = ()
    place_word: Literal["place", "relay", "breaker"] = "place"
    on_grid: str = ""
    on_source: str = ""
    takes_for: tuple[str, ...] = ()


_SWITCH_TAKES = (
    "The switch takes {name} for a generator; {name} takes the house for any load plugged into it.",
    "The switch itself makes it impossible to connect a circuit to the grid and the station at once.",
)
_PANEL_TAKES = (
    "To the panel, {name} is a generator: the panel switches to it when the grid is "
    "off. To {name}, the panel is a load.",
)

TRAITS: dict[TransferKind, Traits] = {
    "cords": Traits(wired=False),
    "manual_switch": Traits(
        levers=True,
        positions=("lever GRID: its own breaker", "lever SOURCE: the inlet", "lever OFF: no power"),
        on_grid="lever {place} at GRID, breaker {slot} on",
        on_source="lever {place} at SOURCE, station on",
        takes_for=_SWITCH_TAKES,
    ),
    "interlock": Traits(
        in_panel=True,
        title="Panel with interlock",
        place_word="breaker",
        positions=("main ON: grid, source breaker held off", "main OFF: source breaker may close"),
        on_grid="main on, breaker {slot} on",
        on_source="main off, source breaker on, breaker {slot} on, station on",
        takes_for=_SWITCH_TAKES,
    ),
    "automatic_panel": Traits(
        data_cable=True,
        positions=("grid on: feeder from the panel", "grid off: the inlet, by itself"),
        on_grid="by itself while the grid is there",
        on_source="by itself when the grid fails, station on",
        takes_for=_PANEL_TAKES,
    ),
    "relay_panel": Traits(
        in_panel=True,
        data_cable=True,
        place_word="relay",
        positions=("grid on: the main", "grid off: the inlet, relay by relay"),
        on_grid="relay {place} closed, main on",
        on_source="relay {place} closed, parted from the main, station on",
        takes_for=_PANEL_TAKES,
    ),
    "grid_parallel": Traits(
        inlet=False,
        data_cable=True,
        beside_mains=True,
        positions=("grid on: grid and station together", "grid off: station alone"),
        on_grid="gateway connected to the grid, the station adds to it",
        on_source="gateway disconnected from the grid, station alone",
        takes_for=(
            "{name} sees the grid through the gateway and runs in step with it; circuits left in the main panel "
            "are dark.",
        ),
    ),
    "vehicle": Traits(
        inlet=False,
        data_cable=True,
        from_vehicle=True,
        positions=("grid on: the grid, car charging", "grid off: the car"),
        on_grid="gateway connected to the grid",
        on_source="gateway disconnected from the grid, car plugged in",
        takes_for=(
            "The gateway treats the car as its battery. The car sees an ordinary charger until it is asked to "
            "supply power.",
        ),
    ),
    "inverter_bypass": Traits(
        inlet=False,
        bypass=True,
        positions=("INVERTER: passes on the grid, else battery", "BYPASS: grid alone, inverter off"),
        on_grid="bypass switch at INVERTER, grid passed on",
        on_source="bypass switch at INVERTER, from the battery",
        takes_for=(
            "The inverter sees the panel as the grid and the sub-panel as its load. The bypass connects the two "
            "without it.",
        ),
    ),
    "main_gateway": Traits(
        in_panel=True,
        inlet=False,
        data_cable=True,
        bypass=True,
        whole_panel=True,
        place_word="breaker",
        positions=(
            "grid on: passed on to the whole panel",
            "grid off: station alone, all of it",
            "BYPASS: grid past it, for service",
        ),
        on_grid="gateway connected to the grid, breaker {slot} on",
        on_source="gateway disconnected from the grid, breaker {slot} on, station on",
        takes_for=(
            "{name} sees the grid through the gateway; everything behind it is live, and a circuit left off is a "
            "breaker someone opened.",
        ),
    ),
}

# A car's gateway between meter and main panel: what holds for the one and for the other holds for it.
TRAITS["vehicle_main_gateway"] = replace(
    TRAITS["main_gateway"],
    from_vehicle=True,
    positions=(
        "grid on: passed on to the whole panel, car charging",
        "grid off: the car alone, all of it",
        "BYPASS: grid past it, for service",
    ),
    on_source="gateway disconnected from the grid, breaker {slot} on, car plugged in",
    takes_for=(*TRAITS["main_gateway"].takes_for, *TRAITS["vehicle"].takes_for),
)

# A switch with levers whose circuits are never thrown back: the station stands between the wall and them all the time.
LEFT_ON_SOURCE = Traits(
    levers=True,
    passed_on=True,
    positions=("lever SOURCE: the station, which passes the grid on", "lever GRID: its own breaker, for service"),
    on_grid="lever {place} stays at SOURCE, the station passes the grid on",
    on_source="lever {place} stays at SOURCE, station on",
    takes_for=(
        "The switch stays on SOURCE. {name} takes its charging circuit for the grid and passes it on to the house.",
        "To service {name}, switch every lever to GRID first.",
    ),
)
