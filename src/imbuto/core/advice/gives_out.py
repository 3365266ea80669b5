"""The neck: what gives out first; and the moves that widen it or clear it, each computed by running it again."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from decimal import Decimal
from itertools import chain
from typing import Literal

from imbuto.core.advice.longer_hours import energy_moves, home_after
from imbuto.core.advice.moves.move import Move
from imbuto.core.advice.moves.plan_moves import fixing_moves, widening_moves
from imbuto.core.basics.errors import ImbutoError
from imbuto.core.basics.measures import temp_text, volume_text
from imbuto.core.basics.units import clock_text, hours_text, number_text, until
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.limits.all_limits import fit
from imbuto.core.plan.itemised_costs import price_of_move
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.system import Part, part_after_move
from imbuto.core.run.band import Band
from imbuto.core.run.nights import which_part
from imbuto.core.run.run import Run, simulate

LEAST_GAIN_H = 1 / 6
LEAST_FUEL_L = 0.1
SHOWN = 3
MONEY_PER_HARM = 2_000.0  # what buying weighs against giving something up, when fixes are ranked; planning default
LOST_HOURS_HARM = 8.0  # what losing all hours weighs there; planning default


@dataclass(frozen=True, slots=True)
class WeakestPoint:
    """What gives out first.

    id: a limit's id, ``energy:PART`` or ``next:LIMIT``
    title: a few words
    """

    id: str
    kind: Literal["refused", "broken", "life", "energy", "next", "none"]
    title: str
    sentence: str


@dataclass(frozen=True, slots=True)
class MovePromise:
    """A move with what it was computed to give.

    hours_gained: against the run now, with a run that never goes dark counted as long as simulated
    price: what it costs, in the home's currency, None where nothing is bought
    hours: after it (None: never dark)
    clears: every broken limit gone
    after: the worst limit's use then
    """

    move: Move
    hours: float | None = None
    hours_gained: float = 0.0
    never_dark: bool = False
    clears: bool = False
    after: float | None = None
    unit: str = ""
    price: Decimal | None = None


def violations(found: list[Limit]) -> list[Limit]:
    """Broken and refused limits, refusals first, then the furthest beyond its bound."""
    bad = [x for x in found if x.stops]
    return sorted(bad, key=lambda x: (x.severity != "refuse", -x.excess))


def neck(found: list[Limit], run: Run, band: Band) -> WeakestPoint:
    """What gives out first: a refusal, else the broken limit furthest beyond its bound, else a life-and-health load
    that is off before the goal, else energy, else the limit next to give.

    Under a broken limit no hour is promised to anything: a load would be off long before its energy ends.
    """
    bad = violations(found)
    first = _life(run, band) if not bad else None
    if first is not None:
        return first
    if bad:
        worst = bad[0]
        kind: Literal["refused", "broken"] = "refused" if worst.severity == "refuse" else "broken"
        title = worst.title
        if worst.margin_percent is not None:
            title = f"{worst.title}: {number_text(worst.used)} of {number_text(worst.limit)} {worst.unit}"
        return WeakestPoint(worst.id, kind, title, worst.sentence)
    reached = band.low_h
    if reached is not None and reached < run.outage.goal_hours:
        return _energy(run, band)
    return _next_to_give(found)


def _life(run: Run, band: Band) -> WeakestPoint | None:
    """The life-and-health load of this station that is off first, where that is before the goal 9 times in 10."""
    low, goal = band.low_h, run.outage.goal_hours
    if low is None:
        return None
    each = [f.load for f in run.part.fed if f.load.purpose == "life" and not f.assumed]
    first = min(each, key=lambda x: x.own_battery_h, default=None)
    if first is None or low + first.own_battery_h >= goal:
        return None
    hours = low + first.own_battery_h
    own = f", {hours_text(first.own_battery_h)} of it on its own battery" if first.own_battery_h else ""
    sentence = (
        f"Count on {hours_text(hours)} for {first.name}{own}; the goal is {hours_text(goal)}. "
        "This must never be its only backup. Ask its supplier for a second supply, and when to leave."
    )
    return WeakestPoint(
        f"life:{first.id}", "life", f"{first.name} off at {clock_text(until(run.steps.start, hours))}", sentence
    )


def _next_to_give(found: list[Limit]) -> WeakestPoint:
    near = [
        x
        for x in found
        if x.margin_percent is not None and x.severity in ("refuse", "broken") and not x.counts and x.used > 0
    ]
    if not near:
        return WeakestPoint(
            "none", "none", "Nothing is near its limit", "The goal is reached 9 times in 10 and no limit is near."
        )
    first = min(near, key=lambda x: x.margin_percent or 0.0)
    left = f"{number_text(first.limit - first.used)} {first.unit} left"
    return WeakestPoint(f"next:{first.id}", "next", f"{first.title}, {left}", f"Next limit: {first.sentence}")


def _energy(run: Run, band: Band) -> WeakestPoint:
    """Energy runs out before the goal: name the part that would have sufficed to mend."""
    store, outage, goal = run.store, run.outage, run.outage.goal_hours
    hand = _hand(run)
    if hand is not None:
        return hand
    dark = band.low_h if run.hours is None else run.hours
    when = which_part(run.part.home.site, run.steps, dark or 0.0)
    needed = store.draw_w(run.average_w) * goal
    title = f"Stored energy, {when}"
    if run.usable_wh < needed <= store.usable_wh(1.0):
        sentence = f"It starts at {100 * outage.start_charge:.0f}%; starting full it would reach {hours_text(goal)}."
        return WeakestPoint("energy:start", "energy", f"Starting at {100 * outage.start_charge:.0f}%", sentence)
    if store.cold < 1 and run.usable_wh < needed <= run.usable_wh / store.cold:
        at = outage.at(run.part.source)
        sentence = (
            f"At {temp_text(at)} {100 * (1 - store.cold):.0f}% of the charge can't be used. A warm battery would "
            "reach the goal."
        )
        return WeakestPoint("energy:losses", "energy", f"The cold, {when}", sentence)
    if run.usable_wh < needed <= run.usable_wh + store.idle_w * goal:
        sentence = (
            f"The station itself uses {number_text(store.idle_w * 24)} Wh per day. Without that it would reach the "
            "goal."
        )
        return WeakestPoint("energy:losses", "energy", f"The station's own draw, {when}", sentence)
    if run.hours is not None and run.hours >= goal:
        sentence = "It probably reaches the goal, but not 9 times in 10, because loads may draw more than we know."
        return WeakestPoint("energy:draw", "energy", title, sentence)
    sun = run.solar_by(goal)
    there = f"{number_text(run.usable_wh)} Wh are there" + (f" and {number_text(sun)} Wh of sun come in" if sun else "")
    sentence = f"{there}. These loads need {number_text(needed)} Wh for {hours_text(goal)}."
    return WeakestPoint("energy:store", "energy", title, sentence)


def _hand(run: Run) -> WeakestPoint | None:
    """Where it goes dark with fuel left, because nobody is there to start the generator, the neck is the hand."""
    made, controls, hours = run.part.generator, run.controls, run.hours
    if made is None or controls is None or controls.engine is None or hours is None:
        return None
    at = min(int(hours / run.steps.step_h), len(run.trace.engine_h) - 1)
    left = controls.engine.fuel_l - float(run.trace.fuel_l[: at + 1].sum())
    if left < LEAST_FUEL_L or run.trace.engine_h[at] > 0:
        return None
    there = f"{volume_text(left)} of fuel are left when the power runs out"
    if controls.engine.by_hand and not controls.hands:
        return WeakestPoint(
            "energy:hand",
            "energy",
            f"No one to start {made.name}",
            f"{there}, and no one at home can start {made.name}.",
        )
    if controls.engine.by_hand and not controls.awake[at]:
        text = (
            f"{there}: the charge at which it starts comes while everyone is asleep. Start "
            f"{made.name} sooner, or set an alarm."
        )
        return WeakestPoint("energy:hand", "energy", f"No one awake to start {made.name}", text)
    if not controls.engine_may[at]:
        return WeakestPoint(
            "energy:hours",
            "energy",
            f"The hours {made.name} may run",
            f"{there}, at an hour when {made.name} may not run.",
        )
    return None


def _valid(plan: Plan, now: Part, catalogue: Catalogue) -> bool:
    """Whether a move leaves a plan that stands at all; two circuits in one place, say, does not."""
    try:
        check_plan(plan, now.home, catalogue)
    except ImbutoError:
        return False
    return True


def widenings(run: Run, catalogue: Catalogue) -> list[MovePromise]:
    """Moves that still fit and lengthen the hours, longest first. Empty when it never goes dark."""
    if run.hours is None:
        return []
    found = []
    for move in chain(widening_moves(run.part, catalogue), energy_moves(run.part, run.outage, catalogue)):
        if not _valid(move.plan, run.part, catalogue):
            continue
        after = part_after_move(run.part, home_after(run.part, move.plan, run.outage), move.plan, catalogue)
        then = simulate(after, run.outage, hours_only=True)
        gained = then.at_least_h - run.at_least_h
        if gained >= LEAST_GAIN_H and leaves_life(run.part, after) and not violations(fit(after, run.outage)):
            price = price_of_move(run.part, after)
            found.append(MovePromise(move, then.hours, gained, then.hours is None, price=price))
    return sorted(found, key=lambda p: (-p.hours_gained, p.move.id))


def fixes(now: Part, outage: Outage, found: list[Limit], catalogue: Catalogue) -> list[MovePromise]:
    """Moves that clear or lower the worst violation and worsen none: those that clear everything first."""
    before = violations(found)
    if not before:
        return []
    worst, were = before[0], {x.id: x.excess for x in before}
    promises = []
    for move in fixing_moves(now, catalogue, {x.family for x in before}):
        if not _valid(move.plan, now, catalogue):
            continue
        after = part_after_move(now, now.home, move.plan, catalogue)
        if not leaves_life(now, after):
            continue
        left = violations(fit(after, outage))
        if any(x.excess > were.get(x.id, 0.0) + 1e-12 for x in left):
            continue
        still = next((x for x in left if x.id == worst.id), None)
        if still is None or still.excess < worst.excess - 1e-9:
            promise = _promise(move, after, outage, still, cleared=not left)
            promises.append(replace(promise, price=price_of_move(now, after)))
    energy_h = simulate(now, outage, hours_only=True).at_least_h if now.fed else 0.0
    return [*_figures_to_enter(now, before), *sorted(promises, key=lambda p: _fix_order(p, energy_h))]


def _figures_to_enter(now: Part, bad: list[Limit]) -> Iterator[MovePromise]:
    """A limit that only a default breaks is first met with the true figure; what cannot be fed at all is not helped
    by one."""
    short_of_a_leg = any(x.family == "carry_240" for x in bad)
    for ident in dict.fromkeys(x.load for x in bad if x.load and x.evidence == "default"):
        if short_of_a_leg and now.home.needs_both_legs(now.home.loads[ident]):
            continue
        label = f"enter what {now.home.loads[ident].name} starts at, from its label"
        yield MovePromise(Move(f"enter:start:{ident}", "enter", label, now.plan, enter=ident))


def leaves_life(before: Part, after: Part) -> bool:
    """Whether a change leaves what life and health depend on as it is: fed, whenever it was, set as a physician has
    set it."""

    def fed(x: Part) -> dict[str, tuple[object, ...]]:
        return {
            f.load.id: (
                f.feed.stance,
                f.feed.turn_by,
                f.feed.windows,
                f.feed.share,
                f.feed.above,
                f.load.average_w,
                f.load.rest_w,
                f.load.run_w,
                f.load.count,
                f.load.use,
            )
            for f in x.fed
            if f.load.purpose == "life" and not f.assumed
        }

    was, then = fed(before), fed(after)
    apart = {m for g in after.plan.not_together if g not in before.plan.not_together for m in g}
    return all(then.get(k) == v for k, v in was.items()) and not apart & was.keys()


def _promise(move: Move, after: Part, outage: Outage, still: Limit | None, *, cleared: bool) -> MovePromise:
    hours = simulate(after, outage, hours_only=True).hours if cleared else None
    return MovePromise(
        move,
        hours,
        never_dark=cleared and hours is None,
        clears=cleared,
        after=still.used if still else None,
        unit=still.unit if still else "",
    )


def _fix_order(p: MovePromise, energy_h: float) -> tuple[bool, bool, float, str]:
    """Clearing moves first; then by what they give up: loads, money, and hours the energy would have lasted."""
    lost = 0.0 if p.hours is None or energy_h <= 0 else max(energy_h - p.hours, 0.0) / energy_h
    cost = p.move.harm + max(float(p.price or 0), 0.0) / MONEY_PER_HARM + LOST_HOURS_HARM * lost
    return (not p.clears, p.after is not None, cost, p.move.id)


def glance(
    promises: list[MovePromise], key: Callable[[MovePromise], str] = lambda p: p.move.family
) -> list[MovePromise]:
    """The few to show at once: the best of each family, three at most. Of moves that lengthen, what costs nothing comes
    first, and the best that is bought keeps a place; moves that clear a limit stay in their order."""
    best: dict[str, MovePromise] = {}
    for promise in promises:
        best.setdefault(key(promise), promise)
    if any(p.hours_gained <= 0 for p in best.values()):
        return list(best.values())[:SHOWN]
    free, bought = ([p for p in best.values() if bool(p.price) is costs] for costs in (False, True))
    return [*free[: max(SHOWN - 1, SHOWN - len(bought))], *bought][:SHOWN]
