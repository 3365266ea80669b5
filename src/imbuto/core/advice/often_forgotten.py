"""What is easily forgotten when circuits are chosen, and how long stored water lasts without its pumps."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from imbuto.core.basics.units import hours_text
from imbuto.core.plan.system import Wiring

WATER_L_DAY = 15.0  # for one person: drinking, cooking, a little washing and flushing; planning default

FedState = Literal["fed", "left_off", "absent"]


@dataclass(frozen=True, slots=True)
class Need:
    """A thing on the list.

    words: what its loads are called
    ask: what to think of
    """

    key: str
    name: str
    words: str
    ask: str


LIST = (
    Need(
        "network",
        "Modem and router",
        r"modem|router|internet|network|wi-?fi",
        ("Without it you lose the app and the news."),
    ),
    Need("lights", "Light", r"light|lamp", "On the stairs, in the bathroom, at the panel and at the station."),
    Need(
        "furnace",
        "Furnace or boiler",
        r"furnace|boiler|circulator|heating pump",
        "A gas or oil furnace doesn't heat without its fan or pump.",
    ),
    Need(
        "ignition",
        "Igniter and hearth fan",
        r"pellet|igniter|hearth|fireplace|stove fan",
        "Without power the heater doesn't run, even with fuel.",
    ),
    Need(
        "tankless",
        "Tankless water heater electronics",
        r"tankless|gas water",
        "Without a few watts there's no hot water.",
    ),
    Need(
        "well",
        "Well pump",
        r"well pump|\bwell\b",
        ("Without the pump there's no running water, so stored water has to last."),
    ),
    Need("sump", "Sump pump", r"sump", "Storms often bring water and an outage together."),
    Need(
        "septic",
        "Septic or sewage pump",
        r"septic|sewage|lift pump",
        "Drains fill up while it is off, so use less water.",
    ),
    Need("garage", "Garage door", r"garage door", "It's heavy by hand. Can everyone lift it from inside?"),
    Need(
        "cooking",
        "A way to cook",
        r"kettle|microwave|induction|cook|coffee|oven",
        "For warm food and drinks, even if only with gas or outdoors.",
    ),
    Need(
        "office",
        "Desk and telephone",
        r"laptop|desktop|office|monitor|phone|desk",
        "Work, homework, and calls for help.",
    ),
    Need(
        "bedrooms",
        "Bedrooms",
        r"bed|blanket|mask|concentrator|mattress",
        "A night light, a charger, a breathing machine.",
    ),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Reminder:
    """One thing of the list in a plan. loads: those that stay off or, where it is fed, that are."""

    key: str
    name: str
    state: FedState
    loads: tuple[str, ...]
    sentence: str


def reminders(each: Sequence[Wiring]) -> list[Reminder]:
    """Return the whole list, as a plan has it. Loads are known by their names, in English.

    each: what each station of the plan powers; a load is powered if any of them powers it
    """
    fed = {item.load.id for x in each for item in x.fed}
    return [_reminder(item, each[0], fed) for item in LIST]


def _reminder(item: Need, part: Wiring, fed: set[str]) -> Reminder:
    named = [x for x in part.home.loads.values() if re.search(item.words, x.name, re.IGNORECASE)]
    on = [x for x in named if x.id in fed]
    state: FedState = "fed" if on else "left_off" if named else "absent"
    sentence = item.ask
    if state == "left_off" and item.key == "well":
        sentence += _water(part)
    return Reminder(
        key=item.key, name=item.name, state=state, loads=tuple(x.name for x in on or named), sentence=sentence
    )


def _water(part: Wiring) -> str:
    hours = water_hours(part.home.household.stored_water_l, part.home.household.persons)
    return (
        f" What is stored lasts {hours_text(hours)}."
        if hours
        else (" Enter under Needs and people how much is stored.")
    )


def water_hours(litres: float, persons: int) -> float:
    """Hours stored water lasts at 15 L a person a day."""
    return 24 * litres / (WATER_L_DAY * persons) if persons else 0.0
