"""A made-up power station: a battery with a truth of its own, on a clock that can run fast, in a process of its own.

It stands in for a real one that tells what it shows over the local network. Its capacity, own draw and load differ
from what is on the label and in the plan, so that watching it finds something. Run as a module it serves one station
on this machine, to whoever has the key in its file, until nobody has asked it for anything for a while."""

from __future__ import annotations

import json
import math
import os
import random
import secrets
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from multiprocessing import AuthenticationError
from multiprocessing.connection import Client, Connection, Listener
from pathlib import Path
from threading import Timer
from typing import Any

from imbuto.devices.protocols import SimulatedHousehold, StationFace, StationInstrument
from imbuto.devices.simulated import FastClock, seed_of

STEP_S = 60.0
NOISE = 0.04  # of its W, from minute to minute
FORGOTTEN_S = 600.0  # without a question, and it ends itself
WAIT_S = 10.0  # for a station's process to begin
CAPACITY, IDLE, SCALE = 0.03, 0.15, 0.10  # one sigma of the truth around label and plan


@dataclass(frozen=True, slots=True)
class Label:
    """What its maker says.

    wh: from full to empty
    efficiency: AC out over DC
    idle_w: own draw
    charge_w: AC
    floor: where it stops
    """

    wh: float
    efficiency: float
    idle_w: float
    charge_w: float
    charge_efficiency: float
    floor: float


@dataclass(frozen=True, slots=True)
class StationTruth:
    """What is really so. scale: of the planned load."""

    wh: float
    idle_w: float
    scale: float


def station_truth(label: Label, *words: object) -> StationTruth:
    """Drawn once by its name."""
    rng = random.Random(seed_of("station", *words))
    return StationTruth(
        label.wh * math.exp(rng.gauss(0, CAPACITY)),
        label.idle_w * math.exp(rng.gauss(0, IDLE)),
        math.exp(rng.gauss(0, SCALE)),
    )


class SimulatedStation(StationInstrument):
    """A battery stepped by the minute up to its clock whenever it is asked. wh: what it holds now; asked: when it was
    read last, and what it held then."""

    def __init__(
        self, label: Label, truth: StationTruth, clock: FastClock, house: SimulatedHousehold, charge: float
    ) -> None:
        self.label, self.truth, self.clock, self.house = label, truth, clock, house
        self.wh = charge * truth.wh
        self.at = clock.read()
        self.asked = (self.at, self.wh)
        self.out_w = self.in_w = 0.0

    def live_in(self, house: SimulatedHousehold, charge: float | None = None) -> None:
        """From now on something else hangs on it; charge: with an outage that has just begun, it was full so far
        then, 0 to 1; None as it is. What has happened since it was read last happens anew: on a fast clock that is
        half an hour in which somebody may have switched something."""
        self.at, self.wh = self.asked
        self.house = house
        if charge is not None:
            self.wh, self.at = charge * self.truth.wh, house.base.timestamp()
        self._step(0.0)

    @property
    def speed(self) -> float:
        """Of its clock."""
        return self.clock.speed

    def end(self) -> None:
        """It is put away; nothing is left of it."""

    def set_speed(self, speed: float) -> None:
        """Its clock runs so many times as fast."""
        self._advance()
        self.clock.set_speed(speed)

    def read(self) -> StationFace:
        """What it shows."""
        self._advance()
        self.asked = (self.at, self.wh)
        shown = math.floor(100 * self.wh / self.truth.wh + 0.5) / 100
        return StationFace(datetime.fromtimestamp(self.at, UTC), shown, round(self.out_w), round(self.in_w))

    def _advance(self) -> None:
        now = self.clock.read()
        while self.at < now:
            step = min(STEP_S, now - self.at)
            self._step(step / 3600)
            self.at += step

    def _step(self, hours: float) -> None:
        """On by some hours of its present load; with 0 only what it shows is brought up."""
        i = max(int((self.at - self.house.base.timestamp()) / 3600 / self.house.step_h), 0)
        rng = random.Random(seed_of("w", int(self.at // STEP_S)))
        load = self.truth.scale * self.house.load_w[min(i, len(self.house.load_w) - 1)] * max(rng.gauss(1, NOISE), 0.0)
        came = self.house.came_w[min(i, len(self.house.came_w) - 1)]
        if self.house.grid:
            charging = self.label.charge_w if self.wh < self.truth.wh else 0.0
            self.out_w, self.in_w = load, load + charging
            self.wh = min(self.wh + (charging * self.label.charge_efficiency + came) * hours, self.truth.wh)
            return
        dark = self.wh <= self.label.floor * self.truth.wh
        self.out_w, self.in_w = 0.0 if dark else load, came
        draw = 0.0 if dark else load / self.label.efficiency + self.truth.idle_w
        self.wh = min(max(self.wh + (came - draw) * hours, 0.0), self.truth.wh)


class StationOver(StationInstrument):
    """A station in another process on this machine, by its file. Each question is a connection of its own. speed: of
    its clock when it was last read."""

    def __init__(self, file: Path) -> None:
        self.file = file
        self.speed = 1.0

    def read(self) -> StationFace:
        """What it shows. Raises OSError where it does not answer."""
        said = self._ask({"do": "read"})
        self.speed = said["speed"]
        return StationFace(datetime.fromisoformat(said["at"]), said["charge"], said["out_w"], said["in_w"])

    def live_in(self, house: SimulatedHousehold, charge: float | None = None) -> None:
        """What hangs on it from now on. Raises OSError."""
        self._ask({"do": "live_in", "house": asdict(house) | {"base": house.base.isoformat()}, "charge": charge})

    def set_speed(self, speed: float) -> None:
        """Its clock runs so many times as fast. Raises OSError."""
        self._ask({"do": "speed", "speed": speed})

    def end(self) -> None:
        """It is put away; nothing where it is already."""
        try:
            self._ask({"do": "end"})
        except OSError:
            self.file.unlink(missing_ok=True)

    def _ask(self, question: dict[str, Any]) -> dict[str, Any]:
        try:
            known = json.loads(self.file.read_text())
            with Client(("127.0.0.1", known["port"]), authkey=bytes.fromhex(known["key"])) as line:
                line.send_bytes(json.dumps(question).encode())
                answer: dict[str, Any] = json.loads(line.recv_bytes())
        except (ValueError, KeyError, EOFError, AuthenticationError) as error:
            raise OSError(f"the station at {self.file.name} isn't responding") from error
        return answer


def begin_station(
    file: Path, label: Label, truth: StationTruth, house: SimulatedHousehold, charge: float, base: datetime
) -> StationOver:
    """Start a station's process, and wait until it answers. base: what its clock says first, UTC. Raises OSError."""
    said = {
        "label": asdict(label),
        "truth": asdict(truth),
        "house": asdict(house) | {"base": house.base.isoformat()},
        "charge": charge,
        "base": base.timestamp(),
    }
    file.unlink(missing_ok=True)
    command = [sys.executable, "-m", "imbuto.devices.station", str(file)]
    # In a session of its own, and nobody's child: it outlives a server that is killed, as a real one would.
    process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, start_new_session=True)
    process.communicate(json.dumps(said).encode(), timeout=WAIT_S)
    found, until = StationOver(file), time.monotonic() + WAIT_S
    while time.monotonic() < until and process.returncode == 0:
        try:
            found.read()
        except OSError:
            time.sleep(0.05)
        else:
            return found
    raise OSError("the simulated station didn't start")


def house_of(said: dict[str, Any]) -> SimulatedHousehold:
    """As it is sent."""
    return SimulatedHousehold(
        datetime.fromisoformat(said["base"]), said["step_h"], tuple(said["load_w"]), tuple(said["came_w"]), said["grid"]
    )


def serve(file: Path, said: dict[str, Any], ticks: Callable[[], float] = time.monotonic) -> None:
    """Answer until told to end, or forgotten."""
    station = SimulatedStation(
        Label(**said["label"]),
        StationTruth(**said["truth"]),
        FastClock(ticks, said["base"]),
        house_of(said["house"]),
        said["charge"],
    )
    key = secrets.token_bytes(16)
    with Listener(("127.0.0.1", 0), authkey=key) as listener:
        with open(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as out:
            json.dump({"port": listener.address[1], "key": key.hex()}, out)
        going = True
        while going:
            alarm = Timer(FORGOTTEN_S, os._exit, (0,))
            alarm.daemon = True
            alarm.start()
            try:
                with listener.accept() as line:
                    going = _answer(station, line, file)
            except (AuthenticationError, OSError, EOFError, ValueError, KeyError, TypeError) as error:
                print(f"Not understood: {error}", file=sys.stderr)  # somebody else's knock; go on
            alarm.cancel()


def _answer(station: SimulatedStation, line: Connection, file: Path) -> bool:
    asked = json.loads(line.recv_bytes())
    if asked["do"] == "end":
        file.unlink(missing_ok=True)  # before it answers: whoever is answered may begin another one under the same name
    if asked["do"] == "live_in":
        station.live_in(house_of(asked["house"]), asked["charge"])
    elif asked["do"] == "speed":
        station.set_speed(float(asked["speed"]))
    face = station.read()
    line.send_bytes(json.dumps(asdict(face) | {"at": face.at.isoformat(), "speed": station.speed}).encode())
    return bool(asked["do"] != "end")


if __name__ == "__main__":
    told = json.load(sys.stdin)
    if os.fork() == 0:
        serve(Path(sys.argv[1]), told)
