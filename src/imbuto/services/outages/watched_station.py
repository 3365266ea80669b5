"""A station that is watched: the simulated one, joined to a store of a plan, read every second and kept where it
changes."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Event, Lock, Thread
from typing import Protocol
from zoneinfo import ZoneInfo

from imbuto.core.advice.verdict import judge_one
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.home.live_outage import Live
from imbuto.devices.protocols import SimulatedHousehold, StationFace, StationInstrument
from imbuto.devices.simulated import SPEEDS
from imbuto.devices.station import Label, StationOver, begin_station, station_truth
from imbuto.services.desk.demo import DEMO_HOMES
from imbuto.services.desk.judging import Documents
from imbuto.services.desk.planner import Planner
from imbuto.services.outages.store_history import LOOK_H, history_of_store
from imbuto.store.models import FaceRow
from imbuto.store.repository import Repository
from imbuto.store.state_files import put_aside, read_whole, write_whole

POLL_S = 1.0
KEEP_H = 0.25  # at least so often what it shows is kept, changed or not
AFRESH_H = 24.0  # so often the household's hours ahead are told to it anew
KEPT = ("home", "zone", "source", "plan", "outage", "name")  # of what is watched, for a server that begins again
log = logging.getLogger("imbuto")


@dataclass(frozen=True, slots=True, kw_only=True)
class WatchView:
    """The simulated station of a home.

    on: it is there
    source: of the plan
    at: its own clock, in the home's zone
    lost: it does not answer
    """

    on: bool
    source: str = ""
    name: str = ""
    at: datetime | None = None
    charge: float = 0.0
    out_w: float = 0.0
    in_w: float = 0.0
    speed: float = 1.0
    speeds: list[int] = field(default_factory=lambda: list(SPEEDS))
    grid: bool = True
    lost: bool = False


class WatchedInstrument(StationInstrument, Protocol):
    """What is asked of a station that is simulated: that it is told what hangs on it, and how fast its clock runs."""

    @property
    def speed(self) -> float:
        """Of its clock."""

    def live_in(self, house: SimulatedHousehold, charge: float | None = None) -> None:
        """From now on something else hangs on it."""

    def set_speed(self, speed: float) -> None:
        """Its clock runs so many times as fast."""

    def end(self) -> None:
        """It is put away."""


@dataclass(slots=True)
class WatchJoin:
    """One that is watched.

    zone: of the home's clocks
    plan, outage: whose loads hang on it while the grid is there
    read: when, by the machine's own count
    told: the revision its household was told from
    until: to what time that reaches
    began: of the outage it has been told of
    """

    home: str
    zone: str
    source: str
    plan: str
    outage: str
    name: str
    station: WatchedInstrument
    face: StationFace | None = None
    read: float = 0.0
    kept: StationFace | None = None
    told: int = -1
    until: datetime | None = None
    began: datetime | None = None
    grid: bool = True
    lost: bool = False


class Watch:
    """Every station that is watched. Safe to share between threads. seen: how often each home's was read, for
    listeners."""

    def __init__(self, planner: Planner, ticks: Callable[[], float] = time.monotonic) -> None:
        self.planner, self._ticks = planner, ticks
        self.seen: dict[str, int] = {}
        self._joined: dict[str, WatchJoin] = {}
        self._lock = Lock()
        self._stop = Event()
        self._thread: Thread | None = None

    def take_up(self) -> None:
        """Watch again those that were watched before the server ended."""
        for path in sorted(self._folder.glob("watch-*.json")):
            said = read_whole(path)
            if said is None:
                continue
            if not all(isinstance(said.get(key), str) for key in KEPT) or path != self._note(said["home"]):
                put_aside(path, "doesn't say which station was watched")
                continue
            if not self._still_there(said):
                put_aside(path, "names a home, plan or station that was removed")
                continue
            now = WatchJoin(**{key: said[key] for key in KEPT}, station=StationOver(self._file(said["home"])))
            try:
                now.station.read()
            except OSError:
                path.unlink()
                continue
            self.add(now)

    def _still_there(self, said: dict[str, str]) -> bool:
        """Whether the home, plan, outage and station are there that a watch was noted for."""
        try:
            documents = self.planner.open(said["home"])
        except NotFound:
            return False
        plan = documents.plans.get(said["plan"])
        return plan is not None and said["source"] in plan.sources and said["outage"] in documents.outages

    def close(self) -> None:
        """Stop watching; what is watched goes on by itself for a while, and is found again."""
        self._stop.set()
        if self._thread is not None:
            self._thread.join(timeout=5)

    def view(self, home_id: str) -> WatchView:
        """What a home's station shows."""
        with self._lock:
            now = self._joined.get(home_id)
            if now is None or now.face is None:
                return WatchView(on=False)
            return WatchView(
                on=True,
                source=now.source,
                name=now.name,
                at=now.face.at.astimezone(ZoneInfo(now.zone)).replace(tzinfo=None),
                charge=now.face.charge,
                out_w=now.face.out_w,
                in_w=now.face.in_w,
                speed=now.station.speed,
                grid=now.grid,
                lost=now.lost,
            )

    def begin(self, home_id: str, plan_id: str, outage_id: str, source: str, charge: float) -> WatchView:
        """Put a simulated station in a source's place. Raises NotFound, InvalidValue."""
        documents = self.planner.open(home_id)
        if not home_id.startswith(DEMO_HOMES):
            raise NotFound(
                "station", home_id, "only the demo homes have a simulated station; in your own home, note the gauge"
            )
        if home_id in self._joined:
            raise InvalidValue("station", home_id, "a simulated station is running already")
        if plan_id not in documents.plans or source not in documents.plans[plan_id].sources:
            raise NotFound("station", source, "this plan doesn't have that station")
        base = max([self.planner.now(documents.home), *(x.ended for x in documents.home.lived.values() if x.ended)])
        utc = base.replace(tzinfo=documents.home.site.tz).astimezone(UTC)
        label, name, house = self.label_of(documents, plan_id, outage_id, source, utc)
        truth = station_truth(label, home_id, plan_id, source)
        station = begin_station(self._file(home_id), label, truth, house, charge, utc)
        now = WatchJoin(home_id, documents.home.site.time_zone, source, plan_id, outage_id, name, station)
        write_whole(self._note(home_id), {key: getattr(now, key) for key in KEPT})
        self.add(now)
        return self.view(home_id)

    def read(self, home_id: str) -> None:
        """Look at it just now. Raises NotFound."""
        self._read(self._of(home_id))

    def set_speed(self, home_id: str, speed: float) -> WatchView:
        """Its clock runs so many times as fast as a real one. Raises NotFound, InvalidValue."""
        if speed not in SPEEDS:
            raise InvalidValue("speed", speed, f"choose one of {', '.join(map(str, SPEEDS))}")
        now = self._of(home_id)
        try:
            now.station.set_speed(speed)
        except OSError as error:
            raise NotFound("station", home_id, "the station isn't responding; remove it and start again") from error
        self._read(now)
        return self.view(home_id)

    def end(self, home_id: str) -> WatchView:
        """Put it away. Raises NotFound where there is none."""
        now = self._of(home_id)
        with self._lock:
            self._joined.pop(home_id, None)
            self.planner.clocks.pop(home_id, None)
        now.station.end()
        self._note(home_id).unlink(missing_ok=True)
        return WatchView(on=False)

    @property
    def _folder(self) -> Path:
        return self.planner.database.path.parent

    def _file(self, home_id: str) -> Path:
        return self._folder / f"station-{home_id}.json"

    def _note(self, home_id: str) -> Path:
        return self._folder / f"watch-{home_id}.json"

    def _of(self, home_id: str) -> WatchJoin:
        with self._lock:
            if home_id not in self._joined:
                raise NotFound("station", home_id, "there is no simulated station")
            return self._joined[home_id]

    def add(self, now: WatchJoin, *, by_itself: bool = True) -> None:
        """Watch one. by_itself: every second, and else only when it is asked to."""
        self._read(now)
        with self._lock:
            self._joined[now.home] = now
            self.planner.clocks[now.home] = lambda: self._clock(now)
            if by_itself and self._thread is None:
                self._thread = Thread(target=self._watch, name="watch", daemon=True)
                self._thread.start()

    def _clock(self, now: WatchJoin) -> datetime:
        assert now.face is not None
        return now.face.at + timedelta(seconds=(self._ticks() - now.read) * now.station.speed)

    def _watch(self) -> None:
        while not self._stop.wait(POLL_S):
            with self._lock:
                each = list(self._joined.values())
            for now in each:
                try:
                    self._read(now)
                except NotFound:
                    self.end(now.home)  # its home was deleted
                except Exception:
                    log.exception("a watched station could not be read")

    def _read(self, now: WatchJoin) -> None:
        """Tell it what hangs on it, where that has changed, and see what it shows."""
        try:
            self._tell(now)
            face = now.station.read()
        except OSError:
            now.lost = True
            self._clock_stands(now)
            self.seen[now.home] = self.seen.get(now.home, 0) + 1
            return
        now.face, now.read, now.lost = face, self._ticks(), False
        self._keep(now, face)
        self.seen[now.home] = self.seen.get(now.home, 0) + 1

    def _clock_stands(self, now: WatchJoin) -> None:
        """Its clock is its own: without it, time does not go on here either."""
        if now.face is not None:
            now.face, now.read = replace(now.face, at=self._clock(now)), self._ticks()

    def _tell(self, now: WatchJoin) -> None:
        rev = self.planner.rev(now.home)
        if rev == now.told and (now.until is None or now.face is None or now.face.at < now.until):
            return
        documents = self.planner.open(now.home)
        live, zone = documents.home.live, ZoneInfo(now.zone)
        here = self.planner.now(documents.home) if now.face is not None else None
        if live is not None and now.source in documents.plans[live.plan].sources:
            begun = live.began.replace(tzinfo=zone).astimezone(UTC)
            fresh = now.began != begun and now.face is not None
            _, _, house = self.label_of(documents, live.plan, now.outage, now.source, begun, live)
            now.station.live_in(house, live.charges.get(now.source, 1.0) if fresh else None)
            now.began, now.grid, now.until = begun, False, None
        elif now.plan in documents.plans and now.source in documents.plans[now.plan].sources:
            at = (here.replace(tzinfo=zone).astimezone(UTC) if here else None) or datetime.now(UTC)
            _, _, house = self.label_of(documents, now.plan, now.outage, now.source, at)
            now.station.live_in(house)
            now.began, now.grid, now.until = None, True, at + timedelta(hours=AFRESH_H)
        now.told = rev

    def _keep(self, now: WatchJoin, face: StationFace) -> None:
        last = now.kept
        if last is not None and face.charge == last.charge and face.at - last.at < timedelta(hours=KEEP_H):
            return
        at = face.at.astimezone(ZoneInfo(now.zone)).replace(tzinfo=None, microsecond=0)
        row = FaceRow(home_id=now.home, source=now.source, at=at, charge=face.charge, out_w=face.out_w, in_w=face.in_w)
        with self.planner.database.writing() as session:
            Repository(session).add_face(row)
        now.kept = face

    def label_of(
        self, documents: Documents, plan_id: str, outage_id: str, source: str, utc: datetime, live: Live | None = None
    ) -> tuple[Label, str, SimulatedHousehold]:
        """What its label says, what it is called, and what hangs on it from a moment on. Raises InvalidValue."""
        at = utc.astimezone(documents.home.site.tz).replace(tzinfo=None)
        like = documents.outages.get(outage_id) or next(iter(documents.outages.values()))
        case = replace(like, start=at, hours=LOOK_H, goal_hours=LOOK_H, start_charge=1.0)
        v = judge_one(documents.home, documents.plans[plan_id], case, documents.catalogue, source)
        if v.run is None:
            raise InvalidValue(
                "station", source, "nothing is connected to it in this plan, so there is nothing to watch"
            )
        if v.run.line is not None and len(v.run.line.stores) > 1:
            raise InvalidValue(
                "station",
                v.part.station.name,
                "this station powers another one or is powered by one; the simulated station replaces a single one",
            )
        now, store, made = v.part, v.run.store, v.part.station
        k = history_of_store(v, live or Live(began=at, plan=plan_id), at, [])
        label = Label(
            store.available_wh, store.efficiency, store.idle_w, now.charging_w, made.charge_efficiency, store.floor
        )
        house = SimulatedHousehold(utc, k.step_h, tuple(k.load_w.tolist()), tuple(k.came_w.tolist()), grid=live is None)
        return label, made.name, house
