"""How a plan is joined, with every box and line in its place."""

from __future__ import annotations

from dataclasses import dataclass

from imbuto.core.diagram.diagram_layout import Drawing, layout
from imbuto.core.diagram.joining_diagram import Diagram
from imbuto.services.desk.planner import Planner


@dataclass(frozen=True, slots=True, kw_only=True)
class JoiningView:
    """A joining: what it consists of, and where that stands in the drawing."""

    diagram: Diagram
    layout: Drawing


def joining_view(planner: Planner, home_id: str, plan: str, source: str | None = None) -> JoiningView:
    """How a plan is joined, all of it or at the station named. Raises NotFound."""
    made = planner.diagram(home_id, plan, source)
    return JoiningView(diagram=made, layout=layout(made))
