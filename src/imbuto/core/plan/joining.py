"""What is fed in a plan, from which place and on which leg."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from imbuto.core.basics.clock import TYPICAL_DAYS, BoolArray, FloatArray, Grid, Window, inside
from imbuto.core.basics.units import Leg
from imbuto.core.equipment.catalogue import Catalogue, Generator, Panel, Station, TransferEquipment
from imbuto.core.home.circuits import Circuit, panel_leg
from imbuto.core.home.home import Home
from imbuto.core.home.loads import PURPOSES, Load, Use, in_use, may_run, mean_w, turns_average_w, use_watts
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.linking import combined, link_limits
from imbuto.core.plan.plan import Feed, Plan, Source, Stance, narrowed, places_of

UNTRACED_PART = 0.05  # of what is known on a circuit that nobody has traced, on top; planning default
UNTRACED_SPREAD = 1.0  # relative one sigma of that, lognormal, so that it is skewed upward; planning default


@dataclass(frozen=True, slots=True)
class Fed:
    """A load that gets power. legs: the one it is on, or both; volts: across the load; rides_along: see ``joined``;
    assumed: no load of the home, but what stands for one."""

    load: Load
    feed: Feed
    circuit: Circuit | None
    legs: tuple[Leg, ...]
    volts: float
    rides_along: bool
    assumed: bool = False

    def watts(self, steps: Grid) -> FloatArray:
        """Mean W in each step with its turns; shape (n,)."""
        feed = self.feed
        stance: Stance = "keep_on" if feed.by_charge else feed.stance  # while it is on, it is fed as if kept on
        return fed_watts(self.load, stance, feed.windows, feed.share, steps)


@dataclass(frozen=True, slots=True)
class Joined:
    """A plan resolved against a home and a catalogue. station: all its units as one;
    panels: those of its arrays, by id in the catalogue; linked: what its units and modules may be joined to;
    unit: one of its units, as in the catalogue; generator: its own, None for none; passes: what a
    station plugged in behind this one has on its cords, and its own draw; line: where one hangs behind another, all of them with
    what is their own, the first first, and rank: which of them this is."""

    home: Home
    plan: Plan
    source: Source | None
    station: Station | None
    equipment: TransferEquipment
    fed: tuple[Fed, ...]
    unplugged: tuple[Load, ...]
    panels: dict[str, Panel] = field(default_factory=dict)
    linked: tuple[Limit, ...] = ()
    unit: Station | None = None
    generator: Generator | None = None
    passes: tuple[Fed, ...] = ()
    line: tuple[Joined, ...] = ()
    rank: int = 0

    @property
    def target_names(self) -> dict[str, str]:
        """Feed id → the name of what it feeds."""
        return {f.id: feed_name(self.home, f) for f in self.plan.feeds.values()}

    def watts(self, steps: Grid) -> FloatArray:
        """Mean AC W of everything fed, in each step; shape (n,)."""
        total = np.zeros(steps.n)
        for item in self.fed:
            total += item.watts(steps)
        return total

    def places_used(self) -> set[int]:
        """Places of the switch, or outlets of the station, that something hangs on."""
        return {place for feed in self.plan.feeds.values() for place in places_of(feed, self.home)}

    @property
    def place_count(self) -> int:
        """How many places there are: the switch's, or the station's outlets with cords."""
        if not self.equipment.traits.wired:
            return self.station.outlets if self.station else 0
        return self.equipment.places


def feed_name(home: Home, feed: Feed) -> str:
    """What a feed goes to, by name."""
    if feed.circuit is not None:
        return home.circuits[feed.circuit].name
    return home.loads[feed.load or ""].name


def joined(home: Home, plan: Plan, catalogue: Catalogue, passes: tuple[Fed, ...] = ()) -> Joined:
    """Resolve a checked plan. passes: what hangs behind it on a station plugged in.

    A load rides along when it comes with a circuit that is fed for a more important one, and nobody said it is wanted.
    """
    source = plan.source
    unit = catalogue.stations[source.station] if source else None
    station = combined(unit, source, catalogue) if unit and source else None
    equipment = catalogue.transfer[plan.transfer]
    by_circuit: dict[str, list[Load]] = {}
    for load in home.loads.values():
        if load.circuit is not None:
            by_circuit.setdefault(load.circuit, []).append(load)
    fed: list[Fed] = []
    unplugged: list[Load] = []
    for feed in plan.feeds.values():
        circuit = home.circuits.get(feed.circuit or "")
        loads = by_circuit.get(circuit.id, []) if circuit else [home.loads[feed.load or ""]]
        best = min((PURPOSES.index(x.purpose) for x in loads), default=0)
        for load in loads:
            choice = plan.load_choices.get(load.id)
            if choice == "unplugged":
                unplugged.append(load)
                continue
            rides = choice is None and PURPOSES.index(load.purpose) > best
            both = home.needs_both_legs(load)
            legs = _legs(feed, circuit, both, station, equipment)
            fed.append(Fed(load, feed, circuit, legs, home.service.volts * (2 if both else 1), rides))
        if circuit is not None and not circuit.traced and loads:
            fed.append(_not_traced(home, feed, circuit, loads, _legs(feed, circuit, False, station, equipment)))
    panels = {a.panel: catalogue.panels[a.panel] for a in plan.arrays.values()}
    linked = tuple(link_limits(plan, catalogue))
    engine = catalogue.generators[plan.engine.generator] if plan.engine else None
    behind = tuple(
        replace(p, feed=plan.feeds[p.feed.id], legs=_legs(plan.feeds[p.feed.id], p.circuit, False, station, equipment))
        for p in passes
        if p.feed.id in plan.feeds
    )
    return Joined(
        home, plan, source, station, equipment, (*fed, *behind), tuple(unplugged), panels, linked, unit, engine, passes
    )  # fmt: skip


def _not_traced(home: Home, feed: Feed, circuit: Circuit, loads: list[Load], legs: tuple[Leg, ...]) -> Fed:
    """What else hangs on a circuit nobody has traced: a twentieth more than what is known there, skewed upward."""
    more = UNTRACED_PART * sum(mean_w(load) for load in loads)
    load = Load(
        id=f"untraced-{circuit.id}"[:60], name=f"Not traced on {circuit.name}"[:80], circuit=circuit.id, average_w=more,
        rest_w=0, run_w=more, spread=UNTRACED_SPREAD,
    )  # fmt: skip
    return Fed(load, feed, circuit, legs, home.service.volts, rides_along=False, assumed=True)


def parts(home: Home, plan: Plan, catalogue: Catalogue) -> list[Joined]:
    """A plan resolved source by source, the one at the transfer equipment first; one part without any."""
    each = [joined(home, narrowed(plan, key), catalogue) for key in plan.sources or ("main",)]
    passes = tuple(p for other in each[1:] for p in _passes(other, each[0]))
    if not passes:
        return each
    line = (each[0], *(x for x in each[1:] if x.source is not None and x.source.plugged_into))
    first = joined(home, each[0].plan, catalogue, passes)
    if any(
        x.source is not None and x.source.own_first for x in line
    ):  # else what it passes on is simply a load of its own
        first = replace(first, line=line)
    return [first, *(replace(x, line=line, rank=line.index(x)) if x in line else x for x in each[1:])]


def _passes(other: Joined, first: Joined) -> Iterator[Fed]:
    """What a station behind the first one draws from it: its loads, passed on, and itself; its charger is off."""
    source, station = other.source, other.station
    feed = first.plan.feeds.get(source.plugged_into or "") if source else None
    if feed is None or source is None or station is None:
        return
    circuit = first.home.circuits.get(feed.circuit or "")
    idle = station.idle_w + source.modules * station.module_draw_w
    own = Load(id=f"own-{source.id}", name=f"{station.name} itself", average_w=idle, rest_w=idle, run_w=idle)
    for load in (own, *(f.load for f in other.fed)):
        yield Fed(load, feed, circuit, ("A",), first.home.service.volts, rides_along=False, assumed=load is own)


def legs_of_feed(joined: Joined, feed: Feed) -> tuple[Leg, ...]:
    """The leg a feed is on, or both."""
    circuit = joined.home.circuits.get(feed.circuit or "")
    both = circuit is not None and circuit.poles == 2 and joined.home.service.legs == 2
    return _legs(feed, circuit, both, joined.station, joined.equipment)


def _legs(
    feed: Feed, circuit: Circuit | None, both: bool, station: Station | None, equipment: TransferEquipment
) -> tuple[Leg, ...]:
    if station is None or len(station.legs) == 1:
        return ("A",)
    if both:
        return ("A", "B")
    if not equipment.traits.wired:  # outlets alternate between the legs
        return ("A",) if feed.place % 2 else ("B",)
    if equipment.in_panel and circuit is not None:
        return (panel_leg(circuit),)
    return (equipment.leg_of_place(feed.place),)


@lru_cache(maxsize=2048)
def fed_watts(load: Load, stance: Stance, windows: tuple[Window, ...], share: float, steps: Grid) -> FloatArray:
    """Mean W of a load in each step, with its turns; shape (n,). The array is shared: do not write to it."""
    base = use_watts(load, steps)
    if stance == "keep_on":
        return base
    if not windows:
        if load.thermostatic:
            used = in_use(load.use, steps)
            average = turns_average_w(load.average_w, load.run_w, share, thermostatic=True)
            return load.count * (average * used + load.rest_w * share * (1 - used))
        return base * share
    open_ = inside(windows, steps.hour, steps.weekend)
    if not load.thermostatic:
        return base * open_
    used = in_use(load.use, steps)
    part = _share_open(load.use, windows)
    average = turns_average_w(load.average_w, load.run_w, part, thermostatic=True)
    on = load.count * (average / part * used + load.rest_w * (1 - used)) if part > 0 else np.zeros(steps.n)
    return np.where(open_, on, 0.0)


def _share_open(use: Use, windows: tuple[Window, ...]) -> float:
    """The share of its own hours of use that the windows of its turns are open, over an average week; 0 to 1."""
    days = TYPICAL_DAYS
    used, open_ = in_use(use, days), inside(windows, days.hour, days.weekend)
    each = np.where(days.weekend, 2.0, 5.0)
    asked = float((used * each).sum())
    return float((used * open_ * each).sum()) / asked if asked > 0 else 0.0


@lru_cache(maxsize=2048)
def states(load: Load, stance: Stance, windows: tuple[Window, ...]) -> tuple[FloatArray, BoolArray]:
    """Over a typical weekday and weekend day: W drawn while running where it may run, rest W elsewhere it is fed,
    and where it may start; shapes (576,). Instantaneous, for limits."""
    days = TYPICAL_DAYS
    active = may_run(load, days)
    open_ = np.ones(days.n, dtype=bool)
    if stance == "turns" and windows:
        open_ = inside(windows, days.hour, days.weekend)
    active = active & open_
    return np.where(active, load.count * load.run_w, load.count * load.rest_w * open_), active


@lru_cache(maxsize=2048)
def changes(load: Load, stance: Stance, windows: tuple[Window, ...]) -> NDArray[np.int_]:
    """The states of ``states`` that differ from the one before."""
    drawn, active = states(load, stance, windows)
    return np.flatnonzero((np.diff(drawn) != 0) | np.diff(active)) + 1
