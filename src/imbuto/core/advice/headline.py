"""Say an answer in words: the sentences that the verdict bar, Compare, the papers and the command line share.

Every place that tells how long a plan lasts asks here, so that no two places say it differently.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from imbuto.core.advice.answer import Answer
from imbuto.core.advice.gives_out import MovePromise
from imbuto.core.basics.units import clock_text, hours_text, number_text, until
from imbuto.core.home.loads import Load
from imbuto.core.plan.limit import Limit

# From which chance of the goal on each of these words stands; the chance is known to about 3 points.
CHANCES = (
    (0.985, "almost always"),
    (0.9, "9 times in 10"),
    (0.75, "about 8 times in 10"),
    (0.6, "about 2 times in 3"),
    (0.4, "about 1 time in 2"),
    (0.27, "about 1 time in 3"),
    (0.15, "about 1 time in 5"),
    (0.05, "about 1 time in 10"),
    (0.0, "almost never"),
)


@dataclass(frozen=True, slots=True)
class LifeLoss:
    """Tell when a life-and-health load loses power.

    load: the load
    off_h: hours it is on 9 times in 10, its own battery included; None: still on at the end, 0: not powered at all
    at: the clock time of that, None where it is still on
    """

    load: Load
    off_h: float | None
    at: datetime | None

    @property
    def sentence(self) -> str:
        """Say it in words: ``Breathing mask off at Wed 2:10 am``."""
        if self.off_h is None or self.at is None:
            return f"{self.load.name} stays on"
        if self.off_h <= 0:
            return f"{self.load.name} isn't powered"
        return f"{self.load.name} off at {clock_text(self.at)}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Headline:
    """Hold an answer in words.

    label, figure: ``Count on`` and ``14 h``; without hours the label is why there are none, and the figure empty
    until: the clock time that goes with the figure; empty where there is none
    probably: the expected hours, ``probably 16 h``; empty where health depends on the plan, or nothing runs
    goal: the goal, and how often it is reached
    life: of life-and-health loads that are off before the goal, the first; empty where none is
    may: that it may trip, with the figure to find out; empty where it doesn't
    may_first: whether that comes before the hours, because health or the house depends on the station
    missing: what must stay on and isn't powered; empty where all of it is
    instead: with a limit broken, the best single change with its hours; empty otherwise
    """

    label: str
    figure: str = ""
    until: str = ""
    probably: str = ""
    goal: str = ""
    life: str = ""
    may: str = ""
    may_first: bool = False
    missing: str = ""
    instead: str = ""

    @property
    def lead(self) -> str:
        """Say the large words: ``Count on 14 h``."""
        return f"{self.label} {self.figure}" if self.figure else self.label

    @property
    def hours(self) -> str:
        """Say the hours, or why there are none: ``Count on 14 h, probably 16 h``."""
        return f"{self.lead}, {self.probably}" if self.probably else self.lead

    @property
    def short(self) -> str:
        """Say it in one line without the goal."""
        first, last = (self.may, "") if self.may_first else ("", self.may)
        before = first or self.life
        hours = self.hours.replace("Count on", "count on", 1) if before else self.hours
        said = (first, self.life, hours, self.instead, last, self.missing)
        return "; ".join(x.rstrip(".") for x in said if x)

    @property
    def sentence(self) -> str:
        """Say all of it in one line."""
        return f"{self.short}; {self.goal}" if self.goal else self.short


def chance_words(share: float) -> str:
    """Say a chance in words, such as ``9 times in 10``. share: 0 to 1."""
    return next(words for least, words in CHANCES if share >= least)


def life_losses(answer: Answer) -> list[LifeLoss]:
    """Tell when each life-and-health load loses power, the first to do so first."""
    start, found = answer.outage.start, []
    on: dict[str, float | None] = {}
    for v in answer.stations:
        if v.run is None or v.part.waits:
            continue
        start = v.run.steps.start
        low = v.band.low_h if v.band else v.run.hours
        for f in v.part.fed:
            if f.load.purpose == "life" and not f.assumed:
                on[f.load.id] = _later(on.get(f.load.id, 0.0), low)
    for load in answer.home.loads.values():
        if load.purpose != "life" or load.substitute != "none":
            continue
        hours = on.get(load.id, 0.0)
        off = None if hours is None else hours + load.own_battery_h
        found.append(LifeLoss(load, off, None if off is None else until(start, off)))
    return sorted(found, key=lambda x: (x.off_h is None, x.off_h or 0.0, x.load.name))


def _later(one: float | None, other: float | None) -> float | None:
    return None if one is None or other is None else max(one, other)


def count_on(
    low_h: float | None, expected_h: float | None, simulated_h: float, *, health: bool = False
) -> tuple[str, str, str]:
    """Say the 9-in-10 hours and the expected ones: ``Count on``, ``14 h``, ``probably 16 h``.

    low_h, expected_h: None where still on at the end of the simulation
    simulated_h: that end
    health: somebody's health depends on it, so that the 9-in-10 hours stand alone
    """
    if low_h is None:
        return "Still on after", hours_text(simulated_h), ""
    lead = hours_text(low_h)
    if health:
        return "Count on", lead, ""
    if expected_h is None:
        return "Count on", lead, f"probably more than {hours_text(simulated_h)}"
    more = hours_text(max(expected_h, low_h))
    return "Count on", lead, "" if more == lead else f"probably {more}"


def headline(answer: Answer) -> Headline:
    """Say an answer in words."""
    goal = f"goal {hours_text(answer.outage.goal_hours)}"
    missing = _missing(answer)
    if answer.run is None or answer.band is None:
        return Headline(label=answer.words, missing=missing)
    if not answer.fits:
        return Headline(label=answer.words, missing=missing, instead=_instead(answer))
    losses = life_losses(answer)
    health = any(x.off_h is None or x.off_h > 0 for x in losses)
    low = answer.band.low_h
    label, figure, probably = count_on(low, answer.hours, answer.run.steps.hours, health=health)
    early = next((x for x in losses if x.off_h is not None and 0 < x.off_h < answer.outage.goal_hours), None)
    may = answer.may_trip
    unsure = may is not None and answer.guards
    met = "not met" if answer.unfed or unsure else f"reached {chance_words(answer.band.chance)}"
    return Headline(
        label=label,
        figure=figure,
        until="" if low is None else clock_text(until(answer.run.steps.start, low)),
        probably=probably,
        goal=f"{goal}, {met}",
        life=early.sentence if early else "",
        may=f"May trip. {_what_settles(may)}" if may is not None else "",
        may_first=unsure,
        missing=missing,
    )


def _what_settles(x: Limit) -> str:
    """The last sentences of a limit that may be past: what to find out."""
    return next((x.sentence[i:] for word in ("Measure ", "Look up ") if (i := x.sentence.find(word)) >= 0), x.sentence)


def _missing(answer: Answer) -> str:
    names = [x.name for x in answer.unfed]
    if not names or answer.state in ("no_loads", "nothing_chosen"):
        return ""
    if len(names) == 1:
        return f"{names[0]} isn't powered"
    if len(names) == 2:
        return f"{names[0]} and {names[1]} aren't powered"
    return f"{', '.join(names[:2])} and {len(names) - 2} more aren't powered"


def _instead(answer: Answer) -> str:
    """Say what the best clearing change gives: these hours are not the plan's own."""
    clearing = [p for p in answer.fixes if p.clears]
    # A joining that is refused is answered by one that is listed for the same circuits, before anything smaller.
    best = min(clearing, key=lambda p: not p.move.id.startswith("listed:"), default=None)
    if best is None or answer.run is None:
        return "No single change fixes it"
    return f"{_with_price(best, answer.home.site.currency)}: {_about(best, answer.run.steps.hours)}"


def _with_price(p: MovePromise, currency: str) -> str:
    label = p.move.label[:1].upper() + p.move.label[1:]
    return f"{label} ({number_text(float(p.price))} {currency})" if p.price else label


def _about(p: MovePromise, simulated_h: float) -> str:
    return f"still on after {hours_text(simulated_h)}" if p.hours is None else f"about {hours_text(p.hours)}"
