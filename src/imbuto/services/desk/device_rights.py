"""What a paired device may do: look, note, tick, or edit everything. Each may what those before it may."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Any, Literal

from imbuto.core.basics.errors import ImbutoError

Rights = Literal["look", "note", "tick", "edit"]
ORDER: tuple[Rights, ...] = ("look", "note", "tick", "edit")
SAYS: dict[Rights, str] = {
    "look": "may look, and change nothing",
    "note": "may begin and end an outage, and note gauges and entries",
    "tick": "may tick what was switched, done and tested too",
    "edit": "may change everything",
}
# What only works something out, though it is asked for with a body.
ASKS = re.compile(r"^/api/(homes/[^/]+/(drill|proposal|frontier)|devices.*|equipment/read|equipment/text|jobs/[^/]+)$")
NOTES = re.compile(r"^/api/homes/[^/]+/(live|live/notes|edits|readings)$")
# Where an edit may touch the home; each list with those before it.
PATHS: dict[Rights, tuple[str, ...]] = {
    "look": (),
    "note": (r"^/live$", r"^/live/(notes|opened)/[^/]+$", r"^/lived/[^/]+(/notes/[^/]+)?$", r"^/book/[^/]+$"),
    "tick": (
        r"^/live/(switched|taken)/[^/]+(/until)?$",
        r"^/alert/ticks/[^/]+$",
        r"^/trials/.+$",
        r"^/household/drills/[^/]+$",
    ),
    "edit": (r".*",),
}


class NotAllowed(ImbutoError):
    """A paired device asked for more than it may."""

    kind = "not_allowed"

    @property
    def sentence(self) -> str:
        return f"This device {self.rule}. What more it may is settled on the machine that runs Imbuto, under Phones."


def may_ask(rights: Rights, method: str, path: str) -> bool:
    """Whether a device may ask for that at all; what an edit may touch is seen when it is read."""
    if method in ("GET", "HEAD") or rights == "edit" or ASKS.match(path):
        return True
    return rights != "look" and bool(NOTES.match(path))


def check_ops(rights: Rights, ops: Iterable[dict[str, Any]]) -> None:
    """Raise NotAllowed where an edit touches what a device may not."""
    allowed = [p for r in ORDER[: ORDER.index(rights) + 1] for p in PATHS[r]]
    for op in ops:
        for key in ("path", "from"):
            at = op.get(key)
            if (
                at is not None
                and rights != "edit"
                and not (op["doc"] == "home" and any(re.match(p, at) for p in allowed))
            ):
                raise NotAllowed("device", rights, SAYS[rights])
