"""Read ZIP archives from strangers: what they hold is bounded before anything is unpacked."""

from __future__ import annotations

import lzma
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from io import BytesIO
from pathlib import Path

from imbuto.core.basics.errors import UnreadableFile

# What reading a damaged ZIP raises.
BROKEN = (zipfile.BadZipFile, zlib.error, lzma.LZMAError, NotImplementedError, RuntimeError, EOFError, ValueError)
KINDS = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)
SWELLS = 100  # what people pack swells to less than this many times; more is made to fill a memory
SMALL = 1_000_000  # bytes; below that, how much a file swells does not matter


class Archive:
    """An open archive of which nothing is believed: names, sizes and kinds were checked, and reading is counted."""

    def __init__(self, file: zipfile.ZipFile, name: str, most_bytes: int) -> None:
        self._file, self._name, self._left = file, name, most_bytes
        self.names = [e.filename for e in file.infolist()]

    def read(self, entry: str, most: int) -> bytes:
        """Return one entry. Raises UnreadableFile for more than it may have, or than is left for all of them."""
        most = min(most, self._file.getinfo(entry).file_size, self._left)
        with self._file.open(entry) as packed:
            data = packed.read(most + 1)
        if len(data) > most:
            raise UnreadableFile(
                self._name, len(data), f"“{entry[:60]}” inside is larger than stated, or too large to import"
            )
        self._left -= len(data)
        return data


@contextmanager
def open_archive(
    source: bytes | Path, name: str, *, most_entries: int, most_bytes: int, begins: str, swells: int = SWELLS
) -> Iterator[Archive]:
    """Open an archive.

    begins: the words for one that cannot be read, such as ``it isn't a whole backup``
    swells: how many times its packed size something may have

    Raises UnreadableFile for one that is damaged, or holds more or other things than are taken in.
    """
    try:
        with zipfile.ZipFile(BytesIO(source) if isinstance(source, bytes) else source) as file:
            entries = file.infolist()
            if len(entries) > most_entries:
                raise UnreadableFile(
                    name, None, f"it has {len(entries):,} files, and Imbuto takes at most {most_entries:,}"
                )
            if sum(e.file_size for e in entries) > most_bytes:
                raise UnreadableFile(
                    name,
                    None,
                    f"the archive is too large. Unpacked, it may have at most {most_bytes / 1e6:,.0f} MB",
                )
            if any(e.compress_type not in KINDS or e.flag_bits & 1 for e in entries):
                raise UnreadableFile(name, None, "Imbuto can't read this kind of ZIP. Pack it as an ordinary ZIP")
            if any(e.file_size > SMALL and e.file_size > swells * max(e.compress_size, 1) for e in entries):
                raise UnreadableFile(name, None, "a file inside unpacks to far more than its size")
            yield Archive(file, name, most_bytes)
    except (*BROKEN, OSError) as error:
        raise UnreadableFile(name, None, f"{begins}: {error}") from None
