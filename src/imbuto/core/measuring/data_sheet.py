"""Reads a data sheet, a manual's page or a shop's table: each value with the words it came from.

Nothing is believed that the text does not plainly say: sums that promise ("expandable to …", "up to … with …") and
values that contradict each other are asked about, and what stands there and was not taken is named."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from imbuto.core.measuring.data_sheet_figures import figures_in
from imbuto.core.measuring.data_sheet_meanings import FoundValues, SheetKind, meanings
from imbuto.core.measuring.data_sheet_words import words_in

# Words of data sheets in German, French, Italian, Spanish, Portuguese, Dutch and Polish that English doesn't have.
OTHER_WORDS = (
    r"\b(?:kapazität|\w*leistung|gewicht|\w*spannung|\w*strom|\w*eingang|ausgang\w*|steckdosen?|wechselrichter|akku\w*|"
    r"capacité|puissance|poids|tension|sortie|entrée|onduleur|batterie|prises?|capacità|potenza|peso|tensione|uscit[ae]|"
    r"ingress[oi]|batteria|capacidad|potencia|tensión|salidas?|entradas?|inversor|batería|capacidade|potência|tensão|"
    r"saídas?|bateria|capaciteit|vermogen|uitgang\w*|ingang\w*|spanning|omvormer|accu|pojemność|moc|waga|napięcie|"
    r"wyjści\w+|wejści\w+|akumulator\w*)\b"
)
ENGLISH_WORDS = (
    r"\b(?:capacity|energy|power|output|input|weight|voltage|current|outlets?|battery|surge|continuous|rated|solar|charging|"
    r"inverter|running|starting|circuits?|inlet|switch|neutral|module|panel|maximum|max)\b"
)
OTHER_SCRIPT = r"[\u0370-\u03a8\u0400-\u1fff\u3040-\ud7ff]{2,}"


@dataclass(frozen=True, slots=True)
class DataSheet:
    """What a text says.

    found: one a field
    left: pieces with figures that were not taken
    note: what holds for all of it, empty where nothing does
    """

    found: tuple[FoundValues, ...]
    left: tuple[str, ...]
    note: str = ""


def read_sheet(text: str, kind: SheetKind) -> DataSheet:
    """What a text says of one thing that can be bought. Never raises on any text."""
    figures = list(figures_in(text))
    best: dict[str, tuple[int, FoundValues]] = {}
    taken: set[int] = set()
    for i, figure in enumerate(figures):
        for rank, found in meanings(figure, kind):
            taken.add(i)
            held = best.get(found.field)
            if held is None or rank < held[0]:
                best[found.field] = (rank, found)
            elif rank == held[0] and not _alike(found.value, held[1].value):
                other = f"it says {held[1].words!r} and {found.words!r}: which?"
                best[found.field] = (rank, replace(held[1], ask=held[1].ask or other))
    plain = {f.field: f for f in words_in(text, kind)}
    result = {**plain, **{k: f for k, (_, f) in best.items()}}
    if kind == "stations":
        _settle(result)
    left = [f.words for i, f in enumerate(figures) if i not in taken]
    note = ""
    if not in_english(text):
        note = "This sheet isn't in English. Imbuto reads English only, so check each value against the sheet."
        result = {k: replace(f, ask=f.ask or "is that what it says?") for k, f in result.items()}
    return DataSheet(tuple(result.values()), tuple(dict.fromkeys(left)), note)


def in_english(text: str) -> bool:
    """Whether the words beside the figures are English, as far as the usual words of such sheets tell."""
    others = len(re.findall(OTHER_WORDS, text, re.IGNORECASE)) + len(re.findall(OTHER_SCRIPT, text))
    return others == 0 or len(re.findall(ENGLISH_WORDS, text, re.IGNORECASE)) > others


def _alike(a: object, b: object) -> bool:
    if isinstance(a, float) and isinstance(b, float):
        return abs(a - b) <= 0.02 * max(abs(a), abs(b))
    return a == b


def _settle(found: dict[str, FoundValues]) -> None:
    """What follows for a station from what was said: VA from W where only W is listed, a leg's amps from the whole."""
    if "solar_max_w" in found and "solar_inputs" not in found:
        found["solar_inputs"] = replace(
            found["solar_max_w"], field="solar_inputs", value=1.0, ask="is it one input, or more?"
        )
    watts = found.get("continuous_w")
    if watts is not None and "rated_va" not in found:
        found["rated_va"] = replace(watts, field="rated_va", ask="only W are listed: is it as many VA?")
