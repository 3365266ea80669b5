"""Readings of a load, and which of them wins: for each quantity the best-known one, with its uncertainty."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from imbuto.core.balance import Store
from imbuto.core.evidence import HEATER_LABEL_SPREAD, LEAST_SPREAD, Evidence
from imbuto.core.loads import Load, Season
from imbuto.core.quantity import NotUnderstood, Understood
from imbuto.core.units import Ident, Text

Side = Literal["appliance", "inverter", "battery"]
Quantity = Literal["average_w", "run_w", "rest_w", "start_va"]

# Relative one sigma of a plug-in meter's average by hours, for a load that cycles: planning defaults.
METER_SPREAD = ((24.0, 0.08), (6.0, 0.12), (2.0, 0.20), (0.0, 0.40))
STEADY_PART = 1 / 3  # of that for a load that does not cycle
YEARLY_SPREAD, RATING_SPREAD, OTHER_SEASON = 0.20, 0.25, 0.20
GAUGE_POINTS, GAUGE_CAPACITY = 0.41, 0.03  # sigma of a drop read in whole points; of the capacity
LEAST_W = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One reading as kept, of a load, of a circuit, or with neither of the whole home (a bill).

    at: when it was noted; side: where it was read; setting: of the appliance, by its id or in words.
    """

    id: Ident
    load: Ident | None = None
    circuit: Ident | None = None
    at: datetime
    raw: Text
    side: Side = "appliance"
    setting: Text = ""
    season: Season = "any"
    withdrawn: bool = False


@dataclass(frozen=True, slots=True)
class Gives:
    """What one reading gives for one quantity. sigma: absolute, W; rank: lower is better known."""

    quantity: Quantity
    value: float
    sigma: float
    rank: float
    evidence: Evidence
    reading: Reading


def gauge_average_w(u: Understood, store: Store) -> tuple[float, float]:
    """Average W of a load, and its one sigma, from a gauge that fell while only it ran; idle is taken off.

    Raises NotUnderstood when the station's own draw explains the whole drop.
    """
    points = (u.from_percent or 0) - (u.to_percent or 0)
    hours = u.hours or 1.0
    drawn_w = points / 100 * store.nominal_wh * store.health / hours
    average = (drawn_w - store.idle_w) * store.efficiency
    if average <= 0:
        rule = f"the station alone takes {store.idle_w:g} W, which is the whole drop; measure longer or with more on"
        raise NotUnderstood("reading", u.echo, rule)
    part = math.hypot(GAUGE_POINTS / points, GAUGE_CAPACITY)
    return average, drawn_w * part * store.efficiency


def gives(
    load: Load | None, reading: Reading, u: Understood, store: Store | None, season: Season = "any"
) -> list[Gives]:
    """Everything a reading gives for a load, or with None for a circuit or the home, of which only the average counts.

    store: the plan's station, for gauge drops and battery-side readings.
    """
    found: list[Gives] = []

    def add(quantity: Quantity, value: float | None, part: float, rank: float, evidence: Evidence) -> None:
        if value is not None:
            other = season != "any" and reading.season not in ("any", season)
            part = math.hypot(part, OTHER_SEASON) if other else part
            sigma = max(value * max(part, LEAST_SPREAD), LEAST_W)
            found.append(Gives(quantity, value, sigma, rank + (100 if other else 0), evidence, reading))

    cycles = load is None or load.use.kind in ("cycling", "weather")
    label = HEATER_LABEL_SPREAD if load is not None and load.kind == "heater" else RATING_SPREAD
    if u.kind == "log":
        spread, rank = (
            (0.05, 0)
            if (u.hours or 0) >= 72
            else (0.08, 0)
            if (u.hours or 0) >= 24
            else _meter(u.hours or 0, cycles=cycles)
        )
        add("average_w", _appliance(u.average_w or 0, reading.side, store), spread, rank, "logged")
    elif u.kind == "meter" and u.average_w is not None:
        add("average_w", _appliance(u.average_w, reading.side, store), *_meter(u.hours or 0, cycles=cycles), "metered")
    elif u.kind == "yearly":
        add("average_w", u.average_w, YEARLY_SPREAD, 4, "label")
    elif u.kind == "gauge" and store is not None:
        average, sigma = gauge_average_w(u, store)
        add("average_w", average, sigma / average, 3, "metered")
    elif u.average_w is not None:
        add("average_w", u.average_w, RATING_SPREAD, 5, "label")
    if load is None:
        return found
    run = u.run_w if u.run_w is not None else u.va * load.pf if u.va else None
    if run is not None:
        evidence: Evidence = "metered" if u.kind == "spot" else "label"
        seen = u.kind in ("spot", "log")
        evidence = "logged" if u.kind == "log" else evidence
        add("run_w", run, 0.05 if seen else label, 0 if u.kind == "log" else 1 if seen else 2, evidence)
        if not cycles and u.average_w is None:
            add("average_w", run, label, 1.5 if u.kind == "spot" else 5, evidence)
    add("run_w", u.highest_w, 0.10, 3, "metered")  # an upper bound: the plateau may lie below
    add("rest_w", u.rest_w, 0.10, 0 if u.kind == "log" else 1, "metered")
    add("start_va", u.start_va, 0.10, 1, "label")
    return found


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


def winners(found: list[Gives]) -> dict[Quantity, Gives]:
    """The best-known reading of each quantity: season-matched first, then by kind, then the newest."""
    best: dict[Quantity, Gives] = {}
    for item in sorted(found, key=lambda g: (g.rank, -g.reading.at.timestamp())):
        best.setdefault(item.quantity, item)
    return best


def figures(load: Load, best: dict[Quantity, Gives]) -> dict[str, object]:
    """The fields of a load that its winning readings set. Running W are never left below the average."""
    changed: dict[str, object] = {k: round(g.value, 2) for k, g in best.items()}
    average = best.get("average_w")
    if average is not None:
        changed["spread"] = round(max(average.sigma / average.value, LEAST_SPREAD), 4) if average.value > 0 else None
        changed["evidence"] = average.evidence
    least = float(changed.get("average_w", load.average_w))  # type: ignore[arg-type]
    if float(changed.get("run_w", load.run_w)) < least:  # type: ignore[arg-type]
        changed["run_w"] = least
    rest = float(changed.get("rest_w", load.rest_w))  # type: ignore[arg-type]
    if rest > least:
        changed["rest_w"] = least
    return changed
