"""Where the built front end is."""

from __future__ import annotations

from importlib import resources
from pathlib import Path


def built_interface() -> Path | None:
    """Where the built front end is, None when it was not built."""
    place = Path(str(resources.files("imbuto").joinpath("web_dist")))
    return place if (place / "index.html").is_file() else None
