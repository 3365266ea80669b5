"""Every step of a run, as a table on screen and as CSV."""

from __future__ import annotations

from dataclasses import dataclass

from imbuto.core.basics.errors import NotFound
from imbuto.core.run.run import Run
from imbuto.formats.csv_tables.csvout import table
from imbuto.services.desk.planner import Planner
from imbuto.services.desk.run_views import lit_spans


@dataclass(frozen=True, slots=True, kw_only=True)
class StepsView:
    """All steps, same length: local clock at the beginning; charge then, 0 to 1; mean W asked for, served, of the sun
    at the inputs; whether a generator runs; litres it burns; the share of the step it is dark."""

    step_h: float
    clock: list[str]
    charge: list[float]
    asked_w: list[float]
    served_w: list[float]
    sun_w: list[float]
    engine: list[bool]
    fuel_l: list[float]
    dark: list[float]


def steps_view(planner: Planner, home_id: str, plan: str, outage: str, source: str | None = None) -> StepsView:
    """Every step of the run of a pair. Raises NotFound, also where nothing runs."""
    station = planner.station(home_id, plan, outage, source)
    run = station.run if station else None
    if run is None:
        raise NotFound("run", plan, "nothing runs in this plan yet")
    return steps_of(run)


def steps_of(run: Run) -> StepsView:
    """Every step of a run."""
    n, h, trace = run.steps.n, run.steps.step_h, run.trace
    asked = run.with_tiers_w
    light = [0.0] * n if run.solar_w is None else run.solar_w.tolist()
    lit = lit_spans(run)
    return StepsView(
        step_h=h,
        clock=[f"{run.steps.moment(i * h):%Y-%m-%d %H:%M}" for i in range(n)],
        charge=[round(c, 6) for c in run.charge[:n].tolist()],
        asked_w=[round(float(w), 3) for w in asked],
        served_w=[round(w / h, 3) for w in run.served_by_step_wh.tolist()],
        sun_w=[round(w, 3) for w in light],
        engine=[x > 0 for x in trace.engine_h.tolist()],
        fuel_l=[round(x, 6) for x in trace.fuel_l.tolist()],
        dark=[
            round(1 - sum(max(min(b, (i + 1) * h) - max(a, i * h), 0.0) for a, b in lit) / h, 4) + 0.0 for i in range(n)
        ],
    )


def steps_csv(view: StepsView) -> str:
    """The steps as CSV, units in the heading."""
    head = ("clock", "elapsed [h]", "charge", "asked [W]", "served [W]", "sun [W]", "generator", "fuel [l]", "dark")
    rows = (
        (
            view.clock[i],
            round(i * view.step_h, 4),
            view.charge[i],
            view.asked_w[i],
            view.served_w[i],
            view.sun_w[i],
            view.engine[i],
            view.fuel_l[i],
            view.dark[i],
        )
        for i in range(len(view.clock))
    )
    return table(head, rows)
