"""What every reader of XML here asks of a file before and while it is read."""

from __future__ import annotations

import io
import re
from typing import IO

from imbuto.core.basics.errors import UnreadableFile

# What the parser reads by itself, and the two that meters' makers write. Any other name is a mistake, or an attempt.
ENCODINGS = frozenset({"utf-8", "utf8", "us-ascii", "iso-8859-1", "iso-8859-15", "windows-1252", "utf-16"})
DECLARED = re.compile(rb"<\?xml[^>]{0,200}?encoding\s*=\s*[\"']([^\"'>]*)")
# Bytes of one tag or one text: the parser looks through an unfinished one again with every piece it is given.
LONGEST = 1_000_000
PIECE = 65_536


def check_encoding(head: bytes, name: str) -> None:
    """Raise UnreadableFile for an encoding that is not read. head: the file's beginning."""
    found = DECLARED.search(head[:400])
    said = found[1].decode("latin-1").lower() if found else "utf-8"
    if said not in ENCODINGS:
        said = said[:40]
        raise UnreadableFile(name, None, f"it is written in “{said}”, which Imbuto can't read; save it in UTF-8")


class BoundedFile(io.RawIOBase):
    """A file as it is, refused at the first tag or text that is longer than any meter writes."""

    def __init__(self, file: IO[bytes], name: str) -> None:
        self.file, self.name, self.run = file, name, 0

    def read(self, size: int = -1) -> bytes:
        """The next piece. Raises UnreadableFile."""
        data = self.file.read(PIECE if size is None or size < 0 else min(size, PIECE))
        last = max(data.rfind(b"<"), data.rfind(b">"))
        self.run = self.run + len(data) if last < 0 else len(data) - last
        if self.run > LONGEST:
            raise UnreadableFile(self.name, None, f"it has a tag or text longer than {LONGEST / 1e6:g} MB")
        return data
