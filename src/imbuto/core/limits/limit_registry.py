"""The register of limits: a row for each matter, with its page in the guide, its check, the families of limits it
gives, how a plan that breaks one is called, and which moves answer it.

A new limit is one file in this package with ``ROWS`` of its own; nothing else needs to know of it.
"""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.instants import Instants
from imbuto.core.plan.limit import Limit, Severity
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import Part

BrokenState = Literal["refused", "carry_240", "trips", "misfit", "too_cold"]
MoveKind = Literal[
    "other_leg",
    "with_partners",
    "protected",
    "charge_elsewhere",
    "not_together",
    "right_volts",
    "larger_station",
    "other_layout",
    "unlink",
    "more_units",
    "larger_switch",
    "power_strip",
    "indoors",
    "feed_live",
    "at_its_panel",
    "listed",
    "by_hand",
]


@dataclass(frozen=True, slots=True)
class LimitCase:
    """What a check looks at: a plan with a station in an outage, and its instants; ports: the same for each of its
    devices alone, and for its cords."""

    part: Part
    station: Station
    outage: Outage
    now: Instants
    ports: tuple[LimitCase, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class LimitRow:
    """One matter.

    number, page: of ``docs/guide/limits``
    families: of the limits its check gives
    state: how a plan is called that breaks one
    answers: kinds of move that may clear it
    each_device: it looks at each device alone
    check: None where another row finds these limits too
    """

    number: int
    page: str
    families: tuple[str, ...]
    check: Callable[[LimitCase], Iterable[Limit]] | None
    state: BrokenState = "trips"
    answers: tuple[MoveKind, ...] = ("larger_station",)
    each_device: bool = False


@lru_cache(maxsize=1)
def rows() -> tuple[LimitRow, ...]:
    """Return every row of the register, in the order of the guide."""
    found: list[LimitRow] = list(importlib.import_module(f"{__package__}.all_limits").ROWS)
    rules = importlib.import_module(f"{__package__}.rules")
    for module in pkgutil.walk_packages(rules.__path__, f"{rules.__name__}."):
        if not module.ispkg:
            found += importlib.import_module(module.name).ROWS
    return tuple(sorted(found, key=lambda r: r.number))


@lru_cache(maxsize=1)
def by_family() -> dict[str, LimitRow]:
    """The row that a family of limits belongs to. Raises ValueError where two rows claim one."""
    found: dict[str, LimitRow] = {}
    for row in rows():
        for family in row.families:
            if family in found:
                raise ValueError(f"two rows give limits of the family {family}")
            found[family] = row
    return found


def state_of(worst: Limit) -> BrokenState:
    """How a plan is called whose worst limit this is."""
    row = by_family().get(worst.family)
    if worst.severity == "refuse":
        return "carry_240" if row is not None and row.state == "carry_240" else "refused"
    return row.state if row is not None else "trips"


def yes_no(
    ident: str, family: str, title: str, ok: bool, sentence: str, severity: Severity = "refuse", tick: str = ""
) -> Limit:
    """A limit that holds or does not, with the sentence that says which."""
    return Limit(
        id=ident,
        family=family,
        title=title,
        kind="yes_no",
        ok=ok,
        severity=severity,
        sentence=sentence,
        tick=tick,
        counts=True,
    )


def is_ticked(part: Part, tick: str) -> bool:
    """A person has settled it in the plan."""
    return tick in part.plan.ticks
