"""The demo homes, made once and copied for each test."""

import atexit
import shutil
import tempfile
from functools import cache
from pathlib import Path

from imbuto.services.desk.demo import open_demo
from imbuto.services.desk.planner import Planner


@cache
def _made() -> Path:
    folder = Path(tempfile.mkdtemp(prefix="imbuto-tests-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    open_demo(folder).database.close()
    return folder / "imbuto.db"


def demo_copy(folder: Path) -> Planner:
    """A planner on a fresh copy of the demo homes."""
    folder.mkdir(parents=True, exist_ok=True)
    shutil.copy(_made(), folder / "imbuto.db")
    return open_demo(folder)
