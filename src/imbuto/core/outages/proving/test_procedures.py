"""What a test is: its lines with what is expected, its cautions, when to stop, and how it is left."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Who = Literal["own", "helper", "qualified"]
Unit = Literal["yes", "W", "%", "s", "min", "h", "°C", "A", "VA"]
WHO: dict[Who, str] = {
    "own": "anyone who has practiced with the card",
    "helper": "two people",
    "qualified": "a licensed electrician",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class TestLine:
    """One line of a test.

    what: to do or to read
    unit: of its figure
    expected: None where whatever is found is the result
    within: of it that still passes
    many: it is noted again and again
    second: the unit of a further figure, None for none
    fails: what it means where it is not so
    """

    id: str
    what: str
    unit: Unit = "yes"
    expected: float | None = None
    within: float = 0.0
    many: bool = False
    second: Unit | None = None
    fails: str = ""

    def passes(self, value: float) -> bool | None:
        """Whether a figure is as expected; None where nothing is."""
        if self.unit == "yes":
            return value >= 1
        return None if self.expected is None else abs(value - self.expected) <= self.within


@dataclass(frozen=True, slots=True, kw_only=True)
class Procedure:
    """One test of a plan.

    order: among those that come first, in commissioning, 0 for the others
    refused: why it is not offered, and then it has no lines
    teaches: what its result may change, in words
    """

    id: str
    title: str
    why: str
    who: Who = "own"
    order: int = 0
    cautions: tuple[str, ...] = ()
    stop: str = ""
    ends: str = "As before: the house is on the grid, and the charger is plugged in."
    lines: tuple[TestLine, ...] = ()
    refused: str = ""
    teaches: str = ""
