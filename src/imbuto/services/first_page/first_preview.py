"""Answer a newcomer while the questions are still being filled in; nothing is kept."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from imbuto.core.advice.answer import Answer, judge
from imbuto.core.advice.headline import Headline, headline, life_losses
from imbuto.core.basics.measures import speak_in
from imbuto.core.basics.units import clock_text, number_text, until
from imbuto.core.equipment.power_station import Station
from imbuto.core.run.run import Run
from imbuto.services.desk.run_views import Span, Tick, strips, ticks
from imbuto.services.desk.verdict_views import measure_view
from imbuto.services.first_page.first_answers import FirstHome, first_home, length_words, setting_of
from imbuto.services.first_page.first_path import PathStep, first_path, in_sentence, size_example
from imbuto.services.first_page.first_plan import first_plan
from imbuto.services.first_page.first_questions import OWN_NAME, Answers, Climate, Season
from imbuto.services.first_page.tried_sizes import TriedSize, proposed, tried_sizes

STANDBY_W = 2.0  # a load that draws no more isn't in use
MOST_FREE = 3  # steps that cost nothing
# What a station's label leaves out, as the page names it.
ASSUMED = {"outlet_a": "outlets {} A", "idle_w": "own draw {} W", "surge_va": "for a start {} VA"}


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadBar:
    """Show when one load has power, in elapsed hours of the outage."""

    name: str
    spans: list[Span]


@dataclass(frozen=True, slots=True, kw_only=True)
class StepLine:
    """Offer one step. hours_gained: 0 or more; what measuring gains is a narrower answer."""

    label: str
    hours_gained: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PackageLine:
    """Show one size of station that can be bought.

    size: ``about 2 kWh, 120 V``; example: a made-up station of that size, with its modules
    low_hours: 9-in-10 hours, None where still on at the end
    short_of: why it doesn't reach the goal, in words that follow the hours; empty where it does
    switch: the transfer switch that goes with it, empty for none; price is with it, without the work
    runs: what it runs
    grows: what can be added to it later, empty for nothing
    chosen: whether the answer is for this one
    """

    station: str
    modules: int
    size: str
    example: str
    switch: str
    price: Decimal
    currency: str
    low_hours: float | None
    simulated_h: float
    short_of: str
    fits: bool
    runs: str
    grows: str
    chosen: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstPreview:
    """Answer what has been filled in so far.

    setting: in which outage, and with which station
    said: the answer in a sentence
    notes: what stands in its way, or what to find out, each a sentence
    assumed: what the station's label leaves out, and what is taken for it
    horizon_h: the hours that the bars span; count_on_h: 9-in-10 hours, None where still on at the end
    measure: the load to measure first, None where nothing is to be gained
    path: how to begin small and grow, keeping what was bought; empty where there is no such way
    place, place_unknown: where the home is taken to be, and the town that isn't in the table
    """

    setting: str
    said: str
    notes: list[str]
    assumed: str
    bars: list[LoadBar]
    ticks: list[Tick]
    horizon_h: float
    count_on_h: float | None
    reaches: bool
    free: list[StepLine]
    measure: StepLine | None
    packages: list[PackageLine]
    path: list[PathStep]
    place: str
    place_unknown: str
    climate: Climate
    season: Season


def first_preview(answers: Answers, today: date) -> FirstPreview:
    """Answer a newcomer's questions. Raises UnknownReference, InvalidValue."""
    first, at = first_home(answers, today), setting_of(answers)
    speak_in(first.home.site.in_measures)
    sizes = tried_sizes(first) if first.corded else []
    plan = first_plan(first, answers)
    answer = judge(first.home, plan, first.outage, first.catalogue)
    run = answer.run
    goal = first.outage.goal_hours
    own = answers.own is not None
    return FirstPreview(
        setting=_setting(answers, at.season),
        said=_said(answer),
        notes=_notes(answer, first),
        assumed=_assumed(answer) if own else "",
        bars=_bars(run, goal) if run else [],
        ticks=ticks(run, goal) if run else [],
        horizon_h=goal,
        count_on_h=answer.low_h,
        reaches=answer.reaches,
        free=_free(answer),
        measure=_measure(answer),
        packages=_packages(sizes, answers, first, own=own),
        path=first_path(first, sizes, answer if own else None),
        place=at.place,
        place_unknown=at.unknown,
        climate=at.climate,
        season=at.season,
    )


def _setting(answers: Answers, season: Season) -> str:
    words = length_words(answers.hours, season)
    within = f"In {words}" if answers.hours > 14 else f"In {'an' if words.startswith('8') else 'a'} {words}"
    if answers.own is None:
        return within
    return f"{within}, on {'your power station' if answers.own.name == OWN_NAME else answers.own.name}"


def _said(answer: Answer) -> str:
    """Say the answer in a sentence or two, as the verdict does."""
    if not answer.home.loads:
        return "Choose what has to keep running."
    said: Headline = headline(answer)
    if answer.run is None or not answer.fits:
        return f"{said.lead}."
    if answer.low_h is None:
        return f"Everything on it is still on after {said.figure}."
    start = answer.run.steps.start
    health = [x for x in life_losses(answer) if x.at is not None and x.off_h]
    count = f"Count on {said.figure} (9 times in 10)"
    if health:
        return f"{count}: {health[0].load.name} has power until at least {clock_text(health[0].at or start)}."
    probably = f", {said.probably}" if said.probably else ""
    return f"{count}{probably}: until at least {clock_text(until(start, answer.low_h))}."


def _notes(answer: Answer, first: FirstHome) -> list[str]:
    said, found = headline(answer), []
    if not answer.fits and answer.run is not None:
        found += [x.sentence for x in answer.limits if x.stops][:2]
        found += [f"{said.instead}."] if said.instead else []
    if said.may:
        found.append(said.may)
    found += [answer.needs(x) for x in answer.unfed]
    corded = [f for f in answer.plan.feeds.values() if f.load]
    places = [f.place for f in corded]
    shared = {p for p in places if places.count(p) > 1}
    names = [first.home.loads[f.id].name for f in corded if f.place in shared]
    if names:
        found.append(f"There are fewer outlets than plugs, so you need a power strip for {_listed(names)}.")
    return found


def _listed(names: list[str]) -> str:
    return " and ".join([", ".join(names[:-1]), names[-1]]) if len(names) > 1 else names[0]


def _assumed(answer: Answer) -> str:
    if answer.lead is None:
        return ""
    part = answer.lead.part
    said = [
        words.format(number_text(getattr(part.unit, name))) for name, words in ASSUMED.items() if name in part.assumed
    ]
    return f"Not entered, so assumed: {' · '.join(said)}." if said else ""


def _bars(run: Run, until_h: float) -> list[LoadBar]:
    n = min(run.steps.n, round(until_h / run.steps.step_h))
    found = []
    for strip in strips(run, n):
        on = [p for p in strip.pieces if p.from_h < until_h and p.w > STANDBY_W]
        found.append(
            LoadBar(name=strip.name, spans=_joined([Span(from_h=p.from_h, to_h=min(p.to_h, until_h)) for p in on]))
        )
    return found


def _joined(spans: list[Span]) -> list[Span]:
    found: list[Span] = []
    for span in spans:
        if found and span.from_h - found[-1].to_h < 0.02:
            found[-1] = Span(from_h=found[-1].from_h, to_h=span.to_h)
        else:
            found.append(span)
    return found


def _free(answer: Answer) -> list[StepLine]:
    """Steps that cost nothing, the one that gains most first."""
    promises = [p for p in answer.widenings if p.price is None and p.hours_gained > 0 and not p.move.enter]
    each = sorted(promises, key=lambda p: -p.hours_gained)[:MOST_FREE]
    return [StepLine(label=_upper(p.move.label), hours_gained=p.hours_gained) for p in each]


def _measure(answer: Answer) -> StepLine | None:
    if not answer.measures:
        return None
    first = measure_view(answer.measures[0])
    label = f"{first.name}: a day on a plug-in meter"
    return StepLine(label=label, hours_gained=first.narrows_h) if first.narrows_h > 0 else None


def _packages(sizes: list[TriedSize], answers: Answers, first: FirstHome, *, own: bool) -> list[PackageLine]:
    """Offer at most three sizes: the proposed one, the best below it and the next above; next to one's own, the
    proposed one alone."""
    if not sizes:
        return []
    best = proposed(sizes)
    below = [i for i in range(best) if sizes[i].answer.fits]
    least = max(below, key=lambda i: sizes[i].rank) if below else None
    above = next((i for i in range(best + 1, len(sizes)) if sizes[i].rank > sizes[best].rank), None)
    shown = [best] if own else [i for i in (least, best, above) if i is not None]
    wanted = (answers.buy.station, answers.buy.modules) if answers.buy else None
    chosen = next((i for i in shown if (sizes[i].station.id, sizes[i].modules) == wanted), best)
    return [_package(sizes[i], first, chosen=not own and i == chosen) for i in shown]


def _package(size: TriedSize, first: FirstHome, *, chosen: bool) -> PackageLine:
    station, modules = size.station, size.modules
    left = [x.name for x in size.answer.unfed]
    return PackageLine(
        station=station.id,
        modules=modules,
        size=f"About {number_text(station.stored_wh(modules) / 1000)} kWh, {station.volts} V",
        example=size_example(station, modules),
        switch=in_sentence(size.switch.name) if size.switch else "",
        price=size.price,
        currency=station.currency,
        low_hours=size.answer.low_h,
        simulated_h=size.answer.simulated_h,
        short_of=size.short_of,
        fits=size.answer.fits,
        runs="everything you chose" if not left else f"everything but {_listed(left)}",
        grows=_grows(station, modules),
        chosen=chosen,
    )


def _grows(station: Station, modules: int) -> str:
    more = station.max_modules - modules
    if more <= 0:
        return ""
    price = f"{number_text(float(station.module_price))} {station.currency}"
    kinds = "more module" if more == 1 else "more modules"
    each = " each" if more > 1 else ""
    return f"Later it takes {more} {kinds} of {number_text(station.module_wh / 1000)} kWh for {price}{each}."


def _upper(text: str) -> str:
    return text[:1].upper() + text[1:]
