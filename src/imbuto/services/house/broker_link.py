"""The link to a home's MQTT broker: connected only on somebody's word, on this machine or the local network, and only
to listen."""

from __future__ import annotations

import asyncio
import ipaddress
import logging
import socket
import ssl
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from threading import Lock, Thread
from typing import Literal

from imbuto.core.basics.errors import InvalidValue
from imbuto.formats.mqtt_payload import Leaf, leaves

MOST_TOPICS = 1_000  # numbers that are listed; more are counted
RETRY_S = (2.0, 5.0, 15.0, 30.0)
CONNECT_S = 10.0
LinkState = Literal["off", "connecting", "connected", "lost"]
log = logging.getLogger("imbuto")


@dataclass(frozen=True, slots=True, kw_only=True)
class BrokerAddress:
    """Where a broker is, and who one is there.

    tls: the connection is encrypted, its certificate checked
    ca: by which, in PEM; empty for the system's authorities
    """

    host: str
    port: int = 1883
    tls: bool = False
    user: str = ""
    password: str = ""
    ca: str = ""


@dataclass(frozen=True, slots=True)
class Heard:
    """A number that came last under a topic. at: s since 1970; retained: the broker had kept it."""

    topic: str
    leaf: Leaf
    at: float
    retained: bool


def check_local(host: str, port: int) -> None:
    """Raise InvalidValue unless every address of a host is this machine or on a private network."""
    try:
        found = {str(x[4][0]) for x in socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)}
    except (OSError, UnicodeError):
        raise InvalidValue("broker", host, "no computer on this network has that name") from None
    for text in found:
        address = ipaddress.ip_address(text.partition("%")[0])
        if not (address.is_loopback or (address.is_private and not address.is_unspecified)):
            raise InvalidValue(
                "broker",
                host,
                "it isn't on your own network. Imbuto connects only to this computer and to private addresses",
            )


class BrokerLink:
    """One link, in a thread of its own. Safe to share between threads.

    hear: called with each number that comes in
    """

    def __init__(
        self, address: BrokerAddress, hear: Callable[[Heard], None], now: Callable[[], float] = time.time
    ) -> None:
        self.address, self._hear, self._now = address, hear, now
        self.state: LinkState = "connecting"
        self.said = ""
        self.since = now()
        self.beyond = 0
        self._seen: OrderedDict[tuple[str, str], Heard] = OrderedDict()
        self._lock = Lock()
        self._loop = asyncio.new_event_loop()
        self._task: asyncio.Task[None] | None = None
        self._thread = Thread(target=self._run, name="broker", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Hang up."""
        if not self._loop.is_closed():
            self._loop.call_soon_threadsafe(self._cancel)
        self._thread.join(timeout=CONNECT_S + 2)
        self._turn("off", "")

    def heard(self) -> list[Heard]:
        """The last number under every topic and path, in the order they were first heard."""
        with self._lock:
            return list(self._seen.values())

    def _cancel(self) -> None:
        if self._task is not None:
            self._task.cancel()

    def _turn(self, state: LinkState, said: str) -> None:
        if state != self.state:
            self.since = self._now()
        self.state, self.said = state, said

    def _run(self) -> None:
        asyncio.set_event_loop(self._loop)
        try:
            self._task = self._loop.create_task(self._listen_for_good())
            self._loop.run_until_complete(self._task)
        except asyncio.CancelledError:
            pass
        finally:
            self._loop.close()

    async def _listen_for_good(self) -> None:
        tries = 0
        while True:
            try:
                await self._listen()
                tries = 0
            except asyncio.CancelledError:
                raise
            except (OSError, InvalidValue, ValueError) as error:
                self._turn("lost", str(getattr(error, "sentence", "")) or f"The broker can’t be reached: {error}.")
            except Exception as error:
                if self.state == "connected":
                    tries = 0
                self._turn("lost", _why(error))
            await asyncio.sleep(RETRY_S[min(tries, len(RETRY_S) - 1)])
            tries += 1

    async def _listen(self) -> None:
        import aiomqtt  # wanted only where somebody has a broker

        a = self.address
        check_local(a.host, a.port)  # a name may point elsewhere by now
        async with aiomqtt.Client(
            a.host,
            a.port,
            username=a.user or None,
            password=a.password or None,
            protocol=aiomqtt.ProtocolVersion.V311,
            timeout=CONNECT_S,
            tls_context=ssl.create_default_context(cadata=a.ca or None) if a.tls else None,
            max_queued_incoming_messages=10_000,
            logger=log,
        ) as client:
            await client.subscribe("#", qos=0)
            self._turn("connected", "")
            async for message in client.messages:
                payload = message.payload
                if isinstance(payload, bytes | bytearray):
                    self._take(str(message.topic), bytes(payload), retained=bool(message.retain))

    def _take(self, topic: str, payload: bytes, *, retained: bool) -> None:
        at = self._now()
        for leaf in leaves(payload):
            key = (topic, leaf.path)
            said = Heard(topic, leaf, at, retained)
            with self._lock:
                if key not in self._seen and len(self._seen) >= MOST_TOPICS:
                    self.beyond += 1
                    continue
                self._seen[key] = said
            try:
                self._hear(said)
            except Exception:
                log.exception("a message from the broker could not be used")


def check_ca(pem: str) -> None:
    """Raise InvalidValue unless it is empty or holds a certificate."""
    if pem:
        try:
            ssl.create_default_context(cadata=pem)
        except (ssl.SSLError, ValueError):
            raise InvalidValue(
                "certificate", f"{pem[:40]}…", "it isn’t one. Paste all of it, from BEGIN to END CERTIFICATE"
            ) from None


def _why(error: Exception) -> str:
    words = str(error)
    if "certificate" in words.lower():
        return (
            "The broker’s certificate isn’t trusted, so Imbuto sent nothing. Paste the certificate that signed it, and "
            "connect by the name that it was made for."
        )
    if (
        "authori" in words.lower()
        or "bad user" in words.lower()
        or "code:5" in words.lower()
        or "code:4" in words.lower()
    ):
        return "The broker refused the user name or the password. Check both."
    # What the library says of the rest is for its own makers.
    log.info("the broker was lost: %s", words or type(error).__name__)
    return "The connection to the broker ended. Imbuto tries again by itself."
