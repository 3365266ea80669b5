"""A path for a newcomer: a first step, the next and a later one, each of which keeps what the one before it bought."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal

from imbuto.core.advice.answer import Answer
from imbuto.core.equipment.power_station import Station
from imbuto.services.first_page.first_answers import FirstHome, short_of
from imbuto.services.first_page.tried_sizes import TriedSize, proposed, tried_size

NAMES = ("First", "Next", "Later")


@dataclass(frozen=True, slots=True, kw_only=True)
class PathStep:
    """One step.

    when: First, Next or Later
    what: what is there then, in words
    price: what this step adds, without work; zero where nothing is bought; in currency
    low_hours: 9-in-10 hours, None where still on at the end of the simulation (simulated_h)
    short_of: why it does not reach the goal, in words that follow the hours; empty where it does
    kept: what it keeps of the steps before, a sentence; empty for the first
    """

    when: str
    what: str
    price: Decimal
    currency: str
    low_hours: float | None
    simulated_h: float
    short_of: str
    kept: str


def first_path(first: FirstHome, sizes: Sequence[TriedSize], own: Answer | None) -> list[PathStep]:
    """Lay out a path of two or three steps; empty where nothing that is listed can grow to the goal.

    sizes: those that were tried; own: the answer with a station that the newcomer already has, None without one
    """
    if not sizes:
        return []
    line = _line(first, sizes)
    if own is not None:
        if own.reaches:
            return []
        return _from_own(own, line or [sizes[proposed(sizes)]])
    return _steps(line) if len(line) > 1 else []


def _line(first: FirstHome, sizes: Sequence[TriedSize]) -> list[TriedSize]:
    """Find the cheapest station that can begin small and grow to the goal: its first size that fits, the first that
    reaches the goal, and the largest."""
    begun: dict[str, TriedSize] = {}
    left = min(len(x.answer.unfed) for x in sizes)
    for x in sizes:
        if x.answer.fits and len(x.answer.unfed) == left and x.station.max_modules > x.modules:
            begun.setdefault(x.station.id, x)
    for start in sorted(begun.values(), key=lambda x: (x.price, x.station.id)):
        station = start.station
        grown = [start, *(tried_size(first, station, m) for m in range(start.modules + 1, station.max_modules + 1))]
        stood = [x for x in grown if x.answer.fits]
        goal = next((x for x in stood if not x.short_of), None)
        if goal is None:
            continue
        chosen = {x.modules: x for x in (start, goal, stood[-1])}
        return [chosen[m] for m in sorted(chosen)]
    return []


def _steps(line: Sequence[TriedSize]) -> list[PathStep]:
    # One switch from the first step on, the one that suits the largest: it is fitted once.
    extra = _switch_price(line[-1]) - _switch_price(line[0])
    found = []
    for n, (x, before) in enumerate(zip(line, (None, *line), strict=False)):
        price = x.price + extra if before is None else _station_price(x) - _station_price(before)
        kept = "" if before is None else _kept(before)
        found.append(_step(NAMES[n], _what(x, with_switch=line[-1] if before is None else None), price, x, kept))
    return found


def _from_own(own: Answer, line: Sequence[TriedSize]) -> list[PathStep]:
    currency = line[0].station.currency
    have = PathStep(
        when="First",
        what="The power station you have",
        price=Decimal(0),
        currency=currency,
        low_hours=own.low_h,
        simulated_h=own.simulated_h,
        short_of=short_of(own),
        kept="",
    )
    goal = next((x for x in line if not x.short_of), line[-1])
    largest = line[-1]
    steps = [have, _step("Next", _what(goal), goal.price, goal, "Your own station stays as a reserve.")]
    if largest.modules > goal.modules:
        price = _station_price(largest) - _station_price(goal)
        steps.append(_step("Later", _what(largest), price, largest, _kept(goal)))
    return steps


def _step(when: str, what: str, price: Decimal, x: TriedSize, kept: str) -> PathStep:
    return PathStep(
        when=when,
        what=what,
        price=price,
        currency=x.station.currency,
        low_hours=x.answer.low_h,
        simulated_h=x.answer.simulated_h,
        short_of=x.short_of,
        kept=kept,
    )


def _kept(x: TriedSize) -> str:
    return f"Keeps {size_example(x.station, x.modules)} and its {'switch' if x.switch else 'cords'}."


def _what(x: TriedSize, with_switch: TriedSize | None = None) -> str:
    """Say a size with an example: ``About 2 kWh, such as Pail (made up)``."""
    return "".join(_words(x.station, x.modules, with_switch.switch.name if with_switch and with_switch.switch else ""))


def _words(station: Station, modules: int, switch: str) -> Iterator[str]:
    yield f"About {station.stored_wh(modules) / 1000:.1f} kWh, such as {size_example(station, modules)} (made up)"
    if switch:
        yield f", and the {in_sentence(switch)} that suits every step"


def in_sentence(name: str) -> str:
    """Write the name of a kind of equipment inside a sentence: ``ten-place manual switch, 50 A inlet``."""
    return name[:1].lower() + name[1:]


def size_example(station: Station, modules: int) -> str:
    """Name a station with its modules."""
    if not modules:
        return station.name
    return f"{station.name} with {f'{modules} × ' if modules > 1 else ''}{station.module_name}"


def _station_price(x: TriedSize) -> Decimal:
    return x.station.price + x.modules * x.station.module_price


def _switch_price(x: TriedSize) -> Decimal:
    return x.switch.price if x.switch else Decimal(0)
