"""What a kWh costs, and when: dated tariffs."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import Annotated

from annotated_types import Interval, Len

from imbuto.core.basics.clock import DAY_STEPS, TYPICAL_DAYS, Window, inside
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.moments import Day
from imbuto.core.basics.units import Ident, Name, Text

# Currencies whose kWh is never dearer than a few units: there a price of 14 is one in hundredths.
WHOLE = ("USD", "EUR", "GBP", "CHF", "CAD", "AUD", "NZD")
MOST_WHOLE, MOST_OTHER = 3.0, 1000.0  # a kWh
Price = Annotated[float, Interval(ge=-1000, le=1000)]
MONTH_NAMES = (
    "",
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Rate:
    """One price of a tariff.

    price: of a kWh
    windows: when it holds, none for all hours that no other rate names
    months: 1 to 12, none for all
    """

    id: Ident
    name: Name
    price: Price
    windows: Annotated[tuple[Window, ...], Len(0, 24)] = ()
    months: tuple[Annotated[int, Interval(ge=1, le=12)], ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Tier:
    """What each kWh of a month costs more, above so many."""

    above_kwh: Annotated[float, Interval(ge=0, le=1e6)]
    more: Price


@dataclass(frozen=True, slots=True, kw_only=True)
class Tariff:
    """A tariff.

    since: it holds from that day on, until a later one does
    rates: by id
    export_price: for a kWh to the street
    net: what goes out is set off at the price of its hour instead
    fixed: a month
    holidays: days that count as a weekend
    source: where it was read
    """

    id: Ident
    name: Name
    since: Day
    rates: dict[str, Rate] = field(default_factory=dict)
    tiers: Annotated[tuple[Tier, ...], Len(0, 10)] = ()
    export_price: Price = 0.0
    net: bool = False
    fixed: Annotated[float, Interval(ge=0, le=100_000)] = 0.0
    holidays: Annotated[tuple[date, ...], Len(0, 60)] = ()
    source: Text = ""


def check_tariff(tariff: Tariff, currency: str) -> None:
    """Raise InvalidValue for a price in hundredths, hours with two prices or none, tiers out of order."""
    most = MOST_WHOLE if currency in WHOLE else MOST_OTHER
    priced = [(f"{r.name}, price", r.price) for r in tariff.rates.values()]
    priced += [("export price", tariff.export_price), *((f"above {t.above_kwh:g} kWh", t.more) for t in tariff.tiers)]
    for what, price in priced:
        if abs(price) > most:
            rule = f"enter the price per kWh in {currency}; write hundredths as 0.{abs(round(price)):02d}"
            raise InvalidValue(f"{tariff.name}, {what}", price, rule)
    for key, rate in tariff.rates.items():
        if key != rate.id:
            raise InvalidValue(
                f"{tariff.name}, rates/{key}/id", rate.id, f"its key is “{key}”, and the two must be the same"
            )
    if not tariff.rates:
        raise InvalidValue(f"{tariff.name}, rates", "none", "enter at least one price")
    for month in range(1, 13):
        _check_month(tariff, month)
    above = [t.above_kwh for t in tariff.tiers]
    if above != sorted(set(above)):
        raise InvalidValue(
            f"{tariff.name}, tiers", ", ".join(f"{x:g}" for x in above), "each step must start above the previous one"
        )


def _check_month(tariff: Tariff, month: int) -> None:
    days = TYPICAL_DAYS
    rates = [r for r in tariff.rates.values() if not r.months or month in r.months]
    rest = [r for r in rates if not r.windows]
    if len(rest) > 1:
        rule = f"in {MONTH_NAMES[month]} both are for all other hours; enter the hours of one of them"
        raise InvalidValue(f"{tariff.name}, rates", f"{rest[0].name} and {rest[1].name}", rule)
    taken: list[Rate | None] = [None] * days.n
    for rate in (r for r in rates if r.windows):
        for i in inside(rate.windows, days.hour, days.weekend).nonzero()[0]:
            if (other := taken[i]) is not None:
                rule = f"both cover {_clock(int(i))} in {MONTH_NAMES[month]}; an hour can have only one price"
                raise InvalidValue(f"{tariff.name}, windows", f"{other.name} and {rate.name}", rule)
            taken[i] = rate
    if not rest and None in taken:
        rule = (
            f"in {MONTH_NAMES[month]} there is no price at {_clock(taken.index(None))}; give one without windows "
            f"for all other hours"
        )
        raise InvalidValue(f"{tariff.name}, windows", "a gap", rule)


def _clock(i: int) -> str:
    day, step = divmod(int(i), DAY_STEPS)
    return f"{step // 12:02d}:{step % 12 * 5:02d} {'on a weekend' if day else 'on a weekday'}"


def tariff_on(tariffs: dict[str, Tariff], on: date) -> Tariff | None:
    """The tariff of a day: the newest that had begun, else the first there is."""
    begun = [t for t in tariffs.values() if t.since <= on]
    if begun:
        return max(begun, key=lambda t: (t.since, t.id))
    return min(tariffs.values(), key=lambda t: (t.since, t.id), default=None)
