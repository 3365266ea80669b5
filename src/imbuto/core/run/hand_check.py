"""The same answer by pocket arithmetic, and where the stored energy goes."""

from __future__ import annotations

from dataclasses import dataclass

from imbuto.core.basics.units import hours_text, kwh_text, number_text
from imbuto.core.equipment.conversion import dc_draw_w
from imbuto.core.run.run import Run


@dataclass(frozen=True, slots=True)
class Factor:
    """One factor of the hand check.

    value: as multiplied
    shown: as a person writes it
    """

    name: str
    value: float
    shown: str
    evidence: str = "fact"


@dataclass(frozen=True, slots=True)
class Drop:
    """One bar of the waterfall.

    wh: signed
    kind: stored, sun, engine, loss, held, kept (left over), or reaches
    """

    name: str
    wh: float
    kind: str


@dataclass(frozen=True, slots=True)
class Paper:
    """The hand check of a run: factors, formula with its values in, result, and why the run differs."""

    factors: list[Factor]
    formula: str
    hours: float | None
    why: str


def hand_check(run: Run) -> Paper:
    """Nominal x deliverable x health x temperature x (start - floor) / (average / efficiency + idle)."""
    s, start = run.store, run.outage.charge_of(run.part.source.id)
    factors = [
        Factor("stored on the label", s.nominal_wh, f"{number_text(s.nominal_wh)} Wh"),
        Factor("label to real", s.deliverable, f"{s.deliverable:g}", "planning default"),
        Factor("health", s.health, f"{s.health:g}"),
        Factor("cold", s.cold, f"{s.cold:.3g}", "planning default"),
        Factor(
            "from start charge to stop level", max(start - s.floor, 0), f"{100 * start:.0f}% − {100 * s.floor:.0f}%"
        ),
        Factor("average load (W)", run.average_w, f"{number_text(run.average_w)} W"),
        Factor("conversion", s.efficiency, f"{s.efficiency:g}"),
        Factor("own use of station and modules", s.idle_w, f"{number_text(s.idle_w)} W"),
    ]
    formula = (
        f"{number_text(s.nominal_wh)} Wh × {s.deliverable:g} real × {s.health:g} health × {s.cold:.3g} cold × "
        f"({start:g} − {s.floor:g}) ÷ ({number_text(run.average_w)} W ÷ {s.efficiency:g} + {number_text(s.idle_w)} W)"
    )
    return Paper(factors, formula, run.paper_hours, _why(run))


def _why(run: Run) -> str:
    paper, hours = run.paper_hours, run.hours
    if paper is None or hours is None:
        return "The run ends before the battery is empty."
    gap, sun = hours - paper, run.solar_by(hours)
    if sun > 0:
        upto = float(run.load_w[: max(1, round(hours / run.steps.step_h))].mean())
        return (
            f"The hand check leaves out the sun, {kwh_text(sun)} by then, and takes "
            f"{number_text(run.average_w)} W all the time; until the power runs out, the circuits draw "
            f"{number_text(upto)} W on average."
        )
    if run.part.line:
        return "The hand check looks at one station; the simulation runs stations that power each other together."
    if len(run.stores) > 1 and gap < -max(0.05 * paper, 1 / 6):
        return (
            f"The simulation says {hours_text(-gap)} less: each unit supplies its own leg, and the one on "
            f"the busier leg "
            "is empty first."
        )
    if abs(gap) < max(0.05 * paper, 1 / 6):
        return "The simulation gives nearly the same hours, because the loads draw about evenly through day and night."
    upto = run.load_w[: max(1, round(hours / run.steps.step_h))].mean()
    more = "more" if upto > run.average_w else "less"
    says = f"The simulation says {hours_text(abs(gap))} {'less' if gap < 0 else 'more'}"
    if number_text(float(upto)) == number_text(run.average_w):
        return f"{says}: the average load is the same, but loads are switched on and off along the way."
    return (
        f"{says}: up to then the circuits draw {number_text(float(upto))} W on average, {more} than the "
        f"{number_text(run.average_w)} W of the whole outage."
    )


def waterfall(run: Run) -> list[Drop]:
    """Where the stored energy goes until the source is dark, or until the simulation ends.

    Stored equals the losses, what is held and what reaches the circuits, added up.
    """
    s, start = run.store, run.outage.charge_of(run.part.source.id)
    stored = s.nominal_wh
    real = stored * s.deliverable
    healthy = real * s.health
    cold = healthy * s.cold
    then = run.until_dark
    tally, ends = then.tally, then.charge[-1]
    drops = [Drop("stored", stored, "stored")]
    if run.solar_w is not None:
        drops.append(Drop("from the panels", tally.solar_wh, "sun"))
    if tally.engine_h:
        drops.append(Drop("generator", tally.ac_in_wh + tally.bypass_wh, "engine"))
    if tally.from_up_wh:
        drops.append(Drop("from the station before it", tally.from_up_wh, "stored"))
    left = sum(x.available_wh * float(c) for x, c in zip(run.stores, ends, strict=True))
    floor = left if run.hours is None else min(left, cold * s.floor)
    for name, wh, kind in (
        ("label to real", stored - real, "loss"),
        ("health", real - healthy, "loss"),
        ("cold", healthy - cold, "loss"),
        ("left in the other unit", left - floor, "held"),
        ("not full at the start", cold * (1 - start), "loss"),
        ("unused sun: full, or too cold to charge", tally.curtailed_wh, "loss"),
        ("solar input and charging losses", tally.tracking_wh + tally.charging_wh, "loss"),
        (f"stop level {100 * s.floor:.0f}%" if run.hours is not None else "still stored", floor, "held"),
        ("standby after the power ran out", tally.standby_wh, "loss"),
        ("passed on to the next station", tally.passed_on_wh, "loss"),
        ("conversion", tally.conversion_wh, "loss"),
        ("idle", tally.idle_wh, "loss"),
    ):
        if wh > 0.5:
            drops.append(Drop(name, -wh, kind))
    drops.append(Drop("reaches your circuits", tally.served_wh, "reaches"))
    return drops


def inverse(
    average_w: float, goal_h: float, *, efficiency: float, idle_w: float, deliverable: float, floor: float
) -> float:
    """The label capacity a goal needs, Wh: the hand check turned round."""
    return dc_draw_w(average_w, efficiency, idle_w) * goal_h / (deliverable * (1 - floor))
