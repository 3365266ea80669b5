"""The house as a whole, and its goals, as plain figures for the interface."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal

from imbuto.core.advice.answer import Answer
from imbuto.core.advice.hands_needed import blind_spots, nobody, steps
from imbuto.core.advice.house_totals import (
    UtilityBill,
    Word,
    billed_wh_day,
    by_harm,
    counts_nowhere,
    day_night,
    gap_sentence,
    is_heating,
    proposed_outages,
    with_substitute,
    without,
    word_for,
)
from imbuto.core.home.home import Home, day_wh
from imbuto.core.home.household import Harm
from imbuto.core.home.loads import Substitute
from imbuto.core.measuring.readings import as_read
from imbuto.core.measuring.understood_text import NotUnderstood
from imbuto.core.plan.system import Part
from imbuto.core.run.run import Run, simulate
from imbuto.formats.documents import OUTAGE, Json
from imbuto.services.desk.judging import Pair
from imbuto.services.desk.planner import Planner
from imbuto.services.house.measuring import Measuring

LEAST_BILL_H = 168.0


@dataclass(frozen=True, slots=True, kw_only=True)
class WholeLoad:
    """A load in the whole. nowhere: why it adds to no total, empty where it does."""

    id: str
    day_wh: float
    night_wh: float
    heating: bool
    word: Word
    nowhere: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Bills:
    """The bills together. kWh a day.

    ratio: sum of loads over them
    sentence: what that says
    """

    count: int
    hours: float
    wh_day: float
    ratio: float
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CircuitGap:
    """A circuit that was logged or metered as a whole. gap_w: what its loads do not account for."""

    circuit: str
    measured_w: float
    loads_w: float
    gap_w: float
    raw: str


@dataclass(frozen=True, slots=True, kw_only=True)
class SubstituteView:
    """What doing without a load, or with less of it, frees in the judged pair. price: of as much storage, where
    known."""

    load: str
    name: str
    kind: Substitute
    note: str
    hours: float
    never_dark: bool
    saved_wh: float
    price: Decimal | None
    currency: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WholeView:
    """Hold everything about the house at once.

    house_wh_day: AC Wh of all loads in an average day, day_wh and night_wh together
    together_w: running W of all loads at once
    own_draw_w, own_draw_wh_day: DC, of the stations of the plan with their modules, on top of the loads
    slots_used: of the panel
    """

    house_wh_day: float
    day_wh: float
    night_wh: float
    together_w: float
    own_draw_w: float
    own_draw_wh_day: float
    slots: int
    slots_used: int
    tandems: int
    doubles: int
    untraced: int
    loads: list[WholeLoad]
    bills: Bills | None
    circuits: list[CircuitGap]


@dataclass(frozen=True, slots=True, kw_only=True)
class HarmView:
    """A harm, and the loads that keep it away; kept: of them, those the plan keeps on."""

    harm: Harm
    loads: list[str]
    kept: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class StepView:
    """A step that needs hands."""

    title: str
    sentence: str
    stand_in: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class GoalsView:
    """What the judged plan does for the household's goals."""

    harms: list[HarmView]
    steps: list[StepView]
    nobody: str
    blind_spots: list[str]
    substitutes: list[SubstituteView]
    proposed: list[Json]


def whole_house_view(planner: Planner, home_id: str, pair: Pair | None) -> WholeView:
    """Return the house as a whole, its loads as used in the judged outage. Raises NotFound."""
    home, answer = _judged(planner, home_id, pair)
    used = answer.home if answer else home
    usable = answer.run.usable_wh if answer and answer.run else 0.0
    splits = {x.id: day_night(x) for x in used.loads.values()}
    own_w = sum(x.own_draw_w for x in answer.system.parts) if answer else 0.0
    return WholeView(
        house_wh_day=day_wh(used),
        day_wh=sum(s.day_wh for s in splits.values()),
        night_wh=sum(s.night_wh for s in splits.values()),
        together_w=sum(x.count * x.run_w for x in used.loads.values()),
        own_draw_w=own_w,
        own_draw_wh_day=24 * own_w,
        slots=home.service.slots,
        slots_used=len({s for c in home.circuits.values() if c.panel is None for s in c.slots}),
        tandems=sum(c.tandem for c in home.circuits.values()),
        doubles=sum(c.poles == 2 for c in home.circuits.values()),
        untraced=sum(not c.traced for c in home.circuits.values()),
        loads=[
            WholeLoad(
                id=x.id,
                day_wh=splits[x.id].day_wh,
                night_wh=splits[x.id].night_wh,
                heating=is_heating(x),
                word=word_for(x, usable),
                nowhere=counts_nowhere(x),
            )
            for x in used.loads.values()
        ],
        bills=_bills(planner, home_id, day_wh(home)),
        circuits=_gaps(planner, home_id, home),
    )


def goals(planner: Planner, home_id: str, pair: Pair | None, today: datetime) -> GoalsView:
    """Return how the judged plan serves the goals, and the outages worth planning for. Raises NotFound."""
    home, answer = _judged(planner, home_id, pair)
    used, wirings = (answer.home, answer.wirings) if answer else (home, ())
    kept = {i.load.id for x in wirings for i in x.fed if i.feed.stance == "keep_on"}
    by_title = {s.title: s for x in wirings for s in steps(x)}
    unseen = [set(blind_spots(x)) for x in wirings]
    known = set(planner.open(home_id).outages)
    proposed = proposed_outages(home.household.history, today, north=home.site.latitude >= 0)
    return GoalsView(
        harms=[
            HarmView(harm=h, loads=[x.id for x in loads], kept=[x.id for x in loads if x.id in kept])
            for h, loads in by_harm(list(used.loads.values())).items()
        ],
        steps=[StepView(title=s.title, sentence=s.sentence, stand_in=s.stand_in) for s in by_title.values()],
        nobody=next((said for x in wirings if (said := nobody(x, home.household))), ""),
        # One station may keep on what another one doesn't.
        blind_spots=sorted(set.intersection(*unseen)) if unseen else [],
        substitutes=_substitutes(answer) if answer else [],
        proposed=[OUTAGE.write(o) for o in proposed if o.id not in known],
    )


def _judged(planner: Planner, home_id: str, pair: Pair | None) -> tuple[Home, Answer | None]:
    documents = planner.open(home_id)
    if pair is None or pair[0] not in documents.plans or pair[1] not in documents.outages:
        return documents.home, None
    return documents.home, planner.answer_of(home_id, *pair)


def _bills(planner: Planner, home_id: str, sum_wh_day: float) -> Bills | None:
    """All bills that stand: over the same dates they add, one after another they are weighted by their length."""
    found: list[UtilityBill] = []
    for r in planner.kept_readings(home_id):
        if r.load is not None or r.circuit is not None or r.withdrawn:
            continue
        try:
            u = as_read(r)
        except NotUnderstood:  # told as its problem among the readings
            continue
        if u.average_w is not None and (u.hours or 0.0) >= LEAST_BILL_H:
            found.append(UtilityBill(r.raw, u.average_w * (u.hours or 0.0), u.hours or 0.0, u.begins, u.ends))
    wh_day, minded = billed_wh_day(found)
    if wh_day <= 0:
        return None
    sentence = " ".join([gap_sentence(sum_wh_day, wh_day), *minded])
    hours = sum(b.hours for b in found)
    return Bills(count=len(found), hours=hours, wh_day=wh_day, ratio=sum_wh_day / wh_day, sentence=sentence)


def bills_wh_day(planner: Planner, home_id: str) -> float | None:
    """The whole house's Wh a day by its bills; None without any. Raises NotFound."""
    found = _bills(planner, home_id, 1.0)
    return found.wh_day if found else None


def _gaps(planner: Planner, home_id: str, home: Home) -> list[CircuitGap]:
    """Circuits measured as a whole, by their longest reading."""
    best: dict[str, tuple[float, CircuitGap]] = {}
    for r in Measuring(planner).readings(home_id, None):
        average = next((g.value for g in r.gives if g.quantity == "average_w"), None)
        if r.circuit is None or r.withdrawn or average is None:
            continue
        loads_w = sum(day_night(x).total_wh for x in home.loads_on(r.circuit)) / 24
        gap = CircuitGap(circuit=r.circuit, measured_w=average, loads_w=loads_w, gap_w=average - loads_w, raw=r.raw)
        if r.hours > best.get(r.circuit, (0.0, gap))[0]:
            best[r.circuit] = (r.hours, gap)
    return [gap for _, gap in best.values()]


def _substitutes(answer: Answer) -> list[SubstituteView]:
    """Return what each substitute frees on the station that powers its load, the most hours first."""
    views = []
    for run in (v.run for v in answer.stations if v.run is not None and not v.part.waits):
        price, currency = _price_of_wh(run.part, run)
        for load in {
            i.load.id: i.load for i in run.part.fed if i.load.substitute != "none" and i.load.purpose != "life"
        }.values():
            less = with_substitute(run.part, load)
            if not less.fed:
                continue
            freed = without(run, simulate(less, run.outage), load)
            views.append(
                SubstituteView(
                    load=load.id,
                    name=load.name,
                    kind=load.substitute,
                    note=load.substitute_note,
                    hours=freed.hours,
                    never_dark=freed.never_dark,
                    saved_wh=freed.saved_wh,
                    currency=currency,
                    price=None if price is None else round(price * Decimal(freed.saved_wh), 0),
                )
            )
    return sorted(views, key=lambda v: -v.hours)


def _price_of_wh(now: Part, run: Run) -> tuple[Decimal | None, str]:
    """What a usable Wh costs in the plan's own modules, else in its station."""
    station = now.station
    share = Decimal(run.usable_wh / run.store.nominal_wh) if run.store.nominal_wh else Decimal(1)
    if station.module_wh > 0 and station.module_price > 0 and share > 0:
        return station.module_price / Decimal(station.module_wh) / share, station.currency
    if station.price > 0 and share > 0:
        return station.price / Decimal(station.nominal_wh) / share, station.currency
    return None, station.currency
