"""The one text field: what people read off labels and meters, understood, echoed, or answered with what was meant.

No figure typed vanishes: each is in the echo or named as not taken. A suggestion keeps every figure and says what it
comes to."""

from __future__ import annotations

import math
import re
from dataclasses import replace
from datetime import date

from imbuto.core.basics.measures import temp_text, temps_text
from imbuto.core.measuring.figure_scan import FoundFigures, Token, UnreadableFigures, in_figures, scan, to_number
from imbuto.core.measuring.power_readers import READERS
from imbuto.core.measuring.spoken_phrases import plainer
from imbuto.core.measuring.understood_text import MOST_HOURS, MOST_W, NotUnderstood, ReadText, fmt


def understand(text: str, volts: int = 120) -> ReadText:
    """What a label or a reading says. volts: of the house, for suggestions only.

    Raises NotUnderstood with a sentence and, where it can, what was likely meant.
    """
    try:
        return _understood(text, volts)
    except NotUnderstood as error:
        raise error.told(comes_to) from None


def comes_to(suggestion: str) -> str:
    """What a suggestion would be understood as; empty where it wants another figure still."""
    try:
        return _understood(suggestion, 120).echo
    except NotUnderstood:
        return ""


def _understood(text: str, volts: int) -> ReadText:
    said = text.strip()
    if not said:
        raise NotUnderstood("reading", text, "type the figures from the meter or the label, such as 0.43 kWh in 6.5 h")
    if len(said) > 200:
        raise NotUnderstood("reading", said, "enter one reading at a time, in fewer than 200 characters")
    if re.search(r"\bpeak\s*(?:hp|horsepower)|(?:hp|horsepower)\s*(?:peak|max)", said, re.IGNORECASE):
        raise NotUnderstood("reading", said, "peak hp is a sales figure; read V and A from the motor's label")
    dates = DATES.search(said)
    begins, ends = _days(said, dates) if dates else (None, None)
    plain = (
        said
        if dates is None or begins is None or ends is None
        else (f"{said[: dates.start()]}in {(ends - begins).days} days{said[dates.end() :]}")
    )
    plain, phrases = plainer(plain)
    try:
        found = scan(in_figures(plain))
    except UnreadableFigures as error:
        raise NotUnderstood("reading", error.said, error.rule) from None
    found.house_volts = volts
    if found.negative:
        raise NotUnderstood("reading", said, "a load draws at least 0", re.sub(r"-\s*", "", said))
    for decide in READERS:
        try:
            result = decide(said if dates else plain, found)
        except NotUnderstood as error:
            raise NotUnderstood(
                error.field, said, error.rule, *_keeping(error, found.said, " ".join(found.name))
            ) from None
        if result is not None:
            told = _told(result, found)
            told = replace(told, notes=_agreeing(told.notes, phrases))
            if begins is not None:
                told = replace(told, begins=begins, ends=ends, echo=f"{told.echo} From {begins} to {ends}.")
            return _checked(said, told)
    raise NotUnderstood("reading", said, "there is no figure with a unit; try 950 W, or 0.43 kWh in 6.5 h")


def _agreeing(notes: tuple[str, ...], phrases: tuple[str, ...]) -> tuple[str, ...]:
    """With what was rewritten; what was rewritten and then not taken is named as typed, once."""
    first = next((n for n in notes if n.startswith(NOT_TAKEN)), "")
    left = first.removeprefix(NOT_TAKEN).removesuffix(".").split(", ") if first else []
    kept = []
    for phrase in phrases:
        typed, _, written = phrase.partition(" is taken as ")
        lost = [x for x in left if re.search(r"\d", x) and x in written]
        if lost:
            words = written.removesuffix(".").split()
            left = [typed, *(x for x in left if x not in lost and not set(x.split()) <= set(words))]
        else:
            kept.append(phrase)
    rest = [n for n in notes if n != first]
    return (*([f"{NOT_TAKEN}{', '.join(left)}."] if left else []), *rest, *kept)


NOT_TAKEN = "Not taken: "
DATES = re.compile(r"(?:\bfrom\s+)?(\d{4}-\d\d-\d\d)\s*(?:to|until|–|—|-|→)\s*(\d{4}-\d\d-\d\d)", re.IGNORECASE)


def _days(said: str, dates: re.Match[str]) -> tuple[date, date]:
    """The first day of a bill, and the day after its last. Raises NotUnderstood."""
    try:
        begins, ends = date.fromisoformat(dates[1]), date.fromisoformat(dates[2])
    except ValueError:
        raise NotUnderstood("reading", said, "write the date as 2026-01-31") from None
    if not 0 < (ends - begins).days <= MOST_HOURS / 24:
        raise NotUnderstood("reading", said, "enter a second date within a year after the first")
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
        kept = [x if _letters(name) in _letters(x) else f"{name} {x}" for x in kept]
    return (kept[0] if kept else "", kept[1] if len(kept) > 1 else "")


def _letters(text: str) -> str:
    return re.sub(r"[\W_]+", "", text.lower())


def _told(u: ReadText, found: FoundFigures) -> ReadText:
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
            echo += f" This is for all {n} together."
        else:
            watts = u.run_w if u.run_w is not None else u.average_w
            echo += f" {n} of them" + (f": {fmt(n * watts)} W." if watts is not None else ".")
    if room is not None:
        echo += f" Read in a room of {temp_text(room)}."
    # A figure that went into another one stands before it.
    gone = [t.text for t in found.tokens if t.used and not _stands(t, echo)]
    echo = f"{', '.join(gone)}: {echo}" if gone else echo
    left = found.left
    notes = (f"{NOT_TAKEN}{', '.join(left)}.", *u.notes) if left else u.notes
    count = int(found.count.value) if counted and found.count is not None else 1
    return replace(
        u,
        name=" ".join(found.name),
        count=count,
        counted=counted,
        room_c=room,
        echo=echo,
        notes=notes,
    )


def _stands(token: Token, echo: str) -> bool:
    """Whether a figure stands in an echo, in its own unit or a thousandth of it."""
    there = {float(x.replace(",", "")) for x in re.findall(r"\d[\d,]*(?:\.\d+)?", echo) if x.replace(",", "")}
    return all(
        any(abs(x - v * k) <= 1e-5 * max(x, 1e-9) for x in there for k in (1, 1e-3, 60))
        for v in (token.value, token.high if token.high is not None else token.value)
    )


def _checked(said: str, u: ReadText) -> ReadText:
    """Refuse the impossible."""
    for value in (u.average_w, u.run_w, u.rest_w, u.highest_w, u.va, u.start_va):
        most = MOST_W if value is not u.start_va else 4 * MOST_W
        if value is not None and not (math.isfinite(value) and value <= most):
            raise NotUnderstood(
                "reading",
                said,
                (f"{fmt(value) if math.isfinite(value) else 'that'} W is more than any load in a home draws"),
            )
    if not 1 <= u.count <= 200:
        raise NotUnderstood("reading", said, "enter a count from 1 to 200")
    if u.room_c is not None and not -40 <= u.room_c <= 60:
        raise NotUnderstood("reading", said, f"a room is between {temps_text(-40, 60)}")
    return u
