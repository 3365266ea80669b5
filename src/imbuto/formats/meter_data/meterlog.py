"""Meter data as people have it: a CSV of any sane shape, or interval data in Green Button (ESPI) XML."""

from __future__ import annotations

from pathlib import Path

from imbuto.core.basics.errors import UnreadableFile
from imbuto.formats.meter_data import csvlog, greenbutton
from imbuto.formats.meter_data.channels import MAX_BYTES, Decimal, MeterLog, Progress


def read(path: Path, name: str, zone: str, progress: Progress = lambda _: None, decimal: Decimal = "guess") -> MeterLog:
    """Read a log.

    zone: of its clock where the times carry none
    decimal: the mark of a CSV's numbers
    progress: told the part done, 0 to 1; what it raises stops the reading

    Raises UnreadableFile or InvalidValue with row and column; nothing is half read.
    """
    size = path.stat().st_size
    if size > MAX_BYTES:
        raise UnreadableFile(name, size, f"it is {size / 1e6:.0f} MB, and a log has at most {MAX_BYTES / 1e6:.0f} MB")
    with path.open("rb") as file:
        head = file.read(4096)
    if not head.strip():
        raise UnreadableFile(name, 0, "it is empty")
    # A binary has zero bytes; so has UTF-16, which would need to be saved anew.
    if b"\x00" in head:
        raise UnreadableFile(name, None, "it isn't text; save it as a CSV in UTF-8")
    start = head.removeprefix(b"\xef\xbb\xbf").lstrip()
    if start.startswith(b"<"):
        return greenbutton.read(path, name, zone, progress)
    return csvlog.read(path, name, zone, progress, decimal)
