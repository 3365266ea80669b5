"""What a circuit's log tells: base, what switches on and off and how often, bumps, spikes, riders, the day's profile.

Edges, not levels: a rise is paired with the fall of its size that follows, and rises of one size are one appliance.
That reads a pump of a few minutes as well as a compressor, and two appliances on one circuit apart.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import combinations
from typing import Literal

import numpy as np

from imbuto.core.basics.clock import BoolArray, FloatArray
from imbuto.core.basics.errors import InvalidValue

LogShape = Literal["steady", "cycling", "events", "varying", "profile"]
PartKind = Literal["main", "bump", "spike", "rider"]

LEAST_SAMPLES = 12
COARSE_S = 600.0  # samples longer apart give averages and profiles only
LEAST_EDGE_W = 6.0
NOISE_EDGES = 6.0  # an edge stands out from the noise by so many sigmas
SAME_SIZE = 0.30  # rises within this share of each other are one appliance
GAP_FACTOR = 3.0  # a hole is a gap when it is so many steps long
RARE_DUTY = 0.08  # what runs less than this comes in events
SPIKE_MIN = 2.0
RARE_PART = 0.2  # sizes seen a fifth as often as the commonest are appliances of their own
BUMP_A_DAY = 8.0
SEEN_STEPS = 2.5  # a run shorter than so many steps is averaged with the rest beside it
MOST_SPANS = 400
EDGES_OFTEN = 8.0  # the ninth tenth so far above the third quarter is edges, not noise
LEAST_LONE = 4  # fewer single samples that stick out are a sensor's whim


@dataclass(frozen=True, slots=True)
class LogPart:
    """One thing that switches.

    w: above what ran before
    duty: share of the time on
    minutes: mean length of a run
    spans: first and last sample of each run, the earliest MOST_SPANS, to mark them where the log is drawn
    """

    kind: PartKind
    w: float
    duty: float
    starts_a_day: float
    minutes: float
    spans: tuple[tuple[int, int], ...] = ()


@dataclass(frozen=True, slots=True)
class Log:
    """What was found. W as measured.

    hours: covered by samples, gaps out
    profile_w: mean by hour of day, 24
    run_seen: whether runs are long enough against the steps for run_w to be what it draws, not a mean over a pause
    """

    shape: LogShape
    hours: float
    gaps: int
    average_w: float
    rest_w: float
    run_w: float
    highest_w: float
    duty: float
    cycle_h: float | None
    starts_a_day: float
    parts: tuple[LogPart, ...]
    profile_w: tuple[float, ...]
    run_seen: bool = True


def analyse(seconds: FloatArray, watts: FloatArray, hour_of_day: FloatArray | None = None) -> Log:
    """Analyse a log.

    seconds: ascending, shape (n,)
    watts: mean or sampled W, shape (n,), finite, not negative
    hour_of_day: local, for the profile, shape (n,); by default counted from the first sample

    Raises InvalidValue.
    """
    _check(seconds, watts)
    step_s = float(np.median(np.diff(seconds)))
    held_s = np.minimum(np.diff(seconds, append=seconds[-1] + step_s), GAP_FACTOR * step_s)
    gap = np.diff(seconds) > GAP_FACTOR * step_s
    held_s[:-1][gap] = step_s
    hours = float(held_s.sum()) / 3600
    average = float((watts * held_s).sum() / held_s.sum())
    by_hour = _profile(hour_of_day if hour_of_day is not None else seconds / 3600 % 24, watts, held_s, average)
    highest = float(watts.max())
    if step_s > COARSE_S:
        low = float(np.percentile(watts, 5))
        return Log("profile", hours, int(gap.sum()), average, low, highest, highest, 1.0, None, 0.0, (), by_hour, False)
    smooth = _median3(watts)
    rest = _base(smooth)
    parts = _parts(smooth, rest, gap, step_s, hours)
    if not parts or len(parts[0].spans) == 1:  # one run only may be the log's first sample
        parts = _lone(watts, smooth, gap, step_s, hours) or parts
    main = next((p for p in parts if p.kind == "main"), None)
    if main is None:
        spread = float(np.percentile(smooth, 95) - np.percentile(smooth, 5))
        varying = spread > max(LEAST_EDGE_W, 0.25 * average)
        run = float(np.percentile(smooth, 95)) if varying else average
        shape: LogShape = "varying" if varying else "steady"
        return Log(
            shape,
            hours,
            int(gap.sum()),
            average,
            rest if varying else average,
            run,
            highest,
            1.0,
            None,
            0.0,
            (),
            by_hour,
        )
    return Log(
        "events" if main.duty < RARE_DUTY else "cycling",
        hours,
        int(gap.sum()),
        average,
        rest,
        rest + main.w,
        highest,
        main.duty,
        24 / main.starts_a_day if main.starts_a_day else None,
        main.starts_a_day,
        parts,
        by_hour,
        main.minutes * 60 >= SEEN_STEPS * step_s,
    )


def _check(seconds: FloatArray, watts: FloatArray) -> None:
    if len(seconds) != len(watts) or len(seconds) < LEAST_SAMPLES:
        raise InvalidValue("log", len(watts), f"at least {LEAST_SAMPLES} samples are needed to see anything")
    if not np.isfinite(watts).all() or not np.isfinite(seconds).all():
        raise InvalidValue("log", "an invalid value", "every sample must be a number")
    if (watts < 0).any():
        row = int(np.argmax(watts < 0))
        raise InvalidValue(f"log, sample {row + 1}", float(watts[row]), "a load draws at least 0 W")
    if (np.diff(seconds) <= 0).any():
        row = int(np.argmax(np.diff(seconds) <= 0)) + 1
        raise InvalidValue(f"log, sample {row + 1}", "its time", "each sample must be later than the one before")


def _profile(hour: FloatArray, watts: FloatArray, held_s: FloatArray, average: float) -> tuple[float, ...]:
    """Mean W by hour of day; an hour never seen gets the average."""
    index = hour.astype(int) % 24
    energy = np.bincount(index, watts * held_s, 24)
    held = np.bincount(index, held_s, 24)
    return tuple(float(e / h) if h > 0 else average for e, h in zip(energy, held, strict=True))


def _median3(watts: FloatArray) -> FloatArray:
    """Single-sample spikes out, edges kept."""
    if len(watts) < 3:
        return watts
    before, here, after = watts[:-2], watts[1:-1], watts[2:]
    middle = np.maximum(np.minimum(before, here), np.minimum(np.maximum(before, here), after))
    return np.concatenate([watts[:1], middle, watts[-1:]])


def _base(smooth: FloatArray) -> float:
    """What flows when nothing is on: the middle of the lowest level."""
    low = float(np.percentile(smooth, 2))
    near = smooth[smooth <= low + max(3.0, 0.15 * low)]
    return float(np.median(near))


@dataclass(slots=True)
class _Run:
    """A rise paired with its fall: sample indices and W."""

    start: int
    end: int
    w: float


def _parts(smooth: FloatArray, rest: float, gap: BoolArray, step_s: float, hours: float) -> tuple[LogPart, ...]:
    """Everything that switches, the one with most energy first."""
    edges = _edges(smooth, gap)
    groups = _by_size(_pair(edges, len(smooth)))
    most = max((len(g) for g in groups), default=0)
    sizes = [float(np.median([r.w for r in g])) for g in groups if len(g) >= RARE_PART * most]
    groups = _by_size(_pair(_split(edges, sizes), len(smooth)))
    found = []
    for group in groups:
        on_h = sum(r.end - r.start for r in group) * step_s / 3600
        w = float(np.median([r.w for r in group]))
        spans = tuple((r.start, r.end) for r in sorted(group, key=lambda r: r.start)[:MOST_SPANS])
        duty_, minutes = min(on_h / hours, 1.0), 60 * on_h / len(group)
        found.append((w * on_h, LogPart("rider", w, duty_, 24 * len(group) / hours, minutes, spans)))
    found.sort(key=lambda pair: -pair[0])
    if not found:
        return ()
    energy, main = found[0]
    named = [replace(main, kind="main")]
    for other, part in found[1:]:
        if other < 0.002 * energy and part.minutes < SPIKE_MIN:
            continue
        named.append(replace(part, kind=_kind(part, main)))
    return tuple(named)


def _lone(watts: FloatArray, smooth: FloatArray, gap: BoolArray, step_s: float, hours: float) -> tuple[LogPart, ...]:
    """Runs of one sample each, which the smoothing takes out: something short, where they are many and of a size."""
    steps = np.diff(smooth)
    steps[gap] = 0.0
    noise = _noise(steps)
    at = np.flatnonzero(watts - smooth > max(LEAST_EDGE_W, NOISE_EDGES * noise))
    if len(at) < LEAST_LONE:
        return ()
    w = float(np.median((watts - smooth)[at]))
    spans = tuple((int(i), int(i) + 1) for i in at[:MOST_SPANS])
    return (LogPart("main", w, len(at) / len(watts), 24 * len(at) / hours, step_s / 60, spans),)


def _kind(part: LogPart, main: LogPart) -> PartKind:
    if part.minutes <= SPIKE_MIN:
        return "spike"
    return "bump" if part.w > main.w and part.starts_a_day < min(BUMP_A_DAY, main.starts_a_day / 2) else "rider"


def _noise(steps: FloatArray) -> float:
    """One sigma of what changes by noise alone: nine steps in ten, or three in four where edges come that often.

    The middle would be fooled by a sensor that cuts off at 0.
    """
    most, many = (float(p) for p in np.percentile(np.abs(steps), (90, 75)))
    return many / 1.15 if most > EDGES_OFTEN * max(many, 0.1) else most / 1.645


def _edges(smooth: FloatArray, gap: BoolArray) -> list[tuple[int, float]]:
    """Sample index and signed W of every edge; a ramp over neighbouring samples is one edge; none across a gap."""
    steps = np.diff(smooth)
    steps[gap] = 0.0
    noise = _noise(steps)
    least = max(LEAST_EDGE_W, NOISE_EDGES * noise)
    edges: list[tuple[int, float]] = []
    last, size = -2, 0.0
    for i in np.flatnonzero(np.abs(steps) > max(LEAST_EDGE_W / 3, 3 * noise)):
        step = float(steps[i])
        if i == last + 1 and (step > 0) == (size > 0):
            size += step
            edges[-1] = (edges[-1][0], size)
        else:
            size = step
            edges.append((int(i) + 1, size))
        last = int(i)
    return [(i, w) for i, w in edges if abs(w) >= least]


def _split(edges: list[tuple[int, float]], sizes: list[float]) -> list[tuple[int, float]]:
    """Edges of two appliances that switched within one sample, taken apart: a + b, or a going on as b goes off."""
    found: list[tuple[int, float]] = []
    for at, w in edges:
        size, sign = abs(w), 1.0 if w > 0 else -1.0
        if any(abs(size - s) <= SAME_SIZE / 2 * s for s in sizes):
            found.append((at, w))
            continue
        pairs = list(combinations(sorted(sizes, reverse=True), 2))
        both = next(((a, b) for a, b in pairs if abs(a + b - size) <= SAME_SIZE / 4 * size), None)
        cross = next(((a, -b) for a, b in pairs if abs(a - b - size) <= SAME_SIZE / 4 * size), None)
        parts = both or cross
        found += [(at, sign * part) for part in parts] if parts else [(at, w)]
    return found


def _pair(edges: list[tuple[int, float]], n: int) -> list[_Run]:
    """Each fall ends the open rise nearest its size; what fits none ends several, or is a thing on from the start."""
    runs: list[_Run] = []
    open_: list[tuple[int, float]] = []
    for at, w in edges:
        if w > 0:
            # The same size again means that the fall of the one before was missed.
            open_ = [o for o in open_ if abs(o[1] - w) > SAME_SIZE / 3 * w]
            open_.append((at, w))
            continue
        fitting = [o for o in open_ if abs(o[1] + w) <= SAME_SIZE * max(o[1], -w)]
        if fitting:
            best = min(fitting, key=lambda o: (round(abs(o[1] + w) / -w, 1), -o[0]))
            runs.append(_Run(best[0], at, best[1]))
            open_.remove(best)
        elif open_ and abs(sum(o[1] for o in open_) + w) <= SAME_SIZE * -w:
            runs += [_Run(o[0], at, o[1]) for o in open_]  # several went off at once
            open_.clear()
        elif not open_ and not runs:
            runs.append(_Run(0, at, -w))  # on when the log began
        elif open_ and -w > open_[-1][1]:
            runs.append(_Run(open_[-1][0], at, open_[-1][1]))
            open_.pop()
    if open_:
        typical = float(np.median([r.end - r.start for r in runs])) if runs else n
        runs += [_Run(at, n, w) for at, w in open_ if n - at <= 3 * typical or not runs]
    return runs


def _by_size(runs: list[_Run]) -> list[list[_Run]]:
    """Runs whose W lie close together are one appliance; one that came once or twice only in a long log is none."""
    groups: list[list[_Run]] = []
    for run in sorted(runs, key=lambda r: r.w):
        if (
            groups
            and run.w <= groups[-1][-1].w * (1 + SAME_SIZE / 2) + 2
            and run.w <= groups[-1][0].w * (1 + 2 * SAME_SIZE)
        ):
            groups[-1].append(run)
        else:
            groups.append([run])
    most = max((len(g) for g in groups), default=0)
    return [g for g in groups if len(g) >= 2 or most < 4]
