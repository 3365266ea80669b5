"""Units and ranges of the figures of equipment."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal

from annotated_types import Interval, Unit

OutputVolts = Literal["120", "120/240", "230"]
Restart = Literal["by_itself", "by_hand"]
Fuel = Literal["petrol", "propane", "diesel"]
Milliseconds = Annotated[float, Interval(ge=0, le=60_000), Unit("ms")]
Seconds = Annotated[float, Interval(ge=0, le=60), Unit("s")]
PercentPerC = Annotated[float, Interval(ge=-1, le=0), Unit("% per °C")]
Money = Annotated[Decimal, Interval(ge=0, le=1_000_000)]
Efficiency = Annotated[float, Interval(ge=0.3, le=1)]
MOST_UNITS = 6
Units = Annotated[int, Interval(ge=1, le=MOST_UNITS)]
