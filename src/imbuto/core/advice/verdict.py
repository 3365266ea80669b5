"""The verdict on one plan in one outage: everything the bar at the bottom says."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Literal

from imbuto.core.advice.gives_out import LEAST_GAIN_H, MovePromise, Neck, fixes, neck, violations, widenings
from imbuto.core.advice.unknowns import Unknown, unknowns
from imbuto.core.basics.clock import grid
from imbuto.core.equipment.catalogue import DEFAULT_EFFICIENCY, DEFAULT_IDLE_W, Catalogue
from imbuto.core.home.home import Home
from imbuto.core.home.loads import Load, must_stay_on
from imbuto.core.limits.all_limits import fit
from imbuto.core.limits.limit_registry import state_of
from imbuto.core.plan.joining import Joined, ahead_of, parts
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.core.run.band import Band, Measure, band, joint, meter_next
from imbuto.core.run.hand_check import inverse
from imbuto.core.run.run import Run, simulate

State = Literal[
    "no_loads", "nothing_chosen", "no_station", "refused", "carry_240", "trips", "misfit", "too_cold", "runs"
]
DELIVERABLE = 0.97  # label to real; planning default
# How each state is called, wherever it stands.
STATE_WORDS: dict[State, str] = {
    "no_loads": "No loads yet",
    "nothing_chosen": "Nothing is fed",
    "no_station": "No station yet",
    "refused": "Refused",
    "carry_240": "Cannot carry 240 V",
    "trips": "Will trip",
    "misfit": "Does not fit",
    "too_cold": "Too cold to run",
    "runs": "Keeps going",
}


@dataclass(frozen=True, slots=True)
class Verdict:
    """Judge one plan in one outage; of several stations, the one that ends first, with the limits of all.

    joined, outage: what was judged
    state: what kind of verdict it is, see ``STATE_WORDS``
    average_w: AC W over the outage
    run, band, neck: None where there is no station, or nothing is powered
    limits: every limit, the worst first
    widenings, fixes: moves that lengthen the hours, or clear a broken limit
    measures: loads whose measuring would narrow the band most
    needs_wh: label Wh the goal needs, where there is no station
    without_sun: the run without its arrays, None where there are none
    parts: the verdict of each of several stations; empty for one, see ``stations``
    after_h: of a station behind another, when that one runs out, elapsed h
    unknowns: figures nobody lists, the one that may change the verdict most first
    """

    joined: Joined
    outage: Outage
    state: State
    average_w: float
    run: Run | None = None
    band: Band | None = None
    neck: Neck | None = None
    limits: list[Limit] = field(default_factory=list)
    widenings: list[MovePromise] = field(default_factory=list)
    fixes: list[MovePromise] = field(default_factory=list)
    measures: list[Measure] = field(default_factory=list)
    needs_wh: float | None = None
    without_sun: Run | None = None
    parts: tuple[Verdict, ...] = ()
    after_h: float = 0.0
    unknowns: list[Unknown] = field(default_factory=list)

    @property
    def words(self) -> str:
        """Its state in words."""
        return STATE_WORDS[self.state]

    @property
    def stations(self) -> tuple[Verdict, ...]:
        """The verdict of each station, in their order; of a plan with one station, this one alone."""
        return self.parts or (self,)

    @property
    def unfed(self) -> tuple[Load, ...]:
        """What must stay on and is fed by no station of the plan: ticked as such, or life, health and house depend on
        it."""
        each = self.stations
        fed = {f.load.id for v in each for f in v.joined.fed}
        first = each[0].joined
        return tuple(
            x for x in first.home.loads.values() if x.id not in fed and must_stay_on(x) and x.substitute == "none"
        )

    def needs(self, load: Load) -> str:
        """What a load that must stay on and is not fed needs, in one sentence."""
        joined = self.stations[0].joined
        both, cords = joined.home.needs_both_legs(load), not joined.equipment.traits.wired
        station = joined.station
        wants = []
        if (load.hard_wired or both) and cords:
            wants.append("a transfer switch that moves its circuit, by an electrician")
        if both and (station is None or len(station.legs) < 2):
            wants.append("a station that gives 120/240 V, or a pair with the maker's coupler")
        if not wants:
            wants.append("an outlet of the station" if cords else "a place of the switch for its circuit")
        return f"{load.name} is not fed: it needs {' and '.join(wants)}."

    @property
    def reaches(self) -> bool:
        """Whether the goal is reached 9 times in 10, with everything on that must stay on."""
        low = self.band.low_h if self.band else 0.0
        return self.fits and not self.unfed and (low is None or low >= self.outage.goal_hours)

    @property
    def fits(self) -> bool:
        """Whether every limit holds."""
        return self.run is not None and not violations(self.limits)

    @property
    def solved_hours(self) -> float | None:
        """With limits broken: the hours the best clearing fix gives; None when none clears, or it never goes dark."""
        return next((p.hours for p in self.fixes if p.clears), None)


def judge(home: Home, plan: Plan, outage: Outage, catalogue: Catalogue, *, with_moves: bool = True) -> Verdict:
    """Judge a checked plan. with_moves: False skips widenings and fixes, where only hours and limits are wanted."""
    resolved = parts(in_outage(home, plan, outage), plan, catalogue)
    each = [_judge(x, outage, catalogue, with_moves=with_moves and not x.follows) for x in resolved]
    by_id = {v.joined.source.id: v for v in each if v.joined.source is not None}
    for i, v in enumerate(each):
        ahead = by_id.get((ahead_of(plan, v.joined.source.id) if v.joined.source else None) or "")
        if ahead is not None and ahead.run is not None:
            each[i] = replace(v, after_h=ahead.run.hours or 0.0)
    return each[0] if len(each) == 1 else _together(each)


def judge_one(home: Home, plan: Plan, outage: Outage, catalogue: Catalogue, source: str) -> Verdict:
    """One source of a checked plan among its others, without moves: for trying many in its place."""
    resolved = parts(in_outage(home, plan, outage), plan, catalogue)
    now = next((x for x in resolved if x.source is not None and x.source.id == source), resolved[0])
    return _judge(now, outage, catalogue, with_moves=False)


def _together(each: list[Verdict]) -> Verdict:
    """Several stations, each with its own: a broken limit leads, and else the lowest hours."""
    ran = [v for v in each if v.run is not None and not v.joined.follows]
    if not ran:
        return replace(each[0], parts=tuple(each))
    lead = min(ran, key=lambda v: (v.fits, v.run.at_least_h if v.run else 0.0))
    found = [
        replace(x, title=f"{v.joined.station.name}: {x.title}", id=f"{x.id}@{key}" if v is not each[0] else x.id)
        for v in each
        for key in v.joined.plan.sources
        for x in v.limits
        if v.joined.station
    ]
    band = lead.band if len(ran) == 1 else joint([v.run for v in ran if v.run is not None])
    open_ = sorted((u for v in each for u in v.unknowns), key=lambda u: -u.weight)
    others = [v for v in ran if v is not lead]
    return replace(
        lead,
        band=band,
        limits=found,
        parts=tuple(each),
        unknowns=open_,
        widenings=_capped(lead, others),
        fixes=[replace(p, clears=p.clears and all(v.fits for v in others)) for p in lead.fixes],
    )


def _capped(lead: Verdict, others: list[Verdict]) -> list[MovePromise]:
    """What a move on the first to end gains, where another station ends before that."""
    cap = min((v.run.hours for v in others if v.run and v.run.hours is not None), default=None)
    if cap is None or lead.run is None:
        return lead.widenings
    found = []
    for p in lead.widenings:
        if p.hours is None or p.hours > cap:
            p = replace(p, hours=cap, hours_gained=cap - lead.run.at_least_h, never_dark=False)
        if p.hours_gained >= LEAST_GAIN_H:
            found.append(p)
    return sorted(found, key=lambda p: (-p.hours_gained, p.move.id))


def _judge(now: Joined, outage: Outage, catalogue: Catalogue, *, with_moves: bool) -> Verdict:
    """One station with what hangs on it."""
    home = now.home
    if not home.loads:
        return Verdict(now, outage, "no_loads", 0.0)
    if now.station is None or not now.fed:
        return _without_run(now, outage)
    found = fit(now, outage)
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


def _flutters(now: Joined) -> Limit:
    name = now.station.name if now.station else "The station"
    return Limit(
        id="flutters",
        family="flutters",
        title="On and off",
        kind="yes_no",
        severity="caution",
        ok=False,
        sentence=f"{name} would come back and go dark again within minutes, over and over; past the fortieth "
        f"time in five "
        "minutes it is taken to stay dark. Let it come back at a higher charge, or with less on.",
    )


def _without_run(now: Joined, outage: Outage) -> Verdict:
    steps = grid(outage.start, now.home.site.time_zone, outage.hours)
    average = float(now.watts(steps).mean())
    if not now.fed:
        return Verdict(now, outage, "nothing_chosen", average, limits=fit(now, outage))
    need = inverse(
        average,
        outage.goal_hours,
        efficiency=DEFAULT_EFFICIENCY,
        idle_w=DEFAULT_IDLE_W,
        deliverable=DELIVERABLE,
        floor=now.plan.floor,
    )
    return Verdict(now, outage, "no_station", average, needs_wh=need)


def _state(bad: list[Limit]) -> State:
    if not bad:
        return "runs"
    return state_of(bad[0])
