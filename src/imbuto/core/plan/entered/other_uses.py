"""What a station is for, besides outages: where it is carried, how often, and what that spares."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from annotated_types import Interval

from imbuto.core.basics.units import Ident, Name


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherUse:
    """One use, such as a camp, a neighbor or a job.

    source: the plan's station of which one unit goes along
    modules: how many go with it
    days: of the year on which it is away
    instead: what a day of it would cost otherwise, such as rent, in the home's currency; None for no money
    """

    id: Ident
    name: Name
    source: Ident = "main"
    modules: Annotated[int, Interval(ge=0, le=20)] = 0
    days: Annotated[float, Interval(ge=0, le=365)] = 5
    instead: Annotated[float, Interval(ge=0, le=100_000)] | None = None
