"""A made-up house that draws like a real one, with a clock that can run fast, and two instruments on it.

Its true figures differ from the home's by as much as those are uncertain, so that measuring finds something.
"""

from __future__ import annotations

import math
import random
import zlib
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

import numpy as np

from imbuto.core.basics.clock import FloatArray, inside
from imbuto.core.home.home import Home
from imbuto.core.home.loads import Load
from imbuto.devices.protocols import MeterFace, PanelFace, PanelMonitor, PlugMeter

SAMPLE_S = 30
A_DAY = 86_400 // SAMPLE_S
SPEEDS = (1, 60, 1440)
UNTRACED_W = 34.0  # what nobody knew of on a circuit that is not traced
LONGEST_SPREAD = 0.5
MOST_DAYS = 400


def seed_of(*words: object) -> int:
    """A seed that is the same on every machine."""
    return zlib.crc32("/".join(map(str, words)).encode())


@dataclass(frozen=True, slots=True)
class Truth:
    """What a load really does. cycle_h: of one run and rest, on average."""

    average_w: float
    rest_w: float
    run_w: float
    cycle_h: float

    @property
    def duty(self) -> float:
        """Share of the time it runs, 0 to 1."""
        return (self.average_w - self.rest_w) / (self.run_w - self.rest_w) if self.run_w > self.rest_w else 1.0


def truth_of(load: Load, home_id: str) -> Truth:
    """A load's true figures: drawn once by its id, as far from the known ones as those are uncertain."""
    rng = random.Random(seed_of(home_id, load.id))
    spread = min(load.relative_spread, LONGEST_SPREAD)
    average = load.average_w * math.exp(rng.gauss(0, spread))
    run = max(load.run_w * math.exp(rng.gauss(0, 0.04)), average)
    if load.use.kind == "cycling":
        average = min(average, load.rest_w + 0.92 * (run - load.rest_w))
    return Truth(max(average, load.rest_w), load.rest_w, run, rng.uniform(0.45, 1.4))


@dataclass(slots=True)
class SimulatedHouse:
    """Every load's W at any moment, the same whenever it is asked."""

    home: Home
    truths: Mapping[str, Truth]

    def circuits(self) -> list[str]:
        """The circuits that have a breaker to switch."""
        return list(self.home.circuits)

    def load_w(self, load_id: str, start: float, seconds: float) -> FloatArray:
        """W in steps of SAMPLE_S from a UTC moment on; shape (n,), n at least 1."""
        first = int(start // SAMPLE_S)
        n = max(1, round(seconds / SAMPLE_S))
        parts = []
        at = first
        while at < first + n:
            day, offset = divmod(at, A_DAY)
            take = min(A_DAY - offset, first + n - at)
            parts.append(self._day(load_id, day)[offset : offset + take])
            at += take
        return np.concatenate(parts)

    def circuit_w(self, circuit_id: str, start: float, seconds: float) -> FloatArray:
        """W of a circuit; shape (n,)."""
        found = np.zeros(max(1, round(seconds / SAMPLE_S)))
        for load in self.home.loads_on(circuit_id):
            found = found + self.load_w(load.id, start, seconds)
        return found if self.home.circuits[circuit_id].traced else found + UNTRACED_W

    def _day(self, load_id: str, day: int) -> FloatArray:
        load = self.home.loads[load_id]
        return _day_w(load, self.truths[load_id], day, self.home.site.time_zone, self.home.id)


@lru_cache(maxsize=MOST_DAYS)
def _day_w(load: Load, truth: Truth, day: int, zone: str, home_id: str) -> FloatArray:
    """One UTC day of a load, all pieces; shape (A_DAY,)."""
    rng = np.random.default_rng(seed_of(home_id, load.id, day))
    if load.use.kind in ("cycling", "weather"):
        found = _cycles(truth, rng)
        if load.kind == "compressor" and load.purpose == "food" and day % 2 == seed_of(load.id) % 2:
            at = int(rng.integers(0, A_DAY - 60))
            found[at : at + 45] = truth.run_w * 1.5  # a defrost, every other day
    elif load.use.kind == "always":
        found = np.full(A_DAY, truth.average_w)
    else:
        found = np.where(_used(load, day, zone), truth.average_w, truth.rest_w)
    noise = 1 + rng.normal(0, 0.008, A_DAY)
    return load.count * np.maximum(found * noise, 0.0)


def _cycles(truth: Truth, rng: np.random.Generator) -> FloatArray:
    """Runs and rests of uneven length whose share of the day is the true duty."""
    found = np.full(A_DAY, truth.rest_w)
    step_h = SAMPLE_S / 3600
    at = -float(rng.uniform(0, truth.cycle_h))
    while at < 24:
        length = truth.cycle_h * float(np.exp(rng.normal(0, 0.18)))
        found[max(0, round(at / step_h)) : max(0, round((at + length * truth.duty) / step_h))] = truth.run_w
        at += length
    return found


def _used(load: Load, day: int, zone: str) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """When a load with windows or tasks is in use that UTC day, by the house's clock."""
    start = datetime.fromtimestamp(day * 86_400, UTC).astimezone(ZoneInfo(zone))
    hour = (start.hour + start.minute / 60 + np.arange(A_DAY) * SAMPLE_S / 3600) % 24
    days = [(start + timedelta(hours=h)).weekday() >= 5 for h in range(25)]
    weekend = np.array(days)[(np.arange(A_DAY) * SAMPLE_S // 3600).astype(int)]
    if load.use.kind == "windows":
        return inside(load.use.windows, hour, weekend)
    busy = np.zeros(A_DAY, dtype=bool)
    for at in load.use.times:
        busy |= (hour - at) % 24 < load.use.minutes / 60
    return busy


@dataclass(slots=True)
class FastClock:
    """A clock that runs ``speed`` times as fast as the one it is given. base: UTC seconds it began at."""

    now: Callable[[], float]
    base: float
    anchor: float = field(init=False)
    speed: float = 1.0

    def __post_init__(self) -> None:
        self.anchor = self.now()

    def read(self) -> float:
        """The moment, UTC seconds."""
        return self.base + (self.now() - self.anchor) * self.speed

    def set_speed(self, speed: float) -> None:
        """Run on from here at another speed."""
        self.base, self.anchor = self.read(), self.now()
        self.speed = speed


@dataclass(slots=True)
class SimulatedPlugMeter(PlugMeter):
    """A plug-in meter in the simulated house."""

    house: SimulatedHouse
    clock: FastClock
    load: str | None = None
    since: float = 0.0

    def plug(self, load: str | None) -> None:
        """Plug a load in, from 0 kWh; None takes the meter out."""
        self.load, self.since = load, self.clock.read()

    def read(self) -> MeterFace | None:
        """What it shows; None while nothing is plugged in. Its samples are 30 s apart: it misses every start."""
        if self.load is None or self.load not in self.house.home.loads:
            return None
        elapsed = min(self.clock.read() - self.since, MOST_DAYS * 86_400.0)
        found = self.house.load_w(self.load, self.since, elapsed)
        load, volts = self.house.home.loads[self.load], float(self.house.home.service.volts)
        if self.house.home.needs_both_legs(load):
            volts *= 2
        now = float(found[-1])
        return MeterFace(
            self.load,
            datetime.fromtimestamp(self.since, UTC),
            elapsed / 3600,
            float(found.mean()) * elapsed / 3.6e6,
            now,
            float(found.min()),
            float(found.max()),
            volts,
            now / load.pf / volts,
            load.pf,
        )


@dataclass(slots=True)
class SimulatedPanelMonitor(PanelMonitor):
    """Sensors on the simulated panel, and the hand that switches its breakers. off: those that are off."""

    house: SimulatedHouse
    clock: FastClock
    off: set[str] = field(default_factory=set)

    def switch(self, circuit: str, *, on: bool) -> None:
        """Switch a breaker by (simulated) hand."""
        (self.off.discard if on else self.off.add)(circuit)

    def read(self) -> PanelFace:
        """What it shows."""
        at = self.clock.read()
        watts = {
            c: 0.0 if c in self.off else float(self.house.circuit_w(c, at, SAMPLE_S)[0]) for c in self.house.circuits()
        }
        return PanelFace(datetime.fromtimestamp(at, UTC), sum(watts.values()), watts, frozenset(self.off))


def panel_log(
    house: SimulatedHouse, circuits: list[str], start: datetime, days: float, step_s: int
) -> Iterator[list[float]]:
    """Rows of a panel monitor's log: UTC seconds, then mean W by circuit over each step."""
    group = step_s // SAMPLE_S
    seconds = days * 86_400
    columns = []
    for circuit in circuits:
        found = house.circuit_w(circuit, start.timestamp(), seconds)
        columns.append(found[: len(found) // group * group].reshape(-1, group).mean(axis=1))
    for i in range(len(columns[0]) if columns else 0):
        yield [start.timestamp() + i * step_s, *(float(c[i]) for c in columns)]
