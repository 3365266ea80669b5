"""Made-up labels and displays as photographs: tilted, blurred, of low contrast, light on dark."""

from __future__ import annotations

import io
import random
from dataclasses import dataclass

from PIL import Image, ImageDraw, ImageFilter, ImageFont

LOADS = ("Refrigerator", "Chest freezer", "Well pump", "Furnace fan", "Radio", "Lamp", "Kettle", "Pump")


@dataclass(frozen=True)
class Label:
    """A picture, and what is written in it: (value, unit) with the unit in lower case, without its k."""

    picture: bytes
    what: str
    written: frozenset[tuple[float, str]]


def picture_of(lines: list[str], rng: random.Random, *, big: bool = False) -> bytes:
    size = rng.randint(56, 80) if big else rng.randint(26, 44)
    dark = rng.random() < (0.7 if big else 0.2)
    ground, ink = (rng.randint(5, 40), rng.randint(190, 245)) if dark else (rng.randint(170, 250), rng.randint(5, 70))
    if rng.random() < 0.3:  # low contrast
        ink = ground + (60 if dark else -60)
    font = ImageFont.load_default(size)
    width = int(max(font.getlength(x) for x in lines)) + 120
    drawn = Image.new("L", (width, int(len(lines) * size * 1.6) + 120), ground)
    pen = ImageDraw.Draw(drawn)
    for i, line in enumerate(lines):
        pen.text((60, 60 + i * size * 1.6), line, font=font, fill=ink)
    drawn = drawn.rotate(
        rng.choice((0, 0, 3, -4, 7, -9)), expand=True, fillcolor=ground, resample=Image.Resampling.BICUBIC
    ).filter(ImageFilter.GaussianBlur(rng.uniform(0.3, 1.0)))
    out = io.BytesIO()
    drawn.convert("RGB").save(out, "JPEG", quality=rng.randint(60, 90))
    return out.getvalue()


def made_up(seed: int) -> Label:
    """A label of a load, or every third time the display of a station."""
    rng = random.Random(seed)
    if seed % 3 == 2:
        charge, come, gone = rng.randint(3, 100), rng.randint(20, 1500), rng.randint(20, 2800)
        lines = [f"{charge} %", f"INPUT {come} W", f"OUTPUT {gone} W"]
        written = {(charge, "%"), (come, "w"), (gone, "w")}
        return Label(picture_of(lines, rng, big=True), "gauge", frozenset(written))
    volts, amps = rng.choice((115, 120, 230)), rng.randint(5, 120) / 10
    watts = round(volts * amps)
    lines = [f"{rng.choice(LOADS)} {rng.choice('KLMN')}{rng.randint(10, 99)}", f"{volts} V 60 Hz {amps} A"]
    lines.append(f"Rated input {watts} W")
    written = {(volts, "v"), (amps, "a"), (watts, "w")}
    if rng.random() < 0.5:
        year = rng.randint(120, 900)
        lines.append(f"{year} kWh/yr")
        written.add((1000 * year, "wh/yr"))
    return Label(picture_of(lines, rng), "load", frozenset((float(v), u) for v, u in written))
