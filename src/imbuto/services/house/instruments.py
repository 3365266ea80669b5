"""The simulated instruments of the demo homes, at a chosen speed."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import asdict, dataclass
from datetime import UTC, datetime, timedelta
from threading import Lock

from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.home.home import Home
from imbuto.devices.simulated import (
    SPEEDS,
    FastClock,
    SimulatedHouse,
    SimulatedPanelMonitor,
    SimulatedPlugMeter,
    Truth,
    panel_log,
    truth_of,
)
from imbuto.formats.csv_tables.csvout import table
from imbuto.services.desk.demo import DEMO_HOMES
from imbuto.services.desk.planner import Planner
from imbuto.store.state_files import put_aside, read_whole, write_whole

LEAST_H = 0.1  # below this a meter's text says nothing worth noting
MOST_LOG_DAYS = 31


@dataclass(frozen=True, slots=True, kw_only=True)
class MeterView:
    """The plug-in meter's face. text: as one would note it; empty while it is too early."""

    load: str
    name: str
    hours: float
    energy_kwh: float
    now_w: float
    lowest_w: float
    highest_w: float
    volts: float
    amps: float
    power_factor: float
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BreakerView:
    """A circuit on the panel monitor."""

    circuit: str
    name: str
    w: float
    on: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class InstrumentsView:
    """Both instruments.

    at: the simulated clock, in the home's zone
    speed: of it, against a real one
    """

    at: datetime
    speed: float
    speeds: list[int]
    meter: MeterView | None
    main_w: float
    breakers: list[BreakerView]


class _Set:
    """One home's instruments."""

    def __init__(self, home: Home, ticks: Callable[[], float], now: float) -> None:
        self.house = SimulatedHouse(home, {})
        self.clock = FastClock(ticks, now)
        self.meter = SimulatedPlugMeter(self.house, self.clock)
        self.monitor = SimulatedPanelMonitor(self.house, self.clock)


class Instruments:
    """The server's simulated instruments. ticks: real seconds, however counted; now: UTC seconds. Safe to share
    between threads."""

    def __init__(
        self, planner: Planner, ticks: Callable[[], float] = time.monotonic, now: Callable[[], float] = time.time
    ) -> None:
        self.planner = planner
        self._ticks, self._now = ticks, now
        self._sets: dict[str, _Set] = {}
        self._lock = Lock()

    def read(self, home_id: str) -> InstrumentsView:
        """What the instruments show. Raises NotFound for a home that has none."""
        with self._lock:
            return _view(self._of(home_id))

    def seconds(self, home_id: str) -> float:
        """The simulated clock, s since 1970. Raises NotFound for a home that has none."""
        with self._lock:
            return self._of(home_id).clock.read()

    def set_up(
        self,
        home_id: str,
        *,
        speed: float | None = None,
        plug: str | None = None,
        unplug: bool = False,
        breakers: dict[str, bool] | None = None,
    ) -> InstrumentsView:
        """Change the speed, plug the meter, switch breakers. Raises NotFound, InvalidValue; then nothing changed."""
        with self._lock:
            found = self._of(home_id)
            home = found.house.home
            if speed is not None and speed not in SPEEDS:
                raise InvalidValue("speed", speed, f"choose one of {', '.join(map(str, SPEEDS))}")
            if plug is not None and plug not in home.loads:
                raise NotFound("load", plug, "this home doesn't have that load")
            for circuit in breakers or {}:
                if circuit not in home.circuits:
                    raise NotFound("circuit", circuit, "this home doesn't have that circuit")
            if speed is not None:
                found.clock.set_speed(speed)
            if plug is not None or unplug:
                found.meter.plug(plug)
            for circuit, on in (breakers or {}).items():
                found.monitor.switch(circuit, on=on)
            return _view(found)

    def log_csv(self, home_id: str, circuits: list[str], days: float, step_s: int) -> str:
        """A log as a panel monitor would write it: the days before now, each circuit a column. Raises NotFound."""
        with self._lock:
            house = self._of(home_id).house
        if not 0 < days <= MOST_LOG_DAYS or step_s not in (60, 300, 900):
            raise InvalidValue("days", days, f"up to {MOST_LOG_DAYS} days, in steps of 60, 300 or 900 s")
        chosen = circuits or house.circuits()
        for circuit in chosen:
            if circuit not in house.home.circuits:
                raise NotFound("circuit", circuit, "this home doesn't have that circuit")
        zone = house.home.site.tz
        midnight = datetime.now(zone).replace(hour=0, minute=0, second=0, microsecond=0)
        rows = panel_log(house, chosen, (midnight - timedelta(days=days)).astimezone(UTC), days, step_s)
        head = ["time", *(f"{house.home.circuits[c].name} W" for c in chosen)]
        return table(head, ([datetime.fromtimestamp(r[0], zone), *(round(w, 1) for w in r[1:])] for r in rows))

    def _of(self, home_id: str) -> _Set:
        home = self.planner.open(home_id).home
        if not home_id.startswith(DEMO_HOMES):
            rule = (
                "only the demo homes have simulated instruments; in your own home, type your meter's readings, "
                "or connect instruments that speak MQTT"
            )
            raise NotFound("instruments", home_id, rule)
        found = self._sets.get(home_id)
        if found is None:
            found = self._sets[home_id] = _Set(home, self._ticks, self._now())
            found.house.truths = self._truths(home_id, home)
        elif found.house.home != home:
            found.house.home = home
            found.house.truths = self._truths(home_id, home)
        return found

    def _truths(self, home_id: str, home: Home) -> dict[str, Truth]:
        """Each load's truth, drawn when it is first seen and kept: metering must not move what it measures."""
        path = self.planner.database.path.parent / f"instruments-{home_id}.json"
        kept = read_whole(path) or {}
        try:
            known = {k: Truth(**kept[k]) for k in home.loads if k in kept}
        except TypeError:
            put_aside(path, "isn't a list of simulated loads")
            kept, known = {}, {}
        found = {k: known.get(k) or truth_of(x, home_id) for k, x in home.loads.items()}
        if set(found) - set(kept):
            write_whole(path, {**kept, **{k: asdict(t) for k, t in found.items()}})
        return found


def _view(found: _Set) -> InstrumentsView:
    home = found.house.home
    panel = found.monitor.read()
    return InstrumentsView(
        at=panel.at.astimezone(home.site.tz),
        speed=found.clock.speed,
        speeds=list(SPEEDS),
        meter=_meter(found),
        main_w=panel.main_w,
        breakers=[
            BreakerView(circuit=c, name=home.circuits[c].name, w=w, on=c not in panel.off)
            for c, w in panel.circuit_w.items()
        ],
    )


def _meter(found: _Set) -> MeterView | None:
    face = found.meter.read()
    if face is None:
        return None
    text = ""
    if face.hours >= LEAST_H:
        text = (
            f"{face.energy_kwh:.3g} kWh in {face.hours:.3g} h, low {face.lowest_w:.3g} W, high {face.highest_w:.4g} W"
        )
    return MeterView(
        load=face.load,
        name=found.house.home.loads[face.load].name,
        hours=face.hours,
        energy_kwh=face.energy_kwh,
        now_w=face.now_w,
        lowest_w=face.lowest_w,
        highest_w=face.highest_w,
        volts=face.volts,
        amps=face.amps,
        power_factor=face.power_factor,
        text=text,
    )
