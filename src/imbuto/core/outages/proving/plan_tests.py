"""The tests of a plan: commissioning first, then what proves it and what it teaches. All from the plan, none from a
fixed list."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from imbuto.core.basics.measures import least_text
from imbuto.core.basics.units import number_text
from imbuto.core.everyday.everyday_modes import can_do
from imbuto.core.everyday.grid_limits import at_limit, gives_w
from imbuto.core.limits.rules.generator_limits import FAR_M
from imbuto.core.outages.possible_steps import is_spared
from imbuto.core.outages.proving.commissioning import commissioning_procedures
from imbuto.core.outages.proving.test_procedures import Procedure, TestLine
from imbuto.core.plan.system import Part, PoweredLoad
from imbuto.core.run.run import Run
from imbuto.core.run.run_switching import engine_of

CELLS = "cells"  # the line of a start test that says how warm the cells were
HARD_VA = 300.0  # more than this on top at a start is tried for real; planning default
NEAR_LIMIT = 0.9  # of what a leg bears the load is stepped up to; planning default
STOP_CHARGE = 0.20  # a test on battery ends here, or where the station stops
STOP_WITHIN = 0.2  # of the hours until then, that they may differ by; planning default
MOTORS = ("pump", "motor", "compressor", "fan")
COOKS_FROM_W = 300.0  # what is used for a while at this or more may be a cooker of any kind; planning default
DAY_WITHIN = 10.0  # points of charge a day on battery may differ by; planning default
SHARE_WITHIN = 10.0  # percent of the sum that units may differ by; planning default
SECOND = "Medical gear is on a proven second supply before anything is switched."
OWN_LIGHT = "Have a lamp in hand. Loads that must not lose power are off or on their own supply."


def procedures(each: Sequence[Part], runs: Mapping[str, tuple[Run, Run | None]]) -> list[Procedure]:
    """Every test of a plan, commissioning first.

    each: its parts
    runs: by source, a day from full, and the same without sun
    """
    own = [x for x in each if x.fed]
    if not own:
        return []
    found = [*commissioning_procedures(each), *_transfer(own), *_rooms(own), *_flicker(own)]
    for x in own:
        at = f"@{x.source.id}" if len(own) > 1 else ""
        found += [
            *_limit(x, at),
            *_on_grid(x, at),
            *_starts(x, at),
            *_run_down(x, at),
            *_days(x, at, runs),
            *_meal(x, at),
            *_engine(x, at),
            *_sharing(x, at),
        ]
    found += [*_no_export(own), *_position(own)]
    return sorted(found, key=lambda p: p.order or 99)


def _named(x: Part, at: str, text: str) -> str:
    return f"{x.station.name}: {text[0].lower()}{text[1:]}" if at else text


def _cautions(own: Sequence[Part]) -> tuple[str, ...]:
    life = any(f.load.purpose == "life" for x in own for f in x.fed)
    return (*((SECOND,) if life else ()), OWN_LIGHT)


def _transfer(own: Sequence[Part]) -> Iterator[Procedure]:
    by_itself = any(e.automatic for x in own for e in x.by_device.values())
    times = [e.transfer_ms for x in own for e in x.by_device.values() if e.automatic and e.transfer_ms is not None]
    where = "at the feeder's breaker or the main" if by_itself else "by the card"
    yield Procedure(
        id="transfer",
        title="An outage, and the way back",
        why="Time both directions while you can still fix a fault.",
        cautions=_cautions(own),
        stop="If anything smells, hums or trips, switch back to the grid by the card.",
        lines=(
            TestLine(
                id="over",
                what=f"Switching to backup, {where}: seconds until the first circuit is on",
                unit="s",
                expected=max(times) / 1000 if times else None,
                within=2.0 if times else 0.0,
                fails="If it didn't switch to backup, check its settings and the card.",
            ),
            TestLine(id="all", what="Minutes until everything is on", unit="min"),
            TestLine(id="back", what="Minutes to switch back, after ten minutes of steady grid", unit="min"),
            TestLine(
                id="charges",
                what="Watts in after switching back",
                unit="W",
                fails="If it doesn't charge, the charger is off or the share kept for outages is lower.",
            ),
        ),
    )


def _rooms(own: Sequence[Part]) -> Iterator[Procedure]:
    items = sorted(
        {f.load.id: f for x in own for f in x.fed if not f.assumed}.values(), key=lambda f: (f.load.room, f.load.name)
    )
    yield Procedure(
        id="rooms",
        title="Every planned appliance, room by room",
        why="An appliance without a light may be off without anyone noticing.",
        cautions=_cautions(own),
        lines=tuple(_appliance(f) for f in items),
        ends="Note anything that didn't work in the logbook as a defect, or take it out of the plan.",
    )


def _appliance(item: PoweredLoad) -> TestLine:
    load = item.load
    proof = ""
    if load.purpose == "food" and load.kind == "compressor":
        proof = ": open it slightly and check its light or its hum, or use a plug-in meter"
    elif load.kind in ("pump", "motor", "compressor"):
        proof = ": run it, and listen"
    room = f"{load.room.capitalize()}: " if load.room else ""
    return TestLine(
        id=load.id,
        what=f"{room}{load.name} works{proof}",
        fails="Check its breaker, switch slot and cord. It may be on a different circuit.",
    )


def _flicker(own: Sequence[Part]) -> Iterator[Procedure]:
    if not any(x.by_device for x in own):
        return
    yield Procedure(
        id="flicker",
        title="Flicker",
        why="Lamps flicker, and a computer without a battery loses unsaved work.",
        cautions=_cautions(own),
        lines=(
            TestLine(
                id="lamps",
                what="Lamps stay steady while the heaviest motor starts",
                fails="Move the lamps to the other leg, or start the motor with fewer loads on.",
            ),
            TestLine(
                id="computer",
                what="A computer without a battery keeps running through the switch",
                fails="The computer needs its own battery supply to bridge the gap.",
            ),
        ),
    )


def _limit(x: Part, at: str) -> Iterator[Procedure]:
    station = x.station
    legs, volts = station.legs, station.leg_volts
    links = {f"{station.name}'s inverter": station.leg_a}
    if x.equipment.traits.wired:
        links["the inlet and its cord"] = x.equipment.inlet_a
        links["its large outlet"] = station.inlet_outlet_a
    else:
        links["one outlet"] = station.outlet_a
    links = {k: a for k, a in links.items() if a > 0}
    weakest, amps = min(links.items(), key=lambda kv: kv[1])
    title = _named(x, at, "Adding load up to the limit")
    a_leg = " a leg" if len(legs) > 1 else ""
    life = any(f.load.purpose == "life" for f in x.fed)
    if weakest != f"{station.name}'s inverter":
        yield Procedure(
            id=f"limit{at}",
            title=title,
            why="How close you are to the limit.",
            refused=f"Not offered: {weakest} carries {number_text(amps)} A{a_leg}, less than the inverter, and a "
            f"cord or a breaker "
            "isn't there to be tested.",
        )
        return
    yield Procedure(
        id=f"limit{at}",
        title=title,
        why="Find its limit, and how loud its fans are, now rather than in an outage.",
        cautions=(
            *((SECOND,) if life else ()),
            "Use a heavy circuit that is otherwise left off. Leave it off again afterwards.",
            "Feel the plugs after ten minutes.",
        ),
        stop=f"At {number_text(NEAR_LIMIT * amps * volts)} W{a_leg}, a smell, or a plug too hot to hold.",
        lines=(
            *_each_step(x, "switch on one more load"),
            *(
                TestLine(
                    id=f"leg{leg}",
                    what=f"Watts on leg {leg} at the highest step that held"
                    if len(legs) > 1
                    else "Watts at the highest step that held",
                    unit="W",
                    expected=NEAR_LIMIT * amps * volts,
                    within=0.25 * amps * volts,
                    fails="If it stopped before the level on its label, note a defect with its firmware version.",
                )
                for leg in legs
            ),
            TestLine(id="fans", what="Fans and noise are bearable at the station's location"),
            TestLine(id="faults", what="No fault on its display"),
        ),
    )


def _each_step(x: Part, act: str, *, grid: bool = False) -> Iterator[TestLine]:
    """What is noted at every step of a load that is stepped up: house, each unit, and the grid where it is there."""
    yield TestLine(id="house", what=f"At each step, {act}: the watts that the house uses", unit="W", many=True)
    units = x.source.units
    for n in range(1, units + 1):
        which = f"unit {n}" if units > 1 else x.station.name
        yield TestLine(id=f"unit{n}", what=f"At the same step: the watts that {which} supplies", unit="W", many=True)
    if grid:
        yield TestLine(id="grid", what="At the same step: the watts from the grid", unit="W", many=True)


def _on_grid(x: Part, at: str) -> Iterator[Procedure]:
    """Where the grid fills in, what the station supplies at most beside it can be seen. It is rarely listed."""
    if at_limit(x) != "fills_in" or not {"sun", "store"} & set(can_do(x).uses):
        return
    most = number_text(gives_w(x))
    life = any(f.load.purpose == "life" for f in x.fed)
    yield Procedure(
        id=f"on_grid{at}",
        title=_named(x, at, "How much it supplies together with the grid"),
        why=f"While the grid is on, {x.station.name} supplies power up to a limit, and the grid supplies the rest. "
        f"The plan counts on {most} W from the station.",
        cautions=(
            *((SECOND,) if life else ()),
            "Set it to supply the house from the battery, with the grid on.",
            "Use loads that are in the plan. Switch them on one after the other, and wait a minute each time.",
        ),
        stop="As soon as the grid supplies the rest for two steps, or at a smell or a hot plug.",
        ends="As before: the setting you had, and the loads you use.",
        lines=tuple(_each_step(x, "switch on one more load", grid=True)),
        teaches="what it supplies together with the grid",
    )


def _starts(x: Part, at: str) -> Iterator[Procedure]:
    hard = {f.load.id: f.load for f in x.fed if f.load.start_extra_va >= HARD_VA}
    if hard:
        yield Procedure(
            id=f"starts{at}",
            title=_named(x, at, "Real starts"),
            why="A real start is better proof than any label.",
            cautions=(
                OWN_LIGHT,
                "Start one at a time, with everything else of the plan on.",
                "Wait five minutes before you start a compressor again.",
            ),
            lines=(
                TestLine(
                    id=CELLS,
                    what=f"The temperature of {x.station.name}'s cells, as its app or display shows it; else that of "
                    "the room it has stood in since yesterday",
                    unit="°C",
                    fails="",
                ),
                *(
                    TestLine(
                        id=load.id,
                        what=f"{load.name} starts and holds three times, with everything else on",
                        second="%",
                        fails="If it trips, run fewer loads, ask about a soft starter, or take it out of the plan.",
                    )
                    for load in sorted(hard.values(), key=lambda load: -load.start_extra_va)
                ),
            ),
            teaches="a passed start, at that charge and cell temperature, with no more running",
        )


def _run_down(x: Part, at: str) -> Iterator[Procedure]:
    yield Procedure(
        id=f"rundown{at}",
        title=_named(x, at, "A run-down at two levels"),
        why="It shows the station's own use and real capacity, which no label lists.",
        cautions=(
            "Use a heater or another steady load, and read its watts on a plug-in meter.",
            "Don't go below 20%, and charge it again at once.",
        ),
        stop="At 20% charge, or if a storm is announced.",
        lines=(
            TestLine(
                id="nothing",
                what="Output on, nothing plugged in: note the charge each time the figure changes, ten points",
                unit="%",
                many=True,
            ),
            TestLine(id="load_w", what="Then a steady load: its watts", unit="W"),
            TestLine(
                id="loaded",
                what="With it: note the charge each time the figure changes, ten points",
                unit="%",
                many=True,
            ),
        ),
        teaches="its own use, and its real capacity",
    )


def _days(x: Part, at: str, runs: Mapping[str, tuple[Run, Run | None]]) -> Iterator[Procedure]:
    if x.source.id not in runs or any(f.load.purpose == "life" for f in x.fed):
        return
    run, dark = runs[x.source.id]
    yield Procedure(
        id=f"day_dark{at}",
        title=_named(x, at, "A day on battery, without sun"),
        why="It shows the slow drain that a short test hides.",
        cautions=("Start with a full battery, and cover or unplug the panels.",),
        stop="At 20%.",
        lines=tuple(_day_lines(dark or run, (12, "midway, after 12 h"), (24, "at the end, after 24 h"))),
    )
    if dark is not None:
        yield Procedure(
            id=f"day_sun{at}",
            title=_named(x, at, "A day on battery, with sun"),
            why="How much a clear day recharges.",
            cautions=("On a clear day, from full in the morning.",),
            stop="At 20%.",
            lines=(
                TestLine(id="sunset", what="Charge at sunset", unit="%"),
                TestLine(id="dawn", what="Charge at dawn", unit="%"),
                TestLine(id="full", what="Hour of the day it was full", unit="h"),
                TestLine(
                    id="best",
                    what="Mean watts in over the best hour, with the battery not full",
                    unit="W",
                    second="h",
                    fails="Look for shade, dirt, or an input at its limit.",
                ),
            ),
            teaches="the sun's factor, in place of the planning default of 0.86",
        )


def _day_lines(run: Run, *moments: tuple[int, str]) -> Iterator[TestLine]:
    """Charges to expect; from where the test is stopped on, the hour at which that is."""
    more = "If more is drawn than planned, use the run-down test and a plug-in meter to find out where."
    stop = max(STOP_CHARGE, run.store.floor if run.store.floor < 1 else 0.0)
    for hour, words in moments:
        i = min(round(hour / run.steps.step_h), len(run.charge) - 1)
        if float(run.charge[i]) <= stop:
            above = np.flatnonzero(run.charge[: i + 1] > stop)  # a station that is away shows nothing meanwhile
            ends = (int(above[-1]) + 1 if len(above) else 0) * run.steps.step_h
            yield TestLine(
                id="stop",
                what=f"Hours until it shows {100 * stop:.0f}%, where the test ends",
                unit="h",
                expected=round(ends, 1),
                within=max(STOP_WITHIN * ends, 0.5),
                fails=more,
            )
            return
        yield TestLine(
            id=f"h{hour}",
            what=f"Charge {words}",
            unit="%",
            expected=round(100 * float(run.charge[i])),
            within=DAY_WITHIN,
            fails=more,
        )


def _meal(x: Part, at: str) -> Iterator[Procedure]:
    cooks = [
        f.load
        for f in x.fed
        if f.load.use.kind == "tasks" and f.load.run_w >= COOKS_FROM_W and f.load.kind not in MOTORS
    ]
    if cooks:
        yield Procedure(
            id=f"meal{at}",
            title=_named(x, at, "A meal"),
            why="One figure tells how much you can cook in an outage.",
            lines=(
                TestLine(id="before", what="Charge before", unit="%"),
                TestLine(id="watts", what="Watts while cooking", unit="W"),
                TestLine(id="minutes", what="Minutes", unit="min"),
                TestLine(id="after", what="Charge after", unit="%"),
            ),
        )


def _engine(x: Part, at: str) -> Iterator[Procedure]:
    motor, made = engine_of(x), x.generator
    if motor is None or made is None:
        return
    yield Procedure(
        id=f"engine{at}",
        title=f"{made.name}: charging while supplying",
        why="Many chargers refuse an engine, or stop supplying while they charge.",
        cautions=(
            f"At least {least_text(FAR_M)} outside, exhaust away; with a tested carbon-monoxide alarm indoors. "
            "Refuel it cold.",
        ),
        stop="The alarm, a surging engine, or a hot cord.",
        lines=(
            TestLine(id="starts", what="It starts", fails="Check fuel, oil and choke. Then call for repair."),
            TestLine(
                id="takes",
                what="The station charges from it while it supplies power",
                fails="Lower its charging watts, or charge it with its output off.",
            ),
            TestLine(
                id="watts",
                what="Watts in",
                unit="W",
                expected=motor.charger_w,
                within=0.25 * motor.charger_w,
                fails="A limit is set, or the generator is too small.",
            ),
            TestLine(id="hour", what="Hours until its tank is half empty, at this load", unit="h"),
        ),
    )


def _sharing(x: Part, at: str) -> Iterator[Procedure]:
    if x.source.units > 1 and x.source.link == "parallel":
        yield Procedure(
            id=f"sharing{at}",
            title=_named(x, at, "How the units share"),
            why="A unit that supplies more wears out faster and trips first.",
            lines=(
                TestLine(id="one", what="Lowest watts of any unit", unit="W"),
                TestLine(
                    id="most",
                    what="Highest watts of any unit",
                    unit="W",
                    fails="Cable lengths or firmware may differ.",
                ),
                TestLine(
                    id="apart",
                    what="Difference in charge",
                    unit="%",
                    expected=0,
                    within=SHARE_WITHIN,
                    fails="Charge each one alone until they are equal.",
                ),
            ),
            teaches="which share of their total they supply",
        )


def _no_export(own: Sequence[Part]) -> Iterator[Procedure]:
    parallel = any(e.automatic and not e.traits.passed_on for x in own for e in x.by_device.values())
    if parallel or any(x.plan.ac_arrays for x in own):
        yield Procedure(
            id="no_export",
            title="No export at the meter",
            who="qualified",
            why="Exporting without an agreement is not allowed, and it endangers people who work on the line.",
            lines=(
                TestLine(
                    id="still",
                    what="The utility's meter shows no export with a full battery and few loads on",
                    fails="Switch it off until this is fixed.",
                ),
            ),
        )


def _position(own: Sequence[Part]) -> Iterator[Procedure]:
    if any(x.by_device for x in own):
        spared = [f.load.name for x in own for f in x.fed if is_spared(f.load)]
        told = f" Above all: can {spared[0]} be reached?" if spared else ""
        yield Procedure(
            id="position",
            title="Try the position",
            why=f"Try the position before you drill holes.{told}",
            lines=(
                TestLine(id="cord", what="The cord reaches without strain, and no door closes on it"),
                TestLine(id="air", what="At least a hand's width of air in front of and behind its fans"),
                TestLine(
                    id="noise", what="Its noise is bearable at night", fails="Try another room, or slower charging."
                ),
                TestLine(id="cold", what="Lowest temperature there", unit="°C"),
            ),
        )
