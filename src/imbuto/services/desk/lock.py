"""Hold a data folder, so that two programs never write in one. Light to import: a server does so before all else."""

from __future__ import annotations

import fcntl
import logging
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from imbuto.core.basics.errors import DataFolder
from imbuto.store.unfinished import heal

log = logging.getLogger("imbuto")


@contextmanager
def hold_folder(folder: Path) -> Iterator[None]:
    """Hold a data folder, so that no other program of this kind begins on it, and bring it to a whole state.

    A folder is held by its real path, whatever name it is called by. What was healed is told in the log. Raises
    DataFolder where another program holds it.
    """
    folder = folder.resolve()
    folder.parent.mkdir(parents=True, exist_ok=True)
    path = folder.with_name(f".{folder.name}.lock")
    with path.open("a+") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            rule = "another Imbuto is using it; stop that one first, or choose another folder with --folder"
            raise DataFolder("data folder", str(folder), rule) from None
        try:
            for said in heal(folder):
                log.warning(said)
            yield
        finally:
            fcntl.flock(file, fcntl.LOCK_UN)


def heal_if_free(folder: Path) -> None:
    """Bring a data folder to a whole state, unless another program holds it: that one has done so."""
    with suppress(DataFolder), hold_folder(folder):
        pass
