"""Reach the hour: what would have to be given up tonight for the stores to last until a named time. It only
proposes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.basics.units import clock_text, hours_text
from imbuto.core.home.live_outage import Live, SavingStep, hour_of
from imbuto.core.outages.possible_steps import PossibleStep, Tonight, possible
from imbuto.core.outages.reach_hour import least
from imbuto.core.plan.outage import MAX_SIMULATED_H
from imbuto.services.desk.planner import Planner
from imbuto.services.outages.outage_now import stores_known
from imbuto.services.outages.outage_stores import StoreLive, store_live
from imbuto.services.outages.store_history import StoreHistory, evening_ahead, history_of_store

SHOWN_H = 1 / 6  # an hour is shown rounded down by less than this


@dataclass(frozen=True, slots=True, kw_only=True)
class ReachStep:
    """A step: what to note where it is taken, and what it costs; gains: hours of it alone, in words; none where it
    gains nothing by itself."""

    taken: SavingStep
    title: str
    costs: str
    who: str
    gains: str


@dataclass(frozen=True, slots=True, kw_only=True)
class StoreReach:
    """One store.

    sure: a life depends on it, so it is quoted by what 9 in 10 exceed
    already: it lasts as it goes
    reached: it would with these steps
    dark_at, early_at: then, or with everything that is possible where that does not reach
    short: by how much it does not
    others: what is possible besides
    weighed: False for a store that gives to another or takes from one, or is off
    off: its output is off
    """

    source: str
    name: str
    sure: bool
    already: bool
    reached: bool
    steps: list[ReachStep]
    dark_at: datetime | None
    early_at: datetime | None
    short: str
    others: list[ReachStep]
    weighed: bool
    off: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class ReachView:
    """What it takes for each store.

    reached: all of them
    advice: what else there is where it is not
    """

    until: datetime
    reached: bool
    stores: list[StoreReach]
    advice: list[str]


def reach(planner: Planner, home_id: str, outage_id: str, until: datetime, now: datetime | None = None) -> ReachView:
    """The least sacrifice that reaches a time, for each store. Raises NotFound where no outage is on, InvalidValue
    for a time that is past or beyond 14 days."""
    documents = planner.open(home_id)
    here, live = now or planner.now(documents.home), documents.home.live
    if live is None:
        raise NotFound("outage", "now", "none is on")
    if until <= here or hour_of(live, until) > MAX_SIMULATED_H:
        raise InvalidValue("reach, until", until.isoformat(), "choose a later time, within 14 days of the start")
    each = [_store(k, live, here, until) for k in stores_known(planner, home_id, documents, outage_id, here)]
    reached = all(s.reached for s in each)
    return ReachView(until=until, reached=reached, stores=each, advice=[] if reached else _advice(each, until))


def _store(k: StoreHistory, live: Live, now: datetime, until: datetime) -> StoreReach:
    here = store_live(k)
    sure = bool(k.life)
    if here.output == "off":
        return StoreReach(
            source=here.source,
            name=here.name,
            sure=sure,
            already=False,
            reached=False,
            steps=[],
            dark_at=None,
            early_at=None,
            short="it is off; bring it back first",
            others=[],
            weighed=False,
            off=True,
        )
    if not here.alone:
        lasts = _after(here.early_at if sure else here.dark_at, until)
        return StoreReach(
            source=here.source,
            name=here.name,
            sure=sure,
            already=lasts,
            reached=lasts,
            steps=[],
            dark_at=here.dark_at,
            early_at=here.early_at,
            short="" if lasts else _short(live, here.early_at if sure else here.dark_at, until),
            others=[],
            weighed=False,
        )
    tonight = Tonight(k.run, live, now, until, here.charge, here.start_at)
    steps = possible(tonight)
    already = _after(here.early_at if sure else here.dark_at, until)
    # The page rounds an hour down, so that what is asked for has to be there after rounding.
    chosen = [] if already else least(evening_ahead(k, sure=sure), steps, hour_of(live, until) + SHOWN_H)
    then = _with(k, _best(steps) if chosen is None else chosen)
    quoted = then.early_at if sure else then.dark_at
    reached = _after(quoted, until)
    if reached and chosen is None:
        chosen = _best(steps)
    gains = {s.taken.id: _gains(k, s) for s in steps}
    picked = {s.taken.id for s in chosen or []}
    return StoreReach(
        source=here.source,
        name=here.name,
        sure=sure,
        already=already,
        reached=reached,
        steps=[_view(s, gains) for s in chosen or []],
        dark_at=then.dark_at,
        early_at=then.early_at,
        short="" if reached else _short(live, quoted, until),
        others=[_view(s, gains) for s in steps if s.taken.id not in picked],
        weighed=True,
    )


def _with(k: StoreHistory, steps: Sequence[PossibleStep]) -> StoreLive:
    """The store as it would be shown with these steps taken."""
    return store_live(history_of_store(k.verdict, _taking(k, steps), k.now, k.shown))


def _taking(k: StoreHistory, steps: Sequence[PossibleStep]) -> Live:
    return replace(k.live, taken={**k.live.taken, **{s.taken.id: s.taken for s in steps}})


def _best(steps: Sequence[PossibleStep]) -> list[PossibleStep]:
    """Everything at once, of each group what saves most."""
    by_group: dict[str, PossibleStep] = {}
    for s in steps:
        if s.group not in by_group or s.less_w.sum() > by_group[s.group].less_w.sum():
            by_group[s.group] = s
    return list(by_group.values())


def _gains(k: StoreHistory, step: PossibleStep) -> str:
    """The hours to dark that a step brings by itself."""
    before, after = k, history_of_store(k.verdict, _taking(k, [step]), k.now, k.shown)
    assert before.found is not None
    assert after.found is not None
    a, b = before.found.dark_h, after.found.dark_h
    if a is None or b is None:
        return "then the power no longer runs out" if a is not None else ""
    more = b + after.skipped_h - a - before.skipped_h
    return f"{hours_text(more)} more" if more >= 1 / 60 else "a minute at most"


def _view(step: PossibleStep, gains: dict[str, str]) -> ReachStep:
    return ReachStep(taken=step.taken, title=step.title, costs=step.costs, who=step.who, gains=gains[step.taken.id])


def _after(at: datetime | None, until: datetime) -> bool:
    return at is None or at >= until


def _short(live: Live, at: datetime | None, until: datetime) -> str:
    return "" if at is None else f"{hours_text(max(hour_of(live, until) - hour_of(live, at), 1 / 60))} short of it"


def _advice(stores: Sequence[StoreReach], until: datetime) -> list[str]:
    """What else there is where nothing in the house reaches."""
    lines = [
        f"{s.name}: even with every step the power runs out {clock_text(at)}, {s.short}."
        for s in stores
        if not s.reached and (at := s.early_at if s.sure else s.dark_at) is not None
    ]
    lines += [f"{s.name} is off. Bring it back first." for s in stores if s.off]
    if any(s.sure and not s.reached for s in stores):
        lines.insert(
            0,
            "A life depends on this. Ask the supplier now for a second supply, and decide where to go and when. "
            "Don't wait until the power runs out.",
        )
    lines.append(
        "More energy can come from the sun, generator fuel, or a charged station that someone brings. Decide "
        "early, because switching off now saves more than later."
    )
    return lines
