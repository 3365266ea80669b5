"""Drawings for paper, as SVG: black on white, told apart by dashes and not by colour, every word escaped."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from html import escape

from imbuto.core.basics.clock import later
from imbuto.core.basics.units import clock_text
from imbuto.core.diagram.diagram_layout import Drawing
from imbuto.core.diagram.joining_diagram import Line

FONT = 'font-family="Imbuto Text, DejaVu Sans, sans-serif"'
LIVE, GRID, IDLE, DATA = (
    'stroke-width="3"',
    'stroke-width="2" stroke-dasharray="10 4"',
    'stroke-width="0.9" stroke-dasharray="2 4"',
    'stroke-width="1.2" stroke-dasharray="1 5"',
)
KEY = "Thick: from the station in an outage. Dashed: from the grid. Dotted: a data cable."
W, H, LEFT, BOTTOM, TOP = 760.0, 250.0, 46.0, 30.0, 12.0


def joining_svg(drawing: Drawing) -> str:
    """The joining as it is in an outage and with the grid there, at once."""
    lines = "".join(
        f'<path d="{x.path}" fill="none" stroke="#000" {_dash(x.line)}/>'
        for x in sorted(drawing.lines, key=lambda x: "outage" in x.line.live)
    )
    boxes = "".join(
        f'<rect x="{p.x:g}" y="{p.y:g}" width="{p.w:g}" height="{p.h:g}" rx="6" fill="#fff" stroke="#000"'
        f' stroke-width="{2.4 if p.box.kind == "device" else 1.2}"/>'
        + _text(p.x + 9, p.y + (15 if p.h <= 34 else 19), p.box.title, p.w - 14, size=15, bold=True)
        + "".join(
            _text(p.x + 9, p.y + (28 if p.h <= 34 else 35) + 15 * k, t, p.w - 14, size=13)
            for k, t in enumerate(p.box.lines)
        )
        for p in drawing.boxes
    )
    labels = "".join(
        _text(x.label.x, x.label.y, x.line.label, 400, size=12.5, anchor=x.label.anchor, halo=True)
        for x in drawing.lines
        if x.label is not None and x.line.label
    )
    return _svg(drawing.width, drawing.height, "How everything is connected", lines + boxes + labels)


def curve_svg(
    hour: Sequence[float],
    charge: Sequence[float],
    low: Sequence[float],
    high: Sequence[float],
    floor: float,
    start: datetime,
    zone: str,
    goal_h: float,
) -> str:
    """Charge over time: the middle run, the band in which 8 in 10 runs lie, the floor, the goal.

    charge: 0 to 1
    start: local, in a time zone
    """
    if len(hour) < 2:
        return ""
    most = max(hour[-1], 1.0)

    def x(h: float) -> float:
        return LEFT + (W - LEFT - 14) * h / most

    def y(c: float) -> float:
        return TOP + (H - TOP - BOTTOM) * (1 - c)

    def run(points: Sequence[tuple[float, float]]) -> str:
        return " ".join(f"{x(h):.1f},{y(c):.1f}" for h, c in points)

    up, down = list(zip(hour, high, strict=True)), list(zip(hour, low, strict=True))
    made = [f'<polygon points="{run([*up, *reversed(down)])}" fill="#ddd" stroke="none"/>']
    for c in (0.0, 0.25, 0.5, 0.75, 1.0):
        made.append(f'<path d="M{LEFT} {y(c):.1f}H{W - 14}" stroke="#999" stroke-width="0.5"/>')
        made.append(_text(LEFT - 6, y(c) + 4, f"{100 * c:.0f}%", 60, size=11, anchor="end"))
    made.append(f'<path d="M{LEFT} {y(floor):.1f}H{W - 14}" stroke="#000" stroke-width="1.2" stroke-dasharray="2 3"/>')
    made.append(
        f'<polyline points="{run(list(zip(hour, charge, strict=True)))}" fill="none" stroke="#000" stroke-width="2.4"/>'
    )
    if goal_h <= most:
        made.append(
            f'<path d="M{x(goal_h):.1f} {TOP}V{y(0):.1f}" stroke="#000" stroke-width="1.2" stroke-dasharray="8 3"/>'
        )
        made.append(_text(x(goal_h) - 5, TOP + 11, "goal", 60, size=11, anchor="end"))
    every = next(e for e in (1, 2, 3, 6, 12, 24, 48, 96, 10_000) if most / e <= 10)
    first = (-(start.hour + start.minute / 60)) % every
    for i in range(int((most - first) / every) + 1 if first <= most else 0):
        h = first + i * every
        at = later(start, h, zone)
        made.append(f'<path d="M{x(h):.1f} {y(0):.1f}v4" stroke="#000" stroke-width="1"/>')
        made.append(_text(x(h), H - 12, clock_text(at), 70, size=10.5, anchor="middle"))
    return _svg(W, H, "Charge over the outage, with the band of 8 in 10 runs", "".join(made))


def _dash(line: Line) -> str:
    if line.data:
        return DATA
    return LIVE if "outage" in line.live else GRID if "grid" in line.live else IDLE


def _text(
    x: float,
    y: float,
    words: str,
    room: float,
    *,
    size: float,
    bold: bool = False,
    anchor: str = "start",
    halo: bool = False,
) -> str:
    """A line of words, drawn narrower where it has no room. halo: on white, over what runs behind it."""
    wide = 0.53 * size * len(words)
    if wide > room:
        size *= max(room / wide, 0.6)
    style = f'{FONT} font-size="{size:.4g}" text-anchor="{anchor}"{" font-weight=" + chr(34) + "700" + chr(34) if bold else ""}'
    over = f'<text x="{x:.4g}" y="{y:.4g}" {style} fill="#000">{escape(words)}</text>'
    if not halo:
        return over
    back = f'<text x="{x:.4g}" y="{y:.4g}" {style} fill="none" stroke="#fff" stroke-width="4">{escape(words)}</text>'
    return back + over


def _svg(width: float, height: float, alt: str, inner: str) -> str:
    return f'<svg viewBox="0 0 {width:g} {height:g}" role="img" aria-label="{escape(alt)}">{inner}</svg>'
