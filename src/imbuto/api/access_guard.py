"""Who may talk to the server: this machine, and paired devices where it answers on the local network; no foreign host
or origin; and what a page may load."""

from __future__ import annotations

from collections.abc import Callable
from http.cookies import CookieError, SimpleCookie

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from imbuto.api.hosts import HEADERS, LOOPBACK, POLICY, host_name, is_here
from imbuto.api.request_bodies import ErrorBody, refusal_response
from imbuto.services.desk.device_rights import SAYS, NotAllowed, Rights, may_ask

COOKIE = "imbuto_session"
PAIR_PATH = "/pair"


def session_of(headers: Headers) -> str:
    """What the session cookie holds; empty without one."""
    try:
        found = SimpleCookie(headers.get("cookie", "")).get(COOKIE)
    except CookieError:
        return ""
    return found.value if found else ""


class Guard:
    """ASGI middleware: 403 for a foreign Host or Origin, 401 for a device that is not paired, 403 for one that asks
    for more than it may; security headers on every answer, these among them. rights_of: what the device may do that a
    session belongs to."""

    def __init__(
        self, app: ASGIApp, hosts: frozenset[str] = LOOPBACK, rights_of: Callable[[str], Rights | None] = lambda _: None
    ) -> None:
        self.app = app
        self.hosts = hosts
        self.rights_of = rights_of

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Check, then pass on."""
        if scope["type"] == "lifespan":
            await self.app(scope, receive, send)
            return

        async def send_safely(message: Message) -> None:
            if message["type"] == "http.response.start":
                out = MutableHeaders(scope=message)
                out.setdefault("content-security-policy", POLICY)
                for key in ("x-content-type-options", "referrer-policy"):
                    out[key] = HEADERS[key]
            await send(message)

        # Nothing here speaks anything but HTTP: what asks for another protocol is let go.
        let_go = self._refused(scope) if scope["type"] == "http" else PlainTextResponse("", 404)
        await (let_go or self.app)(scope, receive, send_safely)

    def _refused(self, scope: Scope) -> Response | None:
        """The answer to what is not passed on. Notes what may be done in the scope."""
        headers = Headers(scope=scope)
        hosts, origins = headers.getlist("host"), headers.getlist("origin")
        host = hosts[0] if len(hosts) == 1 else ""
        if host_name(host) not in self.hosts:
            return _foreign("Host", ", ".join(hosts))
        if any(origin.lower() != f"{scope['scheme']}://{host}".lower() for origin in origins):
            return _foreign("Origin", ", ".join(origins))
        rights = "edit" if is_here(scope) else self.rights_of(session_of(headers))
        scope["rights"] = rights
        if rights is None:
            if scope["path"] == PAIR_PATH:
                return None
            rule = "pair it first, with a code from the computer that runs Imbuto"
            sentence = f"This device isn't paired. {rule[:1].upper()}{rule[1:]}."
            if "text/html" in headers.get("accept", ""):
                return PlainTextResponse(sentence, 401)
            return refusal_response(
                401, ErrorBody(kind="unpaired", field="device", value=None, rule=rule, sentence=sentence)
            )
        if not may_ask(rights, scope["method"], scope["path"]):
            found = NotAllowed("device", rights, SAYS[rights])
            return refusal_response(
                403, ErrorBody(kind=found.kind, field="device", value=rights, rule=found.rule, sentence=found.sentence)
            )
        return None


def _foreign(field: str, value: str) -> Response:
    sentence = f"{field}: “{value[:60]}” isn't this server. Open Imbuto at its own address."
    return refusal_response(
        403,
        ErrorBody(kind="foreign", field=field, value=value[:60], rule="this server's own address", sentence=sentence),
    )
