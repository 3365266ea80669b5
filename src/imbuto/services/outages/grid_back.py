"""The grid is back: what fills each store again, by when, and what a second outage before then would meet."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from imbuto.core.advice.verdict import judge_one
from imbuto.core.basics.clock import later
from imbuto.core.basics.units import hours_text, number_text
from imbuto.core.home.live_outage import Live
from imbuto.core.outages.wall_charging import how_to_fill, refill_hours, wall_charging
from imbuto.core.plan.system import Part
from imbuto.services.desk.judging import Documents
from imbuto.services.outages.store_history import LOOK_H, case_of
from imbuto.store.models import FaceRow

CONTINUOUS = 0.8  # of a breaker, for what runs three hours and more; the usual rule
FILLING_W = 30.0  # taken in, that says that it charges; planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class Refill:
    """A store that is to be full again.

    charge: 0 to 1, read at that time
    watts: AC it charges with, 0 for unlisted
    full_at: on them, None where it is full or that is unlisted
    amps: what that asks of its circuit, in words, and
    fits: that it may
    confirmed: how it is known that it charges, empty while it is not
    now_h: hours it would last from this charge, in words
    """

    source: str
    name: str
    charge: float
    read_at: datetime
    watts: float
    full_at: datetime | None
    amps: str
    fits: bool
    how: str
    confirmed: str
    now_h: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BackView:
    """After an outage. lived: its id."""

    lived: str
    ended: datetime
    stores: list[Refill]


def back_view(
    documents: Documents, outage_id: str, lived: str, now: datetime, shown: Mapping[str, Sequence[FaceRow]]
) -> BackView:
    """How far an outage's stores are from full.

    lived: its id
    shown: by watched sources since it began, oldest first
    """
    live = documents.home.lived[lived]
    assert live.ended is not None
    stores = [
        _refill(documents, outage_id, live, key, now, shown.get(key, [])) for key in documents.plans[live.plan].sources
    ]
    return BackView(lived=lived, ended=live.ended, stores=stores)


def _refill(
    documents: Documents, outage_id: str, live: Live, source: str, now: datetime, shown: Sequence[FaceRow]
) -> Refill:
    # What is passed on to the house is no charging.
    read = [
        (n.at, n.charge, n.in_w and n.in_w - (n.out_w or 0.0))
        for n in live.notes.values()
        if n.source == source and n.charge is not None
    ]
    read += [(f.at, f.charge, f.in_w - f.out_w) for f in shown]
    read.sort(key=lambda r: r[0])
    assert live.ended is not None
    zone = documents.home.site.time_zone
    at, charge, in_w = read[-1] if read else (live.began, live.charges.get(source, 1.0), None)
    after = [r for r in read if r[0] >= live.ended]
    case = replace(case_of(documents, outage_id, live), start=now, hours=LOOK_H, goal_hours=LOOK_H, start_charge=charge)
    v = judge_one(documents.home, documents.plans[live.plan], case, documents.catalogue, source)
    part = v.part
    wall = wall_charging(part)
    hours, watts = refill_hours(part, charge), wall.watts
    amps, fits = _amps(part, watts)
    lasts = "" if v.run is None else "more than three days" if v.run.hours is None else hours_text(v.run.hours)
    return Refill(
        source=source,
        name=part.station.name,
        charge=charge,
        read_at=at,
        watts=watts,
        full_at=later(at, hours, zone).replace(second=0, microsecond=0) if hours else None,
        amps=amps,
        fits=fits,
        how=" ".join(t for t in (how_to_fill(part), wall.says) if t),
        confirmed=_confirmed(after, in_w),
        now_h=lasts,
    )


def _confirmed(after: Sequence[tuple[datetime, float, float | None]], in_w: float | None) -> str:
    """How it is known that it charges: it takes in, or its gauge has risen."""
    if after and in_w is not None and in_w >= FILLING_W:
        return f"{number_text(in_w)} W into it"
    if len(after) > 1 and after[-1][1] > after[0][1]:
        return f"from {100 * after[0][1]:.0f} to {100 * after[-1][1]:.0f}% since"
    return ""


def _amps(part: Part, watts: float) -> tuple[str, bool]:
    circuit, station = part.charge_circuit, part.station
    if circuit is None or watts <= 0:
        return "", True
    asked, bears = watts / station.leg_volts, CONTINUOUS * circuit.breaker_a
    said = f"{number_text(asked)} A of {circuit.name}'s {number_text(circuit.breaker_a)} A breaker"
    if asked <= bears:
        return said, True
    return f"{said}: set it to {number_text(bears * station.leg_volts // 10 * 10)} W at most", False
