"""A reader for each kind of statement: percents, gauges, logs, energy, motors, chargers, amps and plain watts."""

from __future__ import annotations

import re
from collections.abc import Callable

from imbuto.core.measuring.said import MOST_HOURS, NotUnderstood, ReadingKind, Understood, exact, fmt, hours_said
from imbuto.core.measuring.scan import Found, Token

W_PER_HP = 746.0
SERVICE_FACTOR = {"submersible": 1.5, "other": 1.15}  # planning defaults
MOTOR_EFFICIENCY_SMALL, MOTOR_EFFICIENCY_LARGE = 0.65, 0.75  # below 1 hp, from 1 hp; planning defaults
CHARGER_EFFICIENCY = 0.92  # battery over AC of a charger; planning default
LEAST_STEPS = 5  # of a gauge; fewer tell nothing
PER_HOURS = {"hour": 1.0, "day": 24.0, "night": 24.0, "week": 168.0, "month": 730.5, "year": 8_766.0}
RANGE_SPREAD = 2.56  # sigmas from the low to the high of a guess


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
        resting = f", {exact(rest)} W resting" if rest is not None else ""
        echo = f"{exact(run)} W running{resting}, {exact(percent.value)} % of the time: {fmt(average)} W on average."
        return Understood("rating", run_w=run, rest_w=rest, average_w=average, duty=duty, echo=echo)
    if watts is not None and watts.at > percent.end and re.match(r"\s*of\b", near):
        part = found.use(percent) / 100 * found.use(watts)
        echo = f"{exact(percent.value)} % of {exact(watts.value)} W: {fmt(part)} W running."
        return Understood("spot", run_w=part, echo=echo, notes=(ONE_MOMENT,))
    if watts is None and "load" in found.words and found.peek("h") is None and found.peek("wh") is None:
        found.name = [w for w in found.name if w.lower() != "load"]
        value = found.use(percent)
        if not 0 < value <= 200:
            raise NotUnderstood("reading", said, "a load lies between 0 and 200 % of a rating")
        echo = f"{exact(value)} % of the station's rating, running."
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
            "reading", said, "the gauge must fall", f"{b:g} to {a:g} % in {exact(hours)} h" if b > a else ""
        )
    if a > 100:
        raise NotUnderstood("reading", said, "a gauge shows at most 100 %")
    step = 0.1 if re.search(r"\d[.,]\d", typed) else 1.0
    if a - b < LEAST_STEPS * step - 1e-9:
        raise NotUnderstood(
            "reading", said,
            f"{exact(round(a - b, 3))} points tell too little; wait until it has fallen by {LEAST_STEPS * step:g}",
        )  # fmt: skip
    came_in = found.sum("wh", ("", "run", "average")) or 0.0
    found.says("charged", "charging", "solar", "sun", "came")
    echo = f"The gauge fell {exact(round(a - b, 3))} points, from {a:g} to {b:g} %, in {hours_said(hours)}."
    if came_in:
        echo += f" {exact(came_in / 1000)} kWh that came in meanwhile count as used."
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
        f"{exact(v)} W {word}"
        for word, v in (("resting", rest), ("running", run), ("at the highest", high))
        if v is not None
    ]
    return Understood(
        "log", average_w=average, rest_w=rest, run_w=run, highest_w=high, hours=hours, all=hours >= 24,
        echo=", ".join([f"{exact(average)} W average, logged over {hours_said(hours)}", *more]) + ".",
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
    often = f" {exact(times)} times" if times is not None else ""
    kwh = (run * a_day + (rest or 0.0) * (24 - a_day)) * pieces / 1000
    resting = f", {exact(rest)} W resting" if rest is not None else ""
    echo = f"{exact(run)} W{resting} for {hours_said(hours)}{often} a {found.per}: {fmt(kwh)} kWh a day."
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
            raise NotUnderstood("reading", said, "say over how many hours it was counted", f"{said} in 24 h")
        span, kind = f"in {hours_said(hours)}", "meter"
    if not 0 < hours <= MOST_HOURS:
        raise NotUnderstood("reading", said, "the hours must be more than 0 and at most a year")
    average = energy / hours
    if each and found.count is not None:
        kwh = f"{kwh} each"
    day = f", {fmt(24 * average / 1000)} kWh a day" if hours >= 24 and span != "a day" else ""
    echo = f"{kwh} {span}: {fmt(average)} W average{day}"
    for value, word in ((low, "at the lowest"), (high, "at the highest"), (run, "running"), (start, "at the start")):
        echo += f", {exact(value)} W {word}" if value is not None else ""
    echo += f", power factor {exact(pf)}" if pf is not None else ""
    notes = ["The meter's highest bounds what it draws running; it may be a start or a defrost, and misses a start of under "
             "a second."] if high is not None else []  # fmt: skip
    if high is not None and average > high * 1.05:
        raise NotUnderstood("reading", said, f"an average of {fmt(average)} W cannot exceed the highest, {fmt(high)} W")
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
    day = f", {fmt(24 * average / 1000)} kWh a day" if hours >= 24 else ""
    echo = f"{exact(average)} W average over {hours_said(hours)}{day}"
    for value, word in ((low, "at the lowest"), (high, "at the highest"), (run, "running")):
        echo += f", {exact(value)} W {word}" if value is not None else ""
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
    notes = [f"746 W a hp ÷ {efficiency:g} efficiency; up to {fmt(high)} W with the service factor of {SERVICE_FACTOR[kind]:g}, "
             "planning defaults."]  # fmt: skip
    if kind == "submersible":
        notes.append("A submersible pump runs into its service factor, so limits count the higher figure.")
    if va is not None:
        usual, high = min(usual, va), min(high, va)
        notes.append(f"The plate's {exact(volts or 0)} V × {exact(most_a or 0)} A rules: at most {fmt(va)} VA.")
    elif most_a is not None:
        raise NotUnderstood("reading", said, "amps say nothing without volts", f"{said} {found.house_volts} V")
    begins = f", {exact(start)} VA at the start" if start is not None else ""
    echo = f"{exact(hp)} hp at the shaft: about {fmt(usual)} W running{begins}."
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
        "rating", run_w=btu / eer, echo=f"{tons}{exact(btu)} BTU/h ÷ EER {exact(eer)} = {fmt(btu / eer)} W running."
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
    echo = f"A charger set to {exact(amps.value)} A at {exact(volts)} V {side}: {fmt(drawn)} W from the wall."
    return Understood("rating", run_w=drawn, echo=echo)


def _amps(said: str, found: Found) -> Understood | None:
    size = found.peek("ah")
    if size is not None:
        volts = found.peek("v")
        rule = "Ah say nothing without volts, and are a battery's size, not a load's draw"
        if volts:
            stored = fmt(size.value * volts.value)
            rule = f"{fmt(size.value)} Ah × {fmt(volts.value)} V is a battery of {stored} Wh, not what a load draws"
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
            echo=f"Starts at {fmt(start or 0)} VA, {exact(starting.value if starting else 0)} A.",
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
    shown_v = ranged.text if ranged is not None and plain is None else f"{exact(volts_v)} V"
    echo = f"{exact(total_a)} A × {shown_v}: " + (
        f"at most {fmt(va)} VA" if run is None else f"{fmt(run)} W running, {fmt(va)} VA"
    )
    echo += f", power factor {exact(pf)}" if pf is not None else ""
    echo += f", {fmt(start)} VA at the start" if start is not None else ""
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
            "reading", said, "the lowest is above the highest", f"low {exact(high)} W, high {exact(low)} W"
        )
    kind: ReadingKind = "spot" if spot is not None else "rating" if run is not None or va is not None else "levels"
    if kind == "levels" and low is None and high is None and average is None:
        kind = "start"
    named = (("running", run), ("on average", average), ("resting", low), ("at the highest", high))
    parts = [f"{fmt(v)} W {word}" for word, v in named if v is not None]
    if ranged is not None and ranged.used:
        parts[0] += f" ({ranged.text}; the upper counts)"
    elif both_legs and plain is not None:
        parts[0] += ", both legs together"
    parts += [f"at most {fmt(va)} VA"] if va is not None else []
    parts += [f"power factor {exact(pf)}"] if pf is not None else []
    parts += [f"{fmt(start)} VA starting"] if start is not None else []
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
    echo = (
        f"Between {exact(low)} and {exact(high)} W, usually {exact(usual)} W {'on average' if average else 'running'}."
    )
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


# In this order: the first that makes something of a text decides.
READERS: tuple[Callable[[str, Found], Understood | None], ...] = (
    _percents, _gauge, _logged, _so_long_a_day, _energy, _slips, _motor, _cooling, _charger, _amps, _powers, _leftovers,
)  # fmt: skip
