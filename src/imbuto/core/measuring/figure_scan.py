"""The figures of a typed text, found: numbers as people write them, their units, what stands beside them."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field

from imbuto.core.measuring.reading_words import (
    ADVERBS,
    FILLERS,
    IN_WORDS,
    MEANT,
    NUMBERS,
    PERIODS,
    PIECES,
    ROLE_OF,
    TURNED,
    UNIT_FIRST,
    UNITS,
)


class UnreadableFigures(ValueError):
    """A text whose figures cannot be read. said: the text; rule: why."""

    def __init__(self, said: str, rule: str) -> None:
        super().__init__(f"{said}: {rule}")
        self.said, self.rule = said, rule


@dataclass(slots=True)
class Token:
    """One figure or range as typed. used: something was made of it."""

    text: str
    at: int
    end: int
    unit: str
    value: float
    high: float | None = None
    role: str = ""
    used: bool = False


@dataclass(slots=True)
class FoundFigures:
    """Everything a text holds, in order; what has been made something of is marked."""

    said: str
    tokens: list[Token] = field(default_factory=list)
    per: str = ""
    per_text: str = ""
    per_used: bool = False
    count: Token | None = None
    words: list[str] = field(default_factory=list)
    roles: dict[str, bool] = field(default_factory=dict)  # words that mean something → made something of
    name: list[str] = field(default_factory=list)
    plus: list[int] = field(default_factory=list)
    negative: bool = False
    house_volts: int = 120

    def peek(self, unit: str, role: str | None = None) -> Token | None:
        """The first plain figure of a unit that nothing was made of yet."""
        return next((t for t in self.of(unit) if not t.used and (role is None or t.role == role)), None)

    def of(self, unit: str) -> list[Token]:
        return [t for t in self.tokens if t.unit == unit and t.high is None]

    def take(self, unit: str, role: str | None = None) -> float | None:
        """The same, marked, as its value."""
        token = self.peek(unit, role)
        return None if token is None else self.use(token)

    def use(self, token: Token) -> float:
        token.used = True
        return token.value

    def range_of(self, unit: str) -> Token | None:
        return next((t for t in self.tokens if t.unit == unit and t.high is not None and not t.used), None)

    def sum(self, unit: str, roles: tuple[str, ...] = ("",)) -> float | None:
        """A figure with those joined to it by a plus; hours and minutes beside each other are one."""
        first = next((t for t in self.of(unit) if not t.used and t.role in roles), None)
        if first is None:
            return None
        total, last = self.use(first), first
        for token in self.of(unit):
            if token.used or token.role not in roles or token.at < last.end:
                continue
            between = self.said[last.end : token.at]
            if any(last.end <= p < token.at for p in self.plus) or (unit == "h" and not between.strip(" ,and")):
                total += self.use(token)
                last = token
        return total

    def says(self, *words: str) -> bool:
        """Whether one of these words stands in it; then it was made something of."""
        hit = [w for w in words if w in self.words]
        for word in hit:
            self.roles[word] = True
        return bool(hit)

    @property
    def left(self) -> list[str]:
        """What nothing was made of, as typed."""
        found = [t.text for t in self.tokens if not t.used]
        found += [self.count.text] if self.count is not None and not self.count.used else []
        found += [self.per_text] if self.per and not self.per_used else []
        return found + [f"“{w}”" for w, made in self.roles.items() if not made]


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
    plain = plain.replace(",", ".")
    if plain.count(".") > 1:
        raise UnreadableFigures(text, "the number has several decimal points; write it with one")
    return float(plain)


def in_figures(said: str) -> str:
    """Numbers in words as figures, and figures that stand after their unit turned round."""
    text = re.sub(r"\bhalf an? hour\b", "0.5 hour", said, flags=re.IGNORECASE)
    text = re.sub(r"\bhalf (?:a )?day\b", "12 hours", text, flags=re.IGNORECASE)
    text = re.sub(r"\b(for|in|over) an? (hour|day|week|month|year)\b", r"\1 1 \2", text, flags=re.IGNORECASE)
    text = re.sub(r"\bone (?=hour|h\b|minute|min\b|day|week|month|year)", "1 ", text, flags=re.IGNORECASE)
    text = re.sub(r"\bonce (?=(?:a|an|per|each|every)\b)", "1 time ", text, flags=re.IGNORECASE)
    text = re.sub(r"\btwice (?=(?:a|an|per|each|every)\b)", "2 times ", text, flags=re.IGNORECASE)
    text = IN_WORDS.sub(lambda m: str(NUMBERS[m[1].lower()]), text)
    if TURNED.match(text):
        text = ", ".join(f"{value} {unit}" for unit, value in UNIT_FIRST.findall(text))
    return text


def scan(text: str) -> FoundFigures:
    """Every figure, unit and telling word of a text, in order. Raises Misread."""
    reader = _FigureReader(text.replace("~", " "))
    for m in PIECES.finditer(reader.text):
        reader.read(m)
    _count_in_words(reader.found, reader.bare)
    return reader.found


class _FigureReader:
    """Goes through a text piece by piece. role: what a word said of the figure to come; last: the figure just read."""

    def __init__(self, text: str) -> None:
        self.text, self.found = text, FoundFigures(text)
        self.role = ""
        self.last: Token | None = None
        self.bare: list[Token] = []
        self.figure_seen = False

    def read(self, m: re.Match[str]) -> None:
        found = self.found
        if m["word"]:
            self._word(m)
        elif m["per"]:
            found.per = PERIODS[m["period"].lower()] if m["period"] else ADVERBS[m["adverb"].lower()]
            found.per_text = m["per"].strip()
        elif m["plus"]:
            found.plus.append(m.start())
        else:
            self.figure_seen = True
            self._figure(m, Token(m[0].strip(), m.start(), m.end(), "", 0.0))

    def _word(self, m: re.Match[str]) -> None:
        found, last = self.found, self.last
        word = m["word"].lower()
        found.words.append(word)
        named = ROLE_OF.get(word, "")
        if word in MEANT:
            found.roles.setdefault(word, False)
        if named and last is not None and not self.role and re.match(r"\s+$", self.text[last.end : m.start()] or " "):
            follows = self.text[m.end() :].lstrip()[:1]
            if not last.role and not follows.isdigit():  # "131 W max": the word belongs to what stands before it
                last.role, self.last = named, None
                found.roles.update({word: True} if word in found.roles else {})
                return
        if named:
            self.role = named
            tells = word in found.roles and _figure_follows(self.text[m.end() :])
            found.roles.update({word: True} if tells else {})
        elif not self.figure_seen and word not in FILLERS:
            found.name.append(m["word"])

    def _figure(self, m: re.Match[str], token: Token) -> None:
        found = self.found
        if m["clock"]:
            h, minutes = m["clock"].split(":")
            token.unit, token.value = "h", int(h) + int(minutes) / 60
        elif m["low"]:
            self._range(m, token)
        elif m["times"] or m["after"]:
            token.value = float(m["times"] or m["after"])
            if found.count is None:
                found.count = token
                return
        elif m["named"]:
            token.unit = "eer" if m["named"].lower().endswith("eer") else "pf"
            token.value = to_number(m["named_value"])
        elif m["value"]:
            token.unit, factor = UNITS[_plain(m["unit"])]
            found.negative = found.negative or bool(m["minus"])
            token.value = to_number(m["value"]) * factor
            self.last = None
            if token.unit in ("w", "va", "a"):
                token.role, self.role = self.role, ""
                self.last = token
        else:
            found.negative = found.negative or m["bare"].startswith("-")
            token.value = to_number(m["bare"].lstrip("- "))
            self.bare.append(token)
        found.tokens.append(token)

    def _range(self, m: re.Match[str], token: Token) -> None:
        unit, factor = UNITS[_plain(m["range_unit"])]
        low_unit, low_factor = UNITS[_plain(m["low_unit"])] if m["low_unit"] else (unit, factor)
        if low_unit != unit:
            raise UnreadableFigures(self.text, f"“{m[0].strip()}” has two units; write the figures apart")
        token.unit, token.value, token.high = unit, to_number(m["low"]) * low_factor, to_number(m["high"]) * factor
        token.role, self.role = self.role, ""


def _plain(unit: str) -> str:
    return " ".join(unit.lower().split())


def _figure_follows(rest: str) -> bool:
    return bool(re.match(r"\s*(?:[:=]|\w+\s+)?\s*[\d½¼¾.]", rest))


def _count_in_words(found: FoundFigures, bare: list[Token]) -> None:
    """8 lamps at 11 W: a whole number before a noun is a count, where another figure tells what each draws."""
    if found.count is not None or not any(t.unit in ("w", "va", "wh", "a") for t in found.tokens):
        return
    for token in bare:
        noun = re.match(r"\s+([a-zà-ÿ]{3,}(?:\s+[a-zà-ÿ]{3,})?)", found.said[token.end :], re.IGNORECASE)
        word = noun[1].lower().split()[0] if noun else ""
        if noun and word not in ROLE_OF and word not in FILLERS and token.value.is_integer() and token.value > 1:
            found.tokens.remove(token)
            found.count = token
            token.text = f"{token.text} {noun[1]}"
            if not found.name:
                found.name = [w for w in noun[1].split() if w.lower() not in FILLERS]
            return
