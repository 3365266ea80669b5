"""Files that belong to a home, beside the database: each found by the mark of what is in it, readable by its owner
only."""

from __future__ import annotations

import hashlib
import os
import re
import shutil
import tempfile
from pathlib import Path
from urllib.parse import quote

MARK = re.compile(r"[0-9a-f]{64}")


class Files:
    """The files of every home, a folder each."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def put(self, home_id: str, data: bytes) -> str:
        """Keep a file; its mark. One that is there already is kept once. Raises OSError."""
        mark = hashlib.sha256(data).hexdigest()
        path = self._of(home_id) / mark
        if not path.exists():
            path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            made, name = tempfile.mkstemp(dir=path.parent)  # written aside first: half a file never has its name
            try:
                with os.fdopen(made, "wb") as out:
                    out.write(data)
                    out.flush()
                    os.fsync(out.fileno())
                os.replace(name, path)
            except OSError:
                Path(name).unlink(missing_ok=True)
                raise
        return mark

    def get(self, home_id: str, mark: str) -> Path | None:
        """Where a file lies, None where there is none of that mark."""
        path = self._of(home_id) / mark
        return path if MARK.fullmatch(mark) and path.is_file() else None

    def drop(self, home_id: str) -> None:
        """Remove all files of a home."""
        shutil.rmtree(self._of(home_id), ignore_errors=True)

    def _of(self, home_id: str) -> Path:
        return self.folder / (quote(home_id, safe="") or "%")
