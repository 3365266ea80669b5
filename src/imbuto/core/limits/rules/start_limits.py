"""Limits 4 and 5: the starting surge of one motor, and of all of them at once after a restart."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from imbuto.core.basics.measures import temp_text
from imbuto.core.basics.units import Leg, number_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.home.loads import Load, TriedStart
from imbuto.core.limits.instants import Instants
from imbuto.core.limits.limit_registry import LimitRow
from imbuto.core.limits.rules.power_limits import on_leg
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.stop_level import stop_level
from imbuto.core.plan.system import Part

ALIKE_C = 3.0  # cells no more than this colder than in a test are alike, as a thermometer errs; planning default
LOW_CHARGE = 0.20  # below this charge, and below 0 °C, a surge counts 0.7; planning default


WEAK_SURGE = 0.7


def _starts(part: Part, station: Station, now: Instants, outage: Outage) -> Iterator[Limit]:
    cold = outage.at(part.source) < 0
    weak = WEAK_SURGE if cold else 1.0
    surge, leg_surge = station.surge_va, station.leg_surge_va
    if not station.surge_counts:
        surge, leg_surge = station.rated_va, min(leg_surge, station.leg_a * station.leg_volts)
    total, who = now.hardest_start(np.ones(len(now.fed)))
    found = [_start(part, outage, "start:total", "Hardest start", total, surge * weak, who, total)]
    worst, worst_limit, worst_who = total, surge, who
    if len(station.legs) > 1:
        for leg in station.legs:
            used, starter = now.hardest_start(on_leg(now, leg))
            title = f"Hardest start, leg {leg}"
            found.append(_start(part, outage, f"start:{leg}", title, used, leg_surge * weak, starter, total, leg))
            if used * worst_limit > worst * leg_surge:
                worst, worst_limit, worst_who = used, leg_surge, starter
    yield from found
    held = _held(part, outage, worst_who, total, None)
    low = worst_limit * WEAK_SURGE
    if held is not None and held.charge > stop_level(part) and worst > low:
        yield Limit(
            id="start:low",
            family="start_low",
            title="Starting when nearly empty",
            severity="caution",
            used=worst,
            limit=low,
            unit="VA",
            ok=False,
            sentence=(
                f"{worst_who.name if worst_who else 'It'} started at {100 * held.charge:.0f}% charge. No one "
                "has tried it below that."
            ),
        )
    elif stop_level(part) < LOW_CHARGE and not cold:
        yield Limit(
            id="start:low",
            family="start_low",
            title="Starting when nearly empty",
            severity="caution",
            used=worst,
            limit=low,
            unit="VA",
            ok=worst <= low,
            evidence="default",
            sentence=f"Below 20% charge a station starts less: count on {number_text(low)} VA, and "
            f"{worst_who.name if worst_who else 'a start'} asks for {number_text(worst)} VA with the rest running.",
        )
    everything = now.all_starting_va()
    # Thrown by hand, or by equipment that sheds, circuits come back one at a time.
    hand = not part.equipment.automatic or part.equipment.sheds
    yield Limit(
        id="all_at_once",
        family="all_at_once",
        title="All starting at once",
        used=everything,
        limit=surge * weak,
        unit="VA",
        ok=everything <= surge * weak,
        severity="caution" if hand else "broken",
        sentence=f"After a time without power, everything may start at once: {number_text(everything)} VA of "
        f"{number_text(surge * weak)}."
        + ("" if everything <= surge * weak else f" One at a time: {' → '.join(staggered_start_order(now))}."),
    )


def _held(part: Part, outage: Outage, load: Load | None, total: float, leg: Leg | None) -> TriedStart | None:
    """A start of this load that held on this station with no more modules, on this leg, with as much else running and
    cells as cold; the lowest charge first.

    total: of all legs, since nobody notes on which one the rest ran.
    """
    if load is None:
        return None
    fits = [t for t in load.tried if t.station == part.source.station and not _lacks(t, part, outage, load, total, leg)]
    return min(fits, key=lambda t: t.charge, default=None)


def _lacks(t: TriedStart, part: Part, outage: Outage, load: Load, total: float, leg: Leg | None) -> str:
    """What a start that was tried on this station lacks to prove this one, as the end of a sentence; empty where it
    proves it."""
    source, cells = part.source, outage.at(part.source)
    others = total - load.run_va - load.start_extra_va
    if t.modules > source.modules:
        return f"with {t.modules} modules, and this plan has {source.modules or 'none'}"
    if t.leg and leg is not None and t.leg != leg:
        return f"on leg {t.leg}, and it is on leg {leg} now"
    if t.cell_c > cells + ALIKE_C:
        return f"with its cells at {temp_text(t.cell_c)}; in this outage they are at {temp_text(cells)}"
    if t.others_va < others - 0.5:
        return f"with {number_text(t.others_va)} VA running; up to {number_text(others)} VA may run with it here"
    return ""


def staggered_start_order(now: Instants) -> list[str]:
    """The order to switch on in: the largest starts first, while little else runs."""
    order = sorted(now.fed, key=lambda f: -f.load.start_extra_va)
    return list(dict.fromkeys(f.circuit.name if f.circuit else f.load.name for f in order if f.load.start_extra_va > 0))


def _start(
    part: Part,
    outage: Outage,
    ident: str,
    title: str,
    used: float,
    limit: float,
    who: Load | None,
    total: float,
    leg: Leg | None = None,
) -> Limit:
    """One start on all the rest. What only a default breaks says so; what was seen to hold, holds."""
    held = _held(part, outage, who, total, leg) if used > limit else None
    starter = f"{who.name} starting with everything else on" if who else "No motor starts"
    said = f"{title}: {number_text(used)} of {number_text(limit)} VA, {starter}."
    if held is not None:
        said += f" A test on {held.on:%Y-%m-%d} passed."
    elif used > limit and who is not None:
        last = max((t for t in who.tried if t.station == part.source.station), key=lambda t: t.on, default=None)
        if last is not None:
            lacks = _lacks(last, part, outage, who, total, leg)
            said += f" It started on {last.on:%Y-%m-%d} {lacks}. Try it again that way."
    return Limit(
        id=ident,
        family="start",
        title=title,
        used=used,
        limit=limit,
        unit="VA",
        ok=used <= limit or held is not None,
        leg=leg,
        load=who.id if who else "",
        sentence=said,
    )


ROWS = (
    LimitRow(
        number=4,
        page="start",
        families=("start", "start_low"),
        answers=("other_leg", "not_together", "larger_station", "more_units", "indoors"),
        check=lambda c: _starts(c.part, c.station, c.now, c.outage),
    ),
    LimitRow(
        number=5,
        page="all-at-once",
        families=("all_at_once",),
        answers=("not_together", "larger_station"),
        check=None,
    ),
)
