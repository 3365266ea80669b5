"""Reads a data sheet, a manual's page or a shop's table: each value with the words it came from.

Nothing is believed that the text does not plainly say: sums that promise ("expandable to …", "up to … with …") and values
that contradict each other are asked about, and what stands there and was not taken is named.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

SheetKind = Literal["stations", "modules", "panels", "transfer", "generators"]
NUMBER = r"[-−+]?\d{1,3}(?:[ ,.’']\d{3})+(?:[.,]\d+)?(?!\d)|[-−+]?\d+(?:[.,]\d+)?"
UNITS = {
    "kwh": ("Wh", 1000.0), "wh": ("Wh", 1.0), "kva": ("VA", 1000.0), "va": ("VA", 1.0), "kw": ("W", 1000.0), "w": ("W", 1.0),
    "watts": ("W", 1.0), "watt": ("W", 1.0), "wp": ("W", 1.0), "vdc": ("V", 1.0), "vac": ("V", 1.0), "volts": ("V", 1.0),
    "v": ("V", 1.0), "ah": ("Ah", 1.0), "amps": ("A", 1.0), "amp": ("A", 1.0), "a": ("A", 1.0), "ms": ("ms", 1.0),
    "milliseconds": ("ms", 1.0), "seconds": ("s", 1.0), "sec": ("s", 1.0), "s": ("s", 1.0), "°c": ("°C", 1.0), "°f": ("°F", 1.0),
    "kg": ("kg", 1.0), "lbs": ("kg", 0.45359), "lb": ("kg", 0.45359), "cycles": ("cycles", 1.0), "years": ("years", 1.0),
    "year": ("years", 1.0), "yr": ("years", 1.0), "db": ("dB", 1.0), "dba": ("dB", 1.0), "db(a)": ("dB", 1.0), "mm": ("m", 0.001),
    "cm": ("m", 0.01), "m": ("m", 1.0), "in": ("m", 0.0254), "l/h": ("l/h", 1.0), "gal/h": ("l/h", 3.78541), "gph": ("l/h", 3.78541),
    "l": ("l", 1.0), "liters": ("l", 1.0), "litres": ("l", 1.0), "gal": ("l", 3.78541), "gallons": ("l", 3.78541),
    "%/°c": ("%/°C", 1.0), "%/k": ("%/°C", 1.0), "hz": ("Hz", 1.0),
}  # fmt: skip
_UNIT = "|".join(sorted((re.escape(u) for u in UNITS), key=len, reverse=True))
_END = r"(?![a-z°/])"
PARTS = r"[,(/|]|\band\b"
FIGURE = re.compile(
    rf"(?:(?P<many>\d{{1,2}})\s*[x×]\s*)?(?P<low>{NUMBER})\s*(?:(?P<u1>{_UNIT}){_END})?"
    rf"(?:\s*(?:[-–—]|~(?=\d)|\bto\b|\.\.\.|…)\s*(?P<high>{NUMBER}))?[-\s]*(?P<unit>{_UNIT}){_END}",
    re.IGNORECASE,
)
PROMISE = re.compile(
    r"expand|up to|as much as|with \d+ (?:extra|more|add)|maximum capacity|total system|ecosystem", re.IGNORECASE
)
NOTES = re.compile(r"(?<=[\w)°])[¹²³⁴*†‡]+")
CHEMISTRY = (
    ("LFP", r"lifepo4|\blfp\b|lithium iron|iron phosphate"),
    ("NMC", r"\bnmc\b|lithium.?ion"),
    ("lead", r"\bagm\b|lead"),
)


@dataclass(frozen=True, slots=True)
class Found:
    """One value read. field: of the entry; words: the text it came from; ask: why it is to be looked at before it is taken,
    empty where the text says it plainly."""

    field: str
    value: float | str | bool
    words: str
    ask: str = ""


@dataclass(frozen=True, slots=True)
class Sheet:
    """What a text says. found: one a field; left: pieces with figures that were not taken."""

    found: tuple[Found, ...]
    left: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _Figure:
    """A number with its unit, where it stands. low, high: of a range, alike for one number; many: "2 ×" before it; near: the
    words that belong to it; line: all of it, with the heading above, but for a line of many things; heading: above it."""

    low: float
    high: float
    unit: str
    many: int
    near: str
    line: str
    heading: str
    words: str


def number(text: str, *, thousands: bool = True) -> float:
    """A number as written in any of the usual ways: 2,048 and 2 048 and 2.048 are thousands, 51.2 and 51,2 are not.
    thousands: False where the unit is already a thousand of another: 2.048 kWh and 2,048 kWh are two."""
    text = text.replace("−", "-").replace(" ", "").replace("’", "").replace("'", "")
    marks = [c for c in text if c in ",."]
    if len(set(marks)) == 2:
        last = max(text.rfind(","), text.rfind("."))
        text = text[:last].replace(",", "").replace(".", "") + "." + text[last + 1 :]
    elif marks and thousands and (len(marks) > 1 or re.fullmatch(r"[-+]?[1-9]\d{0,2}[,.]\d{3}", text)):
        text = text.replace(",", "").replace(".", "")
    return float(text.replace(",", "."))


def read_sheet(text: str, kind: SheetKind) -> Sheet:
    """What a text says of one thing that can be bought. Never raises on any text."""
    figures = list(_figures(text))
    best: dict[str, tuple[int, Found]] = {}
    taken: set[int] = set()
    for i, figure in enumerate(figures):
        for rank, found in _meanings(figure, kind):
            taken.add(i)
            held = best.get(found.field)
            if held is None or rank < held[0]:
                best[found.field] = (rank, found)
            elif rank == held[0] and not _alike(found.value, held[1].value):
                other = f"it says {held[1].words!r} and {found.words!r}: which?"
                best[found.field] = (rank, replace(held[1], ask=held[1].ask or other))
    plain = {f.field: f for f in _plain(text, kind)}
    result = {**plain, **{k: f for k, (_, f) in best.items()}}
    if kind == "stations":
        _settle(result)
    left = [f.words for i, f in enumerate(figures) if i not in taken]
    return Sheet(tuple(result.values()), tuple(dict.fromkeys(left)))


def _alike(a: object, b: object) -> bool:
    if isinstance(a, float) and isinstance(b, float):
        return abs(a - b) <= 0.02 * max(abs(a), abs(b))
    return a == b


def _figures(text: str) -> Iterator[_Figure]:
    heading = ""
    for raw in _lines(text):
        line = NOTES.sub("", raw).replace("℃", "°C").replace("℉", "°F").replace("º", "°").strip(" -*·|\t")
        line = re.sub(r"°\s+([CF])\b", r"°\1", line)
        matches = list(FIGURE.finditer(line))
        if not matches:
            if line and len(line) < 60:
                heading = line
            continue
        label = re.match(r"([^\d:|\t]{3,60}?)(?:[:|\t]|\s{2,}|\s?\.{3,})", line)
        for i, m in enumerate(matches):
            before = line[matches[i - 1].end() if i else 0 : m.start()]
            if i:  # what follows the figure before belongs to that one, up to a comma
                before = re.split(PARTS, before, maxsplit=1)[-1]
            after = line[m.end() : matches[i + 1].start() if i + 1 < len(matches) else len(line)]
            after = re.split(PARTS, after, maxsplit=1)[0]
            own = (label[1] + " " if label else "") + before + " " + after
            unit, factor = UNITS[m["unit"].lower()]
            low = number(m["low"], thousands=factor < 1000) * factor
            high = number(m["high"], thousands=factor < 1000) * factor if m["high"] else low
            if m["high"] and m["high"][0] in "-−" and unit not in ("°C", "°F"):
                high = abs(high)
            here = line if label or len(matches) <= 3 else own
            words = (own.lower(), f"{heading} {here}".lower(), heading.lower(), _snippet(line, m))
            yield _Figure(low, high, unit, int(m["many"] or 1), *words)


def _lines(text: str) -> Iterator[str]:
    """Line by line; a row of more than two cells is as many lines, and so is a sentence."""
    text = re.sub(
        r"(\d)\s+(running|rated|starting|surge|peak|continuous)\s+(watts?|w)\b", r"\1 W \2,", text, flags=re.IGNORECASE
    )
    for line in re.split(r"\r?\n|•|;|(?<=[a-z\d)²¹])\. (?=[A-Z\d])", text):
        cells = line.split("|")
        yield from cells if len(cells) > 2 else [line]


def _snippet(line: str, m: re.Match[str]) -> str:
    start, end = max(0, m.start() - 40), min(len(line), m.end() + 24)
    while start > 0 and line[start - 1].isalnum():
        start -= 1
    while end < len(line) and line[end].isalnum():
        end += 1
    return line[start:end].strip(" ,;|\t")


def _says(words: str, pattern: str) -> bool:
    return re.search(pattern, words, re.IGNORECASE) is not None


def _meanings(f: _Figure, kind: SheetKind) -> Iterator[tuple[int, Found]]:
    """What a figure may be, the surest first: rank 0 where its own words say so, 1 where its line does, 2 by its unit alone."""
    rules: dict[SheetKind, Callable[[_Figure], Iterator[tuple[int, str, float | str, str]]]] = {
        "stations": _station, "modules": _module, "panels": _panel, "transfer": _transfer,
        "generators": _generator,
    }  # fmt: skip
    for rank, field, value, ask in rules[kind](f):
        yield rank, Found(field, value, f.words, ask)


def _rank(f: _Figure, pattern: str) -> int | None:
    if _says(f.near, pattern):
        return 0
    return 1 if _says(f.line, pattern) else None


SOLAR = r"solar|\bpv\b|mppt|photovolt|\bsun\b"
CHARGE = r"charg|\bac in|input"
SURGE = r"surge|peak|start|boost"
IDLE = r"idle|standby|self.?consum|no.load|own draw|quiescent"
MODULE = r"module|expansion|extra batter|add.on|battery pack"
DC_OUT = r"usb|car (?:port|outlet)|cigar|\bdc (?:out|port)|type-?c|12 ?v (?:out|port)"


def _station(f: _Figure) -> Iterator[tuple[int, str, float | str, str]]:
    near, promise = f.near, "it is a promise, not what one unit holds" if PROMISE.search(f.near) else ""
    if f.unit == "Wh":
        if _says(near, MODULE) and not promise:
            yield 0, "module_wh", f.low, ""
        elif promise or _says(near, r"per day|a day|used"):
            return
        else:
            yield (0 if _says(near, "capacity|stor|energy|battery") else 2), "nominal_wh", f.low, ""
    elif f.unit in ("W", "VA"):
        yield from _station_power(f)
    elif f.unit == "V":
        yield from _station_volts(f)
    elif f.unit == "A":
        yield from _station_amps(f)
    elif f.unit == "ms" and _says(f.line, r"switch|transfer|ups|takes? ?over|changeover|backup"):
        yield 0, "transfer_ms", f.high, ""
    elif f.unit == "s" and _says(f.line, r"transfer|take.?over|ups") and not _says(near, SURGE):
        yield 0, "transfer_ms", 1000 * f.high, ""
    elif f.unit == "s" and _says(f.line, SURGE):
        yield 0, "surge_s", f.low, ""
    elif f.unit in ("°C", "°F"):
        yield from _range(f, r"(?<!dis)charg", "charge_min_c", "charge_max_c")
        if not _says(near, r"(?<!dis)charg|stor"):
            yield from _range(
                f, r"discharg|operat|output|use|work|ambient|temperature", "discharge_min_c", "discharge_max_c"
            )
    elif f.unit == "kg":
        yield (
            (0 if _says(near, "weigh|mass") else 2),
            ("module_weight_kg" if _says(near, MODULE) else "weight_kg"),
            round(f.low, 2),
            "",
        )
    elif f.unit == "cycles":
        yield 0, "cycle_life", f.low, "" if not _says(near, r"70|60") else "to what share of its capacity?"
    elif f.unit == "years" and _says(f.line, "warrant|guarant"):
        yield 0, "warranty_years", f.high, "" if not promise else "more than the plain warranty asks for something"
    elif f.unit == "dB":
        yield 0, "noise_idle_db" if _says(near, IDLE + "|quiet") else "noise_load_db", f.high, ""


def _range(f: _Figure, pattern: str, low: str, high: str) -> Iterator[tuple[int, str, float, str]]:
    rank = _rank(f, pattern)
    if rank is None or f.low == f.high:
        return
    ends = (f.low, f.high) if f.unit == "°C" else tuple(round((x - 32) / 1.8, 1) for x in (f.low, f.high))
    yield rank, low, ends[0], ""
    yield rank, high, ends[1], ""


def _station_power(f: _Figure) -> Iterator[tuple[int, str, float | str, str]]:
    near = f.near
    if _says(near, DC_OUT):
        return
    if _says(near, SOLAR):
        yield 0, "solar_max_w", f.high, ""
        if f.many > 1:
            yield 0, "solar_inputs", float(f.many), ""
    elif _says(near, IDLE):
        yield 0, "idle_w", f.high, ""
    elif _says(near, SURGE):
        yield 0, "surge_va", f.high, ""
    elif _says(near, r"both|combined|dual|ac ?\+|together"):
        yield 3, "charge_w", f.high, "is that the wall alone, or with the sun?"
    elif (_says(near, CHARGE) or _says(f.heading, CHARGE)) and not _says(near, "output"):
        yield 0, "charge_w", f.high, ""
    elif f.unit == "VA":
        yield 0, "rated_va", f.low, ""
    elif _says(near, r"output|continu|rated|invert|running|nominal power|power|\bac\b|gives|all the time"):
        yield (0 if _says(near, "continu|rated|running|all the time") else 1), "continuous_w", f.low, ""
    else:
        yield from _station_power_by_line(f)


def _station_power_by_line(f: _Figure) -> Iterator[tuple[int, str, float | str, str]]:
    if _says(f.line, SOLAR):
        yield 1, "solar_max_w", f.high, ""
    elif _says(f.line, CHARGE) and not _says(f.line, "output"):
        yield 1, "charge_w", f.high, ""
    elif _says(f.line, r"output|invert"):
        yield 2, "continuous_w", f.low, ""


def _station_volts(f: _Figure) -> Iterator[tuple[int, str, float | str, str]]:
    near = f.near
    if _says(near, SOLAR) or (_says(f.line, SOLAR) and not _says(near, r"\bac\b|battery|output")):
        if f.low != f.high:
            yield 0, "solar_min_v", f.low, ""
            yield 0, "solar_max_v", f.high, ""
        else:
            yield 0, "solar_max_v", f.high, ""
    elif _says(near, r"battery|cell|pack|nominal voltage") and f.high < 100:
        yield 0, "battery_v", f.low, ""
    elif _says(f.line, r"output|invert|\bac\b|outlet|split") and f.high >= 100 and not _says(near, r"input|charg"):
        both = _says(f.line, r"120\s*v?\s*(?:/|and|or)\s*240|split.?phase")
        yield 1, "volts", "120/240" if both else "120" if f.high < 150 else "230", ""


def _station_amps(f: _Figure) -> Iterator[tuple[int, str, float | str, str]]:
    near = f.near
    if _says(near, DC_OUT) or _says(f.line, r"usb|car port|cigar"):
        return
    if _says(near, r"short|isc"):
        yield 0, "solar_max_isc_a", f.high, ""
    elif _says(near, SOLAR) or (_says(f.line, SOLAR) and not _says(near, "output|outlet")):
        yield 0, "solar_max_a", f.high, ""
    elif _says(near, r"locking|twist|\brv\b|generator|inlet|large|l14|tt.?30|14.50") and f.high >= 25:
        yield 0, "inlet_outlet_a", f.high, ""
    elif _says(near, r"outlet|receptacle|socket|5-15|5-20|schuko") and f.high <= 20:
        yield 0, "outlet_a", f.high, "of one outlet, or of all together?" if _says(near, "total|together") else ""
    elif _says(near, r"pass|\bac in|input"):
        yield 0, "input_a", f.high, ""
    elif _says(near, r"output|leg|continuous"):
        yield 1, "leg_a", f.high, ""


def _module(f: _Figure) -> Iterator[tuple[int, str, float | str, str]]:
    if f.unit == "Wh" and not PROMISE.search(f.near):
        yield 0, "wh", f.low, ""
    elif f.unit == "V" and f.high < 110:
        yield (0 if _says(f.near, "nominal|rated|battery") else 1), "battery_v", f.low, ""
    elif f.unit == "kg":
        yield 0, "weight_kg", round(f.low, 2), ""
    elif f.unit == "W" and _says(f.near, IDLE + "|draw"):
        yield 0, "draw_w", f.high, ""


PANEL = (
    ("W", "w", r"rated|max|power|pmax|peak|nominal|panel|module|stc"), ("V", "voc_v", r"open.?circuit|voc"),
    ("V", "vmp_v", r"vmp|max.*power|operating|mpp"), ("A", "isc_a", r"short|isc"), ("A", "imp_a", r"imp\b|max.*power|operating|mpp"),
    ("%/°C", "voc_percent_c", r"voc|open|volt|beta|β"), ("%/°C", "power_percent_c", r"pmax|power|gamma|γ"),
    ("°C", "noct_c", r"noct|nominal operating cell"), ("V", "max_v", r"system|maximum.*volt"), ("kg", "weight_kg", r""),
)  # fmt: skip


def _panel(f: _Figure) -> Iterator[tuple[int, str, float | str, str]]:
    for unit, field, pattern in PANEL:
        if f.unit != unit or not _says(f.near, pattern) or (field == "noct_c" and f.low != f.high):
            continue
        if field == "vmp_v" and _says(f.near, r"system|open|voc"):
            continue
        if field == "imp_a" and _says(f.near, r"short|isc|fuse"):
            continue
        if field == "w" and _says(f.near, r"temp|tolerance|m²"):
            continue
        value = -abs(f.low) if unit == "%/°C" else f.low
        yield 0, field, value, ""
        return


def _generator(f: _Figure) -> Iterator[tuple[int, str, float | str, str]]:
    if f.unit == "W":
        yield 0, "surge_w" if _says(f.near, SURGE) else "running_w", f.high, ""
    elif f.unit == "VA":
        yield 0, "rated_va", f.high, ""
    elif f.unit == "l" and _says(f.line, "tank|capacity"):
        yield 0, "tank_l", round(f.low, 2), ""
    elif f.unit == "l/h":
        half = _says(f.near, r"50 ?%|half|1/2|½")
        yield (0 if half or _says(f.near, "full|100") else 2), "half_l_h" if half else "full_l_h", round(f.low, 3), ""
    elif f.unit == "dB":
        yield 0, "noise_db", f.low, ""
    elif f.unit == "kg":
        yield 0, "weight_kg", round(f.low, 2), ""
    elif f.unit == "A" and _says(f.line, "outlet|receptacle|l14|l5|tt.?30|output"):
        yield 0, "outlet_a", f.high, ""
    elif f.unit == "V" and f.high >= 100:
        both = _says(f.line, r"120\s*v?\s*(?:/|and|or)\s*240")
        yield 0, "volts", "120/240" if both else "120" if f.high < 150 else "230", ""


def _transfer(f: _Figure) -> Iterator[tuple[int, str, float | str, str]]:
    near = f.near
    if f.unit == "A" and f.low == f.high:
        if _says(near, r"inlet|cord|generator|plug|\bl14|14.50|tt.?30"):
            yield 0, "inlet_a", f.high, ""
        elif _says(near, r"breaker") and _says(near, r"circuit|place|each|branch|way"):
            yield 0, "place_breaker_a", f.high, ""
        elif _says(near, r"circuit|place|each|branch|relay|way"):
            yield (
                0,
                "place_a",
                f.high,
                "" if not _says(near, r"together|total|all|main") else "of each place, or of all together?",
            )
    elif f.unit in ("ms", "s") and _says(f.line, r"switch|transfer|takes? ?over|changeover"):
        yield 0, "transfer_ms", f.high * (1000 if f.unit == "s" else 1), ""
    elif f.unit == "V" and f.high >= 100:
        both = _says(f.line, r"120\s*v?\s*(?:/|and|or)\s*240")
        yield 0, "volts", "120/240" if both else "120" if f.high < 150 else "230", "" if both else "that alone, or any?"


COUNTS = (
    ("outlets", r"(\d{1,2})\s*(?:[x×]\s*)?(?:\d+\s*a\s+)?(?:ac |household |wall )*(?:outlets?|receptacles?|sockets?)\b"),
    ("outlets", r"(?:outlets|receptacles|sockets)[\W_]{1,20}(\d{1,2})\s*[x×]"),
    ("outlets", r"(?:ac )?(?:outlets|receptacles|sockets)\s*[:|\t]\s*(\d{1,2})\b(?![.,]\d|\s*(?:a|kg)\b)"),
    ("max_modules", r"(?:up to|takes|accepts|supports|max(?:imum)?\.?)\s*(\d{1,2})\s*(?:extra |expansion |add-on )*(?:batter\w+|modules?)"),
    ("parallel_most", r"(?:up to|max(?:imum)?\.?)?\s*(\d)\s*(?:units|stations)\s*(?:in parallel|side by side|linked)"),
    ("solar_inputs", r"(\d)\s*(?:[x×]\s*)?(?:independent )?(?:mppts?|(?:solar|pv) inputs?)\b"),
)  # fmt: skip
PLACES = re.compile(
    r"(\d{1,2})[ -](?:switched |branch |backup )*(?:circuits?|places?|ways?|relays?)\b|circuits\s*[:|\t]\s*(\d{1,2})\b(?!\s*a\b)",
    re.I,
)
TRANSFER_KINDS = (
    ("interlock", r"interlock"), ("relay_panel", r"\brelays?\b"), ("grid_parallel", r"gateway|grid.parallel"),
    ("inverter_bypass", r"inverter.charger|bypass"), ("automatic_panel", r"automatic"), ("manual_switch", r"manual"),
)  # fmt: skip
NOT = r"(?<!not )(?<!no )(?<!non-)(?<!non)(?<!never )(?<!un)(?<!semi-)"
TRANSFER_TRAITS: tuple[tuple[str, bool, str], ...] = (
    (
        "switched_neutral", False,
        r"neutral is not switched|(?:does not|doesn.t|never) switch(?:es)? the neutral|(?:solid|unswitched|common) neutral",
    ),
    ("switched_neutral", True, NOT + r"(?:switch(?:es|ing) the neutral|switched neutral|neutral is switched)"),
    ("automatic", False, r"manual|by hand|non-?automatic|not automatic"),
    ("automatic", True, NOT + r"(?:automatic|by itself)"),
)  # fmt: skip
PRICE = re.compile(rf"(?P<sign>[$€£])\s*(?P<n>{NUMBER})|(?P<n2>{NUMBER})\s*(?P<code>USD|EUR|GBP|€|\$)", re.IGNORECASE)
SIGNS = {"$": "USD", "€": "EUR", "£": "GBP"}
BANK = re.compile(
    rf"({NUMBER})\s*v\w*\s*[,/×x ]*\s*({NUMBER})\s*ah\b|({NUMBER})\s*ah\b\D{{0,24}}?({NUMBER})\s*v", re.IGNORECASE
)


def _plain(text: str, kind: SheetKind) -> Iterator[Found]:
    """What is said without a unit: a name, counts, a chemistry, a price, a bank in Ah."""
    named = re.search(r"^\s*(?:model|name|product)\s*[:|\t]\s*(.{2,60}?)\s*$", text, re.IGNORECASE | re.MULTILINE)
    first = next((x.strip() for x in text.splitlines() if x.strip()), "")
    title = named[1] if named else re.split(r"\s+[-–|]\s+|:", first)[0] if not FIGURE.search(first) else ""
    if title:
        yield Found("name", title[:80], title, "" if named else "the first line: is it its name?")
    for chemistry, pattern in CHEMISTRY:
        found = re.search(pattern, text, re.IGNORECASE)
        if found and kind in ("stations", "modules"):
            yield Found("chemistry", chemistry, found[0])
            break
    price = PRICE.search(text)
    if price:
        sign = (price["sign"] or price["code"]).upper()
        yield Found("price", str(number(price["n"] or price["n2"])), price[0])
        yield Found("currency", SIGNS.get(sign, sign), price[0])
    bank = BANK.search(text)
    if bank and kind in ("stations", "modules"):
        volts, amp_hours = (bank[1], bank[2]) if bank[1] else (bank[4], bank[3])
        wh = round(number(volts) * number(amp_hours), 1)
        yield Found("nominal_wh" if kind == "stations" else "wh", wh, bank[0])
        yield Found("battery_v", number(volts), bank[0])
    if kind == "stations":
        counted: set[str] = set()
        for field, pattern in COUNTS:
            found = re.search(pattern, text, re.IGNORECASE)
            if found and field not in counted:
                counted.add(field)
                yield Found(field, float(found[1]), found[0].strip())
    if kind == "generators":
        fuel = re.search(r"petrol|gasoline|propane|\blpg\b|diesel", text, re.IGNORECASE)
        words = {"gasoline": "petrol", "lpg": "propane"}
        if fuel:
            yield Found("fuel", words.get(fuel[0].lower(), fuel[0].lower()), fuel[0])
        if re.search(r"electric.{0,20}remote|auto.?start|starts by itself", text, re.IGNORECASE):
            yield Found(
                "start", "by_itself", "starts by itself", "only when called by two wires or its own panel: does it?"
            )
    if kind == "transfer":
        yield from _transfer_words(text)
    if kind == "panels" and re.search(r"fold|portable|suitcase", text, re.IGNORECASE):
        yield Found("portable", True, "folding")


def _transfer_words(text: str) -> Iterator[Found]:
    """What is said of transfer equipment in words. A trait said both ways, or a kind, is asked about."""
    places = PLACES.search(text)
    if places:
        yield Found("places", float(places[1] or places[2]), places[0].strip())
    for kind, pattern in TRANSFER_KINDS:
        said = re.search(pattern, text, re.IGNORECASE)
        if said:
            yield Found("kind", kind, said[0], "is it of this kind?")
            break
    traits: dict[str, Found] = {}
    for field, value, pattern in TRANSFER_TRAITS:
        said = re.search(pattern, text, re.IGNORECASE)
        if said and field in traits:
            traits[field] = replace(traits[field], ask=f"it says {traits[field].words!r} and {said[0]!r}: which?")
        elif said:
            traits[field] = Found(field, value, said[0])
    yield from traits.values()


def _settle(found: dict[str, Found]) -> None:
    """What follows for a station from what was said: VA from W where only W is listed, a leg's amps from the whole."""
    if "solar_max_w" in found and "solar_inputs" not in found:
        found["solar_inputs"] = replace(
            found["solar_max_w"], field="solar_inputs", value=1.0, ask="is it one input, or more?"
        )
    watts = found.get("continuous_w")
    if watts is not None and "rated_va" not in found:
        found["rated_va"] = replace(watts, field="rated_va", ask="only W are listed: is it as many VA?")
