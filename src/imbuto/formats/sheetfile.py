"""Data sheets as files: the text of a PDF or a plain text, page by page, the pages with the figures first."""

from __future__ import annotations

import io
import logging
import re
from dataclasses import dataclass

from imbuto.core.basics.errors import UnreadableFile

MOST_BYTES = 30_000_000
MOST_PAGES = 200  # a manual; more is a book, and takes minutes
FIGURE = re.compile(r"\d\s?(?:k?Wh|k?W|k?VA|V|A|Ah|Hz|ms|dB|kg|lbs?|°\s?[CF])\b", re.IGNORECASE)


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetText:
    """What a file says.

    pages: those given here, counted from 1
    of: how many it has
    """

    text: str
    pages: list[int]
    of: int


def text_of(data: bytes, name: str, most: int) -> SheetText:
    """The text of a sheet, at most ``most`` characters: where there is more, the pages with the most figures, in order.

    Raises UnreadableFile on one that is locked, damaged, a picture of its text, or no text at all.
    """
    if len(data) > MOST_BYTES:
        raise UnreadableFile(
            name, len(data), (f"it is {len(data) / 1e6:.0f} MB, and {MOST_BYTES / 1e6:.0f} MB is the maximum")
        )
    pages = _pdf_pages(data, name) if data[:1024].lstrip().startswith(b"%PDF") else [_plain(data, name)]
    if not any(page.strip() for page in pages):
        raise UnreadableFile(name, "", "the file has no text; type the figures")
    room, kept = most, []
    for i in sorted(range(len(pages)), key=lambda i: (-len(FIGURE.findall(pages[i])), i)):
        if pages[i].strip() and len(pages[i]) < room:
            kept.append(i)
            room -= len(pages[i]) + 1
    if not kept:
        raise UnreadableFile(
            name, "", f"every page is longer than {most:,} characters; paste the part with the figures"
        )
    kept.sort()
    return SheetText(text="\n".join(pages[i] for i in kept), pages=[i + 1 for i in kept], of=len(pages))


def _plain(data: bytes, name: str) -> str:
    if b"\0" in data:
        raise UnreadableFile(name, "", "it is neither a PDF nor plain text; open it and paste its text")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("latin-1")


def _pdf_pages(data: bytes, name: str) -> list[str]:
    from pypdf import PdfReader  # slow to load, and only wanted here
    from pypdf.errors import DependencyError, FileNotDecryptedError

    logging.getLogger("pypdf").setLevel(logging.ERROR)  # what it mends in silence is no news to whoever runs a server
    try:
        reader = PdfReader(io.BytesIO(data))
        count = len(reader.pages)
        if count > MOST_PAGES:
            raise UnreadableFile(
                name, count, f"it has {count} pages, and {MOST_PAGES} is the maximum; paste the pages with the figures"
            )
        # As laid out: a table's row stays one line, its cells apart.
        return [page.extract_text(extraction_mode="layout") for page in reader.pages]
    except (FileNotDecryptedError, DependencyError) as locked:
        raise UnreadableFile(name, "", "it is locked with a password; open it and paste its text") from locked
    except UnreadableFile:
        raise
    except Exception as damaged:  # of a damaged file the reader may raise anything, a filter that nobody wrote among it
        raise UnreadableFile(name, "", "this PDF is damaged; open it and paste its text") from damaged
