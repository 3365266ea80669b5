"""Every limit of a plan at once, and the rows of those that are found elsewhere."""

from __future__ import annotations

from imbuto.core.limits.instants import instants
from imbuto.core.limits.registry import Case, Row, rows
from imbuto.core.plan.joining import Joined
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage

ROWS = (
    # What may be linked is settled where units and modules are joined to one source.
    Row(
        number=12,
        page="linking",
        families=("linking",),
        answers=("larger_station", "unlink"),
        check=lambda c: c.joined.linked,
    ),
    Row(number=19, page="on-and-off", families=("flutters",), check=None),  # the run tells
)


def fit(joined: Joined, outage: Outage) -> list[Limit]:
    """Every limit of a plan in an outage, in the order of the guide. Empty without a station."""
    if joined.station is None:
        return []
    case = Case(joined, joined.station, outage, instants(joined))
    return [x for row in rows() if row.check is not None for x in row.check(case)]
