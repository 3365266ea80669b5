"""Judge one station of a plan in one outage: its hours, limits, and the moves that would change them."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from imbuto.core.advice.gives_out import MovePromise, WeakestPoint, fixes, neck, violations, widenings
from imbuto.core.advice.unknowns import OpenQuestion, unknowns
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.home.home import Home
from imbuto.core.home.loads import guards
from imbuto.core.limits.all_limits import fit
from imbuto.core.limits.limit_registry import state_of
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.system import Part, resolve
from imbuto.core.run.band import Band, Measure, band, meter_next
from imbuto.core.run.run import Run, simulate

State = Literal[
    "no_loads", "nothing_chosen", "no_station", "refused", "carry_240", "trips", "misfit", "too_cold", "runs"
]
# How each state is called, wherever it stands.
STATE_WORDS: dict[State, str] = {
    "no_loads": "No loads yet",
    "nothing_chosen": "This plan powers nothing yet",
    "no_station": "No station yet",
    "refused": "Refused",
    "carry_240": "Can't supply 240 V",
    "trips": "Will trip",
    "misfit": "Doesn't fit",
    "too_cold": "Too cold to run",
    "runs": "Fits",
}


@dataclass(frozen=True, slots=True)
class Verdict:
    """Judge one station of a plan in one outage.

    part, outage: what was judged
    state: what kind of verdict it is, see ``STATE_WORDS``
    average_w: AC W over the outage
    run, band, neck: None where nothing is powered
    limits: every limit, the worst first
    widenings, fixes: moves that lengthen the hours, or clear a broken limit
    measures: loads whose measuring would narrow the band most
    without_sun: the run without its arrays, None where there are none
    after_h: of a station behind another, when that one runs out, elapsed h
    unknowns: figures nobody lists, the one that may change the verdict most first
    """

    part: Part
    outage: Outage
    state: State
    average_w: float
    run: Run | None = None
    band: Band | None = None
    neck: WeakestPoint | None = None
    limits: list[Limit] = field(default_factory=list)
    widenings: list[MovePromise] = field(default_factory=list)
    fixes: list[MovePromise] = field(default_factory=list)
    measures: list[Measure] = field(default_factory=list)
    without_sun: Run | None = None
    after_h: float = 0.0
    unknowns: list[OpenQuestion] = field(default_factory=list)

    @property
    def fits(self) -> bool:
        """Whether it runs and every limit holds, or only may be past."""
        return self.run is not None and not violations(self.limits)

    @property
    def may_trip(self) -> Limit | None:
        """The limit that may be past by what is assumed, the furthest first; None where none is."""
        return max((x for x in self.limits if x.may), key=lambda x: x.used / x.limit if x.limit else 0.0, default=None)

    @property
    def guards(self) -> bool:
        """Whether it powers what health, frost or water in the house depend on."""
        return any(guards(f.load) for f in self.part.fed if not f.assumed)


def judge_one(home: Home, plan: Plan, outage: Outage, catalogue: Catalogue, source: str) -> Verdict:
    """Judge one station of a checked plan among its others, without moves: for trying many in its place. Raises
    KeyError."""
    now = resolve(in_outage(home, plan, outage), plan, catalogue).part(source)
    if now is None:
        raise KeyError(source)
    return judge_part(now, outage, catalogue, with_moves=False)


def judge_part(now: Part, outage: Outage, catalogue: Catalogue, *, with_moves: bool) -> Verdict:
    """Judge one station with what it powers. with_moves: False skips widenings and fixes."""
    if not now.home.loads:
        return Verdict(now, outage, "no_loads", 0.0)
    found = fit(now, outage)
    if not now.fed:
        return Verdict(now, outage, "nothing_chosen", 0.0, limits=found)
    run = simulate(now, outage)
    spread = band(run)
    if run.trace.fluttered:
        found.append(_flutters(now))
    bad = violations(found)
    return Verdict(
        now,
        outage,
        _state(bad),
        run.average_w,
        run,
        spread,
        neck(found, run, spread),
        found,
        widenings(run, catalogue) if with_moves and not bad else [],
        fixes(now, outage, found, catalogue) if with_moves and bad else [],
        meter_next(run) if with_moves else [],
        unknowns=unknowns(now, outage, catalogue, found) if with_moves else [],
        without_sun=simulate(now, outage, hours_only=True, sun=False) if run.solar_w is not None else None,
    )


def _flutters(now: Part) -> Limit:
    return Limit(
        id="flutters",
        family="flutters",
        title="Turns on and off",
        kind="yes_no",
        severity="caution",
        ok=False,
        sentence=(
            f"{now.station.name} would restart and run out again within minutes, over and over. After 40 "
            "restarts Imbuto assumes that it stays off. Let it restart at a higher charge, or with fewer loads on."
        ),
    )


def _state(bad: list[Limit]) -> State:
    if not bad:
        return "runs"
    return state_of(bad[0])
