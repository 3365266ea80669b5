"""What a plan costs to put up, item by item; what is there already costs nothing. No tax, no labour unless entered."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from imbuto.core.equipment.power_station import pairs
from imbuto.core.plan.system import Part, Wiring


@dataclass(frozen=True, slots=True)
class Purchase:
    """One line of a plan's cost.

    count: pieces
    price: of one of them, in the currency
    owned: how many are there already
    """

    name: str
    count: int
    price: Decimal
    currency: str
    owned: int = 0

    @property
    def to_pay(self) -> Decimal:
        """For the pieces that are not there."""
        return self.price * max(self.count - self.owned, 0)


def items(part: Wiring) -> list[Purchase]:
    """Every piece of a plan. A transfer switch the household has is not paid twice, and of a plan that is built
    nothing is."""
    found = [*_gear(part)] if not isinstance(part, Part) else [*_stored(part), *(() if part.waits else _around(part))]
    return [replace(x, owned=x.count) for x in found] if part.plan.status == "built" else found


def _stored(part: Part) -> list[Purchase]:
    """Units with what links them, and modules."""
    found: list[Purchase] = []
    source, unit, station = part.source, part.unit, part.station
    owned = min(source.owned_units, source.units) if source.owned else 0
    found.append(Purchase(unit.name, source.units, unit.price, unit.currency, owned))
    for name, price in pairs(unit.parts):
        found.append(Purchase(f"{name}, for {unit.name}", source.units, Decimal(str(price)), unit.currency, owned))
    if source.units > 1 and source.link == "coupler":
        found.append(Purchase(unit.coupler or "Coupler", 1, unit.coupler_price, unit.currency))
    elif source.units > 1 and unit.link_price > 0:
        found.append(Purchase(f"Link for {unit.name}", source.units - 1, unit.link_price, unit.currency))
    if source.modules:
        found.append(Purchase(station.module_name, source.modules, station.module_price, station.currency))
    return found


def _gear(part: Wiring) -> list[Purchase]:
    """Return the transfer equipment of a plan."""
    found: list[Purchase] = []
    existing = {x.kind for x in part.home.household.existing.values()}
    for i, equipment in enumerate(part.by_device.values()):
        if equipment.price > 0:
            there = int("transfer_switch" in existing and i == 0)
            found.append(Purchase(equipment.name, 1, equipment.price, equipment.currency, there))
    return found


def _around(part: Part) -> list[Purchase]:
    """Transfer equipment, generator, panels."""
    found = _gear(part)
    use, made = part.plan.engine, part.generator
    if use is not None and made is not None and use.source == part.source.id:
        found.append(Purchase(made.name, 1, made.price, made.currency, int(use.owned)))
    for bank in part.plan.banks.values():
        for branch in bank.branches:
            battery = part.batteries[branch.battery]
            owned = branch.count if bank.owned else 0
            found.append(Purchase(f"{battery.name}, {bank.name}", branch.count, battery.price, battery.currency, owned))
    for array in part.plan.arrays.values():
        panel = part.panels[array.panel]
        owned = array.count if array.owned else 0
        found.append(Purchase(f"{panel.name}, {array.name}", array.count, panel.price, panel.currency, owned))
    return found


def total(lines: Sequence[Purchase]) -> Decimal:
    """What is still to be paid; of one currency, as a home's equipment is."""
    return sum((x.to_pay for x in lines), Decimal(0))


def to_buy(after: Part, before: Wiring) -> Decimal:
    """What is still to be paid for a plan where another one stands, the one price of a plan everywhere.

    What is owned there, and all of it where it is built, is there for this one as well, piece by piece by its name.
    """
    return _missing([*_stored(after), *_around(after)], before)


def to_buy_storing(after: Part, before: Wiring) -> Decimal:
    """The same of its station with modules alone."""
    return _missing(_stored(after), before)


def _missing(wanted: Sequence[Purchase], before: Wiring) -> Decimal:
    have: dict[str, int] = {}
    for line in items(before):
        have[line.name] = have.get(line.name, 0) + line.owned
    return sum((x.price * max(x.count - max(have.get(x.name, 0), x.owned), 0) for x in wanted), Decimal(0))


def price_of_move(before: Part, after: Part) -> Decimal | None:
    """What a change of a plan costs: to be paid after it, less what was to be paid anyway. None where nothing changes.

    Pieces that are there and no longer wanted give nothing back.
    """
    if {x.name: x.count for x in items(before)} == {x.name: x.count for x in items(after)}:
        return None
    return round(to_buy(after, before) - to_buy(before, before), 2)


def times(a: float, b: float) -> str:
    """Two figures beside each other, as ``1.8 times``; near each other as ``3% more``. ``share_more`` says the same
    the other way."""
    if b <= 0 or a <= 0:
        return ""
    ratio = a / b
    if abs(ratio - 1) < 0.005:
        return "the same"
    return f"{ratio:.1f} times" if ratio >= 1.05 or ratio <= 0.95 else share_more(a, b)


def share_more(a: float, b: float) -> str:
    """The same as ``80% more`` or ``50% less``: people say the one and mean the other. Empty where nothing can be
    said."""
    if b <= 0 or a <= 0:
        return ""
    return f"{abs(a / b - 1) * 100:.0f}% {'more' if a > b else 'less'}"
