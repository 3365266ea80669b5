"""The demo's broker on this machine, and the simulated instruments that publish to it as real ones would."""

from __future__ import annotations

import asyncio
import contextlib
import json
import logging
import os
import socket
import subprocess
import sys
import time
from collections.abc import Callable
from threading import Event, Thread

EVERY_S = 0.1  # a day per minute is 2.4 minutes in this time
START_S = 20.0
AGAIN_S = 5.0
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


class BrokerProcess:
    """A broker on the loopback address, in a process of its own that ends with this one. Raises OSError."""

    def __init__(self, port: int) -> None:
        command = [sys.executable, "-m", "imbuto.devices.demo_broker", str(port)]
        # The pipe is what tells it that this process is gone, however it went.
        self._process = subprocess.Popen(command, stdin=subprocess.PIPE, start_new_session=True)
        until = time.monotonic() + START_S
        while not answers(port):
            if self._process.poll() is not None or time.monotonic() > until:
                self.close()
                raise OSError("the demo's broker did not start")
            time.sleep(0.05)

    def wait(self) -> None:
        """Until it ended."""
        self._process.wait()

    def close(self) -> None:
        """Kill it, as a power cut would."""
        self._process.kill()
        self._process.communicate()


class Publishing:
    """What instruments say, published again and again to a broker on the loopback address, from a thread of its own."""

    def __init__(self, messages: Callable[[], list[Message]], port: int) -> None:
        self._messages, self._port = messages, port
        self._loop = asyncio.new_event_loop()
        self._task: asyncio.Task[None] | None = None
        self._thread = Thread(target=self._run, name="demo-instruments", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Stop it."""
        if not self._loop.is_closed():
            self._loop.call_soon_threadsafe(self._cancel)
        self._thread.join(timeout=START_S)

    def _cancel(self) -> None:
        if self._task is not None:
            self._task.cancel()

    def _run(self) -> None:
        asyncio.set_event_loop(self._loop)
        try:
            self._task = self._loop.create_task(self._publish())
            self._loop.run_until_complete(self._task)
        except asyncio.CancelledError:
            pass
        finally:
            self._loop.close()

    async def _publish(self) -> None:
        import aiomqtt  # wanted only where a broker is

        while True:
            try:
                async with aiomqtt.Client(
                    "127.0.0.1", self._port, protocol=aiomqtt.ProtocolVersion.V311, logger=logging.getLogger("imbuto")
                ) as client:
                    while True:
                        for topic, payload in await asyncio.to_thread(self._messages):
                            await client.publish(topic, payload, qos=0)
                        await asyncio.sleep(EVERY_S)
            except aiomqtt.MqttError:
                await asyncio.sleep(EVERY_S)


class DemoBroker:
    """The demo's broker, and what its instruments publish to it. One that was killed is started again, as a service is.

    messages: what they say now. Raises OSError.
    """

    def __init__(self, messages: Callable[[], list[Message]], port: int | None = None) -> None:
        self.port = port or free_port()
        self._broker = BrokerProcess(self.port)
        self._publishing = Publishing(messages, self.port)
        self._closing = Event()
        Thread(target=self._start_again, name="demo-broker", daemon=True).start()

    @property
    def address(self) -> str:
        """As one would type it."""
        return f"127.0.0.1:{self.port}"

    def close(self) -> None:
        """Stop both."""
        self._closing.set()
        self._publishing.close()
        self._broker.close()

    def _start_again(self) -> None:
        while True:
            self._broker.wait()
            if self._closing.wait(AGAIN_S):
                return
            with contextlib.suppress(OSError):  # the port may be taken by now: then it is tried again
                self._broker = BrokerProcess(self.port)
            if self._closing.is_set():
                self._broker.close()
                return


def answers(port: int) -> bool:
    """Whether anything takes a connection there."""
    try:
        socket.create_connection(("127.0.0.1", port), timeout=1).close()
    except OSError:
        return False
    return True


def plug_message(load: str, watts: float, volts: float, amps: float, energy_wh: float) -> Message:
    """What a plug says: one message of JSON, its energy a counter in Wh."""
    said = {"power": round(watts, 1), "voltage": round(volts, 1), "current": round(amps, 2)}
    return f"plug/{load}", json.dumps({**said, "energy": {"total_wh": round(energy_wh, 1)}})


def serve(port: int) -> None:
    """Be the broker until standard input closes."""
    from amqtt.broker import Broker  # slow to load, and wanted in the demo only

    for name in ("amqtt", "transitions"):
        logging.getLogger(name).setLevel(logging.CRITICAL)

    def leave_with_parent() -> None:
        sys.stdin.buffer.read()
        os._exit(0)

    async def run() -> None:
        settings = {
            "listeners": {"default": {"type": "tcp", "bind": f"127.0.0.1:{port}"}},
            "plugins": {"amqtt.plugins.authentication.AnonymousAuthPlugin": {"allow_anonymous": True}},
        }
        await Broker(settings).start()
        await asyncio.Event().wait()

    Thread(target=leave_with_parent, daemon=True).start()
    asyncio.run(run())


if __name__ == "__main__":
    serve(int(sys.argv[1]))
