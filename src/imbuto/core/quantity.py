"""The one text field: what people read off labels and meters, understood, echoed, or answered with what was meant."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field, replace
from typing import Literal

from imbuto.core.errors import ImbutoError, shown
from imbuto.core.units import number_text
from imbuto.core.words import FILLERS, PERIODS, PIECES, ROLE_OF, UNITS

ReadingKind = Literal["log", "meter", "rating", "spot", "yearly", "gauge", "levels", "start"]

W_PER_HP = 746.0
SERVICE_FACTOR = {"submersible": 1.5, "other": 1.15}  # planning defaults
MOTOR_EFFICIENCY_SMALL, MOTOR_EFFICIENCY_LARGE = 0.65, 0.75  # below 1 hp, from 1 hp; planning defaults
LEAST_DROP = 5.0  # points of a gauge; fewer tell nothing
MOST_W = 50_000.0
MOST_HOURS = 8_784.0
PER_HOURS = {"hour": 1.0, "day": 24.0, "night": 24.0, "week": 168.0, "month": 730.5, "year": 8_766.0}


class NotUnderstood(ImbutoError):
    """A text that says nothing certain. suggestion: what was likely meant, to be sent back as it is; may be empty."""

    kind = "not_understood"

    def __init__(self, field: str, value: object, rule: str, suggestion: str = "") -> None:
        super().__init__(field, value, rule)
        self.suggestion = suggestion

    @property
    def sentence(self) -> str:
        asked = f" Did you mean “{self.suggestion}”?" if self.suggestion else ""
        return f"{shown(self.value)}: {self.rule}.{asked}"


@dataclass(frozen=True, slots=True)
class Understood:
    """What a text says. W and VA of one piece; hours over which energy_wh was counted; percent as read off a gauge.

    kind: how it was come by; name: words before the figures, a load's name perhaps; va: an upper bound of running VA;
    highest_w: the meter's highest, which misses a start; echo: the same in plain words; notes: what to mind.
    """

    kind: ReadingKind
    name: str = ""
    count: int = 1
    average_w: float | None = None
    run_w: float | None = None
    rest_w: float | None = None
    highest_w: float | None = None
    start_va: float | None = None
    va: float | None = None
    power_factor: float | None = None
    energy_wh: float | None = None
    hours: float | None = None
    from_percent: float | None = None
    to_percent: float | None = None
    echo: str = ""
    notes: tuple[str, ...] = ()


@dataclass(slots=True)
class _Found:
    """Quantities by unit, each with its role; what else was said."""

    by_unit: dict[str, list[tuple[float, str]]] = field(default_factory=dict)
    ranges: list[tuple[float, float, str]] = field(default_factory=list)
    per: str = ""
    count: int = 1
    bare: list[float] = field(default_factory=list)
    words: list[str] = field(default_factory=list)
    name: list[str] = field(default_factory=list)
    negative: bool = False
    house_volts: int = 120

    def first(self, unit: str, role: str | None = None) -> float | None:
        return next((v for v, r in self.by_unit.get(unit, []) if role is None or r == role), None)

    def total(self, unit: str) -> float | None:
        values = self.by_unit.get(unit)
        return sum(v for v, _ in values) if values else None


def to_number(text: str) -> float:
    """A number as people write it: 1/2, ¾, 1 1/2, 0,18, 1,500, 1 350, .65."""
    plain = text.strip().replace("\u00a0", " ")
    halves = {"½": 0.5, "¼": 0.25, "¾": 0.75}
    if plain in halves:
        return halves[plain]
    if "/" in plain:
        top, bottom = (part.strip() for part in plain.split("/"))
        whole, _, top = top.rpartition(" ")
        return (float(whole) if whole else 0.0) + (float(top) / float(bottom) if float(bottom) else math.inf)
    plain = plain.replace(" ", "")
    if "," in plain and "." in plain:
        last = max(plain.rfind(","), plain.rfind("."))
        plain = re.sub(r"[.,]", "", plain[:last]) + "." + plain[last + 1 :]
    elif re.fullmatch(r"[1-9]\d{0,2}(,\d{3})+", plain):
        plain = plain.replace(",", "")
    return float(plain.replace(",", "."))


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
    found = _scan(said)
    found.house_volts = volts
    if found.negative:
        raise NotUnderstood("reading", said, "a load draws at least 0", said.replace("-", "").strip())
    for decide in (_gauge, _logged, _energy, _slips, _motor, _cooling, _amps, _powers, _leftovers):
        result = decide(said, found)
        if result is not None:
            return _checked(said, replace(result, name=" ".join(found.name), count=found.count))
    raise NotUnderstood("reading", said, "no figure with a unit is in it; try 950 W, or 0.43 kWh in 6.5 h")


def _scan(text: str) -> _Found:
    found = _Found()
    role, seen, last = "", False, None
    for m in PIECES.finditer(text.replace("~", " ")):
        if m["word"]:
            word = m["word"].lower()
            found.words.append(word)
            named = ROLE_OF.get(word, "")
            if named and last is not None and not role and re.match(r"\s+$", text[last[3] : m.start()] or " "):
                unit, i, _, _ = last
                value, had = found.by_unit[unit][i]
                follows = text[m.end() :].lstrip()[:1]
                if not had and not (follows.isdigit()):  # "131 W max": the word belongs to what stands before it
                    found.by_unit[unit][i] = (value, named)
                    last = None
                    continue
            if named:
                role = named
            elif not seen and word not in FILLERS:
                found.name.append(m["word"])
            continue
        if m["per"]:
            adverbs = {
                "yearly": "year",
                "annual": "year",
                "annually": "year",
                "daily": "day",
                "weekly": "week",
                "monthly": "month",
            }
            found.per = PERIODS[m["period"].lower()] if m["period"] else adverbs[m["adverb"].lower()]
            continue
        seen = True
        if m["clock"]:
            h, minutes = m["clock"].split(":")
            found.by_unit.setdefault("h", []).append((int(h) + int(minutes) / 60, ""))
        elif m["low"]:
            unit, factor = UNITS[m["range_unit"].lower()]
            found.ranges.append((to_number(m["low"]) * factor, to_number(m["high"]) * factor, unit))
        elif m["times"] or m["after"]:
            found.count = int(m["times"] or m["after"])
        elif m["named"]:
            unit = "eer" if m["named"].lower() == "eer" else "pf"
            found.by_unit.setdefault(unit, []).append((to_number(m["named_value"]), ""))
        elif m["value"]:
            unit, factor = UNITS[" ".join(m["unit"].lower().split())]
            found.negative = found.negative or bool(m["minus"])
            listed = found.by_unit.setdefault(unit, [])
            listed.append((to_number(m["value"]) * factor, role if unit in ("w", "va", "a") else ""))
            last = (unit, len(listed) - 1, m.start(), m.end())
            role = role if unit not in ("w", "va", "a") else ""
        else:
            found.negative = found.negative or m["bare"].startswith("-")
            found.bare.append(to_number(m["bare"].lstrip("- ")))
    return found


def _fmt(value: float) -> str:
    return number_text(round(value, 1 if value >= 10 else 2)) if value >= 10 else f"{value:.3g}"


def _gauge(said: str, found: _Found) -> Understood | None:
    drop = next(((a, b) for a, b, unit in found.ranges if unit == "%"), None)
    listed = found.by_unit.get("%", [])
    if drop is None and len(listed) == 2:
        drop = listed[0][0], listed[1][0]
    if drop is None:
        if listed:
            raise NotUnderstood("reading", said, "a gauge is read twice: give both, such as 71 to 58 % in 9 h")
        return None
    a, b = drop
    hours = found.total("h")
    if hours is None or hours <= 0:
        raise NotUnderstood("reading", said, "say over how many hours it fell", f"{a:g} to {b:g} % in 9 h")
    if b >= a:
        raise NotUnderstood("reading", said, "the gauge must fall", f"{b:g} to {a:g} % in {_fmt(hours)} h")
    if a > 100:
        raise NotUnderstood("reading", said, "a gauge shows at most 100 %")
    if a - b < LEAST_DROP:
        raise NotUnderstood(
            "reading", said, f"{a - b:g} points tell too little; wait until it has fallen by {LEAST_DROP:g}"
        )
    echo = f"The gauge fell {a - b:g} points in {_fmt(hours)} h."
    note = "Only this load may have been on; the station's own draw is taken off."
    return Understood("gauge", from_percent=a, to_percent=b, hours=hours, echo=echo, notes=(note,))


def _logged(said: str, found: _Found) -> Understood | None:
    """A log's summary: log 168 h, average 58.2 W, rest 4 W, runs 131 W."""
    if not {"log", "logged"} & set(found.words):
        return None
    hours, average = found.total("h"), found.first("w", "average")
    if hours is None or average is None or hours <= 0:
        rule = "a log gives its hours and its average"
        raise NotUnderstood("reading", said, rule, "log 72 h, average 58 W, rest 4 W, runs 131 W")
    found.name = [w for w in found.name if w.lower() not in ("log", "logged")]
    return Understood(
        "log", average_w=average, rest_w=found.first("w", "rest"), run_w=found.first("w", "run"), hours=hours,
        echo=f"{_fmt(average)} W average, logged over {_fmt(hours)} h.",
    )  # fmt: skip


def _energy(said: str, found: _Found) -> Understood | None:
    energy, hours = found.total("wh"), found.total("h")
    if energy is None:
        return None
    if found.per and hours is not None:
        raise NotUnderstood("reading", said, "it gives both a period and hours; which one was it counted over?")
    if found.per and found.per != "hour":
        average = energy / PER_HOURS[found.per]
        kind: ReadingKind = "yearly" if found.per in ("year", "month") else "meter"
        echo = f"{_fmt(average)} W average, from {_fmt(energy / 1000)} kWh a {found.per}."
        return Understood(kind, average_w=average, energy_wh=energy, hours=PER_HOURS[found.per], echo=echo)
    hours = 1.0 if found.per == "hour" else hours
    if hours is None:
        raise NotUnderstood(
            "reading", said, "say over how many hours it was counted", f"{_fmt(energy / 1000)} kWh in 24 h"
        )
    if not 0 < hours <= MOST_HOURS:
        raise NotUnderstood("reading", said, "the hours must be more than 0 and at most a year")
    average = energy / hours
    low, high = found.first("w", "rest"), found.first("w", "high")
    echo = f"{_fmt(average)} W average over {_fmt(hours)} h."
    notes = ["The meter's highest misses a start of under a second."] if high is not None else []
    if high is not None and average > high * 1.05:
        raise NotUnderstood(
            "reading", said, f"an average of {_fmt(average)} W cannot exceed the highest, {_fmt(high)} W"
        )
    return Understood(
        "meter", average_w=average, rest_w=low, highest_w=high, run_w=found.first("w", "run"), energy_wh=energy,
        hours=hours, power_factor=found.first("pf"), echo=echo, notes=tuple(notes),
    )  # fmt: skip


def _slips(said: str, found: _Found) -> Understood | None:
    """Rates and amounts mixed up: answered with the likely meaning."""
    watts = found.first("w")
    if watts is None or found.first("hp") is not None:
        return None
    hours = found.total("h")
    written = (
        f"{_fmt(watts / 1000)} kW"
        if watts >= 1000 or re.search(r"kw|kilowatt", said, re.IGNORECASE)
        else f"{_fmt(watts)} W"
    )
    if found.per == "hour":
        raise NotUnderstood("reading", said, "W is a rate already, and has no “per hour”", written)
    if found.per:
        raise NotUnderstood(
            "reading", said, f"W is a rate; what is used a {found.per} is energy", f"{written}h a {found.per}"
        )
    if hours is not None:
        rule = "W is a rate; what a meter counts over hours is energy"
        raise NotUnderstood("reading", said, rule, f"{written}h in {_fmt(hours)} h")
    return None


def _motor(said: str, found: _Found) -> Understood | None:
    hp = found.first("hp")
    if hp is None:
        return None
    kind = "submersible" if "submersible" in found.words else "other"
    efficiency = MOTOR_EFFICIENCY_SMALL if hp < 1 else MOTOR_EFFICIENCY_LARGE
    watts = W_PER_HP * hp * SERVICE_FACTOR[kind] / efficiency
    amps, volts = found.first("a"), found.first("v")
    va = amps * volts if amps and volts else None
    start = _start_of(found)
    notes = [f"746 W a hp × {SERVICE_FACTOR[kind]:g} service factor ÷ {efficiency:g} efficiency, planning defaults."]
    if va is not None:
        watts = min(watts, va)
        notes.append(f"The plate's {_fmt(volts or 0)} V × {_fmt(amps or 0)} A rules: at most {_fmt(va)} VA.")
    echo = f"{_fmt(hp)} hp at the shaft: about {_fmt(watts)} W running."
    return Understood(
        "rating", run_w=watts, va=va, start_va=start, power_factor=found.first("pf"), echo=echo, notes=tuple(notes)
    )


def _cooling(said: str, found: _Found) -> Understood | None:
    btu = found.first("btu")
    if btu is None:
        return None
    eer = found.first("eer")
    if not eer:
        rule = "BTU/h is cooling moved, not power drawn; add the EER off the label"
        raise NotUnderstood("reading", said, rule, f"{_fmt(btu)} BTU EER 10")
    return Understood(
        "rating", run_w=btu / eer, echo=f"{_fmt(btu)} BTU/h ÷ EER {_fmt(eer)} = {_fmt(btu / eer)} W running."
    )


def _start_of(found: _Found) -> float | None:
    """Starting VA, where given in VA, W, or A at a voltage."""
    direct = found.first("va", "start") or found.first("w", "start")
    amps, volts = found.first("a", "start"), found.first("v")
    return direct if direct is not None else amps * volts if amps and volts else None


def _amps(said: str, found: _Found) -> Understood | None:
    if found.first("ah") is not None:
        size = found.first("ah") or 0.0
        volts = found.first("v")
        rule = "Ah say nothing without volts, and are a battery's size, not a load's draw"
        if volts:
            rule = f"{_fmt(size)} Ah × {_fmt(volts)} V is a battery of {_fmt(size * volts)} Wh, not what a load draws"
        raise NotUnderstood("reading", said, rule)
    amps = next((v for v, r in found.by_unit.get("a", []) if r != "start"), None)
    start = _start_of(found)
    if amps is None and found.first("a", "start") is None:
        return None
    volts = found.first("v")
    if volts is None and found.ranges:
        volts = next((b for _, b, unit in found.ranges if unit == "v"), None)
    if volts is None:
        given = amps if amps is not None else found.first("a", "start") or 0.0
        raise NotUnderstood("reading", said, "amps say nothing without volts", f"{_fmt(given)} A {found.house_volts} V")
    if amps is None:
        return Understood("start", start_va=start, echo=f"Starts at {_fmt(start or 0)} VA.")
    va, pf = amps * volts, found.first("pf")
    if pf is not None and not 0 < pf <= 1:
        raise NotUnderstood("reading", said, "a power factor lies between 0 and 1")
    watts = found.first("w")
    run = watts if watts is not None else va * pf if pf else None
    echo = f"At most {_fmt(va)} VA." if run is None else f"{_fmt(run)} W running, {_fmt(va)} VA."
    notes = () if run is not None else ("V × A is a ceiling: the W are fewer by the power factor.",)
    return Understood("rating", run_w=run, va=va, start_va=start, power_factor=pf, echo=echo, notes=notes)


def _powers(said: str, found: _Found) -> Understood | None:
    ranged = next((b for _, b, unit in found.ranges if unit == "w"), None)
    listed = found.by_unit.get("w", [])
    plain = next((v for v, role in listed if role in ("", "run")), ranged)
    low, high, average = found.first("w", "rest"), found.first("w", "high"), found.first("w", "average")
    spot, start, va = found.first("w", "spot"), _start_of(found), found.first("va")
    if va is not None and found.first("va", "start") == va:
        va = None
    pf = found.first("pf")
    if pf is not None and not 0 < pf <= 1:
        raise NotUnderstood("reading", said, "a power factor lies between 0 and 1")
    run = spot if spot is not None else plain if plain is not None else va * pf if va and pf else None
    if all(x is None for x in (run, low, high, average, start, va)):
        return None
    if low is not None and high is not None and low > high:
        raise NotUnderstood(
            "reading", said, "the lowest is above the highest", f"low {_fmt(high)} W, high {_fmt(low)} W"
        )
    kind: ReadingKind = "spot" if spot is not None else "rating" if run is not None or va is not None else "levels"
    if kind == "levels" and low is None and high is None and average is None:
        kind = "start"
    named = (("running", run), ("on average", average), ("resting", low), ("at the highest", high))
    parts = [f"{_fmt(v)} W {word}" for word, v in named if v is not None]
    parts += [f"at most {_fmt(va)} VA"] if va is not None else []
    parts += [f"{_fmt(start)} VA starting"] if start is not None else []
    notes = ("One moment gives running W only, never an average of a load that cycles.",) if kind == "spot" else ()
    return Understood(
        kind, average_w=average, run_w=run, rest_w=low, highest_w=high, start_va=start, va=va, power_factor=pf,
        echo=", ".join(parts) + ".", notes=notes,
    )  # fmt: skip


def _leftovers(said: str, found: _Found) -> Understood | None:
    """Nothing that is power or energy: say what is missing."""
    if found.bare:
        rule = f"{_fmt(found.bare[0])} of what? Add the unit: W, A and V, or kWh and hours"
        raise NotUnderstood("reading", said, rule, f"{_fmt(found.bare[0])} W")
    if found.by_unit.get("v") or any(unit == "v" for *_, unit in found.ranges):
        raise NotUnderstood("reading", said, "volts alone say nothing about use; add the amps or the watts")
    if found.by_unit.get("h"):
        raise NotUnderstood("reading", said, "hours of what? Add the energy, such as 0.43 kWh")
    if found.by_unit.get("hz") or found.by_unit.get("pf") or found.by_unit.get("eer"):
        raise NotUnderstood("reading", said, "that alone says nothing about use; add the watts, or amps and volts")
    return None


def _checked(said: str, u: Understood) -> Understood:
    """Refuse the impossible."""
    for value in (u.average_w, u.run_w, u.rest_w, u.highest_w, u.va):
        if value is not None and not (math.isfinite(value) and value <= MOST_W):
            raise NotUnderstood(
                "reading", said, f"{_fmt(value) if math.isfinite(value) else 'that'} W is more than any home's load"
            )
    if not 1 <= u.count <= 200:
        raise NotUnderstood("reading", said, "a count lies between 1 and 200")
    return u
