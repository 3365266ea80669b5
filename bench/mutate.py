"""Changes the core in one place at a time and counts which changes its tests notice: tests that cannot fail show here.

    python bench/mutate.py [--sample 150] [--seed 1] [--only run --only limits]

The sample is drawn by a seed over operators, comparisons, and/or, numbers, and min for max. Each change is made in a
copy of the tree; the tests of that module come first, then the rest of tests/core, then tests/services. What survives
is listed to be looked at: some changes mean nothing, such as a rounding term."""

from __future__ import annotations

import argparse
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor, as_completed
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

from cosmic_ray.ast import get_ast
from cosmic_ray.mutating import mutate_code
from cosmic_ray.plugins import get_operator

ROOT = Path(__file__).parents[1]
CORE = ROOT / "src" / "imbuto" / "core"
OPERATORS = (
    "core/ReplaceBinaryOperator_Add_Sub",
    "core/ReplaceBinaryOperator_Sub_Add",
    "core/ReplaceBinaryOperator_Mul_Div",
    "core/ReplaceBinaryOperator_Div_Mul",
    "core/ReplaceComparisonOperator_Lt_GtE",
    "core/ReplaceComparisonOperator_Gt_LtE",
    "core/ReplaceComparisonOperator_LtE_Gt",
    "core/ReplaceComparisonOperator_GtE_Lt",
    "core/ReplaceComparisonOperator_Eq_NotEq",
    "core/ReplaceComparisonOperator_IsNot_Is",
    "core/ReplaceAndWithOr",
    "core/ReplaceOrWithAnd",
    "core/NumberReplacer",
)
SWAPS = {"min": "max", "max": "min"}
PATIENCE_S = 240
SLOW = ("test_choose.py", "test_readings.py", "test_march.py")  # asked last


@dataclass(frozen=True)
class Change:
    """One change. module: its package and name; operator: of the library, or the word that is swapped; occurrence:
    which of its places."""

    module: str
    operator: str
    occurrence: int


def places(module: Path) -> Iterator[Change]:
    """Everything that could be changed in a module."""
    tree = get_ast(module.read_text())
    nodes = list(_nodes(tree))
    for name in OPERATORS:
        operator = get_operator(name)()
        count = sum(len(list(operator.mutation_positions(n))) for n in nodes)
        yield from (Change(_name(module), name, i) for i in range(count))
    for word in SWAPS:
        count = len(re.findall(rf"(?<![\w.]){word}\(", module.read_text()))
        yield from (Change(_name(module), word, i) for i in range(count))


def _name(module: Path) -> str:
    """``run/march``: its package and its own name."""
    return f"{module.parent.name}/{module.stem}"


def _nodes(node: object) -> Iterator[object]:
    yield node
    for child in getattr(node, "children", ()):
        yield from _nodes(child)


def changed(change: Change) -> str:
    """The module's text with the change in it."""
    text = (CORE / f"{change.module}.py").read_text()
    if change.operator in SWAPS:
        seen = iter(range(10_000))
        swap = rf"(?<![\w.]){change.operator}\("
        return re.sub(swap, lambda m: f"{SWAPS[change.operator]}(" if next(seen) == change.occurrence else m[0], text)
    return str(mutate_code(text, get_operator(change.operator)(), change.occurrence))


def noticed(change: Change, tree: Path, *, core_only: bool = False) -> str:
    """Where the tests noticed it; empty where they did not."""
    target = tree / "src" / "imbuto" / "core" / f"{change.module}.py"
    original = target.read_text()
    target.write_text(changed(change))
    own = tree / "tests" / "core" / f"test_{Path(change.module).name}.py"
    slow = [f"tests/core/{name}" for name in SLOW]
    quick = ["tests/core", *(f"--ignore={x}" for x in slow)]
    stages = [[str(own)] if own.exists() else [], quick, slow, [] if core_only else ["tests/services"]]
    try:
        for stage in stages:
            if stage and _fails(stage, tree):
                return stage[0].split("/")[-1]
        return ""
    finally:
        target.write_text(original)


def _fails(what: list[str], tree: Path) -> bool:
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-p", "no:xdist", *what]
    env = os.environ | {"PYTHONPATH": str(tree / "src"), "PYTHONDONTWRITEBYTECODE": "1"}
    try:
        return subprocess.run(command, cwd=tree, env=env, capture_output=True, timeout=PATIENCE_S).returncode != 0
    except subprocess.TimeoutExpired:
        return True


def difference(change: Change) -> str:
    """The changed lines, to look at."""
    before, after = (CORE / f"{change.module}.py").read_text().splitlines(), changed(change).splitlines()
    return " ".join(
        f"{i}: {b.strip()} → {a.strip()}" for i, (b, a) in enumerate(zip(before, after, strict=False), 1) if a != b
    )


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    options.add_argument("--sample", type=int, default=150)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--core-only", action="store_true", help="leave the services' tests out, which is quicker")
    options.add_argument("--only", action="append", default=[])
    asked = options.parse_args()
    modules = [
        m
        for m in sorted(CORE.rglob("*.py"))
        if m.stem != "__init__" and (not asked.only or m.stem in asked.only or m.parent.name in asked.only)
    ]
    every = [c for m in modules for c in places(m)]
    sample = random.Random(asked.seed).sample(every, min(asked.sample, len(every)))
    workers = os.cpu_count() or 2
    trees: Queue[Path] = Queue()
    survivors, found = [], 0
    with tempfile.TemporaryDirectory() as folder:
        for i in range(workers):
            tree = Path(folder) / str(i)
            for part in ("src", "tests", "examples", "docs"):
                shutil.copytree(
                    ROOT / part, tree / part, ignore=shutil.ignore_patterns("__pycache__", "web_dist", "screenshots")
                )
            shutil.copy(ROOT / "pyproject.toml", tree)
            trees.put(tree)

        def one(change: Change) -> tuple[Change, str]:
            tree = trees.get()
            try:
                return change, noticed(change, tree, core_only=asked.core_only)
            finally:
                trees.put(tree)

        with ThreadPoolExecutor(workers) as pool:
            for n, done in enumerate(as_completed([pool.submit(one, change) for change in sample]), 1):
                change, where = done.result()
                found += bool(where)
                if not where:
                    survivors.append(change)
                told = where or f"SURVIVES  {difference(change)}"
                print(
                    f"{n:4} {change.module}: {change.operator.removeprefix('core/')} {change.occurrence}: {told}",
                    flush=True,
                )
    print(f"\n{found} of {len(sample)} noticed, {100 * found / max(len(sample), 1):.0f} % (of {len(every)} places)")


if __name__ == "__main__":
    main()
