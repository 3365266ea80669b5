"""What the routes of every place share. Plain ``def`` runs in a thread: the work is computation."""

from __future__ import annotations

import re
from typing import Annotated, Any

from fastapi import Depends, Request

from imbuto.api.hosts import is_here
from imbuto.api.request_bodies import ErrorBody, PairBody
from imbuto.core.basics.errors import UnreadableFile
from imbuto.services.desk.background_jobs import Jobs
from imbuto.services.desk.device_rights import NotAllowed
from imbuto.services.desk.planner import Planner
from imbuto.services.house.importing import Importing

# Every one of them has the one shape: refused files and devices, nothing there, stale, not accepted, too large, not
# ready.
CODES = (400, 401, 403, 404, 405, 409, 413, 422, 500, 503, 507)
ERRORS: dict[int | str, dict[str, Any]] = {code: {"model": ErrorBody} for code in CODES}
MOST_BYTES = 40_000_000  # of any file sent; each kind has its own ceiling


def planner_of(request: Request) -> Planner:
    """The server's planner."""
    planner: Planner = request.app.state.planner
    return planner


P = Annotated[Planner, Depends(planner_of)]


def importing_of(request: Request) -> Importing:
    """The server's meter data."""
    jobs: Jobs = request.app.state.jobs
    return Importing(planner_of(request), jobs)


Meters = Annotated[Importing, Depends(importing_of)]


async def raw_body(request: Request) -> bytes:
    """The body as sent, read to its end; what is past the larger ceiling is dropped and only told by its length."""
    data = bytearray()
    total = 0
    async for chunk in request.stream():
        total += len(chunk)
        if total <= MOST_BYTES:
            data += chunk
    if total > MOST_BYTES:
        raise UnreadableFile("The file", total, f"it is {total / 1e6:.0f} MB, more than Imbuto can import at once")
    return bytes(data)


FILE_BODY = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}}


def at_the_machine(request: Request) -> None:
    """Raise NotAllowed for a paired device: what a phone that is lent out must not be able to do."""
    if not is_here(request.scope):
        raise NotAllowed("device", None, "may not back up or delete. Do that on the computer that runs Imbuto")


def safe_stem(home_id: str) -> str:
    """A home's id as the beginning of a file's name."""
    return re.sub(r"[^A-Za-z0-9-]+", "-", home_id) or "home"


def pair_of(judge: PairBody | None) -> tuple[str, str] | None:
    """The pair to judge, where one is named."""
    return (judge.plan, judge.outage) if judge else None
