"""Small files beside the database, written whole or not at all; a damaged one is put aside and never stops a start."""

from __future__ import annotations

import json
import logging
import os
import tempfile
from pathlib import Path
from typing import Any

log = logging.getLogger("imbuto")


def write_whole(path: Path, value: Any) -> None:
    """Write a value as JSON in the place of what was there, readable by its owner only. Raises OSError; then what was
    there is still there."""
    made, name = tempfile.mkstemp(dir=path.parent, prefix=".making-")
    try:
        with os.fdopen(made, "w", encoding="utf-8") as out:
            json.dump(value, out)
            out.flush()
            os.fsync(out.fileno())
        os.replace(name, path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
    settle(path.parent)


def settle(folder: Path) -> None:
    """Have the disk keep the names in a folder as they are now."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def read_whole(path: Path) -> dict[str, Any] | None:
    """Read an object that ``write_whole`` wrote; None where there is none, or where it was damaged and put aside."""
    try:
        found = json.loads(path.read_text(encoding="utf-8"))
    except FileNotFoundError:
        return None
    except ValueError:
        found = None
    if isinstance(found, dict):
        return found
    put_aside(path, "is damaged")
    return None


def put_aside(path: Path, why: str) -> None:
    """Give a file that cannot be used another name, and say so in the log."""
    aside = path.with_name(f"{path.name}.unused")
    os.replace(path, aside)
    log.warning("%s %s, so Imbuto started without it. It is kept as %s.", path.name, why, aside.name)
