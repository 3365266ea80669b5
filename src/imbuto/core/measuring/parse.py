"""The one text field: what people read off labels and meters, understood, echoed, or answered with what was meant.

No figure typed vanishes: each is in the echo or named as not taken. A suggestion keeps every figure and says what it comes to.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace
from datetime import date
from typing import Literal

from imbuto.core.basics.errors import ImbutoError, shown
from imbuto.core.basics.units import number_text
from imbuto.core.measuring.scan import Found, Misread, Token, in_figures, scan, to_number

ReadingKind = Literal["log", "meter", "rating", "spot", "yearly", "gauge", "levels", "start"]

W_PER_HP = 746.0
SERVICE_FACTOR = {"submersible": 1.5, "other": 1.15}  # planning defaults
MOTOR_EFFICIENCY_SMALL, MOTOR_EFFICIENCY_LARGE = 0.65, 0.75  # below 1 hp, from 1 hp; planning defaults
CHARGER_EFFICIENCY = 0.92  # battery over AC of a charger; planning default
LEAST_STEPS = 5  # of a gauge; fewer tell nothing
MOST_W = 50_000.0
MOST_HOURS = 8_784.0
PER_HOURS = {"hour": 1.0, "day": 24.0, "night": 24.0, "week": 168.0, "month": 730.5, "year": 8_766.0}
RANGE_SPREAD = 2.56  # sigmas from the low to the high of a guess


class NotUnderstood(ImbutoError):
    """A text that says nothing certain. suggestion: what was likely meant, to be sent back as it is; may be empty; other: a
    second thing it may mean."""

    kind = "not_understood"

    def __init__(self, field: str, value: object, rule: str, suggestion: str = "", other: str = "") -> None:
        super().__init__(field, value, rule)
        self.suggestion, self.other = suggestion, other

    @property
    def sentence(self) -> str:
        asked = "".join(
            f" {word} “{text}”? {comes_to(text)}"
            for word, text in (("Did you mean", self.suggestion), ("Or", self.other))
            if text
        )
        return f"{shown(self.value)}: {self.rule}.{asked}".rstrip()


def comes_to(suggestion: str) -> str:
    """What a suggestion would be understood as; empty where it wants another figure still."""
    try:
        return understand(suggestion).echo
    except NotUnderstood:
        return ""


@dataclass(frozen=True, slots=True)
class Understood:
    """What a text says. W and VA of one piece; hours over which energy_wh was counted; percent as read off a gauge.

    kind: how it was come by; name: words before the figures, a load's name perhaps; count: pieces, where it is said; all:
    whether average_w is of all pieces together, and of whole days; va: an upper bound of running VA; highest_w: the meter's
    highest, which bounds the running W and misses a start; high_w: what running may rise to; hours_a_day: so long a day it
    runs, or is plugged in; duty: share of the time it runs; spread: of a guess given as a range; load_percent: of a station's
    rating; room_c: °C of the room then; begins, ends: of a bill with dates, the last one out; in_wh: what came into
    the station meanwhile; step: of the gauge, points; echo: the
    same in plain words; notes: what to mind.
    """

    kind: ReadingKind
    name: str = ""
    count: int = 1
    counted: bool = False
    average_w: float | None = None
    all: bool = False
    run_w: float | None = None
    rest_w: float | None = None
    highest_w: float | None = None
    high_w: float | None = None
    start_va: float | None = None
    va: float | None = None
    power_factor: float | None = None
    energy_wh: float | None = None
    hours: float | None = None
    hours_a_day: float | None = None
    plugged: bool | None = None
    duty: float | None = None
    spread: float | None = None
    load_percent: float | None = None
    room_c: float | None = None
    from_percent: float | None = None
    to_percent: float | None = None
    begins: date | None = None
    ends: date | None = None
    in_wh: float = 0.0
    step: float = 1.0
    echo: str = ""
    notes: tuple[str, ...] = ()


def understand(text: str, volts: int = 120) -> Understood:
    """What a label or a reading says. volts: of the house, for suggestions only.

    Raises NotUnderstood with a sentence and, where it can, what was likely meant.
    """
    said = text.strip()
    if not said:
        raise NotUnderstood("reading", text, "type what the meter or the label says, such as 0.43 kWh in 6.5 h")
    if len(said) > 200:
        raise NotUnderstood("reading", said, "give one reading at a time, in fewer than 200 characters")
    if re.search(r"\bpeak\s*(?:hp|horsepower)|(?:hp|horsepower)\s*(?:peak|max)", said, re.IGNORECASE):
        raise NotUnderstood("reading", said, "peak hp is a sales figure; read V and A off the motor's own plate")
    dates = DATES.search(said)
    begins, ends = _days(said, dates) if dates else (None, None)
    plain = (
        said
        if dates is None or begins is None or ends is None
        else (f"{said[: dates.start()]}in {(ends - begins).days} days{said[dates.end() :]}")
    )
    try:
        found = scan(in_figures(plain))
    except Misread as error:
        raise NotUnderstood("reading", error.said, error.rule) from None
    found.house_volts = volts
    if found.negative:
        raise NotUnderstood("reading", said, "a load draws at least 0", re.sub(r"-\s*", "", said))
    for decide in (
        _percents, _gauge, _logged, _so_long_a_day, _energy, _slips, _motor, _cooling, _charger, _amps, _powers, _leftovers,
    ):  # fmt: skip
        try:
            result = decide(said, found)
        except NotUnderstood as error:
            raise NotUnderstood(
                error.field, said, error.rule, *_keeping(error, found.said, " ".join(found.name))
            ) from None
        if result is not None:
            told = _told(result, found)
            if begins is not None:
                told = replace(told, begins=begins, ends=ends, echo=f"{told.echo} From {begins} to {ends}.")
            return _checked(said, told)
    raise NotUnderstood("reading", said, "no figure with a unit is in it; try 950 W, or 0.43 kWh in 6.5 h")


DATES = re.compile(r"(?:\bfrom\s+)?(\d{4}-\d\d-\d\d)\s*(?:to|until|–|—|-|→)\s*(\d{4}-\d\d-\d\d)", re.IGNORECASE)


def _days(said: str, dates: re.Match[str]) -> tuple[date, date]:
    """The first day of a bill, and the day after its last. Raises NotUnderstood."""
    try:
        begins, ends = date.fromisoformat(dates[1]), date.fromisoformat(dates[2])
    except ValueError:
        raise NotUnderstood("reading", said, "a date is written as 2026-01-31") from None
    if not 0 < (ends - begins).days <= MOST_HOURS / 24:
        raise NotUnderstood("reading", said, "the second date comes after the first, by a year at most")
    return begins, ends


FIGURE = re.compile(r"\d+(?:[.,]\d+)*")


def _keeping(error: NotUnderstood, said: str, name: str) -> tuple[str, str]:
    """A suggestion that loses a figure is none."""
    typed = [to_number(x) for x in FIGURE.findall(said) if x.count(".") + x.count(",") < 2]

    def keeps(text: str) -> bool:
        there = [to_number(x) for x in FIGURE.findall(text) if x.count(".") + x.count(",") < 2]
        return all(x in there for x in typed)

    kept = [x for x in (error.suggestion, error.other) if x and keeps(x)]
    if name and kept:  # a load that was named stays named
        kept = [x if name.lower() in x.lower() else f"{name} {x}" for x in kept]
    return (kept[0] if kept else "", kept[1] if len(kept) > 1 else "")


def _fmt(value: float) -> str:
    return number_text(round(value, 1 if value >= 10 else 2)) if value >= 10 else f"{value:.3g}"


def _exact(value: float) -> str:
    """A figure as it was typed, near enough: it may not lose what it says."""
    return f"{value:,.6g}" if abs(value) >= 1000 else f"{value:.6g}"


def _hours(hours: float) -> str:
    return f"{_exact(hours * 60)} min" if hours < 1 and not (hours * 4).is_integer() else f"{_exact(hours)} h"


def _told(u: Understood, found: Found) -> Understood:
    """With the name, the count, the room's temperature, and what was not taken, named."""
    counted = found.count is not None and found.count.value.is_integer()
    room = found.take("c")
    fahrenheit = found.take("f") if room is None else None
    if fahrenheit is not None:
        room = (fahrenheit - 32) / 1.8
    echo = u.echo
    if counted and found.count is not None:
        found.count.used = True
        n = int(found.count.value)
        if u.all:
            echo += f" That is all {n} together."
        else:
            watts = u.run_w if u.run_w is not None else u.average_w
            echo += f" {n} of them" + (f": {_fmt(n * watts)} W." if watts is not None else ".")
    if room is not None:
        echo += f" Read in a room of {_fmt(room)} °C."
    # A figure that went into another one stands before it.
    gone = [t.text for t in found.tokens if t.used and not _stands(t, echo)]
    echo = f"{', '.join(gone)}: {echo}" if gone else echo
    left = found.left
    notes = (f"Not taken: {', '.join(left)}.", *u.notes) if left else u.notes
    count = int(found.count.value) if counted and found.count is not None else 1
    return replace(
        u, name=" ".join(found.name), count=count, counted=counted, room_c=room, echo=echo, notes=notes,
    )  # fmt: skip


def _stands(token: Token, echo: str) -> bool:
    """Whether a figure stands in an echo, in its own unit or a thousandth of it."""
    there = {float(x.replace(",", "")) for x in re.findall(r"\d[\d,]*(?:\.\d+)?", echo) if x.replace(",", "")}
    return all(
        any(abs(x - v * k) <= 1e-5 * max(x, 1e-9) for x in there for k in (1, 1e-3, 60))
        for v in (token.value, token.high if token.high is not None else token.value)
    )


def _percents(said: str, found: Found) -> Understood | None:
    """W at a duty; a share of W; a load as a share of a station's rating."""
    listed = found.of("%")
    if len(listed) != 1 or found.range_of("%") is not None:
        return None
    percent = listed[0]
    near = found.said[percent.end : percent.end + 24].lower()
    watts = found.peek("w")
    if watts is not None and (found.says("duty") or re.match(r"\s*(?:of the time|on\b|duty)", near)):
        duty = found.use(percent) / 100
        if not 0 < duty <= 1:
            raise NotUnderstood("reading", said, "a duty lies between 0 and 100 %")
        run, rest = found.use(watts), found.take("w", "rest")
        found.roles.update(dict.fromkeys(("running",), True) if "running" in found.roles else {})
        average = (rest or 0.0) + (run - (rest or 0.0)) * duty
        resting = f", {_exact(rest)} W resting" if rest is not None else ""
        echo = f"{_exact(run)} W running{resting}, {_exact(percent.value)} % of the time: {_fmt(average)} W on average."
        return Understood("rating", run_w=run, rest_w=rest, average_w=average, duty=duty, echo=echo)
    if watts is not None and watts.at > percent.end and re.match(r"\s*of\b", near):
        part = found.use(percent) / 100 * found.use(watts)
        echo = f"{_exact(percent.value)} % of {_exact(watts.value)} W: {_fmt(part)} W running."
        return Understood("spot", run_w=part, echo=echo, notes=(ONE_MOMENT,))
    if watts is None and "load" in found.words and found.peek("h") is None and found.peek("wh") is None:
        found.name = [w for w in found.name if w.lower() != "load"]
        value = found.use(percent)
        if not 0 < value <= 200:
            raise NotUnderstood("reading", said, "a load lies between 0 and 200 % of a rating")
        echo = f"{_exact(value)} % of the station's rating, running."
        return Understood("spot", load_percent=value, echo=echo, notes=(ONE_MOMENT,))
    return None


ONE_MOMENT = "One moment gives running W only, never an average of a load that cycles."


def _gauge(said: str, found: Found) -> Understood | None:
    ranges = [t for t in found.tokens if t.unit == "%" and t.high is not None]
    listed = found.of("%")
    if not ranges and not listed:
        return None
    loose = [t for t in found.tokens if not t.unit]
    if len(ranges) > 1 or len(listed) > 2 or (ranges and (listed or loose)):
        raise NotUnderstood("reading", said, "it gives several figures for one end of the fall; write one for each end")
    if not ranges and len(listed) != 2:
        raise NotUnderstood("reading", said, "a gauge is read twice: give both, such as 71 to 58 % in 9 h")
    if ranges:
        a, b = found.use(ranges[0]), ranges[0].high or 0.0
        typed = ranges[0].text
    else:
        a, b = found.use(listed[0]), found.use(listed[1])
        typed = listed[0].text + listed[1].text
    hours = found.sum("h")
    if hours is None or hours <= 0:
        raise NotUnderstood(
            "reading", said, "say over how many hours it fell", f"{a:g} to {b:g} % in 9 h" if hours is None else ""
        )
    if b >= a:
        raise NotUnderstood(
            "reading", said, "the gauge must fall", f"{b:g} to {a:g} % in {_exact(hours)} h" if b > a else ""
        )
    if a > 100:
        raise NotUnderstood("reading", said, "a gauge shows at most 100 %")
    step = 0.1 if re.search(r"\d[.,]\d", typed) else 1.0
    if a - b < LEAST_STEPS * step - 1e-9:
        raise NotUnderstood(
            "reading", said,
            f"{_exact(round(a - b, 3))} points tell too little; wait until it has fallen by {LEAST_STEPS * step:g}",
        )  # fmt: skip
    came_in = found.sum("wh", ("", "run", "average")) or 0.0
    found.says("charged", "charging", "solar", "sun", "came")
    echo = f"The gauge fell {_exact(round(a - b, 3))} points, from {a:g} to {b:g} %, in {_hours(hours)}."
    if came_in:
        echo += f" {_exact(came_in / 1000)} kWh that came in meanwhile count as used."
    note = "Only this load may have been on; the station's own draw is taken off."
    return Understood(
        "gauge", from_percent=a, to_percent=b, hours=hours, in_wh=came_in, step=step, echo=echo, notes=(note,)
    )


def _logged(said: str, found: Found) -> Understood | None:
    """A log's summary: log 168 h, average 58.2 W, rest 4 W, runs 131 W."""
    if not {"log", "logged"} & set(found.words):
        return None
    hours, average = found.sum("h"), found.take("w", "average")
    if hours is None or average is None or hours <= 0:
        rule = "a log gives its hours and its average"
        raise NotUnderstood(
            "reading", said, rule, "" if found.tokens[1:] else "log 72 h, average 58 W, rest 4 W, runs 131 W"
        )
    found.name = [w for w in found.name if w.lower() not in ("log", "logged")]
    rest, run, high = found.take("w", "rest"), found.take("w", "run"), found.take("w", "high")
    more = [
        f"{_exact(v)} W {word}"
        for word, v in (("resting", rest), ("running", run), ("at the highest", high))
        if v is not None
    ]
    return Understood(
        "log", average_w=average, rest_w=rest, run_w=run, highest_w=high, hours=hours, all=hours >= 24,
        echo=", ".join([f"{_exact(average)} W average, logged over {_hours(hours)}", *more]) + ".",
    )  # fmt: skip


def _so_long_a_day(said: str, found: Found) -> Understood | None:
    """W and how long a day: the plain way people list loads."""
    watts = found.peek("w") or found.range_of("w")
    if watts is None or found.per not in ("day", "night", "week") or found.peek("h") is None or found.peek("wh"):
        return None
    if watts.high is not None:
        raise NotUnderstood("reading", said, "it gives a range of W and hours a day; write one figure of W")
    found.per_used = True
    hours = found.sum("h") or 0.0
    times = found.take("times")
    a_day = hours * (times or 1.0) / (7 if found.per == "week" else 1)
    if not 0 < a_day <= 24:
        raise NotUnderstood("reading", said, "a day has 24 hours")
    role = watts.role
    run = (
        found.sum("w", ("", "run", "average", "usual")) if role in ("", "run", "average", "usual") else found.use(watts)
    )
    assert run is not None
    plugged = True if found.says("plugged") else False if {"runs", "running", "run"} & set(found.words) else None
    found.says("average", "avg", "mean")
    rest = found.take("w", "rest")
    found.says("low", "standby", "rest", "resting")
    pieces = int(found.count.value) if found.count is not None else 1
    often = f" {_exact(times)} times" if times is not None else ""
    kwh = (run * a_day + (rest or 0.0) * (24 - a_day)) * pieces / 1000
    resting = f", {_exact(rest)} W resting" if rest is not None else ""
    echo = f"{_exact(run)} W{resting} for {_hours(hours)}{often} a {found.per}: {_fmt(kwh)} kWh a day."
    return Understood(
        "rating",
        run_w=run,
        average_w=None if role != "average" else run,
        rest_w=rest,
        hours_a_day=a_day,
        plugged=plugged,
        echo=echo,
    )


def _energy(said: str, found: Found) -> Understood | None:
    energy = found.sum("wh")
    if energy is None:
        return None
    another = found.peek("wh")
    if another is not None:
        raise NotUnderstood(
            "reading", said, f"it gives {another.text} beside another energy; write + between them where they add up",
            found.said[: another.at] + "+ " + found.said[another.at :],
        )  # fmt: skip
    hours = found.sum("h")
    if found.per and hours is not None:
        raise NotUnderstood("reading", said, "it gives both a period and hours; which one was it counted over?")
    found.per_used = True
    each = found.count is not None and found.says("each", "apiece")
    if found.count is not None:
        found.says("together")
    kwh = f"{_exact(energy / 1000)} kWh"
    low, high, run = found.take("w", "rest"), found.take("w", "high"), found.take("w", "run")
    start, pf = found.take("va", "start") or found.take("w", "start"), found.take("pf")
    if found.per and found.per != "hour":
        hours, span, kind = (
            PER_HOURS[found.per],
            f"a {found.per}",
            "yearly" if found.per in ("year", "month") else "meter",
        )
    else:
        hours = 1.0 if found.per == "hour" else hours
        if hours is None:
            raise NotUnderstood("reading", said, "say over how many hours it was counted", f"{said} in 24 h")
        span, kind = f"in {_hours(hours)}", "meter"
    if not 0 < hours <= MOST_HOURS:
        raise NotUnderstood("reading", said, "the hours must be more than 0 and at most a year")
    average = energy / hours
    if each and found.count is not None:
        kwh = f"{kwh} each"
    day = f", {_fmt(24 * average / 1000)} kWh a day" if hours >= 24 and span != "a day" else ""
    echo = f"{kwh} {span}: {_fmt(average)} W average{day}"
    for value, word in ((low, "at the lowest"), (high, "at the highest"), (run, "running"), (start, "at the start")):
        echo += f", {_exact(value)} W {word}" if value is not None else ""
    echo += f", power factor {_exact(pf)}" if pf is not None else ""
    notes = ["The meter's highest bounds what it draws running; it may be a start or a defrost, and misses a start of under "
             "a second."] if high is not None else []  # fmt: skip
    if high is not None and average > high * 1.05:
        raise NotUnderstood(
            "reading", said, f"an average of {_fmt(average)} W cannot exceed the highest, {_fmt(high)} W"
        )
    if pf is not None and not 0 < pf <= 1:
        raise NotUnderstood("reading", said, "a power factor lies between 0 and 1")
    return Understood(
        kind, average_w=average, all=not each, rest_w=low, highest_w=high, run_w=run, start_va=start,  # type: ignore[arg-type]
        energy_wh=energy, hours=hours, power_factor=pf, echo=echo + ".", notes=tuple(notes),
    )  # fmt: skip


def _slips(said: str, found: Found) -> Understood | None:
    """Rates and amounts mixed up: answered with the likely meaning, every figure kept."""
    watts = found.peek("w")
    if watts is None or found.peek("hp") is not None:
        return None
    hours = found.peek("h")
    if found.per == "hour":
        raise NotUnderstood(
            "reading", said, "W is a rate already, and has no “per hour”", said.replace(found.per_text, "").strip()
        )
    as_energy = re.sub(r"(?<![a-z])(k?)w(?:atts?)?(?![a-z])", r"\1Wh", said, count=1, flags=re.IGNORECASE)
    if found.per and hours is None:
        raise NotUnderstood("reading", said, f"W is a rate; what is used a {found.per} is energy", as_energy)
    if hours is None:
        return None
    if watts.role == "average" or "average" in found.words:
        return _averaged(said, found, watts)
    on_average = re.sub(r"\s*\b(over|in|for)\b", r" average over", found.said, count=1, flags=re.IGNORECASE)
    on_average = on_average if "average" in on_average else f"{found.said} average"
    a_day = re.sub(r"\b(for|over|in)\s+", "", f"{found.said} a day", count=1, flags=re.IGNORECASE)
    rule = "W is a rate; what a meter counts over hours is energy"
    if "for" in found.words and hours.value <= 24:
        raise NotUnderstood("reading", said, "so long each day, or once?", a_day, on_average)
    if re.search(r"kw|kilowatt", watts.text, re.IGNORECASE) or "in" in found.words:
        raise NotUnderstood("reading", said, rule, as_energy, on_average)
    raise NotUnderstood("reading", said, rule, on_average, a_day if hours.value <= 24 else "")


def _averaged(said: str, found: Found, watts: Token) -> Understood:
    """45 W average over 24 h."""
    average, hours = found.use(watts), found.sum("h") or 0.0
    found.says("average", "avg", "mean")
    if not 0 < hours <= MOST_HOURS:
        raise NotUnderstood("reading", said, "the hours must be more than 0 and at most a year")
    low, high, run = found.take("w", "rest"), found.take("w", "high"), found.take("w", "run")
    day = f", {_fmt(24 * average / 1000)} kWh a day" if hours >= 24 else ""
    echo = f"{_exact(average)} W average over {_hours(hours)}{day}"
    for value, word in ((low, "at the lowest"), (high, "at the highest"), (run, "running")):
        echo += f", {_exact(value)} W {word}" if value is not None else ""
    return Understood(
        "meter", average_w=average, all=True, rest_w=low, highest_w=high, run_w=run, energy_wh=average * hours, hours=hours,
        echo=echo + ".",
    )  # fmt: skip


def _motor(said: str, found: Found) -> Understood | None:
    hp = found.take("hp")
    if hp is None:
        return None
    kind = "submersible" if found.says("submersible", "well") else "other"
    efficiency = MOTOR_EFFICIENCY_SMALL if hp < 1 else MOTOR_EFFICIENCY_LARGE
    usual = W_PER_HP * hp / efficiency
    high = usual * SERVICE_FACTOR[kind]
    start = _start_of(found)
    most_a, volts = found.take("a", "high") or found.take("a", ""), found.take("v")
    va = most_a * volts if most_a and volts else None
    notes = [f"746 W a hp ÷ {efficiency:g} efficiency; up to {_fmt(high)} W with the service factor of {SERVICE_FACTOR[kind]:g}, "
             "planning defaults."]  # fmt: skip
    if kind == "submersible":
        notes.append("A submersible pump runs into its service factor, so limits count the higher figure.")
    if va is not None:
        usual, high = min(usual, va), min(high, va)
        notes.append(f"The plate's {_exact(volts or 0)} V × {_exact(most_a or 0)} A rules: at most {_fmt(va)} VA.")
    elif most_a is not None:
        raise NotUnderstood("reading", said, "amps say nothing without volts", f"{said} {found.house_volts} V")
    begins = f", {_exact(start)} VA at the start" if start is not None else ""
    echo = f"{_exact(hp)} hp at the shaft: about {_fmt(usual)} W running{begins}."
    return Understood(
        "rating", run_w=high if kind == "submersible" else usual, high_w=high, va=va, start_va=start,
        power_factor=found.take("pf"), echo=echo, notes=tuple(notes),
    )  # fmt: skip


def _cooling(said: str, found: Found) -> Understood | None:
    token = found.peek("btu")
    if token is None:
        return None
    btu, eer = found.use(token), found.take("eer")
    if not eer:
        rule = "BTU/h and tons are cooling moved, not power drawn; add the EER off the label"
        raise NotUnderstood("reading", said, rule, f"{token.text} EER 10")
    tons = f"{token.text}, " if "ton" in token.text.lower() else ""
    return Understood(
        "rating", run_w=btu / eer, echo=f"{tons}{_exact(btu)} BTU/h ÷ EER {_exact(eer)} = {_fmt(btu / eer)} W running."
    )


def _start_of(found: Found) -> float | None:
    """Starting VA, where given in VA, W, or A at a voltage."""
    direct = found.take("va", "start")
    direct = found.take("w", "start") if direct is None else direct
    if direct is not None:
        return direct
    amps, volts = found.peek("a", "start"), found.of("v")
    if amps is None or not volts:
        return None
    return found.use(amps) * found.use(volts[0])


def _charger(said: str, found: Found) -> Understood | None:
    """Amps set on a charger, on its AC or its battery side."""
    amps = found.peek("a", "") or found.peek("a", "run")
    if amps is None or not {"charger", "charging", "charge"} & set(found.words) or found.peek("w") or found.peek("wh"):
        return None
    volts = found.take("v")
    if volts is None:
        raise NotUnderstood("reading", said, "amps say nothing without volts", f"{said} {found.house_volts} V")
    battery = found.says("battery", "dc") or volts < 100
    drawn = found.use(amps) * volts / (CHARGER_EFFICIENCY if battery else 1.0)
    side = f"at the battery, ÷ {CHARGER_EFFICIENCY:g}" if battery else "at the wall"
    echo = f"A charger set to {_exact(amps.value)} A at {_exact(volts)} V {side}: {_fmt(drawn)} W from the wall."
    return Understood("rating", run_w=drawn, echo=echo)


def _amps(said: str, found: Found) -> Understood | None:
    size = found.peek("ah")
    if size is not None:
        volts = found.peek("v")
        rule = "Ah say nothing without volts, and are a battery's size, not a load's draw"
        if volts:
            stored = _fmt(size.value * volts.value)
            rule = f"{_fmt(size.value)} Ah × {_fmt(volts.value)} V is a battery of {stored} Wh, not what a load draws"
        raise NotUnderstood("reading", said, rule)
    amps = next((t for t in found.of("a") if t.role not in ("start", "rest")), None)
    starting = found.peek("a", "start")
    if amps is None and starting is None:
        return None
    ranged = found.range_of("v")
    if found.peek("v") is None and ranged is None:
        raise NotUnderstood("reading", said, "amps say nothing without volts", f"{said} {found.house_volts} V")
    start = _start_of(found)
    if amps is None:
        return Understood(
            "start",
            start_va=start,
            echo=f"Starts at {_fmt(start or 0)} VA, {_exact(starting.value if starting else 0)} A.",
        )
    plain = next(iter(found.of("v")), None)
    volts_v = found.use(plain) if plain is not None else (ranged.high or 0.0) if ranged else 0.0
    if ranged is not None and plain is None:
        ranged.used = True
    total_a = found.sum("a", (amps.role,)) or 0.0
    va, pf, watts = total_a * volts_v, found.take("pf"), found.take("w", "") or found.take("w", "run")
    if pf is not None and not 0 < pf <= 1:
        raise NotUnderstood("reading", said, "a power factor lies between 0 and 1")
    run = watts if watts is not None else va * pf if pf else None
    shown_v = ranged.text if ranged is not None and plain is None else f"{_exact(volts_v)} V"
    echo = f"{_exact(total_a)} A × {shown_v}: " + (
        f"at most {_fmt(va)} VA" if run is None else f"{_fmt(run)} W running, {_fmt(va)} VA"
    )
    echo += f", power factor {_exact(pf)}" if pf is not None else ""
    echo += f", {_fmt(start)} VA at the start" if start is not None else ""
    notes = () if run is not None else ("V × A is a ceiling: the W are fewer by the power factor.",)
    return Understood("rating", run_w=run, va=va, start_va=start, power_factor=pf, echo=echo + ".", notes=notes)


def _powers(said: str, found: Found) -> Understood | None:
    ranged = found.range_of("w")
    usual = found.take("w", "usual")
    low = high = None
    if usual is not None:
        low, high = found.take("w", "rest"), found.take("w", "high")
        return _guessed(said, usual, low, high, average=found.says("average", "avg", "mean"))
    if ranged is not None and (ranged.role == "average" or found.says("average", "avg", "mean")):
        ranged.used = True
        return _guessed(said, (ranged.value + (ranged.high or 0)) / 2, ranged.value, ranged.high, average=True)
    spot = found.take("w", "spot")
    start = _start_of(found)
    plain = found.sum("w", ("", "run"))
    both_legs = re.search(r"\bleg\b", found.said, re.IGNORECASE) is not None
    another = found.peek("w", "") or found.peek("w", "run")
    if another is not None and plain is not None and both_legs:
        plain += found.use(another)
    elif another is not None and plain is not None and spot is None:
        raise NotUnderstood(
            "reading", said, f"it gives {another.text} beside another power; write + between them where they add up",
            found.said[: another.at].rstrip(" ,;") + " + " + found.said[another.at :],
        )  # fmt: skip
    if ranged is not None and plain is None and spot is None:
        ranged.used = True
        plain = ranged.high
    low, high, average = found.take("w", "rest"), found.take("w", "high"), found.take("w", "average")
    va, pf = found.take("va", "") or found.take("va", "run"), found.take("pf")
    if pf is not None and not 0 < pf <= 1:
        raise NotUnderstood("reading", said, "a power factor lies between 0 and 1")
    run = spot if spot is not None else plain if plain is not None else va * pf if va and pf else None
    if all(x is None for x in (run, low, high, average, start, va)):
        return None
    if low is not None and high is not None and low > high:
        raise NotUnderstood(
            "reading", said, "the lowest is above the highest", f"low {_exact(high)} W, high {_exact(low)} W"
        )
    kind: ReadingKind = "spot" if spot is not None else "rating" if run is not None or va is not None else "levels"
    if kind == "levels" and low is None and high is None and average is None:
        kind = "start"
    named = (("running", run), ("on average", average), ("resting", low), ("at the highest", high))
    parts = [f"{_fmt(v)} W {word}" for word, v in named if v is not None]
    if ranged is not None and ranged.used:
        parts[0] += f" ({ranged.text}; the upper counts)"
    elif both_legs and plain is not None:
        parts[0] += ", both legs together"
    parts += [f"at most {_fmt(va)} VA"] if va is not None else []
    parts += [f"power factor {_exact(pf)}"] if pf is not None else []
    parts += [f"{_fmt(start)} VA starting"] if start is not None else []
    return Understood(
        kind, average_w=average, run_w=run, rest_w=low, highest_w=high, start_va=start, va=va, power_factor=pf,
        echo=", ".join(parts) + ".", notes=(ONE_MOMENT,) if kind == "spot" else (),
    )  # fmt: skip


def _guessed(said: str, usual: float, low: float | None, high: float | None, *, average: bool) -> Understood:
    """A guess with its low, usual and high."""
    low, high = usual if low is None else low, usual if high is None else high
    if not low <= usual <= high or usual <= 0:
        raise NotUnderstood("reading", said, "a guess goes from its low over its usual to its high")
    spread = (high - low) / RANGE_SPREAD / usual
    echo = f"Between {_exact(low)} and {_exact(high)} W, usually {_exact(usual)} W {'on average' if average else 'running'}."
    if average:
        return Understood("rating", average_w=usual, spread=spread, echo=echo)
    return Understood("rating", run_w=usual, high_w=high, spread=spread, echo=echo)


def _leftovers(said: str, found: Found) -> Understood | None:
    """Nothing that is power or energy: say what is missing."""
    bare = [t for t in found.tokens if not t.unit]
    if bare:
        lone = len(bare) == 1 and len(found.tokens) == 1 and re.fullmatch(r"[\d.,\s]+", said)
        rule = f"{bare[0].text} of what? Add the unit: W, A and V, or kWh and hours"
        raise NotUnderstood("reading", said, rule, f"{said} W" if lone else "")
    if found.of("v") or found.range_of("v"):
        raise NotUnderstood("reading", said, "volts alone say nothing about use; add the amps or the watts")
    if found.of("h"):
        raise NotUnderstood("reading", said, "hours of what? Add the energy, such as 0.43 kWh")
    if found.tokens:
        raise NotUnderstood("reading", said, "that alone says nothing about use; add the watts, or amps and volts")
    return None


def _checked(said: str, u: Understood) -> Understood:
    """Refuse the impossible."""
    for value in (u.average_w, u.run_w, u.rest_w, u.highest_w, u.va, u.start_va):
        most = MOST_W if value is not u.start_va else 4 * MOST_W
        if value is not None and not (math.isfinite(value) and value <= most):
            raise NotUnderstood(
                "reading", said, f"{_fmt(value) if math.isfinite(value) else 'that'} W is more than any home's load"
            )
    if not 1 <= u.count <= 200:
        raise NotUnderstood("reading", said, "a count lies between 1 and 200")
    if u.room_c is not None and not -40 <= u.room_c <= 60:
        raise NotUnderstood("reading", said, "a room is between -40 and 60 °C")
    return u
