"""Work to get ready with, done once nobody has asked for anything for a while."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from time import monotonic

from starlette.types import ASGIApp, Receive, Scope, Send

QUIET_S = 4.0


class Idle:
    """Knows when the last request came. Its middleware notes each one."""

    def __init__(self) -> None:
        self.last = monotonic()

    async def then(self, work: Callable[[], None], quiet_s: float = QUIET_S) -> None:
        """Do some work in a thread, after so many seconds without a request."""
        while (wait := self.last + quiet_s - monotonic()) > 0:
            await asyncio.sleep(wait)
        await asyncio.to_thread(work)


class IdleMiddleware:
    """ASGI middleware that notes every request."""

    def __init__(self, app: ASGIApp, idle: Idle) -> None:
        self.app = app
        self.idle = idle

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Note, and pass on."""
        self.idle.last = monotonic()
        await self.app(scope, receive, send)
