"""What a figure of a data sheet may mean, for each kind of equipment."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from imbuto.core.measuring.data_sheet_figures import Figure, says
from imbuto.core.measuring.said_or_denied import sayings, settle_mentions

SheetKind = Literal["stations", "modules", "panels", "transfer", "generators"]
PROMISE = re.compile(
    r"expand|up to|as much as|with \d+ (?:extra|more|add)|maximum capacity|total system|ecosystem", re.IGNORECASE
)


# A row whose cell says no: "240 V outlet: no".
DENIED = (
    r"[:|\t=]\s*(?:no|none|n/?a|false|✗|✘|[-–—])\.?\s*$|\bnot (?:included|supported|available|possible|provided)\.?\s*$"
)


@dataclass(frozen=True, slots=True)
class FoundValues:
    """One value read.

    field: of the entry
    words: the text it came from
    ask: why it is to be looked at before it is taken, empty where the text says it plainly
    """

    field: str
    value: float | str | bool
    words: str
    ask: str = ""


def meanings(f: Figure, kind: SheetKind) -> Iterator[tuple[int, FoundValues]]:
    """What a figure may be, the surest first: rank 0 where its own words say so, 1 where its line does, 2 by its unit
    alone."""
    rules: dict[SheetKind, Callable[[Figure], Iterator[tuple[int, str, float | str, str]]]] = {
        "stations": _station,
        "modules": _module,
        "panels": _panel,
        "transfer": _transfer,
        "generators": _generator,
    }
    if re.search(DENIED, f.line):
        return
    for rank, field, value, ask in rules[kind](f):
        yield rank, FoundValues(field, value, f.words, ask)


def _rank(f: Figure, pattern: str) -> int | None:
    if says(f.near, pattern):
        return 0
    return 1 if says(f.line, pattern) else None


SOLAR = r"solar|\bpv\b|mppt|photovolt|\bsun\b"
CHARGE = r"charg|\bac in|input"
SURGE = r"surge|peak|start|boost"
IDLE = r"idle|standby|self.?consum|no.load|own draw|quiescent"
MODULE = r"module|expansion|extra batter|add.on|battery pack"
DC_OUT = r"usb|car (?:port|outlet|output|charger)|cigar|\bdc (?:out|port)|type-?c|12 ?v (?:out|port)"


def _station(f: Figure) -> Iterator[tuple[int, str, float | str, str]]:
    near, promise = f.near, "it is a promise, not what one unit holds" if PROMISE.search(f.near) else ""
    if f.unit == "Wh":
        if says(near, MODULE) and not promise:
            yield 0, "module_wh", f.low, ""
        elif promise or says(near, r"per day|a day|used"):
            return
        else:
            yield (0 if says(near, "capacity|stor|energy|battery") else 2), "nominal_wh", f.low, ""
    elif f.unit in ("W", "VA"):
        yield from _station_power(f)
    elif f.unit == "V":
        yield from _station_volts(f)
    elif f.unit == "A":
        yield from _station_amps(f)
    elif f.unit == "ms" and says(f.line, r"switch|transfer|ups|takes? ?over|changeover|backup"):
        yield 0, "transfer_ms", f.high, ""
    elif f.unit == "s" and says(f.line, r"transfer|take.?over|ups") and not says(near, SURGE):
        yield 0, "transfer_ms", 1000 * f.high, ""
    elif f.unit == "s" and says(f.line, SURGE):
        yield 0, "surge_s", f.low, ""
    elif f.unit in ("°C", "°F"):
        yield from _range(f, r"(?<!dis)charg", "charge_min_c", "charge_max_c")
        if not says(near, r"(?<!dis)charg|stor"):
            yield from _range(
                f, r"discharg|operat|output|use|work|ambient|temperature", "discharge_min_c", "discharge_max_c"
            )
    elif f.unit == "kg":
        yield (
            (0 if says(near, "weigh|mass") else 2),
            ("module_weight_kg" if says(near, MODULE) else "weight_kg"),
            round(f.low, 2),
            "",
        )
    elif f.unit == "cycles":
        yield 0, "cycle_life", f.low, "" if not says(near, r"70|60") else "to what share of its capacity?"
    elif f.unit == "years" and says(f.line, "warrant|guarant"):
        yield 0, "warranty_years", f.high, "" if not promise else "more than the plain warranty asks for something"
    elif f.unit == "dB":
        yield 0, "noise_idle_db" if says(near, IDLE + "|quiet") else "noise_load_db", f.high, ""


def _range(f: Figure, pattern: str, low: str, high: str) -> Iterator[tuple[int, str, float, str]]:
    rank = _rank(f, pattern)
    if rank is None or f.low == f.high:
        return
    ends = (f.low, f.high) if f.unit == "°C" else tuple(round((x - 32) / 1.8, 1) for x in (f.low, f.high))
    yield rank, low, ends[0], ""
    yield rank, high, ends[1], ""


def _station_power(f: Figure) -> Iterator[tuple[int, str, float | str, str]]:
    near = f.near
    if says(near, DC_OUT):
        return
    if says(near, SOLAR):
        yield 0, "solar_max_w", f.high, ""
        if f.many > 1:
            yield 0, "solar_inputs", float(f.many), ""
    elif says(near, IDLE):
        yield 0, "idle_w", f.high, ""
    elif says(near, SURGE):
        yield 0, "surge_va", f.high, ""
    elif says(near, r"both|combined|dual|ac ?\+|together"):
        yield 3, "charge_w", f.high, "is that the wall alone, or with the sun?"
    elif (says(near, CHARGE) or says(f.heading, CHARGE)) and not says(near, "output"):
        yield 0, "charge_w", f.high, ""
    elif f.unit == "VA":
        yield 0, "rated_va", f.low, ""
    elif says(near, r"output|continu|rated|invert|running|nominal power|power|\bac\b|gives|all the time|sine"):
        yield (0 if says(near, "continu|rated|running|all the time") else 1), "continuous_w", f.low, ""
    else:
        yield from _station_power_by_line(f)


def _station_power_by_line(f: Figure) -> Iterator[tuple[int, str, float | str, str]]:
    if says(f.line, SOLAR):
        yield 1, "solar_max_w", f.high, ""
    elif says(f.line, CHARGE) and not says(f.line, "output"):
        yield 1, "charge_w", f.high, ""
    elif says(f.line, r"output|invert"):
        yield 2, "continuous_w", f.low, ""
    elif f.low == f.high and re.fullmatch(r"\W*", f.near) and not f.heading:
        yield 4, "continuous_w", f.low, "is that the power it supplies all the time?"


def _station_volts(f: Figure) -> Iterator[tuple[int, str, float | str, str]]:
    near = f.near
    if says(near, SOLAR) or (says(f.line, SOLAR) and not says(near, r"\bac\b|battery|output")):
        if f.low != f.high:
            yield 0, "solar_min_v", f.low, ""
            yield 0, "solar_max_v", f.high, ""
        else:
            yield 0, "solar_max_v", f.high, ""
    elif says(near, r"battery|cell|pack|nominal voltage") and f.high < 100:
        yield 0, "battery_v", f.low, ""
    elif says(f.line, r"output|invert|\bac\b|outlet|split") and f.high >= 100 and not says(near, r"input|charg"):
        yield 1, "volts", *_volts(f)


def _volts(f: Figure) -> tuple[str, str]:
    """Volts that come out, and what to ask: 240 V alone may be two legs of 120 V, or another country's 230 V."""
    if _both_volts(f.line):
        return "120/240", ""
    if f.high < 150:
        return "120", ""
    return ("120/240", "is it 120 V and 240 V, or 240 V alone?") if f.high >= 235 else ("230", "")


def _both_volts(line: str) -> bool:
    """Whether a line says that both 120 and 240 V come out; "split phase: no" does not."""
    if says(line, r"\b(?:120|240|230)\s*v(?:olts?|ac)?\s+only|only\s+(?:120|240|230)\s*v"):
        return False
    split = settle_mentions(sayings(line, r"split[-\s]?phase"))
    return says(line, r"120\s*v?\s*(?:/|and|or)\s*240") if split is None else split[0]


def _station_amps(f: Figure) -> Iterator[tuple[int, str, float | str, str]]:
    near = f.near
    if says(near, DC_OUT) or says(f.line, r"usb|\bcar\b|cigar|\bdc\b") or _low_volts(f.line):
        return
    if says(near, r"short|isc"):
        yield 0, "solar_max_isc_a", f.high, ""
    elif says(near, SOLAR) or (says(f.line, SOLAR) and not says(near, "output|outlet")):
        yield 0, "solar_max_a", f.high, ""
    elif says(near, r"locking|twist|\brv\b|generator|inlet|large|l14|tt.?30|14.50") and f.high >= 25:
        yield 0, "inlet_outlet_a", f.high, ""
    elif says(near, r"outlet|receptacle|socket|5-15|5-20|schuko") and f.high <= 20:
        yield 0, "outlet_a", f.high, "of one outlet, or of all together?" if says(near, "total|together") else ""
    elif says(f.line, r"outlet|receptacle|socket") and f.high >= 25 and not says(near, "total|together"):
        yield 1, "inlet_outlet_a", f.high, "is that the one for an inlet?"
    elif says(near, r"pass|\bac in|input"):
        yield 0, "input_a", f.high, ""
    elif says(near, r"output|leg|continuous"):
        yield 1, "leg_a", f.high, ""


def _low_volts(line: str) -> bool:
    """Whether the volts of a line are a battery's or a port's, and none are the house's."""
    there = [float(v.replace(",", ".")) for v in re.findall(r"(\d+(?:[.,]\d+)?)\s*v", line)]
    return bool(there) and max(there) < 80 and not says(line, SOLAR)


def _module(f: Figure) -> Iterator[tuple[int, str, float | str, str]]:
    if f.unit == "Wh" and not PROMISE.search(f.near):
        yield 0, "wh", f.low, ""
    elif f.unit == "V" and f.high < 110:
        yield (0 if says(f.near, "nominal|rated|battery") else 1), "battery_v", f.low, ""
    elif f.unit == "kg":
        yield 0, "weight_kg", round(f.low, 2), ""
    elif f.unit == "W" and says(f.near, IDLE + "|draw"):
        yield 0, "draw_w", f.high, ""


PANEL = (
    ("W", "w", r"rated|max|power|pmax|peak|nominal|panel|module|stc"),
    ("V", "voc_v", r"open.?circuit|voc"),
    ("V", "vmp_v", r"vmp|max.*power|operating|mpp|working"),
    ("A", "isc_a", r"short|isc"),
    ("A", "imp_a", r"imp\b|max.*power|operating|mpp|working"),
    ("%/°C", "voc_percent_c", r"voc|open|volt|beta|β"),
    ("%/°C", "power_percent_c", r"pmax|power|gamma|γ"),
    ("°C", "noct_c", r"noct|nominal operating cell"),
    ("V", "max_v", r"system|maximum.*volt"),
    ("kg", "weight_kg", r""),
)


def _panel(f: Figure) -> Iterator[tuple[int, str, float | str, str]]:
    if f.unit == "W" and re.fullmatch(r"\W*", f.near):
        yield 4, "w", f.low, "is that its rated power?"
        return
    for unit, field, pattern in PANEL:
        if f.unit != unit or not says(f.near, pattern) or (field == "noct_c" and f.low != f.high):
            continue
        if field == "vmp_v" and says(f.near, r"system|open|voc"):
            continue
        if field == "imp_a" and says(f.near, r"short|isc|fuse"):
            continue
        if field == "w" and says(f.near, r"temp|tolerance|m²"):
            continue
        value = -abs(f.low) if unit == "%/°C" else f.low
        yield 0, field, value, ""
        return


def _generator(f: Figure) -> Iterator[tuple[int, str, float | str, str]]:
    if f.unit == "W":
        most = says(f.near, SURGE) or (says(f.near, "max") and not says(f.near, "running|rated|continu"))
        yield 0, "surge_w" if most else "running_w", f.high, ""
    elif f.unit == "VA":
        yield 0, "rated_va", f.high, ""
    elif f.unit == "l" and says(f.line, "tank|capacity"):
        yield 0, "tank_l", round(f.low, 2), ""
    elif f.unit == "l/h":
        half = says(f.near, r"50 ?%|half|1/2|½")
        yield (0 if half or says(f.near, "full|100") else 2), "half_l_h" if half else "full_l_h", round(f.low, 3), ""
    elif f.unit == "dB":
        yield 0, "noise_db", f.high, "" if f.low == f.high else "it says a range: how loud at your load?"
    elif f.unit == "kg":
        yield 0, "weight_kg", round(f.low, 2), ""
    elif f.unit == "A" and says(f.line, "outlet|receptacle|l14|l5|tt.?30|output"):
        yield 0, "outlet_a", f.high, ""
    elif f.unit == "V" and f.high >= 100:
        yield 0, "volts", *_volts(f)


# What says that amps are of each circuit: "15 A each", "circuits of 20 A", "20 A per circuit".
EACH_PLACE = r"\beach\b|\bper\b|\bevery\b|\bof\s*$|\b(?:circuits?|places?|ways?|relays?) (?:of|at|with|rated)\b|:"


def _transfer(f: Figure) -> Iterator[tuple[int, str, float | str, str]]:
    near = f.near
    if f.unit == "A" and f.low == f.high:
        if says(near, r"[x×]\s*\d+\b"):  # "15 A x 6, 20 A x 4"
            yield 2, "place_breaker_a", f.high, "it lists breakers of several sizes: which are yours?"
        elif says(near, r"inlet|cord|generator|plug|\bl14|14.50|tt.?30"):
            yield 0, "inlet_a", f.high, ""
        elif says(near, r"breaker") and says(near, r"circuit|place|each|branch|way"):
            yield 0, "place_breaker_a", f.high, ""
        elif says(near, r"circuit|place|each|branch|relay|way"):
            plain = says(near, EACH_PLACE) and not says(near, r"together|total|all|main")
            yield 0, "place_a", f.high, "" if plain else "of each place, or of all together?"
    elif f.unit in ("ms", "s") and says(f.line, r"switch|transfer|takes? ?over|changeover"):
        yield 0, "transfer_ms", f.high * (1000 if f.unit == "s" else 1), ""
    elif f.unit == "V" and f.high >= 100:
        both = _both_volts(f.line)
        yield 0, "volts", "120/240" if both else "120" if f.high < 150 else "230", "" if both else "that alone, or any?"
