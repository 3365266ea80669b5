"""Finish or undo what a restore, a backup or a packing left when the program was stopped in the middle of it."""

from __future__ import annotations

import os
import re
import shutil
from pathlib import Path

from imbuto.store.state_files import settle

RESTORING = re.compile(r"\.restoring-\d+$")
LEFT_INSIDE = ("packing-*", ".making-*", "copies/.making-*", "incoming/*", "files/*/tmp*")


def heal(folder: Path) -> list[str]:
    """Bring a data folder that nobody else holds to a whole state. Returns what was done, each in a sentence.

    A restore puts a checked folder beside the old one, then renames both. Stopped between the two renames, the data
    folder is gone and both others are there: the restore is finished. Raises OSError.
    """
    said = []
    beside = sorted(folder.parent.glob(f"{folder.name}.restoring-*")) if folder.parent.is_dir() else []
    fresh = [p for p in beside if RESTORING.search(p.name)]
    kept = sorted(folder.parent.glob(f"{folder.name}.before-*")) if folder.parent.is_dir() else []
    if not folder.exists() and fresh and kept:
        os.rename(fresh[-1], folder)
        settle(folder.parent)
        said.append(
            f"A restore was stopped halfway, so Imbuto finished it. The homes from before are in {kept[-1]}; "
            "delete that folder when everything works."
        )
        fresh.pop()
    elif not folder.exists() and kept:
        said.append(
            f"There are no homes in {folder}, but a restore kept earlier ones in {kept[-1]}. To use those, stop "
            f"Imbuto and start it with --folder {kept[-1]}."
        )
    for path in fresh:
        shutil.rmtree(path)
        said.append("A restore was stopped before it changed anything. Restore again if you still want it.")
    for pattern in LEFT_INSIDE:
        for path in folder.glob(pattern):
            if path.is_dir():
                shutil.rmtree(path)
            else:
                path.unlink()
    for path in folder.parent.glob(f".{folder.name}.unpacking-*"):
        shutil.rmtree(path, ignore_errors=True)
    return said
