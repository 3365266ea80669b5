"""Instruments that speak MQTT: which values a home takes from its broker, what came in of each, and what follows."""

from __future__ import annotations

import logging
import secrets
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import asdict
from datetime import datetime
from pathlib import Path
from threading import Lock

import numpy as np

from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.everyday.metered_savings import QUARTER_S, by_quarter_hours
from imbuto.core.home.home import Home
from imbuto.core.measuring.minute_log import Meaning, MinuteLog, from_state
from imbuto.formats.csv_tables.csvout import table
from imbuto.services.desk.judging import Pair
from imbuto.services.desk.planner import EditResult, Planner
from imbuto.services.house.broker_link import BrokerAddress, BrokerLink, Heard, check_ca, check_local
from imbuto.services.house.broker_views import ENERGY_WORDS, BrokerPick, BrokerView, PickView, TargetKind, topic_view
from imbuto.services.house.measuring import Measuring, Target
from imbuto.store.energy_days import keep_energy
from imbuto.store.models import FaceRow
from imbuto.store.repository import Repository
from imbuto.store.state_files import put_aside, read_whole, write_whole

OF: dict[TargetKind, tuple[Meaning, ...]] = {
    "load": ("W", "Wh", "V", "A"),
    "circuit": ("W", "Wh", "V", "A"),
    "home": ("W", "Wh", "V", "A"),
    "energy": ("W", "Wh"),
    "station_charge": ("%",),
    "station_out": ("W",),
    "station_in": ("W",),
}
STATION_WORDS: dict[TargetKind, str] = {"station_charge": "charge", "station_out": "output", "station_in": "input"}
MOST_PICKS = 100
LEAST_NOTE_H = 0.5  # below this a log says nothing of a day
KEEP_S = 900.0  # at least so often a station's gauge is kept, changed or not
SHOWN_MINUTES = 60
log = logging.getLogger("imbuto")


class _Joined:
    """A home's link, its picks and what came in of each."""

    def __init__(self, address: BrokerAddress, picks: list[BrokerPick]) -> None:
        self.address = address
        self.picks = {p.id: p for p in picks}
        self.logs = {p.id: MinuteLog(p.meaning) for p in picks}
        self.link: BrokerLink | None = None
        self.kept: dict[str, tuple[float, float]] = {}
        self.energy_until: dict[str, float] = {}
        self.logs_kept_at = 0.0


class Brokers:
    """The links of all homes. Safe to share between threads.

    allowed: the program was started to contact brokers; else nothing is ever contacted
    clock: s since 1970 for a home: of the simulated instruments where they run fast, else the machine's
    demo: address of the demo's broker, empty for none
    """

    def __init__(
        self,
        planner: Planner,
        *,
        allowed: bool = False,
        clock: Callable[[str], float] = lambda _: time.time(),
        now: Callable[[], float] = time.time,
    ) -> None:
        self.planner, self.allowed, self.demo = planner, allowed, ""
        self.clock, self._now = clock, now
        self._homes: dict[str, _Joined] = {}
        self._lock = Lock()

    def take_up(self) -> None:
        """Connect again where somebody had connected before."""
        if not self.allowed:
            return
        for path in sorted(self._folder.glob("broker-*.json")):
            said = read_whole(path)
            if said is None:
                continue
            try:
                address = BrokerAddress(**said["address"])
                picks = [BrokerPick(**p) for p in said["picks"]]
                home_id = said["home"]
                self.planner.open(home_id)
            except (KeyError, TypeError, NotFound):
                put_aside(path, "doesn't say which broker was connected")
                continue
            made = _Joined(address, picks)
            self._take_up_logs(home_id, made)
            self._join(home_id, made)

    def close(self) -> None:
        """Hang up everywhere."""
        for home_id, found in list(self._homes.items()):
            if found.link:
                found.link.close()
                self._keep_logs(home_id, found)

    def connect(self, home_id: str, address: BrokerAddress) -> BrokerView:
        """Connect a home to a broker. Raises NotFound, InvalidValue; then nothing was contacted."""
        self.planner.open(home_id)
        if not self.allowed:
            raise InvalidValue(
                "broker",
                address.host,
                "Imbuto was started without --broker, so it contacts nothing. Start it with --broker",
            )
        if not address.host.strip() or not 0 < address.port < 65536:
            raise InvalidValue("broker", address.host, "enter its name or address, and a port from 1 to 65535")
        check_local(address.host, address.port)
        check_ca(address.ca if address.tls else "")
        before = self._homes.get(home_id)
        picks = list(before.picks.values()) if before else []
        if before and before.link:
            before.link.close()
        self._join(home_id, _Joined(address, picks))
        self._keep(home_id)
        return self.view(home_id)

    def disconnect(self, home_id: str) -> BrokerView:
        """Hang up, and forget address and password."""
        self.planner.open(home_id)
        found = self._homes.pop(home_id, None)
        if found and found.link:
            found.link.close()
        self._file(home_id).unlink(missing_ok=True)
        self._logs_file(home_id).unlink(missing_ok=True)
        return self.view(home_id)

    def pick(self, home_id: str, topic: str, path: str, meaning: Meaning, kind: TargetKind, target: str) -> BrokerView:
        """Take a value from now on. Raises NotFound, InvalidValue."""
        found, home = self._of(home_id), self.planner.open(home_id).home
        if meaning not in OF[kind]:
            raise InvalidValue("meaning", meaning, f"there it can be {' or '.join(OF[kind])}")
        self._name(home_id, home, kind, target)
        if len(found.picks) >= MOST_PICKS:
            raise InvalidValue("topic", topic, f"{MOST_PICKS} values are the maximum; take one away first")
        if any((p.topic, p.path, p.kind, p.target) == (topic, path, kind, target) for p in found.picks.values()):
            raise InvalidValue("topic", topic, "this value is taken already")
        made = BrokerPick(id=secrets.token_hex(4), topic=topic, path=path, meaning=meaning, kind=kind, target=target)
        with self._lock:
            found.picks[made.id] = made
            found.logs[made.id] = MinuteLog(meaning)
        self._keep(home_id)
        return self.view(home_id)

    def drop(self, home_id: str, pick: str) -> BrokerView:
        """Take a value no longer. Raises NotFound."""
        found = self._of(home_id)
        self._pick_of(found, pick)
        with self._lock:
            del found.picks[pick], found.logs[pick]
        self._keep(home_id)
        return self.view(home_id)

    def view(self, home_id: str) -> BrokerView:
        """A home's broker, the numbers on it, and what is taken. Raises NotFound."""
        home = self.planner.open(home_id).home
        found = self._homes.get(home_id)
        if found is None or found.link is None:
            return BrokerView(allowed=self.allowed, state="off", said="", since_s=0.0, demo=self.demo)
        link, now, clock = found.link, self._now(), self.clock(home_id)
        state, said = link.state, link.said  # once: it may change meanwhile
        with self._lock:
            picks = [(p, found.logs[p.id]) for p in found.picks.values()]
            seen = [self._pick_view(home_id, home, p, x, clock, lost=state != "connected") for p, x in picks]
        a = found.address
        return BrokerView(
            allowed=self.allowed,
            state=state,
            said=said,
            since_s=max(0.0, now - link.since),
            host=a.host,
            port=a.port,
            tls=a.tls,
            user=a.user,
            has_password=bool(a.password),
            demo=self.demo,
            topics=[topic_view(h, now) for h in link.heard()],
            picks=seen,
            beyond=link.beyond,
        )

    def note(self, home_id: str, pick: str, edit_id: str, pair: Pair | None) -> EditResult:
        """Note what came in of a load or a circuit as a reading. Raises NotFound, InvalidValue."""
        found = self._of(home_id)
        p = self._pick_of(found, pick)
        with self._lock:
            came = found.logs[pick]
            hours, energy, low, high = came.hours(), came.energy_wh(), came.lowest, came.highest
        if p.kind not in ("load", "circuit", "home") or p.meaning not in ("W", "Wh"):
            raise InvalidValue("pick", p.topic, "only W and counters of loads, circuits and the house can be noted")
        if hours < LEAST_NOTE_H:
            raise InvalidValue(
                "pick", p.topic, f"only {60 * hours:.0f} minutes came in; wait for half an hour of values"
            )
        text = f"{energy / 1000:.3f} kWh in {hours:.2f} h"
        if p.meaning == "W" and low is not None and high is not None:
            text += f", low {max(0.0, low):.3g} W, high {high:.4g} W"
        target = Target(
            p.target if p.kind == "load" else None, p.target if p.kind == "circuit" else None, p.kind == "home"
        )
        return Measuring(self.planner).note(home_id, edit_id, text, target, pair)

    def log_csv(self, home_id: str, pick: str) -> str:
        """Minute means of a value as a table, as any log. Raises NotFound."""
        found, home = self._of(home_id), self.planner.open(home_id).home
        p = self._pick_of(found, pick)
        with self._lock:
            means = found.logs[pick].means()
        unit = "W" if p.meaning == "Wh" else p.meaning
        rows: Iterator[Sequence[datetime | float]] = (
            [datetime.fromtimestamp(at, home.site.tz), round(mean, 2)] for at, mean in means
        )
        return table(["time", f"{self._name(home_id, home, p.kind, p.target)} {unit}"], rows)

    def _join(self, home_id: str, made: _Joined) -> None:
        self._homes[home_id] = made
        made.link = BrokerLink(made.address, lambda heard: self._hear(home_id, made, heard), self._now)

    def _hear(self, home_id: str, made: _Joined, heard: Heard) -> None:
        with self._lock:
            mine = [p for p in made.picks.values() if (p.topic, p.path) == (heard.topic, heard.leaf.path)]
        if not mine:
            return
        at = self.clock(home_id)
        with self._lock:
            for p in (p for p in mine if p.id in made.logs):
                made.logs[p.id].take(heard.leaf.value, at, retained=heard.retained)
        for p in mine:
            if p.kind == "station_charge" and not heard.retained:
                self._keep_face(home_id, made, p, at)
            elif p.kind == "energy":
                self._keep_energy(home_id, made, p, at)
        if self._now() - made.logs_kept_at > KEEP_S:
            made.logs_kept_at = self._now()
            self._keep_logs(home_id, made)

    def _keep_energy(self, home_id: str, made: _Joined, p: BrokerPick, at: float) -> None:
        """Keep the quarter hours that ended since the last time, for Everyday."""
        until = at // QUARTER_S * QUARTER_S
        begun = made.energy_until.get(p.id, 0.0)
        if until <= begun:
            return
        with self._lock:
            means = [(m, mean) for m, mean in made.logs[p.id].means() if begun <= m < until]
        made.energy_until[p.id] = until
        if not means:
            return
        seconds, found = np.array(means, dtype=float).T
        whole = by_quarter_hours(seconds, np.maximum(found, 0.0), 60.0)
        with self.planner.database.writing() as session:
            keep_energy(session, home_id, p.target, whole)

    def _keep_face(self, home_id: str, made: _Joined, p: BrokerPick, at: float) -> None:
        """Keep what a station shows as a line of the outage, where it changed or a quarter of an hour went by."""
        with self._lock:
            charge = made.logs[p.id].last
            near = {
                x.kind: made.logs[x.id].last
                for x in made.picks.values()
                if x.target == p.target and not made.logs[x.id].silent(at)
            }
        before = made.kept.get(p.target)
        if charge is None or (before and before[0] == charge and at - before[1] < KEEP_S):
            return
        home = self.planner.open(home_id).home
        local = self.planner.now(home).replace(microsecond=0)
        row = FaceRow(
            home_id=home_id,
            source=p.target,
            at=local,
            charge=min(1.0, max(0.0, charge / 100)),
            out_w=near.get("station_out") or 0.0,
            in_w=near.get("station_in") or 0.0,
        )
        with self.planner.database.writing() as session:
            Repository(session).add_face(row)
        made.kept[p.target] = (charge, at)

    def _pick_view(
        self, home_id: str, home: Home, p: BrokerPick, came: MinuteLog, clock: float, *, lost: bool
    ) -> PickView:
        means = dict(came.means())
        first = int(clock // 60) - SHOWN_MINUTES + 1
        return PickView(
            **asdict(p),
            of=self._name(home_id, home, p.kind, p.target, must=False),
            now=None if lost or came.silent(clock) else came.last,
            hours=came.hours(),
            gap_hours=came.gap_hours(),
            energy_wh=came.energy_wh() if p.meaning in ("W", "Wh") else None,
            lowest=came.lowest,
            highest=came.highest,
            resets=came.resets,
            refused=came.refused,
            every_s=came.every_s,
            start_at_least=came.start_at_least,
            minutes=[means.get(60 * (first + i)) for i in range(SHOWN_MINUTES)],
        )

    def _name(self, home_id: str, home: Home, kind: TargetKind, target: str, *, must: bool = True) -> str:
        if kind == "home":
            return "the whole house"
        if kind == "energy":
            if target not in ENERGY_WORDS:
                raise InvalidValue("target", target, f"choose one of {', '.join(ENERGY_WORDS)}")
            return ENERGY_WORDS[target]
        if kind in ("load", "circuit"):
            there = (home.loads if kind == "load" else home.circuits).get(target)
            name = there.name if there else ""
        else:
            documents = self.planner.open(home_id)
            found = [p.sources[target] for p in documents.plans.values() if target in p.sources]
            known = documents.catalogue.stations.get(found[0].station) if found else None
            name = f"{STATION_WORDS[kind]} of {known.name}" if known else ""
        if not name and must:
            raise NotFound("target", target, "this home doesn't have that load, circuit or station")
        return name or "removed"

    def _of(self, home_id: str) -> _Joined:
        self.planner.open(home_id)
        if home_id not in self._homes:
            raise NotFound("broker", home_id, "this home isn't connected to a broker")
        return self._homes[home_id]

    def _pick_of(self, found: _Joined, pick: str) -> BrokerPick:
        if pick not in found.picks:
            raise NotFound("pick", pick, "that value isn't taken")
        return found.picks[pick]

    @property
    def _folder(self) -> Path:
        return self.planner.database.path.parent

    def _file(self, home_id: str) -> Path:
        return self._folder / f"broker-{home_id}.json"

    def _logs_file(self, home_id: str) -> Path:
        return self._folder / f"brokerlog-{home_id}.json"

    def _keep_logs(self, home_id: str, found: _Joined) -> None:
        """Keep what came in beside the database, so that a restart leaves a gap and no more."""
        with self._lock:
            logs = {k: x.state() for k, x in found.logs.items()}
        write_whole(self._logs_file(home_id), {"home": home_id, "logs": logs})

    def _take_up_logs(self, home_id: str, made: _Joined) -> None:
        path = self._logs_file(home_id)
        said = read_whole(path)
        if said is None:
            return
        try:
            kept = {k: from_state(x) for k, x in said["logs"].items()}
        except (KeyError, TypeError, ValueError, AttributeError):
            put_aside(path, "isn't a log of a broker")
            return
        made.logs.update({k: x for k, x in kept.items() if k in made.picks and x.meaning == made.picks[k].meaning})

    def _keep(self, home_id: str) -> None:
        """Keep address and picks beside the database, for this user only; no backup and no packed home has them."""
        found = self._homes[home_id]
        write_whole(
            self._file(home_id),
            {"home": home_id, "address": asdict(found.address), "picks": [asdict(p) for p in found.picks.values()]},
        )
