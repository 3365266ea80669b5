"""Typical loads: a guess to start from, shown as one."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from imbuto.core.basics.clock import Window
from imbuto.core.basics.data_tables import rows
from imbuto.core.basics.evidence import spread_of_range
from imbuto.core.home.loads import Load, LoadKind, Purpose, Use, UseKind


@dataclass(frozen=True, slots=True, kw_only=True)
class Typical:
    """A row of the table.

    low_w, usual_w, high_w: average W while in use
    times: hours of the day, separated by blanks
    run_w_230: where a 230 V appliance of the kind is stronger
    first: asked about in the first two minutes
    also: other names it is looked for by, separated by blanks
    reason: the physical cause of the spread
    """

    id: str
    name: str
    group: str
    kind: LoadKind
    low_w: float
    usual_w: float
    high_w: float
    rest_w: float = 0.0
    run_w: float
    run_w_230: float | None = None
    use: UseKind
    times: str = ""
    minutes: float = 0.0
    from_h: float = 0.0
    to_h: float = 0.0
    purpose: Purpose
    thermostatic: bool = False
    turns_ok: bool = False
    must_not_blink: bool = False
    hard_wired: bool = False
    both_legs: bool = False
    first: bool = False
    also: str = ""
    reason: str

    def load(self, ident: str, count: int, volts: int) -> Load:
        """A load with the usual figures, known as a guess."""
        run = self.run_w_230 if volts == 230 and self.run_w_230 else self.run_w
        return Load(
            id=ident,
            name=self.name,
            kind=self.kind,
            average_w=min(self.usual_w * run / self.run_w if self.use == "tasks" else self.usual_w, run),
            rest_w=self.rest_w,
            run_w=run,
            use=self._use(),
            count=count,
            evidence="guess",
            spread=round(spread_of_range(self.low_w, self.usual_w, self.high_w), 3),
            purpose=self.purpose,
            thermostatic=self.thermostatic,
            turns_ok=self.turns_ok,
            must_not_blink=self.must_not_blink,
            both_legs=self.both_legs and volts == 120,
            hard_wired=self.hard_wired,
            note=self.reason + ".",
        )

    def _use(self) -> Use:
        if self.use == "tasks":
            return Use(kind="tasks", times=tuple(float(t) for t in self.times.split()), minutes=self.minutes)
        if self.use == "windows":
            return Use(kind="windows", windows=(Window(start_h=self.from_h, end_h=self.to_h),))
        return Use(kind=self.use)


@lru_cache(maxsize=1)
def typical() -> dict[str, Typical]:
    """The table by id."""
    return {row.id: row for row in rows("typical.csv", Typical)}
