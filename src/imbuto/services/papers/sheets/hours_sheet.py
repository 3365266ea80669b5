"""The sheet of hours: how long the power lasts, with its curve and the sum by hand."""

from __future__ import annotations

from imbuto.core.basics.units import clock_text, hours_text, kwh_text, number_text
from imbuto.formats.printing.drawing import curve_svg
from imbuto.formats.printing.paper import Paragraph, Picture, Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest, lacks_station
from imbuto.services.papers.sheets.run_card import through_the_day

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


KIND = SheetKind(
    "hours",
    "Hours",
    "How long it lasts, with the curve and the hand check",
    "the person who decides",
    hours,
    lacks_station,
)
