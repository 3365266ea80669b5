"""Charges to hold a station's display against through a day, and what to switch off first where it shows less."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from imbuto.core.home.loads import PURPOSES, guards
from imbuto.core.plan.plan import Feed
from imbuto.core.plan.system import Part
from imbuto.core.run.band import curves
from imbuto.core.run.run import Run

EVERY_H = (4.0, 8.0, 12.0, 24.0)  # after going over; planning default
QUARTERS = 4  # an hour, as the band's curves are kept
KEPT = ("life", "house")  # classes of loads that are never named to be switched off first
LEAST_OFF_W = 15.0  # on average: less than this is not worth a walk; planning default


@dataclass(frozen=True, slots=True)
class Checkpoint:
    """What the display of a station should show at one time.

    hours: since the power went out
    at: clock time, where the power goes out when the plan's outage says
    expected: charge, 0 to 1
    least: 9 in 10 times it shows more; less means that more is drawn than planned
    """

    hours: float
    at: datetime
    expected: float
    least: float


def checkpoints(run: Run) -> list[Checkpoint]:
    """The charges of a run's stores together at a few times of its first day, until it stops."""
    ends = min(run.at_least_h, EVERY_H[-1])
    times = [h for h in EVERY_H if h <= ends]
    if not times:
        return []
    low, _ = curves(run, times[-1])
    found = []
    for h in times:
        step = min(round(h / run.steps.step_h), len(run.charge) - 1)
        quarter = min(round(h * QUARTERS), len(low) - 1)
        expected, least = float(run.charge[step]), float(low[quarter])
        found.append(Checkpoint(h, run.steps.moment(h).replace(tzinfo=None), expected, min(least, expected)))
    return found


def first_off(part: Part) -> list[str]:
    """What to switch off first where less is left than expected, by the names of their circuits."""
    return [part.target_names[feed.id] for feed in first_off_feeds(part)]


def first_off_feeds(part: Part) -> list[Feed]:
    """Feeds in the order to switch them off in: what matters least, then what draws most. What health or the house
    depends on is never among them."""
    feeds = {f.feed.id: f.feed for f in part.fed}
    found = []
    for feed in feeds.values():
        loads = [f.load for f in part.fed if f.feed.id == feed.id]
        mean = sum(x.count * x.average_w for x in loads)
        if any(guards(x) or x.purpose in KEPT for x in loads) or mean < LEAST_OFF_W:
            continue
        matters = min(PURPOSES.index(x.purpose) for x in loads)
        found.append((-matters, -mean, feed.id))
    return [feeds[ident] for _, _, ident in sorted(found)]
