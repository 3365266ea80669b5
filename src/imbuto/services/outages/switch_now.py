"""The switch as it is in an outage, place by place, as hands have noted it; and what gets warm meanwhile."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from math import isinf

from imbuto.core.basics.clock import later
from imbuto.core.basics.measures import clock_of
from imbuto.core.home.live_outage import GaugeNote, Live, hour_of, time_at
from imbuto.core.home.loads import Load
from imbuto.core.outages.next_acts import WarmingBox
from imbuto.core.outages.outage_changes import ends_at, off_times
from imbuto.core.plan.load_conditions import room_c
from imbuto.core.plan.system import PoweredLoad, feed_name
from imbuto.core.run.food_warming import box_of, may_off_h
from imbuto.services.outages.store_history import StoreHistory

A_MINUTE_OPEN = 10.0  # minutes of a shut door that one of an open one costs; planning default
NEAR_H = 0.5  # a gauge line so long before or after a place was switched tells what it draws; planning default
RIDER_W, RIDER_SHARE = 60.0, 0.5  # beyond so much more than it may draw, something else hangs on it; planning defaults


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceLive:
    """A place of the switch, or a cord.

    on: over to the source, as was noted last, else as in the plan
    noted: by whom and when, empty for never
    steps_w: what the gauge showed more with it on, None where it was not read before and after
    most_w: all of it running
    says: what a step apart from that may mean
    """

    feed: str
    name: str
    device: str
    place: int
    by_hand: bool
    on: bool
    noted: str
    planned_w: float
    most_w: float
    steps_w: float | None
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ColdLive:
    """A cold box without power. off_since.

    opened: minutes its door was
    limit_at: when it is past its limit by then
    """

    load: str
    name: str
    off_since: datetime
    opened: float
    limit_at: datetime | None


def places_of(each: Sequence[StoreHistory], live: Live) -> list[PlaceLive]:
    """Every place that is fed, in the order of the switch."""
    found = []
    for k in each:
        by_feed: dict[str, list[PoweredLoad]] = {}
        for item in k.verdict.part.fed:
            by_feed.setdefault(item.feed.id, []).append(item)
        found += [_place(k, live, items) for items in by_feed.values()]
    return sorted(found, key=lambda p: (p.device, p.place, p.name))


def _place(k: StoreHistory, live: Live, items: list[PoweredLoad]) -> PlaceLive:
    feed, part = items[0].feed, k.verdict.part
    own = sorted((s for s in live.switched.values() if s.feed == feed.id), key=lambda s: s.at)
    last = own[-1] if own else None
    at = min(max(int(hour_of(live, k.now) / k.step_h), 0), len(k.load_w) - 1)
    most = sum(i.load.count * i.load.run_w for i in items)
    steps = _step_w(k.lines, last.at, on=last.on) if last is not None else None
    says = ""
    if steps is not None and steps > most + max(RIDER_W, RIDER_SHARE * most):
        says = "more than the plan has on this circuit, so something else is on it or its label is wrong"
    elif steps is not None and steps < 0:
        says = "the opposite direction, so something else changed at the same time or its label is wrong"
    dead = k.output.state == "off"
    if dead:
        says = f"no power while {k.station.name} is off"
    life = [i.load.name for i in items if i.load.purpose == "life"]
    if life and last is not None and not last.on:
        says = f"{', '.join(life)}: a life depends on it. Check now that it runs on its own battery or a second supply"
    equipment = part.equipment_of(feed)
    return PlaceLive(
        feed=feed.id,
        name=feed_name(part.home, feed),
        device=equipment.name,
        place=feed.place,
        by_hand=not equipment.automatic,
        on=last is None or last.on,
        noted=f"{last.who or 'someone'}, {clock_of(last.at.hour, last.at.minute)}" if last else "",
        planned_w=0.0 if dead else float(sum(i.watts(k.run.steps)[at] for i in items)),
        most_w=most,
        steps_w=steps,
        says=says,
    )


def _step_w(lines: Sequence[GaugeNote], at: datetime, *, on: bool) -> float | None:
    """What the gauge showed more with a place on than off, by the lines just before and just after it was switched."""
    read = [n for n in lines if n.out_w is not None and abs((n.at - at).total_seconds()) <= NEAR_H * 3600]
    before = next((n for n in reversed(read) if n.at <= at), None)
    after = next((n for n in read if n.at > at or (n.at == at and n is not before)), None)
    if before is None or after is None or before.out_w is None or after.out_w is None:
        return None
    return (after.out_w - before.out_w) * (1 if on else -1)


def cold_of(each: Sequence[StoreHistory], live: Live, now: datetime) -> list[ColdLive]:
    """Every cold box without power just now, doors shut and what they were opened counted."""
    if not each:
        return []
    run = each[0].run
    fed = {f.load.id: (f.feed.id, k) for k in each for f in k.verdict.part.fed}
    found = []
    for load in run.part.home.loads.values():
        if load.purpose != "food" or load.kind != "compressor":
            continue
        since = _off_since(load, fed.get(load.id), live, now)
        if since is None:
            continue
        opened = sum(o.minutes for o in live.opened.values() if o.load == load.id and o.at >= since)
        keeps = may_off_h(box_of(load), room_c(load, run.outage))
        limit = (
            None if isinf(keeps) else later(since, keeps - A_MINUTE_OPEN * opened / 60, run.part.home.site.time_zone)
        )
        limit = limit.replace(second=0, microsecond=0) if limit is not None else None
        found.append(ColdLive(load=load.id, name=load.name, off_since=since, opened=opened, limit_at=limit))
    return sorted(found, key=lambda c: (c.limit_at or datetime.max, c.name))


def _off_since(load: Load, powered: tuple[str, StoreHistory] | None, live: Live, now: datetime) -> datetime | None:
    """Since when a load has no power; None where it has. A station that is off counts from when it was last seen on,
    since food that may have warmed has warmed."""
    if powered is None:
        return live.began
    feed, store = powered
    here = hour_of(live, now)
    starts = [a for a, b in off_times(live, feed) if a <= here < b]
    if store.output.state == "off":
        starts.append(store.output.since_h)
    starts += [
        hour_of(live, t.at)
        for t in live.taken.values()
        if t.load == load.id and t.kind == "rest" and t.at <= now and here < ends_at(live, t)
    ]
    return time_at(live, min(starts)) if starts else None


def warming_boxes(cold: Sequence[ColdLive]) -> list[WarmingBox]:
    """What of it is to be done by the clock."""
    return [WarmingBox(load=c.load, name=c.name, limit_at=c.limit_at) for c in cold if c.limit_at is not None]
