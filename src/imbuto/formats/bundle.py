"""A home with everything on file, as one ZIP: its plan file, and each attachment under its mark. An open format, checked piece by piece."""

from __future__ import annotations

import hashlib
import io
import re
import zipfile
import zlib
from collections.abc import Mapping

from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.home.binder import MOST_BYTES

PLAN = "home.imbuto.json"
FILE = re.compile(r"files/([0-9a-f]{64})")
MOST_FILES, MOST_WHOLE = 1_000, 400_000_000
# What reading a ZIP that was damaged raises.
BROKEN = (zipfile.BadZipFile, zlib.error, NotImplementedError, RuntimeError, EOFError, ValueError)
MAGIC = b"PK\x03\x04"


def pack(plan_file: bytes, files: Mapping[str, bytes]) -> bytes:
    """files: by their marks."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(PLAN, plan_file)
        for mark, data in sorted(files.items()):
            archive.writestr(f"files/{mark}", data)
    return out.getvalue()


def unpack(data: bytes, name: str) -> tuple[bytes, dict[str, bytes]]:
    """The plan file, and the attachments by their marks. Raises UnreadableFile for a name that does not belong, for sizes and counts
    past the ceiling, and for what is not what its mark says."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = archive.infolist()
            if len(entries) > MOST_FILES + 1:
                raise UnreadableFile(name, None, f"it has {len(entries)} files, more than is taken in")
            if sum(e.file_size for e in entries) > MOST_WHOLE:
                raise UnreadableFile(name, None, "what is packed in it is larger than is taken in")
            names = [e.filename for e in entries]
            strange = next((n for n in names if n != PLAN and not FILE.fullmatch(n)), None)
            if strange is not None or len(set(names)) < len(names):
                raise UnreadableFile(name, None, f"“{(strange or names[0])[:60]}” does not belong in a packed home")
            if PLAN not in names:
                raise UnreadableFile(name, None, f"no “{PLAN}” is packed in it")
            return _read(archive, PLAN, name, MOST_WHOLE), {
                e.filename[6:]: _checked(archive, e.filename, name) for e in entries if e.filename != PLAN
            }
    except (*BROKEN, OSError) as error:
        raise UnreadableFile(name, None, f"it begins like a ZIP, but cannot be read as one: {error}") from None


def _read(archive: zipfile.ZipFile, entry: str, name: str, most: int) -> bytes:
    with archive.open(entry) as packed:
        data = packed.read(most + 1)  # what the directory says of sizes is not believed
    if len(data) > most:
        raise UnreadableFile(name, len(data), f"“{entry}” in it is larger than is taken in")
    return data


def _checked(archive: zipfile.ZipFile, entry: str, name: str) -> bytes:
    data = _read(archive, entry, name, MOST_BYTES)
    if hashlib.sha256(data).hexdigest() != entry[6:]:
        raise UnreadableFile(name, None, f"“{entry[:20]}…” in it is not what its mark says: it was damaged or changed")
    return data
