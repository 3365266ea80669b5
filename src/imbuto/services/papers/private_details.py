"""What a sheet tells that strangers need not know, found in its own words; and the same sheet without it.

Nothing is declared: what stands on a sheet is looked for there, so that no sheet can claim to keep what it shows."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, fields, is_dataclass, replace
from html import escape
from typing import Any, Literal

from imbuto.core.home.home import Home
from imbuto.formats.printing.paper import Sheet, SheetPart

PrivateKind = Literal["health", "absence", "names", "phones", "numbers", "prices", "address"]
SAID: dict[PrivateKind, str] = {
    "health": "devices for health",
    "absence": "who is away",
    "names": "names of people",
    "phones": "phone numbers",
    "numbers": "serial and policy numbers",
    "prices": "prices",
    "address": "where the home is",
}
HEALTH = r"oxygen|breathing|concentrator|ventilator|\bCPAP\b|insulin|nebuli[sz]er|dialysis|medical|medicine|physician"
ABSENT = (
    r"\b(?:not|nobody|no one|anyone|somebody)\b[^.;]{0,24}\b(?:at home|is home|there)\b"
    r"|\bis away\b|from afar|remotely|stand-in"
)
PRICE = r"\d\s*(?:USD|EUR|GBP|CHF|CAD|AUD|NZD|JPY|SEK|NOK|DKK|PLN|CZK|[$€£])|[$€£]\s*\d"
BLANK = "________"
LEAST_WORD = 5  # letters of a word that tells a device by itself, as “concentrator” does in a circuit's name


@dataclass(frozen=True, slots=True)
class PrivateWords:
    """Words that tell something. instead: what stands there for strangers."""

    kind: PrivateKind
    words: str
    instead: str


def private_words(home: Home) -> list[PrivateWords]:
    """Everything in a home's documents that would tell something where it stands on a sheet, the longest first."""
    found = []
    for load in home.loads.values():
        if load.purpose != "life":
            continue
        found.append(PrivateWords("health", load.name, "one appliance"))
        telling = [w for w in re.findall(r"\w+", load.name.casefold()) if len(w) >= LEAST_WORD]
        for circuit in home.circuits.values():
            if any(w in circuit.name.casefold() for w in telling):
                place = home.panel_name(circuit.panel) if circuit.panel else "the panel"
                slots = ", ".join(map(str, circuit.slots)) or "?"
                found.append(PrivateWords("health", circuit.name, f"circuit in slot {slots} of {place}"))
    for person in home.household.people.values():
        found.append(PrivateWords("absence" if person.where != "home" else "names", person.name, "somebody"))
    for contact in home.household.contacts.values():
        if contact.phone:
            found.append(PrivateWords("phones", contact.phone, BLANK))
        found.append(PrivateWords("names", contact.name, BLANK))
    found += [PrivateWords("numbers", b.number, BLANK) for b in home.binder.values() if b.number]
    if home.site.place:
        found.append(PrivateWords("address", home.site.place, "here"))
    return sorted((w for w in found if w.words.strip()), key=lambda w: -len(w.words))


def kinds_revealed(sheet: Sheet, known: Sequence[PrivateWords]) -> list[PrivateKind]:
    """What kinds of private things stand on a sheet, in a fixed order."""
    text = "\n".join(_strings(sheet))
    plain = text.casefold()
    kinds: set[PrivateKind] = {
        w.kind for w in known if w.words.casefold() in plain or escape(w.words).casefold() in plain
    }
    patterns: tuple[tuple[PrivateKind, str], ...] = (("health", HEALTH), ("absence", ABSENT), ("prices", PRICE))
    kinds |= {kind for kind, pattern in patterns if re.search(pattern, text, _flags(kind))}
    return [kind for kind in SAID if kind in kinds]


def for_strangers(sheet: Sheet, known: Sequence[PrivateWords]) -> Sheet:
    """The sheet without what its strangers need not know: names and numbers are replaced, and what speaks of health
    or absence is left out. Prices stay."""

    def veil(text: str) -> str:
        for w in known:
            for words in dict.fromkeys((w.words, escape(w.words))):
                text = re.sub(re.escape(words), w.instead, text, flags=re.IGNORECASE)
        return text

    changed: Sheet = _mapped(sheet, veil)
    parts = tuple(p for p in (_kept(p) for p in changed.parts) if p is not None)
    made: Sheet = replace(changed, parts=parts, under=_sentences(changed.under))
    return made


def _flags(kind: PrivateKind) -> re.RegexFlag:
    return re.RegexFlag(0) if kind == "prices" else re.IGNORECASE


def _tells(text: str) -> bool:
    return re.search(HEALTH, text, re.IGNORECASE) is not None or re.search(ABSENT, text, re.IGNORECASE) is not None


def _sentences(text: str) -> str:
    """A text without the sentences that speak of health or absence. A drawing keeps all but such words."""
    if text.lstrip().startswith("<svg"):
        return re.sub(
            ABSENT, "may be unplugged", re.sub(HEALTH, "appliance", text, flags=re.IGNORECASE), flags=re.IGNORECASE
        )
    each = re.split(r"(?<=[.!?])\s+", text)
    return " ".join(s for s in each if not _tells(s))


def _kept(part: SheetPart) -> SheetPart | None:
    """A part without what speaks of health or absence; None where nothing is left, or it is of that alone."""
    if _tells(part.title):
        return None
    blocks = tuple(_mapped(b, _sentences) for b in part.blocks)
    full = tuple(b for b in blocks if any(s.strip() for s in _strings(b)))
    return replace(part, blocks=tuple(_without_empty(b) for b in full)) if full else None


def _without_empty(block: Any) -> Any:
    """A list without lines that have become empty."""
    if hasattr(block, "items") and isinstance(block.items, tuple):
        return replace(block, items=tuple(x for x in block.items if x.strip()))
    if hasattr(block, "steps"):
        return replace(block, steps=tuple(s for s in block.steps if s[0].strip()))
    return block


def _strings(x: Any) -> Iterator[str]:
    if isinstance(x, str):
        yield x
    elif isinstance(x, tuple):
        for y in x:
            yield from _strings(y)
    elif is_dataclass(x):
        for f in fields(x):
            yield from _strings(getattr(x, f.name))


def _mapped(x: Any, change: Callable[[str], str]) -> Any:
    """The same with every text changed, but for names of things in the code."""
    if isinstance(x, str):
        return change(x)
    if isinstance(x, tuple):
        return tuple(_mapped(y, change) for y in x)
    if is_dataclass(x) and not isinstance(x, type):
        kept = {f.name: _mapped(getattr(x, f.name), change) for f in fields(x) if f.name != "id"}
        return replace(x, **kept)
    return x
