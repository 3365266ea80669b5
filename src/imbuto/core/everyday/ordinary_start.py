"""An outage that begins as an ordinary day leaves it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.everyday.everyday_modes import can_do
from imbuto.core.everyday.ordinary_year import year_of
from imbuto.core.everyday.readiness import charge_at
from imbuto.core.everyday.year_ground import ground
from imbuto.core.home.home import Home
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan


def as_left(home: Home, plan: Plan, outage: Outage, catalogue: Catalogue, outages: Iterable[Outage]) -> Outage:
    """The outage with the charge that the plan's ordinary days leave on average at its month and hour, where it is
    said to begin so; of several stores the lowest. A plan that stands full begins as the outage says."""
    if not outage.as_left or plan.everyday is None:
        return outage
    known = list(outages)
    charges = []
    for key in plan.sources:
        g = ground(home, plan, catalogue, key, known, outage.start.year)
        if can_do(g.part).uses:
            charges.append(charge_at(year_of(g, plan.everyday), outage.start))
    return replace(outage, start_charge=min(charges, default=outage.start_charge))
