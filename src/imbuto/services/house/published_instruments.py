"""The simulated instruments of the first demo home, said to the demo's broker as real ones would say it."""

from __future__ import annotations

import json
import time

from imbuto.core.basics.errors import ImbutoError
from imbuto.devices.demo_broker import DemoBroker, Message, plug_message
from imbuto.services.desk.demo import DEMO_HOMES
from imbuto.services.house.broker import Brokers
from imbuto.services.house.instruments import Instruments
from imbuto.services.outages.watched_station import Watch


class PublishedInstruments:
    """Plug-in meter, panel monitor and station of a demo home, on a broker of their own."""

    def __init__(self, instruments: Instruments, watch: Watch, brokers: Brokers) -> None:
        self._instruments, self._watch, self._brokers = instruments, watch, brokers
        self._home = DEMO_HOMES[0]
        self._broker: DemoBroker | None = None
        brokers.clock = self.seconds

    def begin(self) -> None:
        """Start the broker."""
        self._broker = DemoBroker(self.messages)
        self._brokers.demo = self._broker.address

    def close(self) -> None:
        """Stop it."""
        if self._broker:
            self._broker.close()

    def seconds(self, home_id: str) -> float:
        """The clock by which what comes in counts: the simulated one where the instruments are, else the machine's."""
        try:
            return self._instruments.seconds(home_id) if home_id == self._home else time.time()
        except ImbutoError:
            return time.time()

    def messages(self) -> list[Message]:
        """What every instrument says now."""
        try:
            view = self._instruments.read(self._home)
        except ImbutoError:
            return []  # the demo home was deleted
        said: list[Message] = [("panel/main/power", f"{view.main_w:.1f}")]
        circuits = {b.circuit: {"name": b.name, "power": round(b.w, 1), "on": b.on} for b in view.breakers}
        said.append(("panel/circuits", json.dumps(circuits)))
        if view.meter is not None:
            m = view.meter
            said.append(plug_message(m.load, m.now_w, m.volts, m.amps, 1000 * m.energy_kwh))
        shown = self._watch.view(self._home)
        if shown.on and not shown.lost:
            said += [
                (f"station/{shown.source}/soc", f"{100 * shown.charge:.0f} %"),
                (f"station/{shown.source}/output_power", f"{shown.out_w:.0f}"),
                (f"station/{shown.source}/input_power", f"{shown.in_w:.0f}"),
            ]
        return said
