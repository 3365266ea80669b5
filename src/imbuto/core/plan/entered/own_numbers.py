"""Numbers that somebody sizes a plan with by hand, kept with the plan."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from annotated_types import Interval

from imbuto.core.basics.clock import Window
from imbuto.core.basics.units import Ident, WattHours, Watts


@dataclass(frozen=True, slots=True, kw_only=True)
class NightList:
    """A list of loads that run through the night, as people write it down.

    from_h, to_h: local hours of the day
    loads: ids of the home's loads
    told_w, told_wh: a total that somebody named for it, None for none
    """

    from_h: Annotated[float, Interval(ge=0, le=24)] = 22
    to_h: Annotated[float, Interval(ge=0, le=24)] = 7
    loads: tuple[Ident, ...] = ()
    told_w: Watts | None = None
    told_wh: WattHours | None = None

    @property
    def window(self) -> Window:
        """Its hours."""
        return Window(start_h=self.from_h, end_h=self.to_h)


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnNumbers:
    """One's own numbers. None stands for what Imbuto knows of the plan.

    day_wh: AC energy per day
    days: that the store is to last
    margin: on top of that, 0.25 for a quarter more
    module_wh: label energy of one module
    sun_hours: peak sun hours per day
    panel_w: rated power of one panel
    panel_factor: share of its rating that a panel gives in those hours
    running_h: hours of the day in which the energy is used
    """

    day_wh: Annotated[float, Interval(ge=1, le=1_000_000)] | None = None
    days: Annotated[float, Interval(ge=0.1, le=60)] | None = None
    margin: Annotated[float, Interval(ge=0, le=3)] = 0
    module_wh: Annotated[float, Interval(ge=10, le=200_000)] | None = None
    sun_hours: Annotated[float, Interval(ge=0.1, le=14)] | None = None
    panel_w: Annotated[float, Interval(ge=1, le=2_000)] | None = None
    panel_factor: Annotated[float, Interval(ge=0.1, le=1.2)] = 0.75
    running_h: Annotated[float, Interval(ge=0.25, le=24)] = 24
    night: NightList = NightList()
