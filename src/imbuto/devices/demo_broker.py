"""The demo's broker on this machine, and the simulated instruments that publish to it as real ones would."""

from __future__ import annotations

import asyncio
import json
import logging
import socket
from collections.abc import Callable
from threading import Event, Thread

EVERY_S = 0.1  # a day per minute is 2.4 minutes in this time
START_S = 10.0
Message = tuple[str, str]


def free_port(wanted: int = 1883) -> int:
    """The usual port where it is free, else any."""
    for port in (wanted, 0):
        with socket.socket() as s:
            try:
                s.bind(("127.0.0.1", port))
            except OSError:
                continue
            return int(s.getsockname()[1])
    raise OSError("no port is free")


class DemoBroker:
    """A broker on the loopback address, in a thread of its own. messages: what the simulated instruments say now."""

    def __init__(self, messages: Callable[[], list[Message]], port: int | None = None) -> None:
        self.port = port or free_port()
        self._messages = messages
        self._ready = Event()
        self._loop = asyncio.new_event_loop()
        self._ended: asyncio.Event | None = None
        self._thread = Thread(target=self._run, name="demo-broker", daemon=True)
        self._thread.start()
        if not self._ready.wait(START_S):
            raise OSError("the demo's broker did not start")

    @property
    def address(self) -> str:
        """As one would type it."""
        return f"127.0.0.1:{self.port}"

    def close(self) -> None:
        """Stop it."""
        if self._ended is not None and not self._loop.is_closed():
            self._loop.call_soon_threadsafe(self._ended.set)
        self._thread.join(timeout=START_S)

    def _run(self) -> None:
        asyncio.set_event_loop(self._loop)
        try:
            self._loop.run_until_complete(self._serve())
        finally:
            self._loop.close()

    async def _serve(self) -> None:
        from amqtt.broker import Broker  # slow to load, and wanted in the demo only

        for name in ("amqtt", "transitions"):
            logging.getLogger(name).setLevel(logging.ERROR)
        broker = Broker(
            {
                "listeners": {"default": {"type": "tcp", "bind": self.address}},
                "plugins": {"amqtt.plugins.authentication.AnonymousAuthPlugin": {"allow_anonymous": True}},
            }
        )
        self._ended = asyncio.Event()
        await broker.start()
        publishing = asyncio.create_task(self._publish())
        self._ready.set()
        await self._ended.wait()
        publishing.cancel()
        await asyncio.gather(publishing, return_exceptions=True)
        await broker.shutdown()
        for task in asyncio.all_tasks() - {asyncio.current_task()}:
            task.cancel()
        await asyncio.sleep(0.1)  # its connections end

    async def _publish(self) -> None:
        import aiomqtt

        while True:
            try:
                async with aiomqtt.Client(
                    "127.0.0.1", self.port, protocol=aiomqtt.ProtocolVersion.V311, logger=logging.getLogger("imbuto")
                ) as client:
                    while True:
                        for topic, payload in await asyncio.to_thread(self._messages):
                            await client.publish(topic, payload, qos=0)
                        await asyncio.sleep(EVERY_S)
            except aiomqtt.MqttError:
                await asyncio.sleep(EVERY_S)


def plug_message(load: str, watts: float, volts: float, amps: float, energy_wh: float) -> Message:
    """What a plug says: one message of JSON, its energy a counter in Wh."""
    said = {"power": round(watts, 1), "voltage": round(volts, 1), "current": round(amps, 2)}
    return f"plug/{load}", json.dumps({**said, "energy": {"total_wh": round(energy_wh, 1)}})
