"""What may be put on file: PDFs, photographs, texts; told by looking into it, never by its name.

Photographs lose everything but their points, and so where they were taken.
"""

from __future__ import annotations

import io
import warnings

from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.home.binder import MOST_BYTES, Media

MOST_PIXELS = 80_000_000
QUALITY = 90  # of a JPEG that is written anew
KINDS: dict[str, Media] = {"JPEG": "image/jpeg", "PNG": "image/png", "MPO": "image/jpeg"}
ENDINGS: dict[Media, str] = {
    "application/pdf": ".pdf",
    "image/jpeg": ".jpg",
    "image/png": ".png",
    "text/plain": ".txt",
    "text/csv": ".csv",
}


def taken_in(data: bytes, name: str) -> tuple[bytes, Media]:
    """What is kept of a file, and what it is. Raises UnreadableFile for anything else, and for what is too large."""
    if not data:
        raise UnreadableFile(name, 0, "it is empty")
    if len(data) > MOST_BYTES:
        raise UnreadableFile(
            name,
            len(data),
            f"it is {len(data) / 1e6:.0f} MB, and {MOST_BYTES / 1e6:.0f} MB is the maximum; "
            "scan it at a lower resolution",
        )
    if data.startswith(b"%PDF-"):
        return data, "application/pdf"
    if data.startswith((b"\xff\xd8\xff", b"\x89PNG\r\n\x1a\n")):
        return _picture(data, name)
    return data, _text(data, name)


def _picture(data: bytes, name: str) -> tuple[bytes, Media]:
    """Drawn anew from its points alone: nothing else that was in the file, such as where it was taken, is kept."""
    from PIL import Image, ImageOps, UnidentifiedImageError  # slow to load, and wanted for pictures only

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(data), formats=("JPEG", "PNG"))
            if picture.width * picture.height > MOST_PIXELS:
                raise UnreadableFile(
                    name, None, f"it has {picture.width} by {picture.height} pixels, more than Imbuto can import"
                )
            media = KINDS[picture.format or ""]
            upright = ImageOps.exif_transpose(picture)
            bare = Image.new(upright.mode, upright.size)
            bare.paste(upright)
            if upright.mode == "P" and (colours := upright.getpalette()):
                bare.putpalette(colours)
    except UnreadableFile:
        raise
    except (
        UnidentifiedImageError,
        Image.DecompressionBombError,
        Image.DecompressionBombWarning,
        OSError,
        ValueError,
        SyntaxError,
        KeyError,
    ):
        raise UnreadableFile(name, None, "it starts like a picture but is damaged") from None
    out = io.BytesIO()
    if media == "image/png":
        bare.save(out, "PNG", optimize=False)
    else:
        (bare if bare.mode in ("RGB", "L", "CMYK") else bare.convert("RGB")).save(out, "JPEG", quality=QUALITY)
    return out.getvalue(), media


def _text(data: bytes, name: str) -> Media:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise UnreadableFile(name, None, "it isn't a PDF, a JPEG or PNG picture, or text; add one of these") from None
    if "\0" in text or text.lstrip()[:1] == "<":
        raise UnreadableFile(
            name, None, "this is a page or drawing with a program in it; print it to a PDF, and add that"
        )
    return "text/csv" if name.lower().endswith(".csv") else "text/plain"


def safe_name(name: str, media: Media) -> str:
    """A name for a file: its own, without folders or signs that a shell or a header takes for others, ending as what
    it is."""
    stem = name.replace("\\", "/").rsplit("/", 1)[-1]
    stem = "".join(c for c in stem if c.isalnum() or c in " ._-()").strip(" .")[:100] or "file"
    ending = ENDINGS[media]
    known = (ending, ".jpeg") if media == "image/jpeg" else (ending,)
    return stem if stem.lower().endswith(known) else stem + ending
