"""What is to be done next in an outage, by the clock."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from imbuto.core.basics.measures import least_text
from imbuto.core.basics.units import clock_text
from imbuto.core.limits.rules.generator_limits import FAR_M
from imbuto.core.outages.output_state import OutputState
from imbuto.core.run.food_warming import safe_text

LIFE_AHEAD = timedelta(hours=2)  # before the earliest dark, to go elsewhere in; planning default
DARK_AHEAD = timedelta(minutes=30)  # before the earliest dark, to end work and light a lamp in; planning default
WAKE_AHEAD = timedelta(minutes=20)  # before a generator is needed, to wake up and set it out in; planning default
READ_AFTER = timedelta(hours=3)  # at most, from one reading to the next; planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class StoreOutlook:
    """One store on its way.

    read_at: last gauge, or the beginning
    low_at: when it is low
    dark_at, early_at: dark, as expected and 9 in 10 later, None where not in sight
    life: what a life depends on that hangs on it, by name
    careful_at: 9 in 10 later with an unlikely lower line taken to be right, for what a life depends on
    output: whether its output is on, off, or to be looked at
    off_from, off_by: the last time it was seen on, and the first at which it was not
    says: what the state of its output means
    how_to_charge: what a hand does to charge it
    engine: a generator that is to charge it, empty for none, at start_at
    runs: those that were settled, from when until when
    """

    source: str
    name: str
    read_at: datetime
    low_at: datetime | None
    dark_at: datetime | None
    early_at: datetime | None
    life: tuple[str, ...] = ()
    careful_at: datetime | None = None
    output: OutputState = "on"
    off_from: datetime | None = None
    off_by: datetime | None = None
    says: str = ""
    how_to_charge: str = ""
    engine: str = ""
    start_at: datetime | None = None
    runs: tuple[tuple[datetime, datetime], ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class WarmingBox:
    """A cold box without power. limit_at: when it is past its limit, doors shut and what they were opened counted."""

    load: str
    name: str
    limit_at: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class NextAct:
    """One thing to do.

    at: local time
    late: that is past
    """

    id: str
    at: datetime
    title: str
    why: str
    late: bool = False


def acts(
    stores: Sequence[StoreOutlook], back_by: datetime | None, now: datetime, warming: Sequence[WarmingBox] = ()
) -> list[NextAct]:
    """By the clock, what is late first. What a life depends on goes by the 9-in-10, never by what is merely
    expected."""
    found = [*(a for s in stores for a in [*_of(s, now), *_of_engine(s, now)]), *map(_of_food, warming)]
    if back_by is not None:
        found.append(
            NextAct(
                id="back",
                at=back_by,
                title="Someone reported that the grid is back",
                why="Watch a lamp on a circuit that isn't on backup. "
                "Switch back by the card, ten minutes after the grid is steady.",
            )
        )
    return sorted(
        (NextAct(id=a.id, at=a.at, title=a.title, why=a.why, late=a.at < now) for a in found),
        # What a life depends on leads once it is late, whatever else is.
        key=lambda a: (not (a.late and a.id.startswith("life-")), a.at, a.id),
    )


def _of_engine(store: StoreOutlook, now: datetime) -> Iterator[NextAct]:
    for begin, end in store.runs:
        if begin > now:
            yield _start(store, begin, f"Planned to run until {clock_text(end)}.")
        if end > now:
            yield NextAct(
                id=f"stop-{store.source}",
                at=end,
                title=f"{store.engine} off",
                why="Let it cool before you refuel it, then note the gauge.",
            )
    if (
        store.output != "off"
        and store.engine
        and store.start_at is not None
        and not any(end > now for _, end in store.runs)
    ):
        yield _start(store, store.start_at, f"{store.name} has reached the charge at which the plan starts it.")


def _start(store: StoreOutlook, at: datetime, why: str) -> NextAct:
    """With the time it takes to wake up, dress and set it out."""
    return NextAct(
        id=f"engine-{store.source}",
        at=at - WAKE_AHEAD,
        title=f"Start {store.engine}",
        why=f"{why} Outside, at least {least_text(FAR_M)} from every opening; refuel it cold, before it is needed.",
    )


def _of_food(box: WarmingBox) -> NextAct:
    return NextAct(
        id=f"food-{box.load}",
        at=box.limit_at,
        title=f"Read the thermometer in {box.name}",
        why=(
            "By now the food may be too warm. Trust the thermometer, and throw away perishables that were above "
            f"{safe_text()} for two hours."
        ),
    )


def _of_output(store: StoreOutlook, now: datetime) -> Iterator[NextAct]:
    """What to do about a station that is off, or may be; dated by its lines, so that it does not slide."""
    at = store.off_by or now
    if store.life:
        may = "has had no power" if store.output == "off" else "may have had no power"
        yield NextAct(
            id=f"life-{store.source}",
            at=store.off_from or at,
            title=f"{', '.join(store.life)}: use the second supply now, or leave",
            why=f"It {may} since {clock_text(store.off_from or at)}.",
        )
    if store.output == "off":
        yield NextAct(
            id=f"bring-back-{store.source}",
            at=at,
            title=f"Bring {store.name} back",
            why=f"{store.says} {store.how_to_charge} Then switch on its output, and check that its loads work. "
            "If it goes off again, follow the card “After a low-battery shutdown”.",
        )
    else:
        yield NextAct(id=f"look-{store.source}", at=at, title=f"Look at {store.name} now", why=store.says)


def _of(store: StoreOutlook, now: datetime) -> Iterator[NextAct]:
    if store.output != "on":
        yield from _of_output(store, now)
        return
    early, name = store.early_at, store.name
    life_by = min((t for t in (store.careful_at, early) if t is not None), default=None)
    if store.life and life_by is not None:
        yield NextAct(
            id=f"life-{store.source}",
            at=life_by - LIFE_AHEAD,
            title=f"{', '.join(store.life)}: use the second supply, or leave",
            why=(
                f"In 9 of 10 cases {name} lasts until {clock_text(life_by)}; leave two hours before that. Don't "
                "wait until it is off."
            ),
        )
    if early is not None:
        expected = "" if store.life or store.dark_at is None else f"Probably off at {clock_text(store.dark_at)}. "
        yield NextAct(
            id=f"dark-{store.source}",
            at=early - DARK_AHEAD,
            title=f"{name} may run out soon",
            why=(
                f"{expected}In 9 of 10 cases it is on until {clock_text(early)}. Finish anything that must not "
                "stop halfway, and have a lamp ready."
            ),
        )
    if store.low_at is not None and store.low_at > now:
        yield NextAct(
            id=f"low-{store.source}",
            at=store.low_at,
            title=f"{name} is low",
            why=(
                "Don't start motors from here on, and don't rely on the gauge. See the card “Low battery, or weak "
                "power from the grid”."
            ),
        )
    due = store.read_at + (
        READ_AFTER if early is None else min(READ_AFTER, max((early - store.read_at) / 2, timedelta()))
    )
    yield NextAct(
        id=f"read-{store.source}",
        at=due,
        title=f"Note the gauge of {name}",
        why="Each reading makes the hours more certain.",
    )
