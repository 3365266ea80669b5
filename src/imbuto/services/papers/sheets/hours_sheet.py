"""The sheet of hours: how long the power lasts, with its curve and the sum by hand."""

from __future__ import annotations

from imbuto.core.basics.units import clock_text, hours_text, kwh_text, number_text
from imbuto.formats.printing.drawing import curve_svg
from imbuto.formats.printing.paper import Paragraph, Picture, Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest, lacks_station
from imbuto.services.papers.sheets.run_card import through_the_day
from imbuto.services.source.by_hand_views import by_hand_view

PART_WORDS = {"battery": "Storage", "solar": "Panels", "inverter": "Output"}
BAND = "Thick line: the middle run. Gray: 8 of 10 runs. Dotted: stop level. Vertical dashes: the goal."


def hours(a: SheetRequest) -> Sheet:
    """How long it lasts, and why."""
    v = a.planner.verdict(a.home_id, a.plan.id, a.outage_id)
    zone = a.documents.home.site.time_zone
    parts = [SheetPart("In one line", (Paragraph(v.headline.sentence, strong=True),))]
    for key in list(a.plan.sources) or [""]:
        run = a.planner.run(a.home_id, a.plan.id, a.outage_id, key or None)
        if run is None:
            continue
        name = next((x.station.name for x in a.parts if x.source.id == key), "")
        dark = f"Runs out about {clock_text(until)}." if (until := v.until) and len(a.plan.sources) < 2 else ""
        svg = curve_svg(run.hour, run.charge, run.low, run.high, run.floor, run.start, zone, v.goal_hours)
        parts.append(
            SheetPart(f"{name}: charge over the outage", (Picture(svg, BAND), *([Paragraph(dark)] if dark else [])))
        )
        rows = tuple((d.name, kwh_text(d.wh)) for d in run.waterfall)
        parts.append(SheetPart("Where the energy goes", (TableRows(("", "energy"), rows),)))
        if run.paper_hours:
            factors = tuple((f.name, f.shown, f.evidence) for f in run.factors)
            by_hand = Paragraph(f"{run.formula} = {hours_text(run.paper_hours)}. {run.why}")
            parts.append(SheetPart("Hand check", (TableRows(("factor", "used", "how we know"), factors), by_hand)))
    parts += _own_numbers(a)
    parts += through_the_day(a)
    broken = tuple(
        (x.title, "" if x.kind == "yes_no" else f"{number_text(x.used)} of {number_text(x.limit)} {x.unit}", x.sentence)
        for x in v.limits
        if not x.ok
    )
    if broken:
        parts.append(SheetPart("Limits that are broken or near", (TableRows(("limit", "is", "why"), broken),)))
    outage = a.documents.outages[a.outage_id]
    return a.sheet("hours", "Hours", f"{a.plan.name} in “{outage.name}”", *parts)


def _own_numbers(a: SheetRequest) -> list[SheetPart]:
    """The sums with one's own numbers, where somebody entered some."""
    if a.plan.own_numbers is None:
        return []
    view = by_hand_view(a.planner, a.home_id, a.plan.id, a.outage_id)
    rows = tuple((PART_WORDS[s.part], s.formula or s.lacks, s.limit) for s in view.sums)
    parts = [SheetPart("By hand, with your own numbers", (TableRows(("", "sum", "beyond this plan"), rows),))]
    if view.night is not None:
        each = tuple(
            (x.name, f"{number_text(x.run_w)} W", kwh_text(x.wh), "yes" if x.powered else "no")
            for x in view.night.lines
        )
        says = [Paragraph(view.night_says), *(Paragraph(s) for s in view.night.says)]
        parts.append(
            SheetPart("Night list", (TableRows(("load", "while it runs", "in the night", "powered"), each), *says))
        )
    return parts


KIND = SheetKind(
    "hours",
    "Hours",
    "How long it lasts, with the curve and the hand check",
    "the person who decides",
    hours,
    lacks_station,
)
