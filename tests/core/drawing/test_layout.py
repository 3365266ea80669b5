"""The joining drawing: nothing on anything, no line through a box, none across another; over every demo plan and
generated ones."""

from __future__ import annotations

import re

import pytest

from imbuto.core.diagram.diagram_layout import Drawing, PlacedBox, layout
from imbuto.core.diagram.joining_diagram import Box, Diagram, Line

StripPiece = tuple[float, float, float, float]


def pieces(path: str) -> list[StripPiece]:
    """The straight pieces of a path of M, H and V: left, top, right, bottom."""
    x = y = 0.0
    found: list[StripPiece] = []
    for what, rest in re.findall(r"([MHV])([-\d. ]+)", path):
        values = [float(v) for v in rest.split()]
        u, v = (values[0], values[1]) if what == "M" else (values[0], y) if what == "H" else (x, values[0])
        if what != "M":
            found.append((min(x, u), min(y, v), max(x, u), max(y, v)))
        x, y = u, v
    return found


def overlaps(made: Drawing) -> list[tuple[str, str]]:
    """Any two boxes of which one lies on the other."""
    return [
        (a.box.id, b.box.id)
        for i, a in enumerate(made.boxes)
        for b in made.boxes[i + 1 :]
        if a.x < b.right and b.x < a.right and a.y < b.bottom and b.y < a.bottom
    ]


def sound(made: Drawing) -> None:
    """Nothing overlaps, sticks out or is drawn aslant; every line begins and ends at an edge of its boxes."""
    assert overlaps(made) == []
    by = {p.box.id: p for p in made.boxes}
    for p in made.boxes:
        assert 0 <= p.x < p.right <= made.width
        assert 0 <= p.y < p.bottom <= made.height + 1
    for d in made.lines:
        assert re.fullmatch(r"M[-\d.]+ [-\d.]+([HV][-\d.]+)+", d.path)
        (x, y), (u, v) = ends(d.path)
        assert on_edge(by[d.line.start], x, y), d
        assert on_edge(by[d.line.end], u, v), d


def ends(path: str) -> tuple[tuple[float, float], tuple[float, float]]:
    start = re.match(r"M([-\d.]+) ([-\d.]+)", path)
    assert start
    x, y = float(start[1]), float(start[2])
    first = (x, y)
    for what, value in re.findall(r"([HV])([-\d.]+)", path):
        x, y = (float(value), y) if what == "H" else (x, float(value))
    return first, (x, y)


def on_edge(p: PlacedBox, x: float, y: float) -> bool:
    beside = x in (p.x, p.right) and p.y <= y <= p.bottom
    return beside or (y in (p.y, p.bottom) and p.x <= x <= p.right)


def box(ident: str, kind: str, lane: str, rank: int, band: int = 0, lines: int = 1) -> Box:
    return Box(ident, kind, ident, ("fact",) * lines, lane, rank, band)  # type: ignore[arg-type]


def switched(n: int) -> Diagram:
    """A switch with n circuits."""
    rows = [box(f"r{i}", "circuit", "right", i) for i in range(n)]
    return Diagram(
        (
            box("grid", "grid", "top", 0),
            box("main", "main", "top", 1),
            box("panel", "panel", "top", 2, lines=2),
            box("device", "device", "middle", 2, lines=3),
            box("inlet", "inlet", "bottom", 1, lines=2),
            box("module", "module", "bottom", -1),
            box("source", "source", "bottom", 0),
            *rows,
        ),
        (
            Line("grid", "main"),
            Line("main", "panel"),
            Line("panel", "device"),
            Line("module", "source"),
            Line("source", "inlet"),
            Line("inlet", "device"),
            Line("source", "device", data=True),
            *(Line("device", r.id) for r in rows),
            Line("grid", "nowhere"),
        ),
        (),
    )


def corded(n: int) -> Diagram:
    """Cords to n appliances."""
    rows = [box(f"r{i}", "appliance", "right", i) for i in range(n)]
    return Diagram(
        (
            box("grid", "grid", "top", 0),
            box("main", "main", "top", 1),
            box("panel", "panel", "top", 2),
            box("charger", "charger", "middle", 0),
            box("source", "source", "bottom", 0),
            *rows,
        ),
        (
            Line("main", "panel"),
            Line("panel", "charger"),
            Line("charger", "source"),
            *(Line(a, r.id) for r in rows for a in ("panel", "source")),
        ),
        (),
    )


def several(n: int) -> Diagram:
    """Two devices one behind the other and a third at a sub-panel, with n circuits each."""
    boxes, lines = [box("grid", "grid", "way", 0), box("panel:shed", "panel", "way", 2)], [Line("grid", "panel:shed")]
    for b in range(3):
        boxes += [
            box(f"device:{b}", "device", "gear", 0, b),
            box(f"source:{b}", "source", "store", 0, b),
            box(f"array:{b}", "array", "fill", 0, b),
            box(f"bank:{b}", "module", "fill", 1, b),
        ]
        boxes += [box(f"c{b}-{i}", "circuit", "fed", i, b) for i in range(n)]
        lines += [
            Line(f"source:{b}", f"device:{b}"),
            Line(f"array:{b}", f"source:{b}"),
            Line(f"bank:{b}", f"source:{b}"),
        ]
        lines += [Line(f"device:{b}", f"c{b}-{i}") for i in range(n)]
    lines += [Line("grid", "device:0"), Line("device:0", "device:1"), Line("panel:shed", "device:2")]
    return Diagram(tuple(boxes), tuple(lines), ())


@pytest.mark.parametrize("n", [0, 1, 4, 10, 16, 24])
def test_any_number_of_things_fed_has_its_place(n):
    for diagram in (switched(n), corded(n), several(n)):
        made = layout(diagram)
        sound(made)
        assert len(made.lines) == sum(x.end != "nowhere" for x in diagram.lines)
    assert layout(switched(20)).height == 24 + 20 * 42
    assert layout(switched(4)).height == 440


@pytest.mark.parametrize("n", [1, 3, 8, 14])
def test_in_bands_no_line_goes_through_a_box_or_across_another(n):
    made = layout(several(n))
    runs = [(d.line, p) for d in made.lines for p in pieces(d.path)]
    for line, (x0, y0, x1, y1) in runs:
        for p in made.boxes:
            if p.box.id not in (line.start, line.end):
                assert not (x0 < p.right - 1 and x1 > p.x + 1 and y0 < p.bottom - 1 and y1 > p.y + 1), (line, p.box.id)
        for other, (u0, v0, u1, v1) in runs:
            if {line.start, line.end}.isdisjoint({other.start, other.end}):
                cut = (x0 == x1) != (u0 == u1) and x0 <= u1 and x1 >= u0 and y0 <= v1 and y1 >= v0
                assert not cut, (line, other)


def test_an_overlap_is_found_where_there_is_one():
    made = layout(Diagram((box("a", "grid", "top", 0), box("b", "main", "top", 0)), (), ()))
    assert overlaps(made) == [("a", "b")]
