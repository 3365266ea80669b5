"""What the broker's page shows: topics heard, values picked, and how the link is."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from imbuto.core.everyday.metered_savings import Role
from imbuto.core.measuring.minute_log import Meaning
from imbuto.formats.mqtt_payload import guessed
from imbuto.services.house.broker_link import Heard, LinkState

TargetKind = Literal["load", "circuit", "home", "energy", "station_charge", "station_out", "station_in"]
ENERGY_WORDS: dict[Role, str] = {
    "house": "Used in the house",
    "bought": "Bought from the grid",
    "sent": "Sent to the grid",
    "sun": "Made by the sun",
    "charged": "Into the battery",
    "delivered": "Out of the battery",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class BrokerPick:
    """A value that a home takes.

    topic, path: where it comes from; path: within JSON, empty for a plain number
    target: id of the load, the circuit or the source of a plan; of energy for Everyday what it meters; empty for the
        whole house
    """

    id: str
    topic: str
    path: str
    meaning: Meaning
    kind: TargetKind
    target: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TopicView:
    """A number under a topic. guess: what it most likely is, empty where nothing tells; ago_s: since it came."""

    topic: str
    path: str
    value: float
    unit: str
    guess: str
    ago_s: float
    retained: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class PickView:
    """A value that is taken, and what came in.

    of: whose it is, in words
    now: the last value; None where nothing has come for minutes
    hours, gap_hours: with and without values, since the first one
    energy_wh: over the hours with values; only of W and counters
    every_s: between two values, of late; None before the second
    start_at_least: W that a start reached at least, by an instrument that reads too seldom to see its peak
    minutes: the last hour, a mean each minute, None where nothing came
    """

    id: str
    topic: str
    path: str
    meaning: Meaning
    kind: TargetKind
    target: str
    of: str
    now: float | None
    hours: float
    gap_hours: float
    energy_wh: float | None
    lowest: float | None
    highest: float | None
    resets: int
    refused: int
    every_s: float | None
    start_at_least: float | None
    minutes: list[float | None]


@dataclass(frozen=True, slots=True, kw_only=True)
class BrokerView:
    """A home's broker.

    allowed: Imbuto was started with --broker
    said: why it isn't connected, in a sentence; since_s: for how long the state has been what it is
    has_password: one is kept, on this computer only
    demo: address of the broker of the simulated instruments, empty where there is none
    energy: what a meter can tell of the ordinary days, and its words
    beyond: numbers that came under more topics than are listed
    """

    allowed: bool
    state: LinkState
    said: str
    since_s: float
    host: str = ""
    port: int = 1883
    tls: bool = False
    user: str = ""
    has_password: bool = False
    demo: str = ""
    energy: dict[Role, str] = field(default_factory=lambda: dict(ENERGY_WORDS))
    topics: list[TopicView] = field(default_factory=list)
    picks: list[PickView] = field(default_factory=list)
    beyond: int = 0


def topic_view(h: Heard, now: float) -> TopicView:
    return TopicView(
        topic=h.topic,
        path=h.leaf.path,
        value=h.leaf.value,
        unit=h.leaf.unit,
        guess=guessed(h.topic, h.leaf) or "",
        ago_s=max(0.0, now - h.at),
        retained=h.retained,
    )
