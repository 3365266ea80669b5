"""Who may talk to the server: this machine, and paired devices where it answers on the local network; no foreign host or
origin; and what a page may load."""

from __future__ import annotations

import ipaddress
from collections.abc import Callable
from http.cookies import CookieError, SimpleCookie

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import JSONResponse, PlainTextResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from imbuto.services.desk.rights import SAYS, NotAllowed, Rights, may_ask

POLICY = "; ".join(
    (
        "default-src 'self'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",  # the chart and dialog libraries set style attributes
        "img-src 'self' data:",
        "font-src 'self'",
        "connect-src 'self'",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)
LOOPBACK = frozenset({"localhost", "127.0.0.1", "[::1]"})


COOKIE = "imbuto_session"
PAIR_PATH = "/pair"


def is_here(scope: Scope) -> bool:
    """Whether a request comes from the machine the server runs on."""
    client = scope.get("client")
    if client is None:
        return True
    try:
        return ipaddress.ip_address(client[0]).is_loopback
    except ValueError:  # a test's client has no address
        return True


def session_of(headers: Headers) -> str:
    """What the session cookie holds; empty without one."""
    try:
        found = SimpleCookie(headers.get("cookie", "")).get(COOKIE)
    except CookieError:
        return ""
    return found.value if found else ""


def host_name(value: str) -> str:
    """The host of a Host header or origin, without scheme and port."""
    value = value.partition("://")[2] or value
    return value[: value.rindex("]") + 1] if value.startswith("[") and "]" in value else value.partition(":")[0]


class Guard:
    """ASGI middleware: 403 for a foreign Host or Origin, 401 for a device that is not paired; security headers on every
    answer; 403 for a device that asks for more than it may. rights_of: what the device may do that a session belongs to."""

    def __init__(
        self, app: ASGIApp, hosts: frozenset[str] = LOOPBACK, rights_of: Callable[[str], Rights | None] = lambda _: None
    ) -> None:
        self.app = app
        self.hosts = hosts
        self.rights_of = rights_of

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Check, then pass on."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        host, origin = headers.get("host", ""), headers.get("origin")
        refused = None
        if host_name(host).lower() not in self.hosts:
            refused = ("Host", host)
        elif origin is not None and origin.partition("://")[2].lower() != host.lower():
            refused = ("Origin", origin)
        if refused:
            sentence = f"{refused[0]}: “{refused[1][:60]}” is not this server; open it by its own address."
            body = {
                "field": refused[0],
                "value": refused[1][:60],
                "rule": "this server's own address",
                "sentence": sentence,
            }
            await JSONResponse(body, 403)(scope, receive, send)
            return

        here = is_here(scope)
        rights = "edit" if here else self.rights_of(session_of(headers))
        scope["rights"] = rights
        if rights is None and scope["path"] != PAIR_PATH:
            rule = "pair it first, with a code shown on the machine that runs Imbuto"
            sentence = f"This device is not paired; {rule}."
            unpaired = {"kind": "unpaired", "field": "device", "value": None, "rule": rule, "sentence": sentence}
            page = "text/html" in headers.get("accept", "")
            answer: Response = PlainTextResponse(sentence, 401) if page else JSONResponse(unpaired, 401)
            await answer(scope, receive, send)
            return

        if rights is not None and not may_ask(rights, scope["method"], scope["path"]):
            refusal = NotAllowed("device", rights, SAYS[rights])
            refused_ = {
                "kind": refusal.kind,
                "field": "device",
                "value": rights,
                "rule": refusal.rule,
                "sentence": refusal.sentence,
            }
            await JSONResponse(refused_, 403)(scope, receive, send)
            return

        async def send_safely(message: Message) -> None:
            if message["type"] == "http.response.start":
                out = MutableHeaders(scope=message)
                out.setdefault("content-security-policy", POLICY)
                out["x-content-type-options"] = "nosniff"
                out["referrer-policy"] = "same-origin"  # none at all would send a form without its origin
            await send(message)

        await self.app(scope, receive, send_safely)
