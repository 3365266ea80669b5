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
