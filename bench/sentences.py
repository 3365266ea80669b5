"""Every sentence that the program can say, place by place, to be read through: ``python bench/sentences.py > FILE``.

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
CODE = re.compile(r"[{}<>]|::|^\.|\b(px|rem|var\(|flex|grid|SELECT|PRAGMA|INSERT)\b|^[\w-]+( [\w-]+)* \{")


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


def main() -> None:
    pages = sorted([*(ROOT / "src" / "imbuto").rglob("*.py"), *(ROOT / "web" / "src").rglob("*.vue")])
    count = 0
    for path in pages:
        if "migrations" in path.parts:
            continue
        found = told((of_python if path.suffix == ".py" else of_view)(path))
        if found:
            count += len(found)
            print(f"\n## {path.relative_to(ROOT)}\n")
            print("\n".join(f"- {s}" for s in found))
    print(f"{count:,} in all", file=sys.stderr)


if __name__ == "__main__":
    main()
