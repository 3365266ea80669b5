"""An outage as it is lived through: when it began, what was promised, and what the gauges said."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Annotated, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from annotated_types import Interval

from imbuto.core.basics.clock import hours_between, later
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.moments import LocalTime
from imbuto.core.basics.units import Fraction, Hours, Ident, Text, Watts

StepKind = Literal["rest", "turns", "sun", "engine", "outlet"]
Output = Literal["", "on", "off"]
# How each kind of line is called where its time is refused.
SAID = {"notes": "reading, time", "taken": "step, time", "switched": "switched, time", "opened": "opened, time"}


@dataclass(frozen=True, slots=True, kw_only=True)
class GaugeNote:
    """One line noted at a station.

    source: id of the source whose display it was
    at: local wall-clock time
    charge: 0 to 1, None where only watts or the output were noted
    out_w, in_w: on its display, None where they were not read
    given_wh: on its counter of the AC energy given, None where there is none
    output: whether its output was noted to be on or off; empty for not said
    said: as it was typed
    who: who noted it, empty for not known
    again: the second of the two times that a clock shows the same hour, when it is put back
    sure: somebody was asked whether this unlikely line is right, and said that it is
    """

    id: Ident
    source: Ident
    at: LocalTime
    charge: Fraction | None = None
    out_w: Watts | None = None
    in_w: Watts | None = None
    given_wh: Annotated[float, Interval(ge=0, le=1e9)] | None = None
    output: Output = ""
    said: Text = ""
    who: Text = ""
    again: bool = False
    sure: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Promise:
    """What was expected when it began, frozen.

    hours: to the first dark, None for still on at the end of what was looked at
    low_h: 9 in 10 exceed, likewise
    version: of the program that said so
    """

    hours: Hours | None = None
    low_h: Hours | None = None
    version: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SavingStep:
    """A step taken to last longer.

    kind: what rests altogether, takes turns with its doors shut, is moved to the sun, a generator that runs, a charge
        at somebody else's outlet
    load: that it is done with, None for the last two
    source: that gains
    at, until: local wall-clock times, until None for as long as it lasts
    """

    id: Ident
    kind: StepKind
    source: Ident
    load: Ident | None = None
    at: LocalTime
    until: LocalTime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class SlotSwitch:
    """A hand that switched a place, noted.

    feed: of the plan
    on: over to the source, or off
    """

    id: Ident
    feed: Ident
    on: bool
    at: LocalTime
    who: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class DoorOpening:
    """A cold box that was opened. minutes: how long."""

    id: Ident
    load: Ident
    at: LocalTime
    minutes: Annotated[float, Interval(gt=0, le=600)] = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Live:
    """An outage.

    began, ended: local wall-clock times, ended None while it lasts
    plan: id of the one in use, and revision: of the home when it began
    back_by: when the grid is said to return
    charges: of each source at the start
    promises: by source
    notes, taken, switched, opened: by id, in their order
    time_zone: of its clock times, such as Europe/Rome; empty for one whose hours are counted without clock changes
    """

    began: LocalTime
    plan: Ident
    revision: int = 0
    back_by: LocalTime | None = None
    charges: dict[str, Fraction] = field(default_factory=dict)
    promises: dict[str, Promise] = field(default_factory=dict)
    notes: dict[str, GaugeNote] = field(default_factory=dict)
    taken: dict[str, SavingStep] = field(default_factory=dict)
    switched: dict[str, SlotSwitch] = field(default_factory=dict)
    opened: dict[str, DoorOpening] = field(default_factory=dict)
    ended: LocalTime | None = None
    time_zone: Text = ""


def hour_of(live: Live, at: datetime, *, again: bool = False) -> float:
    """Hours from the beginning of an outage to a time on the home's clock, across clock changes; below 0 for before.

    again: the second of the two times that a clock shows the same hour; a time with ``fold`` says so itself
    """
    if not live.time_zone:
        return (at - live.began).total_seconds() / 3600
    return hours_between(live.began, at.replace(fold=int(again or at.fold == 1)), live.time_zone)


def time_at(live: Live, hours: float) -> datetime:
    """The home's clock so many hours after an outage began, across clock changes; the inverse of ``hour_of``."""
    if not live.time_zone:
        return live.began + timedelta(hours=hours)
    return later(live.began, hours, live.time_zone)


def check_live(live: Live) -> None:
    """Raise InvalidValue where its times carry a zone or run backwards."""
    if any(t is not None and t.tzinfo is not None for t in (live.began, live.back_by, live.ended)):
        raise InvalidValue("outage, times", live.began.isoformat(), "enter the local time without a time zone")
    if live.time_zone:
        try:
            ZoneInfo(live.time_zone)
        except (ZoneInfoNotFoundError, ValueError, OSError):
            raise InvalidValue("outage, time zone", live.time_zone, "use a zone name such as Europe/Rome") from None
    # In the hour that a clock shows twice, a time that does not say which of the two it is may read an hour early.
    slack = 1.0 if live.time_zone else 0.0
    if live.ended is not None and hour_of(live, live.ended) < -slack:
        raise InvalidValue("outage, ended", live.ended.isoformat(), "choose an end after the start")
    for what in ("notes", "taken", "switched", "opened"):
        for key, line in getattr(live, what).items():
            if key != line.id:
                raise InvalidValue(f"{what}/{key}/id", line.id, f"its key is “{key}”, and the two must be the same")
            if hour_of(live, line.at, again=getattr(line, "again", False)) < -slack:
                raise InvalidValue(SAID[what], line.at.isoformat(), "the outage started later")
    for step in live.taken.values():
        if step.until is not None and hour_of(live, step.until) < hour_of(live, step.at) - slack:
            raise InvalidValue("step, until", step.until.isoformat(), "choose an end after the start")
