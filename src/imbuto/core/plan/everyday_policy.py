"""What a plan does on ordinary days: modes by window, and what is held for outages."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Literal

from annotated_types import Interval, Len

from imbuto.core.basics.clock import TYPICAL_DAYS, Days, Window, inside
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.units import Fraction, Ident, Name, Text, Watts

# stand: the grid carries, the store is kept full · sun: the grid carries what the sun does not · store: the store
# carries down to its hold · charge: the grid carries and fills the store · surplus: the grid carries, and what the roof
# brings beyond the house's use fills the store.
Use = Literal["stand", "sun", "store", "charge", "surplus"]
By = Literal["itself", "app", "hand"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Mode:
    """What holds in some hours.

    windows: of the week
    months: 1 to 12, none for all
    called: by the device itself
    """

    id: Ident
    name: Name
    use: Use
    windows: Annotated[tuple[Window, ...], Len(1, 24)]
    months: tuple[Annotated[int, Interval(ge=1, le=12)], ...] = ()
    called: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class CircuitSchedule:
    """A circuit of the house that is off at set hours while the grid is there.

    id: of the circuit
    off: windows of the week
    later: what its loads miss then they use afterwards, as a water heater does
    by: what switches it
    """

    id: Ident
    off: Annotated[tuple[Window, ...], Len(1, 24)]
    later: bool = True
    by: By = "itself"


@dataclass(frozen=True, slots=True, kw_only=True)
class Everyday:
    """A plan's ordinary week.

    rest: in all hours that no mode names
    called: by the device itself
    hold: share of the store kept for outages
    resume: charge at which the store carries again after its hold was met
    refill: the charge the grid fills it to at its hold
    charge_w: AC from the wall, None for all it takes
    by: who switches
    who: of what somebody throws by hand, that person
    misses: days of a month on which nobody throws it
    back_at: charge at which that person, if awake, throws it back before its hours end; None for never, and then what
        it powers is off at the hold
    sets_out: days on which folding panels stand outside
    exports: the agreement to give to the street, empty for none
    no_grid: there is none at all, and every day is as in an outage
    circuits: that are off at set hours, by circuit id
    """

    rest: Use = "stand"
    called: Text = ""
    modes: dict[str, Mode] = field(default_factory=dict)
    hold: Annotated[Fraction, Interval(le=0.95)] = 0.5
    resume: Fraction = 0.55
    refill: Fraction = 0.5
    charge_w: Watts | None = None
    by: By = "itself"
    who: Text = ""
    misses: Annotated[int, Interval(ge=0, le=31)] = 0
    back_at: Fraction | None = None
    sets_out: Days | Literal["never"] = "never"
    exports: Text = ""
    no_grid: bool = False
    circuits: dict[str, CircuitSchedule] = field(default_factory=dict)


def check_everyday(everyday: Everyday, floor: float) -> None:
    """Raise InvalidValue for hours with two modes, and a hold under the floor."""
    if everyday.hold < floor:
        raise InvalidValue(
            "everyday, hold",
            everyday.hold,
            f"choose at least the stop level of {100 * floor:.0f}%",
        )
    if everyday.resume < everyday.hold or everyday.refill < everyday.hold:
        raise InvalidValue("everyday, hold", everyday.hold, "choose figures at or above the share kept for outages")
    if everyday.back_at is not None and everyday.back_at < everyday.hold:
        rule = "choose a charge above the share you keep for outages"
        raise InvalidValue("everyday use, switched back at", everyday.back_at, rule)
    for month in range(1, 13):
        taken: list[Mode | None] = [None] * TYPICAL_DAYS.n
        for mode in everyday.modes.values():
            if mode.months and month not in mode.months:
                continue
            for i in inside(mode.windows, TYPICAL_DAYS.hour, TYPICAL_DAYS.weekend).nonzero()[0]:
                if (other := taken[i]) is not None:
                    raise InvalidValue(
                        "everyday, windows",
                        f"{other.name} and {mode.name}",
                        f"both cover the same hours in month {month}; choose one mode for each hour",
                    )
                taken[i] = mode
