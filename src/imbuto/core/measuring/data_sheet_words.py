"""What a data sheet says without a unit: a name, counts, a chemistry, a price, a bank in Ah, how a switch works."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from imbuto.core.measuring.data_sheet_figures import FIGURE, NUMBER, number
from imbuto.core.measuring.data_sheet_meanings import FoundValues, SheetKind
from imbuto.core.measuring.said_or_denied import sayings, settle_mentions

CHEMISTRY = (
    ("LFP", r"lifepo4|\blfp\b|lithium iron|iron phosphate"),
    ("NMC", r"\bnmc\b|lithium.?ion"),
    ("lead", r"\bagm\b|lead"),
)


COUNTS = (
    (
        "outlets",
        r"(\d{1,2})\s*(?:[x×]\s*)?(?:\d+\s*a\s+)?(?:ac |household |wall )*(?:outlets?|receptacles?|sockets?)\b",
    ),
    ("outlets", r"(?:outlets|receptacles|sockets)[\W_]{1,20}(\d{1,2})\s*[x×]"),
    ("outlets", r"(?:ac )?(?:outlets|receptacles|sockets)\s*(?:[:|\t]|\.{3,})\s*(\d{1,2})\b(?![.,]\d|\s*(?:a|kg)\b)"),
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
        r"switch(?:es|ing)?(?: the)? neutral|switched neutral|neutral (?:is )?switch(?:ed|ing)",
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


def words_in(text: str, kind: SheetKind) -> Iterator[FoundValues]:
    """What is said without a unit: a name, counts, a chemistry, a price, a bank in Ah."""
    named = re.search(r"^\s*(?:model|name|product)\s*[:|\t]\s*(.{2,60}?)\s*$", text, re.IGNORECASE | re.MULTILINE)
    first = next((x.strip() for x in text.splitlines() if x.strip()), "")
    title = named[1] if named else re.split(r"\s+[-–|]\s+|:", first)[0] if not FIGURE.search(first) else ""
    if title and (named or not HEADINGS.fullmatch(title.strip(" |:"))):
        yield FoundValues("name", title[:80], title, "" if named else "this is the first line. Is it the name?")
    for chemistry, pattern in CHEMISTRY:
        found = re.search(pattern, text, re.IGNORECASE)
        if found and kind in ("stations", "modules"):
            yield FoundValues("chemistry", chemistry, found[0])
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
        counted: set[str] = set()
        for field, pattern in COUNTS:
            found = re.search(pattern, text, re.IGNORECASE)
            if found and field not in counted:
                counted.add(field)
                yield FoundValues(field, float(found[1]), found[0].strip())
    if kind == "generators":
        fuel = re.search(r"petrol|gasoline|propane|\blpg\b|diesel", text, re.IGNORECASE)
        words = {"gasoline": "petrol", "lpg": "propane"}
        if fuel:
            yield FoundValues("fuel", words.get(fuel[0].lower(), fuel[0].lower()), fuel[0])
        starts = settle_mentions(sayings(text, BY_ITSELF))
        if starts is not None and starts[0]:
            yield FoundValues("start", "by_itself", starts[1], starts[2] or "Does it start when two wires call it?")
        elif starts is not None:
            yield FoundValues("start", "by_hand", starts[1], starts[2])
    if kind == "transfer":
        yield from _transfer_words(text)
    if kind == "panels":
        yield from _trait("portable", text, *PORTABLE)


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
    for kind, pattern in TRANSFER_KINDS:
        said = next((x for x in sayings(text, pattern) if x.said), None)
        if said is not None:
            yield FoundValues("kind", kind, said.words, "is it of this kind?")
            break
    for field, pattern, opposite in TRANSFER_TRAITS:
        yield from _trait(field, text, pattern, opposite)
