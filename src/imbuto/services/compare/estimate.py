"""The answer of ``imbuto estimate``: figures under stable names, and the same as text."""

from __future__ import annotations

from typing import Any

from imbuto.core.advice.answer import Answer, judge
from imbuto.core.advice.gives_out import MovePromise
from imbuto.core.advice.headline import headline
from imbuto.core.basics.measures import speak_in
from imbuto.core.basics.units import hours_text, kwh_text, number_text
from imbuto.core.everyday.ordinary_start import as_left
from imbuto.core.plan.limit import Limit
from imbuto.core.run.hand_check import hand_check, waterfall
from imbuto.formats import planfile
from imbuto.services.desk.verdict_views import limit_view, verdict_view


def estimate(data: bytes, name: str, plan: str | None, outage: str | None) -> Answer:
    """Judge one plan of a plan file in one of its outages; the first of each where none is named."""
    bundle = planfile.read(data, name)
    speak_in(bundle.home.site.in_measures)
    chosen = planfile.find(bundle.plans, plan, "plan")
    case = planfile.find(bundle.outages, outage, "outage")
    begun = as_left(bundle.home, chosen, case, bundle.catalogue, bundle.outages)
    return judge(bundle.home, chosen, begun, bundle.catalogue)


def as_json(v: Answer) -> dict[str, Any]:
    """The figures, unrounded. hours: null when still on at the end of the simulation. See docs/guide/estimate.md."""
    view = verdict_view(v)
    return {
        "home": v.home.name,
        "plan": view.plan,
        "outage": view.outage,
        "state": view.state,
        "hours": view.hours,
        "low_hours": view.low_hours,
        "high_hours": view.high_hours,
        "simulated_hours": view.simulated_h,
        "goal_hours": view.goal_hours,
        "chance": view.chance,
        "paper_hours": view.paper_hours,
        "average_w": view.average_w,
        "usable_wh": view.usable_wh,
        "served_wh": view.served_wh,
        "needs_wh": view.needs_wh,
        "fits": view.fits,
        "limits": [_plain(limit_view(x)) for x in v.limits],
        "neck": {"id": view.neck.id, "title": view.neck.title, "sentence": view.neck.sentence} if view.neck else None,
        "widenings": [
            {"move": m.label, "hours_gained": m.hours_gained, "never_dark": m.never_dark}
            for m in view.moves
            if m.kind == "widening"
        ],
        "fixes": [
            {"move": m.label, "clears": m.clears, "after": m.after, "unit": m.unit}
            for m in view.moves
            if m.kind == "fix"
        ],
    }


def _plain(view: Any) -> dict[str, Any]:
    return {name: getattr(view, name) for name in view.__slots__}


def as_text(v: Answer) -> str:
    """The answer for a person at a terminal."""
    view = verdict_view(v)
    lines = [f"{v.home.name} · {view.plan_name} · {view.outage_name}", ""]
    if v.run is None or v.band is None or v.neck is None:
        return "\n".join([*lines, _no_run(v)])
    said = v.neck.sentence if v.neck.title in v.neck.sentence else f"{v.neck.title}. {v.neck.sentence}"
    lines += [_headline(v), f"What gives out first: {said}", ""]
    paper = hand_check(v.run)
    lines += [
        f"By hand: {paper.formula}",
        f"  = {hours_text(paper.hours) if paper.hours else 'no load'}. {paper.why}",
    ]
    lines += ["", "From stored to delivered:"]
    lines += [f"  {kwh_text(d.wh):>10}  {d.name}" for d in waterfall(v.run)]
    lines += ["", "Limits:"]
    lines += [f"  {_mark(x)}  {x.sentence}" for x in v.limits]
    if v.widenings:
        lines += ["", "To make it last longer:"]
        lines += [f"  +{hours_text(p.hours_gained)}  {p.move.label}{_price(p.price)}" for p in v.widenings]
    if v.fixes:
        lines += ["", "To fix it:"]
        lines += [f"  {_mends(p)}  {p.move.label}" for p in v.fixes[:8]]
    return "\n".join([*lines, "", view.fit_note])


def _mends(p: MovePromise) -> str:
    if p.clears:
        return "fixes it"
    return "fixes this limit" if p.after is None else f"to {number_text(p.after)} {p.unit}"


def _price(price: Any) -> str:
    return f", {number_text(float(price))}" if price else ""


def _no_run(v: Answer) -> str:
    if v.state == "no_loads":
        return "No loads yet: add one load to see hours."
    if v.state == "nothing_chosen":
        return "This plan powers nothing yet. Choose a circuit or a load."
    return f"No station yet. {hours_text(v.outage.goal_hours)} needs {kwh_text(v.needs_wh or 0)}."


def _headline(v: Answer) -> str:
    return f"{headline(v).sentence}."


def _mark(limit: Limit) -> str:
    """How a limit stands, in four letters."""
    return "ok  " if limit.ok else {"caution": "care", "unknown": "ask ", "may": "may "}.get(limit.severity, "PAST")
