"""One limit, as every check reports it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from imbuto.core.basics.units import Leg

Kind = Literal["at_most", "at_least", "yes_no"]
Severity = Literal["refuse", "broken", "may", "caution", "unknown"]
FIT_NOTE = "The calculation fits. No one has inspected the wiring, and this is not an approval or a permit."


@dataclass(frozen=True, slots=True, kw_only=True)
class Limit:
    """One limit. used and limit in unit; margin_percent: room left, negative past it, None for yes/no.

    family: the kind of limit, shared by its instances (each leg, each place)
    counts: whether it is a mere count, or settled once built, so that no load can make it give
    severity: may: it breaks only at one end of what is assumed, and says which figure to find out; unknown: it cannot
        be judged until a figure is entered, is never ok, and says which
    load: id of the one whose figure decides, empty for none
    tick: what a person states to have it settled, empty where arithmetic alone decides
    """

    id: str
    family: str
    title: str
    kind: Kind = "at_most"
    severity: Severity = "broken"
    used: float = 0.0
    limit: float = 0.0
    unit: str = ""
    ok: bool = True
    leg: Leg | None = None
    source: str | None = None
    evidence: Literal["fact", "default"] = "fact"
    counts: bool = False
    tick: str = ""
    load: str = ""
    sentence: str = ""

    @property
    def stops(self) -> bool:
        """Whether the plan cannot stand as it is: past a limit, or refused."""
        return not self.ok and self.severity in ("refuse", "broken")

    @property
    def may(self) -> bool:
        """Whether it may be past, by what is assumed."""
        return not self.ok and self.severity == "may"

    @property
    def margin_percent(self) -> float | None:
        """Room left as a share of the limit, percent."""
        if self.kind == "yes_no" or self.limit == 0:
            return None
        room = self.limit - self.used if self.kind == "at_most" else self.used - self.limit
        return 100 * room / self.limit

    @property
    def excess(self) -> float:
        """How far past the limit, as a share of it; 0 within, infinite for a failed yes/no or a limit of nothing."""
        if self.ok:
            return 0.0
        if self.kind == "yes_no" or self.limit <= 0:
            return float("inf")
        return abs(self.used - self.limit) / self.limit
