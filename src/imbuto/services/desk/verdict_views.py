"""What the interface is told: verdicts, runs and options as plain figures. No NaN, no infinity."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from decimal import Decimal
from typing import Any, Literal

from imbuto.core.advice.answer import Answer
from imbuto.core.advice.gives_out import MovePromise, glance
from imbuto.core.advice.headline import headline
from imbuto.core.advice.often_forgotten import Reminder, reminders
from imbuto.core.advice.verdict import State, Verdict
from imbuto.core.basics.evidence import Evidence
from imbuto.core.basics.units import until
from imbuto.core.home.circuits import panel_leg
from imbuto.core.home.home import Home
from imbuto.core.home.loads import duty, mean_w
from imbuto.core.plan.limit import FIT_NOTE, Kind, Limit, Severity
from imbuto.core.plan.system import Part, legs_of_feed
from imbuto.core.run.band import Measure
from imbuto.formats.documents import PLAN
from imbuto.formats.patch import difference
from imbuto.services.desk.device_boards import BoardView, boards
from imbuto.services.desk.place_answers import PlaceAnswer, place_answers
from imbuto.services.desk.rail_figures import RailView, rail_view


@dataclass(frozen=True, slots=True, kw_only=True)
class LimitView:
    """A limit as the API gives it."""

    id: str
    family: str
    title: str
    kind: Kind
    severity: Severity
    used: float
    limit: float
    unit: str
    ok: bool
    leg: str | None
    source: str | None
    margin_percent: float | None
    evidence: str
    tick: str
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MoveView:
    """A widening or a fix.

    ops: what to send as an edit to try it
    after: the worst limit's use then, in unit
    per_100: hours gained for each 100 of the currency, None where nothing is bought
    enter: id of a load whose true figure is to be entered instead
    """

    id: str
    kind: Literal["widening", "fix"]
    label: str
    hours: float | None
    hours_gained: float
    never_dark: bool
    clears: bool
    after: float | None
    unit: str
    price: Decimal | None
    currency: str
    per_100: float | None
    enter: str
    ops: list[dict[str, Any]]


@dataclass(frozen=True, slots=True, kw_only=True)
class WeakestPointView:
    """What gives out first."""

    id: str
    kind: str
    title: str
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasureView:
    """A load worth measuring next, and by how many hours the answer narrows."""

    load: str
    name: str
    evidence: Evidence
    narrows_h: float
    share: float


@dataclass(frozen=True, slots=True, kw_only=True)
class UnfedView:
    """What must stay on and is fed by nothing. needs: what it would take, in a sentence."""

    load: str
    name: str
    needs: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadFigure:
    """What the core makes of a load.

    mean_w: over an average week
    duty: of a cycling load, 0 to 1
    fed_w: mean over the outage where the plan feeds it, null where it does not
    """

    id: str
    mean_w: float
    duty: float | None
    fed_w: float | None
    run_va: float
    start_va: float


@dataclass(frozen=True, slots=True, kw_only=True)
class StationPart:
    """One of several stations of a plan. hours: None while still on at the end."""

    source: str
    name: str
    state: State
    fits: bool
    hours: float | None
    low_hours: float | None
    neck: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CircuitFigure:
    """What follows for a circuit.

    leg: in its panel, empty where there is one
    places: it takes of a switch
    """

    id: str
    leg: str
    places: int


@dataclass(frozen=True, slots=True, kw_only=True)
class UnknownView:
    """What the plan still needs to know.

    where: the place to enter it
    weight: how much the verdict hangs on it
    """

    id: str
    title: str
    where: str
    sentence: str
    weight: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HeadlineView:
    """An answer in words, the same in every place.

    label, figure: ``Count on`` and ``14 h``, or why there are no hours and nothing
    until: the clock time that goes with the figure
    probably: the expected hours; empty where health depends on the plan
    goal: the goal, and how often it is reached
    life: the first life-and-health load that is off before the goal
    may, may_first: that it may trip and what to find out, and whether that comes before the hours
    missing: what must stay on and isn't powered
    instead: with a limit broken, the best single change with its hours
    short, sentence: it in one line, without and with the goal
    """

    label: str
    figure: str
    until: str
    probably: str
    goal: str
    life: str
    may: str
    may_first: bool
    missing: str
    instead: str
    short: str
    sentence: str


def headline_view(answer: Answer) -> HeadlineView:
    """The answer in words as given out."""
    said = headline(answer)
    return HeadlineView(
        label=said.label,
        figure=said.figure,
        until=said.until,
        probably=said.probably,
        goal=said.goal,
        life=said.life,
        may=said.may,
        may_first=said.may_first,
        missing=said.missing,
        instead=said.instead,
        short=said.short,
        sentence=said.sentence,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class VerdictView:
    """One pair judged.

    boards: each device and each source's outlets
    feed_legs: by feed; empty where there is one
    words: its state
    unfed: what must stay on and is not fed
    reaches: the goal, 9 times in 10 and with all that on. Hours are None when still on at the end of the simulation
        (simulated_h)
    places: what each place of the funnel answers, by its page
    sun: whether it counts on arrays, and dry_hours: the hours without them
    """

    plan: str
    plan_name: str
    outage: str
    outage_name: str
    circuits: list[CircuitFigure]
    boards: list[BoardView]
    feed_legs: dict[str, str]
    state: State
    words: str
    headline: HeadlineView
    unfed: list[UnfedView]
    reaches: bool
    fits: bool
    hours: float | None
    until: datetime | None
    low_hours: float | None
    high_hours: float | None
    simulated_h: float
    goal_hours: float
    chance: float | None
    sun: bool
    dry_hours: float | None
    paper_hours: float | None
    average_w: float
    usable_wh: float
    served_wh: float
    needs_wh: float | None
    neck: WeakestPointView | None
    chips: list[MoveView]
    moves: list[MoveView]
    limits: list[LimitView]
    measures: list[MeasureView]
    rail: RailView
    places: dict[str, PlaceAnswer]
    loads: list[LoadFigure] = field(default_factory=list)
    riders: list[str] = field(default_factory=list)
    fit_note: str = FIT_NOTE
    reminders: list[Reminder] = field(default_factory=list)
    parts: list[StationPart] = field(default_factory=list)
    unknowns: list[UnknownView] = field(default_factory=list)


def limit_view(x: Limit) -> LimitView:
    """A limit as given out."""
    return LimitView(
        id=x.id,
        family=x.family,
        title=x.title,
        kind=x.kind,
        severity=x.severity,
        used=x.used,
        limit=x.limit,
        unit=x.unit,
        ok=x.ok,
        leg=x.leg,
        source=x.source,
        margin_percent=x.margin_percent,
        evidence=x.evidence,
        tick=x.tick,
        sentence=x.sentence,
    )


def move_view(p: MovePromise, kind: Literal["widening", "fix"], part: Part) -> MoveView:
    """A promise, with the operations that keep it."""
    before = PLAN.write(part.plan)
    return MoveView(
        id=p.move.id,
        kind=kind,
        label=p.move.label,
        hours=p.hours,
        hours_gained=p.hours_gained,
        never_dark=p.never_dark,
        clears=p.clears,
        after=p.after,
        unit=p.unit,
        price=p.price,
        currency=part.home.site.currency if p.price is not None else "",
        enter=p.move.enter,
        per_100=_per_100(p),
        ops=difference(part.plan.id, before, PLAN.write(p.move.plan)),
    )


def _per_100(p: MovePromise) -> float | None:
    price = p.price
    return 100 * p.hours_gained / float(price) if price is not None and price > 0 and p.hours_gained > 0 else None


def measure_view(m: Measure) -> MeasureView:
    """A load worth measuring."""
    return MeasureView(load=m.load.id, name=m.load.name, evidence=m.load.evidence, narrows_h=m.narrows_h, share=m.share)


def circuit_figures(home: Home) -> list[CircuitFigure]:
    """Every circuit of the home."""
    found, two = [], home.service.legs == 2
    for c in home.circuits.values():
        both = two and c.poles == 2
        found.append(
            CircuitFigure(id=c.id, leg=("A·B" if both else panel_leg(c)) if two else "", places=2 if both else 1)
        )
    return found


def load_figures(v: Answer) -> list[LoadFigure]:
    """Every load of the home."""
    fed = v.powered_w
    return [
        LoadFigure(
            id=x.id,
            mean_w=mean_w(x),
            duty=duty(x.average_w, x.run_w, x.rest_w) if x.use.kind == "cycling" else None,
            fed_w=fed.get(x.id),
            run_va=x.run_va,
            start_va=x.run_va + x.start_extra_va,
        )
        for x in v.home.loads.values()
    ]


def _part_view(v: Verdict) -> StationPart:
    part = v.part
    return StationPart(
        source=part.source.id,
        name=part.station.name,
        state=v.state,
        fits=v.fits,
        hours=v.run.hours if v.run else None,
        low_hours=v.band.low_h if v.band else None,
        neck=v.neck.title if v.neck else "",
    )


def verdict_view(v: Answer) -> VerdictView:
    """A verdict as given out."""
    run, band = v.run, v.band
    kind: Literal["widening", "fix"] = "fix" if v.fixes else "widening"
    promises = v.fixes or v.widenings
    hours = v.hours
    rail = rail_view(v)
    return VerdictView(
        plan=v.plan.id,
        plan_name=v.plan.name,
        outage=v.outage.id,
        outage_name=v.outage.name,
        state=v.state,
        words=v.words,
        headline=headline_view(v),
        unfed=[UnfedView(load=x.id, name=x.name, needs=v.needs(x)) for x in v.unfed],
        circuits=circuit_figures(v.home),
        boards=boards(v),
        feed_legs={
            f.id: "·".join(legs_of_feed(x, f))
            for x in v.wirings
            if not (isinstance(x, Part) and x.waits)
            for f in x.plan.feeds.values()
        },
        reaches=v.reaches,
        fits=v.fits,
        hours=hours,
        until=until(run.steps.start, hours) if run and hours is not None else None,
        low_hours=v.low_h,
        high_hours=band.high_h if band else None,
        simulated_h=v.simulated_h,
        goal_hours=v.outage.goal_hours,
        chance=band.chance if band else None,
        sun=v.without_sun is not None,
        dry_hours=v.without_sun.hours if v.without_sun else hours,
        paper_hours=run.paper_hours if run else None,
        average_w=v.average_w,
        usable_wh=run.usable_wh if run else 0.0,
        served_wh=run.served_wh if run else 0.0,
        needs_wh=v.needs_wh,
        neck=WeakestPointView(id=v.neck.id, kind=v.neck.kind, title=v.neck.title, sentence=v.neck.sentence)
        if v.neck
        else None,
        chips=[move_view(p, kind, v.lead.part) for p in glance(promises)] if v.lead else [],
        moves=[move_view(p, kind, v.lead.part) for p in promises[:12]] if v.lead else [],
        limits=[limit_view(x) for x in v.limits],
        measures=[measure_view(m) for m in v.measures],
        rail=rail,
        places=place_answers(v, rail),
        loads=load_figures(v),
        reminders=reminders(v.wirings) if v.home.loads else [],
        riders=[item.load.id for x in v.wirings for item in x.fed if item.rides_along],
        parts=[_part_view(x) for x in v.stations if len(v.stations) > 1],
        unknowns=[
            UnknownView(id=u.id, title=u.title, where=u.where, sentence=u.sentence, weight=u.weight)
            for u in v.unknowns[:8]
        ],
    )
