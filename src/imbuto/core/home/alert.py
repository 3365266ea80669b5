"""A storm that is on its way: what was said of it, how full each store is, and what has been done so far."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Literal

from annotated_types import Len

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.moments import LocalTime
from imbuto.core.basics.units import Fraction, Ident, Name, Text

Likely = Literal["possible", "likely", "certain"]
Weather = Literal["wind", "ice", "heat"]


@dataclass(frozen=True, slots=True, kw_only=True)
class DoneTick:
    """Something done before a storm.

    who: in words
    at: local wall-clock time
    """

    who: Text = ""
    at: LocalTime


@dataclass(frozen=True, slots=True, kw_only=True)
class Alert:
    """Hold a storm that is expected.

    begins, ends: local wall-clock times
    brings: wind, ice or heat
    likely: as it was said
    area: for which places it is, by name; empty where it doesn't say
    came: by hand, from a file or a feed
    ref: how messages about it refer to it, empty for one entered by hand
    end_known: False where ``ends`` is only when the message about it lapses
    charges: of each source by its id just now
    out: sources that are broken or not there
    ticks: what is done, by item
    """

    title: Name
    begins: LocalTime
    ends: LocalTime
    brings: Annotated[tuple[Weather, ...], Len(0, 3)] = ()
    likely: Likely = "likely"
    came: Literal["by_hand", "file", "feed"] = "by_hand"
    note: Text = ""
    area: Text = ""
    ref: Text = ""
    end_known: bool = True
    charges: dict[str, Fraction] = field(default_factory=dict)
    out: tuple[Ident, ...] = ()
    ticks: dict[str, DoneTick] = field(default_factory=dict)

    @property
    def hours(self) -> float:
        """How long it is said to last, h."""
        return (self.ends - self.begins).total_seconds() / 3600


def check_alert(alert: Alert) -> None:
    """Raise InvalidValue where it ends before it begins, or its times carry a zone."""
    if alert.begins.tzinfo is not None or alert.ends.tzinfo is not None:
        raise InvalidValue("storm, times", alert.begins.isoformat(), "enter the local time without a time zone")
    if not 0 < alert.hours <= 336:
        raise InvalidValue("storm, until", alert.ends.isoformat(), "choose an end after the start, within 14 days")
