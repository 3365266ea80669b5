"""Writes the page of planning defaults: every figure the core takes where nobody has entered or measured one.

    python bench/planning_defaults.py [--check]

A default is a module's own constant whose comment says so. With --check the page is compared and nothing is written:
a changed default has to be seen."""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "imbuto"
PAGE = ROOT / "docs" / "guide" / "planning-defaults.md"
HEAD = """# Planning defaults

What Imbuto takes where nobody has entered, measured or looked up a figure. Each is a choice, not a fact: a reading or a
maker's figure always comes before it. Written by `make defaults` from the code, so that none can change unseen.
"""
SAYS = re.compile(r"planning defaults?", re.IGNORECASE)


def page() -> str:
    """The page, as Markdown."""
    parts = [HEAD]
    for file in sorted(SOURCE.rglob("*.py")):
        rows = list(defaults(file))
        if rows:
            parts.append(
                f"\n## {file.stem.replace('_', ' ')}\n\n| default | value | what it is |\n| --- | --- | --- |\n"
            )
            parts += [f"| `{name}` | {value} | {what} |\n" for name, value, what in rows]
    return "".join(parts)


def defaults(file: Path) -> Iterator[tuple[str, str, str]]:
    """The names, values and meanings of a module's defaults."""
    text = file.read_text()
    lines = text.splitlines()
    for node in ast.parse(text).body:
        target = (
            node.targets[0]
            if isinstance(node, ast.Assign)
            else node.target
            if isinstance(node, ast.AnnAssign)
            else None
        )
        if target is None or not isinstance(node, ast.Assign | ast.AnnAssign) or node.value is None:
            continue
        here = [lines[i].partition("#")[2].strip() for i in range(node.lineno - 1, node.end_lineno or node.lineno)]
        above = []
        for line in reversed(lines[: node.lineno - 1]):
            if not line.startswith("#"):
                break
            above.insert(0, line.lstrip("# "))
        said = " ".join(x for x in (*above, *here) if x)
        if SAYS.search(said):
            name = ast.unparse(target).strip("()")
            what = re.sub(r"[:;,.]?\s*\(?(?:likewise )?planning defaults?\)?\.?", "", said).strip(" ;,.:")
            yield name, f"`{ast.unparse(node.value)}`".replace("|", "\\|"), what.replace("|", "\\|")


if __name__ == "__main__":
    if "--check" in sys.argv:
        if PAGE.read_text() != page():
            sys.exit(
                "docs/guide/planning-defaults.md does not match the code: make defaults, and say in CHANGELOG what changed"
            )
    else:
        PAGE.write_text(page())
