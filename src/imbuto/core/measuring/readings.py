"""Readings of a load, and which of them wins: for each quantity the best-known one, with its uncertainty."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Literal

from imbuto.core.basics.evidence import HEATER_LABEL_SPREAD, LEAST_SPREAD, Evidence
from imbuto.core.basics.units import Ident, Text
from imbuto.core.home.loads import Load, Season, Use, in_use_w
from imbuto.core.measuring.text_field import understand
from imbuto.core.measuring.understood_text import NotUnderstood, ReadText
from imbuto.core.run.battery_store import Store

Figure = Literal["average_w", "run_w", "rest_w", "highest_w", "hours"]
Side = Literal["appliance", "inverter", "battery"]
Quantity = Literal["average_w", "run_w", "rest_w", "start_va", "highest_w", "hours_a_day", "count"]

# Relative one sigma of a plug-in meter's average by hours, for a load that cycles: planning defaults.
METER_SPREAD = ((24.0, 0.08), (6.0, 0.12), (2.0, 0.20), (0.0, 0.40))
STEADY_PART = 1 / 3  # of that for a load that does not cycle
YEARLY_SPREAD, RATING_SPREAD, OTHER_SEASON = 0.20, 0.25, 0.20
GAUGE_POINTS, GAUGE_CAPACITY = 0.41, 0.03  # sigma of a drop read in whole steps of the gauge; of the capacity
WARM_ROOM_C = 27.0  # of a reading taken in the warm season, where nobody said; planning default
LEAST_W = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One reading as kept, of a load, of a circuit, or with neither of the whole home (a bill).

    at: when it was noted
    side: where it was read
    setting: of the appliance, by its id or in words
    figures: fields of what was understood, at full precision, where the sentence rounds them or a station was needed to
        tell
    """

    id: Ident
    load: Ident | None = None
    circuit: Ident | None = None
    at: datetime
    raw: Text
    side: Side = "appliance"
    setting: Text = ""
    season: Season = "any"
    figures: dict[Figure, float] = field(default_factory=dict, hash=False)
    withdrawn: bool = False


@dataclass(frozen=True, slots=True)
class ReadingEstimate:
    """What one reading gives for one quantity.

    sigma: absolute
    rank: lower is better known
    all: an average of all pieces together
    day: of whole days
    room_c: °C of the room it was read in, None where nobody said
    """

    quantity: Quantity
    value: float
    sigma: float
    rank: float
    evidence: Evidence
    reading: Reading
    all: bool = False
    day: bool = False
    room_c: float | None = None


def as_read(reading: Reading, volts: int = 120) -> ReadText:
    """What a reading says, with its figures as they were found. Raises NotUnderstood."""
    u = understand(reading.raw, volts)
    return replace(u, **{str(k): v for k, v in reading.figures.items()}) if reading.figures else u  # type: ignore[arg-type]


def gauge_average_w(u: ReadText, store: Store) -> tuple[float, float]:
    """Average W of a load, and its one sigma, from a gauge that fell while only it ran; idle is taken off.

    Raises NotUnderstood when the station's own draw explains the whole drop.
    """
    points = (u.from_percent or 0) - (u.to_percent or 0)
    hours = u.hours or 1.0
    drawn_w = (points / 100 * store.available_wh + u.in_wh) / hours
    average = (drawn_w - store.idle_w) * store.efficiency
    if average <= 0:
        rule = f"the station alone takes {store.idle_w:g} W, which is the whole drop; measure longer or with more on"
        raise NotUnderstood("reading", u.echo, rule)
    part = math.hypot(GAUGE_POINTS * u.step / points, GAUGE_CAPACITY)
    return average, drawn_w * part * store.efficiency


Add = Callable[[Quantity, float | None, float, float, Evidence], None]


def gives(
    load: Load | None, reading: Reading, u: ReadText, store: Store | None, season: Season = "any"
) -> list[ReadingEstimate]:
    """Everything a reading gives for a load, or with None for a circuit or the home, of which only the average counts.

    store: the plan's station, for gauge drops and battery-side readings.
    """
    found: list[ReadingEstimate] = []
    warm = WARM_ROOM_C if reading.season == "warm" else None
    room = u.room_c if u.room_c is not None else warm

    def add(quantity: Quantity, value: float | None, part: float, rank: float, evidence: Evidence) -> None:
        if value is not None:
            other = season != "any" and reading.season not in ("any", season)
            part = math.hypot(part, OTHER_SEASON) if other else part
            sigma = max(value * max(part, LEAST_SPREAD), LEAST_W)
            mean = quantity == "average_w" and (u.all or u.kind == "log")
            found.append(
                ReadingEstimate(
                    quantity,
                    value,
                    sigma,
                    rank + (100 if other else 0),
                    evidence,
                    reading,
                    all=mean,
                    day=mean and (u.hours or 0) >= 24,
                    room_c=room,
                )
            )

    cycles = load is None or load.use.kind in ("cycling", "weather")
    _average(add, u, reading, store, cycles=cycles)
    if load is not None:
        _others(add, u, load, cycles=cycles)
    return found


def _average(add: Add, u: ReadText, reading: Reading, store: Store | None, *, cycles: bool) -> None:
    """What a reading says of the average, by its kind."""
    hours = u.hours or 0
    if u.kind == "log":
        spread, rank = (0.05, 0.0) if hours >= 72 else (0.08, 0.0) if hours >= 24 else _meter(hours, cycles=cycles)
        add("average_w", _appliance(u.average_w or 0, reading.side, store), spread, rank, "logged")
    elif u.kind == "meter" and u.average_w is not None:
        add("average_w", _appliance(u.average_w, reading.side, store), *_meter(hours, cycles=cycles), "metered")
    elif u.kind == "yearly":
        add("average_w", u.average_w, YEARLY_SPREAD, 4, "label")
    elif u.kind == "gauge" and store is not None:
        average, sigma = gauge_average_w(u, store)
        add("average_w", average, sigma / average, 3, "metered")
    elif u.average_w is not None:
        spread = u.spread if u.spread is not None else RATING_SPREAD
        add("average_w", u.average_w, spread, 5, "guess" if u.spread else "label")


def _others(add: Add, u: ReadText, load: Load, *, cycles: bool) -> None:
    """What a reading says of one load beside its average: how many, how long, running, resting, starting."""
    label = HEATER_LABEL_SPREAD if load.kind == "heater" else RATING_SPREAD
    if u.counted:
        add("count", float(u.count), 0.0, 1, "label")
    if u.hours_a_day is not None and u.plugged is False and cycles and u.run_w is not None:
        rest = u.rest_w or load.rest_w
        add("average_w", rest + (u.run_w - rest) * u.hours_a_day / 24, RATING_SPREAD, 5, "label")
    elif u.hours_a_day is not None:
        add("hours_a_day", u.hours_a_day, RATING_SPREAD, 1, "label")
    run = u.run_w if u.run_w is not None else u.va * load.pf if u.va else None
    if run is not None:
        seen = u.kind in ("spot", "log")
        evidence: Evidence = "logged" if u.kind == "log" else "metered" if u.kind == "spot" else "label"
        add("run_w", run, 0.05 if seen else label, 0 if u.kind == "log" else 1 if seen else 2, evidence)
        if not cycles and u.average_w is None:
            add("average_w", run, u.spread if u.spread is not None else label, 1.5 if u.kind == "spot" else 5, evidence)
    add("highest_w", u.highest_w, 0.10, 1, "metered")
    add("rest_w", u.rest_w, 0.10, 0 if u.kind == "log" else 1, "metered")
    add("start_va", u.start_va, 0.10, 1, "label")


def _meter(hours: float, *, cycles: bool) -> tuple[float, float]:
    """Relative sigma and rank of a metered average by its length."""
    spread = next(part for least, part in METER_SPREAD if hours >= least)
    if not cycles:
        return spread * STEADY_PART, 1
    return spread, 1 if hours >= 24 else 2 if hours >= 6 else 3.5


def _appliance(watts: float, side: Side, store: Store | None) -> float:
    """A reading on the battery side as W at the appliance; at the inverter's output it is the same."""
    if side != "battery" or store is None:
        return watts
    return max(watts - store.idle_w, 0.0) * store.efficiency


def winners(found: list[ReadingEstimate]) -> dict[Quantity, ReadingEstimate]:
    """The best-known reading of each quantity: season-matched first, then by kind, then the newest."""
    best: dict[Quantity, ReadingEstimate] = {}
    for item in sorted(found, key=lambda g: (g.rank, -g.reading.at.timestamp())):
        best.setdefault(item.quantity, item)
    return best


def figures(load: Load, best: dict[Quantity, ReadingEstimate]) -> dict[str, object]:
    """The fields of a load that its winning readings set. Running W are never left below the average, nor above a
    meter's highest; an average of whole days makes exactly that much a day, whatever the hours of use."""
    changed: dict[str, object] = {k: round(g.value, 4) for k, g in best.items() if k not in ("hours_a_day", "count")}
    use, count = load.use, load.count
    if "count" in best:
        changed["count"] = count = int(best["count"].value)
    if "hours_a_day" in best:
        windows = use.windows if use.kind in ("windows", "daily") else ()
        use = Use(kind="daily", hours=round(best["hours_a_day"].value, 4), windows=windows)
        changed["use"] = use
    average = best.get("average_w")
    if average is not None:
        changed["spread"] = round(max(average.sigma / average.value, LEAST_SPREAD), 4) if average.value > 0 else None
        changed["evidence"] = average.evidence
        changed["measured_c"] = average.room_c
        if average.all:
            mean, rest_w = average.value / count, float(changed.get("rest_w", load.rest_w))  # type: ignore[arg-type]
            changed["average_w"] = round(in_use_w(mean, rest_w, use) if average.day else mean, 4)
    least = float(changed.get("average_w", load.average_w))  # type: ignore[arg-type]
    rest = float(changed.get("rest_w", load.rest_w))  # type: ignore[arg-type]
    if rest > least:
        changed["rest_w"] = least
    run = float(changed.get("run_w", load.run_w))  # type: ignore[arg-type]
    highest = changed.get("highest_w", load.highest_w)
    if isinstance(highest, float) and run > highest:
        run = highest
    if run < least:
        run = least
    if run != load.run_w:
        changed["run_w"] = run
    return changed
