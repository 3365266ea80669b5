"""Limit 10: what a solar input bears of the panels on it, and how a number of panels may be wired for it.

Volts past an input's maximum destroy it, so they are refused, never weighed. Watts and running amps past its rating
are merely left in the panels: that is shown. The figures follow common practice; the maker's manual and your local
code decide."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

from imbuto.core.basics.measures import length_text, temp_text
from imbuto.core.basics.units import number_text
from imbuto.core.equipment.power_station import SolarInput, Station
from imbuto.core.equipment.solar_panel import Panel
from imbuto.core.equipment.wires import GOOD_DROP, Wire, drop_v, wires
from imbuto.core.home.home import Site
from imbuto.core.limits.limit_registry import LimitRow
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.sources import Array
from imbuto.core.plan.system import Part

TOLERANCE = 1.03  # of a label's open volts; planning default
UNLISTED_COLD = 1.25  # on the open volts, where their change with temperature is not listed; planning default
HOT_RISE_C = 31.0  # of a cell above the hottest air; planning default
START_SHARE = 1.2  # of the least tracking volts, to start on; planning default
CABLE_SHARE = (
    1.56  # cable and fuse over short-circuit amps: 1.25 for bright days, 1.25 for hours on end; common practice
)
FUSED_FROM = 3  # strings side by side: two feed less than a panel bears, three may not; common practice
MOST_SERIES, MOST_PARALLEL = 30, 20
TOUCH_V = 60.0  # direct current above this wants a qualified person; common practice
RECORD_LOW_C = {"mild": -15.0, "hot_summer": -15.0}  # planning defaults; cold and unknown climates below
UNKNOWN_LOW_C = -40.0  # of a cold climate, or one nobody has named; planning default
COLDER_BY_C = 10.0  # at least so much below the coldest outage the home expects; planning default
RECORD_HIGH_C = {"mild": 40.0, "cold_winter": 41.0, "hot_summer": 48.0}


def record_low_c(site: Site, coldest_c: float | None = None) -> float:
    """The coldest air ever at a site, °C; a careful default by its climate where nobody has looked it up.

    coldest_c: outdoor air of the outage that is judged, None for none; the default is well below it
    """
    if site.record_low_c is not None:
        return site.record_low_c
    low = RECORD_LOW_C.get(site.climate, UNKNOWN_LOW_C)
    return low if coldest_c is None else min(low, coldest_c - COLDER_BY_C)


def record_high_c(site: Site) -> float:
    """The hottest air ever at a site, °C; by its climate where nobody has looked it up."""
    return RECORD_HIGH_C.get(site.climate, 40.0) if site.record_high_c is None else site.record_high_c


def cold_v(panel: Panel, series: int, low_c: float, tolerance: float = TOLERANCE) -> float:
    """Open volts of a string on the coldest morning: n x Voc x (1 + coefficient x (low - 25)) x tolerance."""
    if panel.voc_percent_c is None:
        return series * panel.voc_v * UNLISTED_COLD
    return series * panel.voc_v * (1 + panel.voc_percent_c / 100 * (low_c - 25)) * tolerance


def hot_v(panel: Panel, series: int, cell_c: float) -> float:
    """Volts at full power of a string with hot cells: n x Vmp x (1 + coefficient x (cell - 25))."""
    return series * panel.vmp_v * (1 + panel.vmp_percent_c / 100 * (cell_c - 25))


def most_w(array: Array, panel: Panel, station: Station) -> float:
    """The most DC W the input takes from an array: what the panels are rated, its W, or its A at their volts."""
    takes = station.solar_input(array.input)
    return min(array.count * panel.w, takes.max_w, takes.max_a * array.series * panel.vmp_v)


def most_isc_a(takes: SolarInput) -> float:
    """Short-circuit A an input bears; unlisted: no more than its rated A, until the maker says more."""
    return takes.max_isc_a or takes.max_a


def cable_for(array: Array, panel: Panel, *, metric: bool) -> Wire | None:
    """The thinnest cable that carries an array's amps; None when the table has none."""
    need = CABLE_SHARE * array.parallel * panel.isc_a
    fit = [w for w in wires().values() if w.metric == metric and w.amps >= need]
    return min(fit, key=lambda w: w.area_mm2, default=None)


def string_limits(part: Part, outage: Outage) -> Iterator[Limit]:
    """Limit 10 for every array of a plan."""
    station = part.station
    for array in part.plan.own_arrays:
        if array.input > station.solar_inputs:
            rule = (
                f"{station.name} has {_inputs(station.solar_inputs)}; {array.name} is connected to input {array.input}."
            )
            yield _limit(array, "input", f"Solar input of {array.name}", kind="yes_no", ok=False, sentence=rule)
            continue
        yield from array_limits(array, part.panels[array.panel], station, part.home.site, outage.outdoors_c)
        yield from _words_of_care(array, part, outage)


def array_limits(
    array: Array, panel: Panel, station: Station, site: Site, coldest_c: float | None = None
) -> Iterator[Limit]:
    """What arithmetic says of one array on one input of a station."""
    takes = station.solar_input(array.input)
    low, high = record_low_c(site, coldest_c), record_high_c(site) + HOT_RISE_C
    cold, hot = cold_v(panel, array.series, low), hot_v(panel, array.series, high)
    lacks = cold > takes.max_v and site.record_low_c is None
    yield _limit(
        array,
        "cold",
        f"Cold volts of {array.name}",
        severity="refuse",
        used=cold,
        limit=takes.max_v,
        unit="V",
        evidence="fact" if site.record_low_c is not None and panel.voc_percent_c is not None else "default",
        sentence=f"{array.series} × {panel.name} in series reach {number_text(cold)} V on a morning of "
        f"{temp_text(low)}; "
        f"the input takes at most {number_text(takes.max_v)} V, and more destroys it."
        + (" Enter the site's record low under Home facts: a milder one may fix it." if lacks else ""),
    )
    if cold > panel.max_v:
        yield _limit(
            array,
            "system",
            f"Panel voltage limit, {array.name}",
            severity="refuse",
            used=cold,
            limit=panel.max_v,
            unit="V",
            sentence=f"A string of {number_text(cold)} V is more than {panel.name} is rated for in a string, "
            f"{number_text(panel.max_v)} V.",
        )
    isc = array.parallel * panel.isc_a
    yield _limit(
        array,
        "isc",
        f"Short-circuit current of {array.name}",
        used=isc,
        limit=most_isc_a(takes),
        unit="A",
        evidence="fact" if takes.max_isc_a else "default",
        sentence=f"{array.parallel} × {panel.isc_a:g} A short-circuited; the input takes at most "
        f"{number_text(most_isc_a(takes))} A. Before you exceed it, ask the manufacturer for the true maximum.",
    )
    start = START_SHARE * takes.min_v
    yield _limit(
        array,
        "start",
        f"Hot volts of {array.name}",
        kind="at_least",
        used=hot,
        limit=start,
        unit="V",
        evidence="default",
        sentence=f"With cells at {temp_text(high)} the string has {number_text(hot)} V; the input starts at about "
        f"{number_text(start)} V.",
    )
    if array.cord is not None:
        yield from _cable(array, panel)


def _cable(array: Array, panel: Panel) -> Iterator[Limit]:
    cord = array.cord
    assert cord is not None
    wire = wires()[cord.wire]
    need = CABLE_SHARE * array.parallel * panel.isc_a
    yield _limit(
        array,
        "cable",
        f"Cable of {array.name}",
        used=need,
        limit=wire.amps,
        unit="A",
        evidence="default",
        sentence=f"{array.name} needs a cable for {number_text(need)} A (1.56 × short circuit); {wire.name} is rated "
        f"for {number_text(wire.amps)} A.",
    )
    amps, volts = array.parallel * panel.imp_a, array.series * panel.vmp_v
    lost = 100 * drop_v(wire.ohm_per_km, cord.length_m, amps) / volts
    yield _limit(
        array,
        "drop",
        f"Voltage drop to {array.name}",
        severity="caution",
        used=lost,
        limit=100 * GOOD_DROP,
        unit="%",
        evidence="default",
        sentence=f"{length_text(cord.length_m)} of {wire.name} lose {number_text(lost)}% of {number_text(volts)} V.",
    )


def _words_of_care(array: Array, part: Part, outage: Outage) -> Iterator[Limit]:
    """What a person has to know or settle about an array."""
    panel, station = part.panels[array.panel], part.station

    def care(matter: str, title: str, sentence: str, evidence: str = "default") -> Limit:
        tick = f"{matter}:{array.id}"
        return _limit(
            array,
            matter,
            f"{title}, {array.name}",
            kind="yes_no",
            severity="caution",
            tick=tick,
            evidence=evidence,
            ok=tick in part.plan.ticks,
            sentence=sentence,
        )

    rated, taken = array.count * panel.w, most_w(array, panel, station)
    if taken < rated:
        yield care(
            "clip",
            "Clipped",
            f"Of {number_text(rated)} W of panels the input takes {number_text(taken)} W: the rest is left in "
            f"the panels in "
            "full sun. This isn't a fault, and in dull weather nothing is lost.",
            "fact",
        )
    if array.parallel >= FUSED_FROM:
        yield care(
            "fuses",
            "String fuses",
            f"{array.parallel} parallel strings: each needs its own fuse, and all need a disconnect rated for DC.",
        )
    if array.owned:
        yield care(
            "there",
            "Panels you already have",
            "Find out whether your panels supply power without the grid, whether this station can use them, and "
            "where they connect. An array with its own inverter can't be connected to a solar input.",
        )
    if array.set_out is not None and not panel.portable:
        yield care(
            "out",
            "Plugged in by hand",
            "The array counts only between the hours at which someone plugs it in and unplugs it. Never plug or "
            "unplug a connector that carries current: open its disconnect first.",
        )
    if panel.portable:
        yield care(
            "out",
            "Set out by hand",
            "Folding panels count only once someone sets them out, in suitable weather, with a cord that reaches "
            "a spot with winter sun. Bring them in before wind.",
        )
    volts = cold_v(panel, array.series, record_low_c(part.home.site, outage.outdoors_c))
    if volts > TOUCH_V:
        yield care(
            "dc",
            "DC",
            f"Up to {number_text(volts)} V of DC can't be switched off in daylight. Have a qualified person plug and "
            "wire it, with a disconnect at the array.",
        )


def _limit(array: Array, part: str, title: str, **rest: Any) -> Limit:
    family = f"solar_{part}"
    made = Limit(id=f"{family}:{array.id}", family=family, title=title, counts=True, source=array.id, **rest)
    if made.kind == "yes_no":
        return made
    room = made.limit - made.used if made.kind == "at_most" else made.used - made.limit
    return replace(made, ok=room >= -1e-9)


def _inputs(count: int) -> str:
    return "no solar input" if count == 0 else f"{count} solar input{'s' if count > 1 else ''}"


@dataclass(frozen=True, slots=True, kw_only=True)
class StringLayout:
    """One way to wire a number of panels.

    left_over: panels not used
    takes_w: the most the input takes
    bad: what speaks against it, in sentences
    cable: the thinnest that carries it
    """

    series: int
    parallel: int
    left_over: int
    cold_v: float
    hot_v: float
    isc_a: float
    rated_w: float
    takes_w: float
    bad: tuple[str, ...]
    cable: str


def layouts(array: Array, panel: Panel, station: Station, site: Site, count: int | None = None) -> list[StringLayout]:
    """Every way to wire so many panels (the array's own number) on its input: what fits first, then the most W, then
    the fewest amps, which spares copper. Where all strings side by side are too many amps, as many as are not,
    too."""
    total = array.count if count is None else count
    found = []
    for series in range(1, min(total, MOST_SERIES) + 1):
        all_ = min(total // series, MOST_PARALLEL)
        borne = min(int(most_isc_a(station.solar_input(array.input)) / panel.isc_a + 1e-9), all_)
        for parallel in {all_, max(borne, 1)}:
            found.append(
                _layout(replace(array, series=series, parallel=parallel, cord=None), panel, station, site, total)
            )
    return sorted(found, key=lambda x: (len(x.bad) > 0, -x.takes_w, x.left_over, x.isc_a))


def _layout(laid: Array, panel: Panel, station: Station, site: Site, total: int) -> StringLayout:
    wire = cable_for(laid, panel, metric=station.leg_volts == 230)
    return StringLayout(
        series=laid.series,
        parallel=laid.parallel,
        left_over=total - laid.count,
        cold_v=cold_v(panel, laid.series, record_low_c(site)),
        hot_v=hot_v(panel, laid.series, record_high_c(site) + HOT_RISE_C),
        isc_a=laid.parallel * panel.isc_a,
        rated_w=laid.count * panel.w,
        takes_w=most_w(laid, panel, station),
        bad=tuple(x.sentence for x in array_limits(laid, panel, station, site) if not x.ok),
        cable=wire.name if wire else "thicker than any in the table",
    )


PARTS = ("input", "cold", "system", "isc", "start", "cable", "drop", "clip", "fuses", "there", "out", "dc")
ROWS = (
    LimitRow(
        number=10,
        page="solar",
        state="misfit",
        answers=("larger_station", "other_layout"),
        families=tuple(f"solar_{x}" for x in PARTS),
        check=lambda c: string_limits(c.part, c.outage),
    ),
)
