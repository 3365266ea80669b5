"""What each place of the funnel answers about the pair, in a sentence or two, and the act that helps most next.

Every figure comes from the answer or the rail, which the other places read too.
"""

from __future__ import annotations

from dataclasses import dataclass

from imbuto.core.advice.answer import Answer
from imbuto.core.advice.gives_out import glance
from imbuto.core.advice.headline import headline
from imbuto.core.basics.units import hours_text, kwh_text, number_text
from imbuto.core.plan.limit import Limit
from imbuto.services.desk.rail_figures import RailView

NEAR_PERCENT = 10  # room left below which a limit is named as nearly reached; planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceAnswer:
    """What a place answers.

    words: whole sentences
    next: the act that helps most next, in a few words; empty where there is none
    to: name of the page where it is done
    load: id of the load that it is about, empty for none
    """

    words: str
    next: str = ""
    to: str = ""
    load: str = ""


def place_answers(answer: Answer, rail: RailView) -> dict[str, PlaceAnswer]:
    """Answer for each place of the funnel: house, chosen, source, hours."""
    return {
        "house": _house(answer, rail),
        "chosen": _chosen(answer, rail),
        "source": _source(answer, rail),
        "hours": _hours(answer),
    }


def _house(answer: Answer, rail: RailView) -> PlaceAnswer:
    if not rail.loads:
        return PlaceAnswer(words="No loads are entered yet. What has to keep running?")
    words = f"The house uses {kwh_text(rail.house_wh_day)} per day."
    untraced = rail.circuits - rail.traced
    if untraced and rail.slots:
        words += " 1 circuit isn’t traced yet." if untraced == 1 else f" {untraced} circuits aren’t traced yet."
    guesses = sum(x.evidence == "guess" for x in answer.home.loads.values())
    if guesses:
        words += " 1 load is a guess." if guesses == 1 else f" {guesses} loads are guesses."
    if not answer.measures:
        return PlaceAnswer(words=words)
    most = answer.measures[0]
    return PlaceAnswer(
        words=words,
        next=f"Measure {most.load.name}: it decides about {hours_text(most.narrows_h)}",
        to="meters",
        load=most.load.id,
    )


def _chosen(answer: Answer, rail: RailView) -> PlaceAnswer:
    if answer.state in ("no_loads", "nothing_chosen"):
        return PlaceAnswer(words="This plan powers nothing yet.")
    used = f"{rail.places_used} of {rail.places} {rail.place_word} are used"
    day = f"What you power uses {kwh_text(rail.chosen_wh_day)} per day."
    if answer.lead is None:
        return PlaceAnswer(words=f"{day} No station powers it yet.", next="Choose a station", to="source")
    said = headline(answer)
    if not answer.fits:
        change = f"{said.instead}." if said.instead else ""
        weak = answer.neck.title if answer.neck else ""
        return PlaceAnswer(words=f"{answer.words}: {weak}. {change}".strip())
    fits = f"{used}. {said.may}" if said.may else f"{used}, and everything fits."
    near = _nearest(answer)
    left = f"{number_text(round(near.limit - near.used, 1))} {near.unit}" if near else ""
    room = f" {near.title} is nearly full: {left} left." if near else ""
    missing = f" {said.missing}." if said.missing else ""
    return PlaceAnswer(words=f"{fits} {day}{room}{missing}")


def _nearest(answer: Answer) -> Limit | None:
    """Find the limit with the least room left that a load more would reach."""
    near = [
        x
        for x in answer.limits
        if x.kind == "at_most"
        and x.ok
        and not x.counts
        and x.family != "place"
        and x.severity == "broken"
        and x.margin_percent is not None
        and x.margin_percent < NEAR_PERCENT
    ]
    return min(near, key=lambda x: x.margin_percent or 0.0, default=None)


def _source(answer: Answer, rail: RailView) -> PlaceAnswer:
    if answer.lead is None:
        needs = f" The goal needs about {kwh_text(answer.needs_wh)}." if answer.needs_wh else ""
        return PlaceAnswer(words=f"This plan has no station yet.{needs}")
    words = f"{rail.station} {'store' if rail.stations > 1 else 'stores'} {kwh_text(rail.nominal_wh)}."
    if not answer.fits or answer.run is None:
        return PlaceAnswer(words=words)
    bought = next((p for p in glance(answer.widenings) if p.price), None)
    if answer.reaches or bought is None:
        return PlaceAnswer(words=f"{words} {'That reaches' if answer.reaches else 'That doesn’t reach'} the goal.")
    gain = "it lasts to the end" if bought.never_dark else f"{hours_text(bought.hours_gained)} more"
    price = f"{number_text(float(bought.price or 0))} {answer.home.site.currency}"
    return PlaceAnswer(
        words=f"{words} That doesn’t reach the goal. {_sentence(bought.move.label)} is {gain}, for {price}."
    )


def _hours(answer: Answer) -> PlaceAnswer:
    said = headline(answer)
    if not said.figure:
        return PlaceAnswer(words=f"{said.lead}. {said.missing}".strip(" .") + ".")
    until = f", until {said.until}" if said.until else ""
    probably = f" ({said.probably})" if said.probably else ""
    parts = [said.may.rstrip("."), f"{said.lead}{until}{probably}", said.life, said.missing, _sentence(said.goal)]
    return PlaceAnswer(words=" ".join(f"{x}." for x in parts if x))


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:]
