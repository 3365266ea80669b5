"""What a text says, and the refusal of one that says nothing certain."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Literal

from imbuto.core.basics.errors import ImbutoError, ended, sentences, shown
from imbuto.core.basics.units import number_text

ReadingKind = Literal["log", "meter", "rating", "spot", "yearly", "gauge", "levels", "start"]

MOST_W = 50_000.0
MOST_HOURS = 8_784.0


class NotUnderstood(ImbutoError):
    """A text that says nothing certain. suggestion: what was likely meant, to be sent back as it is; may be empty;
    other: a second thing it may mean; comes: what each of the two would be understood as, in words, empty where that
    wants more still."""

    kind = "not_understood"

    def __init__(self, field: str, value: object, rule: str, suggestion: str = "", other: str = "") -> None:
        super().__init__(field, value, rule)
        self.suggestion, self.other = suggestion, other
        self.comes = ("", "")

    def told(self, comes_to: Callable[[str], str]) -> NotUnderstood:
        """The same, with what its suggestions come to."""
        self.comes = (comes_to(self.suggestion) if self.suggestion else "", comes_to(self.other) if self.other else "")
        return self

    @property
    def sentence(self) -> str:
        each = (("Did you mean", self.suggestion, self.comes[0]), ("Or", self.other, self.comes[1]))
        asked = "".join(f" {word} “{text}”? {comes}" for word, text, comes in each if text)
        return f"{ended(f'{shown(self.value)}: {self.rule[:1]}{sentences(self.rule)[1:]}')}{asked}".rstrip()


@dataclass(frozen=True, slots=True)
class ReadText:
    """What a text says. W and VA of one piece; hours over which energy_wh was counted; percent as read off a gauge.

    kind: how it was come by
    name: words before the figures, a load's name perhaps
    count: pieces, where it is said
    all: whether average_w is of all pieces together, and of whole days
    va: an upper bound of running VA
    highest_w: the meter's highest, which bounds the running W and misses a start
    high_w: what running may rise to
    hours_a_day: so long a day it runs, or is plugged in
    duty: share of the time it runs
    spread: of a guess given as a range
    load_percent: of a station's rating
    room_c: °C of the room then
    begins, ends: of a bill with dates, the last one out
    in_wh: what came into the station meanwhile
    step: of the gauge, points
    echo: the same in plain words
    notes: what to mind
    """

    kind: ReadingKind
    name: str = ""
    count: int = 1
    counted: bool = False
    average_w: float | None = None
    all: bool = False
    run_w: float | None = None
    rest_w: float | None = None
    highest_w: float | None = None
    high_w: float | None = None
    start_va: float | None = None
    va: float | None = None
    power_factor: float | None = None
    energy_wh: float | None = None
    hours: float | None = None
    hours_a_day: float | None = None
    plugged: bool | None = None
    duty: float | None = None
    spread: float | None = None
    load_percent: float | None = None
    room_c: float | None = None
    from_percent: float | None = None
    to_percent: float | None = None
    begins: date | None = None
    ends: date | None = None
    in_wh: float = 0.0
    step: float = 1.0
    echo: str = ""
    notes: tuple[str, ...] = ()


def fmt(value: float) -> str:
    """A figure to three digits, or to a tenth."""
    return number_text(round(value, 1 if value >= 10 else 2)) if value >= 10 else f"{value:.3g}"


def exact(value: float) -> str:
    """A figure as it was typed, near enough: it may not lose what it says."""
    return f"{value:,.6g}" if abs(value) >= 1000 else f"{value:.6g}"


def hours_said(hours: float) -> str:
    """A length of time as it was typed, in minutes below an hour."""
    return f"{exact(hours * 60)} min" if hours < 1 and not (hours * 4).is_integer() else f"{exact(hours)} h"
