"""The register of quantities that stand in more than one place, each with its formula and every place that shows it.

A quantity has one value for its subject. ``tests/services/test_quantities.py`` opens every place and compares; the
API's description carries the name as ``x-quantity``, the interface as ``data-quantity``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Subject = Literal["home", "plan", "outage", "pair", "station", "load", "load_in_pair"]


@dataclass(frozen=True, slots=True)
class Quantity:
    """Describe one quantity.

    id: its name in the API and the interface
    unit: in which the API gives it
    of: what it is a figure of; a pair is a plan in an outage, a station is one of a plan in an outage, a load in a
        pair what it is there
    formula: how it is worked out, in a sentence
    at: the fields of views that show it, as ``View.field``
    """

    id: str
    unit: str
    of: Subject
    formula: str
    at: tuple[str, ...]


QUANTITIES = (
    Quantity(
        "count_on",
        "h",
        "pair",
        "Hours that 9 of 10 runs exceed, until the first station runs out; each run draws the figures that "
        "are not known exactly from their ranges.",
        ("VerdictView.low_hours", "Cell.low_h"),
    ),
    Quantity(
        "probably",
        "h",
        "pair",
        "Hours until the first station runs out, with every figure at its expected value.",
        ("VerdictView.hours", "Cell.hours"),
    ),
    Quantity(
        "chance",
        "share",
        "pair",
        "Share of the runs in which every station lasts until the goal.",
        ("VerdictView.chance",),
    ),
    Quantity(
        "fits",
        "yes or no",
        "pair",
        "Whether no limit of any station is broken by known figures.",
        ("VerdictView.fits", "Cell.fits"),
    ),
    Quantity(
        "reaches",
        "yes or no",
        "pair",
        "Whether 9 of 10 runs reach the goal, with everything powered that must stay on, and nothing that may trip "
        "on a station that health or the house depends on.",
        ("VerdictView.reaches", "Cell.reaches"),
    ),
    Quantity(
        "simulated",
        "h",
        "pair",
        "Length of the simulation: the outage, and on until the batteries are empty or it is long enough to say "
        "“still on”.",
        ("VerdictView.simulated_h", "Cell.simulated_h", "RunView.simulated_h"),
    ),
    Quantity(
        "goal",
        "h",
        "outage",
        "The goal entered for the outage.",
        ("VerdictView.goal_hours", "OutageHead.goal_h", "FrontierView.goal_h", "ReadinessView.goal_h"),
    ),
    Quantity(
        "station_probably",
        "h",
        "station",
        "Hours until this station runs out, with every figure at its expected value.",
        ("StationPart.hours", "RunView.dark_h", "Option.hours"),
    ),
    Quantity(
        "station_count_on",
        "h",
        "station",
        "Hours of this station that 9 of 10 runs exceed.",
        ("StationPart.low_hours", "Option.low_hours"),
    ),
    Quantity(
        "stored",
        "Wh",
        "plan",
        "Label energy of all stations of the plan with their modules.",
        ("RailView.nominal_wh", "PlanRow.stored_wh"),
    ),
    Quantity(
        "station_stored",
        "Wh",
        "station",
        "Label energy of this station with its modules.",
        ("RunView.nominal_wh", "Option.nominal_wh"),
    ),
    Quantity(
        "own_draw",
        "W",
        "pair",
        "DC power that the stations and their modules use for themselves while their output is on.",
        ("WholeView.own_draw_w",),
    ),
    Quantity(
        "station_own_draw",
        "W",
        "station",
        "DC power that this station and its modules use for themselves while the output is on.",
        ("Option.own_w",),
    ),
    Quantity(
        "house_day",
        "Wh",
        "pair",
        "AC energy of all loads of the house in an average day of this outage.",
        ("RailView.house_wh_day", "WholeView.house_wh_day"),
    ),
    Quantity(
        "load_start",
        "VA",
        "load",
        "Running VA of everything of this load, and the extra of its largest start.",
        ("LoadFigure.start_va",),
    ),
    Quantity(
        "load_powered",
        "W",
        "load_in_pair",
        "Mean AC power of this load over the outage's own length, as the plan powers it.",
        ("LoadFigure.fed_w", "LoadCost.mean_w"),
    ),
    Quantity(
        "possibly",
        "h",
        "pair",
        "Hours that 1 of 10 runs exceeds, until the first station runs out.",
        ("VerdictView.high_hours",),
    ),
    Quantity(
        "cost",
        "currency of the home",
        "plan",
        "Sum of everything that is still to be paid: equipment, work, fees and the rest of what is entered.",
        ("WorthView.cost", "OtherPlanCost.cost"),
    ),
    Quantity(
        "saving",
        "currency of the home",
        "plan",
        "The house's electricity bill of an ordinary year without the plan, less that with it.",
        ("WorthView.saving", "EverydayView.saving"),
    ),
    Quantity(
        "slots",
        "slots",
        "home",
        "Slots of the main panel, as entered.",
        ("RailView.slots", "WholeView.slots"),
    ),
    Quantity(
        "price",
        "currency of the home",
        "plan",
        "Sum of everything that is still to be bought and has a price.",
        ("PlanRow.price",),
    ),
)


def by_field() -> dict[str, Quantity]:
    """Map each ``View.field`` to its quantity. Raises ValueError where a field has two."""
    found: dict[str, Quantity] = {}
    for q in QUANTITIES:
        for at in q.at:
            if at in found:
                raise ValueError(f"{at} is two quantities")
            found[at] = q
    return found
