"""What a home keeps on file: warranties, manuals, serials, invoices, photographs; each with the file itself where
there is one."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Interval, Len

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.moments import Day
from imbuto.core.basics.units import Ident, Name, Text

FiledKind = Literal["warranty", "manual", "serial", "invoice", "firmware", "photo", "permit", "settings", "other"]
Media = Literal["application/pdf", "image/jpeg", "image/png", "text/plain", "text/csv"]
MOST_BYTES = 20_000_000  # of one file


@dataclass(frozen=True, slots=True, kw_only=True)
class AttachedFile:
    """A file beside the documents.

    name: as it was called
    media: what it is, found by looking into it
    size: bytes
    sha256: of what is kept, by which it is found
    """

    name: Annotated[str, Len(1, 120)]
    media: Media
    size: Annotated[int, Interval(ge=1, le=MOST_BYTES)]
    sha256: Annotated[str, Len(64, 64)]


@dataclass(frozen=True, slots=True, kw_only=True)
class BinderEntry:
    """An entry of the binder.

    of: what it belongs to, in words
    number: a serial, a policy, an invoice
    on: its day
    until: the last day of what it promises
    file: None where only the paper is kept
    """

    id: Ident
    kind: FiledKind
    title: Name
    of: Text = ""
    number: Text = ""
    on: Day | None = None
    until: Day | None = None
    note: Text = ""
    file: AttachedFile | None = None


def check_filed(filed: BinderEntry) -> None:
    """Raise InvalidValue where its days run backwards, or its file's mark is none."""
    if filed.on is not None and filed.until is not None and filed.until < filed.on:
        raise InvalidValue(f"{filed.title}, until", filed.until.isoformat(), "choose an end after its date")
    if filed.file is not None and set(filed.file.sha256) - set("0123456789abcdef"):
        raise InvalidValue(f"{filed.title}, file", filed.file.sha256, "enter 64 digits from 0 to f")
