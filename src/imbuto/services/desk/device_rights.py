"""What a paired device may do: look, measure, note, tick, or edit everything. Each may what those before it may."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any, Literal

from imbuto.core.basics.errors import ImbutoError

Rights = Literal["look", "measure", "note", "tick", "edit"]
ORDER: tuple[Rights, ...] = ("look", "measure", "note", "tick", "edit")
SAYS: dict[Rights, str] = {
    "look": "may look but change nothing",
    "measure": "may photograph labels and note readings",
    "note": "may start and end an outage, note readings and entries, and photograph labels",
    "tick": "may tick steps, tasks and tests, run an outage, note readings, and photograph labels",
    "edit": "may change everything",
}
# What only works something out, though it is asked for with a body.
ASKS = re.compile(
    r"^/api/(homes/[^/]+/(drill|proposal|frontier|shared-storm|catalogue/(read|text))|devices.*|jobs/[^/]+)$"
)
MEASURES = re.compile(r"^/api/homes/[^/]+/(readings|photograph)$")
NOTES = re.compile(r"^/api/homes/[^/]+/(live|live/notes|edits)$")
# Which operations on the home an edit may have; each list with those before it. ``add`` means something new: what is
# there already is not written over.
OPS: dict[Rights, tuple[tuple[str, str], ...]] = {
    "look": (),
    "measure": (),
    "note": (("add", r"/live/(notes|opened)/[^/]+"), ("add", r"/lived/[^/]+/notes/[^/]+"), ("add", r"/book/[^/]+")),
    "tick": (
        ("add", r"/live/(switched|taken)/[^/]+"),
        ("replace", r"/live/taken/[^/]+/until"),
        ("remove", r"/live/taken/[^/]+"),
        ("add", r"/alert/ticks/[^/]+"),
        ("remove", r"/alert/ticks/[^/]+"),
        ("add", r"/trials/[^/]+"),
        ("add", r"/trials/[^/]+/rows/[^/]+"),
        ("remove", r"/trials/[^/]+/rows/[^/]+"),
        ("replace", r"/trials/[^/]+/(ended|stopped|kept)"),
        ("add", r"/household/drills/[^/]+"),
    ),
    "edit": (),
}
ENDS = re.compile(r"/lived/[^/]+")
SURE = re.compile(r"(/live/notes/[^/~]+)/sure")


class NotAllowed(ImbutoError):
    """A paired device asked for more than it may."""

    kind = "not_allowed"

    @property
    def sentence(self) -> str:
        return f"This device {self.rule}. You can allow more on the computer that runs Imbuto, under Connect phones."


def may_ask(rights: Rights, method: str, path: str) -> bool:
    """Whether a device may ask for that at all; what an edit may touch is seen when it is read."""
    if method in ("GET", "HEAD") or rights == "edit" or ASKS.match(path):
        return True
    if MEASURES.match(path):
        return rights != "look"
    return ORDER.index(rights) >= ORDER.index("note") and bool(NOTES.match(path))


def check_ops(rights: Rights, ops: Sequence[dict[str, Any]], home: dict[str, Any]) -> None:
    """Raise NotAllowed where an edit does what a device may not. home: the document as it is before the edit."""
    if rights == "edit":
        return
    if ORDER.index(rights) >= ORDER.index("note") and (_ends_the_outage(ops, home) or _confirms_a_line(ops, home)):
        return
    allowed = [x for r in ORDER[: ORDER.index(rights) + 1] for x in OPS[r]]
    for op in ops:
        at = str(op.get("path", ""))
        fits = any(op["op"] == kind and re.fullmatch(path, at) for kind, path in allowed)
        if op["doc"] != "home" or not fits or (op["op"] == "add" and _there(home, at)):
            raise NotAllowed("device", rights, SAYS[rights])


def _confirms_a_line(ops: Sequence[dict[str, Any]], home: dict[str, Any]) -> bool:
    """Whether an edit says that one line of the outage is right, and nothing else."""
    if len(ops) != 1 or ops[0]["doc"] != "home" or (ops[0]["op"], ops[0].get("value")) != ("add", True):
        return False
    at = SURE.fullmatch(str(ops[0].get("path", "")))
    return at is not None and _there(home, at[1])


def _ends_the_outage(ops: Sequence[dict[str, Any]], home: dict[str, Any]) -> bool:
    """Whether an edit ends the outage and nothing else: it is kept as it was lived, with the time of its end."""
    live = home.get("live")
    if live is None or len(ops) != 2 or any(op["doc"] != "home" for op in ops):
        return False
    kept, gone = ops
    at = str(kept.get("path", ""))
    return (
        (gone["op"], gone.get("path"), gone.get("value", gone)) == ("replace", "/live", None)
        and kept["op"] == "add"
        and ENDS.fullmatch(at) is not None
        and not _there(home, at)
        and isinstance(kept.get("value"), dict)
        and {**kept["value"], "ended": None} == {**live, "ended": None}
    )


def _there(home: dict[str, Any], path: str) -> bool:
    """Whether something stands at a JSON pointer."""
    here: Any = home
    for part in path.split("/")[1:]:
        key = part.replace("~1", "/").replace("~0", "~")
        if not isinstance(here, dict) or key not in here:
            return False
        here = here[key]
    return True
