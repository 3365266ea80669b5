"""How warm food gets where a refrigerator or freezer has no power, takes turns, or stands in the dark.

A first-order box: it warms toward the room with its doors shut, and is drawn down while it runs. Planning defaults,
after the usual guidance that a shut refrigerator keeps about four hours and a full freezer about two days. The
thermometer decides."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.clock import BoolArray
from imbuto.core.basics.measures import IN_USE
from imbuto.core.home.loads import Load
from imbuto.core.plan.load_conditions import room_c
from imbuto.core.run.run import Run

SAFE_C = 4.0  # of perishables; above it for two hours they are thrown away
MOST_WARM_H = 2.0
FROZEN_C = -1.0  # below this a freezer's food still holds ice


def safe_text() -> str:
    """The limit of perishables as those who publish it write it: 4 °C, or 40 °F."""
    return "40 °F" if IN_USE.get().system == "us" else f"{SAFE_C:g} °C"


FREEZERS = ("freezer", "congelatore", "frozen")


@dataclass(frozen=True, slots=True)
class ColdBox:
    """A cold box.

    set_c: kept at
    warms_h, cools_h: time constants toward the room and back
    limit_c: not to be passed
    """

    set_c: float
    warms_h: float
    cools_h: float
    limit_c: float


FRIDGE = ColdBox(3.0, 46.0, 2.0, SAFE_C)  # 3 to 4.4 °C in four hours at 20 °C
FREEZER = ColdBox(-18.0, 72.0, 4.0, FROZEN_C)  # -18 to -1 °C in about two days at 20 °C


@dataclass(frozen=True, slots=True)
class Food:
    """One cold load in one outage.

    warmest_c: inside, at its worst
    over_h: hours above its limit
    longest_off_h: without power at a stretch
    may_off_h: how long it may be off at once before its limit, doors shut
    fed: by this plan
    """

    load: Load
    limit_c: float
    warmest_c: float
    over_h: float
    longest_off_h: float
    may_off_h: float
    fed: bool
    safe: bool


def food(run: Run, on: dict[str, BoolArray]) -> list[Food]:
    """Every cold load of the home over the outage's own length. on: load id → whether it has power in each step; one
    that is not there has none at all."""
    n = min(run.steps.n, max(1, round(run.outage.hours / run.steps.step_h)))
    found = []
    for load in run.part.home.loads.values():
        if load.purpose == "food" and load.kind == "compressor" and load.use.kind == "cycling":
            power = on.get(load.id, np.zeros(run.steps.n, dtype=bool))[:n]
            found.append(_track(run, load, power))
    return sorted(found, key=lambda f: (f.safe, -f.over_h))


def box_of(load: Load) -> ColdBox:
    """Refrigerator or freezer, by its name."""
    return FREEZER if any(word in load.name.lower() for word in FREEZERS) else FRIDGE


def may_off_h(box: ColdBox, room: float) -> float:
    """Hours from its set point to its limit, doors shut; never less than 0."""
    if room <= box.limit_c:
        return float("inf")
    return float(box.warms_h * np.log((room - box.set_c) / (room - box.limit_c)))


def _track(run: Run, load: Load, power: BoolArray) -> Food:
    box, room, h = box_of(load), room_c(load, run.outage), run.steps.step_h
    warm, cool = np.exp(-h / box.warms_h), np.exp(-h / box.cools_h)
    inside, warmest, over, off, longest = box.set_c, box.set_c, 0.0, 0.0, 0.0
    for has in power.tolist():
        inside = box.set_c + (inside - box.set_c) * cool if has else room + (inside - room) * warm
        off = 0.0 if has else off + h
        longest, warmest = max(longest, off), max(warmest, inside)
        over += h if inside > box.limit_c else 0.0
    allowed = MOST_WARM_H if box is FRIDGE else 0.0
    return Food(
        load,
        box.limit_c,
        float(warmest),
        over,
        longest,
        may_off_h(box, room),
        bool(power.any()),
        over <= allowed + 1e-9,
    )
