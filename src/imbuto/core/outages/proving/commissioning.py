"""Commissioning: the tests that come first, in their order, before anything is relied on."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from imbuto.core.basics.clock import TYPICAL_DAYS
from imbuto.core.outages.proving.test_procedures import Procedure, TestLine
from imbuto.core.outages.wall_charging import refill_hours, wall_charging
from imbuto.core.plan.stop_level import stop_level
from imbuto.core.plan.system import Part

FULL_WITHIN = 0.15  # of the expected time and watts of a full charge; planning default
EQUAL_WITHIN = 2.0  # points of charge between what is joined; common practice of makers
OFF = "Keep outputs off while you plug anything in or out."


def commissioning_procedures(each: Sequence[Part]) -> Iterator[Procedure]:
    """Of every source of a plan, in their order."""
    for x in each:
        yield from _of_source(x, f"@{x.source.id}" if len(each) > 1 else "")
    yield from _of_gear(each)


def _of_source(x: Part, at: str) -> Iterator[Procedure]:
    station, source = x.station, x.source
    name = station.name
    yield Procedure(
        id=f"received{at}",
        order=1,
        title=f"{name}: received",
        why="You can claim damage only while the station is new.",
        cautions=("If there is a dent, a smell or a rattle, don't switch it on. Tell the seller.",),
        ends="Keep boxes and straps until all tests are done.",
        lines=(
            TestLine(
                id="whole",
                what="Nothing is damaged, and every part on the list is there",
                fails="Take photos, and tell the seller today.",
            ),
            TestLine(
                id="serials",
                what="Serial numbers of every part are written down",
                fails="You need them for the warranty.",
            ),
        ),
    )
    yield Procedure(
        id=f"firmware{at}",
        order=2,
        title=f"{name}: firmware of every part",
        why="Units and modules of different firmware misbehave.",
        ends="The installed versions are in the logbook.",
        lines=(
            TestLine(
                id="alike",
                what="Every part shows the same, newest firmware",
                fails="Charge them to the same level before you connect them.",
            ),
        ),
    )
    if source.units + source.modules > 1:
        yield Procedure(
            id=f"equal{at}",
            order=3,
            title=f"{name}: equal charge before connecting",
            why="Current flows from the fuller unit into the emptier one, as fast as the link allows.",
            cautions=(OFF,),
            lines=(
                TestLine(
                    id="gap",
                    what="Highest charge minus the lowest",
                    unit="%",
                    expected=0,
                    within=EQUAL_WITHIN,
                    fails="Charge each one alone until they are equal. Only then connect them.",
                ),
            ),
        )
    yield from _full_charge(x, at)
    yield from _set_up(x, at)


def _set_up(x: Part, at: str) -> Iterator[Procedure]:
    name = x.station.name
    yield Procedure(
        id=f"settings{at}",
        order=6,
        title=f"{name}: settings read back",
        why="The most common fault found in an outage is a setting that someone thought was active.",
        lines=tuple(_settings(x)),
        ends="Read the settings again after the first outage test.",
    )
    if any(f.feed.load for f in x.fed):
        yield Procedure(
            id=f"plugging{at}",
            order=7,
            title=f"{name}: outputs off while plugging",
            why="Plug in cords with the output off.",
            cautions=(OFF,),
            lines=(
                TestLine(
                    id="cold",
                    what=("Every cord plugged in with the output off, then on"),
                    fails="Repeat it with the output off.",
                ),
            ),
        )


def _full_charge(x: Part, at: str) -> Iterator[Procedure]:
    name = x.station.name
    from_charge = max(20.0, 100 * stop_level(x) + 10)  # clear of where it stops
    hours, watts = refill_hours(x, from_charge / 100), wall_charging(x).watts
    if hours is not None and watts > 0:
        yield Procedure(
            id=f"full_charge{at}",
            order=4,
            title=f"{name}: a full charge, timed",
            why="This tests the charger and the fans, and resets the gauge.",
            cautions=("Stay near it the first time, with nothing on it or in front of its fans.",),
            stop="If there is a smell, or a plug is too hot to hold, unplug it.",
            lines=(
                TestLine(id="from", what="Charge at the start", unit="%", expected=from_charge, within=10),
                TestLine(
                    id="watts",
                    what="Watts in after ten minutes",
                    unit="W",
                    expected=watts,
                    within=FULL_WITHIN * watts,
                    fails="A limit is set, the outlet supplies less, or the cells are cold.",
                ),
                TestLine(
                    id="hours",
                    what="Hours until it shows 100%, from 20%",
                    unit="h",
                    expected=hours,
                    within=FULL_WITHIN * hours,
                    fails="If it has less capacity than its label or charges slower, do the run-down test.",
                ),
                TestLine(id="fans", what="The fans run, then stop again"),
            ),
        )


def _settings(x: Part) -> Iterator[TestLine]:
    station = x.station
    yield TestLine(
        id="floor",
        what="Stop level",
        unit="%",
        expected=100 * stop_level(x),
        within=0.5,
        fails="Set it again, because the hours depend on it.",
    )
    if x.source.charge_w is not None:
        yield TestLine(
            id="charge_w",
            what="Charger setting (W)",
            unit="W",
            expected=x.source.charge_w,
            within=1,
            fails="Its circuit isn't rated for more.",
        )
    if station.auto_off_below_w:
        yield TestLine(
            id="auto_off",
            what="Auto-off is turned off",
            fails="A small load at night won't keep it on.",
        )
    if any(e.automatic for e in x.by_device.values()):
        yield TestLine(
            id="transfer",
            what="It switches to backup by itself, and keeps the planned share for outages",
            fails="Without this, it never switches to backup.",
        )


def _of_gear(each: Sequence[Part]) -> Iterator[Procedure]:
    first = each[0]
    gear = first.equipments
    if any((e.automatic and not e.traits.passed_on) or e.in_panel for e in gear.values()) or any(
        len(x.station.legs) > 1 for x in each
    ):
        yield Procedure(
            id="legs",
            order=5,
            title="Legs and sensors",
            who="qualified",
            why="Crossed legs put 240 V on circuits that share a neutral. A reversed sensor makes the station charge "
            "when it should supply power.",
            cautions=("Only the licensed electrician works inside the panel. You read out the list.",),
            lines=(
                TestLine(
                    id="legs",
                    what="Leg continuity from source to panel recorded, 1 to A and 2 to B",
                    fails="Don't close any breaker until the electrician has fixed it.",
                ),
                *(
                    (
                        TestLine(
                            id="sensors",
                            what="Each sensor on its own leg, its arrow as its manual says. With a known load on one "
                            "leg at a time, the display shows that load, as a draw, on that leg",
                            fails="Have the electrician turn or swap it and test again.",
                        ),
                    )
                    if any(e.automatic and not e.traits.passed_on for e in gear.values())
                    else ()
                ),
            ),
        )
    yield from _one_circuit(each)
    yield from _proven(each)


def _one_circuit(each: Sequence[Part]) -> Iterator[Procedure]:
    light = [f for x in each for f in x.fed if not f.assumed and f.load.purpose != "life" and not f.load.must_not_blink]
    if light:
        least = min(light, key=lambda f: f.load.start_extra_va + f.load.run_w)
        yield Procedure(
            id="one_circuit",
            order=8,
            title="One circuit first",
            why="Test with the circuit that matters least, in case of a fault.",
            cautions=("Follow the card to backup and back.",),
            lines=(
                TestLine(
                    id="over",
                    what=f"{least.load.name} switches to backup and works",
                    fails="Switch back to the grid, and find the cause before the next test.",
                ),
                TestLine(
                    id="watts",
                    what="Watts on the station's display",
                    unit="W",
                    expected=least.load.count * least.load.run_w,
                    within=max(15.0, 0.5 * least.load.count * least.load.run_w),
                    fails="If much higher, something else is on this circuit, or its label is wrong.",
                ),
                TestLine(id="back", what="And back to the grid", fails="See the card."),
            ),
        )


def _proven(each: Sequence[Part]) -> Iterator[Procedure]:
    promised = [x for x in each if x.station.promised]
    for x in promised:
        yield Procedure(
            id=f"proven@{x.source.id}",
            order=9,
            title=f"{x.station.name}: activation proven",
            why=(
                f"So far this is only a promise: {x.station.promised}. It isn't counted until someone has seen it work."
            ),
            lines=(
                TestLine(
                    id="works",
                    what="It does what the manufacturer promises",
                    fails="Leave it out of every plan.",
                ),
            ),
        )
    watts = sum(float(f.watts(TYPICAL_DAYS).mean()) for x in each for f in x.fed if not f.assumed)
    yield Procedure(
        id="proven",
        order=10,
        title="Everything proven",
        why="The tests end with one hour on backup power.",
        cautions=("Medical gear on a second supply for this hour.",),
        lines=(
            TestLine(
                id="hour",
                what="One hour on backup power with every planned load on",
                fails="Switch back to the grid. The line that failed says why.",
            ),
            TestLine(
                id="watts",
                what="Average watts on its display over the hour",
                unit="W",
                expected=watts,
                within=0.5 * watts,
                fails="If it is much more, find out what else is on. If it is much less, find out what is off.",
            ),
        ),
    )
