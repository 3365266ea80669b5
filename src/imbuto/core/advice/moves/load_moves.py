"""What takes turns, is unplugged, left off, switched off at night or shares a strip."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import combinations

from imbuto.core.advice.moves.move import (
    Move,
    harm_of,
    loads_by_feed,
    with_feed,
    without_feed,
)
from imbuto.core.basics.clock import Window
from imbuto.core.basics.measures import hour_text
from imbuto.core.home.loads import mean_w
from imbuto.core.plan.plan import Feed
from imbuto.core.plan.system import Part, feed_name

TRIED_SHARE = 0.5  # what takes turns gets half the time; planning default
MOST_UNPLUGGED = 30  # loads that are tried unplugged, the heaviest
STRIP_VA = 200.0  # what runs at no more may share a power strip; planning default
STRIP_KINDS = ("electronics", "corrected", "light")
LARGE_TASK_W = 500.0
DAYTIME = Window(start_h=6, end_h=23)  # of what is switched off at night; planning default
NIGHT_OFF = ("communications", "comfort", "convenience")  # purposes that nobody needs asleep


def power_strip_moves(part: Part) -> Iterator[Move]:
    """Small things of one room on one power strip, where the station has fewer outlets than there are plugs. Nothing
    that heats, no motor, and nothing that health depends on shares one."""
    if part.equipment.traits.wired:
        return
    rooms: dict[str, list[Feed]] = {}
    for feed in part.plan.feeds.values():
        items = [f for f in part.fed if f.feed.id == feed.id]
        load = part.home.loads.get(feed.load or "")
        if load is None or feed.port != "ac" or load.purpose == "life" or load.kind not in STRIP_KINDS:
            continue
        if load.kind == "light" and not load.room:  # its lamps may be anywhere
            continue
        if sum(i.load.run_va * i.load.count for i in items) <= STRIP_VA:
            rooms.setdefault(load.room.casefold(), []).append(feed)
    for feeds in rooms.values():
        place = min(f.place for f in feeds)
        moved = [replace(f, place=place) for f in feeds if f.place != place]
        if moved:
            names = " and ".join(feed_name(part.home, f) for f in feeds)
            at = f"strip:{feeds[0].id}"
            yield Move(at, at, f"one power strip for {names}", with_feed(part.plan, *moved), 0.03)


def rest_moves(part: Part) -> Iterator[Move]:
    """What keeps on takes turns, where the user says turns will do; what takes turns rests altogether."""
    for feed_id, items in loads_by_feed(part).items():
        feed = part.plan.feeds[feed_id]
        if (
            not items
            or not all(i.load.turns_ok or i.rides_along for i in items)
            or not any(i.load.turns_ok for i in items)
        ):
            continue
        name = feed_name(part.home, feed)
        if feed.stance == "keep_on":
            turned = replace(feed, stance="turns", windows=(), share=TRIED_SHARE)
            yield Move(
                f"turns:{feed_id}",
                f"rest:{feed_id}",
                f"{name} in turns, half the time",
                with_feed(part.plan, turned),
                1,
            )
        else:
            yield Move(f"rest:{feed_id}", f"rest:{feed_id}", f"leave off {name}", without_feed(part.plan, feed_id), 2)


def nights_off_moves(part: Part) -> Iterator[Move]:
    """Switch off at night what is on around the clock and nobody uses asleep: entertainment, the internet."""
    for feed_id, items in loads_by_feed(part).items():
        feed = part.plan.feeds[feed_id]
        off_at_night = [i for i in items if i.load.use.kind == "always" and i.load.purpose in NIGHT_OFF]
        if not items or len(off_at_night) < len(items) or feed.stance != "keep_on":
            continue
        turned = replace(feed, stance="turns", windows=(DAYTIME,))
        label = f"{feed_name(part.home, feed)} off from {hour_text(DAYTIME.end_h)} to {hour_text(DAYTIME.start_h)}"
        yield Move(f"night:{feed_id}", f"rest:{feed_id}", label, with_feed(part.plan, turned), 0.7)


def unplug_moves(part: Part, *, riders_only: bool) -> Iterator[Move]:
    may = [i for i in part.fed if i.load.purpose != "life" and (i.rides_along or not riders_only)]
    # Each is judged on its own; what draws least frees least, so past so many only the heaviest are tried.
    heaviest = set(sorted((i.load.run_va + i.load.start_extra_va for i in may), reverse=True)[:MOST_UNPLUGGED])
    for item in may:
        if item.load.run_va + item.load.start_extra_va not in heaviest:
            continue
        choices = part.plan.load_choices | {item.load.id: "unplugged"}
        harm = 0.5 if item.rides_along else harm_of(item)
        label = f"unplug {item.load.name}"
        yield Move(
            f"unplug:{item.load.id}", f"unplug:{item.load.id}", label, replace(part.plan, load_choices=choices), harm
        )


def not_together_moves(part: Part) -> Iterator[Move]:
    """Two large short tasks that need not run at once; the heaviest few are tried."""
    large = [i for i in part.fed if i.load.use.kind in ("tasks", "daily") and i.load.run_w >= LARGE_TASK_W]
    large = sorted(large, key=lambda i: (-i.load.run_va, i.load.id))[:5]
    group_of = {m: group for group in part.plan.not_together for m in group}
    for a, b in combinations(large, 2):
        old = [group_of[x.load.id] for x in (a, b) if x.load.id in group_of]
        if len(old) == 2:
            continue  # one group already, or two that stay apart
        group = (*(old[0] if old else (a.load.id,)), b.load.id if not old or a.load.id in old[0] else a.load.id)
        groups = (*(g for g in part.plan.not_together if g not in old), group)
        names = [part.home.loads[x].name for x in group]
        label = f"{names[0]} never with {names[1]}" if len(group) == 2 else f"{', '.join(names)}: one at a time"
        yield Move(f"apart:{a.load.id}:{b.load.id}", "apart", label, replace(part.plan, not_together=groups), 0.4)


def leave_off_moves(part: Part) -> Iterator[Move]:
    for feed_id, items in loads_by_feed(part).items():
        if any(i.load.purpose == "life" for i in items):
            continue
        harm = max((harm_of(i) for i in items), default=0.0) + 0.5
        harm += sum(mean_w(i.load) for i in items) * 1e-6
        label = f"leave {feed_name(part.home, part.plan.feeds[feed_id])} off"
        yield Move(f"off:{feed_id}", f"off:{feed_id}", label, without_feed(part.plan, feed_id), harm)
