"""Whether a station's output is on, off or to be looked at, as its lines say; and which lines are to be asked about.

A display hides small loads, and a refrigerator alone rests: 0 W with charge left means off only where something that
never rests should draw. Off is dated from the last line that shows it on to the first that shows it off."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from imbuto.core.basics.clock import FloatArray
from imbuto.core.home.live_outage import Output
from imbuto.core.outages.energy_course import EnergyCourse

SHOWN_W = 20.0  # a display may hide less than this; planning default
GRAIN = 0.01  # of a gauge that shows whole percents
GAUGE_BENDS = 0.04  # so far off a gauge may be near empty; planning default
FAR, FAR_SIGMAS = 0.06, 4.0  # a line is asked about where it is so far from what is expected; planning defaults
DRAWN_SPREAD = 0.30  # one sigma of what is drawn between two lines, before anything is learnt; planning default
AGREE = 0.03  # two lines agree where the second is so near to what the first leads to; planning default

OutputState = Literal["on", "off", "ask"]
Reason = Literal["", "said", "empty", "low", "no_watts", "charged", "past"]


@dataclass(frozen=True, slots=True)
class OutputLine:
    """What one line, or one moment of a watched station, shows of the output.

    hour: since the outage began
    charge: 0 to 1, None where it was not read
    out_w: W out, None where they were not read
    output: noted in words, empty for not said
    """

    hour: float
    charge: float | None
    out_w: float | None
    output: Output = ""


@dataclass(frozen=True, slots=True)
class OutputNow:
    """The output as the lines leave it.

    state: on, off, or to be looked at
    reason: what shows it off: it was said, its charge was well below the stop level or 0, no watts where something
        should draw; or why it is to be looked at: its charge was at the stop level, 0 W where everything may rest,
        charged after it was off, past the hour
    since_h: the last hour at which it was on, where it is not
    by_h: the first hour at which it was not
    spans: from and to, hours, in which it was off before it came on again
    """

    state: OutputState
    reason: Reason = ""
    since_h: float = 0.0
    by_h: float = 0.0
    spans: tuple[tuple[float, float], ...] = ()


def output_now(lines: Sequence[OutputLine], *, floor: float, steady_w: Callable[[float], float]) -> OutputNow:
    """Whether the output is on, as the lines leave it.

    lines: in their order; of a line that is not believed the charge is left out
    floor: charge at which it stops, 0 to 1
    steady_w: W that never rest, by hour
    """
    state: OutputState = "on"
    reason: Reason = ""
    charge: float | None = None
    on_h = off_h = 0.0
    spans: list[tuple[float, float]] = []
    for line in lines:
        found, why = _read(line, state, charge, floor, steady_w(line.hour))
        # A line that only asked shows no off: that is known from the first that does, unless it was off before.
        if found != "on" and (state == "on" or (state == "ask" and found == "off" and reason != "charged")):
            off_h = line.hour
        if found == "on":
            if state == "off":
                spans.append((off_h, line.hour))
            on_h = line.hour
        state, reason = found, why or reason
        charge = line.charge if line.charge is not None else charge
    if state == "on":
        return OutputNow("on", spans=tuple(spans))
    return OutputNow(state, reason, on_h, off_h, tuple(spans))


def overdue(output: OutputNow, now_h: float, last_h: float, late_h: float | None) -> OutputNow:
    """An output that is on by its lines is to be looked at once it has stopped in 9 of 10 cases.

    now_h: hours since the outage began
    last_h: of the last line
    late_h: the hour by which it has stopped in 9 of 10 cases, None for not in sight
    """
    if output.state != "on" or late_h is None or now_h <= late_h:
        return output
    return replace(output, state="ask", reason="past", since_h=last_h, by_h=max(late_h, last_h))


def _read(
    line: OutputLine, state: OutputState, charge: float | None, floor: float, steady_w: float
) -> tuple[OutputState, Reason]:
    """What one line shows, after a state and the charge before it; the reason is empty where it stays as it was."""
    if line.output == "off":
        return "off", "said"
    if line.output == "on" or (line.out_w or 0.0) > 0:
        return "on", ""
    if line.charge is not None and line.charge <= max(floor - GAUGE_BENDS, 0.0) + GRAIN / 2:
        return "off", "empty"
    if line.charge is not None and line.charge <= floor + GRAIN / 2:
        return (state, "") if state == "off" else ("ask", "low")
    if state == "off" and line.charge is not None and charge is not None and line.charge > charge + 2 * GRAIN:
        return "ask", "charged"
    if line.out_w is not None:
        if state == "off":
            return "off", ""
        return ("off", "no_watts") if steady_w >= SHOWN_W else ("ask", "no_watts")
    return state, ""


@dataclass(frozen=True, slots=True)
class ChargeLine:
    """A charge that was read. hour: since the outage began; sure: it was said to be right, or no hand wrote it."""

    hour: float
    charge: float
    sure: bool = False


@dataclass(frozen=True, slots=True)
class Doubt:
    """A line that is not believed until somebody says that it is right, or another line agrees with it.

    index: of the line
    before: the last charge that is believed
    expected: at the line's hour
    instead: what was probably meant, None where nothing near fits
    """

    index: int
    before: float
    expected: float
    instead: float | None


def doubts(lines: Sequence[ChargeLine], course: EnergyCourse, most_w: float) -> list[Doubt]:
    """The lines that nothing explains: a rise without charging, a fall that no load can make, one far from the others.

    lines: in their order, the first at the beginning, which is believed
    course: what the plan draws and takes in
    most_w: AC W of everything on it at once
    """
    found: list[Doubt] = []
    last = lines[0]
    for i, line in enumerate(lines[1:], 1):
        if line.sure or _follows(last, line, course, most_w):
            last = line
            continue
        after = next(iter(lines[i + 1 :]), None)
        if after is not None and _leads_to(line, after, course) and not _follows(last, after, course, most_w):
            last = line
            continue
        expected = last.charge + course.change(last.hour, line.hour)
        found.append(Doubt(i, last.charge, min(max(expected, 0.0), 1.0), _meant(last, line, course, most_w)))
    return found


def _follows(last: ChargeLine, line: ChargeLine, course: EnergyCourse, most_w: float) -> bool:
    """Whether a line can follow from the one before it, and lies where it may be expected."""
    expected = min(last.charge + course.change(last.hour, line.hour), 1.0)
    least = last.charge - course.share_of(course.drawn_wh(most_w, line.hour - last.hour)) - 2 * GRAIN
    most = last.charge + course.share_of(course.came(last.hour, line.hour)) + 2 * GRAIN
    if not least <= line.charge <= most:
        return False
    sigma = DRAWN_SPREAD * course.share_of(course.planned_wh(last.hour, line.hour)) + GRAIN
    return abs(line.charge - expected) <= max(FAR, FAR_SIGMAS * sigma)


def _leads_to(line: ChargeLine, after: ChargeLine, course: EnergyCourse) -> bool:
    sigma = DRAWN_SPREAD * course.share_of(course.planned_wh(line.hour, after.hour)) + GRAIN
    expected = line.charge + course.change(line.hour, after.hour)
    return abs(after.charge - expected) <= max(AGREE, 2 * sigma)


def _meant(last: ChargeLine, line: ChargeLine, course: EnergyCourse, most_w: float) -> float | None:
    """The same two digits the other way round, or with one of them ten more or less, where that would follow."""
    shown = round(100 * line.charge)
    swapped = int(f"{shown:02d}"[::-1]) if shown < 100 else shown
    expected = last.charge + course.change(last.hour, line.hour)
    near = sorted({swapped, *(shown + 10 * n for n in range(-9, 10))} - {shown}, key=lambda x: abs(x / 100 - expected))
    for value in (swapped, *near):
        if value != shown and 0 <= value <= 100:
            meant = ChargeLine(line.hour, value / 100)
            if _follows(last, meant, course, most_w):
                return value / 100
    return None


def without(values: FloatArray, spans: Sequence[tuple[float, float]], step_h: float) -> FloatArray:
    """Watts by step, none of them in spans of hours; (n,)."""
    left = values.copy()
    for a, b in spans:
        left[round(a / step_h) : round(b / step_h)] = 0.0
    return left
