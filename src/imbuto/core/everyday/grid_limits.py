"""What is more than a station gives while the grid is there, and what comes of it: the grid fills in, all of it goes
back to the grid, or the station shuts off until somebody has come."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.basics.units import Leg
from imbuto.core.plan.system import Part, PoweredLoad, ahead_of, legs_of_feed
from imbuto.core.run import march as flow
from imbuto.core.run.run_switching import all_stores, carriers, store_count

AtLimit = Literal["fills_in", "goes_back", "shuts_off"]
LEGS: tuple[Leg, Leg] = ("A", "B")


@dataclass(frozen=True)
class Overload:
    """What is more than stations give; k stores, n steps.

    loads_w: AC W that is left on each store, (k, n)
    by_grid_w: AC W that the grid gives instead, (n,)
    unserved_w: AC W that nobody gives, since a station shut off, (n,)
    over: of each station of the line, the steps in which it was asked for more than it gives
    """

    loads_w: FloatArray
    by_grid_w: FloatArray
    unserved_w: FloatArray
    over: tuple[np.ndarray, ...]

    @classmethod
    def none(cls, loads_w: FloatArray, stations: int) -> Overload:
        """Nothing is more."""
        n = loads_w.shape[1]
        return cls(loads_w, np.zeros(n), np.zeros(n), (np.zeros(n, dtype=bool),) * stations)


def at_limit(part: Part) -> AtLimit:
    """What its gear does with more than the station gives while the grid is there."""
    gear = list(part.by_device.values())
    if any(not e.automatic for e in gear):
        return "shuts_off"
    return "fills_in" if gear and all(e.tops_up for e in gear) else "goes_back"


def gives_w(part: Part) -> float:
    """AC W a station gives for as long as it lasts while the grid is there; where nobody lists that, what it gives
    without."""
    station = part.station
    without = min(station.continuous_w, station.rated_va)
    return station.on_grid_w or without


def leg_loads(item: PoweredLoad, watts: FloatArray) -> FloatArray:
    """A load's W by leg, (2, n); what needs both has half on each."""
    return np.stack([watts * (leg in item.legs) / max(len(item.legs), 1) for leg in LEGS])


def relieve(
    line: tuple[Part, ...],
    loads_w: FloatArray,
    legs_w: dict[int, FloatArray],
    use: FloatArray,
    *,
    reset_steps: int,
    by_hand: Sequence[bool],
) -> Overload:
    """Take off stations what is more than they give where they carry: by the mean of each quarter hour, so that a peak
    within one is not seen.

    loads_w: AC W on each store, (k, n); legs_w: of stations with two legs, (2, n)
    use: mode of each step, (n,)
    reset_steps: until somebody has reset one that shut off
    by_hand: of each station, whether it is moved over by hand
    """
    n = loads_w.shape[1]
    left, by_grid, unserved = loads_w.copy(), np.zeros(n), np.zeros(n)
    by_leg = {rank: w.copy() for rank, w in legs_w.items()}
    over = [np.zeros(n, dtype=bool)] * len(line)
    begins = np.cumsum([0, *(all_stores(x) for x in line)])
    ids = [x.source.id for x in line]
    carried = carriers(line[0]) if len(line) > 1 else list(line)
    for rank in range(len(line) - 1, -1, -1):  # what hangs behind comes last in a line
        x = carried[rank]
        own = slice(int(begins[rank]), int(begins[rank]) + store_count(x))
        carries = (use == flow.CARRY) | ((use == flow.SUN_FIRST) & (not by_hand[rank]))
        up = ahead_of(x.whole, x.source.id)
        head = ids.index(up) if up in ids and not x.waits else None
        if head is not None and (by_hand[rank] or not x.source.own_first):  # it passes on what it takes from there
            if not by_hand[head]:
                _pass_on(line[head], x, left[own].sum(axis=0), by_leg.get(head))
                left[int(begins[head])] += left[own].sum(axis=0)
                left[own] = 0.0
            continue
        more = np.minimum(_more(x, left[own], by_leg.get(rank)), left[own].sum(axis=0)) * carries
        over[rank] = more > 1e-6
        if not over[rank].any():
            continue
        if head is not None:  # what is ahead is its grid: all of it goes back there
            gone_back = np.where(over[rank], left[own].sum(axis=0), 0.0)
            _pass_on(line[head], x, gone_back, by_leg.get(head))
            left[int(begins[head])] += gone_back
            left[own] = np.where(over[rank], 0.0, left[own])
        elif at_limit(x) == "fills_in":
            by_grid += more
            share = np.divide(more, left[own].sum(axis=0), out=np.zeros(n), where=over[rank])
            left[own] *= 1 - share
        elif at_limit(x) == "goes_back":
            by_grid += np.where(over[rank], left[own].sum(axis=0), 0.0)
            left[own] = np.where(over[rank], 0.0, left[own])
        else:
            off = _until_reset(over[rank], reset_steps) & carries
            unserved += np.where(off, left[own].sum(axis=0), 0.0)
            left[own] = np.where(off, 0.0, left[own])
    return Overload(left, by_grid, unserved, tuple(over))


def _pass_on(head: Part, behind: Part, watts: FloatArray, legs_w: FloatArray | None) -> None:
    """Add what a station behind another takes from it to the legs of that one, (2, n), where it has two."""
    if legs_w is None:
        return
    feed = head.plan.feeds.get(behind.source.plugged_into or "")
    legs = legs_of_feed(head, feed) if feed is not None else LEGS
    for i, leg in enumerate(LEGS):
        if leg in legs:
            legs_w[i] += watts / len(legs)


def _more(x: Part, loads_w: FloatArray, legs_w: FloatArray | None) -> FloatArray:
    """W over what a station gives: on any of its stores, as a whole, or on a leg; (n,)."""
    whole = gives_w(x)
    each: FloatArray = np.maximum(loads_w - whole / len(loads_w), 0.0).sum(axis=0)
    if legs_w is None:
        return each
    leg_w = x.station.leg_a * x.station.leg_volts
    most: FloatArray = np.maximum(each, np.maximum(legs_w - leg_w, 0.0).sum(axis=0))
    return most


def _until_reset(over: np.ndarray, steps: int) -> np.ndarray:
    """The steps of an overload, and those after it until somebody has reset what shut off."""
    found = over.copy()
    for later in range(1, steps):
        found[later:] |= over[:-later]
    return found
