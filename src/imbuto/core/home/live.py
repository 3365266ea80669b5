"""An outage as it is lived through: when it began, what was promised, and what the gauges said."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.units import Fraction, Hours, Ident, Text, Watts


@dataclass(frozen=True, slots=True, kw_only=True)
class Noted:
    """One line noted. source: whose gauge; at: local wall-clock time; charge: 0 to 1; out_w, in_w: on its display, None where
    they were not read; said: as it was typed."""

    id: Ident
    source: Ident
    at: datetime
    charge: Fraction
    out_w: Watts | None = None
    in_w: Watts | None = None
    said: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Promise:
    """What was expected when it began, frozen. hours: to the first dark, None for still on at the end of what was looked at; low_h:
    9 in 10 exceed, likewise; version: of the program that said so."""

    hours: Hours | None = None
    low_h: Hours | None = None
    version: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Live:
    """An outage. began, ended: local wall-clock times, ended None while it lasts; plan: id of the one in use, and revision: of the
    home when it began; back_by: when the grid is said to return; charges: of each source at the start; promises: by source; notes:
    by id, in their order."""

    began: datetime
    plan: Ident
    revision: int = 0
    back_by: datetime | None = None
    charges: dict[str, Fraction] = field(default_factory=dict)
    promises: dict[str, Promise] = field(default_factory=dict)
    notes: dict[str, Noted] = field(default_factory=dict)
    ended: datetime | None = None


def check_live(live: Live) -> None:
    """Raise InvalidValue where its times carry a zone or run backwards."""
    if any(t is not None and t.tzinfo is not None for t in (live.began, live.back_by, live.ended)):
        raise InvalidValue("outage, times", live.began.isoformat(), "give the local time, without a zone")
    if live.ended is not None and live.ended < live.began:
        raise InvalidValue("outage, ended", live.ended.isoformat(), "it ends after it began")
    for key, note in live.notes.items():
        if key != note.id:
            raise InvalidValue(f"notes/{key}/id", note.id, f"it stands under “{key}”, and the two must agree")
        if note.at < live.began:
            raise InvalidValue("reading, time", note.at.isoformat(), "it was out from later on")
