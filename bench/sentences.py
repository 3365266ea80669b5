"""Every sentence that the program can say, place by place, to be read through: ``python bench/sentences.py > FILE``.

``--check`` fails on words that another one is said for (one word per idea); a line that means one says so in
``MEANT``. ``--readability`` prints how easily the sentences and the guide's pages read: a report, no gate.

Out of the strings of the program and the texts of the interface; a figure or name that is put in stands as …. What is
no sentence (keys, paths, formats, styles) is left out by its look, so that a few are missing and a few are no
sentences."""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
WORDY = re.compile(r"[A-Za-z’'“”]{2,} [a-zA-Z’'“”…]{1,}")
CODE = re.compile(
    r"[{}<>]|::|^\.|\b(px|rem|var\(|flex|grid-|SELECT|PRAGMA|INSERT)\b|^[\w-]+( [\w-]+)* \{|\\b|\\s|\(\?:"
)
# Words that are not said, and what is.
AVOID = {
    r"is not accepted": "can't be used",
    r"(is|are|isn't|not) fed|fed by|fed in": "powered",
    r"hangs? on|rides? along": "is connected to, also on this circuit",
    r"goes? over( by itself)?": "switches to backup",
    r"goes? dark|went dark|is dark": "runs out, is off, has no power",
    r"no such": "doesn't have that",
    r"to be had|afar|anew|whom|thereof": "available, remotely, again, who, of it",
    r"(is|are) wanted": "enter, needs",
    r"(some|no|every)body|whoever": "someone, no one, everyone, the person who",
    r"tak(e|es|en) in": "import",
    r"the street": "the grid",
    r"counts? for nothing": "isn't counted",
    r"does not answer": "isn't responding",
    r"direct current": "DC",
    r"maker('s|s)?": "manufacturer",
    r"fire brigade": "fire department",
    r"doors shut": "doors closed",
    r"(is|was) no (figure|sum|CSV|table|backup|unit)": "isn't a",
    r"stands (still|twice|once|under|beside)": "is",
    r"lies? between": "enter … from … to …",
    r"clears it": "fixes it",
    r"by feel told|told by feel": "by feel",
    r"(looking|look) (it|what is there) up": "loading",
    r"to be looked (up|at)": "to look up, to check",
    r"there already": "already owned",
    r"no end in sight": "no end expected",
    r"say nothing|says nothing": "need, doesn't show",
    r"cannot": "can't",
}
# Where such a word is meant: a file, and what stands in it.
MEANT = {
    ("src/imbuto/services/papers/private_details.py", "body"): "looks for what people typed",
    ("src/imbuto/core/measuring/", ""): "reads what people type and labels say",
    ("src/imbuto/core/outages/gauge_lines.py", "dark"): "reads what people type",
    ("src/imbuto/services/desk/quantities.py", ""): "for who reads the register",
}


def of_python(path: Path) -> Iterator[str]:
    """The strings of a module that are not its documentation."""
    tree = ast.parse(path.read_text())
    docs = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, (ast.Module, ast.ClassDef, ast.FunctionDef, ast.AsyncFunctionDef))
        and node.body
        and isinstance(node.body[0], ast.Expr)
    }
    inside = {id(part) for node in ast.walk(tree) if isinstance(node, ast.JoinedStr) for part in node.values}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            yield "".join(str(v.value) if isinstance(v, ast.Constant) else "…" for v in node.values)
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and not {id(node)} & (docs | inside):
            yield node.value


def of_view(path: Path) -> Iterator[str]:
    """The texts of a component: between its tags, in what is read out, and in its program."""
    text = path.read_text()
    template = re.search(r"<template>(.*)</template>", text, re.DOTALL)
    if template:
        bare = re.sub(r"<!--.*?-->", "", template[1], flags=re.DOTALL)
        bare = re.sub(r"\{\{.*?\}\}", "…", bare, flags=re.DOTALL)
        yield from re.findall(r'(?:aria-label|label|placeholder|title)="([^"]+)"', bare)
        yield from re.split(r"<[^>]+(?:\"[^\"]*\"[^>]*)*>", bare)
    script = re.sub(r"<template>.*</template>|<style.*?</style>|/\*.*?\*/|//[^\n]*", "", text, flags=re.DOTALL)
    for quoted in re.findall(r"'([^'\n]+)'|`([^`]+)`", script):
        yield re.sub(r"\$\{[^}]*\}", "…", next(q for q in quoted if q))


def told(strings: Iterator[str]) -> list[str]:
    """Those that read like words, each once, in order."""
    tidy = (re.sub(r"\s+", " ", s).strip() for s in strings)
    return list(dict.fromkeys(s for s in tidy if WORDY.search(s) and not CODE.search(s)))


def said() -> Iterator[tuple[Path, list[str]]]:
    """Every file with the sentences in it."""
    web = ROOT / "web" / "src"
    scripts = (
        p for p in web.rglob("*.ts") if ".test." not in p.name and p.name not in ("generated.ts", "components.d.ts")
    )
    for path in sorted([*(ROOT / "src" / "imbuto").rglob("*.py"), *web.rglob("*.vue"), *scripts]):
        if "migrations" not in path.parts:
            yield path, told((of_python if path.suffix == ".py" else of_view)(path))


def avoided() -> Iterator[str]:
    """Sentences with a word that is not said, each with the one that is."""
    for path, found in said():
        name = str(path.relative_to(ROOT))
        for sentence in found:
            for word, instead in AVOID.items():
                hit = re.search(rf"(?<![\w-])(?:{word})(?![\w-])", sentence, re.IGNORECASE)
                if hit and not any(name.startswith(f) and w in hit[0] for f, w in MEANT):
                    yield f"{name}: “{sentence}”: instead of “{hit[0]}”, {instead}"


def readability() -> Iterator[str]:
    """How easily the program's sentences and each page of the guide read, by Flesch's formula: 60 to 70 is plain English."""
    import textstat

    whole = [s for _, found in said() for s in found if s.endswith(".") and "…" not in s]
    words = textstat.lexicon_count(" ".join(whole)) / max(len(whole), 1)
    yield f"{textstat.flesch_reading_ease(' '.join(whole)):5.0f}  {len(whole):,} whole sentences, {words:.1f} words each"
    for path in sorted((ROOT / "docs" / "guide").glob("*.md")):
        prose = re.sub(r"^(\||#|    ).*$", "", path.read_text(), flags=re.MULTILINE)
        if textstat.lexicon_count(prose) > 100:
            yield f"{textstat.flesch_reading_ease(prose):5.0f}  {path.name}"


def main() -> None:
    if "--readability" in sys.argv:
        print("\n".join(readability()))
        return
    if "--check" in sys.argv:
        hits = list(avoided())
        print("\n".join(hits) or "No word that another one is said for.")
        raise SystemExit(bool(hits))
    count = 0
    for path, found in said():
        if found:
            count += len(found)
            print(f"\n## {path.relative_to(ROOT)}\n")
            print("\n".join(f"- {s}" for s in found))
    print(f"{count:,} in all", file=sys.stderr)


if __name__ == "__main__":
    main()
