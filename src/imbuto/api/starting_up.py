"""Answer from the first second: the interface's files at once, and the rest once the program is loaded."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from contextlib import AsyncExitStack
from pathlib import Path
from typing import Any

from starlette.datastructures import Headers
from starlette.responses import FileResponse, JSONResponse, PlainTextResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from imbuto.api.hosts import HEADERS, LOOPBACK, host_name, is_here

SENTENCE = "Imbuto is starting. This takes a few seconds."


class StartingUp:
    """ASGI application in front of one that takes seconds to load.

    Until that one is there, this machine gets the interface's files, and 503 with a sentence for everything else;
    the interface asks again by itself. Other machines wait, since who may look is not known yet.

    load: makes the application, in a thread
    interface: folder of the built front end, None where it was not built
    ended: called where loading failed; ``problem`` has why
    """

    def __init__(self, load: Callable[[], Any], interface: Path | None, ended: Callable[[], None]) -> None:
        self._load, self._interface, self._ended = load, interface, ended
        self._whole: ASGIApp | None = None
        self._open = AsyncExitStack()
        self._loading: asyncio.Task[None] | None = None
        self.problem: Exception | None = None

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass on, or answer as far as that is possible already."""
        if scope["type"] == "lifespan":
            await self._lifespan(receive, send)
        elif self._whole is not None:
            await self._whole(scope, receive, send)
        elif scope["type"] == "http":
            await self._early(scope)(scope, receive, send)
        else:
            await PlainTextResponse("", 404)(scope, receive, send)

    async def _lifespan(self, receive: Receive, send: Send) -> None:
        await receive()
        self._loading = asyncio.create_task(self._get_ready())
        await send({"type": "lifespan.startup.complete"})
        await receive()
        await self._loading
        await self._open.aclose()
        await send({"type": "lifespan.shutdown.complete"})

    async def _get_ready(self) -> None:
        try:
            whole = await asyncio.to_thread(self._load)
            await self._open.enter_async_context(whole.router.lifespan_context(whole))
        except Exception as error:
            self.problem = error
            self._ended()
        else:
            self._whole = whole

    def _early(self, scope: Scope) -> Response:
        hosts = Headers(scope=scope).getlist("host")
        if len(hosts) != 1 or host_name(hosts[0]) not in LOOPBACK or not is_here(scope):
            return PlainTextResponse(SENTENCE, 503, {"Retry-After": "2"} | HEADERS)
        path = str(scope["path"])
        if self._interface is None or path.startswith("/api") or scope["method"] not in ("GET", "HEAD"):
            body = {"kind": "getting_ready", "field": "", "value": None, "rule": "", "sentence": SENTENCE}
            return JSONResponse(body, 503, {"Retry-After": "1"} | HEADERS)
        file = (self._interface / path.lstrip("/")).resolve()
        if not file.is_relative_to(self._interface.resolve()) or not file.is_file():
            file = self._interface / "index.html"  # the interface has addresses of its own
        return FileResponse(file, headers=HEADERS)
