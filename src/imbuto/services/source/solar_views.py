"""What the Sun page shows: each array, ways to wire it, and what it brings through the year beside what is needed."""

from __future__ import annotations

import math
from dataclasses import asdict, dataclass

from imbuto.core.basics.clock import DAY_STEPS, FloatArray, grid
from imbuto.core.basics.elsewhere import run_elsewhere
from imbuto.core.basics.errors import NotFound
from imbuto.core.equipment.power_station import SolarInput, Station
from imbuto.core.equipment.solar_panel import Panel
from imbuto.core.home.home import Site, SkyMonth
from imbuto.core.light.solar_light import array_w, days_of, mean_wh, month_wh, plane_w_m2, sun_hours_wh
from imbuto.core.limits.rules.solar_input_limits import (
    MOST_SERIES,
    StringLayout,
    array_limits,
    cable_for,
    layouts,
    record_high_c,
    record_low_c,
    string_limits,
)
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.load_conditions import in_outage
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import narrow_to_source
from imbuto.core.plan.sources import Array
from imbuto.core.plan.system import Part, resolve
from imbuto.core.run.run import store_of
from imbuto.formats.documents import Json
from imbuto.formats.weather import weatherfile
from imbuto.services.desk.judging import Pair
from imbuto.services.desk.planner import EditResult, Planner
from imbuto.services.desk.verdict_views import LimitView, limit_view


@dataclass(frozen=True, slots=True, kw_only=True)
class MonthView:
    """A month of all arrays, DC Wh a day: clear and overcast, and the mean of the climate's days."""

    month: int
    clear_wh: float
    overcast_wh: float
    mean_wh: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ArrayView:
    """One array.

    day_wh: its first whole day of the outage
    best_w: the most it gives there
    simple_wh: the simple school's day, from the same light
    cable: the thinnest that carries it
    ways: to wire as many panels
    """

    id: str
    rated_w: float
    day_wh: float
    best_w: float
    simple_wh: float
    cable: str | None
    limits: list[LimitView]
    ways: list[StringLayout]


@dataclass(frozen=True, slots=True, kw_only=True)
class SunView:
    """All arrays of a plan.

    inputs: of its station
    sky: days of each month, and whether the home has its own
    need_wh: DC a day of what is fed, with idle
    days_to_full: from the floor, in this outage's weather, None for never
    worst_month: 1 to 12, the least mean day
    panels_lacking: to cover the need in it, None where no number would do
    fewest: by panel id, the fewest in series the input starts on and bears, none where no number does
    low_c, high_c: the records strings are judged by, and whether looked up
    """

    inputs: int
    input_text: str
    arrays: list[ArrayView]
    panels: list[Panel]
    fewest: dict[str, int]
    months: list[MonthView]
    sky: list[SkyMonth]
    own_sky: bool
    need_wh: float
    day_wh: float
    days_to_full: float | None
    worst_month: int | None
    panels_lacking: int | None
    low_c: float
    high_c: float
    looked_up: bool


def sun_view(planner: Planner, home_id: str, plan_id: str, outage_id: str, source: str | None = None) -> SunView:
    """The Sun page of a plan in an outage, at its first station or at the one named. Raises NotFound."""
    documents = planner.open(home_id)
    plan, outage = documents.plans.get(plan_id), documents.outages.get(outage_id)
    if plan is None or outage is None:
        raise NotFound(
            "plan" if plan is None else "outage",
            plan_id if plan is None else outage_id,
            ("this home doesn't have that one"),
        )
    if source is not None and source not in plan.sources:
        raise NotFound("station", source, "this plan doesn't have that station")
    plan = narrow_to_source(plan, source or next(iter(plan.sources), ""))
    now, site = (
        resolve(in_outage(documents.home, plan, outage), plan, documents.catalogue).part(None),
        documents.home.site,
    )
    station = now.station if now else None
    panels = [p for p in documents.catalogue.panels.values() if p.currency == site.currency] or list(
        documents.catalogue.panels.values()
    )
    arrays = [_array(a, now, now.station, outage) for a in plan.arrays.values()] if now else []
    months = _months(now, now.station) if now and plan.arrays else []
    need = _need_wh(now, outage) if now else 0.0
    day = sum(a.day_wh for a in arrays)
    worst = min(months, key=lambda m: m.mean_wh, default=None)
    return SunView(
        inputs=station.solar_inputs if station else 0,
        input_text=_input_text(station),
        arrays=arrays,
        panels=panels,
        fewest=_fewest(panels, station, site),
        months=months,
        sky=[_sky(site, m) for m in range(1, 13)],
        own_sky=bool(site.sky),
        need_wh=need,
        day_wh=day,
        days_to_full=_days_to_full(now, outage, day - need) if now else None,
        worst_month=worst.month if worst else None,
        panels_lacking=_lacking(worst.mean_wh, need, sum(a.count for a in plan.arrays.values())) if worst else None,
        low_c=record_low_c(site, outage.outdoors_c),
        high_c=record_high_c(site),
        looked_up=site.record_low_c is not None and site.record_high_c is not None,
    )


def take_weather(planner: Planner, home_id: str, data: bytes, name: str, edit_id: str, pair: Pair | None) -> EditResult:
    """Take what days of each month are like from a weather file, and its records; one edit, which can be undone. Raises
    UnreadableFile; then nothing was taken."""
    months, low, high = run_elsewhere(weatherfile.read, data, name)
    state = planner.state(home_id)
    ops: list[Json] = [
        {"doc": "home", "op": "replace", "path": "/site/sky", "value": [asdict(m) for m in months]},
    ]
    site = planner.enter(state).home.site
    # A typical year knows no records: it may widen what somebody looked up, never narrow it.
    if site.record_low_c is not None and low < site.record_low_c:
        ops.append({"doc": "home", "op": "replace", "path": "/site/record_low_c", "value": low})
    if site.record_high_c is not None and high > site.record_high_c:
        ops.append({"doc": "home", "op": "replace", "path": "/site/record_high_c", "value": high})
    return planner.edit(home_id, state.rev, edit_id, f"Days by month from {name}", ops, pair)


def _fewest(panels: list[Panel], station: Station | None, site: Site) -> dict[str, int]:
    found = {}
    for panel in panels if station else []:
        for series in range(1, MOST_SERIES + 1):
            tried = Array(id="tried", name="Tried", panel=panel.id, series=series)
            if station and all(x.ok for x in array_limits(tried, panel, station, site)):
                found[panel.id] = series
                break
    return found


def _array(array: Array, now: Part, station: Station, outage: Outage) -> ArrayView:
    panel, site = now.panels[array.panel], now.home.site
    steps = grid(outage.start, site.time_zone, max(48.0, outage.iced_h + 48))
    given = array_w(array, now, outage, steps)
    first = _first_day(steps.hour, round(outage.iced_h / steps.step_h))
    light = plane_w_m2(site, steps, outage.weather, array.tilt, array.azimuth, array.shade)[first].sum() * steps.step_h
    wire = cable_for(array, panel, metric=station.leg_volts == 230)
    found: list[Limit] = [x for x in string_limits(now, outage) if x.source == array.id]
    return ArrayView(
        id=array.id,
        rated_w=array.count * panel.w,
        day_wh=float(given[first].sum()) * steps.step_h,
        best_w=float(given.max()),
        simple_wh=sun_hours_wh(array.count * panel.w, float(light) / 1000),
        cable=wire.name if wire else None,
        limits=[limit_view(x) for x in found],
        ways=layouts(array, panel, station, site),
    )


def _first_day(hour: FloatArray, iced_steps: int) -> slice:
    """The first whole day from midnight, of a grid in five-minute steps, after the ice."""
    midnights = (i for i in range(max(1, iced_steps), len(hour)) if hour[i] < hour[i - 1])
    start = next(midnights, 0)
    return slice(start, start + DAY_STEPS)


def _sky(site: Site, month: int) -> SkyMonth:
    days = days_of(site, month)
    return SkyMonth(month=month, clear=days.clear, broken=days.broken, overcast=days.overcast)


def _months(now: Part, station: Station) -> list[MonthView]:
    site = now.home.site
    found = []
    for month in range(1, 13):
        days = days_of(site, month)
        each = [
            month_wh(a, now.panels[a.panel], station, site, month)
            for a in now.plan.own_arrays
            if a.input <= station.solar_inputs
        ]
        found.append(
            MonthView(
                month=month,
                clear_wh=sum(e["clear"] for e in each),
                overcast_wh=sum(e["overcast"] for e in each),
                mean_wh=sum(mean_wh(e, days) for e in each),
            )
        )
    return found


def _need_wh(now: Part, outage: Outage) -> float:
    """What a day of the outage takes from the battery side, Wh."""
    steps = grid(outage.start, now.home.site.time_zone, outage.hours)
    store = store_of(now.plan, now.source, now.station, outage)
    return 24 * store.draw_w(float(now.watts(steps).mean())) / store.mppt_efficiency


def _days_to_full(now: Part, outage: Outage, surplus_wh: float) -> float | None:
    if surplus_wh <= 0:
        return None
    store = store_of(now.plan, now.source, now.station, outage)
    if store.most_charge_w <= 0:
        return None
    return store.usable_wh(1.0) / (surplus_wh * store.mppt_efficiency * store.solar_charge_efficiency)


def _lacking(mean: float, need: float, count: int) -> int | None:
    """Panels of the same kind and place still lacking for a mean day of the worst month to cover the need; None where
    no number would do."""
    if mean >= need:
        return 0
    return math.ceil((need - mean) / (mean / count)) if mean > 0 else None


def _input_text(station: Station | None) -> str:
    if station is None:
        return "No station yet. Choose one with a solar input."
    if not station.solar_inputs:
        return f"{station.name} has no solar input."
    each = [station.solar_input(i) for i in range(1, station.solar_inputs + 1)]
    if len(set(each)) == 1:
        many = f"{station.solar_inputs} solar inputs, each" if len(each) > 1 else "1 solar input,"
        return f"{station.name}: {many} {_takes(each[0])}."
    return f"{station.name}: " + "; ".join(f"solar input {i} {_takes(x)}" for i, x in enumerate(each, 1)) + "."


def _takes(x: SolarInput) -> str:
    return f"{x.min_v:g} to {x.max_v:g} V, {x.max_a:g} A ({x.max_isc_a:g} A short-circuited), {x.max_w:,g} W"
