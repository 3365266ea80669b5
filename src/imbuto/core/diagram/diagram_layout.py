"""Where the boxes of a joining diagram stand, and how the lines run between them; for the screen and for paper alike.

One device: the grid's way on top, the source's below, the device between, what is fed on the right. Several: a band
for each, the grid coming down the left side. Lines have right angles only. Lengths are in units of the drawing, y
downwards."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from imbuto.core.diagram.joining_diagram import Box, Diagram, Lane, Line

Anchor = Literal["start", "middle", "end"]
WIDTH, BAND_WIDTH = 1100.0, 1426.0
ROW, LEFT, COLUMN, BOX_W, LEFT_STEP = 42.0, 18.0, 190.0, 158.0, 76.0
RIGHT_X, RIGHT_W, DEVICE_X, DEVICE_W = 842.0, 240.0, 430.0, 258.0
SOURCE_BUS, GRID_BUS = 718.0, 746.0
BOTTOM_X = {-1: LEFT, 0: 270.0, 1: 534.0}  # the bottom lane's boxes: modules, station, inlet
BANDS: dict[str, tuple[float, float]] = {
    "way": (14, 158),
    "fill": (190, 164),
    "store": (396, 172),
    "gear": (792, 274),
    "fed": (1180, 232),
}
BELOW = {"fill": 42.0, "store": 42.0, "gear": 0.0, "fed": 0.0}  # the grid's line into a device runs above its store
BAND_GAP, STACK, MARGIN = 30.0, 12.0, 16.0


@dataclass(frozen=True, slots=True)
class PlacedBox:
    """A box with its place: left, top, width, height."""

    box: Box
    x: float
    y: float
    w: float
    h: float

    @property
    def right(self) -> float:
        """Its right edge."""
        return self.x + self.w

    @property
    def bottom(self) -> float:
        """Its lower edge."""
        return self.y + self.h

    @property
    def middle(self) -> tuple[float, float]:
        """Its centre."""
        return self.x + self.w / 2, self.y + self.h / 2


@dataclass(frozen=True, slots=True)
class Tag:
    """Where the label of a line stands."""

    x: float
    y: float
    anchor: Anchor


@dataclass(frozen=True, slots=True)
class RoutedLine:
    """A line with its path of M, H and V; label: None where it has no room for one."""

    line: Line
    path: str
    label: Tag | None


@dataclass(frozen=True, slots=True)
class Drawing:
    """A whole drawing."""

    width: float
    height: float
    boxes: tuple[PlacedBox, ...]
    lines: tuple[RoutedLine, ...]


def layout(diagram: Diagram) -> Drawing:
    """Boxes in their places; a line to a box that is not there is left out."""
    if any(b.lane in BANDS for b in diagram.boxes):
        placed, height = _bands(diagram)
        width, draw = BAND_WIDTH, _band_line
    else:
        placed, height = _plain(diagram)
        width, draw = WIDTH, _plain_line
    by = {p.box.id: p for p in placed}
    lines = tuple(draw(x, by[x.start], by[x.end]) for x in diagram.lines if x.start in by and x.end in by)
    return Drawing(width, height, tuple(placed), lines)


LEAST = {"gear": 92.0, "store": 52.0}  # so high, that the lines from a store meet its device, and leave it


def _height(box: Box) -> float:
    return 34.0 if box.lane in ("right", "fed") else max(28.0 + 15 * len(box.lines), LEAST.get(box.lane, 0.0))


def _plain(diagram: Diagram) -> tuple[list[PlacedBox], float]:
    rows, lefts = (sum(b.lane == lane for b in diagram.boxes) for lane in ("right", "left"))
    height = max(440.0, 24 + rows * ROW, 190 + LEFT_STEP * lefts)
    bottom = height - 92

    def at(box: Box) -> PlacedBox:
        h = _height(box)
        middle = round((height - h) / 2)
        if box.lane == "right":
            return PlacedBox(box, RIGHT_X, 12 + box.rank * ROW, RIGHT_W, h)
        if box.kind == "device":
            return PlacedBox(box, DEVICE_X, middle, DEVICE_W, h)
        if box.kind == "charger":
            return PlacedBox(box, DEVICE_X + 30, middle, 180, h)
        if box.lane == "left":
            return PlacedBox(box, LEFT, bottom - LEFT_STEP * (box.rank + 1), 184, max(h, 50))
        if box.lane == "bottom":
            return PlacedBox(box, BOTTOM_X.get(box.rank, LEFT), bottom, 164, max(h, 58))
        return PlacedBox(box, LEFT + COLUMN * box.rank, MARGIN, BOX_W + (30 if box.kind == "panel" else 0), h)

    return [at(box) for box in diagram.boxes], height


def _plain_line(line: Line, a: PlacedBox, b: PlacedBox) -> RoutedLine:
    (ax, ay), (bx, by) = a.middle, b.middle
    if b.box.lane == "right":
        return _to_the_right(line, a, b)
    if a.box.lane == "left":
        return RoutedLine(line, f"M{a.right:g} {ay:g}H{b.x + 42 + 14 * a.box.rank:g}V{b.y:g}", None)
    if line.data:
        x = a.right - 24
        return RoutedLine(line, f"M{x:g} {a.y:g}V{by + 8:g}H{b.x:g}", Tag(x + 6, a.y - 10, "start"))
    if a.box.lane == b.box.lane:
        label = Tag((a.right + b.x) / 2, ay - 7, "middle") if line.label else None
        return RoutedLine(line, f"M{a.right:g} {ay:g}H{b.x:g}", label)
    if a.box.kind == "main":
        return RoutedLine(
            line, f"M{ax:g} {a.bottom:g}V{by - 8:g}H{b.x:g}", Tag(ax + 6, (a.bottom + by) / 2 + 4, "start")
        )
    if a.box.kind == "panel":
        return RoutedLine(line, f"M{ax + 40:g} {a.bottom:g}V{b.y:g}", Tag(ax + 46, (a.bottom + b.y) / 2 + 4, "start"))
    if a.box.kind == "charger":
        y = b.y - 26
        return RoutedLine(
            line, f"M{ax:g} {a.bottom:g}V{y:g}H{bx:g}V{b.y:g}", Tag(ax + 6, (a.bottom + y) / 2 + 4, "start")
        )
    if a.box.kind == "inlet":
        return RoutedLine(line, f"M{ax:g} {a.y:g}V{b.bottom:g}", Tag(ax + 6, (a.y + b.bottom) / 2 + 4, "start"))
    return RoutedLine(line, f"M{ax:g} {a.y:g}V{by + 24:g}H{b.x:g}", Tag(ax - 6, (a.y + by) / 2 + 30, "end"))


def _to_the_right(line: Line, a: PlacedBox, b: PlacedBox) -> RoutedLine:
    """To what is fed; an appliance on a cord has the grid's line above the station's."""
    cords, grid = b.box.kind == "appliance", a.box.kind == "panel"
    bus = GRID_BUS if grid else SOURCE_BUS
    y = b.middle[1] + ((-7 if grid else 7) if cords else 0)
    label = None if cords and grid else Tag(RIGHT_X - 8, y - 6, "end")
    return RoutedLine(line, f"M{a.right:g} {a.middle[1]:g}H{bus:g}V{y:g}H{b.x:g}", label)


def _bands(diagram: Diagram) -> tuple[list[PlacedBox], float]:
    boxes = diagram.boxes
    order = sorted({b.band for b in boxes if b.lane != "way"})
    placed: list[PlacedBox] = []
    tops: dict[int, float] = {}
    y = MARGIN
    for band in order:
        tops[band], deepest = y, 60.0
        for lane, below in BELOW.items():
            at = y + below
            for box in _ranked(boxes, lane, band):
                placed.append(PlacedBox(box, *_span(lane, at, _height(box))))
                at += _height(box) + STACK
            deepest = max(deepest, at - y)
        y += deepest + BAND_GAP
    at = MARGIN
    for box in _ranked(boxes, "way", None):
        at = max(at, _first_use(diagram, box.id, tops))
        placed.append(PlacedBox(box, *_span("way", at, _height(box))))
        at += _height(box) + 34
    return placed, max(y, at)


def _ranked(boxes: tuple[Box, ...], lane: Lane | str, band: int | None) -> list[Box]:
    return sorted((b for b in boxes if b.lane == lane and band in (None, b.band)), key=lambda b: b.rank)


def _span(lane: str, y: float, h: float) -> tuple[float, float, float, float]:
    x, w = BANDS[lane]
    return x, y, w, h


def _first_use(diagram: Diagram, ident: str, tops: dict[int, float]) -> float:
    """The top of the first band that has a device on this box of the grid's way."""
    gear = next((x.end for x in diagram.lines if x.start == ident and x.end.startswith("device:")), None)
    band = next((b.band for b in diagram.boxes if b.id == gear), None)
    return MARGIN if band is None else tops.get(band, MARGIN)


def _band_line(line: Line, a: PlacedBox, b: PlacedBox) -> RoutedLine:
    lanes = (a.box.lane, b.box.lane)
    if lanes == ("way", "way"):
        return RoutedLine(line, f"M{a.x + 24:g} {a.bottom:g}V{b.y:g}", None)
    if lanes == ("way", "gear"):
        y = b.y + 18
        # A line into a device lower down leaves the box at its foot, beside the way itself.
        beside = a.y <= y <= a.bottom
        path = f"M{a.right:g} {y:g}H{b.x:g}" if beside else f"M{a.right - 20:g} {a.bottom:g}V{y:g}H{b.x:g}"
        return RoutedLine(line, path, Tag(b.x - 8, y - 5, "end"))
    if lanes == ("gear", "gear"):
        x = a.x + 40
        return RoutedLine(line, f"M{x:g} {a.bottom:g}V{b.y:g}", Tag(x + 8, (a.bottom + b.y) / 2 + 4, "start"))
    if lanes == ("store", "gear"):
        y = max(a.y, b.y) + (44 if line.data else 24)
        label = None if line.data else Tag((a.right + b.x) / 2, y - 5, "middle")
        return RoutedLine(line, f"M{a.right:g} {y:g}H{b.x:g}", label)
    if lanes == ("fill", "store"):
        y = a.y + a.h / 2
        enter = min(max(y, b.y + 10), b.bottom - 8 + 3 * a.box.rank)
        return RoutedLine(line, _by_bus(a.right, y, b.x - 22, enter, b.x), None)
    y = b.y + b.h / 2
    start = min(max(y, a.y + 12), a.bottom - 12)
    return RoutedLine(line, _by_bus(a.right, start, b.x - 96, y, b.x), Tag(b.x - 8, y - 5, "end"))


def _by_bus(x: float, y: float, bus: float, to_y: float, to_x: float) -> str:
    return f"M{x:g} {y:g}H{to_x:g}" if y == to_y else f"M{x:g} {y:g}H{bus:g}V{to_y:g}H{to_x:g}"
