"""A step of a card, in what order things come on, and what a meter shows of it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from imbuto.core.basics.units import number_text
from imbuto.core.home.loads import Load, UseKind, guards
from imbuto.core.plan.plan import Feed
from imbuto.core.plan.system import Part

STEADY_MIN = 10  # minutes of steady grid before going back; planning default
REST_MIN = 5  # minutes off before a compressor starts again; common practice
HARD_VA = 300.0  # over running: what is worth a word when it starts; planning default
BY_ITSELF: frozenset[UseKind] = frozenset({"cycling", "weather"})  # uses that start and stop without anyone
IN_SHORT = (
    "+ W: the station's display rises by this much at once, and by the second figure when a motor starts by itself. "
    "If it rises by more than the last figure, something else is on that circuit: switch it off again."
)
DISPLAY_ERRS = 1.1  # a display shows up to so much more; planning default
HARD_CHARGE = 20  # percent: nothing that starts hard under it; planning default
Move = tuple[str, str]


@dataclass(frozen=True, slots=True)
class CardStep:
    """One step of a card.

    what: to do; where
    by: whose hands
    proof: how one knows that it worked
    leave: what not to touch
    moves: parts with the positions they go to, empty where nothing is moved
    short: its proof where IN_SHORT is said once
    """

    what: str
    where: str = ""
    by: str = ""
    proof: str = ""
    leave: str = ""
    moves: tuple[Move, ...] = ()
    short: str = ""


def hand_of(x: Part) -> str:
    people = x.home.household.people.values()
    able = [p.name for p in people if p.can_switch and p.where == "home"]
    if able:
        return able[0]
    told = [p.name for p in people if p.can_switch]
    return (
        f"{told[0]}, who isn't at home. Someone else follows this card"
        if told
        else "someone who has practiced with this card"
    )


def loads_of(x: Part, feed: Feed) -> list[Load]:
    return [f.load for f in x.fed if f.feed.id == feed.id and not f.assumed]


def in_order(x: Part, feeds: Iterable[Feed], *, light_first: bool = False) -> list[Feed]:
    """Sort feeds: life and health first, then the heaviest start.

    light_first: after low charge, when life and health are followed by what keeps frost and water out of the house,
    blowers and pumps only and never electric heaters, then by the smallest watts and the smallest start
    """

    def key(feed: Feed) -> tuple[bool, bool, float, float, int]:
        loads = loads_of(x, feed)
        start = max((load.start_extra_va for load in loads), default=0.0)
        life = any(load.purpose == "life" for load in loads)
        if not light_first:
            return not life, False, -start, 0.0, feed.place
        keeps_out = any(guards(load) and load.kind != "heater" for load in loads)
        return not life, not keeps_out, sum(load.count * load.run_w for load in loads), start, feed.place

    return sorted(feeds, key=key)


def together(x: Part, feeds: Sequence[Feed]) -> list[list[Feed]]:
    """Feeds whose circuits share a neutral, in one group; every other alone."""
    found: list[list[Feed]] = []
    by = {f.circuit: f for f in feeds if f.circuit}
    for feed in feeds:
        if any(feed in g for g in found):
            continue
        circuit = x.home.circuits.get(feed.circuit or "")
        partners = [
            f
            for k, f in by.items()
            if circuit is not None
            and k is not None
            and k != circuit.id
            and (circuit.neutral_partner == k or x.home.circuits[k].neutral_partner == circuit.id)
        ]
        found.append([feed, *partners])
    return found


def names_of(x: Part, group: Sequence[Feed]) -> str:
    return " and ".join(x.target_names[f.id] for f in group)


@dataclass(frozen=True, slots=True)
class Rise:
    """Say what a display shows when circuits come on, in W.

    now_w: of everything that always draws, and the standby of the rest
    later_w: more when everything that starts by itself runs
    starts: the names of those
    start_va: for a moment when the hardest of them starts, 0 where that is not worth a word
    all_w: everything on these circuits at once, what people switch on included
    life: the names of what somebody's health depends on
    """

    now_w: float
    later_w: float
    starts: tuple[str, ...]
    start_va: float
    all_w: float
    life: tuple[str, ...]

    @property
    def stop_w(self) -> float:
        """Return the rise at which something else must be on the circuit: past everything, and what a display errs."""
        return math.ceil(self.all_w * DISPLAY_ERRS / 10) * 10


def rise(x: Part, group: Sequence[Feed]) -> Rise:
    """Return what a person sees on the display when these come on. A kettle is not counted as on."""
    loads = list({f.load.id: f.load for f in x.fed if f.feed in group and not f.assumed}.values())
    steady = [load for load in loads if load.use.kind == "always" and not load.thermostatic]
    own = [load for load in loads if load not in steady and (load.use.kind in BY_ITSELF or load.thermostatic)]
    now = sum(x.count * x.average_w for x in steady) + sum(x.count * x.rest_w for x in loads if x not in steady)
    later = sum(x.count * (x.run_w - x.rest_w) for x in own)
    start = max((load.start_extra_va for load in own), default=0.0)
    most = sum(x.count * max(x.run_w, x.average_w, x.highest_w or 0.0) for x in loads)
    names = tuple(load.name for load in own if load.run_w > load.rest_w)
    life = tuple(load.name for load in loads if load.purpose == "life")
    return Rise(now, later, names, start if start >= HARD_VA else 0.0, max(most, now + later), life)


def meter_rise_text(x: Part, group: Sequence[Feed]) -> str:
    """Say what the display shows when these come on, and what is too much."""
    r = rise(x, group)
    display = f"The display of {x.station.name}"
    hard = f" and by {r.start_va / 1000:.1f} kVA for a moment as it starts" if r.start_va else ""
    runs = f"when {' or '.join(r.starts[:2])} runs" if r.starts else ""
    if r.now_w >= 1 and r.later_w >= 1:
        seen = (
            f"{display} rises by about {number_text(r.now_w)} W now, by {number_text(r.later_w)} W more {runs}{hard}."
        )
    elif r.later_w >= 1:
        seen = f"{display} may not change now. It rises by {number_text(r.later_w)} W {runs}{hard}."
    elif r.now_w >= 1:
        seen = f"{display} rises by about {number_text(r.now_w)} W."
    else:
        seen = f"{display} doesn't change until someone switches something on."
    life = "".join(f" Check that {name} runs." for name in r.life)
    if r.all_w < 1:
        return seen + life
    return f"{seen}{life} If it rises by more than {number_text(r.stop_w)} W, switch it off again."


def short(x: Part, group: Sequence[Feed]) -> str:
    """Say the same in figures; IN_SHORT says what they are."""
    r = rise(x, group)
    later = f", +{number_text(r.later_w)} W later" if r.later_w >= 1 else ""
    start = f" ({r.start_va / 1000:.1f} kVA)" if r.start_va else ""
    return f"+{number_text(round(r.now_w))} W{later}{start}, stop at {number_text(r.stop_w)} W"
