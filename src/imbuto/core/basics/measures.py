"""In whose measures figures are written: everything is kept metric, and turned once where a sentence is made.

Which measures are in use is settled by whoever opens a home, for as long as it is spoken of.
"""

from __future__ import annotations

from contextvars import ContextVar
from dataclasses import dataclass
from math import ceil
from typing import Literal

System = Literal["us", "metric"]
FEET, INCHES, POUNDS, GALLONS = 0.3048, 0.0254, 0.45359237, 3.785411784  # in m, m, kg, l: exact by definition
KM_PER_MILE = 1.609344  # exact by definition


@dataclass(frozen=True, slots=True, kw_only=True)
class Measures:
    """system: US customary or metric; clock: of 12 hours with am and pm, or of 24."""

    system: System = "metric"
    clock: Literal[12, 24] = 12


IN_USE: ContextVar[Measures] = ContextVar("measures", default=Measures())  # noqa: B039, as it is frozen


def speak_in(measures: Measures) -> None:
    """Write every figure in these measures from here on, in this request or task; others keep theirs."""
    IN_USE.set(measures)


def _us() -> bool:
    return IN_USE.get().system == "us"


def degrees(celsius: float) -> float:
    """A temperature in the measures in use."""
    return celsius * 1.8 + 32 if _us() else celsius


def temp_text(celsius: float) -> str:
    """``5 °C`` or ``41 °F``; in °F without decimals, as half a degree of those is no difference."""
    return f"{round(degrees(celsius)):d} °F" if _us() else f"{celsius:.3g} °C"


def temps_text(low: float, high: float) -> str:
    """``-20 to 45 °C``."""
    return f"{temp_text(low).rsplit(' ', 1)[0]} to {temp_text(high)}"


def length_text(metres: float) -> str:
    """``10 m`` or ``35 ft``; short ones in feet with one decimal."""
    if not _us():
        return f"{_plain(metres)} m"
    feet = metres / FEET
    return f"{_plain(feet) if feet < 20 else round(feet)} ft"


def least_text(metres: float) -> str:
    """A distance that is to be kept at least, in whole metres or feet: ``6 m`` or ``20 ft``."""
    return f"{ceil(metres / FEET - 1e-9)} ft" if _us() else f"{ceil(metres - 1e-9)} m"


def distance_text(kilometers: float) -> str:
    """A long way, rounded: ``310 km`` or ``190 mi``."""
    return f"{kilometers / KM_PER_MILE:,.0f} mi" if _us() else f"{kilometers:,.0f} km"


def mass_text(kilograms: float) -> str:
    """``58 kg`` or ``128 lb``: pounds rounded up, as loads are, but for what rounding a label to grams added."""
    return f"{ceil(kilograms / POUNDS - 0.05):,d} lb" if _us() else f"{_plain(kilograms)} kg"


def volume_text(litres: float) -> str:
    """``20 l`` or ``5.3 gal``."""
    return f"{_plain(litres / GALLONS)} gal" if _us() else f"{_plain(litres)} l"


def clock_of(hour: int, minute: int) -> str:
    """``6:30 pm`` or ``18:30``."""
    if IN_USE.get().clock == 24:
        return f"{hour}:{minute:02d}"
    return f"{hour % 12 or 12}:{minute:02d} {'am' if hour < 12 else 'pm'}"


def hour_text(hour: float) -> str:
    """An hour of the day, such as 6.5: ``6:30 am`` or ``6:30``."""
    minutes = round(hour * 60) % 1440
    return clock_of(minutes // 60, minutes % 60)


def _plain(value: float) -> str:
    """At most one decimal below 100, none above, and none that is nothing."""
    return f"{value:,.0f}" if abs(value) >= 100 else f"{round(value, 1):g}"
