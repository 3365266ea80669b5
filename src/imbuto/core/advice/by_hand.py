"""Sums with one's own numbers: storage, panels and watts as people reckon them on paper, rounded up to whole pieces."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from imbuto.core.basics.clock import TYPICAL_DAYS, inside
from imbuto.core.basics.units import hours_text, kwh_text, number_text
from imbuto.core.equipment.conversion import dc_draw_w
from imbuto.core.home.loads import Load, use_watts
from imbuto.core.plan.entered.own_numbers import NightList, OwnNumbers
from imbuto.core.run.run import Run

ABOUT_RIGHT = 0.1  # a told total within a tenth of its list agrees with it; planning default
LEAVES_OUT = "It leaves out conversion, own use, cold and stop level."


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownNumbers:
    """What Imbuto knows of a plan, for the numbers that nobody entered; None where it knows none.

    day_wh: AC Wh per day, of what the plan powers, or of all loads where it powers nothing
    days: of the goal
    module_wh: of one module of the station, or of the station where it takes none
    most_modules: that the station with its units takes, None where it has none
    panel_w, sun_hours: of its panels, and on their plane in the worst month
    input_w: that its solar inputs take together, 0 where unlisted
    continuous_w: of the station, None without one
    station: its name
    """

    day_wh: float | None
    days: float
    module_wh: float | None = None
    most_modules: int | None = None
    panel_w: float | None = None
    sun_hours: float | None = None
    input_w: float = 0
    continuous_w: float | None = None
    station: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class HandSum:
    """One sum.

    part: what it sizes
    value: Wh or W, before it is rounded to whole pieces
    pieces: modules or panels, None for watts
    formula: the sum with its numbers in
    limit: what of this plan's equipment it goes beyond, empty where it doesn't
    lacks: the number to enter before it can be worked out, empty where there is none
    """

    part: Literal["battery", "solar", "inverter"]
    value: float | None
    unit: str
    pieces: int | None = None
    formula: str = ""
    limit: str = ""
    lacks: str = ""


def filled(own: OwnNumbers, known: KnownNumbers) -> OwnNumbers:
    """One's own numbers, with what is known of the plan where none was entered."""
    return replace(
        own,
        day_wh=own.day_wh if own.day_wh is not None else known.day_wh,
        days=own.days if own.days is not None else known.days,
        module_wh=own.module_wh if own.module_wh is not None else known.module_wh,
        sun_hours=own.sun_hours if own.sun_hours is not None else known.sun_hours,
        panel_w=own.panel_w if own.panel_w is not None else known.panel_w,
    )


def hand_sums(own: OwnNumbers, known: KnownNumbers) -> Iterator[HandSum]:
    """Storage, panels and watts by one's own numbers."""
    used = filled(own, known)
    if not used.day_wh:
        yield HandSum(part="battery", value=None, unit="Wh", lacks="Enter the energy per day.")
        return
    yield _storage(used, used.day_wh, known)
    yield _panels(used, used.day_wh, known)
    watts = used.day_wh / used.running_h
    yield HandSum(
        part="inverter",
        value=watts,
        unit="W",
        formula=f"{number_text(used.day_wh)} Wh ÷ {used.running_h:g} h = {number_text(watts)} W. It is an average: "
        "peaks and starts come on top.",
        limit=f"{known.station} supplies {number_text(known.continuous_w)} W."
        if known.continuous_w is not None and watts > known.continuous_w
        else "",
    )


def _storage(used: OwnNumbers, day_wh: float, known: KnownNumbers) -> HandSum:
    days = used.days or 1.0
    wh = day_wh * days * (1 + used.margin)
    more = f" × {1 + used.margin:g}" if used.margin else ""
    formula = f"{number_text(day_wh)} Wh × {days:g} days{more} = {number_text(wh)} Wh"
    if not used.module_wh:
        return HandSum(part="battery", value=wh, unit="Wh", formula=f"{formula}.", lacks="Enter the size of a module.")
    pieces = _whole(wh / used.module_wh)
    ratio = _ratio(wh / used.module_wh)
    return HandSum(
        part="battery",
        value=wh,
        unit="Wh",
        pieces=pieces,
        formula=f"{formula}; ÷ {number_text(used.module_wh)} Wh = {ratio}, so {pieces}. {LEAVES_OUT}",
        limit=f"{known.station} takes {known.most_modules}."
        if known.most_modules is not None and pieces > known.most_modules
        else "",
    )


def _panels(used: OwnNumbers, day_wh: float, known: KnownNumbers) -> HandSum:
    if not used.sun_hours:
        return HandSum(part="solar", value=None, unit="W", lacks="Enter the sun hours per day.")
    watts = day_wh / (used.sun_hours * used.panel_factor)
    formula = f"{number_text(day_wh)} Wh ÷ ({used.sun_hours:.3g} h × {used.panel_factor:g}) = {number_text(watts)} W"
    if not used.panel_w:
        return HandSum(part="solar", value=watts, unit="W", formula=f"{formula}.", lacks="Enter the size of a panel.")
    pieces = _whole(watts / used.panel_w)
    ratio = _ratio(watts / used.panel_w)
    rated = pieces * used.panel_w
    return HandSum(
        part="solar",
        value=watts,
        unit="W",
        pieces=pieces,
        formula=f"{formula}; ÷ {number_text(used.panel_w)} W = {ratio}, so {pieces}.",
        limit=f"{number_text(rated)} W of panels are more than the {number_text(known.input_w)} W that the solar "
        f"inputs of {known.station} take; the rest is lost at noon."
        if known.input_w and rated > known.input_w
        else "",
    )


def _ratio(pieces: float) -> str:
    """To one decimal, and never as a whole number that it isn't: "= 5, so 6" would be wrong."""
    text = f"{pieces:.1f}".removesuffix(".0")
    return f"just over {text}" if "." not in text and _whole(pieces) > float(text) else text


def _whole(pieces: float) -> int:
    """Rounded up; a sum that comes out even is not pushed over by its last binary digit."""
    return math.ceil(round(pieces, 9))


@dataclass(frozen=True, slots=True, kw_only=True)
class NightLine:
    """One load of a night list.

    run_w: AC W of all of it while it runs
    wh: in an average night
    powered: by this plan
    without: hours of the list without it, None where nothing can be said
    """

    load: str
    name: str
    run_w: float
    wh: float
    powered: bool
    without: tuple[float | None, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class NightHours:
    """How long one station lasts with its part of a night list, from its start charge to its stop level.

    average_w, together_w: AC W of its part, over the night and with everything running
    hours, hours_together: at each of them, with the station's own use; None where nothing draws
    """

    source: str
    station: str
    average_w: float
    together_w: float
    hours: float | None
    hours_together: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class NightSum:
    """A night list added up.

    length_h: of the night
    together_w, average_w, wh: AC, of the whole list
    says: how a told total compares with it, empty where none was entered
    """

    length_h: float
    together_w: float
    average_w: float
    wh: float
    lines: tuple[NightLine, ...]
    stations: tuple[NightHours, ...]
    says: tuple[str, ...]


def night_wh(load: Load, night: NightList) -> float:
    """AC Wh of a load between two hours of an average day of the week."""
    days = TYPICAL_DAYS
    weight = np.where(days.weekend, 2 / 7, 5 / 7) * days.step_h
    asleep = inside((night.window,), days.hour, days.weekend)
    return float((use_watts(load, days) * weight)[asleep].sum())


def night_sum(night: NightList, loads: dict[str, Load], runs: Sequence[Run]) -> NightSum:
    """Add up a night list.

    loads: of the home as they are in the outage, by id; an id that isn't among them is passed over
    runs: one of each station that runs, for its usable energy and own use
    """
    listed = [loads[k] for k in dict.fromkeys(night.loads) if k in loads]
    hours = night.window.length_h
    wh = {x.id: night_wh(x, night) for x in listed}
    peak = {x.id: x.count * max(x.run_w, x.average_w) for x in listed}
    fed = [{f.load.id for f in r.part.fed} for r in runs]

    def lasts(i: int, watts: float) -> float | None:
        store = runs[i].store
        return runs[i].usable_wh / dc_draw_w(watts, store.efficiency, store.idle_w) if watts > 0 else None

    def mean(i: int, without: str = "") -> float:
        return sum(w for k, w in wh.items() if k in fed[i] and k != without) / hours

    stations = []
    for i, run in enumerate(runs):
        together = sum(w for k, w in peak.items() if k in fed[i])
        if together > 0:
            stations.append(
                NightHours(
                    source=run.part.source.id,
                    station=run.part.station.name,
                    average_w=mean(i),
                    together_w=together,
                    hours=lasts(i, mean(i)),
                    hours_together=lasts(i, together),
                )
            )
    lines = tuple(
        NightLine(
            load=x.id,
            name=x.name,
            run_w=peak[x.id],
            wh=wh[x.id],
            powered=any(x.id in f for f in fed),
            without=tuple(lasts(i, mean(i, x.id)) for i in range(len(runs)) if x.id in fed[i]),
        )
        for x in listed
    )
    total = sum(wh.values())
    return NightSum(
        length_h=hours,
        together_w=sum(peak.values()),
        average_w=total / hours,
        wh=total,
        lines=lines,
        stations=tuple(stations),
        says=tuple(_told(night, sum(peak.values()), total)),
    )


def _told(night: NightList, together_w: float, total_wh: float) -> Iterator[str]:
    if night.told_w is not None:
        yield _compared(night.told_w, together_w, f"{number_text(night.told_w)} W", f"{number_text(together_w)} W")
    if night.told_wh is not None:
        yield _compared(night.told_wh, total_wh, kwh_text(night.told_wh), kwh_text(total_wh))


def _compared(told: float, listed: float, told_text: str, listed_text: str) -> str:
    says = f"You were told {told_text}; the list adds up to {listed_text}."
    if abs(told - listed) <= ABOUT_RIGHT * max(listed, 1e-9):
        return f"{says} They agree."
    if told > listed:
        return f"{says} Something is missing in the list, or the total was taken from a harder night."
    return f"{says} The total leaves something out, or a load in the list runs less than entered."


def night_in_words(night: NightSum) -> str:
    """A night list in a sentence."""
    last = [
        f"{x.station} lasts {hours_text(x.hours)} at the average"
        + (f", {hours_text(x.hours_together)} with everything running" if x.hours_together is not None else "")
        for x in night.stations
        if x.hours is not None
    ]
    return (
        f"{number_text(night.together_w)} W with everything running, {number_text(night.average_w)} W on average, "
        f"{kwh_text(night.wh)} in {hours_text(night.length_h)}. " + "; ".join(last) + ("." if last else "")
    ).strip()
