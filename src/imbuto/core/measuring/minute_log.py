"""Minute means of what an instrument tells, kept under a bound, with its gaps.

What is told counts at the moment it arrives: a sender's clock may be wrong. A value stands until the next one, for
five minutes at most; what nothing was told of is a gap, not 0 W.
"""

from __future__ import annotations

import math
from collections import OrderedDict
from dataclasses import asdict, dataclass, field
from typing import Any, Literal

Meaning = Literal["W", "Wh", "V", "A", "%"]
MOST_MINUTES = 14 * 1440  # two weeks; planning default
MOST_W = 100_000.0  # more is no house
SILENT_S = 300.0  # so long without a word and the instrument is told as silent; planning default
HOLDS_S = (
    300.0  # so long a value stands for the minutes until the next one: the slowest plugs report so; planning default
)
OF_LATE = 0.2  # the weight of the newest distance; planning default
SEES_STARTS_S = 0.1  # a meter that reads more seldom misses the peak of a start; planning default
LONGEST_STEP_S = 900.0  # a counter read further apart says nothing of the minutes between


@dataclass(slots=True)
class MinuteLog:
    """One quantity that comes in.

    meaning: its unit; a counter in Wh becomes the W between two of its readings
    minutes: minute since 1970 → (sum, how many), oldest first
    last, last_at: the last value that counted, and when it came, s since 1970
    resets: how often a counter began again
    refused: how many values could not be: not finite, or beyond what a house draws
    every_s: s between two values, of late; None before the second
    """

    meaning: Meaning
    minutes: OrderedDict[int, tuple[float, int]] = field(default_factory=OrderedDict)
    last: float | None = None
    last_at: float = 0.0
    resets: int = 0
    refused: int = 0
    every_s: float | None = None
    lowest: float | None = None
    highest: float | None = None

    def take(self, value: float, at: float, *, retained: bool = False) -> None:
        """Take a value in. at: s since 1970 when it arrived; retained: the broker kept it from some earlier time, so it
        says what the state was, and nothing of this minute."""
        if not math.isfinite(value) or abs(value) > self._most:
            self.refused += 1
            return
        before, before_at = self.last, self.last_at
        if self.last is not None and at < self.last_at:
            at = self.last_at  # the machine's own clock was set back
        self.last, self.last_at = value, at
        if retained:
            return
        if before is not None:
            apart = at - before_at
            self.every_s = apart if self.every_s is None else self.every_s + OF_LATE * (apart - self.every_s)
        if self.meaning != "Wh":
            if before is not None and 60 < at - before_at <= HOLDS_S:
                for minute in range(int(before_at // 60) + 1, int(at // 60)):
                    self._add(before, minute * 60)
            self._add(value, at)
            return
        if before is None:
            return
        if value < before:
            self.resets += 1
            return
        if 0 < at - before_at <= LONGEST_STEP_S:
            watts = (value - before) * 3600 / (at - before_at)
            if watts > MOST_W:
                self.refused += 1
                return
            for minute in range(int(before_at // 60), int(at // 60) + 1):
                self._add(watts, minute * 60)

    @property
    def _most(self) -> float:
        return 1e12 if self.meaning == "Wh" else 100.0 if self.meaning == "%" else MOST_W

    def _add(self, value: float, at: float) -> None:
        minute = int(at // 60)
        total, many = self.minutes.get(minute, (0.0, 0))
        self.minutes[minute] = (total + value, many + 1)
        self.lowest = value if self.lowest is None else min(self.lowest, value)
        self.highest = value if self.highest is None else max(self.highest, value)
        while len(self.minutes) > MOST_MINUTES:
            self.minutes.popitem(last=False)

    def means(self) -> list[tuple[int, float]]:
        """Each minute something came in, s since 1970 at its start, and its mean; oldest first."""
        return [(m * 60, total / many) for m, (total, many) in sorted(self.minutes.items())]

    def hours(self) -> float:
        """Hours in which something came in: gaps do not count."""
        return len(self.minutes) / 60

    def gap_hours(self) -> float:
        """Hours between the first minute and the last in which nothing came."""
        if not self.minutes:
            return 0.0
        return (max(self.minutes) - min(self.minutes) + 1) / 60 - self.hours()

    def energy_wh(self) -> float:
        """Wh over the minutes in which something came in."""
        return sum(mean for _, mean in self.means()) / 60

    def silent(self, now: float) -> bool:
        """Whether nothing has come in for so long that its last value says nothing of now."""
        return self.last is None or now - self.last_at > SILENT_S

    @property
    def start_at_least(self) -> float | None:
        """W that a start reached at least, by an instrument too slow to see its peak; None where it is fast enough, or
        nothing came in."""
        slow = self.every_s is not None and self.every_s > SEES_STARTS_S
        return self.highest if slow and self.meaning == "W" else None

    def state(self) -> dict[str, Any]:
        """All of it, as JSON takes it."""
        return {**asdict(self), "minutes": [[m, *x] for m, x in self.minutes.items()]}


def from_state(said: dict[str, Any]) -> MinuteLog:
    """A log as it was put into words. Raises TypeError, ValueError, KeyError for what none was."""
    minutes = OrderedDict((int(m), (float(total), int(many))) for m, total, many in said["minutes"])
    return MinuteLog(**{**said, "minutes": minutes})
