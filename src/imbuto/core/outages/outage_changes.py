"""What an outage does to the plan's load: steps taken to last longer, and places switched by hand."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.home.live_outage import Live, SavingStep, StepKind, hour_of
from imbuto.core.home.loads import use_watts
from imbuto.core.plan.load_states import fed_watts
from imbuto.core.plan.system import PoweredLoad
from imbuto.core.run.run import Run
from imbuto.core.run.run_switching import engine_of

HALF = 0.5  # of the time, for what takes turns; planning default
NOON_H = 12.0


@dataclass(frozen=True, slots=True)
class OutsideSupply:
    """What feeds a store from outside for a time.

    share: of each step that it does, (n,)
    carries_w: AC W of the load that it can take over
    charger_w: AC W that it charges with, within that
    efficiency: of charging
    dark: nothing is fed meanwhile
    """

    share: FloatArray
    carries_w: float
    charger_w: float
    efficiency: float
    dark: bool = False

    def ahead(self, there: slice) -> OutsideSupply:
        """The same, for some of the steps."""
        return replace(self, share=self.share[there])

    def on(self, load_w: FloatArray) -> tuple[FloatArray, FloatArray]:
        """The load that is left for the store, and W into it, with this on; (n,) each."""
        if self.dark:
            return load_w * (1 - self.share), self.share * self.charger_w * self.efficiency
        carried = np.minimum(load_w, self.carries_w)
        charging = np.minimum(self.charger_w, self.carries_w - carried)
        return load_w - self.share * carried, self.share * charging * self.efficiency


def overlap(n: int, step_h: float, a: float, b: float) -> FloatArray:
    """The share of each of n steps that lies between two hours, 0 to 1."""
    ends = np.arange(n + 1) * step_h
    inside: FloatArray = np.clip(np.minimum(ends[1:], b) - np.maximum(ends[:-1], a), 0.0, None) / step_h
    return inside


def as_lived(run: Run, live: Live) -> tuple[FloatArray, FloatArray]:
    """AC W asked of the store in each step since it went out, and W into it beside the sun, with all that was taken and
    switched; (n,) each. What a load does not ask for is counted once, however often it was put off."""
    total = run.load_w.copy()
    for item in items_of(run):
        total -= (whole := item.watts(run.steps)) - load_as_lived(item, run, live, whole)
    total, came = np.maximum(total, 0.0), np.zeros(len(total))
    source = run.part.source.id
    for taken in sorted(live.taken.values(), key=lambda t: t.at):
        feeding = _feeding(run, live, taken) if taken.source == source else None
        if feeding is not None:
            total, more = feeding.on(total)
            came = came + more
    return total, came


def items_of(run: Run) -> list[PoweredLoad]:
    """What is fed and can be put off, load by load."""
    return [f for f in run.part.fed if not f.assumed and not f.feed.by_charge]


def load_as_lived(item: PoweredLoad, run: Run, live: Live, whole: FloatArray) -> FloatArray:
    """AC W that a load asks for in each step, whole: as planned; (n,)."""
    left, step = whole, run.steps.step_h
    for taken in live.taken.values():
        if taken.load == item.load.id:
            during = overlap(len(whole), step, hour_of(live, taken.at), ends_at(live, taken))
            then = instead(item, run, taken.kind, whole)
            # What is moved asks for more at noon; what rests or takes turns never asks for more than it does already.
            left = left * (1 - during) + during * (then if taken.kind == "sun" else np.minimum(left, then))
    for a, b in off_times(live, item.feed.id):
        left = left * (1 - overlap(len(whole), step, a, b))
    return left


def instead(item: PoweredLoad, run: Run, kind: StepKind, whole: FloatArray) -> FloatArray:
    """What a load asks for while a step holds."""
    if kind == "rest":
        return np.zeros(len(whole))
    if kind == "turns":
        halved = fed_watts(item.load, "turns", (), HALF, run.steps)
        return np.minimum(halved * item.dc_share if item.dc_share else halved, whole)
    use = item.load.use
    moved = replace(
        item.load, use=replace(use, times=tuple(NOON_H + i * use.minutes / 60 for i in range(len(use.times))))
    )
    found = use_watts(moved, run.steps)
    return found * item.dc_share if item.dc_share else found


def off_times(live: Live, feed: str) -> list[tuple[float, float]]:
    """When a place was switched off by hand, hours since it went out; the last end infinite while it still is."""
    found: list[tuple[float, float]] = []
    since: float | None = None
    for s in sorted((s for s in live.switched.values() if s.feed == feed), key=lambda s: s.at):
        if not s.on and since is None:
            since = hour_of(live, s.at)
        elif s.on and since is not None:
            found.append((since, hour_of(live, s.at)))
            since = None
    return found if since is None else [*found, (since, float("inf"))]


def ends_at(live: Live, taken: SavingStep) -> float:
    """When a step ends, hours since it went out; infinite where it lasts."""
    return float("inf") if taken.until is None else hour_of(live, taken.until)


def _feeding(run: Run, live: Live, taken: SavingStep) -> OutsideSupply | None:
    if taken.kind not in ("engine", "outlet"):
        return None
    share = overlap(len(run.load_w), run.steps.step_h, hour_of(live, taken.at), ends_at(live, taken))
    return feeding_of(run, taken.kind, share)


def feeding_of(run: Run, kind: StepKind, share: FloatArray) -> OutsideSupply | None:
    """What a generator of the plan, or somebody else's outlet, gives while it does; None where the plan has none."""
    part, store = run.part, run.store
    if kind == "engine":
        motor = engine_of(part)
        if motor is None:
            return None
        return OutsideSupply(
            share, motor.running_w, min(motor.charger_w, store.most_charge_w), part.station.charge_efficiency
        )
    most = part.station.charger_w(part.source.modules)
    watts = min(most, store.most_charge_w)
    return OutsideSupply(share, watts, watts, part.station.charge_efficiency, dark=True) if watts > 0 else None
