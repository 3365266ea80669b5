"""The drill: both directions practised on a plan's own panel, switch and cords, where a wrong order trips, overloads
or endangers.

It is calm and not timed. What goes wrong is said in the words of the cards; a round with a danger in it is never won.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

from imbuto.core.basics.units import number_text
from imbuto.core.limits.instants import instants
from imbuto.core.plan.system import Part, PoweredLoad
from imbuto.core.switching.switch_model import MAIN, State, Switching, switching_model
from imbuto.core.switching.switching_cards import Card, cards, states

Scene = Literal["over", "back"]
SCENES: dict[Scene, str] = {
    "over": "It's 7 pm and windy, and the power goes out on the whole street. Switch the house to backup.",
    "back": "The neighbors have had light again for 15 minutes. Switch the house back to the grid.",
}


@dataclass(slots=True)
class Round:
    """One round.

    state: where every part is
    harm: everything that went wrong so far
    said: of the last move
    """

    scene: Scene
    state: State
    harm: list[str] = field(default_factory=list)
    said: str = ""

    @property
    def grid(self) -> bool:
        """Whether the street is live."""
        return self.scene == "back"


@dataclass(frozen=True, slots=True)
class Drill:
    """A plan to practise on."""

    each: tuple[Part, ...]
    model: Switching
    cards: dict[str, Card]

    @property
    def wanted(self) -> set[str]:
        """Points that are to be live in the end: the wires and plugs of everything fed."""
        return {
            f"c:{f.circuit}" if f.circuit else f"load:{f.load}"
            for x in self.each
            if not x.waits
            for p in x.ports
            if p.device is None or not p.device.bypassed
            for f in p.plan.feeds.values()
            if f.port == "ac"
        }

    def begin(self, scene: Scene) -> Round:
        """A fresh round: at rest with the grid gone, or gone over with the grid back."""
        state = self.model.settled(self.model.rest, grid=scene == "back")
        if scene == "back" and "over" in self.cards:
            state = list(states(self.model, self.cards["over"].steps, self.model.rest))[-1]
        return Round(scene, self.model.settled(state, grid=scene == "back"))

    def live(self, now: Round) -> dict[str, str]:
        """Each live point → what feeds it: ``grid``, or a source's id."""
        found: dict[str, str] = {}
        for group in self.model.joined_points(now.state):
            source = next((p.removeprefix("store:") for p in sorted(group) if p.startswith("store:")), "")
            source = source or ("grid" if now.grid and "grid" in group else "")
            if source:
                found |= dict.fromkeys(group, source)
        return found

    def done(self, now: Round) -> list[bool]:
        """Which steps of the round's card are done.

        While the card is followed these are the first ones; a step that moves nothing, such as a wait, is done with the
        one before it. After a detour a step counts as done where everything it moves is where it puts it.
        """
        card = self.cards.get(now.scene)
        steps = card.steps if card else ()
        state = self.begin(now.scene).state
        followed = 0
        for n, step in enumerate(steps, start=1):
            for part, to in step.moves:
                state = self.model.settled(state | {part: to}, grid=now.grid)
            if state == now.state:
                followed = n
        if followed or now.state == self.begin(now.scene).state:
            return [n < followed for n in range(len(steps))]
        return [bool(s.moves) and all(now.state.get(p) == to for p, to in s.moves) for s in steps]

    def feeding(self, now: Round) -> dict[str, str]:
        """Each part → what feeds it in its position, ``grid`` or a source's id; empty where it is dead."""
        live = self.live(now)
        found = {}
        for ident, part in self.model.parts.items():
            ends = [p for pair in part.joins[now.state[ident]] for p in pair]
            found[ident] = next((live[p] for p in ends if p in live), "")
        return found

    def move(self, now: Round, part: str, position: str) -> Round:
        """The round after one move. Raises KeyError on a part or position that is none, ValueError on what moves by
        itself."""
        known = self.model.parts[part]
        if position not in known.joins:
            raise KeyError(position)
        if known.itself:
            raise ValueError(f"{known.name} moves by itself.")
        before = self.live(now)
        state = self.model.settled(now.state | {part: position}, grid=now.grid)
        if any(state.get(a) == x and state.get(b) == y and part in (a, b) for (a, x), (b, y) in self.model.never):
            return Round(
                now.scene,
                now.state,
                list(now.harm),
                ("The slide blocks this because the other breaker is on. Never force it."),
            )
        after = Round(now.scene, state, list(now.harm))
        dangers = self.model.dangers(state, grid=now.grid)
        new = [d for d in dangers if d not in now.harm]
        after.harm += new
        if dangers:
            after.said = f"Danger: {dangers[0]}. Undo it, and start again with the card."
            return after
        trip = self._trips(before, after)
        if trip:
            return trip
        after.said = self._told(before, self.live(after))
        return after

    def _trips(self, before: dict[str, str], after: Round) -> Round | None:
        """A station asked for more than it bears shuts its output off."""
        live = self.live(after)
        for x in self.each:
            if x.waits:
                continue
            mine = [f for f in x.fed if live.get(_point(f)) == x.source.id and not f.direct]
            fresh = [f for f in mine if before.get(_point(f)) != x.source.id]
            if not fresh:
                continue
            now = instants(x)
            rows = [i for i, f in enumerate(now.fed) if f in mine]
            running = now.most(now.va, rows)
            called = sum(f.load.start_extra_va * f.load.count for f in fresh)
            if running > x.station.rated_va or running + called > x.station.surge_va:
                state = self.model.settled(after.state | {f"out:{x.source.id}": "off"}, grid=after.grid)
                said = (
                    f"{x.station.name} trips: {number_text(running + called)} VA at once of "
                    f"{number_text(x.station.surge_va)}. Its "
                    "output is off. Switch on fewer at a time, with the hardest start first."
                )
                return Round(after.scene, state, after.harm, said)
        return None

    def _told(self, before: dict[str, str], after: dict[str, str]) -> str:
        lit = sorted(k for k in self.wanted if after.get(k) != before.get(k))
        if not lit:
            return "This changed nothing."
        dark = [k for k in lit if k not in after]
        return f"{len(lit) - len(dark)} powered, {len(dark)} without power." if dark else f"{len(lit)} powered."

    def won(self, now: Round) -> bool:
        """Everything stands as it should, and nothing went wrong on the way."""
        if now.harm or self.model.dangers(now.state, grid=now.grid):
            return False
        live = self.live(now)
        if now.scene == "back":
            return now.state == self.model.settled(self.model.rest, grid=True)
        return all(live.get(p, "grid") != "grid" for p in self.wanted)


def drill(each: Sequence[Part]) -> Drill:
    """A plan to practise on; each: its parts, source by source."""
    return Drill(tuple(each), switching_model(each), {c.kind: c for c in cards(each)})


def _point(item: PoweredLoad) -> str:
    if item.feed.circuit:
        return f"c:{item.feed.circuit}"
    return f"load:{item.feed.load}" if item.feed.load else MAIN
