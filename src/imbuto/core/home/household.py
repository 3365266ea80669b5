"""What a household wants from its backup, what it has lived through, what it has, and who can act."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Literal

from annotated_types import Interval, Len

from imbuto.core.basics.moments import Day, Moment
from imbuto.core.basics.units import Ident, Name, Text

Harm = Literal["breathing", "frost", "flood", "no_water", "food", "no_heat", "work"]
Whereabouts = Literal["home", "away", "helps_from_afar"]
ExistingKind = Literal[
    "station", "module", "transfer_switch", "inlet", "generator", "cord", "array", "charger", "other"
]
ContactRole = Literal["emergency", "utility", "electrician", "doctor", "supplier", "maker", "neighbour", "other"]
Month = Annotated[int, Interval(ge=1, le=12)]
LongHours = Annotated[float, Interval(ge=0, le=2_000)]

HARMS: tuple[Harm, ...] = ("breathing", "frost", "flood", "no_water", "food", "no_heat", "work")


@dataclass(frozen=True, slots=True, kw_only=True)
class History:
    """Outages lived through.

    a_year: how many; hours of the shortest, the usual and the longest
    months: those in which most came, empty for any
    """

    a_year: Annotated[float, Interval(ge=0, le=400)] = 0
    shortest_h: LongHours = 0
    usual_h: LongHours = 0
    longest_h: LongHours = 0
    months: tuple[Month, ...] = ()
    note: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Person:
    """Someone of the household, by role rather than by name. can_switch: knows how to switch over, and is able to."""

    id: Ident
    name: Name
    where: Whereabouts = "home"
    frail: bool = False
    can_switch: bool = False
    note: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Contact:
    """Somebody to call.

    role: for what
    phone: as it is dialled
    """

    id: Ident
    name: Name
    role: ContactRole = "other"
    phone: Annotated[str, Len(0, 40)] = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class PracticeRound:
    """A round of the drill done without harm.

    person: id of who did it
    plan: id of the one it was
    scene: going over, or coming back
    moves: it took
    """

    id: Ident
    person: Ident
    plan: Ident
    scene: Literal["over", "back"]
    on: Day
    moves: Annotated[int, Interval(ge=0, le=10_000)] = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnedItem:
    """Something that is there already and costs nothing more.

    rating: in words, with its plug where it has one
    bought, paid, warranty_until: in words, for a claim
    tested_wh: what a used pack was measured to hold, 0 for untested
    cycles: it has seen
    checked: its cells' balance and its protection were looked at by someone who can
    """

    id: Ident
    name: Name
    kind: ExistingKind = "other"
    rating: Text = ""
    bought: Text = ""
    paid: Text = ""
    warranty_until: Text = ""
    tested_wh: Annotated[float, Interval(ge=0, le=200_000)] = 0
    cycles: Annotated[int, Interval(ge=0, le=50_000)] = 0
    checked: bool = False
    note: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelSpot:
    """Where the panel hangs, for whoever brings wire and a switch. metres; the rest in words."""

    distance_m: Annotated[float, Interval(ge=0, le=500)] | None = None
    height_m: Annotated[float, Interval(ge=0, le=10)] | None = None
    route: Text = ""
    wall: Text = ""
    shelter: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class WalkEntry:
    """One breaker of the House walk: when it was off, and what went dark, in words where it is no load yet."""

    at: Moment
    dark: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Walk:
    """The House walk, over as many days as it takes.

    depends: who or what needs power all the while
    entries: by circuit
    ended: every breaker is back on
    """

    begun: Moment
    depends: Text = ""
    entries: dict[str, WalkEntry] = field(default_factory=dict)
    ended: Moment | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Household:
    """Goals and circumstances.

    harms: what must not happen, worst first; people and existing by id
    persons: who live there
    stored_water_l: litres set aside
    walk: None before the first
    drills: rounds done without harm
    contacts: who is called, by id
    """

    harms: tuple[Harm, ...] = ()
    history: History = field(default_factory=History)
    people: dict[str, Person] = field(default_factory=dict)
    existing: dict[str, OwnedItem] = field(default_factory=dict)
    persons: Annotated[int, Interval(ge=1, le=60)] = 2
    stored_water_l: Annotated[float, Interval(ge=0, le=100_000)] = 0
    panel: PanelSpot = field(default_factory=PanelSpot)
    walk: Walk | None = None
    drills: dict[str, PracticeRound] = field(default_factory=dict)
    contacts: dict[str, Contact] = field(default_factory=dict)
