"""What a data sheet says without a unit: a name, counts, a chemistry, a price, a bank in Ah, how a switch works."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from imbuto.core.measuring.data_sheet_figures import FIGURE, NUMBER, number
from imbuto.core.measuring.data_sheet_meanings import FoundValues, SheetKind
from imbuto.core.measuring.said_or_denied import sayings, settle_mentions

CHEMISTRY = (
    ("LFP", r"lifepo4|\blfp\b|lithium iron|iron phosphate", ""),
    ("NMC", r"\bnmc\b", ""),
    ("NMC", r"lithium.?ion", "it says lithium-ion, which may be either: NMC, or LFP?"),
    ("lead", r"\bagm\b|\blead\b(?!s)", ""),
)
COUNT_WORDS = {
    word: str(n)
    for n, word in enumerate(
        ["one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"], start=1
    )
}
COUNTED = r"(?=[ -](?:switched |branch |backup |ac |household |wall )*(?:circuits?|places?|ways?|relays?|outlets?|sockets?)\b)"


COUNTS = (
    (
        "outlets",
        r"(\d{1,2})\s*(?:[x×]\s*)?(?:\d+\s*a\s+)?(?:ac |household |wall )*(?:outlets?|receptacles?|sockets?)\b",
    ),
    ("outlets", r"(?:outlets|receptacles|sockets)[\W_]{1,20}(\d{1,2})\s*[x×]"),
    ("outlets", r"(?:ac )?(?:outlets|receptacles|sockets)\s*(?:[:|\t]|\.{3,})\s*(\d{1,2})\b(?![.,]\d|\s*(?:a|kg)\b)"),
    ("outlets", r"\bac (?:output )?(?:ports|outlets|sockets)\s*[x×]\s*(\d{1,2})\b"),
    (
        "max_modules",
        r"(?:up to|takes|accepts|supports|max(?:imum)?\.?)\s*(\d{1,2})\s*(?:extra |expansion |add-on )*(?:batter\w+|modules?)",
    ),
    ("parallel_most", r"(?:up to|max(?:imum)?\.?)?\s*(\d)\s*(?:units|stations)\s*(?:in parallel|side by side|linked)"),
    ("solar_inputs", r"(\d)\s*(?:[x×]\s*)?(?:independent )?(?:mppts?|(?:solar|pv) inputs?)\b"),
)
PLACES = re.compile(
    r"(\d{1,2})[ -](?:switched |branch |backup )*(?:circuits?|places?|ways?|relays?)\b|circuits\s*[:|\t]\s*(\d{1,2})\b(?!\s*a\b)",
    re.I,
)
TRANSFER_KINDS = (
    ("interlock", r"interlock"),
    ("relay_panel", r"\brelays?\b"),
    ("grid_parallel", r"gateway|grid.parallel"),
    ("inverter_bypass", r"inverter.charger|bypass"),
    ("automatic_panel", r"automatic"),
    ("manual_switch", r"manual"),
)
# A trait of transfer equipment: what names it, and what names its opposite.
TRANSFER_TRAITS: tuple[tuple[str, str, str], ...] = (
    (
        "switched_neutral",
        r"switch(?:es|ing)?(?: the)? neutral|switched neutral|neutral(?:\s*[:|\t]\s*| (?:is )?)switch(?:ed|ing)",
        r"(?:solid|unswitched|common) neutral",
    ),
    ("automatic", r"\bautomatic(?:ally)?\b|\bby itself\b", r"\bmanual(?:ly)?\b|\bby hand\b"),
)
PORTABLE = (r"\bfold(?:able|ing|s)?\b|\bportable\b|\bsuitcase\b", r"\brigid\b")
BY_ITSELF = r"electric.{0,20}remote|auto.?start\w*|starts by itself"
PRICE = re.compile(rf"(?P<sign>[$€£])\s*(?P<n>{NUMBER})|(?P<n2>{NUMBER})\s*(?P<code>USD|EUR|GBP|€|\$)", re.IGNORECASE)
SIGNS = {"$": "USD", "€": "EUR", "£": "GBP"}
HEADINGS = re.compile(
    r"(?:technical |product |general )?(?:specifications?|specs|overview|details|data|information|item|features|parameters?)",
    re.IGNORECASE,
)
BANK = re.compile(
    rf"({NUMBER})\s*v\w*\s*[,/×x ]*\s*({NUMBER})\s*ah\b|({NUMBER})\s*ah\b\D{{0,24}}?({NUMBER})\s*v", re.IGNORECASE
)


EFFICIENCY = re.compile(rf"[^\n,;|]{{0,24}}\befficiency[^\d\n%]{{0,20}}({NUMBER})\s*%", re.IGNORECASE)
OTHER_EFFICIENCY = r"round.?trip|solar|\bpv\b|mppt|panel|module|cell|charg"
AUTO_OFF = re.compile(
    rf"(?:auto(?:matic(?:ally)?)?[- ]*(?:power|switch|shut|turn)?s?[- ]*off|sleeps?|power[- ]saving)[^\d\n]{{0,40}}({NUMBER})\s*"
    r"(h|hrs?|hours?|min|minutes?)\b",
    re.IGNORECASE,
)
CYCLES = re.compile(rf"\bcycles?(?:\s+life)?\s*[:|\t]\s*({NUMBER})\b(?!\s*cycles)", re.IGNORECASE)
MORE_COUNTS = re.compile(
    r"(?:outlets|receptacles|sockets)[^\n]{0,24}?\d\s*[x×][^\n]{0,24}?[,+&][^\n]{0,12}?\d\s*[x×]", re.IGNORECASE
)
PLACE_A = re.compile(
    r"amps?\s+(?:per|each)\s+(?:circuit|place|branch)\s*[:|\t]?\s*(\d{1,3})\b(?![ \t]*[a-z])", re.IGNORECASE
)
FUELS = (("petrol", r"petrol|gasoline"), ("propane", r"propane|\blpg\b"), ("diesel", r"diesel"))


def words_in(text: str, kind: SheetKind) -> Iterator[FoundValues]:
    """What is said without a unit: a name, counts, a chemistry, a price, a bank in Ah."""
    text = re.sub(
        rf"\b({'|'.join(COUNT_WORDS)})\b{COUNTED}", lambda m: COUNT_WORDS[m[1].lower()], text, flags=re.IGNORECASE
    )
    named = re.search(r"^\s*(?:model|name|product)\s*[:|\t]\s*(.{2,60}?)\s*$", text, re.IGNORECASE | re.MULTILINE)
    first = next((x.strip() for x in text.splitlines() if x.strip()), "")
    title = named[1] if named else re.split(r"\s+[-–|]\s+|:", first)[0] if not FIGURE.search(first) else ""
    if title and (named or not HEADINGS.fullmatch(title.strip(" |:"))):
        yield FoundValues("name", title[:80], title, "" if named else "this is the first line. Is it the name?")
    for chemistry, pattern, ask in CHEMISTRY:
        found = re.search(pattern, text, re.IGNORECASE)
        if found and kind in ("stations", "modules"):
            yield FoundValues("chemistry", chemistry, found[0], ask)
            break
    price = PRICE.search(text)
    if price:
        sign = (price["sign"] or price["code"]).upper()
        yield FoundValues("price", str(number(price["n"] or price["n2"])), price[0])
        yield FoundValues("currency", SIGNS.get(sign, sign), price[0])
    bank = BANK.search(text)
    if bank and kind in ("stations", "modules"):
        volts, amp_hours = (bank[1], bank[2]) if bank[1] else (bank[4], bank[3])
        wh = round(number(volts) * number(amp_hours), 1)
        yield FoundValues("nominal_wh" if kind == "stations" else "wh", wh, bank[0])
        yield FoundValues("battery_v", number(volts), bank[0])
    if kind == "stations":
        yield from _station_words(text)
    if kind == "generators":
        fuels = [(fuel, x) for fuel, pattern in FUELS for x in sayings(text, pattern) if x.said]
        if fuels:
            fuel, saying = fuels[0]
            others = len({name for name, _ in fuels}) > 1
            yield FoundValues(
                "fuel", fuel, saying.words, "it names more than one fuel: which do you have?" if others else ""
            )
        starts = settle_mentions(sayings(text, BY_ITSELF))
        if starts is not None and starts[0]:
            yield FoundValues("start", "by_itself", starts[1], starts[2] or "Does it start when two wires call it?")
        elif starts is not None:
            yield FoundValues("start", "by_hand", starts[1], starts[2])
    if kind == "transfer":
        yield from _transfer_words(text)
    if kind == "panels":
        yield from _trait("portable", text, *PORTABLE)


def _station_words(text: str) -> Iterator[FoundValues]:
    """Counts, shares and hours that a sheet of a station says without one of the units of ``UNITS``."""
    counted: set[str] = set()
    for field, pattern in COUNTS:
        found = re.search(pattern, text, re.IGNORECASE)
        if found and field not in counted:
            counted.add(field)
            more = field == "outlets" and MORE_COUNTS.search(text)
            ask = "it lists more than one kind: how many are ordinary outlets?" if more else ""
            yield FoundValues(field, float(found[1]), found[0].strip(), ask)
    for found in re.finditer(EFFICIENCY, text):
        if not re.search(OTHER_EFFICIENCY, found[0], re.IGNORECASE):
            share = number(found[1]) / 100
            promise = re.search(r"up to|max|peak|≤|<", found[0], re.IGNORECASE)
            yield FoundValues("efficiency", share, found[0], "that is the most: what is usual?" if promise else "")
            break
    off = AUTO_OFF.search(text)
    if off:
        hours = number(off[1]) / (60 if off[2].lower().startswith("min") else 1)
        yield FoundValues("auto_off_after_h", hours, off[0])
    cycles = CYCLES.search(text)
    if cycles:
        yield FoundValues("cycle_life", number(cycles[1]), cycles[0])


def _trait(field: str, text: str, pattern: str, opposite: str) -> Iterator[FoundValues]:
    """What a text says of a trait, or of its opposite."""
    each = sayings(text, pattern) + [replace(x, said=not x.said) for x in sayings(text, opposite)]
    found = settle_mentions(each)
    if found is not None:
        yield FoundValues(field, *found)


def _transfer_words(text: str) -> Iterator[FoundValues]:
    """What is said of transfer equipment in words. A trait said both ways, or a kind, is asked about."""
    places = PLACES.search(text)
    if places:
        yield FoundValues("places", float(places[1] or places[2]), places[0].strip())
    each = PLACE_A.search(text)
    if each:
        yield FoundValues("place_a", float(each[1]), each[0].strip())
    for kind, pattern in TRANSFER_KINDS:
        said = next((x for x in sayings(text, pattern) if x.said), None)
        if said is not None:
            yield FoundValues("kind", kind, said.words, "is it of this kind?")
            break
    for field, pattern, opposite in TRANSFER_TRAITS:
        yield from _trait(field, text, pattern, opposite)
