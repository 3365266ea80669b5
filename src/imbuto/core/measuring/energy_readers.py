"""Readers of energy: a gauge over time, a log, kWh, W for so long a day, and what a meter's slip says."""

from __future__ import annotations

import re

from imbuto.core.measuring.figure_scan import FoundFigures, Token
from imbuto.core.measuring.understood_text import MOST_HOURS, NotUnderstood, ReadText, exact, fmt, hours_said

LEAST_STEPS = 5  # of a gauge; fewer tell nothing
PER_HOURS = {"hour": 1.0, "day": 24.0, "night": 24.0, "week": 168.0, "month": 730.5, "year": 8_766.0}


def gauge(said: str, found: FoundFigures) -> ReadText | None:
    ranges = [t for t in found.tokens if t.unit == "%" and t.high is not None]
    listed = found.of("%")
    if not ranges and not listed:
        return None
    loose = [t for t in found.tokens if not t.unit]
    if len(ranges) > 1 or len(listed) > 2 or (ranges and (listed or loose)):
        raise NotUnderstood(
            "reading", said, "there are several figures for one end of the fall; enter one for each end"
        )
    if not ranges and len(listed) != 2:
        raise NotUnderstood("reading", said, "enter two gauge readings, such as 71 to 58% in 9 h")
    if ranges:
        a, b = found.use(ranges[0]), ranges[0].high or 0.0
        typed = ranges[0].text
    else:
        a, b = found.use(listed[0]), found.use(listed[1])
        typed = listed[0].text + listed[1].text
    hours = found.sum("h")
    if hours is None or hours <= 0:
        raise NotUnderstood(
            "reading",
            said,
            ("enter over how many hours the charge fell"),
            f"{a:g} to {b:g}% in 9 h" if hours is None else "",
        )
    if b >= a:
        raise NotUnderstood(
            "reading", said, "enter a lower second reading", f"{b:g} to {a:g}% in {exact(hours)} h" if b > a else ""
        )
    if a > 100:
        raise NotUnderstood("reading", said, "a gauge shows at most 100%")
    step = 0.1 if re.search(r"\d[.,]\d", typed) else 1.0
    if a - b < LEAST_STEPS * step - 1e-9:
        raise NotUnderstood(
            "reading",
            said,
            f"{exact(round(a - b, 3))} points are too few; wait until the charge has fallen by {LEAST_STEPS * step:g}",
        )
    came_in = found.sum("wh", ("", "run", "average")) or 0.0
    found.says("charged", "charging", "solar", "sun", "came")
    echo = f"The gauge fell {exact(round(a - b, 3))} points, from {a:g} to {b:g}%, in {hours_said(hours)}."
    if came_in:
        echo += f" {exact(came_in / 1000)} kWh charged meanwhile count as used."
    note = "Only this load may have been on; the station's own draw is taken off."
    return ReadText(
        "gauge", from_percent=a, to_percent=b, hours=hours, in_wh=came_in, step=step, echo=echo, notes=(note,)
    )


def read_log_summary(said: str, found: FoundFigures) -> ReadText | None:
    """A log's summary: log 168 h, average 58.2 W, rest 4 W, runs 131 W."""
    if not {"log", "logged"} & set(found.words):
        return None
    hours, average = found.sum("h"), found.take("w", "average")
    if hours is None or average is None or hours <= 0:
        rule = "enter a log's hours and its average"
        raise NotUnderstood(
            "reading", said, rule, "" if found.tokens[1:] else "log 72 h, average 58 W, rest 4 W, runs 131 W"
        )
    found.name = [w for w in found.name if w.lower() not in ("log", "logged")]
    rest, run, high = found.take("w", "rest"), found.take("w", "run"), found.take("w", "high")
    more = [
        f"{exact(v)} W {word}"
        for word, v in (("resting", rest), ("running", run), ("at the highest", high))
        if v is not None
    ]
    return ReadText(
        "log",
        average_w=average,
        rest_w=rest,
        run_w=run,
        highest_w=high,
        hours=hours,
        all=hours >= 24,
        echo=", ".join([f"{exact(average)} W average, logged over {hours_said(hours)}", *more]) + ".",
    )


def so_long_a_day(said: str, found: FoundFigures) -> ReadText | None:
    """W and how long a day: the plain way people list loads."""
    watts = found.peek("w") or found.range_of("w")
    if watts is None or found.per not in ("day", "night", "week") or found.peek("h") is None or found.peek("wh"):
        return None
    if watts.high is not None:
        raise NotUnderstood("reading", said, "there is a range of W and hours per day; enter one figure for W")
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
    often = f" {exact(times)} times" if times is not None else ""
    kwh = (run * a_day + (rest or 0.0) * (24 - a_day)) * pieces / 1000
    resting = f", {exact(rest)} W resting" if rest is not None else ""
    echo = f"{exact(run)} W{resting} for {hours_said(hours)}{often} per {found.per}: {fmt(kwh)} kWh per day."
    return ReadText(
        "rating",
        run_w=run,
        average_w=None if role != "average" else run,
        rest_w=rest,
        hours_a_day=a_day,
        plugged=plugged,
        echo=echo,
    )


def energy(said: str, found: FoundFigures) -> ReadText | None:
    energy = found.sum("wh")
    if energy is None:
        return None
    another = found.peek("wh")
    if another is not None:
        raise NotUnderstood(
            "reading",
            said,
            f"it has {another.text} and another energy; write + between them if they add up",
            found.said[: another.at] + "+ " + found.said[another.at :],
        )
    hours = found.sum("h")
    if found.per and hours is not None:
        raise NotUnderstood("reading", said, "there are both a period and hours; over which one did the meter count?")
    found.per_used = True
    each = found.count is not None and found.says("each", "apiece")
    if found.count is not None:
        found.says("together")
    kwh = f"{exact(energy / 1000)} kWh"
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
            raise NotUnderstood("reading", said, "enter over how many hours the meter counted", f"{said} in 24 h")
        span, kind = f"in {hours_said(hours)}", "meter"
    if not 0 < hours <= MOST_HOURS:
        raise NotUnderstood("reading", said, "the hours must be more than 0 and at most a year")
    average = energy / hours
    if each and found.count is not None:
        kwh = f"{kwh} each"
    day = f", {fmt(24 * average / 1000)} kWh per day" if hours >= 24 and span != "a day" else ""
    echo = f"{kwh} {span}: {fmt(average)} W average{day}"
    for value, word in ((low, "at the lowest"), (high, "at the highest"), (run, "running"), (start, "at the start")):
        echo += f", {exact(value)} W {word}" if value is not None else ""
    echo += f", power factor {exact(pf)}" if pf is not None else ""
    notes = (
        [
            "The meter's highest figure is a limit for the running watts. It may be a start or a defrost, and it "
            "misses starts under a second."
        ]
        if high is not None
        else []
    )
    if high is not None and average > high * 1.05:
        raise NotUnderstood(
            "reading", said, (f"an average of {fmt(average)} W can't be above the highest, {fmt(high)} W")
        )
    if pf is not None and not 0 < pf <= 1:
        raise NotUnderstood("reading", said, "a power factor lies between 0 and 1")
    return ReadText(
        kind,  # type: ignore[arg-type]
        average_w=average,
        all=not each,
        rest_w=low,
        highest_w=high,
        run_w=run,
        start_va=start,
        energy_wh=energy,
        hours=hours,
        power_factor=pf,
        echo=echo + ".",
        notes=tuple(notes),
    )


def slips(said: str, found: FoundFigures) -> ReadText | None:
    """Rates and amounts mixed up: answered with the likely meaning, every figure kept."""
    watts = found.peek("w")
    if watts is None or found.peek("hp") is not None:
        return None
    hours = found.peek("h")
    if found.per == "hour":
        raise NotUnderstood(
            "reading",
            said,
            "W is a rate already, so “per hour” doesn't apply",
            said.replace(found.per_text, "").strip(),
        )
    as_energy = re.sub(r"(?<![a-z])(k?)w(?:atts?)?(?![a-z])", r"\1Wh", said, count=1, flags=re.IGNORECASE)
    if found.per and hours is None:
        raise NotUnderstood("reading", said, f"W is a rate; the use per {found.per} is energy", as_energy)
    if hours is None:
        return None
    if watts.role == "average" or "average" in found.words:
        return read_average(said, found, watts)
    on_average = re.sub(r"\s*\b(over|in|for)\b", r" average over", found.said, count=1, flags=re.IGNORECASE)
    on_average = on_average if "average" in on_average else f"{found.said} average"
    a_day = re.sub(r"\b(for|over|in)\s+", "", f"{found.said} a day", count=1, flags=re.IGNORECASE)
    rule = "W is a rate; a meter that counts over hours shows energy"
    if "for" in found.words and hours.value <= 24:
        if re.search(r"\bthen\b", said, re.I):  # a suggestion would leave the second part out
            rule = "add how long the second part lasts, such as 400 W for 10 min then 120 W for 2 h"
            raise NotUnderstood("reading", said, rule)
        raise NotUnderstood("reading", said, "is that each day, or once?", a_day, on_average)
    if re.search(r"kw|kilowatt", watts.text, re.IGNORECASE) or "in" in found.words:
        raise NotUnderstood("reading", said, rule, as_energy, on_average)
    raise NotUnderstood("reading", said, rule, on_average, a_day if hours.value <= 24 else "")


def read_average(said: str, found: FoundFigures, watts: Token) -> ReadText:
    """45 W average over 24 h."""
    average, hours = found.use(watts), found.sum("h") or 0.0
    found.says("average", "avg", "mean")
    if not 0 < hours <= MOST_HOURS:
        raise NotUnderstood("reading", said, "the hours must be more than 0 and at most a year")
    low, high, run = found.take("w", "rest"), found.take("w", "high"), found.take("w", "run")
    day = f", {fmt(24 * average / 1000)} kWh per day" if hours >= 24 else ""
    echo = f"{exact(average)} W average over {hours_said(hours)}{day}"
    for value, word in ((low, "at the lowest"), (high, "at the highest"), (run, "running")):
        echo += f", {exact(value)} W {word}" if value is not None else ""
    return ReadText(
        "meter",
        average_w=average,
        all=True,
        rest_w=low,
        highest_w=high,
        run_w=run,
        energy_wh=average * hours,
        hours=hours,
        echo=echo + ".",
    )
