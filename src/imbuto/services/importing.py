"""Meter data taken in: read, analysed channel by channel, and noted as logged readings where a load is chosen."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from imbuto.core.errors import InvalidValue
from imbuto.core.logs import Log, LogShape, PartKind, analyse
from imbuto.services.planner import Planner

if TYPE_CHECKING:
    from imbuto.formats.meterlog import Channel

SKETCH_POINTS = 240


@dataclass(frozen=True, slots=True, kw_only=True)
class PartView:
    """One thing that switches in a channel."""

    kind: PartKind
    w: float
    duty: float
    starts_a_day: float
    minutes: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelView:
    """A channel and what was found in it.

    reading: the text that notes it; sketch_w: means of equal stretches, to draw.
    """

    name: str
    samples: int
    shape: LogShape | None
    hours: float
    gaps: int
    average_w: float
    rest_w: float
    run_w: float
    highest_w: float
    duty: float
    starts_a_day: float
    parts: list[PartView]
    sketch_w: list[float]
    reading: str
    problem: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LogView:
    """A file read: what was guessed, in sentences, and its channels."""

    rows: int
    notes: list[str]
    channels: list[ChannelView]


def look_at(planner: Planner, home_id: str, data: bytes, name: str) -> LogView:
    """Read a log against a home's clock; nothing is kept. Raises UnreadableFile, InvalidValue, NotFound."""
    from imbuto.formats import meterlog  # its dataframe library is slow to load, and only wanted here

    zone = planner.documents(planner.state(home_id)).home.site.time_zone
    log = meterlog.read(data, name, zone)
    return LogView(rows=log.rows, notes=log.notes, channels=[_channel(c) for c in log.channels])


def summary(found: Log) -> str:
    """A log's findings as the text field would take them."""
    parts = [f"log {found.hours:.0f} h", f"average {found.average_w:.1f} W"]
    if found.shape in ("cycling", "events"):
        parts += [f"rest {found.rest_w:.1f} W", f"runs {found.run_w:.0f} W"]
    return ", ".join(parts)


def _channel(c: Channel) -> ChannelView:
    sketch = [float(part.mean()) for part in np.array_split(c.watts, min(SKETCH_POINTS, len(c.watts)))]
    try:
        found = analyse(c.seconds, c.watts, c.hour_of_day)
    except InvalidValue as error:
        return ChannelView(
            name=c.name, samples=len(c.watts), shape=None, hours=0, gaps=0, average_w=0, rest_w=0, run_w=0,
            highest_w=0, duty=0, starts_a_day=0, parts=[], sketch_w=sketch, reading="", problem=error.sentence,
        )  # fmt: skip
    parts = [
        PartView(kind=p.kind, w=p.w, duty=p.duty, starts_a_day=p.starts_a_day, minutes=p.minutes) for p in found.parts
    ]
    return ChannelView(
        name=c.name, samples=len(c.watts), shape=found.shape, hours=found.hours, gaps=found.gaps,
        average_w=found.average_w, rest_w=found.rest_w, run_w=found.run_w, highest_w=found.highest_w, duty=found.duty,
        starts_a_day=found.starts_a_day, parts=parts, sketch_w=sketch, reading=summary(found), problem="",
    )  # fmt: skip
