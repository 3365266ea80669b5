"""Sizes of station that are tried for somebody who has none."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from imbuto.core.advice.answer import Answer, judge
from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.transfer_equipment import TransferEquipment
from imbuto.core.plan.itemised_costs import to_buy
from imbuto.core.plan.plan import Plan
from imbuto.services.first_page.first_answers import OWN_ID, FirstHome, cords_plan, short_of


@dataclass(frozen=True, slots=True)
class TriedSize:
    """Hold one size of station that was tried. switch: the transfer switch with it, None where nothing is wired in."""

    station: Station
    modules: int
    switch: TransferEquipment | None
    plan: Plan
    answer: Answer

    @property
    def price(self) -> Decimal:
        """Price of all that is still to be bought, without the work; in the station's own currency."""
        part = self.answer.lead.part if self.answer.lead else None
        return to_buy(part, part) if part else Decimal(0)

    @property
    def reaches(self) -> bool:
        """Whether what it powers lasts to the goal 9 times in 10."""
        low = self.answer.low_h
        return self.answer.fits and (low is None or low >= self.answer.outage.goal_hours)

    @property
    def short_of(self) -> str:
        """Why it doesn't reach the goal, see ``short_of``."""
        return short_of(self.answer)

    @property
    def rank(self) -> tuple[bool, bool, bool, float]:
        """Prefer what fits, then what powers all of it until the goal, then what surely fits, then the hours."""
        hours = self.answer.run.at_least_h if self.answer.run else 0.0
        return self.answer.fits, self.reaches and not self.answer.unfed, self.answer.may_trip is None, hours


def tried_sizes(first: FirstHome) -> list[TriedSize]:
    """Try the shipped stations, the cheapest first, until one surely fits and lasts twice as long as the goal.

    Where something is wired in, each with the smallest transfer switch that has slots enough."""
    sizes = [
        (s, m)
        for s in first.catalogue.stations.values()
        if s.leg_volts == first.home.service.volts and s.id != OWN_ID and s.price > 0 and not s.vehicle
        for m in range(s.max_modules + 1)
    ]
    found = []
    for station, modules in sorted(sizes, key=lambda x: (x[0].price + x[1] * x[0].module_price, x[0].id)):
        found.append(tried_size(first, station, modules))
        low = found[-1].answer.low_h
        if all(found[-1].rank[:3]) and (low is None or low >= 2 * first.outage.goal_hours):
            break
    return found


def tried_size(first: FirstHome, station: Station, modules: int) -> TriedSize:
    """Try one size, with the cheapest switch that suits it."""
    tried = []
    for switch in _switches(first):
        plan = cords_plan(first, station, modules, switch=switch)
        answer = judge(first.home, plan, first.outage, first.catalogue, with_moves=False)
        tried.append(TriedSize(station, modules, switch if plan.devices else None, plan, answer))
        if answer.fits:
            break
    return next((x for x in tried if x.answer.fits), tried[0])


def _switches(first: FirstHome) -> Sequence[TransferEquipment | None]:
    """List manual transfer switches with slots for all that is wired in, the cheapest first; None where nothing is."""
    slots = sum(first.home.circuits[x.id].poles for x in first.wired)
    manual = [t for t in first.catalogue.transfer.values() if t.kind == "manual_switch" and (t.places or 0) >= slots]
    by_price = sorted(manual, key=lambda t: t.price)
    return by_price if slots and by_price else [None]


def proposed(sizes: Sequence[TriedSize]) -> int:
    """Return the place of the size to propose: the cheapest of those that rank highest and reach the goal, else the
    one that lasts longest."""
    best = max(x.rank[:3] for x in sizes)
    at = [i for i, x in enumerate(sizes) if x.rank[:3] == best]
    return at[0] if best[1] else max(at, key=lambda i: (sizes[i].rank[3], -i))
