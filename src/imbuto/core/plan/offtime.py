"""How long each circuit is dark while the work is done, laid around freezers and what a life depends on.

Minutes are planning defaults, to be replaced by those of whoever does the work. Nothing here says how the work is
done: behind the cover it is an electrician's."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta

from imbuto.core.basics.units import hours_text
from imbuto.core.home.home import Home
from imbuto.core.plan.entered.paperwork import Hand
from imbuto.core.plan.plan import Device, Plan
from imbuto.core.plan.system import Part, Wiring

UTILITY_MIN = 30.0  # to part the service, and again to join it; planning default
AHEAD_MIN = 240.0  # a gateway or a new panel, with the service parted
MAIN_MIN = 60.0  # a breaker, an interlock or a feeder, with the main off
TIE_MIN = 20.0  # a switch's neutral and ground, with the main off
MOVE_MIN = 15.0  # a circuit
TEST_MIN = 10.0  # a circuit
LATEST_H = 17.0  # no step begins that would end later; the rest is another day's
COLD_MIN = 120.0  # dark at a stretch that a shut refrigerator bears without a thought; half of the usual four hours


@dataclass(frozen=True, slots=True)
class WorkStep:
    """A step.

    by: whose hands
    minutes: that dark is dark
    circuits: those that are, all of the panels where whole
    booked: the utility's own visit
    usual: the planning default of its minutes
    """

    id: str
    name: str
    by: Hand
    minutes: float
    circuits: tuple[str, ...]
    whole: bool = False
    booked: bool = False
    usual: float = 0.0


@dataclass(frozen=True, slots=True)
class TimedStep:
    """A step on its day.

    at: local time, None while no day is settled
    meanwhile: what feeds what must not be dark
    """

    step: WorkStep
    at: datetime | None
    meanwhile: str


@dataclass(frozen=True, slots=True)
class OffTime:
    """The work, step by step.

    dark: minutes of each circuit, by id
    days: it takes
    cautions: to be settled before
    """

    steps: tuple[TimedStep, ...]
    dark: dict[str, float]
    days: int
    cautions: tuple[str, ...]


def work_steps(home: Home, plan: Plan, each: Sequence[Wiring]) -> list[WorkStep]:
    """Every step of building a plan that leaves something dark; none where everything hangs on cords."""
    known = plan.works.minutes
    ports = {p.device.id: p for x in each for p in x.ports if p.device is not None}
    found: list[WorkStep] = []
    for device in plan.devices.values():
        if device.id in ports:
            found += list(_of_device(home, plan, device, ports[device.id]))
    return [replace(s, minutes=known.get(s.id, s.minutes), usual=s.minutes) for s in found]


def _of_device(home: Home, plan: Plan, device: Device, port: Wiring) -> Iterator[WorkStep]:
    traits, name, at = port.equipment.traits, port.equipment.name, device.id
    panel = device.panel
    whole = tuple(c.id for c in home.circuits.values() if panel is None or panel in home.way_to(c.panel))
    fed = [f.circuit for f in port.plan.feeds.values() if f.circuit and (f.device or device.id) == device.id]
    moved = sorted((c for c in dict.fromkeys(fed) if c in home.circuits), key=lambda c: _first(home, c))
    where = home.panel_name(panel)
    ahead = panel is None and (
        traits.whole_panel or traits.beside_mains or (traits.in_panel and not _interlocked(port))
    )
    if ahead:
        yield WorkStep(f"{at}-part", "The utility disconnects the service", "certified", UTILITY_MIN, whole, True, True)
        yield WorkStep(f"{at}-set", f"{name} set and wired", "certified", AHEAD_MIN, whole, True)
        yield WorkStep(f"{at}-join", "The utility reconnects the service", "certified", UTILITY_MIN, whole, True, True)
    elif traits.levers:
        yield WorkStep(
            f"{at}-tie", f"{name}: its neutral and ground tied to {where}", "certified", TIE_MIN, whole, True
        )
    else:
        yield WorkStep(f"{at}-set", f"{name} wired to {where}", "certified", MAIN_MIN, whole, True)
    if not traits.in_panel:
        for c in moved:
            yield WorkStep(f"{at}-{c}", f"{home.circuits[c].name} moved", "certified", MOVE_MIN, (c,))
    for c in moved:
        yield WorkStep(f"{at}-{c}-test", f"{home.circuits[c].name} tested on backup power", "hired", TEST_MIN, (c,))


def _interlocked(port: Wiring) -> bool:
    return port.equipment.in_panel and not port.equipment.automatic


def _first(home: Home, circuit: str) -> tuple[int, str]:
    """What a life hangs on first, then what keeps food cold: they have the rest of the day to recover."""
    purposes = {x.purpose for x in home.loads_on(circuit)}
    return (0 if "life" in purposes else 1 if "food" in purposes else 2, circuit)


def off_time(home: Home, plan: Plan, each: Sequence[Wiring]) -> OffTime:
    """The steps one after the other on the days of the plan, each with what feeds things meanwhile."""
    steps = work_steps(home, plan, each)
    dark: dict[str, float] = {}
    for step in steps:
        for c in step.circuits:
            dark[c] = dark.get(c, 0.0) + step.minutes
    timed, days = _laid(steps, plan.works.day, plan.works.start_h)
    stretch = {s.id: sum(x.minutes for x in group) for group in _groups(steps) for s in group}
    made = tuple(TimedStep(s, at, _meanwhile(home, s, each, stretch[s.id])) for s, at in timed)
    return OffTime(made, dark, days, tuple(_cautions(home, plan, steps, dark, days)))


def _laid(
    steps: Sequence[WorkStep], day: date | None, start_h: float
) -> tuple[list[tuple[WorkStep, datetime | None]], int]:
    """A step that would end after the working day begins the next one, together with what it cannot be parted from."""
    found: list[tuple[WorkStep, datetime | None]] = []
    hour, days = start_h, 1 if steps else 0
    for group in _groups(steps):
        takes = sum(s.minutes for s in group) / 60
        if hour > start_h and hour + takes > LATEST_H:
            hour, days = start_h, days + 1
        for s in group:
            at = None if day is None else datetime.combine(day, time()) + timedelta(days=days - 1, hours=hour)
            found.append((s, at))
            hour += s.minutes / 60
    return found, days


def _groups(steps: Sequence[WorkStep]) -> Iterator[list[WorkStep]]:
    """From the utility's parting to its joining is one stretch; everything else is by itself."""
    held: list[WorkStep] = []
    for step in steps:
        held.append(step)
        if sum(s.booked for s in held) % 2 == 0:
            yield held
            held = []
    if held:
        yield held


def _meanwhile(home: Home, step: WorkStep, each: Sequence[Wiring], stretch: float) -> str:
    """What feeds what must not be dark. stretch: minutes at a time, with the steps it cannot be parted from."""
    loads = [x for c in step.circuits for x in home.loads_on(c)]
    names = list(dict.fromkeys(x.station.name for x in each if isinstance(x, Part)))
    station = f"a cord from {names[0]}, if you have it already" if names else "its second supply"
    said = []
    for x in (x for x in loads if x.purpose == "life"):
        if x.own_battery_h * 60 > stretch:
            said.append(f"{x.name}: runs {hours_text(x.own_battery_h)} on its own battery")
        else:
            short = f", as its own battery ends after {hours_text(x.own_battery_h)}" if x.own_battery_h else ""
            said.append(f"{x.name}: on {station}, or where there is power{short}")
    cold = [x.name for x in loads if x.purpose == "food" and x.kind == "compressor"]
    if cold:
        said.append(
            f"{', '.join(cold)}: keep the doors closed" + (f", or {station}" if stretch > COLD_MIN and names else "")
        )
    return "; ".join(said)


def _cautions(home: Home, plan: Plan, steps: Sequence[WorkStep], dark: dict[str, float], days: int) -> Iterator[str]:
    if not steps:
        yield "Everything is on cords, so no one touches the house wiring and nothing loses power."
        return
    if any(s.booked for s in steps):
        yield (
            "Work ahead of the main breaker needs the utility to disconnect the house. Book that, and the "
            "reconnection, before anything else."
        )
    if days > 1:
        yield f"It takes {days} days. In between, the grid has to power everything as before."
    if plan.works.day is None:
        yield "No day is set yet. Choose one without frost, heat or storm, when someone is at home all day."
    long = [s for s in steps if s.minutes > COLD_MIN]
    cold = [
        x.name
        for s in long
        for c in s.circuits
        for x in home.loads_on(c)
        if x.purpose == "food" and x.kind == "compressor"
    ]
    if cold:
        yield (
            f"{', '.join(dict.fromkeys(cold))}: put a thermometer inside, and don't open it while it is without power."
        )
    life = [x for c in dark for x in home.loads_on(c) if x.purpose == "life"]
    for x in life:
        minutes = dark[x.circuit or ""]
        yield (
            f"{x.name} is without power for {minutes:g} minutes in all. Have its second supply ready and tested, and "
            f"someone there who can help."
        )
