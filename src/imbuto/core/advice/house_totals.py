"""The house as a whole: day and night, its bills, what reached no total, and how each load behaves on battery."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from functools import partial
from itertools import pairwise
from typing import Literal

import numpy as np

from imbuto.core.basics.clock import TYPICAL_DAYS
from imbuto.core.home.household import HARMS, Harm, History
from imbuto.core.home.loads import Load, mean_w, use_watts
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import Part, Wiring, vary_in_line
from imbuto.core.run.run import Run

Word = Literal["runs freely", "short use", "not at night", "steady draw"]
NIGHT = (20.0, 8.0)  # local hours without useful sun, for the night total; planning default
FREE_SHARE = 0.08  # of what is usable, a day of it
NIGHT_SHARE = 0.15  # of what is usable, a night of it
HEATING_W = 700.0
SHORT_MINUTES = 45.0
GAP = (0.8, 1.15)  # sum of loads over the bill: outside it something is missing or counted twice


@dataclass(frozen=True, slots=True)
class DayNight:
    """Wh of a load in an average day, by day and by night (20 to 8 o'clock)."""

    day_wh: float
    night_wh: float

    @property
    def total_wh(self) -> float:
        """Both."""
        return self.day_wh + self.night_wh


def is_night(hour: np.ndarray[tuple[int], np.dtype[np.float64]]) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Whether local hours belong to the night total."""
    return (hour >= NIGHT[0]) | (hour < NIGHT[1])


def day_night(load: Load) -> DayNight:
    """Of an average day: five weekdays and two weekend days."""
    days = TYPICAL_DAYS
    watts = use_watts(load, days)
    if load.use.kind == "tasks":
        watts = np.asarray(watts, dtype=np.float64)
    weight = np.where(days.weekend, 2 / 7, 5 / 7) * days.step_h
    night = is_night(days.hour)
    return DayNight(float((watts * weight)[~night].sum()), float((watts * weight)[night].sum()))


def chosen_day_wh(wirings: Sequence[Wiring]) -> float:
    """AC Wh an average day takes of what a plan powers, its turns taken: a part of the house's, on the same days."""
    days = TYPICAL_DAYS
    weight = np.where(days.weekend, 2 / 7, 5 / 7) * days.step_h
    each = {f.load.id: f for x in wirings for f in x.fed if not f.assumed}  # one behind another is in both of them
    return sum(float((f.watts(days) * weight).sum()) for f in each.values())


def is_heating(load: Load) -> bool:
    """Whether a load is a heating element large enough to sink a plan."""
    return load.kind == "heater" and load.run_w * load.count >= HEATING_W


def word_for(load: Load, usable_wh: float) -> Word:
    """How a load behaves on battery. usable_wh: from the start charge to the floor, 0 where there is no station.

    Planning defaults: a day of it under 8% of what is usable runs freely; a night of it over 15% is not for the
    night, unless someone's life or the house depends on it; large elements and tasks are for short use.
    """
    split = day_night(load)
    if is_heating(load) or (load.use.kind == "tasks" and load.use.minutes <= SHORT_MINUTES and load.run_w >= HEATING_W):
        return "short use"
    if usable_wh <= 0:
        return "steady draw"
    if split.total_wh <= FREE_SHARE * usable_wh:
        return "runs freely"
    if load.purpose not in ("life", "house") and split.night_wh > NIGHT_SHARE * usable_wh:
        return "not at night"
    return "steady draw"


def counts_nowhere(load: Load) -> str:
    """Why a listed load adds nothing to any total; empty where it does."""
    if load.average_w == 0 and load.rest_w == 0:
        return "no watts entered" if load.run_w == 0 else "its average is 0 W"
    return "" if mean_w(load) > 0 else "it is never in use"


def gap_sentence(sum_wh_day: float, bill_wh_day: float) -> str:
    """What the sum of loads against the bill says."""
    ratio = sum_wh_day / bill_wh_day
    if ratio < GAP[0]:
        rest = (bill_wh_day - sum_wh_day) / 1000
        return (
            f"The bill has {rest:.1f} kWh per day that no load accounts for. Look for water heating, heating and "
            f"cooling, "
            "standby draws, and circuits not traced yet."
        )
    if ratio > GAP[1]:
        return (
            "The loads add up to more than the bill. Look for one entered twice, hours of use that are "
            "plugged-in hours, "
            "or running watts taken for an average."
        )
    return "The loads and the bill agree."


@dataclass(frozen=True, slots=True)
class UtilityBill:
    """Energy of the whole home over a stretch of days. begins, ends: its dates, the last one out, None where it has
    none."""

    name: str
    wh: float
    hours: float
    begins: date | None = None
    ends: date | None = None


def billed_wh_day(bills: Sequence[UtilityBill]) -> tuple[float, tuple[str, ...]]:
    """Wh a day by all bills, and what to mind: overlaps and gaps of their dates, named.

    What is metered over the same dates adds, as a second meter's bill or the sun's yield does; stretches follow each
    other. Without dates each is a stretch of its own."""
    hours = sum(b.hours for b in bills if b.begins is None)
    energy = sum(b.wh for b in bills if b.begins is None)
    dated = [(b, b.begins, b.ends) for b in bills if b.begins is not None and b.ends is not None]
    edges = sorted({x for _, begins, ends in dated for x in (begins, ends)})
    minded: list[str] = []
    for a, b in pairwise(edges):
        there = [(bill, begins, ends) for bill, begins, ends in dated if begins <= a and b <= ends]
        if not there:
            minded.append(f"Nothing is entered from {a} to {b}.")
            continue
        days = (b - a).days
        hours += 24 * days
        energy += sum(bill.wh * days / (ends - begins).days for bill, begins, ends in there)
        spans = {(begins, ends) for _, begins, ends in there}
        if len(spans) > 1:
            names = " and ".join(f"“{bill.name}”" for bill, *_ in there)
            minded.append(f"{names} overlap from {a} to {b}, where they add up.")
    return (24 * energy / hours if hours > 0 else 0.0), tuple(minded)


@dataclass(frozen=True, slots=True)
class LoadSaving:
    """What doing without a load, or with less of it, frees: hours over the outage, and Wh until its goal."""

    load: Load
    hours: float
    never_dark: bool
    saved_wh: float


def without(run_of: Run, again: Run, load: Load) -> LoadSaving:
    """Compare a run with the same one without a load."""
    saved = (run_of.average_w - again.average_w) * run_of.outage.goal_hours
    return LoadSaving(load, again.at_least_h - run_of.at_least_h, again.hours is None, max(saved, 0.0))


def with_substitute(part: Part, load: Load) -> Part:
    """The plan with a load's substitute in force: left out, or drawing its lesser average."""
    return vary_in_line(part, partial(_lessened, load=load), all_of_line=True)


def _lessened(part: Part, load: Load) -> Part:
    if load.substitute == "less_power" and load.less_w is not None:
        less = replace(load, average_w=min(load.less_w, load.average_w), rest_w=min(load.rest_w, load.less_w))
        fed = tuple(replace(i, load=less) if i.load.id == load.id else i for i in part.fed)
    else:
        fed = tuple(i for i in part.fed if i.load.id != load.id)
    return replace(part, fed=fed)


def harms_of(load: Load) -> Harm | None:
    """The harm a load keeps away: the one said, else the one its class usually means."""
    if load.harm is not None:
        return load.harm
    if load.purpose == "life":
        return "breathing"
    if load.purpose == "food":
        return "food"
    if load.purpose == "communications":
        return "work"
    if load.purpose == "house" and load.kind == "pump":
        return "flood"
    return None


def by_harm(loads: list[Load]) -> dict[Harm, list[Load]]:
    """The loads that keep each harm away."""
    found: dict[Harm, list[Load]] = {h: [] for h in HARMS}
    for load in loads:
        harm = harms_of(load)
        if harm is not None:
            found[harm].append(load)
    return found


def proposed_outages(history: History, today: datetime, *, north: bool = True) -> list[Outage]:
    """Outages worth planning for, from those lived through: the usual one, the longest one, and a short one that
    comes before the station is full again."""
    found: list[Outage] = []
    winter = 1 if north else 7
    month = history.months[0] if history.months else winter
    start = _next(today, month, 18)

    def add(ident: str, name: str, hours: float, **more: float) -> None:
        if hours > 0:
            capped = min(hours, 336.0)
            found.append(Outage(id=ident, name=name, start=start, hours=capped, goal_hours=capped, **more))  # type: ignore[arg-type]

    add("usual-outage", "The usual outage", history.usual_h)
    if history.longest_h > history.usual_h:
        cold = month in ((11, 12, 1, 2, 3) if north else (5, 6, 7, 8, 9))
        weather = {"indoors_c": 15.0, "garage_c": 2.0, "outdoors_c": 0.0} if cold else {}
        add("longest-outage", "The longest one again", history.longest_h, **weather)
    if history.a_year >= 4 and history.shortest_h > 0:
        add("second-outage", "A short one soon after another", history.shortest_h, start_charge=0.5)
    return found


def _next(today: datetime, month: int, hour: int) -> datetime:
    year = today.year + (1 if month < today.month else 0)
    at = datetime(year, month, 15, hour)
    return at if at > today.replace(tzinfo=None) else at + timedelta(days=365)
