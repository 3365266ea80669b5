"""A step of a card, in what order things come on, and what a meter shows of it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from imbuto.core.basics.units import number_text
from imbuto.core.home.loads import Load
from imbuto.core.plan.plan import Feed
from imbuto.core.plan.system import Part

STEADY_MIN = 10  # minutes of steady grid before going back; planning default
REST_MIN = 5  # minutes off before a compressor starts again; common practice
HARD_VA = 300.0  # over running: what is worth a word when it starts; planning default
TOO_MUCH = "Much more is a rider or a wrong label: switch it off again."
IN_SHORT = f"+ W: both meters rise by about so much, and for a moment by the kVA. {TOO_MUCH}"
HARD_CHARGE = 20  # percent: nothing that starts hard under it; planning default
Move = tuple[str, str]


@dataclass(frozen=True, slots=True)
class CardStep:
    """One step of a card. what: to do; where; by: whose hands; proof: how one knows that it worked; leave: what not
    to touch; moves: parts with the positions they go to, empty where nothing is moved; short: its proof where
    IN_SHORT is said once."""

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
        f"{told[0]}, who is not at home: a stand-in with this card" if told else "someone who has practised this card"
    )


def loads_of(x: Part, feed: Feed) -> list[Load]:
    return [f.load for f in x.fed if f.feed.id == feed.id and not f.assumed]


def in_order(x: Part, feeds: Iterable[Feed], *, light_first: bool = False) -> list[Feed]:
    """Life and health first, then the heaviest start; after low charge the lightest."""

    def key(feed: Feed) -> tuple[bool, float, int]:
        loads = loads_of(x, feed)
        start = max((load.start_extra_va for load in loads), default=0.0)
        return (not any(load.purpose == "life" for load in loads), start if light_first else -start, feed.place)

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


def added(x: Part, group: Sequence[Feed]) -> str:
    """What a meter shows when these come on."""
    watts, start = _rise(x, group)
    hard = f", and {start / 1000:.1f} kVA for a moment when it starts" if start else ""
    return f"Both meters rise by about {number_text(watts)} W{hard}. {TOO_MUCH}"


def _rise(x: Part, group: Sequence[Feed]) -> tuple[float, float]:
    """W that these add, and VA for a moment when they start, 0 where it is not worth a word."""
    watts = sum(f.load.count * f.load.average_w for f in x.fed if f.feed in group)
    start = max((f.load.start_extra_va for f in x.fed if f.feed in group), default=0.0)
    return max(round(watts), 1), start if start >= HARD_VA else 0.0


def short(x: Part, group: Sequence[Feed]) -> str:
    watts, start = _rise(x, group)
    return f"+{number_text(watts)} W" + (f", {start / 1000:.1f} kVA" if start else "")
