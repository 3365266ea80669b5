"""Pairing phones: invitations and the list on this machine only; the page a phone opens is the one thing that a device
not yet paired is given."""

from __future__ import annotations

from html import escape
from typing import Annotated
from urllib.parse import parse_qs

from fastapi import APIRouter, Depends, Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse

from imbuto.api.access_guard import COOKIE, PAIR_PATH
from imbuto.api.hosts import is_here
from imbuto.api.route_helpers import ERRORS
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.services.desk.device_rights import SAYS, Rights
from imbuto.services.desk.pairing import DeviceView, Invitation, Pairing

YEAR_S = 31_536_000
MOST_FORM = 4_000
PLAIN = (
    "<p>On this network the connection is not encrypted. Anyone who runs the network or listens on it could read "
    "what is shown and use "
    "this pairing. Pair at home, not on a guest network; a certificate of your own makes it private (“imbuto "
    "serve --lan --cert "
    "--key”). Without one this device can also not keep the pages for use without a connection.</p>"
)
router = APIRouter(prefix="/api", responses=ERRORS)
pages = APIRouter(include_in_schema=False)


def pairing_of(request: Request) -> Pairing:
    """The server's devices."""
    found: Pairing = request.app.state.pairing
    return found


def on_this_machine(request: Request) -> Pairing:
    """The same, for someone at the machine that runs Imbuto. Raises NotFound for a paired device: a phone that is lent
    out neither lets others in nor locks anyone out."""
    if not is_here(request.scope):
        raise NotFound("devices", None, "pair and unpair devices on the computer that runs Imbuto")
    return pairing_of(request)


Paired = Annotated[Pairing, Depends(on_this_machine)]


@router.get("/devices")
def devices(pairing: Paired) -> list[DeviceView]:
    """The paired devices."""
    return pairing.devices()


@router.post("/devices/invitations")
def invite(pairing: Paired, rights: Rights = "edit") -> Invitation:
    """A one-time code to pair a device that may do so much."""
    return pairing.invite(rights)


@router.put("/devices/{device_id}/rights/{rights}", status_code=204)
def allow(device_id: str, rights: Rights, pairing: Paired) -> None:
    """From now on a device may do so much."""
    pairing.allow(device_id, rights)


@router.delete("/devices/{device_id}", status_code=204)
def unpair(device_id: str, pairing: Paired) -> None:
    """Let a device in no more."""
    pairing.unpair(device_id)


@pages.get(PAIR_PATH)
def pair_page(request: Request, token: str = "") -> HTMLResponse:
    """What a phone opens: one button. Opening it uses nothing up, so that a preview does not."""
    rights = pairing_of(request).offered(token)
    if rights is None:
        return _page(
            "<h1>This code was used or has expired</h1><p>Show a new one on the machine that runs Imbuto.</p>", 403
        )
    return _page(
        "<h1>Pair this device with Imbuto?</h1>"
        f'<form method="post" action="{PAIR_PATH}"><input type="hidden" name="token" value="{escape(token)}">'
        '<label>What to call it<br><input name="name" maxlength="60" value="Phone"></label>'
        "<button>Pair this device</button></form>"
        f"<p>It can then read every home kept there, and <strong>{SAYS[rights]}</strong>, until it is unpaired "
        f"on that machine. "
        "There it can be given more, or less.</p>" + ("" if request.url.scheme == "https" else PLAIN),
        200,
    )


@pages.post(PAIR_PATH)
async def pair(request: Request) -> Response:
    """Pair the device that asks, and send it to the homes."""
    body = bytearray()
    async for piece in request.stream():
        body += piece[: MOST_FORM + 1]
        if len(body) > MOST_FORM:
            return _page("<h1>This isn't a pairing code</h1><p>Open the address that the code shows.</p>", 413)
    try:
        said = {k: v[0] for k, v in parse_qs(bytes(body).decode("utf-8", "replace"), max_num_fields=8).items()}
    except ValueError:
        said = {}
    try:
        session = pairing_of(request).pair(said.get("token", ""), said.get("name", ""))
    except InvalidValue:
        return _page(
            "<h1>This code was used or has expired</h1><p>Show a new one on the machine that runs Imbuto.</p>", 403
        )
    answer = RedirectResponse("/", 303)
    answer.set_cookie(
        COOKIE, session, max_age=YEAR_S, httponly=True, samesite="strict", secure=request.url.scheme == "https"
    )
    return answer


def _page(body: str, status: int) -> HTMLResponse:
    style = (
        "body{font:18px/1.4 sans-serif;max-width:26em;margin:2em auto;padding:0 1em;background:#f4f1ea;color:#1d2b33}"
        "input{font:inherit;width:100%;padding:.5em;margin:.3em 0 1em;box-sizing:border-box}"
        "button{font:inherit;width:100%;min-height:3em;border:0;border-radius:8px;background:#123f47;color:#f4f1ea}"
    )
    head = f'<meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Imbuto</title><style>{style}</style>'
    return HTMLResponse(f"<!doctype html><html lang=en>{head}{body}</html>", status, {"cache-control": "no-store"})
