"""The run card: one page, taped to the panel, for whoever stands before it with a flashlight."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from imbuto.core.advice.headline import count_on
from imbuto.core.advice.verdict import Verdict
from imbuto.core.basics.measures import hour_text
from imbuto.core.basics.units import clock_text, hours_text
from imbuto.core.home.household import ContactRole
from imbuto.core.outages.checkpoints import checkpoints, first_off
from imbuto.core.plan.stop_level import stop_level
from imbuto.core.run.food_warming import FREEZER, box_of
from imbuto.core.run.run_switching import minutes_to_act
from imbuto.core.switching.card_steps import IN_SHORT, CardStep
from imbuto.core.switching.running_acts import running_acts
from imbuto.core.switching.switch_model import switching_model
from imbuto.core.switching.switching_cards import STOPS, Card
from imbuto.formats.printing.paper import Bullets, NumberedSteps, Paragraph, Sheet, SheetPart, TableRows
from imbuto.services.outages.switching_views import cards_of
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest, lacks_station

BLANK = "________________"
CALLS: dict[ContactRole, str] = {
    "emergency": "Fire department, ambulance",
    "utility": "Utility",
    "electrician": "Electrician",
    "doctor": "Doctor",
    "supplier": "Supplier of the medical device",
    "neighbour": "Neighbour",
}
ALWAYS: tuple[ContactRole, ...] = ("emergency", "utility", "electrician")
NEVER = ("A cord with two plugs, or any cord into a wall outlet.", "An engine indoors, in a garage or under a window.")
MANY_OFF = 4  # breakers: more are not named twice on one page
OFTEN = 3  # steps that say the same: it is said once, under them


def run_card(a: SheetRequest) -> Sheet:
    """One page: what is first, going over, coming back, what then."""
    parts = [
        SheetPart("First: if any of these is true, touch nothing", (Bullets(STOPS, boxed=True),)),
        SheetPart(
            "How long the power lasts",
            (TableRows(("station", "count on", "expected"), tuple(lasts(a))), Paragraph(_doors(a))),
        ),
    ]
    cards = cards_of(a.planner, a.home_id, a.plan.id)
    hands = Counter(s.by for card in cards for s in card.steps if s.by)
    usual = next(iter(hands.most_common(1)), ("", 0))[0]
    off = stays_off(a, cards)
    parts.append(SheetPart("Never on while on backup power", (Bullets((*off, *NEVER), boxed=True),)))
    parts += [_part(card, usual) for card in cards]
    acts = running_acts(a.parts)
    if acts:
        parts.append(SheetPart("During the outage (the hours depend on this)", (Bullets(tuple(acts)),)))
    parts += through_the_day(a)
    parts += [
        SheetPart("By night", (Bullets(tuple(_night(a))),)),
        SheetPart("When no one is home", (Bullets(tuple(_nobody(a))),)),
        SheetPart("Who to call", (TableRows(("", ""), tuple(calls(a))),)),
    ]
    who = f" Who switches unless noted: {usual}." if len(hands) > 1 else f" Hands: {usual}." if usual else ""
    return a.sheet(
        "run-card", "Run card", (f"{a.plan.name}.{who} ✓ shows how you know that it worked."), *parts, card=True
    )


def lasts(a: SheetRequest) -> list[tuple[str, str, str]]:
    """Each station: its name, the hours to count on, the expected ones; where it doesn't fit, why."""
    answer = a.planner.answer_of(a.home_id, a.plan.id, a.outage_id)
    if not answer.fits:
        return [(", ".join(_stations(a)) or "no station yet", answer.words, "")]
    found = []
    for v in answer.stations:
        if v.run is not None and v.band is not None:
            health = any(f.load.purpose == "life" for f in v.part.fed)
            label, hours, probably = count_on(v.band.low_h, v.run.hours, v.run.steps.hours, health=health)
            found.append((v.part.station.name, hours if v.band.low_h is not None else f"{label} {hours}", probably))
    return found or [("no station yet", answer.words, "")]


def through_the_day(a: SheetRequest) -> list[SheetPart]:
    """The charge to expect by the hour, and what to switch off where it is less."""
    each = [(v, checkpoints(v.run)) for v in a.planner.answer_of(a.home_id, a.plan.id, a.outage_id).stations if v.run]
    rows = tuple(
        (
            f"{hours_text(c.hours)}, such as {clock_text(c.at)}",
            v.part.station.name,
            f"{100 * c.expected:.0f}%",
            f"{100 * c.least:.0f}%",
            "______ %",
        )
        for v, points in each
        for c in (points if len(each) == 1 else points[:2])
    )
    if not rows:
        return []
    off = {name: None for v, _ in each for name in first_off(v.part)[:2]}
    less = f"If lower, switch off {', then '.join(off)}." if off else "If it is lower, check what else is on."
    table = TableRows(("after", "station", "should show about", "at least", "read"), rows)
    waits = [Paragraph(text) for v, _ in each if (text := _minutes_to_start(v))]
    return [SheetPart("Through the day", (table, Paragraph(less), *waits), spare=True)]


def _minutes_to_start(v: Verdict) -> str:
    """How long there is from the charge at which the generator starts until the station shuts off."""
    made, use, run = v.part.generator, v.part.plan.engine, v.run
    if made is None or use is None or run is None:
        return ""
    minutes = minutes_to_act(made, v.part, run.average_w, run.store.available_wh)
    if minutes is None:
        return ""
    low, stop, name = f"{100 * use.start_at:.0f}%", f"{100 * stop_level(v.part):.0f}%", v.part.station.name
    if minutes < 1:
        return f"{name} shuts off at {stop}, and that is where {made.name} starts, so start it sooner."
    lasts = hours_text(minutes / 60)
    return f"From {low}, where {made.name} starts, to {stop}, where {name} shuts off, takes about {lasts}."


def _stations(a: SheetRequest) -> list[str]:
    return list(dict.fromkeys(x.station.name for x in a.parts if x.fed))


def _doors(a: SheetRequest) -> str:
    cold = [x for x in a.documents.home.loads.values() if x.purpose == "food" and x.kind == "compressor"]
    shut = (
        f"Keep doors closed: {', '.join(x.name for x in sorted(cold, key=lambda x: box_of(x) is not FREEZER))}. "
        if cold
        else ""
    )
    return shut + "Out since ______  runs out about ______. Write down the time."


def stays_off(a: SheetRequest, cards: list[Card]) -> list[str]:
    """What is off or out once everything has gone over, by name: the breakers that stay off, the main, the charging
    cords."""
    over = next((c for c in cards if c.kind == "over"), None)
    if over is None:
        return []
    ends = {part: to for s in over.steps for part, to in s.moves}
    named = switching_model(a.parts).parts
    out = [
        named[p].name
        for p, to in ends.items()
        if to.lower() in ("off", "out") and p in named and not (over.off and p.startswith("b:"))
    ]
    named_once = next((n for n, step in enumerate(over.steps, 1) if over.off and over.off[0] in step.what), 0)
    many = len(over.off) > MANY_OFF and named_once
    breakers = f"The breakers opened in step {named_once}." if many else f"{', '.join(over.off)}."
    return [f"{name}." for name in dict.fromkeys(out)] + ([breakers] if over.off else [])


def _part(card: Card, usual: str) -> SheetPart:
    """One card: what is said at every step is said once."""
    if card.refused:
        return SheetPart(card.title, (Paragraph(card.refused, strong=True),))
    said = Counter(t for s in card.steps if not s.short for t in {s.proof, _tail(s.proof)} if t)
    often = [t for t, n in said.items() if n >= OFTEN]
    steps, where = [], ""
    for s in card.steps:
        steps.append(_step(s, by=s.by if s.by != usual else "", where=s.where if s.where != where else "", often=often))
        where = s.where
    often = [*often, *([IN_SHORT] if any(s.short for s in card.steps) else [])]
    return SheetPart(
        card.title, (NumberedSteps(tuple(steps)), *(Paragraph(f"At each ✓ {t}", strong=True) for t in often))
    )


def _tail(proof: str) -> str:
    """Its last sentence, where it has more than one."""
    head, _, tail = proof.partition(". ")
    return tail if head and tail else ""


def _step(s: CardStep, *, by: str, where: str, often: list[str]) -> tuple[str, tuple[tuple[str, str], ...]]:
    tail = _tail(s.proof)
    proof = (
        s.short
        if s.short
        else ""
        if s.proof in often
        else s.proof.removesuffix(tail).strip()
        if tail in often
        else s.proof
    )
    said = (("at", where), ("by", by), ("✓", proof), ("leave:", s.leave))
    return s.what, tuple((word, text) for word, text in said if text)


def _night(a: SheetRequest) -> Iterator[str]:
    home, plan = a.documents.home, a.plan
    life = [x for x in home.loads.values() if x.purpose == "life"]
    for x in life:
        own = f", it runs {hours_text(x.own_battery_h)} by itself" if x.own_battery_h else ""
        yield f"{x.name} first{own}. Then the person who needs it, then the panel."
    able = [p.name for p in home.household.people.values() if p.can_switch]
    who = " or ".join(able) if able else "anyone who can switch"
    yield f"Turn on a lamp before you switch anything. Wake {who}. Never switch alone and half asleep."
    if plan.asleep and not _by_itself(a):
        times = ", ".join(f"{hour_text(w.start_h)} to {hour_text(w.end_h)}" for w in plan.asleep)
        yield f"From {times} no one notices: circuits that you switch by hand stay off until someone wakes up."


def _by_itself(a: SheetRequest) -> bool:
    gear = [p.equipment for x in a.each for p in x.ports if p.device is not None]
    return bool(gear) and all(e.automatic for e in gear)


def _nobody(a: SheetRequest) -> Iterator[str]:
    home = a.documents.home
    if _by_itself(a):
        names = ", ".join(_stations(a)) or "the station"
        yield (
            f"The gear switches to backup by itself; {names} has the charge you left. No "
            "one switches anything from outside."
        )
    else:
        yield "Nothing switches to backup until someone comes: everything is off from the first minute."
    away = [p.name for p in home.household.people.values() if p.where != "home" and p.can_switch]
    yield (
        f"Who can come: {' or '.join(away) if away else BLANK}. Anyone who comes should come by day and read "
        "the box at the top first."
    )
    yield "Judge food by a thermometer and by how long it was warm, never by its smell."


def calls(a: SheetRequest) -> list[tuple[str, str]]:
    """Who is called for what; a blank to fill in where nobody is entered."""
    kept = a.documents.home.household.contacts.values()
    rows = [
        (f"{CALLS.get(c.role, c.role.capitalize())}: {c.name}" if c.role != "other" else c.name, c.phone or BLANK)
        for c in kept
    ]
    known = {c.role for c in kept}
    wanted = [*ALWAYS, *(("supplier",) if any(x.purpose == "life" for x in a.documents.home.loads.values()) else ())]
    return rows + [(CALLS[role], BLANK) for role in wanted if role not in known]


def _no_hands(a: SheetRequest) -> list[str]:
    able = [p for p in a.documents.home.household.people.values() if p.can_switch]
    return [] if able else ["who switches (Needs and people)"]


KIND = SheetKind(
    "run-card",
    "Run card",
    "Taped to the panel: to backup, back to the grid, low battery",
    "the person who switches",
    run_card,
    lambda a: [*lacks_station(a), *_no_hands(a)],
)
