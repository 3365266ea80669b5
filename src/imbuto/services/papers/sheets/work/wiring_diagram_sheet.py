"""The wiring diagram, drawn from the plan."""

from __future__ import annotations

from imbuto.core.diagram.diagram_layout import layout
from imbuto.formats.printing.drawing import KEY, joining_svg
from imbuto.formats.printing.paper import Picture, Sheet, SheetPart
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest


def diagram(a: SheetRequest) -> Sheet:
    """How everything is connected, drawn from the plan."""
    return a.sheet(
        "diagram",
        "Connection diagram",
        "This shows the plan and isn't a wiring plan. Inside the panel, the electrician and your local code decide.",
        SheetPart("", (Picture(joining_svg(layout(a.diagram)), KEY),)),
        wide=True,
    )


KIND = SheetKind(
    "diagram",
    "Connection diagram",
    "How everything is connected, drawn from the plan",
    "the electrician, every visitor",
    diagram,
    lambda _: [],
)
