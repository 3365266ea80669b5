"""Write the map of packages into CONTRIBUTING.md from their own first lines; ``--check`` says whether it is stale."""

from __future__ import annotations

import ast
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
BEGIN, END = "<!-- module map: make map -->", "<!-- end of the module map -->"
ORDER = ("core", "formats", "devices", "store", "services", "api")


def first_line(file: Path) -> str:
    """The first line of a module's docstring."""
    return (ast.get_docstring(ast.parse(file.read_text())) or "").split("\n")[0].rstrip(".")


def lines() -> list[str]:
    """The packages in order, each with its modules."""
    found = []
    top = ROOT / "src" / "imbuto"
    packages = [p.parent for p in sorted(top.rglob("__init__.py")) if "migrations" not in p.parts and p.parent != top]
    packages.sort(key=lambda p: (ORDER.index(p.relative_to(top).parts[0]), p.relative_to(top).parts))
    for package in packages:
        said = first_line(package / "__init__.py")
        modules = ", ".join(f"`{m.stem}`" for m in sorted(package.glob("*.py")) if m.stem != "__init__")
        found.append(f"- **{package.relative_to(top)}**: {said}" + (f". {modules}" if modules else ""))
    return found


def main() -> None:
    page = ROOT / "CONTRIBUTING.md"
    text = page.read_text()
    before, _, rest = text.partition(BEGIN)
    _, _, after = rest.partition(END)
    made = f"{before}{BEGIN}\n" + "\n".join(lines()) + f"\n{END}{after}"
    if "--check" not in sys.argv:
        page.write_text(made)
    elif made != text:
        sys.exit("The module map in CONTRIBUTING.md is stale: make map")


if __name__ == "__main__":
    main()
