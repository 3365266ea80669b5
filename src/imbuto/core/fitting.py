"""Every limit of a plan at once."""

from __future__ import annotations

from imbuto.core.checks import checks
from imbuto.core.engines import engine_limits
from imbuto.core.joining import Joined
from imbuto.core.limit import Limit
from imbuto.core.limits import instants, limits
from imbuto.core.outage import Outage
from imbuto.core.protection import protection_limits
from imbuto.core.strings import string_limits


def fit(joined: Joined, outage: Outage) -> list[Limit]:
    """Every limit of a plan in an outage, in the order of the guide. Empty without a station."""
    if joined.station is None:
        return []
    now = instants(joined)
    return [
        *limits(joined, outage, now),
        *protection_limits(joined, now),
        *checks(joined, outage, now),
        *string_limits(joined),
        *joined.linked,
        *engine_limits(joined, now),
    ]
