"""What a plan costs to put up, item by item; what is there already costs nothing. No tax, no labour unless entered."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from imbuto.core.joining import Joined


@dataclass(frozen=True, slots=True)
class Item:
    """One line of a plan's cost. count: pieces; price: of all of them, in the currency; owned: there already, at 0."""

    name: str
    count: int
    price: Decimal
    currency: str
    owned: bool = False


def items(joined: Joined) -> list[Item]:
    """Station, modules, transfer equipment and panels. A transfer switch the household has is not paid twice."""
    found: list[Item] = []
    source, station, equipment = joined.source, joined.station, joined.equipment
    if source is not None and station is not None:
        found.append(
            Item(station.name, 1, Decimal(0) if source.owned else station.price, station.currency, source.owned)
        )
        if source.modules:
            price = source.modules * station.module_price
            found.append(Item(station.module_name, source.modules, price, station.currency))
    if equipment.price > 0:
        owned = any(x.kind == "transfer_switch" for x in joined.home.household.existing.values())
        found.append(Item(equipment.name, 1, Decimal(0) if owned else equipment.price, equipment.currency, owned))
    use, made = joined.plan.engine, joined.generator
    if use is not None and made is not None:
        found.append(Item(made.name, 1, Decimal(0) if use.owned else made.price, made.currency, use.owned))
    for array in joined.plan.arrays.values():
        panel = joined.panels[array.panel]
        price = Decimal(0) if array.owned else array.count * panel.price
        found.append(Item(f"{panel.name}, {array.name}", array.count, price, panel.currency, array.owned))
    return found


def total(lines: list[Item]) -> Decimal:
    """The sum; of one currency, as a home's equipment is."""
    return sum((x.price for x in lines), Decimal(0))


def to_buy(after: Joined, there: Joined | None) -> Decimal:
    """What is still to be bought of a plan where another is there: pieces of the same name are not paid twice. there: None
    where nothing is."""
    have = {x.name: x.count for x in items(there)} if there is not None else {}
    found = Decimal(0)
    for line in items(after):
        missing = max(line.count - have.get(line.name, 0), 0)
        found += line.price * missing / line.count
    return round(found, 2)


def shifted(kwh: float, dear: float, cheap: float, round_trip: float, wear: float = 0.0) -> float:
    """What so many delivered kWh save when they are stored cheap and used dear: dear - cheap / round trip - wear for each.

    cheap: what a kWh costs to store, the export price for sun; round_trip: out over in, 0 to 1; wear: price over what the
    cells deliver in their life. The idle added all day is not in it.
    """
    return kwh * (dear - cheap / round_trip - wear)


def times(a: float, b: float) -> str:
    """Two figures beside each other, as ``1.8 times, 80 % more``: people say the one and mean the other."""
    if b <= 0 or a <= 0:
        return ""
    ratio = a / b
    if abs(ratio - 1) < 0.005:
        return "the same"
    more = f"{abs(ratio - 1) * 100:.0f} % {'more' if ratio > 1 else 'less'}"
    return f"{ratio:.1f} times, {more}" if ratio >= 1.05 or ratio <= 0.95 else more
