"""The text of a photographed label or display, each line with the place where it stands in the picture.

Nothing of the file but its points is kept: where and with what it was taken is gone.
"""

from __future__ import annotations

import base64
import io
import re
import shutil
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from imbuto.core.basics.errors import ImbutoError, UnreadableFile
from imbuto.formats.attached import taken_in

if TYPE_CHECKING:
    from PIL.Image import Image

MOST_BYTES = 25_000_000  # a phone's camera makes 3 to 12 MB
KEPT_PIXELS = 1_600  # longer side of the picture that is shown and may be kept
READ_PIXELS = 2_000  # longer side of what is read; small print needs it
DARK = 110  # mean grey below which light digits stand on a dark ground
TILTS = range(-12, 13)  # degrees tried; a label is rarely held worse
LAYOUTS = ("--psm 6", "--psm 11")  # one block of text, and text scattered over a display
LEAST_SURE = 30.0  # percent: words below are noise
TIMEOUT_S = 40
# Narrow blanks are easily lost: 115 V60 Hz1.5 A.
RUN_TOGETHER = re.compile(r"(?<=[\d\s.])(V|A|W|Hz)~?(?=\d)", re.IGNORECASE)


class NoReader(ImbutoError):
    """Pictures can't be read on this machine."""

    kind = "no_reader"

    @property
    def sentence(self) -> str:
        return (
            "Imbuto reads pictures with the program Tesseract, which isn't installed on this computer. "
            "On Debian, run: sudo apt install tesseract-ocr. Until then, type what the label says."
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Box:
    """A place in a picture, as shares of its width and height."""

    left: float
    top: float
    width: float
    height: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PictureLine:
    """A line of text. sure: how sure the reader is of its words, 0 to 1."""

    text: str
    box: Box
    sure: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Photograph:
    """A picture that was read.

    picture: upright and shrunk, as a data address of a JPEG of width by height pixels
    """

    picture: str
    width: int
    height: int
    lines: list[PictureLine]

    @property
    def text(self) -> str:
        """All lines, one below the other."""
        return "\n".join(x.text for x in self.lines)


def reads_pictures() -> bool:
    """Whether the reader is installed."""
    return shutil.which("tesseract") is not None


def photograph(data: bytes, name: str) -> Photograph:
    """Read a JPEG or PNG. Raises NoReader, UnreadableFile."""
    if not reads_pictures():
        raise NoReader("picture", name, "it isn't installed")
    if len(data) > MOST_BYTES:
        raise UnreadableFile(
            name, len(data), f"it is {len(data) / 1e6:.0f} MB, and {MOST_BYTES / 1e6:.0f} MB is the maximum"
        )
    bare, media = taken_in(data, name)
    if not media.startswith("image/"):
        raise UnreadableFile(name, media, "it isn't a JPEG or PNG picture")
    return _read(bare, name)


def _read(bare: bytes, name: str) -> Photograph:
    from PIL import Image, ImageOps  # slow to load, and wanted for pictures only

    whole = Image.open(io.BytesIO(bare)).convert("RGB")
    grey = ImageOps.grayscale(whole)
    tilt = _tilt(grey)
    if tilt:
        whole = whole.rotate(tilt, expand=True, fillcolor=_ground(whole))
        grey = ImageOps.grayscale(whole)
    clear = _sized(ImageOps.autocontrast(grey, cutoff=1), READ_PIXELS, grow=True)
    if _mean(clear) < DARK:
        clear = ImageOps.invert(clear)
    found = max((_lines(clear, layout, name) for layout in LAYOUTS), key=_worth)
    shown = _sized(whole, KEPT_PIXELS, grow=False)
    out = io.BytesIO()
    shown.save(out, "JPEG", quality=82)
    address = f"data:image/jpeg;base64,{base64.b64encode(out.getvalue()).decode()}"
    return Photograph(picture=address, width=shown.width, height=shown.height, lines=found)


def _worth(lines: list[PictureLine]) -> float:
    return sum(x.sure * len(x.text) for x in lines)


def _mean(grey: Image) -> float:
    from PIL import ImageStat

    return float(ImageStat.Stat(grey).median[0])


def _ground(picture: Image) -> tuple[int, int, int]:
    """The colour at the picture's edge, which a turned picture is filled up with."""
    r, g, b = picture.resize((9, 9)).getpixel((0, 0))  # type: ignore[misc]
    return int(r), int(g), int(b)


def _sized(picture: Image, longer: int, *, grow: bool) -> Image:
    by = longer / max(picture.size)
    if by >= 1 and not grow:
        return picture
    return picture.resize((max(1, round(picture.width * by)), max(1, round(picture.height * by))))


def _tilt(grey: Image) -> int:
    """Degrees to turn a picture so that its lines of text lie level: where rows differ most from their neighbours."""
    import numpy as np
    from PIL import ImageOps

    small = ImageOps.autocontrast(_sized(grey, 500, grow=False))
    ground = int(_mean(small))

    def level(degrees: int) -> float:
        rows = np.asarray(small.rotate(degrees, fillcolor=ground), dtype=float).mean(axis=1)
        return float(np.square(np.diff(rows)).sum())

    best = max(TILTS, key=lambda d: (level(d), -abs(d)))
    return best if level(best) > 1.15 * level(0) else 0


def _lines(picture: Image, layout: str, name: str) -> list[PictureLine]:
    import pytesseract

    try:
        words: dict[str, list[Any]] = pytesseract.image_to_data(
            picture, config=layout, output_type=pytesseract.Output.DICT, timeout=TIMEOUT_S
        )
    except RuntimeError as late:  # what the library raises when its time is over
        raise UnreadableFile(name, None, "reading it takes too long; photograph the label alone") from late
    except pytesseract.TesseractError as wrong:
        raise UnreadableFile(name, None, "the reader of pictures can't read it") from wrong
    at: dict[tuple[int, int, int], list[int]] = {}
    for i, text in enumerate(words["text"]):
        if str(text).strip() and float(words["conf"][i]) >= LEAST_SURE:
            at.setdefault((words["block_num"][i], words["par_num"][i], words["line_num"][i]), []).append(i)
    return [_line(words, each, picture) for each in at.values()]


def _line(words: dict[str, list[Any]], each: list[int], picture: Image) -> PictureLine:
    left = min(words["left"][i] for i in each)
    top = min(words["top"][i] for i in each)
    right = max(words["left"][i] + words["width"][i] for i in each)
    bottom = max(words["top"][i] + words["height"][i] for i in each)
    w, h = picture.size
    return PictureLine(
        text=RUN_TOGETHER.sub(r"\1 ", " ".join(str(words["text"][i]).strip() for i in each)),
        box=Box(left=left / w, top=top / h, width=(right - left) / w, height=(bottom - top) / h),
        sure=sum(float(words["conf"][i]) for i in each) / len(each) / 100,
    )
