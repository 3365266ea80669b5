"""Ready: what is to be done before a storm, by the clock, from the plan and the household and never from a fixed
list."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from imbuto.core.advice.verdict import Verdict
from imbuto.core.basics.clock import later
from imbuto.core.basics.measures import clock_of, least_text, volume_text
from imbuto.core.basics.units import hours_text, number_text
from imbuto.core.home.alert import Alert
from imbuto.core.limits.rules.generator_limits import FAR_M
from imbuto.core.outages.wall_charging import how_to_fill, refill_hours, wall_charging
from imbuto.core.plan.outage import Outage, Weather
from imbuto.core.plan.stop_level import stop_level
from imbuto.core.plan.system import Part

TEST_BEFORE_H = 24.0  # a test start and transfer, so that a fault can still be mended; planning default
HANDS_BEFORE_H = 3.0  # what is carried, set out or agreed; planning default
WATER_L_A_DAY = 4.0  # to drink and to cook, a person; common advice


@dataclass(frozen=True, slots=True)
class ChargeTask:
    """Hold one battery that is to be full before a storm.

    charge: now, 0 to 1, None where nobody has said; the hours are then those from the stop level
    watts: AC W it charges with, 0 where that is unlisted
    hours: it takes
    begin_by: the latest moment to begin
    late: that has passed
    how: how this device is made to charge, and why it takes no more watts
    unlisted: nobody lists the watts of its charger
    """

    source: str
    name: str
    charge: float | None
    watts: float
    hours: float | None
    circuit: str
    begin_by: datetime | None
    late: bool
    how: str
    unlisted: bool = False


@dataclass(frozen=True, slots=True)
class Item:
    """One thing to do.

    due: at the latest
    late: that has passed and it is not done
    done: by whom and when, empty for open
    """

    id: str
    title: str
    sentence: str
    due: datetime | None
    late: bool
    done: str


@dataclass(frozen=True, slots=True)
class Carries:
    """A source and the hours to count on, 9 in 10; None for still on at the end. out: broken or not there."""

    source: str
    name: str
    hours: float | None
    out: bool


@dataclass(frozen=True, slots=True)
class Ready:
    """Everything before a storm.

    enough: the lowest hours reach the end of it, else short_h: by how much they do not
    lowest_h: None for still on then
    """

    fills: tuple[ChargeTask, ...]
    items: tuple[Item, ...]
    carries: tuple[Carries, ...]
    lowest_h: float | None
    enough: bool
    short_h: float = 0.0


Make = Callable[..., Item]


def outage_of(alert: Alert, like: Outage) -> Outage:
    """The storm as an outage: the longer of the storm and the outage like it, at that one's temperatures, every store
    full. Power often stays out longer than the storm."""
    sky: Weather = "storm" if "wind" in alert.brings else "overcast" if "ice" in alert.brings else like.weather
    iced = alert.hours if "ice" in alert.brings else 0.0
    hours = max(alert.hours, like.hours, 0.1)
    return replace(
        like,
        start=alert.begins,
        hours=hours,
        goal_hours=hours,
        start_charge=1.0,
        weather=sky,
        skies=(),
        iced_h=min(iced, 336.0),
    )


def ready(each: Sequence[Part], verdicts: Sequence[Verdict], alert: Alert, now: datetime) -> Ready:
    """Everything to do before a storm.

    each: the parts of the plan
    verdicts: theirs in the storm, every store full
    now: local wall-clock time
    """
    storm = next((v.outage for v in verdicts), None)
    fills = tuple(_filling(x, alert, now, storm) for x in each)
    carries = tuple(
        Carries(v.part.source.id, v.part.station.name, _count_on(v), v.part.source.id in alert.out)
        for v in verdicts
        if v.part.fed and not v.part.waits
    )
    standing = [c.hours for c in carries if not c.out]
    known = [h for h in standing if h is not None]
    lowest = min(known, default=None)
    items = sorted(
        (_ticked(i, alert, now) for i in _items(each, fills, alert)), key=lambda i: (i.due or alert.begins, i.title)
    )
    planned_h = alert.hours if storm is None else storm.hours
    short = 0.0 if lowest is None else max(planned_h - lowest, 0.0)
    return Ready(fills, tuple(items), carries, lowest, bool(standing) and short == 0.0, short)


def _count_on(v: Verdict) -> float | None:
    """The hours that 9 in 10 such outages exceed; None for still on at the end."""
    if v.band is not None:
        return v.band.low_h
    return v.run.hours if v.run is not None else None


def _filling(x: Part, alert: Alert, now: datetime, storm: Outage | None) -> ChargeTask:
    charge, cells = alert.charges.get(x.source.id), None if storm is None else storm.at(x.source)
    wall = wall_charging(x, cells)
    hours = refill_hours(x, stop_level(x) if charge is None else charge, cells)
    begin = later(alert.begins, -hours, x.home.site.time_zone) if hours else None
    circuit = x.charge_circuit.name if x.charge_circuit else "an outlet you haven't named"
    late = begin is not None and now > begin
    how = " ".join(t for t in (how_to_fill(x), wall.says) if t)
    unlisted = x.station.charger_w(x.source.modules) <= 0
    return ChargeTask(x.source.id, x.station.name, charge, wall.watts, hours, circuit, begin, late, how, unlisted)


def _items(each: Sequence[Part], fills: Sequence[ChargeTask], alert: Alert) -> Iterator[Item]:
    def item(ident: str, title: str, sentence: str, before_h: float | None = HANDS_BEFORE_H) -> Item:
        due = None if before_h is None else alert.begins - timedelta(hours=before_h)
        return Item(ident, title, sentence, due, False, "")

    for f in fills:
        if f.source in alert.out:
            lost = next((x for x in each if x.source.id == f.source), None)
            names = ", ".join(dict.fromkeys(i.load.name for i in lost.fed if not i.assumed)) if lost else ""
            yield item(
                f"out:{f.source}",
                f"{f.name} is out",
                f"Without it {names or 'nothing'} has no power. Under What to power, check what else can power it.",
                None,
            )
        elif f.charge is None and f.hours is not None:
            yield item(
                f"fill:{f.source}",
                f"Read the charge of {f.name}",
                f"Its charge isn't known. Read its display and enter it. From its stop level it takes "
                f"{hours_text(f.hours)} at {number_text(f.watts)} W, so charge it now if you can't. {f.how}",
                f.hours,
            )
        elif f.hours is None:
            why = (
                "Its charging watts aren't listed, so start now."
                if f.unlisted
                else "It doesn't charge where it is now."
            )
            yield item(f"fill:{f.source}", f"Fill {f.name}", f"{why} {f.how}", None)
        elif f.hours > 0:
            assert f.charge is not None  # the branch above has those that are not known
            said = (
                f"From {100 * f.charge:.0f}% at {number_text(f.watts)} W it takes {hours_text(f.hours)}, from "
                f"{f.circuit}. {f.how}"
            )
            yield item(f"fill:{f.source}", f"Fill {f.name}", said, f.hours)
    first = each[0]
    yield item(
        "test",
        "A test start and a transfer",
        "Switch to backup and back by the card, while the grid is there and a fault can still be fixed.",
        TEST_BEFORE_H,
    )
    yield item(
        "grid",
        "The house stays on the grid until it is needed",
        "Don't switch to backup before the power is out: keep the charge for the hours without power.",
        0.0,
    )
    yield from _gear(each, alert, item)
    yield from _household(first, each, alert, item)


def _gear(each: Sequence[Part], alert: Alert, make: Make) -> Iterator[Item]:
    for x in each:
        yield from _arrays(x, alert, make)
        cords = [
            d for d in x.plan.devices.values() if x.by_device[d.id].traits.inlet and not x.by_device[d.id].automatic
        ]
        for device in cords:
            yield make(
                f"inlet:{device.id}",
                "The inlet and its cord",
                f"Put the cord to {x.by_device[device.id].name} next to the station. Check that it is dry and "
                "undamaged, and that the inlet's cover opens.",
            )
        plugs = [x.target_names[f.id] for f in x.plan.feeds.values() if f.load]
        if plugs:
            yield make(
                f"cords:{x.source.id}",
                f"Cords for {x.station.name}",
                f"One for each of {', '.join(plugs)}, unrolled, of the stated size.",
            )
    for use in each[0].whole.other_uses.values() if each else ():
        away = next((y.station.name for y in each if y.source.id == use.source), "")
        if away:
            yield make(
                f"back:{use.id}",
                f"{away} back from “{use.name}”",
                "If it is away, bring it back, plug it in where it belongs, and charge it.",
            )
    yield from _fuel(each, make)


def _arrays(x: Part, alert: Alert, make: Make) -> Iterator[Item]:
    for array in x.plan.own_arrays:
        folds, out = x.panels[array.panel].portable, array.set_out
        ident = f"array:{array.id}"
        if "wind" in alert.brings and folds:
            why = "Bring in folding panels before the wind. They aren't counted while it blows."
            yield make(ident, f"{array.name} in", why)
        elif "wind" in alert.brings and out is not None and out.shut_in_wind:
            why = "Keep the inlet closed while it's windy. The array isn't counted then."
            yield make(ident, f"{array.name}: inlet closed", why)
        elif "ice" in alert.brings:
            why = "The array isn't counted until it is bare again. Don't climb up to clear it."
            yield make(ident, f"{array.name}: no solar power while iced over", why, None)
        elif out is not None:
            why = f"Put its cable next to {x.station.name}, and check that it reaches."
            yield make(ident, f"{array.name}: cable to solar input {array.input}", why)


def _fuel(each: Sequence[Part], make: Make) -> Iterator[Item]:
    fuelled = next((y for y in each if y.generator is not None), None)
    if fuelled is not None and fuelled.generator is not None and fuelled.plan.engine is not None:
        x = fuelled
        assert x.generator is not None
        assert x.plan.engine is not None
        yield make(
            "fuel",
            "Fuel",
            f"{volume_text(x.plan.engine.stock_l)} are planned for {x.generator.name}. Use fresh fuel, stored outside "
            "in a proper can.",
            TEST_BEFORE_H,
        )
        yield make(
            "engine",
            f"Start {x.generator.name} once",
            f"At least {least_text(FAR_M)} outside, exhaust away from every opening; then close its fuel valve.",
            TEST_BEFORE_H,
        )
        yield make(
            "alarm",
            "Test the carbon-monoxide alarm",
            "Keep it indoors near where people sleep, with a fresh battery.",
            TEST_BEFORE_H,
        )


def _household(first: Part, each: Sequence[Part], alert: Alert, make: Make) -> Iterator[Item]:
    home = first.home
    days = max(alert.hours / 24, 1.0)
    need = WATER_L_A_DAY * home.household.persons * days
    have = home.household.stored_water_l
    if have < need:
        yield make(
            "water",
            "Stored water",
            f"{volume_text(have)} of about {volume_text(need)} for {home.household.persons} people: fill clean cans.",
        )
    fed = {f.load.id for x in each for f in x.fed}
    cold = [x.name for x in home.loads.values() if x.purpose == "food" and x.thermostatic and x.id not in fed]
    if cold:
        yield make(
            "cooler",
            "A cooler and ice",
            f"{', '.join(cold)} will be off. Freeze bottles of water, and keep the doors closed.",
        )
    life = [x for x in home.loads.values() if x.purpose == "life"]
    if life:
        names = ", ".join(x.name for x in life)
        yield make(
            "medical",
            "Medical gear",
            f"{names}: have a second supply ready, the supplier's number, and a time to leave. This is never your "
            "only backup.",
            TEST_BEFORE_H,
        )
    off = [c.name for c in home.circuits.values() if c.id not in {f.circuit for f in first.whole.feeds.values()}]
    if off:
        shown = ", ".join(off[:8]) + (f" and {len(off) - 8} more" if len(off) > 8 else "")
        yield make("agreed", "Agree on what stays off", f"Tell everyone in the house: {shown}.")
    network = [x.name for x in home.loads.values() if x.purpose == "communications" and x.use.kind == "always"]
    dark = [x.name for x in home.loads.values() if x.name in network and x.id not in fed]
    if dark:
        yield make(
            "network",
            "The network",
            f"{', '.join(dark)} will be off, and so will apps that need it, perhaps this page too. Print the card.",
        )
    yield make(
        "lights", "Lights and phones", "Give everyone a lamp, charge all phones, and tape the card to the panel."
    )


def _ticked(item: Item, alert: Alert, now: datetime) -> Item:
    tick = alert.ticks.get(item.id)
    if tick is not None:
        return replace(
            item, done=f"{tick.who or 'someone'}, {tick.at:%d %b} {clock_of(tick.at.hour, tick.at.minute)}".strip()
        )
    return replace(item, late=item.due is not None and now > item.due)
