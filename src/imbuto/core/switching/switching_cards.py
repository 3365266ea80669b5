"""The order of hands: cards for going over, coming back, a restart after a shutdown, and when it is low.

Each step names what, where, by whom, how one knows that it worked and what not to touch. A card walks its own steps
through the switching model before it is shown; one that would join two sources or the dead street is refused, with
the reason."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from imbuto.core.plan.system import Part
from imbuto.core.switching.card_steps import (
    HARD_CHARGE,
    REST_MIN,
    STEADY_MIN,
    CardStep,
    hand_of,
    in_order,
    loads_of,
    meter_rise_text,
    short,
)
from imbuto.core.switching.steps_to_backup import steps_to_backup
from imbuto.core.switching.steps_to_grid import steps_to_grid
from imbuto.core.switching.switch_model import State, Switching, states_along, switching_model

Kind = Literal["over", "back", "restart", "low"]
TITLES: dict[Kind, str] = {
    "over": "Switch to backup power",
    "back": "Switch back to the grid",
    "restart": "After a low-battery shutdown",
    "low": "Low battery, or weak power from the grid",
}
STOPS = (
    "If there is water at the panel, or your hands or the floor are wet, stay away and call an electrician.",
    "If you notice a burning smell, a hum or a hot cover, touch nothing, leave, and call the fire department.",
    "If a line is down outside, or something hit the house, stay inside and call the utility.",
)


@dataclass(frozen=True, slots=True)
class Card:
    """One card.

    stops: before anything is touched
    refused: why there is none, and then it has no steps
    off: breakers that stay off, by name
    """

    kind: Kind
    title: str
    stops: tuple[str, ...]
    steps: tuple[CardStep, ...]
    off: tuple[str, ...] = ()
    refused: str = ""


def cards(each: Sequence[Part]) -> list[Card]:
    """All cards of a plan; each: its parts, source by source."""
    model = switching_model(each)
    going, coming = list(steps_to_backup(model, each)), list(steps_to_grid(model, each))
    home = each[0].home
    plan = each[0].whole
    fed = {f.circuit for f in plan.feeds.values()}
    interlocked = any(e.in_panel and not e.automatic for e in each[0].equipments.values())
    off = [c.name for c in home.circuits.values() if c.id not in fed and (interlocked or c.id in plan.opened)]
    made = [
        _card("over", going, _why_not(model, going, model.rest), off),
        _card("back", coming, _back_refused(model, going, coming), ()),
        _card("restart", list(_restart(model, each)), "", ()),
        _card("low", list(_low(model, each)), "", ()),
    ]
    return [c for c in made if c.steps or c.refused]


def _card(kind: Kind, steps: list[CardStep], why_not: str, off: Iterable[str]) -> Card:
    return Card(kind, TITLES[kind], STOPS, () if why_not else tuple(steps), tuple(off), why_not)


def _why_not(model: Switching, steps: Sequence[CardStep], start: State) -> str:
    """Why a card cannot be walked; empty where every state on the way is safe, whether the grid is away or comes
    back."""
    for state in states(model, steps, start):
        for grid in (False, True):
            found = model.dangers(model.settled(state, grid=grid), grid=grid)
            if found:
                return (
                    f"These connections can't be made safe: {found[0]}. Have an electrician "
                    "change the connections first."
                )
    return ""


def states(model: Switching, steps: Sequence[CardStep], start: State) -> Iterator[State]:
    """The state at the start and after every single move of a card."""
    yield start
    yield from states_along(model, start, [m for s in steps for m in s.moves])


def _back_refused(model: Switching, over: Sequence[CardStep], back: Sequence[CardStep]) -> str:
    """The way back has to be safe from wherever the way over was left."""
    for begun in states(model, over, model.rest):
        why = _why_not(model, back, begun)
        if why:
            return why
    return ""


# Going over


# After a shutdown, and when it is low


def _restart(model: Switching, each: Sequence[Part]) -> Iterator[CardStep]:
    for x in each:
        if x.waits or not x.fed:
            continue
        name = x.station.name
        yield CardStep(
            f"{name} has switched itself off at its stop level. First switch off everything it powers.",
            by=hand_of(x),
            proof="So nothing starts by itself when the power returns.",
        )
        yield CardStep(_wakes(x), by=hand_of(x), proof=f"{name} shows watts in, and its charge rises.")
        if x.station.restart == "by_hand":
            yield CardStep(
                f"When its charge is 5 points above its stop level, switch on the output of {name}.",
                by=hand_of(x),
                proof="It stays on.",
            )
        if x.plan.floor > 0 and not x.station.vehicle:  # a car keeps its drive in any emergency
            yield CardStep(
                f"Only in an emergency, lower the stop level of {name} from {100 * x.plan.floor:g}% to 0%.",
                by=hand_of(x),
                proof="It supplies power again.",
                leave="Never drain it completely, because then it may not wake by itself.",
            )
        for feed in in_order(x, x.plan.feeds.values(), light_first=True):
            start = max((load.start_extra_va for load in loads_of(x, feed)), default=0.0)
            wait = (
                f" Wait until it shows {HARD_CHARGE}%, and {REST_MIN} minutes after it went off."
                if start >= 300
                else ""
            )
            yield CardStep(
                f"Then {x.target_names[feed.id]}.{wait}",
                by=hand_of(x),
                proof=meter_rise_text(x, [feed]),
                short=short(x, [feed]),
            )


def _wakes(x: Part) -> str:
    """What brings a station back that shut off at its floor."""
    ways = []
    if x.plan.arrays:
        ways.append("sun on its panels, from the morning on")
    if x.plan.banks:
        ways.append("its battery bank, if it has any charge")
    if x.generator is not None:
        ways.append(
            f"{x.generator.name}, started by hand, because a station that is off doesn't call it"
            if x.generator.start == "by_itself"
            else f"{x.generator.name}, set out and running before you connect it"
        )
    ways.append("the wall, once the grid is back")
    return f"{x.station.name} is woken by: {'; '.join(ways)}."


def _low(model: Switching, each: Sequence[Part]) -> Iterator[CardStep]:
    """The grid is there and weak: what suffers goes off first."""
    home = each[0].home
    kinds = ("compressor", "pump", "motor", "inverter_driven")
    motors = [x for x in home.loads.values() if x.kind in kinds and x.run_w >= 50 and x.purpose != "life"]
    motors.sort(key=lambda load: (-load.start_extra_va, -load.run_w))
    if not motors:
        return
    names = ", ".join(x.name for x in motors)
    yield CardStep(
        f"Switch off motors first: {names}.",
        "their breakers or plugs",
        hand_of(each[0]),
        "Lamps are steadier, and nothing hums.",
        "Heaters and lamps may stay on.",
    )
    broken = (
        "If half the house is bright and half is dim, one leg or the neutral is missing."
        if home.service.legs > 1
        else "If lamps are much brighter or dimmer than usual, the neutral may be broken."
    )
    yield CardStep(
        f"{broken} Switch off the main and call the utility.",
        "main panel",
        hand_of(each[0]),
        "Everything is off, so nothing more is damaged.",
        "Don't switch it on again as a test.",
    )
    yield CardStep("Then use the card for switching to backup, and leave the main off.", by=hand_of(each[0]))
    yield CardStep(f"Switch back only after {STEADY_MIN} minutes of steady light.", by=hand_of(each[0]))
