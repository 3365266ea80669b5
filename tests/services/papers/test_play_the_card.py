"""Play the card: do exactly what its text says, and nothing else, and the promised hours come.

A reader knows what is connected where, as the labels at the panel say, and nothing of what the plan does along the
way: who takes turns, when a generator runs, what leaves and when, which input is whose at night. All of that it takes
from the words of the card."""

from __future__ import annotations

import io
import re
from dataclasses import replace

import pytest
from pypdf import PdfReader

from imbuto.core.advice.answer import judge
from imbuto.core.basics.clock import Window
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.everyday.ordinary_start import as_left
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.sources import AwayTimes, SetOut
from imbuto.core.plan.system import Part, resolve
from imbuto.core.switching.running_acts import running_acts
from imbuto.formats.documents import HOME, OUTAGE, PLAN
from imbuto.services.desk.demo import DEMO_HOMES
from imbuto.services.desk.judging import Documents
from imbuto.services.papers.sheet_registry import as_pdf, page
from tests.breadth import breadth
from tests.core.run.test_several import KIT, bank_turns_some, left_on_some, random_several, sets_out_some
from tests.demo import demo_copy
from tests.support import random_plan

CLOCK = r"(\d{1,2})(?::(\d\d))?\s*(am|pm)?"
SPAN = rf"{CLOCK} to {CLOCK}( on weekdays| at weekends)?"
HOURS = r"(?:(\d+) d ?)?(?:(\d+) h ?)?(?:(\d+) m(?:in)?)?"
ENDS = "Through the day|By night|When no one is home|Who to call"


def hour(h: str, minutes: str | None, half: str | None) -> float:
    at = int(h) % 12 + (12 if half == "pm" else 0) if half else int(h)
    return at + int(minutes or 0) / 60


def windows(text: str) -> tuple[Window, ...]:
    days = {"": "all", " on weekdays": "weekday", " at weekends": "weekend"}
    found = []
    for m in re.finditer(SPAN, text):
        start, end = hour(m[1], m[2], m[3]), hour(m[4], m[5], m[6])
        found.append(Window(start_h=start, end_h=end, days=days[m[7] or ""]))
    return tuple(found)


def length(text: str) -> float:
    m = re.match(HOURS, text)
    return 24 * int(m[1] or 0) + int(m[2] or 0) + int(m[3] or 0) / 60


def untold(plan: Plan) -> Plan:
    """The plan as it is connected, without what is done along the way."""
    return replace(
        plan,
        feeds={
            k: replace(f, stance="keep_on", windows=(), share=0.5, turn_by="clock", above=0.5)
            for k, f in plan.feeds.items()
        },
        sources={k: replace(s, away=None, swap_at=0.0) for k, s in plan.sources.items()},
        banks={k: replace(b, by="always", windows=(), below_w=50) for k, b in plan.banks.items()},
        arrays={k: replace(a, set_out=None) for k, a in plan.arrays.items()},
        engine=None,
    )


class Player:
    """Does what a card says."""

    def __init__(self, plan: Plan, parts: tuple[Part, ...]) -> None:
        self.plan, self.parts = untold(plan), parts
        self.full = plan  # only for the make of a generator and what it is connected to, which stand on its label
        self.names = {x.target_names[f]: f for x in parts for f in x.plan.feeds if f in x.target_names}
        self.stations = {}
        for x in parts:
            self.stations.setdefault(x.station.name, []).append(x.source.id)

    def feed(self, name: str, **change: object) -> None:
        ident = self.names[name]
        feeds = self.plan.feeds | {ident: replace(self.plan.feeds[ident], stance="turns", **change)}
        self.plan = replace(self.plan, feeds=feeds)

    def source(self, ident: str, **change: object) -> None:
        sources = self.plan.sources | {ident: replace(self.plan.sources[ident], **change)}
        self.plan = replace(self.plan, sources=sources)

    def play(self, said: str) -> str:
        """Take act by act; what is left over was not understood."""
        names = "|".join(sorted(map(re.escape, self.names), key=len, reverse=True)) or "$^"
        stations = "|".join(sorted(map(re.escape, self.stations), key=len, reverse=True))

        def take(pattern: str, act) -> None:
            nonlocal said
            while m := re.search(pattern, said):
                act(m)
                said = said[: m.start()] + said[m.end() :]

        take(r"Some stations look alike\. Write these letters on them: [^.]+\.", lambda m: None)

        def turns(m: re.Match[str]) -> None:
            for one in re.finditer(rf"({names}) ((?:{SPAN}(?:, )?)+)", m[1]):
                self.feed(one[1], turn_by="clock", windows=windows(one[2]))

        take(rf"On only at these times: ((?:(?:{names}) (?:{SPAN}(?:, )?)+(?:; )?)+)\.", turns)
        take(
            rf"({names}): on only while (?:{stations}) shows more than (\d+)%\.",
            lambda m: self.feed(m[1], turn_by="charge", above=int(m[2]) / 100),
        )
        take(
            rf"({names}): on only while more comes in from the sun than goes out\.",
            lambda m: self.feed(m[1], turn_by="sun"),
        )
        take(
            rf"({names}): on for (\d+) minutes of each hour, off for the rest\.",
            lambda m: self.feed(m[1], turn_by="clock", share=int(m[2]) / 60),
        )
        take(
            rf"({stations}) waits: when ({stations}) shows (\d+)%, put the cord from (?:{stations}) into (?:{stations})\.",
            lambda m: self.source(
                next(k for k in self.stations[m[1]] if self.plan.sources[k].after), swap_at=int(m[3]) / 100
            ),
        )
        away: dict[str, AwayTimes] = {}

        def leaves(m: re.Match[str]) -> None:
            away[m[1]] = AwayTimes(from_h=length(m[2]), for_h=length(m[3]), back_with=int(m[4]) / 100)

        def gone(m: re.Match[str]) -> None:
            away[m[1]] = replace(away.get(m[1], AwayTimes(windows=(), from_h=0, for_h=0)), windows=windows(m[2]))

        back = r"What it powers is off meanwhile\."
        take(
            rf"({stations}) leaves ([\d hmind]+) after the power went out and is back after ([\d hmind]+), "
            rf"with (\d+)%\. {back}",
            leaves,
        )
        take(rf"({stations}) is away ((?:{SPAN}(?:, )?)+)\. {back}", gone)
        for name, times in away.items():
            self.source(next(k for k in self.stations[name] if self.full.sources[k].away), away=times)
        take(
            r"Solar input \d+ of [^:]+: (.+?) by night, .+? by day\. Change the plug at dusk and at dawn\. "
            r"First cover .+?, or open its disconnect\.",
            lambda m: self.bank(m[1], by="night"),
        )
        cover = r" First cover .+?, or open its disconnect\."
        take(
            r"Solar input \d+ of [^:]+: (.+?) while .+? brings less than (\d+) W, .+? otherwise\. Change the plug by the "
            rf"display\.{cover}",
            lambda m: self.bank(m[1], by="low_sun", below_w=int(m[2])),
        )
        take(
            rf"Solar input \d+ of [^:]+: ([^.]+?) ((?:{SPAN}(?:, )?)+), (?:by its timer\.|[^.]+? otherwise\. Change the "
            rf"plug at these times\.{cover})",
            lambda m: self.bank(m[1], by="hours", windows=windows(m[2])),
        )

        def set_out(m: re.Match[str]) -> None:
            array = next(k for k, a in self.full.arrays.items() if a.name == (m["folds"] or m["fixed"]))
            at, until = (hour(*re.fullmatch(CLOCK, m[k]).groups()) for k in ("at", "until"))  # type: ignore[union-attr]
            out = SetOut(from_h=at, to_h=until, shut_in_wind=m["wind"] is not None)
            self.plan = replace(
                self.plan, arrays=self.plan.arrays | {array: replace(self.plan.arrays[array], set_out=out)}
            )

        take(
            rf"Every day at (?P<at>{CLOCK})(?:, [^:]+)?: (?:set (?P<folds>.+?) out, facing \w+ and \d+° up from flat, and plug "
            rf"it|plug (?P<fixed>.+?)) into (?:solar input \d+ of (?:{stations})|the controller of [^.]+)\. (?:Take it in|Unplug it) at "
            rf"(?P<until>{CLOCK})\.(?P<wind> In wind .+? in a storm\.)?",
            set_out,
        )
        take(r"Set .+? out by day, facing \w+ and \d+° up from flat\. Bring it in .+? in a storm\.", lambda m: None)
        take(
            rf"(?:Start (?P<by_hand>.+?) when (?:{stations}) shows (?P<low>\d+)%, and (?:stop it at (?P<high>\d+)%|"
            rf"let it run)|(?P<by_itself>[^.]+?) starts by itself when (?:{stations}) is down to (?P<down>\d+)%, and stops "
            rf"at (?P<up>\d+)%|(?P<carries>[^.]+?) starts by itself when (?:{stations}) is down to (?P<least>\d+)%, and runs "
            rf"on)(?P<when>, only (?:{SPAN}(?:, )?)+)?\."
            r"(?P<night> If that would be at night, start it before you go to bed\.)?"
            rf"(?: What is left of its power charges (?P<others>[^.]+)\.)? Outside, .+? "
            r"Fuel available: (?P<fuel>[\d.,]+) (?P<unit>gal|l)\.",
            self.engine,
        )
        take(
            r"You haven't entered anyone at home who can start .+? The hours assume that someone does\.",
            lambda m: None,
        )
        return said.strip()

    def bank(self, name: str, **change: object) -> None:
        ident = next(k for k, b in self.plan.banks.items() if b.name == name)
        self.plan = replace(self.plan, banks=self.plan.banks | {ident: replace(self.plan.banks[ident], **change)})

    def engine(self, m: re.Match[str]) -> None:
        made = self.full.engine
        low, high = m["low"] or m["down"] or m["least"], m["high"] or m["up"]
        fuel = float(m["fuel"].replace(",", "")) * (3.785411784 if m["unit"] == "gal" else 1)
        assert fuel == pytest.approx(made.stock_l, rel=0.06, abs=0.2)  # told to a tenth
        others = [k for name in re.split(", then ", m["others"] or "") if name for k in self.stations[name]]
        self.plan = replace(
            self.plan,
            engine=replace(
                made,
                school="fill" if high else "carry",
                start_at=int(low) / 100,
                stop_at=int(high) / 100 if high else made.stop_at,
                windows=windows(m["when"] or ""),
                also=tuple(k for k in made.also if k in others),
            ),
        )


def acts_in(card: str) -> str:
    """What is done while it runs."""
    if "During the outage (the hours depend on this)" not in card:
        return ""
    return re.split(ENDS, card.partition("During the outage (the hours depend on this)")[2], maxsplit=1)[0].strip()


def played(documents, plan: Plan, outage, said: str):
    """The answer of what a reader of the card does. Fails where the card says what nobody can follow."""
    parts = resolve(documents.home, plan, documents.catalogue).parts
    player = Player(plan, parts)
    left = player.play(said)
    assert left == "", (plan.id, left)
    return judge(documents.home, player.plan, outage, documents.catalogue, with_moves=False)


def same(a: float | None, b: float | None) -> bool:
    return a == b if a is None or b is None else abs(a - b) <= 5 / 60 + 1e-6


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("played"))
    yield planner
    planner.database.close()


@pytest.mark.parametrize("home", DEMO_HOMES)
def test_following_the_printed_card_gives_the_hours_it_promises(planner, home):
    documents = planner.documents(planner.state(home))
    tried = 0
    for plan in documents.plans.values():
        for outage in list(documents.outages.values())[: breadth(1, 9)]:
            promised = planner.answer_of(home, plan.id, outage.id)
            if promised.run is None:
                continue
            begun = as_left(documents.home, plan, outage, documents.catalogue, documents.outages.values())
            lived = played(documents, plan, begun, printed_acts(planner, home, plan.id, outage.id))
            for a, b in zip(lived.stations, promised.stations, strict=True):
                assert same(a.run.hours, b.run.hours), (plan.id, outage.id, a.run.hours, b.run.hours)
            tried += 1
    assert tried >= 1


def printed_acts(planner, home: str, plan: str, outage: str) -> str:
    """What is done while it runs, as the text of the printed card has it."""
    pdf = as_pdf(page(planner, home, plan, outage, "run-card", fonts="file"))
    printed = " ".join(" ".join(p.extract_text() for p in PdfReader(io.BytesIO(pdf)).pages).split())
    return acts_in(re.sub(r"\s*•\s*", " ", printed))


def generated(seed: int):
    """A home with a plan that has something to do along the way, and an outage."""
    home, plan, outage = random_several(seed) if seed % 2 else random_plan(seed)
    if not home.catalogue.stations:
        home = replace(home, catalogue=KIT)
    return home, sets_out_some(bank_turns_some(left_on_some(plan, seed), seed), seed), outage


def test_following_the_printed_card_of_a_generated_plan_gives_the_hours_it_promises(planner):
    followed = 0
    for seed in range(breadth(4, 200)):
        home, plan, outage = generated(seed)
        state = planner.add(HOME.write(home), [PLAN.write(plan)], [OUTAGE.write(outage)])
        documents = planner.documents(planner.state(state.id))
        promised = planner.answer_of(state.id, plan.id, outage.id)
        if any(a.run is not None for a in promised.stations):
            begun = as_left(documents.home, plan, outage, documents.catalogue, documents.outages.values())
            lived = played(documents, plan, begun, printed_acts(planner, state.id, plan.id, outage.id))
            for a, b in zip(lived.stations, promised.stations, strict=True):
                if a.run is not None and b.run is not None:
                    assert same(a.run.hours, b.run.hours), (seed, a.part.source.id, a.run.hours, b.run.hours)
            followed += 1
    assert followed >= breadth(2, 150)


def test_following_the_card_of_a_generated_plan_gives_the_hours_it_promises():
    """The words of the card, without its paper."""
    changed = 0
    for seed in range(breadth(30, 200)):
        home, plan, outage = generated(seed)
        documents = Documents(home, {plan.id: plan}, {outage.id: outage}, home.catalogue.over(shipped()), str(seed))
        parts = resolve(documents.home, plan, documents.catalogue).parts
        promised = judge(documents.home, plan, outage, documents.catalogue, with_moves=False)
        lived = played(documents, plan, outage, " ".join(running_acts(parts)))
        for a, b in zip(lived.stations, promised.stations, strict=True):
            if a.run is not None and b.run is not None:
                assert same(a.run.hours, b.run.hours), (seed, a.part.source.id, a.run.hours, b.run.hours)
        none = judge(documents.home, untold(plan), outage, documents.catalogue, with_moves=False)
        changed += not all(
            same(a.run.hours, b.run.hours)
            for a, b in zip(none.stations, promised.stations, strict=True)
            if a.run is not None and b.run is not None
        )
    assert changed > breadth(6, 50)  # the words mattered
