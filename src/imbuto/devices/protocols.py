"""The seam a real instrument would come in through."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Protocol


@dataclass(frozen=True, slots=True)
class MeterFace:
    """What a plug-in meter shows. energy_kwh and hours since it was plugged in; lowest and highest of its own samples,
    which miss a start of under a second; volts, amps, power_factor: now."""

    load: str
    since: datetime
    hours: float
    energy_kwh: float
    now_w: float
    lowest_w: float
    highest_w: float
    volts: float
    amps: float
    power_factor: float


@dataclass(frozen=True, slots=True)
class PanelFace:
    """What a panel monitor shows: W now, of the whole panel and by circuit; off: circuits whose breaker is off."""

    at: datetime
    main_w: float
    circuit_w: dict[str, float]
    off: frozenset[str]


@dataclass(frozen=True, slots=True)
class StationFace:
    """What a power station shows.

    at: UTC
    charge: in whole percents, 0 to 1
    out_w, in_w: AC W it gives and takes
    """

    at: datetime
    charge: float
    out_w: float
    in_w: float


@dataclass(frozen=True, slots=True)
class SimulatedHousehold:
    """What hangs on a station, for one that is simulated.

    base: UTC
    load_w: mean AC W asked of it in steps of step_h hours from then on, the last one for good
    came_w: W into the battery from the sun and elsewhere, likewise
    grid: whether it is there, to pass on and to charge from
    """

    base: datetime
    step_h: float
    load_w: tuple[float, ...]
    came_w: tuple[float, ...]
    grid: bool


class StationInstrument(Protocol):
    """A power station that tells what it shows."""

    def read(self) -> StationFace:
        """What it shows. Raises OSError where it does not answer."""


class PlugMeter(Protocol):
    """A meter between an outlet and a plug."""

    def plug(self, load: str | None) -> None:
        """Plug a load in, from 0 kWh; None takes the meter out."""

    def read(self) -> MeterFace | None:
        """What it shows; None while nothing is plugged in."""


class PanelMonitor(Protocol):
    """Sensors on the circuits of a panel. It only measures: breakers are switched by hand."""

    def read(self) -> PanelFace:
        """What it shows."""
