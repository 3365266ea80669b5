"""Answer how long one plan lasts in one outage, for all its stations together: what the verdict bar says."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from imbuto.core.advice.gives_out import LEAST_GAIN_H, MovePromise, WeakestPoint, violations
from imbuto.core.advice.unknowns import OpenQuestion
from imbuto.core.advice.verdict import STATE_WORDS, State, Verdict, judge_part
from imbuto.core.basics.clock import grid
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.equipment.power_station import DEFAULT_EFFICIENCY, DEFAULT_IDLE_W
from imbuto.core.home.home import Home
from imbuto.core.home.loads import Load, must_stay_on
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.system import PlanSystem, Wiring, ahead_of, resolve
from imbuto.core.run.band import Band, Measure, fed_energy, joint
from imbuto.core.run.hand_check import inverse
from imbuto.core.run.run import Run

DELIVERABLE = 0.97  # label to real; planning default


@dataclass(frozen=True, slots=True)
class Answer:
    """Answer how long a plan lasts in an outage, once for every place that says so.

    system, outage: what was judged
    stations: the verdict of each station, in the plan's order; empty in a plan without one
    lead: the station whose figures are the plan's; None in a plan without one
    state: what kind of answer it is, see ``STATE_WORDS``
    average_w: AC W over the outage, of the lead, or of all that is chosen where no station is
    band: of the plan's hours over all its stations, None where nothing runs
    limits: of all stations, the worst first; those of several stations say which
    widenings, fixes: moves that lengthen the plan's hours, or clear a broken limit of the lead
    unknowns: figures nobody lists, the one that may change the answer most first
    needs_wh: label Wh the goal needs, where there is no station
    """

    system: PlanSystem
    outage: Outage
    stations: tuple[Verdict, ...]
    lead: Verdict | None
    state: State
    average_w: float
    band: Band | None = None
    limits: list[Limit] = field(default_factory=list)
    widenings: list[MovePromise] = field(default_factory=list)
    fixes: list[MovePromise] = field(default_factory=list)
    unknowns: list[OpenQuestion] = field(default_factory=list)
    needs_wh: float | None = None

    @property
    def home(self) -> Home:
        """The home as it is in this outage."""
        return self.system.wiring.home

    @property
    def plan(self) -> Plan:
        """The whole plan."""
        return self.system.wiring.plan

    @property
    def wirings(self) -> tuple[Wiring, ...]:
        """What each station powers, or all that is chosen where there is none."""
        return self.system.each

    @property
    def words(self) -> str:
        """Its state in words."""
        return STATE_WORDS[self.state]

    @property
    def run(self) -> Run | None:
        """The run of the lead, None where nothing runs."""
        return self.lead.run if self.lead else None

    @property
    def hours(self) -> float | None:
        """Expected hours to the first station that runs out; None: still on at the end, or nothing runs."""
        each = [v.run.hours for v in self.stations if v.run is not None and v.run.hours is not None]
        return min(each, default=None)

    @property
    def low_h(self) -> float | None:
        """Hours that 9 of 10 runs exceed. None: still on at the end, or nothing runs."""
        return self.band.low_h if self.band else None

    @property
    def simulated_h(self) -> float:
        """Hours that were simulated; an answer of None means still on then."""
        return self.run.steps.hours if self.run else self.outage.simulated_h

    @property
    def neck(self) -> WeakestPoint | None:
        """What gives out first, None where nothing runs."""
        return self.lead.neck if self.lead else None

    @property
    def without_sun(self) -> Run | None:
        """The lead's run without its arrays, None where it has none."""
        return self.lead.without_sun if self.lead else None

    @property
    def measures(self) -> list[Measure]:
        """Loads whose measuring would narrow the band most."""
        return self.lead.measures if self.lead else []

    @property
    def unfed(self) -> tuple[Load, ...]:
        """What must stay on and no station powers: ticked as such, or life, health and house depend on it."""
        fed = {f.load.id for x in self.wirings for f in x.fed}
        return tuple(
            x for x in self.home.loads.values() if x.id not in fed and must_stay_on(x) and x.substitute == "none"
        )

    @property
    def powered_w(self) -> dict[str, float]:
        """Load id → mean W over the outage's own length, as the plan powers it. Of a load that one station passes on
        to another, what the other gives it."""
        ahead = {v.part.source.id: ahead_of(self.plan, v.part.source.id) for v in self.stations}

        def behind(v: Verdict) -> int:
            depth, key = 0, ahead.get(v.part.source.id)
            while key is not None and depth < len(ahead):
                depth, key = depth + 1, ahead.get(key)
            return depth

        ran = [v for v in self.stations if v.run is not None]
        return {k: w for v in sorted(ran, key=behind) if v.run is not None for k, w in fed_energy(v.run).items()}

    def needs(self, load: Load) -> str:
        """Say what a load that must stay on and is not powered needs, in one sentence."""
        both, cords = self.home.needs_both_legs(load), not self.wirings[0].equipment.traits.wired
        parts = self.system.parts
        wants = []
        if (load.hard_wired or both) and cords:
            wants.append("a transfer switch for its circuit, fitted by an electrician")
        if both and (not parts or len(parts[0].station.legs) < 2):
            wants.append("a station that supplies 120/240 V, or two linked by the manufacturer's coupler")
        if not wants:
            wants.append("a station outlet" if cords else "a switch slot for its circuit")
        return f"{load.name} isn't powered. It needs {' and '.join(wants)}."

    @property
    def reaches(self) -> bool:
        """Whether the goal is reached 9 times in 10, with everything on that must stay on."""
        low = self.band.low_h if self.band else 0.0
        sure = self.may_trip is None or not self.guards
        return self.fits and sure and not self.unfed and (low is None or low >= self.outage.goal_hours)

    @property
    def may_trip(self) -> Limit | None:
        """The limit of a station that may be past by what is assumed, one that guards health or the house first."""
        each = sorted((v for v in self.stations if v.may_trip is not None), key=lambda v: not v.guards)
        return each[0].may_trip if each else None

    @property
    def guards(self) -> bool:
        """Whether a station that may trip powers what health, frost or water in the house depend on."""
        return any(v.guards for v in self.stations if v.may_trip is not None)

    @property
    def fits(self) -> bool:
        """Whether every limit holds."""
        return self.run is not None and not violations(self.limits)


def judge(home: Home, plan: Plan, outage: Outage, catalogue: Catalogue, *, with_moves: bool = True) -> Answer:
    """Judge a checked plan. with_moves: False skips widenings and fixes, where only hours and limits are wanted."""
    system = resolve(in_outage(home, plan, outage), plan, catalogue)
    if not system.parts:
        return _without_station(system, outage)
    each = [judge_part(x, outage, catalogue, with_moves=with_moves and not x.waits) for x in system.parts]
    by_id = {v.part.source.id: v for v in each}
    for i, v in enumerate(each):
        ahead = by_id.get(ahead_of(plan, v.part.source.id) or "")
        if ahead is not None and ahead.run is not None:
            each[i] = replace(v, after_h=ahead.run.hours or 0.0)
    return _together(system, outage, each)


def _without_station(system: PlanSystem, outage: Outage) -> Answer:
    """What is chosen, and how much a station for it would have to store."""
    now = system.wiring
    if not now.home.loads:
        return Answer(system, outage, (), None, "no_loads", 0.0)
    average = float(now.watts(grid(outage.start, now.home.site.time_zone, outage.hours)).mean())
    if not now.fed:
        return Answer(system, outage, (), None, "nothing_chosen", average)
    need = inverse(
        average,
        outage.goal_hours,
        efficiency=DEFAULT_EFFICIENCY,
        idle_w=DEFAULT_IDLE_W,
        deliverable=DELIVERABLE,
        floor=now.plan.floor,
    )
    return Answer(system, outage, (), None, "no_station", average, needs_wh=need)


def _together(system: PlanSystem, outage: Outage, each: list[Verdict]) -> Answer:
    """Answer for several stations: which of them leads, the hours to the first that runs out, and all their limits.

    What leads: a refusal; else a broken limit; else a life-and-health load that is off before the goal; else the
    fewest hours. Stations behind another one take part like any other; one that waits at an inlet shares its run.
    """
    ran = [v for v in each if v.run is not None and not v.part.waits]
    lead = min(ran, key=_rank, default=each[0])
    alone = Answer(
        system,
        outage,
        tuple(each),
        lead,
        lead.state,
        lead.average_w,
        lead.band,
        lead.limits,
        lead.widenings,
        lead.fixes,
        lead.unknowns,
    )
    if len(each) == 1 or not ran:
        return alone
    found = [
        replace(x, title=f"{v.part.station.name}: {x.title}", id=f"{x.id}@{key}" if v is not each[0] else x.id)
        for v in each
        for key in v.part.plan.sources
        for x in v.limits
    ]
    others = [v for v in ran if v is not lead]
    return replace(
        alone,
        band=lead.band if len(ran) == 1 else joint([v.run for v in ran if v.run is not None]),
        limits=found,
        widenings=_capped(lead, others),
        fixes=[replace(p, clears=p.clears and all(v.fits for v in others)) for p in lead.fixes],
        unknowns=sorted((u for v in each for u in v.unknowns), key=lambda u: -u.weight),
    )


def _rank(v: Verdict) -> tuple[bool, bool, bool, float]:
    """Sort the station that leads to the front."""
    refused = any(x.severity == "refuse" for x in violations(v.limits))
    low = v.band.low_h if v.band else 0.0
    loses_life = low is not None and any(
        f.load.purpose == "life" and not f.assumed and low + f.load.own_battery_h < v.outage.goal_hours
        for f in v.part.fed
    )
    return not refused, v.fits, not loses_life, v.run.at_least_h if v.run else 0.0


def _capped(lead: Verdict, others: list[Verdict]) -> list[MovePromise]:
    """What a move on the first to end gains, where another station ends before that."""
    cap = min((v.run.hours for v in others if v.run and v.run.hours is not None), default=None)
    if cap is None or lead.run is None or lead.run.at_least_h > cap:  # led by a life-and-health load, not by its hours
        return lead.widenings
    found = []
    for p in lead.widenings:
        if p.hours is None or p.hours > cap:
            p = replace(p, hours=cap, hours_gained=cap - lead.run.at_least_h, never_dark=False)
        if p.hours_gained >= LEAST_GAIN_H:
            found.append(p)
    return sorted(found, key=lambda p: (-p.hours_gained, p.move.id))
