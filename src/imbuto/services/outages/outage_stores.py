"""The stores in an outage as they are shown: what each holds, whether it is on, until when, and what is asked."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal

import numpy as np

from imbuto.core.basics.units import clock_text, hours_text
from imbuto.core.home.live_outage import GaugeNote, hour_of, time_at
from imbuto.core.home.loads import PURPOSES
from imbuto.core.outages.checkpoints import first_off_feeds
from imbuto.core.outages.gauge_learning import LOW
from imbuto.core.outages.outage_changes import ends_at
from imbuto.core.outages.output_state import (
    OutputState,
)
from imbuto.core.run.run_switching import engine_of
from imbuto.services.outages.store_history import StoreHistory, clock_at, gained_h, hour_noted

# A display is that far from the planned mean before it is spoken of; planning defaults.
APART_W, APART_SHARE = 150.0, 0.5
LEAST_GAIN_H, MOST_FIRST = 1 / 12, 3  # what is worth a walk to the panel, and how many are named; planning defaults


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadLine:
    """A line's watts beside the plan's at that moment. apart: so far more that something else is on, so far
    less that what should be is not."""

    note: str
    planned_w: float
    apart: Literal["", "more", "less"]


@dataclass(frozen=True, slots=True, kw_only=True)
class LineQuestion:
    """A line that is asked about before it is believed.

    note: its id
    says: what is unlikely about it, and the question, in a sentence
    instead: the charge that was probably meant, 0 to 1, None where nothing near fits
    right: it may be right, so that somebody can say so
    """

    note: str
    says: str
    instead: float | None
    right: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstOff:
    """A circuit to switch off first. feed: its id; gains: how much longer the station lasts without it, in words."""

    feed: str
    name: str
    gains: str


@dataclass(frozen=True, slots=True, kw_only=True)
class StoreLive:
    """One store in an outage.

    charge: now, 0 to 1, give or take error
    dark_at: when it goes dark, None for not in sight
    early_at: 9 in 10 later
    late_at: 9 in 10 sooner
    promised_at: as it was expected when it began
    planned_w: what the plan draws just now, with what was taken and switched
    out_w, in_w: as shown last, None for not read
    scale: of the planned load
    idle_w: its own draw, as learnt
    apart: the load varied enough to tell the two apart
    notes: how many by hand
    streamed: it is watched
    read_at: the last, or when it began
    low_at: when it is down to a fifth
    start_at: when its generator is to be started
    since_at: where something other than the sun charged it, the reading that it all goes by from then on
    alone: it neither gives to nor takes from another store; where it does, its gauge teaches nothing yet and the hours
        are the plan's
    lines: whose watts were read
    engine: a generator of the plan is left out of the hours ahead
    output: whether its output is on, off, or to be looked at
    off_from, off_by: the last time its lines show it on and the first that shows it off; None while it is on
    off_loads: what has no power then, by name
    says: what its output's state means, in a sentence; empty while it is on
    asks: lines that are not believed until somebody says that they are right
    life: what a life depends on that it powers, by name; then only early_at is told
    first_off: what to switch off first, with the hours that each brings by itself
    """

    source: str
    name: str
    charge: float
    error: float
    floor: float
    dark_at: datetime | None
    early_at: datetime | None
    late_at: datetime | None
    promised_at: datetime | None
    planned_w: float
    out_w: float | None
    in_w: float | None
    scale: float
    idle_w: float
    apart: bool
    notes: int
    streamed: bool
    read_at: datetime
    low_at: datetime | None
    start_at: datetime | None
    since_at: datetime | None
    alone: bool
    lines: list[ReadLine]
    engine: bool
    output: OutputState
    off_from: datetime | None
    off_by: datetime | None
    off_loads: list[str]
    says: str
    asks: list[LineQuestion]
    life: list[str]
    first_off: list[FirstOff]


def store_live(k: StoreHistory) -> StoreLive:
    """A store as it is shown. Nothing is said of when one that is off will stop."""
    found, store, promise = k.found, k.run.store, k.live.promises.get(k.source.id)
    motor, since = engine_of(k.verdict.part), hour_of(k.live, k.now)
    low_h, start_h = k.dark_h(LOW) if store.floor < LOW else None, k.dark_h(motor.start_at) if motor else None
    out_w, in_w = _shown_w(k)
    runs_on = any(t.kind == "engine" and ends_at(k.live, t) > since for t in k.live.taken.values())
    off = k.output.state == "off"
    known_off = off or k.output.state == "ask"
    return StoreLive(
        source=k.source.id,
        name=k.station.name,
        charge=_charge_now(k),
        error=found.charge_error if found and not off else 0.0,
        floor=store.floor if store.floor < 1 else 0.0,  # at 1 the march only says that nobody calls on it
        dark_at=None if off else k.at(found.dark_h if found else k.run.hours),
        early_at=None if off else k.at(found.early_h if found else _low_h(k)),
        late_at=None if off or found is None else k.at(found.late_h),
        promised_at=clock_at(k.live, promise.hours if promise else None),
        planned_w=float(k.load_w[min(max(int(since / k.step_h), 0), len(k.load_w) - 1)]),
        out_w=out_w,
        in_w=in_w,
        scale=found.scale if found else 1.0,
        idle_w=found.idle_w if found else store.idle_w,
        apart=found is not None and found.apart,
        notes=len(k.lines),
        streamed=bool(k.shown),
        read_at=time_at(k.live, max([k.seen[-1].hour, *(hour_noted(k.live, n) for n in k.lines[-1:])])),
        low_at=None if off else k.at(low_h),
        start_at=None if runs_on else k.at(start_h),
        since_at=time_at(k.live, k.seen[k.first].hour) if k.first else None,
        alone=found is not None,
        lines=[_read_line(n, k) for n in k.lines if n.out_w is not None],
        engine=found is not None and motor is not None and not runs_on,
        output=k.output.state,
        off_from=_minute(k, k.output.since_h) if known_off else None,
        off_by=_minute(k, k.output.by_h) if known_off else None,
        off_loads=_off_loads(k) if off else [],
        says=_output_says(k),
        asks=_questions(k),
        life=list(k.life),
        first_off=_first_off(k) if k.output.state == "on" else [],
    )


def _first_off(k: StoreHistory) -> list[FirstOff]:
    """The first few that are still on, what matters least first; what brings less than five minutes is left out."""
    found = []
    for feed in first_off_feeds(k.verdict.part):
        hours = gained_h(k, feed.id)
        if hours is not None and hours >= LEAST_GAIN_H:
            name = k.verdict.part.target_names[feed.id]
            found.append(FirstOff(feed=feed.id, name=name, gains=f"{hours_text(hours)} longer"))
    return found[:MOST_FIRST]


def _off_loads(k: StoreHistory) -> list[str]:
    """What has no power, by name: first what a life, the house or food depends on."""
    fed = [f.load for f in k.verdict.part.fed if not f.assumed]
    return [x.name for x in sorted(fed, key=lambda x: PURPOSES.index(x.purpose))]


def _output_says(k: StoreHistory) -> str:
    """What the state of its output means, and what to do; empty while it is on."""
    o, name = k.output, k.station.name
    if o.state == "on":
        return ""
    since, by = _clock(k, o.since_h), _clock(k, o.by_h)
    if o.state == "off":
        when = f"since {by}" if by == since else f"since some time between {since} and {by}"
        why = {
            "empty": " Its charge is down to its stop level.",
            "no_watts": " Its display showed 0 W, although a load that never switches off is connected to it.",
        }.get(o.reason, "")
        return f"{name} has been off {when}.{why} Its loads are without power until you bring it back."
    if o.reason == "charged":
        return f"{name} was off and has been charged since. Is its output on again? Note “on” or “off”."
    if o.reason == "low":
        return (
            f"{name} was down to its stop level at {by}. Is its output still on? Check whether one of its loads works, "
            "and note “on” or “off”."
        )
    if o.reason == "past":
        return f"{name} has probably stopped by now. Look at its display, and note what it shows, or “off”."
    return (
        f"{name} showed 0 W at {by}. Is its output still on? Check whether one of its loads works, and note "
        "“on” or “off”."
    )


def _questions(k: StoreHistory) -> list[LineQuestion]:
    """What is asked about lines: those nothing explains, and those of a time to come."""
    found = []
    for note in k.lines:
        doubt = k.unlikely.get(note.id)
        if doubt is None or note.charge is None:
            continue
        before, shown = f"{100 * doubt.before:.0f}%", f"{100 * note.charge:.0f}%"
        if note.charge > doubt.expected and note.charge > doubt.before:
            says = f"{before} before, {shown} at {_clock(k, hour_noted(k.live, note))}, and no charging was noted."
            asks = "Was it charged?" if doubt.instead is None else f"Was that {100 * doubt.instead:.0f}%?"
        else:
            says = (
                f"{before} before, {shown} at {_clock(k, hour_noted(k.live, note))}, which is more than the "
                "plan can explain."
            )
            asks = "Is that right?" if doubt.instead is None else f"Was that {100 * doubt.instead:.0f}%?"
        found.append(LineQuestion(note=note.id, says=f"{says} {asks}", instead=doubt.instead))
    for note in k.ahead_of_clock:
        at = _clock(k, hour_noted(k.live, note))
        says = f"The reading of {at} is in the future, so it isn't counted. Undo it, and note it again."
        found.append(LineQuestion(note=note.id, says=says, instead=None, right=False))
    return found


def _minute(k: StoreHistory, hours: float) -> datetime:
    """The time of a line, to its minute: hours to come are rounded, what was noted is not."""
    return time_at(k.live, hours).replace(second=0, microsecond=0)


def _clock(k: StoreHistory, hours: float) -> str:
    return clock_text(time_at(k.live, hours))


def _low_h(k: StoreHistory) -> float | None:
    """Of a joined store what 9 in 10 of the plan's members exceed, and never more than is expected."""
    low, expected = k.verdict.band.low_h if k.verdict.band is not None else None, k.run.hours
    return low if expected is None or low is None else min(low, expected)


def _shown_w(k: StoreHistory) -> tuple[float | None, float | None]:
    """W out and in as shown last."""
    line = next((n for n in reversed(k.lines) if n.out_w is not None or n.in_w is not None), None)
    if k.shown and (line is None or line.at <= k.shown[-1].at):
        return k.shown[-1].out_w, k.shown[-1].in_w
    return (line.out_w, line.in_w) if line else (None, None)


def _read_line(noted: GaugeNote, k: StoreHistory) -> ReadLine:
    i = min(max(int(hour_of(k.live, noted.at) / k.step_h), 0), len(k.load_w) - 1)
    planned = float(k.load_w[i])
    off = (noted.out_w or 0.0) - planned
    far = abs(off) > max(APART_W, APART_SHARE * planned)
    return ReadLine(note=noted.id, planned_w=planned, apart=("more" if off > 0 else "less") if far else "")


def _charge_now(k: StoreHistory) -> float:
    """The charge just now: the last reading's, drawn on since as learnt; of a joined store by the plan's own course."""
    since, last = hour_of(k.live, k.now), k.seen[-1]
    if k.output.state == "off":
        return next((n.charge for n in reversed(k.lines) if n.charge is not None), last.charge)
    if k.found is None:
        curve = k.run.charge
        gone = np.interp([last.hour, max(since, last.hour)], np.arange(len(curve)) * k.step_h, curve)
        return min(max(last.charge + float(gone[1] - gone[0]), 0.0), 1.0)
    course = replace(k.course, scale=k.found.scale, idle_w=k.found.idle_w)
    return min(max(k.found.charge + course.change(last.hour, max(since, last.hour)), 0.0), 1.0)
