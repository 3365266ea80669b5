"""The answer on paper: the hours with their curve and their sum by hand, what is chosen and what is left off, plans
beside each other."""

from __future__ import annotations

from imbuto.core.basics.measures import mass_text
from imbuto.core.basics.units import clock_text, hours_text, kwh_text, number_text
from imbuto.formats.printing.drawing import curve_svg
from imbuto.formats.printing.paper import Picture, Sheet, SheetPart, TableRows, Words
from imbuto.services.compare.plans_by_outage import Cell, PlanRow, compare
from imbuto.services.papers.sheet_registry import Asked, Kind, place_words

BAND = "Thick: the middle run. Grey: 8 in 10 runs lie in it. Dotted: where it stops. Dashed upright: the goal."
STANCES = {"keep_on": "keep on", "turns": "take turns"}


def hours(a: Asked) -> Sheet:
    """How long it lasts, and why."""
    v = a.planner.verdict(a.home_id, a.plan.id, a.outage_id)
    parts = [SheetPart("In one line", (Words(v.headline.sentence, strong=True),))]
    for key in list(a.plan.sources) or [""]:
        run = a.planner.run(a.home_id, a.plan.id, a.outage_id, key or None)
        if run is None:
            continue
        name = next((x.station.name for x in a.parts if x.source.id == key), "")
        dark = f"Dark about {clock_text(until)}." if (until := v.until) and len(a.plan.sources) < 2 else ""
        svg = curve_svg(run.hour, run.charge, run.low, run.high, run.floor, run.start, v.goal_hours)
        parts.append(
            SheetPart(f"{name}: charge over the outage", (Picture(svg, BAND), *([Words(dark)] if dark else [])))
        )
        rows = tuple((d.name, kwh_text(d.wh)) for d in run.waterfall)
        parts.append(SheetPart("Where it goes", (TableRows(("", "energy"), rows),)))
        if run.paper_hours:
            factors = tuple((f.name, f.shown, f.evidence) for f in run.factors)
            by_hand = Words(f"{run.formula} = {hours_text(run.paper_hours)}. {run.why}")
            parts.append(
                SheetPart("The same by hand", (TableRows(("factor", "taken as", "known by"), factors), by_hand))
            )
    broken = tuple(
        (x.title, "" if x.kind == "yes_no" else f"{number_text(x.used)} of {number_text(x.limit)} {x.unit}", x.sentence)
        for x in v.limits
        if not x.ok
    )
    if broken:
        parts.append(SheetPart("What does not hold, or is to be minded", (TableRows(("limit", "is", "why"), broken),)))
    outage = a.documents.outages[a.outage_id]
    return a.sheet("hours", "Hours", f"{a.plan.name} in “{outage.name}”", *parts)


def chosen(a: Asked) -> Sheet:
    """What is fed, and what is left off with its reason."""
    home, v = a.documents.home, a.planner.verdict(a.home_id, a.plan.id, a.outage_id)
    rows, fed = [], set()
    for x in a.each:
        for feed in sorted(x.plan.feeds.values(), key=lambda f: f.place):
            fed.add(feed.circuit)
            mine = [f for f in x.fed if f.feed.id == feed.id]
            running = sum(f.load.count * f.load.run_w for f in mine)
            start = max((f.load.run_va + f.load.start_extra_va for f in mine if f.load.start_extra_va), default=0.0)
            rows.append(
                (
                    place_words(x, feed),
                    x.target_names[feed.id],
                    ", ".join(f.load.name for f in mine),
                    STANCES[feed.stance],
                    f"{number_text(running)} W",
                    f"{number_text(start)} VA" if start else "",
                )
            )
    left = tuple(
        (
            c.name,
            ", ".join(x.name for x in home.loads_on(c.id)),
            a.plan.reasons.get(c.id) or (f"opened by: {a.plan.opened[c.id]}" if a.plan.opened.get(c.id) else ""),
        )
        for c in home.circuits.values()
        if c.id not in fed
    )
    return a.sheet(
        "chosen",
        "What is chosen",
        v.headline.sentence,
        SheetPart(
            "Fed",
            (TableRows(("place", "what", "with", "stance", "all running", "start"), tuple(rows)),)
            if rows
            else (Words("Nothing yet."),),
        ),
        SheetPart("Left off: dark in an outage", (TableRows(("circuit", "with", "why"), left),) if left else ()),
    )


def beside(a: Asked) -> Sheet:
    """Every plan of the home over every outage."""
    view = compare(a.planner, a.home_id, a.plan.id)
    head = ("plan", "source", *(f"{o.name}, goal {hours_text(o.goal_h)}" for o in view.outages))
    rows = tuple((r.name, r.source, *(_cell(c) for c in r.cells)) for r in view.rows)
    cost = tuple(
        (
            r.name,
            kwh_text(r.stored_wh),
            _price(r),
            mass_text(r.heaviest_kg) if r.heaviest_kg else "",
            "; ".join(r.hands),
        )
        for r in view.rows
    )
    return a.sheet(
        "compare",
        "Plans beside each other",
        "Hours of each plan in each outage",
        SheetPart("How long", (TableRows(head, rows),)),
        SheetPart("What it takes", (TableRows(("plan", "stored", "to buy", "heaviest", "by hand"), cost),)),
        wide=True,
    )


def _cell(c: Cell) -> str:
    return c.headline.short


def _price(r: PlanRow) -> str:
    """Say what is to be bought, and what of it has no price."""
    said = f"{r.price:,.0f} {r.currency}" if r.price or not r.unpriced else ""
    missing = f"no price entered for {', '.join(r.unpriced)}" if r.unpriced else ""
    return "; ".join(x for x in (said, missing) if x)


def _no_station(a: Asked) -> list[str]:
    return [] if any(x.fed for x in a.parts) else ["a station, and something on it"]


def _no_reason(a: Asked) -> list[str]:
    fed = {f.circuit for f in a.plan.feeds.values()}
    left = [c for c in a.documents.home.circuits.values() if c.id not in fed and c.id not in a.plan.reasons]
    return [f"why {c.name} is left off" for c in left][:4] + (["…"] if len(left) > 4 else [])


KINDS = (
    Kind(
        "hours",
        "Hours",
        "How long it lasts, with its curve and its sum by hand",
        "whoever decides",
        "",
        hours,
        _no_station,
    ),
    Kind(
        "chosen",
        "What is chosen",
        "What is fed, and what is left off with its reason",
        "the family",
        "",
        chosen,
        _no_reason,
    ),
    Kind(
        "compare",
        "Plans beside each other",
        "Every plan over every outage",
        "whoever decides",
        "prices",
        beside,
        lambda _: [],
    ),
)
