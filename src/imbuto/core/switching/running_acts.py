"""What people do while a plan runs: turns, a generator, a station that takes another's place or leaves.

The hours that a plan promises contain all of it, so whoever goes by the card has to find it there.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from imbuto.core.basics.clock import windows_text
from imbuto.core.basics.measures import hour_text, least_text, volume_text
from imbuto.core.basics.units import hours_text
from imbuto.core.limits.rules.generator_limits import FAR_M
from imbuto.core.plan.sources import SPOT_WORDS, Array, SetOut
from imbuto.core.plan.system import Part

HOUR_MIN = 60


def running_acts(parts: Sequence[Part]) -> list[str]:
    """Everything that is done by hand or by the clock after going over, a sentence or two each; empty where nothing is.

    parts: of one plan
    """
    found = list(_alike(parts))
    for x in parts:
        found += [*_turns(x), *_swaps(x, parts), *_away(x), *_inputs(x), *_set_out(x)]
    engine = next((x for x in parts if x.generator is not None and x.plan.engine is not None), None)
    return [*found, *(_engine(engine, parts) if engine is not None else [])]


def _alike(parts: Sequence[Part]) -> Iterator[str]:
    """Stations of the same make, told apart by a letter on them."""
    for name in dict.fromkeys(x.unit.name for x in parts):
        same = [x for x in parts if x.unit.name == name]
        if len(same) > 1:
            where = ", ".join(f"{x.station.name} {SPOT_WORDS[x.source.spot]}" for x in same)
            yield f"Some stations look alike. Write these letters on them: {where}."


def _turns(x: Part) -> Iterator[str]:
    """Turns by the clock in one sentence, then each of the others."""
    feeds = {f.feed.id: f.feed for f in x.fed if not f.assumed and f.feed.stance == "turns"}.values()
    timed = [f for f in feeds if f.turn_by == "clock" and f.windows]
    if timed:
        turns = "; ".join(f"{x.target_names[f.id]} {windows_text(f.windows)}" for f in timed)
        yield f"On only at these times: {turns}."
    for feed in feeds:
        name = x.target_names[feed.id]
        if feed.turn_by == "charge":
            yield f"{name}: on only while {x.station.name} shows more than {100 * feed.above:.0f}%."
        elif feed.turn_by != "clock":
            yield f"{name}: on only while more comes in from the sun than goes out."
        elif not feed.windows:
            yield f"{name}: on for {feed.share * HOUR_MIN:.0f} minutes of each hour, off for the rest."


def _swaps(x: Part, parts: Sequence[Part]) -> Iterator[str]:
    lead = next((y for y in parts if y.source.id == x.source.after), None)
    if lead is not None:
        yield (
            f"{x.station.name} waits: when {lead.station.name} shows {100 * x.source.swap_at:.0f}%, put the cord from "
            f"{lead.station.name} into {x.station.name}."
        )


def _away(x: Part) -> Iterator[str]:
    away = x.source.away
    if away is None:
        return
    if away.for_h > 0:
        yield (
            f"{x.station.name} leaves {hours_text(away.from_h)} after the power went out and is back after "
            f"{hours_text(away.for_h)}, with {100 * away.back_with:.0f}%. What it powers is off meanwhile."
        )
    if away.windows:
        yield f"{x.station.name} is away {windows_text(away.windows)}. What it powers is off meanwhile."


def _inputs(x: Part) -> Iterator[str]:
    """Inputs that an array and a bank take in turn, and banks that give in set hours."""
    for bank in x.plan.banks.values():
        there = [a for a in x.plan.arrays.values() if a.source == x.source.id and a.input == bank.input]
        array, at = (there[0].name if there else "the array"), f"Solar input {bank.input} of {x.station.name}"
        first = f"First cover {array}, or open its disconnect."
        if bank.by == "night":
            yield f"{at}: {bank.name} by night, {array} by day. Change the plug at dusk and at dawn. {first}"
        elif bank.by == "low_sun":
            yield (
                f"{at}: {bank.name} while {array} brings less than {bank.below_w:.0f} W, {array} otherwise. Change the "
                f"plug by the display. {first}"
            )
        elif bank.by == "hours" and there:
            times = windows_text(bank.windows)
            yield f"{at}: {bank.name} {times}, {array} otherwise. Change the plug at these times. {first}"
        elif bank.by == "hours":
            yield f"{at}: {bank.name} {windows_text(bank.windows)}, by its timer."


def _set_out(x: Part) -> Iterator[str]:
    """Panels that fold, and those that somebody plugs in."""
    for array in x.plan.arrays.values():
        bank = x.plan.banks.get(array.source)
        if (bank.to if bank else array.source) != x.source.id:
            continue
        if array.set_out is not None:
            at = f"the controller of {bank.name}" if bank else f"solar input {array.input} of {x.station.name}"
            yield _every_day(x, array, array.set_out, at)
        elif not bank and x.panels[array.panel].portable:
            yield (
                f"Set {array.name} out by day, {_faces(array.azimuth)} and {array.tilt:.0f}° up from "
                "flat. Bring it in before a storm. The hours "
                "don't count on it in a storm."
            )


def _every_day(x: Part, array: Array, out: SetOut, at: str) -> str:
    folds = x.panels[array.panel].portable
    out_there = f"set {array.name} out, {_faces(array.azimuth)} and {array.tilt:.0f}° up from flat, and plug it"
    where = out_there if folds else f"plug {array.name}"
    wind = (
        f" In wind {'leave it in and ' if folds else ''}keep the inlet closed: the hours don't count on it in a storm."
        if out.shut_in_wind or folds
        else ""
    )
    return (
        f"Every day at {hour_text(out.from_h)}{f', {out.who}' if out.who else ''}: {where} into {at}. "
        f"{'Take it in' if folds else 'Unplug it'} at {hour_text(out.to_h)}.{wind}"
    )


def _faces(azimuth: float) -> str:
    names = ("north", "northeast", "east", "southeast", "south", "southwest", "west", "northwest")
    return f"facing {names[round(azimuth / 45) % 8]}"


def _engine(x: Part, parts: Sequence[Part]) -> Iterator[str]:
    engine, made = x.plan.engine, x.generator
    assert engine is not None
    assert made is not None
    name, by_itself = x.station.name, made.start == "by_itself"
    low, high = f"{100 * engine.start_at:.0f}%", f"{100 * engine.stop_at:.0f}%"
    when = f", only {windows_text(engine.windows)}" if engine.windows else ""
    if by_itself and engine.school == "carry":
        start = f"{made.name} starts by itself when {name} is down to {low}, and runs on{when}."
    elif by_itself:
        start = f"{made.name} starts by itself when {name} is down to {low}, and stops at {high}{when}."
    elif engine.school == "fill":
        start = f"Start {made.name} when {name} shows {low}, and stop it at {high}{when}."
    else:
        start = f"Start {made.name} when {name} shows {low}, and let it run{when}."
    if not by_itself and not engine.windows and x.plan.asleep:
        start += " If that would be at night, start it before you go to bed."
    others = [y.station.name for key in engine.also for y in parts if y.source.id == key]
    if others:
        start += f" What is left of its power charges {', then '.join(others)}."
    yield (
        f"{start} Outside, at least {least_text(FAR_M)} from every door and window. Refuel it cold. "
        f"Fuel available: {volume_text(engine.stock_l)}."
    )
    if not by_itself and not any(p.can_switch and p.where == "home" for p in x.home.household.people.values()):
        yield f"You haven't entered anyone at home who can start {made.name}. The hours assume that someone does."
