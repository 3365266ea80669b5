"""What solar arrays give, step by step: sun position, clear sky, the weather, the plane of the panels, their warmth.

Sun and sky are pvlib's. Weather classes, derate and thresholds are planning defaults.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from imbuto.core.basics.clock import BoolArray, FloatArray, Grid, grid, inside
from imbuto.core.basics.data_tables import rows
from imbuto.core.basics.elsewhere import run_elsewhere
from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.solar_panel import Panel
from imbuto.core.home.home import Site, SkyMonth
from imbuto.core.light.sky_model import Sky, on_plane, skies_at
from imbuto.core.limits.rules.solar_input_limits import most_w
from imbuto.core.plan.outage import Outage, Weather
from imbuto.core.plan.sources import Array, Bank, Shade
from imbuto.core.plan.system import Part

CLEAR_SHARE: dict[Weather, float] = {"clear": 1.0, "broken": 0.65, "overcast": 0.2, "storm": 0.1, "smoke": 0.6}
DERATE = 0.86  # dirt, mismatch, wiring, age; planning default
LEAST_W, LEAST_SHARE = 15.0, 0.03  # an input gives nothing below; planning defaults
ROOF_INVERTER = 0.96  # of its DC W, what an array's own inverter brings to the house; planning default
AC_SIDE = (
    ROOF_INVERTER * 0.92 / (0.97 * 0.97)
)  # of its DC W, sun on the AC side counted as on an input: its inverter, then the charger; planning default
ALBEDO = 0.2
MONTHS_OF, MONTH_STEP_H, MONTH_AIR_C = 2026, 0.25, 15.0  # one year stands for all: the sun repeats itself closely
SUN_HOURS_SCHOOL = 0.75  # rated W x peak sun hours x this: the simple school


def sky(site: Site, steps: Grid, weather: Weather) -> Sky:
    """Return sun and light at each midpoint. Worked out once for a place and a time, then kept.

    A clear sky keeps its own direct and diffuse parts; anything less is its horizontal light times the class's share,
    parted anew, since clouds take the direct part first.
    """
    return _skies(site.latitude, site.longitude, site.elevation_m, steps)[weather]


def look_up(site: Site, outage: Outage) -> None:
    """Work out the skies of an outage before anyone asks for them."""
    sky(site, grid(outage.start, site.time_zone, outage.simulated_h), "clear")


@lru_cache(maxsize=64)
def _skies(latitude: float, longitude: float, elevation_m: float, steps: Grid) -> dict[Weather, Sky]:
    """Return the sky of every weather at once: one call of the library instead of five."""
    shares = tuple(CLEAR_SHARE.values())
    start = int(steps.start.timestamp())
    found = run_elsewhere(skies_at, latitude, longitude, elevation_m, start, steps.step_h, steps.n, shares)
    return dict(zip(CLEAR_SHARE, found, strict=True))


@lru_cache(maxsize=256)
def plane_w_m2(
    site: Site, steps: Grid, weather: Weather, tilt: float, azimuth: float, shade: tuple[Shade, ...] = ()
) -> FloatArray:
    """Light on a plane, W/m², shape (n,). Shade takes of the direct part. The array is shared: do not write to it."""
    s = sky(site, steps, weather)
    direct, diffuse = on_plane(s, tilt, azimuth, ALBEDO)
    light: FloatArray = np.maximum(direct * (1 - _shaded(steps, shade)) + diffuse, 0.0)
    return light


def _shaded(steps: Grid, shade: tuple[Shade, ...]) -> FloatArray:
    """The share of direct light taken in each step; where shades overlap, the deepest."""
    taken = np.zeros(steps.n)
    if not shade:
        return taken
    days = day_of(steps)
    first = steps.start.date()
    months = np.array([(first + timedelta(days=d)).month for d in range(int(days[-1]) + 1)])[days]
    for s in shade:
        hit = (steps.hour >= s.from_h) & (steps.hour < s.to_h)
        if s.months:
            hit &= np.isin(months, s.months)
        taken = np.where(hit, np.maximum(taken, s.share), taken)
    return taken


def panels_w(panel: Panel, count: int, light_w_m2: FloatArray, air_c: float, factor: float | None = None) -> FloatArray:
    """DC W of so many panels under a light, shape (n,): less for warm cells, and by a factor, the derate where it is
    None."""
    cell = air_c + (panel.noct_c - 20) / 800 * light_w_m2  # Ross
    warm = 1 + panel.power_percent_c / 100 * (cell - 25)
    watts: FloatArray = np.maximum(count * panel.w * light_w_m2 / 1000 * warm * (factor or DERATE), 0.0)
    return watts


def array_w(array: Array, part: Part, outage: Outage, steps: Grid) -> FloatArray:
    """DC W an array brings to its input in an outage, shape (n,): nothing under ice, nothing of a portable array in a
    storm, and else what ``taken_w`` says."""
    panel, station = part.panels[array.panel], part.station
    if array.input > station.solar_inputs:
        return np.zeros(steps.n)
    takes = station.solar_input(array.input)
    least = max(LEAST_W, LEAST_SHARE * takes.max_w)
    return _in_weather(array, part, outage, steps, most_w(array, panel, station), least)


def _in_weather(array: Array, part: Part, outage: Outage, steps: Grid, most: float, least: float) -> FloatArray:
    """DC W of an array under the skies of an outage, day by day, clipped to the most, nothing below the least; shape
    (n,)."""
    panel, site = part.panels[array.panel], part.home.site
    given = np.zeros(steps.n)
    days = day_of(steps)
    skies = [outage.sky_of(d) for d in range(int(days[-1]) + 1)]
    for weather in dict.fromkeys(skies):
        hit = np.array([s == weather for s in skies])[days]
        given[hit] = clipped_w(array, panel, site, steps, weather, outage.outdoors_c, most, least)[hit]
        if stays_in(array, panel, weather):
            given[hit] = 0.0
    given[: round(outage.iced_h / steps.step_h)] = 0.0
    if array.set_out is not None:
        given[: round(part.whole.reaction_h / steps.step_h)] = 0.0  # until somebody has come
    return given


def stays_in(array: Array, panel: Panel, weather: Weather) -> bool:
    """Whether an array is in, or its inlet shut, under a sky."""
    return weather == "storm" and (panel.portable or (array.set_out is not None and array.set_out.shut_in_wind))


def day_of(steps: Grid) -> NDArray[np.int_]:
    """The calendar day each step lies in, counted from 0, shape (n,). Clocks put back begin no new day."""
    return np.concatenate([[0], np.cumsum(np.diff(steps.hour) < -12)]).astype(int)


def taken_w(
    array: Array, panel: Panel, station: Station, site: Site, steps: Grid, weather: Weather, air_c: float
) -> FloatArray:
    """DC W an input takes from an array, shape (n,): clipped to what it can, nothing below its threshold."""
    least = max(LEAST_W, LEAST_SHARE * station.solar_input(array.input).max_w)
    return clipped_w(array, panel, site, steps, weather, air_c, most_w(array, panel, station), least)


def clipped_w(
    array: Array, panel: Panel, site: Site, steps: Grid, weather: Weather, air_c: float, most: float, least: float
) -> FloatArray:
    """DC W of an array under one sky, shape (n,): no more than the most, nothing below the least, and nothing while it
    isn't out."""
    light = plane_w_m2(site, steps, weather, array.tilt, array.azimuth, array.shade)
    given = np.minimum(panels_w(panel, array.count, light, air_c, array.factor), most)
    given[given < least] = 0.0
    if (out := array.set_out) is not None:
        given[(steps.hour < out.from_h) | (steps.hour >= out.to_h)] = 0.0
    return given


def solar_w(part: Part, outage: Outage, steps: Grid) -> FloatArray | None:
    """DC W of all arrays of a plan at their inputs, shape (n,); None without arrays."""
    station = part.station
    forms = station.forms_grid
    own, beside = part.plan.own_arrays, part.plan.ac_arrays if forms else []
    if not own and not beside:
        return None
    total = np.zeros(steps.n)
    for array in own:
        total += array_w(array, part, outage, steps) * ~_bank_instead(array, part, outage, steps)
    for array in beside:
        most = array.count * part.panels[array.panel].w
        total += AC_SIDE * _in_weather(array, part, outage, steps, most, LEAST_W)
    if station.input_ceiling_w:
        total = np.minimum(total, station.input_ceiling_w)
    return total


def roof_w(part: Part, arrays: Sequence[Array], outage: Outage, steps: Grid) -> FloatArray:
    """AC W that arrays with an inverter of their own bring to the house while the grid is there, shape (n,)."""
    total = np.zeros(steps.n)
    for array in arrays:
        most = array.count * part.panels[array.panel].w
        total += ROOF_INVERTER * _in_weather(array, part, outage, steps, most, LEAST_W)
    return total


def solar_by_store(part: Part, outage: Outage, steps: Grid) -> list[FloatArray | None]:
    """DC W of the arrays of a source at the inputs of each of its stores, shape (n,) each; None without arrays.

    Of a pair each array is at an input of one unit, and the sun on it charges that unit alone; what is on the house's
    own AC side charges both alike.
    """
    if not part.is_pair:
        return [solar_w(part, outage, steps)]
    if solar_w(part, outage, steps) is None:
        return [None, None]
    each = max(part.unit.solar_inputs, 1)
    station = replace(part.station, input_ceiling_w=part.station.input_ceiling_w / 2)
    ac = {k: a for k, a in part.plan.arrays.items() if a.ac}
    beside = solar_w(replace(part, plan=replace(part.plan, arrays=ac)), outage, steps)
    found: list[FloatArray | None] = []
    for unit in range(2):
        own = {k: a for k, a in part.plan.arrays.items() if not a.ac and (a.input - 1) // each == unit}
        at_inputs = solar_w(replace(part, plan=replace(part.plan, arrays=own), station=station), outage, steps)
        given = np.zeros(steps.n) if at_inputs is None else at_inputs
        found.append(given if beside is None else given + beside / 2)
    return found


def bank_w(part: Part, bank: Bank, outage: Outage, steps: Grid) -> FloatArray | None:
    """DC W of the arrays on a bank's own controller, shape (n,); None without any."""
    own = [a for a in part.plan.arrays.values() if a.source == bank.id]
    if not own or not bank.controller_w:
        return None
    total = np.zeros(steps.n)
    for array in own:
        total += _in_weather(array, part, outage, steps, bank.controller_w, LEAST_W)
    return np.minimum(total, bank.controller_w)


def bank_may(part: Part, bank: Bank, outage: Outage, steps: Grid) -> BoolArray | None:
    """Steps in which a bank may give by its set hours, or since the array at its input brings little; shape (n,).
    None where it always may, or where the light of each run decides."""
    if bank.by == "hours":
        return inside(bank.windows, steps.hour, steps.weekend)
    if bank.by != "low_sun":
        return None
    there = [a for a in part.plan.own_arrays if a.source == bank.to and a.input == bank.input]
    light = sum((array_w(a, part, outage, steps) for a in there), np.zeros(steps.n))
    low: BoolArray = light < bank.below_w
    return low


def _bank_instead(array: Array, part: Part, outage: Outage, steps: Grid) -> BoolArray:
    """Steps in which a bank has an array's input, so that nothing takes what the array brings; shape (n,)."""
    taken = np.zeros(steps.n, dtype=bool)
    for bank in part.plan.banks.values():
        if bank.to == array.source and bank.input == array.input:
            may = bank_may(part, bank, outage, steps)
            taken |= may if may is not None else False
    return taken


@dataclass(frozen=True, slots=True, kw_only=True)
class Days:
    """What days of a month are like in a climate, north of the equator: shares; the rest are stormy."""

    climate: str
    month: int
    clear: float
    broken: float
    overcast: float


def shares_of(days: Days | SkyMonth) -> dict[Weather, float]:
    """Each class with its share; they add up to 1."""
    rest = max(1 - days.clear - days.broken - days.overcast, 0.0)
    return {"clear": days.clear, "broken": days.broken, "overcast": days.overcast, "storm": rest}


@lru_cache(maxsize=1)
def _table() -> dict[tuple[str, int], Days]:
    return {(row.climate, row.month): row for row in rows("weather.csv", Days)}


def days_of(site: Site, month: int) -> Days | SkyMonth:
    """What days of a month (1 to 12) are like at a site: its own table, or its climate's, half a year on south of the
    equator."""
    own = next((s for s in site.sky if s.month == month), None)
    if own is not None:
        return own
    if site.latitude < 0:
        month = (month + 5) % 12 + 1
    table = _table()
    return table.get((site.climate, month)) or table["mild", month]


def month_wh(array: Array, panel: Panel, station: Station, site: Site, month: int) -> dict[Weather, float]:
    """DC Wh an array brings on the 15th of a month (1 to 12) in each weather class of the table; air at 15 °C."""
    steps = grid(datetime(MONTHS_OF, month, 15), site.time_zone, 24, MONTH_STEP_H)
    return {
        w: float(taken_w(array, panel, station, site, steps, w, MONTH_AIR_C).sum()) * steps.step_h
        for w in ("clear", "broken", "overcast", "storm")
    }


def mean_wh(by_weather: dict[Weather, float], days: Days | SkyMonth) -> float:
    """Wh of the mean day of a month."""
    return sum(share * by_weather[w] for w, share in shares_of(days).items())


def sun_hours_wh(rated_w: float, peak_sun_hours: float) -> float:
    """The simple school's day: rated W x peak sun hours x 0.75, Wh."""
    return rated_w * peak_sun_hours * SUN_HOURS_SCHOOL
