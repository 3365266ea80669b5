"""Which steps are still possible tonight to last longer, each with what it costs and who does it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.measures import least_text, mass_text, volume_text
from imbuto.core.basics.units import clock_text, hours_text, number_text
from imbuto.core.home.live_outage import Live, SavingStep, StepKind, hour_of, time_at
from imbuto.core.home.loads import Load, must_stay_on
from imbuto.core.limits.rules.generator_limits import FAR_M
from imbuto.core.outages.outage_changes import (
    OutsideSupply,
    ends_at,
    feeding_of,
    instead,
    items_of,
    load_as_lived,
    overlap,
)
from imbuto.core.plan.load_conditions import room_c
from imbuto.core.plan.system import PoweredLoad
from imbuto.core.run.food_warming import box_of, may_off_h
from imbuto.core.run.run import Run
from imbuto.core.run.run_switching import engine_of

LEAST_W = 1.0  # what rests less than this on average is not worth a walk; planning default
OUTLET_H = 2.0  # at somebody else's outlet, and so long away; planning default
MOST_CARRIED_KG = 45.0  # by two people, out of the house; planning default
LEAST_RUN_H = 0.25  # a generator is not started for less; planning default
# From what is given up last to what costs least. A set is better that gives up less of the first kind in which two
# differ.
GIVEN_UP = ("dark", "spoiled", "house", "food", "communications", "engine", "comfort", "convenience", "turns", "sun")
WARNS = ("smoke", "monoxide", "fire alarm")  # they keep on, whatever class they were put in
ENGINE_WHO = (
    "Outside, at least {far} from every opening, exhaust away; refuel it cold; an alarm for carbon monoxide indoors."
)
OUTLET_WHO = (
    "Two people carry it to a house with grid power or a generator, and charge it there. Never run a cord into "
    "house wiring."
)


@dataclass(frozen=True, slots=True)
class PossibleStep:
    """A step that is still possible.

    title, costs, who: in words
    given_up: how much of each of GIVEN_UP
    group: of steps of which only one can be taken
    less_w: AC W that are not asked for any more, (n,)
    feeding: None for what only saves
    """

    taken: SavingStep
    title: str
    costs: str
    who: str
    given_up: tuple[float, ...]
    group: str
    less_w: FloatArray
    feeding: OutsideSupply | None = None


@dataclass(frozen=True, slots=True)
class Tonight:
    """A store in an outage.

    now, until: local wall-clock times
    charge: now, 0 to 1
    low_at: when its generator would be started, None for at once
    ahead, window: shares of each step that lie ahead, and until then
    """

    run: Run
    live: Live
    now: datetime
    until: datetime
    charge: float
    low_at: datetime | None
    ahead: FloatArray = field(init=False)
    window: FloatArray = field(init=False)

    def __post_init__(self) -> None:
        n, step, now = len(self.run.load_w), self.run.steps.step_h, hour_of(self.live, self.now)
        object.__setattr__(self, "ahead", overlap(n, step, now, float("inf")))
        object.__setattr__(self, "window", overlap(n, step, now, hour_of(self.live, self.until)))

    @property
    def hours(self) -> float:
        """From now on."""
        return hour_of(self.live, self.until) - hour_of(self.live, self.now)

    @property
    def source(self) -> str:
        """The store's id in the plan."""
        return self.run.part.source.id

    def during(self, a: datetime, b: datetime) -> FloatArray:
        """The share of each step between two moments."""
        return overlap(len(self.run.load_w), self.run.steps.step_h, hour_of(self.live, a), hour_of(self.live, b))


def possible(tonight: Tonight) -> list[PossibleStep]:
    """Every step that is still possible: never with what a life or the house depends on, never into house wiring."""
    once = {item.load.id: item for item in items_of(tonight.run)}
    return [*(s for item in once.values() for s in _of_load(tonight, item)), *_of_engine(tonight), *_of_outlet(tonight)]


def is_spared(load: Load) -> bool:
    """Whether a load is nobody's savings: life, health, what keeps the house whole, and what warns of fire."""
    return must_stay_on(load) or any(w in load.name.lower() for w in WARNS)


def _given(kind: str, amount: float) -> tuple[float, ...]:
    return tuple(amount if k == kind else 0.0 for k in GIVEN_UP)


def _of_load(tonight: Tonight, item: PoweredLoad) -> Iterator[PossibleStep]:
    load, run = item.load, tonight.run
    if is_spared(load):
        return
    whole = item.watts(run.steps)
    now_w = load_as_lived(item, run, tonight.live, whole)
    amount = load.weight * load.count * tonight.hours

    def made(kind: StepKind, title: str, costs: str, rank: str) -> Iterator[PossibleStep]:
        then = instead(item, run, kind, whole)
        less = (now_w - (then if kind == "sun" else np.minimum(now_w, then))) * tonight.ahead
        if float((less * tonight.window).sum()) * run.steps.step_h >= LEAST_W * tonight.hours:
            taken = SavingStep(
                id=f"{kind}-{load.id}"[:60], kind=kind, source=tonight.source, load=load.id, at=tonight.now
            )
            yield PossibleStep(taken, title, costs, _who(item), _given(rank, amount), f"load:{load.id}", less)

    if load.turns_ok and load.thermostatic:
        cold = load.kind == "compressor" and load.purpose == "food"
        how = "on every other hour, doors closed; a thermometer inside" if cold else "on every other hour"
        yield from made("turns", f"{load.name} in turns", how, "turns")
    if load.use.kind == "tasks" and run.solar_w is not None:
        yield from made("sun", f"{load.name} at noon, in the sun", "only around noon", "sun")
    rank, costs = _resting(tonight, load)
    yield from made("rest", f"{load.name} off", costs, rank)


def _who(item: PoweredLoad) -> str:
    if item.load.hard_wired and item.circuit is not None:
        return f"At the panel: {item.circuit.name} off."
    return f"{item.load.room.capitalize() or 'At its usual place'}: switch it off there, or pull its plug."


def _resting(tonight: Tonight, load: Load) -> tuple[str, str]:
    """What is given up where a load rests, and what that costs, in words. A cold box that keeps twice as long as it
    rests gives up no more than one that takes turns."""
    if load.purpose == "food" and load.kind == "compressor":
        keeps = may_off_h(box_of(load), room_c(load, tonight.run.outage))
        if keeps >= 2 * tonight.hours:
            return "turns", f"keeps about {hours_text(min(keeps, 336.0))} with its doors closed"
        if keeps >= tonight.hours:
            return "food", f"keeps no longer than about {hours_text(keeps)}, doors closed; a thermometer inside"
        return "spoiled", f"past its limit after about {hours_text(keeps)}; throw away food that was warm for two hours"
    rank = load.purpose if load.purpose in GIVEN_UP else "house"
    return rank, f"off until {clock_text(tonight.until)}"


def _of_engine(tonight: Tonight) -> Iterator[PossibleStep]:
    run, live = tonight.run, tonight.live
    motor, made, station = engine_of(run.part), run.part.generator, run.part.station
    if motor is None or made is None or motor.charger_w <= 0:
        return
    if any(t.kind == "engine" and ends_at(live, t) > hour_of(live, tonight.now) for t in live.taken.values()):
        return
    at = max(tonight.low_at or tonight.now, tonight.now)
    mean_w = min(float(run.load_w.mean()), motor.running_w)
    charging = min(motor.charger_w, motor.running_w - mean_w, run.store.most_charge_w)
    burns = motor.still_l_h + motor.l_per_wh * (mean_w + charging)
    if charging <= 0 or burns <= 0:
        return
    begins = min(tonight.charge, motor.start_at) if tonight.low_at is not None else tonight.charge
    fill_h = max(motor.stop_at - begins, 0.0) * run.store.available_wh / (charging * station.charge_efficiency)
    hours = min(fill_h, motor.fuel_l / burns)
    end = time_at(live, hour_of(live, at) + hours).replace(second=0, microsecond=0)
    feeding = feeding_of(run, "engine", tonight.during(at, end))
    if hours < LEAST_RUN_H or at >= tonight.until or feeding is None:
        return
    yield PossibleStep(
        SavingStep(id=f"engine-{len(live.taken) + 1}", kind="engine", source=tonight.source, at=at, until=end),
        f"{made.name} from {clock_text(at)} to {clock_text(end)}",
        f"about {volume_text(hours * burns)} of fuel, and its noise",
        ENGINE_WHO.format(far=least_text(FAR_M)),
        _given("engine", hours),
        "engine",
        np.zeros(len(run.load_w)),
        feeding,
    )


def _of_outlet(tonight: Tonight) -> Iterator[PossibleStep]:
    run, station = tonight.run, tonight.run.part.station
    if not 0 < station.weight_kg <= MOST_CARRIED_KG or tonight.hours <= OUTLET_H:
        return
    if any(is_spared(f.load) for f in items_of(run)) or any(t.kind == "outlet" for t in tonight.live.taken.values()):
        return  # it cannot be spared for an hour
    end = time_at(tonight.live, hour_of(tonight.live, tonight.now) + OUTLET_H)
    feeding = feeding_of(run, "outlet", tonight.during(tonight.now, end))
    if feeding is None:
        return
    yield PossibleStep(
        SavingStep(id="outlet", kind="outlet", source=tonight.source, at=tonight.now, until=end),
        f"{station.name} to a neighbor's outlet for {hours_text(OUTLET_H)}",
        f"{mass_text(station.weight_kg)} to carry, and no power here meanwhile; "
        f"{number_text(feeding.charger_w)} W there",
        OUTLET_WHO,
        _given("dark", OUTLET_H),
        "outlet",
        np.zeros(len(run.load_w)),
        feeding,
    )
