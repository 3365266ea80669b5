"""Readers of power: percents, motors, cooling, chargers, amps and plain watts; and the order in which all are asked."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace

from imbuto.core.measuring.energy_readers import energy, gauge, read_log_summary, slips, so_long_a_day
from imbuto.core.measuring.figure_scan import FoundFigures
from imbuto.core.measuring.understood_text import NotUnderstood, ReadingKind, ReadText, exact, fmt

W_PER_HP = 746.0
SERVICE_FACTOR = {"submersible": 1.5, "other": 1.15}  # planning defaults
MOTOR_EFFICIENCY_SMALL, MOTOR_EFFICIENCY_LARGE = 0.65, 0.75  # below 1 hp, from 1 hp; planning defaults
CHARGER_EFFICIENCY = 0.92  # battery over AC of a charger; planning default
RANGE_SPREAD = 2.56  # sigmas from the low to the high of a guess


ADAPTER_V = 60.0  # below it, volts on a label are an adapter's DC output
ADAPTER_EFFICIENCY = 0.89  # of an adapter, DC out over AC in; planning default


def _percents(said: str, found: FoundFigures) -> ReadText | None:
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
            raise NotUnderstood("reading", said, "enter a share of time from 0 to 100%")
        run, rest = found.use(watts), found.take("w", "rest")
        found.roles.update(dict.fromkeys(("running",), True) if "running" in found.roles else {})
        average = (rest or 0.0) + (run - (rest or 0.0)) * duty
        resting = f", {exact(rest)} W resting" if rest is not None else ""
        echo = f"{exact(run)} W running{resting}, {exact(percent.value)}% of the time: {fmt(average)} W on average."
        return ReadText("rating", run_w=run, rest_w=rest, average_w=average, duty=duty, echo=echo)
    if watts is None and re.match(r"\s*of the time", near) and 0 < percent.value <= 100:
        rated = next((u for decide in (_motor, _cooling, _charger, _amps) if (u := decide(said, found))), None)
        if rated is not None and rated.run_w is not None:
            duty = found.use(percent) / 100
            average = rated.run_w * duty
            echo = f"{rated.echo.rstrip('.')}, {exact(percent.value)}% of the time: {fmt(average)} W on average."
            return replace(rated, average_w=average, duty=duty, echo=echo)
    if watts is not None and watts.at > percent.end and re.match(r"\s*of\b", near):
        part = found.use(percent) / 100 * found.use(watts)
        echo = f"{exact(percent.value)}% of {exact(watts.value)} W: {fmt(part)} W running."
        return ReadText("spot", run_w=part, echo=echo, notes=(ONE_MOMENT,))
    if watts is None and "load" in found.words and found.peek("h") is None and found.peek("wh") is None:
        found.name = [w for w in found.name if w.lower() != "load"]
        value = found.use(percent)
        if not 0 < value <= 200:
            raise NotUnderstood("reading", said, "enter a load from 0 to 200% of the rating")
        echo = f"{exact(value)}% of the station's rating, running."
        return ReadText("spot", load_percent=value, echo=echo, notes=(ONE_MOMENT,))
    return None


ONE_MOMENT = "A single moment shows running W only, never the average of a load that cycles."


def _motor(said: str, found: FoundFigures) -> ReadText | None:
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
    notes = [
        f"746 W a hp ÷ {efficiency:g} efficiency; up to {fmt(high)} W with the service factor of "
        f"{SERVICE_FACTOR[kind]:g}, "
        "planning defaults."
    ]
    if kind == "submersible":
        notes.append("A submersible pump runs into its service factor, so the higher figure counts.")
    if va is not None:
        usual, high = min(usual, va), min(high, va)
        notes.append(f"The plate's {exact(volts or 0)} V × {exact(most_a or 0)} A rules: at most {fmt(va)} VA.")
    elif most_a is not None:
        raise NotUnderstood("reading", said, "add the volts, such as 5 A at 120 V", f"{said} {found.house_volts} V")
    begins = f", {exact(start)} VA at the start" if start is not None else ""
    run_w = high if kind == "submersible" else usual
    echo = f"{hp:.3g} hp at the shaft: about {fmt(run_w)} W running{begins}."
    return ReadText(
        "rating",
        run_w=run_w,
        high_w=high,
        va=va,
        start_va=start,
        power_factor=found.take("pf"),
        echo=echo,
        notes=tuple(notes),
    )


def _cooling(said: str, found: FoundFigures) -> ReadText | None:
    token = found.peek("btu")
    if token is None:
        return None
    if found.peek("w") is not None and found.peek("eer") is None:
        return None  # its watts are told: the BTU are named as not taken
    btu, eer = found.use(token), found.take("eer")
    if not eer:
        rule = "BTU/h and tons show cooling, not power; add the EER from the label"
        raise NotUnderstood("reading", said, rule, f"{token.text} EER 10")
    tons = f"{token.text}, " if "ton" in token.text.lower() else ""
    return ReadText(
        "rating", run_w=btu / eer, echo=f"{tons}{exact(btu)} BTU/h ÷ EER {exact(eer)} = {fmt(btu / eer)} W running."
    )


def _start_of(found: FoundFigures) -> float | None:
    """Starting VA, where given in VA, W, or A at a voltage."""
    direct = found.take("va", "start")
    direct = found.take("w", "start") if direct is None else direct
    if direct is not None:
        return direct
    amps, volts = found.peek("a", "start"), found.of("v")
    if amps is None or not volts:
        return None
    return found.use(amps) * found.use(volts[0])


def _charger(said: str, found: FoundFigures) -> ReadText | None:
    """Amps set on a charger, on its AC or its battery side."""
    amps = found.peek("a", "") or found.peek("a", "run")
    if amps is None or not {"charger", "charging", "charge"} & set(found.words) or found.peek("w") or found.peek("wh"):
        return None
    volts = found.take("v")
    if volts is None:
        raise NotUnderstood("reading", said, "add the volts, such as 5 A at 120 V", f"{said} {found.house_volts} V")
    battery = found.says("battery", "dc") or volts < 100
    drawn = found.use(amps) * volts / (CHARGER_EFFICIENCY if battery else 1.0)
    side = f"at the battery, ÷ {CHARGER_EFFICIENCY:g}" if battery else "at the wall"
    echo = f"A charger set to {exact(amps.value)} A at {exact(volts)} V {side}: {fmt(drawn)} W from the wall."
    return ReadText("rating", run_w=drawn, echo=echo)


def _amps(said: str, found: FoundFigures) -> ReadText | None:
    size = found.peek("ah")
    if size is not None:
        volts = found.peek("v")
        rule = "Ah needs volts, and it is a battery's size, not a load's power"
        if volts:
            many = int(found.count.value) if found.count is not None else 1
            stored = fmt(many * size.value * volts.value)
            of = f"{many} × " if many > 1 else ""
            rule = f"{of}{fmt(size.value)} Ah × {fmt(volts.value)} V is a battery of {stored} Wh, not what a load draws"
        raise NotUnderstood("reading", said, rule)
    amps = next((t for t in found.of("a") if t.role not in ("start", "rest")), None)
    starting = found.peek("a", "start")
    if amps is None and starting is None:
        return None
    ranged = found.range_of("v")
    if found.peek("v") is None and ranged is None:
        raise NotUnderstood("reading", said, "add the volts, such as 5 A at 120 V", f"{said} {found.house_volts} V")
    start = _start_of(found)
    if amps is None:
        return ReadText(
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
        raise NotUnderstood("reading", said, "enter a power factor from 0 to 1")
    run = watts if watts is not None else va * pf if pf else None
    if volts_v < ADAPTER_V and run is None and ranged is None:  # an adapter's output is DC: its W are V × A
        outlet_w = va / ADAPTER_EFFICIENCY
        return ReadText(
            "rating",
            run_w=outlet_w,
            echo=f"{exact(total_a)} A × {exact(volts_v)} V of DC: at most {fmt(va)} W, about {fmt(outlet_w)} W at the "
            "outlet.",
            notes=("An adapter draws about an eighth more from the outlet than it supplies; planning default.",),
        )
    shown_v = ranged.text if ranged is not None and plain is None else f"{exact(volts_v)} V"
    echo = f"{exact(total_a)} A × {shown_v}: " + (
        f"at most {fmt(va)} VA" if run is None else f"{fmt(run)} W running, {fmt(va)} VA"
    )
    echo += f", power factor {exact(pf)}" if pf is not None else ""
    echo += f", {fmt(start)} VA at the start" if start is not None else ""
    notes = () if run is not None else ("V × A is an upper limit. The power factor lowers the watts.",)
    return ReadText("rating", run_w=run, va=va, start_va=start, power_factor=pf, echo=echo + ".", notes=notes)


def _powers(said: str, found: FoundFigures) -> ReadText | None:
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
        either = re.search(r"(?:/|\||\bor\b)\s*$", found.said[: another.at], re.IGNORECASE)
        apart = "enter the figure it runs at now, and note the other as a setting" if either else ""
        raise NotUnderstood(
            "reading",
            said,
            f"it has {another.text} and another power; {apart or 'write + between them if they add up'}",
            "" if either else found.said[: another.at].rstrip(" ,;") + " + " + found.said[another.at :],
        )
    if ranged is not None and plain is None and spot is None:
        ranged.used = True
        plain = ranged.high
    low, high, average = found.take("w", "rest"), found.take("w", "high"), found.take("w", "average")
    va, pf = found.take("va", "") or found.take("va", "run"), found.take("pf")
    if pf is not None and not 0 < pf <= 1:
        raise NotUnderstood("reading", said, "enter a power factor from 0 to 1")
    run = spot if spot is not None else plain if plain is not None else va * pf if va and pf else None
    if all(x is None for x in (run, low, high, average, start, va)):
        return None
    if low is not None and high is not None and low > high:
        raise NotUnderstood(
            "reading", said, "enter a lowest figure below the highest", f"low {exact(high)} W, high {exact(low)} W"
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
    return ReadText(
        kind,
        average_w=average,
        run_w=run,
        rest_w=low,
        highest_w=high,
        start_va=start,
        va=va,
        power_factor=pf,
        echo=", ".join(parts) + ".",
        notes=(ONE_MOMENT,) if kind == "spot" else (),
    )


def _guessed(said: str, usual: float, low: float | None, high: float | None, *, average: bool) -> ReadText:
    """A guess with its low, usual and high."""
    low, high = usual if low is None else low, usual if high is None else high
    if not low <= usual <= high or usual <= 0:
        raise NotUnderstood("reading", said, "enter a guess as low, usual and high, in that order")
    spread = (high - low) / RANGE_SPREAD / usual
    echo = (
        f"Between {exact(low)} and {exact(high)} W, usually {exact(usual)} W {'on average' if average else 'running'}."
    )
    if average:
        return ReadText("rating", average_w=usual, spread=spread, echo=echo)
    return ReadText("rating", run_w=usual, high_w=high, spread=spread, echo=echo)


def _leftovers(said: str, found: FoundFigures) -> ReadText | None:
    """Nothing that is power or energy: say what is missing."""
    bare = [t for t in found.tokens if not t.unit]
    if bare:
        lone = len(bare) == 1 and len(found.tokens) == 1 and re.fullmatch(r"[\d.,\s]+", said)
        rule = f"{bare[0].text} of what? Add the unit: W, A and V, or kWh and hours"
        raise NotUnderstood("reading", said, rule, f"{said} W" if lone else "")
    if found.of("v") or found.range_of("v"):
        raise NotUnderstood("reading", said, "volts alone don't show the power; add the amps or the watts")
    if found.of("h"):
        raise NotUnderstood("reading", said, "hours of what? Add the energy, such as 0.43 kWh")
    if found.tokens:
        raise NotUnderstood("reading", said, "this alone doesn't show the power; add the watts, or amps and volts")
    return None


# In this order: the first that makes something of a text decides.
READERS: tuple[Callable[[str, FoundFigures], ReadText | None], ...] = (
    _percents,
    gauge,
    read_log_summary,
    so_long_a_day,
    energy,
    slips,
    _motor,
    _cooling,
    _charger,
    _amps,
    _powers,
    _leftovers,
)
