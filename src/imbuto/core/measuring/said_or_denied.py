"""Tell whether a text says that a thing has a trait, denies it, or only names it.

Data sheets name what a thing lacks as often as what it has: "Foldable: no", "Rigid, not portable", "Automatic: –". A
trait that is named and denied is never taken for one it has.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

# Before the trait, in the same clause: "no", "not", "without a", "isn't", "does not have".
_BEFORE = re.compile(
    r"(?:\b(?:no|not|non|never|without|neither|nor|lacks?|lacking|isn[’']?t|aren[’']?t|doesn[’']?t|don[’']?t|can[’']?t|"
    r"cannot|won[’']?t|excludes?|excluding|instead of|rather than)\b[-\s]*(?:[\w’'-]+\s+){0,4}|\b(?:non|un|semi)-?)$",
    re.IGNORECASE,
)
# After it: ": no", "| none", "(not available)", "is not included", "- false".
_NO = (
    r"(?:no|none|nope|false|never|absent|nil|without|not\b(?!\s+(?:only|just))[\w\s]{0,24}|isn[’']?t\b|excluded|"
    r"unavailable|unsupported|✗|✘|✕|×|❌)"
)
_YES = r"(?:yes|true|included|standard|supported|available|✓|✔|☑|●)"
_BLANK = r"(?:n\s*/\s*a|n\.\s?a\.|not applicable|unknown|tbd|[-–—]{1,3}|\?)"
_LINK = r"(?:\s*(?:function|feature|mode|operation|start|switch(?:ing|over)?|transfer|changeover|panel|design))*\s*"
_AFTER = re.compile(
    rf"^{_LINK}(?:[:|=\t(]|\bis\b|\bare\b|[-–—](?=\s*\w)|,(?=\s*(?:no|not|none)\b))\s*(?P<no>{_NO})(?!\w)",
    re.IGNORECASE,
)
_AFTER_BARE = re.compile(
    rf"^{_LINK}(?P<no>not (?:available|supported|included|possible|provided|present|offered))\b", re.IGNORECASE
)
_AFTER_YES = re.compile(rf"^{_LINK}[:|=\t(]\s*{_YES}(?!\w)", re.IGNORECASE)
_AFTER_BLANK = re.compile(rf"^{_LINK}[:|=\t]\s*{_BLANK}\s*(?:$|[|;,)\n])", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class TraitMention:
    """One place where a text names a trait.

    said: True has it, False denies it
    words: the text there
    """

    said: bool
    words: str


def sayings(text: str, pattern: str) -> list[TraitMention]:
    """Find every place where a text says or denies a trait; where it only names it, such as ``–`` or ``n/a``, none.

    pattern: what names the trait, as a regular expression without regard to case
    """
    found = []
    for raw in re.split(r"\r?\n|•|;|(?<=[a-z\d)])\.\s+(?=[A-Z\d])", text):
        line = raw.strip()
        for m in re.finditer(pattern, line, re.IGNORECASE):
            before, after = line[: m.start()], line[m.end() :]
            clause = re.split(r"[,:|(\t]|\bbut\b", before)[-1]
            words = line if len(line) <= 80 else line[max(0, m.start() - 30) : m.end() + 30].strip()
            if _AFTER_BLANK.match(after):
                continue
            denied = bool(_AFTER.match(after) or _AFTER_BARE.match(after))
            if not denied and not _AFTER_YES.match(after):
                denied = bool(_BEFORE.search(clause))
            found.append(TraitMention(not denied, words))
    return found


def settle_mentions(each: list[TraitMention]) -> tuple[bool, str, str] | None:
    """Settle what the places say together: the value, its words, and what to ask where they contradict each other."""
    if not each:
        return None
    other = next((x for x in each if x.said != each[0].said), None)
    ask = f"The text says “{each[0].words}” and “{other.words}”. Which is right?" if other else ""
    return each[0].said, each[0].words, ask
