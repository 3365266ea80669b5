"""Until the arithmetic is compiled, which happens once after an installation, a request that computes is told so and
asks again; it never hangs."""

from __future__ import annotations

import asyncio
import re
from collections.abc import Callable
from time import monotonic

from starlette.types import ASGIApp, Receive, Scope, Send

from imbuto.api.request_bodies import ErrorBody, refusal_response

COMPUTES = re.compile(r"^GET /api/homes/|^(POST|PUT|PATCH|DELETE) /api/(homes|imports)")
SENTENCE = "Imbuto is preparing its calculations. This takes less than a minute and happens once."


PATIENCE_S = 5.0  # loading what is compiled takes a second or two, and is waited for; compiling is not


class WarmUp:
    """Whether everything is compiled. Ready unless someone has begun to get ready."""

    def __init__(self) -> None:
        self.done = True

    async def after(self, work: Callable[[], None]) -> None:
        """Do the work in a thread; not ready until it is done."""
        self.done = False
        try:
            await asyncio.to_thread(work)
        finally:
            self.done = True


class WarmUpMiddleware:
    """ASGI middleware: 503 with a sentence and Retry-After for what computes, until all is ready."""

    def __init__(self, app: ASGIApp, ready: WarmUp) -> None:
        self.app = app
        self.ready = ready

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass on, or say that it is not ready."""
        computes = scope["type"] == "http" and COMPUTES.match(f"{scope['method']} {scope['path']}")
        until = monotonic() + PATIENCE_S
        while computes and not self.ready.done and monotonic() < until:
            await asyncio.sleep(0.02)
        if self.ready.done or not computes:
            await self.app(scope, receive, send)
            return
        body = ErrorBody(kind="getting_ready", field="", value=None, rule="", sentence=SENTENCE)
        await refusal_response(503, body, {"Retry-After": "1"})(scope, receive, send)
