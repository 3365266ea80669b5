"""Changes the program in one place at a time and counts which changes its tests notice: tests that cannot fail show here.

    python bench/mutate.py [--sample 150] [--seed 1] [--only run --only limits] [--map FILE]

The sample is drawn by a seed over operators, comparisons, and/or, numbers, and min for max, in all of ``src`` but the
database's migrations. All tests that need no browser run once under coverage; each change is then made in a copy of the
tree and shown only to the tests that ran through its line, the quickest first. What survives is listed to be looked at:
some changes mean nothing, such as a rounding term."""

from __future__ import annotations

import argparse
import os
import pickle
import random
import re
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor, as_completed
from dataclasses import dataclass
from pathlib import Path
from queue import Queue
from xml.etree import ElementTree

from cosmic_ray.ast import get_ast
from cosmic_ray.mutating import mutate_code
from cosmic_ray.plugins import get_operator
from coverage import CoverageData

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "imbuto"
LEFT_OUT = {"migrations"}
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
MOST_TESTS, MOST_S = 60, 120.0  # that one change is shown to, and how long they take together
# What runs in processes of their own leaves no trace in the map: these are asked of a line that no test runs through.
APART = ("tests/test_cli.py", "tests/services/desk/test_worker.py")
DEFAULTS = "tests/test_planning_defaults.py"  # reads the constants of modules, and runs through none of them
ALSO = {"core/run/march.py": ("tests/core/run/test_march.py", "tests/core/run/test_several.py")}  # compiled lines


@dataclass(frozen=True)
class Change:
    """One change.

    module: its path below ``src/imbuto``
    operator: of the library, or the word that is swapped
    occurrence: which of its places
    """

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
    """``core/run/march.py``."""
    return str(module.relative_to(SOURCE))


def _nodes(node: object) -> Iterator[object]:
    yield node
    for child in getattr(node, "children", ()):
        yield from _nodes(child)


def changed(change: Change) -> str:
    """The module's text with the change in it."""
    text = (SOURCE / change.module).read_text()
    if change.operator in SWAPS:
        seen = iter(range(10_000))
        swap = rf"(?<![\w.]){change.operator}\("
        return re.sub(swap, lambda m: f"{SWAPS[change.operator]}(" if next(seen) == change.occurrence else m[0], text)
    return str(mutate_code(text, get_operator(change.operator)(), change.occurrence))


def line_of(change: Change) -> int:
    """The first line that a change touches, from 1."""
    before, after = (SOURCE / change.module).read_text().splitlines(), changed(change).splitlines()
    return next((i for i, (b, a) in enumerate(zip(before, after, strict=False), 1) if a != b), 1)


@dataclass(frozen=True)
class Reach:
    """Which tests run through which lines.

    tests: by module and line, each as file::function
    seconds: that each test takes, all its examples together
    """

    tests: dict[str, dict[int, list[str]]]
    seconds: dict[str, float]

    def of(self, change: Change) -> list[str]:
        """The tests to ask, the quickest first."""
        lines = self.tests.get(change.module, {})
        # A line that runs as the module is loaded, such as a constant, is asked of every test of that module.
        through = lines.get(line_of(change)) or {t for tests in lines.values() for t in tests}
        known = sorted(through, key=lambda t: self.seconds.get(t, 1))
        found, spent = [DEFAULTS, *ALSO.get(change.module, ())], 0.0
        for test in known[:MOST_TESTS]:
            if found and spent + self.seconds.get(test, 1) > MOST_S:
                break
            found.append(test)
            spent += self.seconds.get(test, 1)
        return found if known else [*found, *APART]


def reach_of_tests(tree: Path, halves: int) -> Reach:
    """Run every test that needs no browser once under coverage, in so many processes."""
    files = sorted(str(p.relative_to(tree)) for p in (tree / "tests").rglob("test_*.py") if "browser" not in p.parts)
    (tree / ".coveragerc").write_text(
        f"[run]\nsource = {tree / 'src' / 'imbuto'}\ndynamic_context = test_function\nparallel = true\n"
    )
    env = os.environ | {"PYTHONPATH": str(tree / "src")}
    command = [
        sys.executable,
        "-m",
        "coverage",
        "run",
        "-m",
        "pytest",
        "-q",
        "-p",
        "no:cacheprovider",
        "-p",
        "no:xdist",
    ]
    running = [
        subprocess.Popen(
            [*command, f"--junitxml=times-{i}.xml", *files[i::halves]], cwd=tree, env=env, stdout=subprocess.DEVNULL
        )
        for i in range(halves)
    ]
    for process in running:
        process.wait()
    subprocess.run([sys.executable, "-m", "coverage", "combine", "-q"], cwd=tree, check=True)
    data = CoverageData(str(tree / ".coverage"))
    data.read()
    seconds: Counter[str] = Counter()
    for i in range(halves):
        for case in ElementTree.parse(tree / f"times-{i}.xml").iter("testcase"):
            name = f"{case.get('classname', '')}.{case.get('name', '').partition('[')[0]}"
            seconds[_node(name)] += float(case.get("time", "0"))
    tests: dict[str, dict[int, list[str]]] = {}
    for file in data.measured_files():
        lines = data.contexts_by_lineno(file)
        module = str(Path(file).relative_to(tree / "src" / "imbuto"))
        tests[module] = {n: [_node(c) for c in names if c.startswith("tests.")] for n, names in lines.items()}
    return Reach(tests, dict(seconds))


def _node(name: str) -> str:
    """``tests.core.run.test_march.test_x``, as pytest is told it."""
    module, _, function = name.rpartition(".")
    return f"{module.replace('.', '/')}.py::{function}"


def noticed(change: Change, tree: Path, reach: Reach) -> str:
    """The first test that was to notice it and did not pass; empty where all pass."""
    target = tree / "src" / "imbuto" / change.module
    original = target.read_text()
    _write(target, changed(change))
    tests = reach.of(change)
    try:
        return tests[0] if _fails(tests, tree) else ""
    finally:
        _write(target, original)


def _write(module: Path, text: str) -> None:
    """Write a module, and forget its compiled form: its time and size alone may not tell the two apart."""
    module.write_text(text)
    for compiled in (module.parent / "__pycache__").glob(f"{module.stem}.*"):
        compiled.unlink()


def _fails(what: list[str], tree: Path) -> bool:
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-p", "no:xdist", *what]
    env = os.environ | {"PYTHONPATH": str(tree / "src")}
    try:
        return subprocess.run(command, cwd=tree, env=env, capture_output=True, timeout=PATIENCE_S).returncode != 0
    except subprocess.TimeoutExpired:
        return True


def difference(change: Change) -> str:
    """The changed lines, to look at."""
    before, after = (SOURCE / change.module).read_text().splitlines(), changed(change).splitlines()
    return " ".join(
        f"{i}: {b.strip()} → {a.strip()}" for i, (b, a) in enumerate(zip(before, after, strict=False), 1) if a != b
    )


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    options.add_argument("--sample", type=int, default=150)
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--map", type=Path, help="where the map of tests is kept between runs")
    options.add_argument("--only", action="append", default=[])
    asked = options.parse_args()
    modules = [
        m
        for m in sorted(SOURCE.rglob("*.py"))
        if m.stem != "__init__"
        and not LEFT_OUT & set(m.parts)
        and (not asked.only or m.stem in asked.only or m.parent.name in asked.only)
    ]
    every = [c for m in modules for c in places(m)]
    sample = random.Random(asked.seed).sample(every, min(asked.sample, len(every)))
    workers = os.cpu_count() or 2
    trees: Queue[Path] = Queue()
    survivors, found = [], 0
    with tempfile.TemporaryDirectory() as folder:
        for i in range(workers):
            tree = Path(folder) / str(i)
            for part in ("src", "tests", "examples", "docs", "bench"):
                shutil.copytree(ROOT / part, tree / part, ignore=shutil.ignore_patterns("__pycache__", "screenshots"))
            for file in ("pyproject.toml", "CHANGELOG.md", "README.md", "CONTRIBUTING.md"):
                shutil.copy(ROOT / file, tree)
            trees.put(tree)

        if asked.map and asked.map.exists():
            reach = Reach(**pickle.loads(asked.map.read_bytes()))
        else:
            tree = trees.get()
            reach = reach_of_tests(tree, workers)
            trees.put(tree)
            if asked.map:
                asked.map.write_bytes(pickle.dumps({"tests": reach.tests, "seconds": reach.seconds}))

        def one(change: Change) -> tuple[Change, str]:
            tree = trees.get()
            try:
                return change, noticed(change, tree, reach)
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
    print(f"\n{found} of {len(sample)} noticed, {100 * found / max(len(sample), 1):.0f}% (of {len(every)} places)")


if __name__ == "__main__":
    main()
