"""What one appliance draws: average, rest, run, start, power factor, and its use over the day."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Annotated, Any, Literal

import numpy as np
from annotated_types import Interval

from imbuto.core.basics.clock import BoolArray, FloatArray, Grid, Window, inside, share_of_day
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.evidence import Evidence, spread_of
from imbuto.core.basics.moments import Day
from imbuto.core.basics.units import (
    Celsius,
    Count,
    Fraction,
    HourOfDay,
    Ident,
    Minutes,
    Name,
    PowerFactor,
    Share,
    Text,
    VoltAmps,
    Watts,
)
from imbuto.core.home.household import Harm

LoadKind = Literal[
    "compressor", "pump", "motor", "fan", "heater", "electronics", "corrected", "inverter_driven", "light"
]
Purpose = Literal["life", "house", "food", "communications", "comfort", "convenience"]
UseKind = Literal["always", "cycling", "windows", "tasks", "daily", "weather"]
Season = Literal["any", "warm", "cold"]
Substitute = Literal["none", "do_without", "no_electricity", "less_power"]

PURPOSES: tuple[Purpose, ...] = ("life", "house", "food", "communications", "comfort", "convenience")
# Starting VA over full-load watts, low, usual and high, and power factor, by kind: planning defaults, overridden by a
# reading. Refrigeration compressors start harder for their size than those of room and central cooling.
START_RANGE: dict[LoadKind, tuple[float, float, float]] = {
    "compressor": (6, 9, 14),
    "pump": (5, 7, 10),
    "motor": (5, 7, 10),
    "fan": (2, 3, 5),
    "heater": (1, 1, 1),
    "electronics": (1.5, 1.5, 1.5),
    "corrected": (1.5, 1.5, 1.5),
    "inverter_driven": (1, 1.2, 2),
    "light": (1, 1, 1),
}
COOLING_RANGE, COOLING_FROM_W = (4.0, 6.0, 9.0), 450.0  # room and central cooling: compressors from so many W on
BEST_POWER_FACTOR: dict[LoadKind, float] = {  # at best, where it is assumed; planning defaults
    "compressor": 0.85,
    "pump": 0.85,
    "motor": 0.85,
    "fan": 0.9,
    "electronics": 0.95,
}
POWER_FACTOR: dict[LoadKind, float] = {
    "compressor": 0.65,
    "pump": 0.65,
    "motor": 0.65,
    "fan": 0.65,
    "heater": 1.0,
    "electronics": 0.6,
    "corrected": 0.95,
    "inverter_driven": 0.95,
    "light": 0.6,
}
AWAKE = (Window(start_h=7, end_h=23),)  # what is used for some time each day is used then; planning default
CATCH_UP = 0.2  # the part of a rested thermostat's energy that it does not make good; planning default
DUTY_SLACK = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class Use:
    """When a load is in use.

    windows: for kind ``windows``, and optional for ``daily``
    times and minutes: for kind ``tasks``
    hours: for some time each day, for kind ``daily``, spread over its windows or the hours people are up
    balance_c, design_c, design_duty: for kind ``weather``, the outdoor temperatures at which it does not run and at
        which it runs that share of the time
    heat_pump: its W follow the outdoor temperature too
    in_storms: a sump pump, which runs far more then
    """

    kind: UseKind = "always"
    windows: tuple[Window, ...] = ()
    times: tuple[HourOfDay, ...] = ()
    minutes: Minutes = 0
    hours: HourOfDay = 0
    balance_c: Celsius = 15
    design_c: Celsius = -5
    design_duty: Annotated[Fraction, Interval(ge=0.01)] = 0.8
    heat_pump: bool = False
    in_storms: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Setting:
    """Another way a load is set, measured on its own. season: the one it belongs to, in which it is taken unasked."""

    id: Ident
    name: Name
    average_w: Watts
    rest_w: Watts = 0
    run_w: Watts
    season: Season = "any"
    evidence: Evidence = "guess"
    spread: Annotated[float, Interval(ge=0, le=3)] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class TriedStart:
    """A start that was tried for real and held.

    station: its id
    on: the day
    charge: of the station then
    cell_c: its cells
    others_va: what else ran
    modules: of the station then; it holds with as many or more
    leg: it was on, empty for both or where there is one
    """

    station: Ident
    on: Day
    charge: Fraction = 1.0
    cell_c: Celsius = 20
    others_va: VoltAmps = 0
    modules: Annotated[int, Interval(ge=0, le=64)] = 0
    leg: Literal["", "A", "B"] = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Load:
    """One appliance, or ``count`` equal ones; all figures are for one piece.

    average_w: mean W while it is in use (run bursts and pauses together)
    rest_w: W when not in use
    run_w: W while the motor or element is on
    highest_w: a meter's highest, a start, a defrost heater or the running W, which counts once as W running together,
        None where none was read
    measured_c: °C of the room when the average was read, None where that is not known
    tried: starts that were tried for real and held
    start_va: VA at the start, None for the factor by kind
    power_factor: W over VA while running, None for the default by kind
    spread: relative one sigma of the average, None for the default by evidence
    both_legs: needs 240 V on a split-phase supply
    count: how many equal ones
    evidence: how the average is known
    purpose: what it is needed for, the first mattering most
    thermostatic: catches up after a rest
    turns_ok: may take turns
    must_stay: it must not go off, whatever its class
    hard_wired: it has no plug
    must_not_blink: bears no gap
    settings: other ways it is set, by id
    substitute: how the same end is reached without it, in words in substitute_note, and at less_w where that is by less
        power
    own_battery_h: hours a medical device runs by itself
    weight: against others of its class
    harm: what happens without it, None for what its class means
    """

    id: Ident
    name: Name
    kind: LoadKind = "electronics"
    circuit: Ident | None = None
    room: Text = ""
    both_legs: bool = False
    average_w: Watts
    rest_w: Watts = 0
    run_w: Watts
    highest_w: Watts | None = None
    measured_c: Celsius | None = None
    start_va: VoltAmps | None = None
    tried: tuple[TriedStart, ...] = ()
    power_factor: PowerFactor | None = None
    use: Use = field(default_factory=Use)
    count: Annotated[Count, Interval(ge=1)] = 1
    evidence: Evidence = "guess"
    spread: Annotated[float, Interval(ge=0, le=3)] | None = None
    purpose: Purpose = "convenience"
    weight: Annotated[float, Interval(ge=0.01, le=100)] = 1
    thermostatic: bool = False
    turns_ok: bool = False
    must_not_blink: bool = False
    must_stay: bool = False
    hard_wired: bool = False
    settings: dict[str, Setting] = field(default_factory=dict, hash=False)
    substitute: Substitute = "none"
    substitute_note: Text = ""
    less_w: Watts | None = None
    own_battery_h: Annotated[float, Interval(ge=0, le=336)] = 0
    harm: Harm | None = None
    note: Text = ""

    @property
    def pf(self) -> float:
        """Power factor while running."""
        return self.power_factor if self.power_factor is not None else POWER_FACTOR[self.kind]

    @property
    def run_va(self) -> float:
        """Running VA of all pieces."""
        return self.count * self.run_w / self.pf

    @property
    def best_pf(self) -> float:
        """Power factor while running at best; the same where it is known."""
        return self.pf if self.power_factor is not None else BEST_POWER_FACTOR.get(self.kind, self.pf)

    @property
    def start_is_assumed(self) -> bool:
        """Whether the start of one piece is assumed by kind, and more than what it runs at."""
        return self.start_va is None and START_RANGE[self.kind][2] > 1

    @property
    def start_range_va(self) -> tuple[float, float, float]:
        """VA at which one piece starts: low, usual, high; all alike where it is known. Planning default by kind."""
        if self.start_va is not None:
            return (self.start_va, self.start_va, self.start_va)
        cooling = self.kind == "compressor" and self.purpose != "food" and self.run_w >= COOLING_FROM_W
        low, usual, high = COOLING_RANGE if cooling else START_RANGE[self.kind]
        return (low * self.run_w, usual * self.run_w, high * self.run_w)

    @property
    def start_extra_va(self) -> float:
        """What one piece's usual start adds on top of all pieces running, VA; never negative."""
        return max(self.start_range_va[1] - self.run_w / self.pf, 0.0)

    @property
    def relative_spread(self) -> float:
        """Relative one sigma of the average."""
        return spread_of(self.evidence, plain_heater=self.kind == "heater", stated=self.spread)


def must_stay_on(load: Load) -> bool:
    """Whether a plan that does not feed it has to say so: ticked as such, or ``guards``."""
    return load.must_stay or guards(load)


def guards(load: Load) -> bool:
    """Whether life and health depend on it, or it keeps water and frost out of the house."""
    keeps_out = load.harm in ("breathing", "frost", "flood", "no_water")
    return load.purpose == "life" or keeps_out or (load.purpose == "house" and load.kind == "pump")


def duty(average_w: float, run_w: float, rest_w: float) -> float:
    """Share of the time a cycling load runs, 0 to 1: (average - rest) / (run - rest).

    Raises InvalidValue outside -0.05 to 1.05, or when run and rest are equal and the average is not.
    """
    if run_w == rest_w:
        if abs(average_w - run_w) > max(1.0, 0.05 * run_w):
            raise InvalidValue(
                "average_w", average_w, f"running and resting are both {run_w:g} W, so the average is too"
            )
        return 1.0
    d = (average_w - rest_w) / (run_w - rest_w)
    if d > 1 + DUTY_SLACK:
        raise InvalidValue("average_w", average_w, f"the average can't be above the {run_w:g} W it draws running")
    if d < -DUTY_SLACK:
        raise InvalidValue("average_w", average_w, f"the average can't be below the {rest_w:g} W it draws at rest")
    return min(max(d, 0.0), 1.0)


def figures_of(setting: Setting) -> dict[str, Any]:
    """What a setting says instead of the load's own figures."""
    return {
        "average_w": setting.average_w,
        "rest_w": setting.rest_w,
        "run_w": setting.run_w,
        "evidence": setting.evidence,
        "spread": setting.spread,
    }


def check_load(load: Load) -> None:
    """Raise InvalidValue where a load's figures contradict each other."""
    for key, setting in load.settings.items():
        if key != setting.id:
            raise InvalidValue(f"{load.name}, settings/{key}/id", setting.id, "the two must agree")
        check_load(replace(load, **figures_of(setting), name=f"{load.name} ({setting.name})"[:80], settings={}))
    try:
        duty(load.average_w, load.run_w, load.rest_w if load.rest_w <= load.average_w else min(load.rest_w, load.run_w))
    except InvalidValue as error:
        raise InvalidValue(f"{load.name}, average watts", load.average_w, error.rule) from None
    if load.rest_w > load.run_w:
        raise InvalidValue(
            f"{load.name}, resting watts",
            load.rest_w,
            (f"at rest it can't draw more than the {load.run_w:g} W it runs at"),
        )
    if load.use.kind == "windows" and not load.use.windows:
        raise InvalidValue(f"{load.name}, use", "windows", "enter at least one time window")
    if load.use.kind == "daily" and load.use.hours <= 0:
        raise InvalidValue(f"{load.name}, use", "for some time each day", "enter the hours per day, more than 0")
    if load.use.kind == "tasks" and (not load.use.times or load.use.minutes <= 0):
        raise InvalidValue(f"{load.name}, use", "tasks", "enter the times of day and the minutes each time")


def turns_average_w(average_w: float, run_w: float, share: Share, *, thermostatic: bool) -> float:
    """Average W of a load that takes turns at a share of the time.

    A thermostat catches up: average x (1 - 0.2 x (1 - share)), at most run x share. Anything else: average x share.
    """
    if not thermostatic:
        return average_w * share
    return min(average_w * (1 - CATCH_UP * (1 - share)), run_w * share)


def use_watts(load: Load, steps: Grid) -> FloatArray:
    """Mean W of all pieces in each step, fed all the time; shape (n,)."""
    return load.count * (load.rest_w + (load.average_w - load.rest_w) * in_use(load.use, steps))


def in_use(use: Use, steps: Grid) -> FloatArray:
    """The share of each step that the load is in use, 0 to 1; shape (n,)."""
    if use.kind in ("always", "cycling", "weather"):
        return np.ones(steps.n)
    if use.kind == "windows":
        return inside(use.windows, steps.hour, steps.weekend).astype(float)
    if use.kind == "daily":
        windows = _spread_over(use)
        share_then = use.hours / 24 / share_of_day(windows)
        open_ = inside(windows, steps.hour, steps.weekend) if windows else np.ones(steps.n, dtype=bool)
        return np.where(open_, share_then, 0.0)
    share = np.zeros(steps.n)
    half, length = steps.step_h / 2, use.minutes / 60
    for start in use.times:
        since = (steps.hour - start + half) % 24  # hours from the task's start to the step's end
        overlap = np.minimum(since, length) - np.minimum(np.maximum(since - steps.step_h, 0), length)
        share += overlap / steps.step_h
    return np.minimum(share, 1.0)


def _spread_over(use: Use) -> tuple[Window, ...]:
    """The windows so many hours a day are spread over: its own, else waking hours; none where they do not hold them."""
    for windows in (use.windows, AWAKE):
        if windows and use.hours <= 24 * share_of_day(windows):
            return windows
    return ()


def may_run(load: Load, steps: Grid) -> BoolArray:
    """When the load may be running at all, for limits. A task may be done at any hour; shape (n,)."""
    windows = load.use.windows if load.use.kind in ("windows", "daily") else ()
    if windows and (load.use.kind == "windows" or load.use.hours <= 24 * share_of_day(windows)):
        return inside(windows, steps.hour, steps.weekend)
    return np.ones(steps.n, dtype=bool)


def share_in_use(use: Use) -> float:
    """The share of an average week that a load is in use, 0 to 1."""
    if use.kind == "tasks":
        return min(len(use.times) * use.minutes / 1440, 1.0)
    if use.kind == "daily":
        return use.hours / 24
    return share_of_day(use.windows) if use.kind == "windows" else 1.0


@lru_cache(maxsize=4096)
def mean_w(load: Load) -> float:
    """Average W over a whole average week, all pieces."""
    return load.count * (load.rest_w + (load.average_w - load.rest_w) * share_in_use(load.use))


def in_use_w(mean: float, rest_w: float, use: Use) -> float:
    """Average W of one piece while it is in use, from its mean W over whole days: the other way round of ``mean_w``."""
    share = share_in_use(use)
    return mean if mean <= rest_w or share <= 0 else rest_w + (mean - rest_w) / share


def is_continuous(load: Load) -> bool:
    """Whether it may run three hours or more at a stretch, as the 1.25 breaker rule counts it."""
    if load.use.kind == "tasks":
        return load.use.minutes >= 180
    if load.use.kind == "daily":
        return load.use.hours >= 3
    if load.use.kind == "windows":
        return any(w.length_h >= 3 for w in load.use.windows)
    if load.use.kind in ("cycling", "weather") and load.run_w > load.rest_w:
        return (load.average_w - load.rest_w) / (load.run_w - load.rest_w) >= 0.8  # long unbroken runs only
    return True
