"""The demo homes, from the plan files that ship."""

from __future__ import annotations

from importlib import resources
from importlib.resources.abc import Traversable
from pathlib import Path

from imbuto.core.basics.errors import NotFound
from imbuto.services.desk.planner import Planner
from imbuto.store.database import Database
from imbuto.store.state_files import write_whole

DEMO_HOMES = ("saltgrass-house", "via-dei-glicini")


def demo_file(name: str) -> str:
    """The plan file of a demo home."""
    return resources.files("imbuto.services").joinpath("demo_homes", f"{name}.json").read_text(encoding="utf-8")


def sample_logs() -> list[str]:
    """The names of the sample logs that ship."""
    return sorted(entry.name for entry in _logs().iterdir() if entry.name.endswith((".csv", ".xml")))


def sample_log(name: str) -> bytes:
    """A sample log. Raises NotFound."""
    if name not in sample_logs():
        raise NotFound("sample", name, "Imbuto has no sample log with that name")
    return _logs().joinpath(name).read_bytes()


def _logs() -> Traversable:
    return resources.files("imbuto.services").joinpath("demo_homes", "logs")


def open_planner(folder: Path) -> Planner:
    """A planner on the database in a folder, made where missing."""
    return Planner(Database(folder / "imbuto.db"))


def open_demo(folder: Path) -> Planner:
    """A planner with the demo homes; a demo that is there already is kept as it was left."""
    planner = open_planner(folder)
    begun, there = folder / "demo-begun.json", {h.id for h in planner.homes()}
    if begun.exists() or not there:
        write_whole(begun, list(DEMO_HOMES))  # a start that ends between the homes is taken up at the next one
        for name in DEMO_HOMES:
            if name not in there:
                planner.take_in(demo_file(name), name)
        begun.unlink()
    return planner
