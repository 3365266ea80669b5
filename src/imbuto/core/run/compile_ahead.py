"""What is compiled to machine code, and when: once, into a cache beside the code, or in the data folder where that is
read-only. Until it is there, whatever computes would wait for half a minute; so it is done ahead, in the background."""

from __future__ import annotations

import os
from pathlib import Path
from threading import Lock

import numpy as np

from imbuto.core.basics.elsewhere import run_elsewhere
from imbuto.core.run import band_members as draws
from imbuto.core.run import march
from imbuto.core.run.battery_store import Store
from imbuto.core.run.jit import fingerprint
from imbuto.core.run.network import run_one

FUNCTIONS = (march.march, draws._add_cycling, draws._add_shifted)
_compiling = Lock()


def keep_in(folder: Path) -> None:
    """Keep what is compiled in a data folder, where the code's own folder cannot be written to. Before anything is
    compiled: the compiler reads this once."""
    if not os.access(Path(march.__file__).parent, os.W_OK):
        os.environ.setdefault("NUMBA_CACHE_DIR", str(folder / "compiled"))


def prepare() -> None:
    """Have everything compiled, where that was not done before in the server's second process: the compiler takes some
    70 MB that it does not give back. Then load it."""
    if not is_cached():
        run_elsewhere(compile_all)
    compile_all()


def is_cached() -> bool:
    """Whether everything is in the compiler's cache."""
    folder = Path(os.environ.get("NUMBA_CACHE_DIR") or Path(march.__file__).parent / "__pycache__")
    return all(any(folder.rglob(f"*{fingerprint(f.py)}*.nbi")) for f in FUNCTIONS)


def compile_all() -> None:
    """Compile, or load from the cache, everything there is to; at once where that is done."""
    with _compiling:
        one = np.ones(1)
        run_one([Store(nominal_wh=1000)], [1.0], np.full((1, 1), 100.0), 1.0)
        draws._add_cycling(np.zeros((1, 1, 1)), one, one, one, 0.5, 1.0, 1.0, 1.0)
        draws._add_shifted(np.zeros((1, 1, 1)), one, one, np.zeros(1, dtype=np.int64), one)
