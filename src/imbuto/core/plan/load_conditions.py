"""What loads draw in an outage: by its season, its weather, and the room they stand in. All factors are planning
defaults, and a metered reading taken under like conditions is worth more than any of them."""

from __future__ import annotations

from dataclasses import replace

from imbuto.core.home.home import Home, Site
from imbuto.core.home.loads import Load, Season, figures_of
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan

ROOM_BASE_C, ROOM_PART_A_C = (
    22.0,
    0.04,
)  # refrigeration: 4 % more for each °C above the room it was measured in, unknown 22
STORM_FACTOR, STORM_DUTY = 3.0, 0.20  # a sump pump in a storm: three times its metered duty, a fifth at the least
DEFROST_PART, DEFROST_C = 0.10, (-5.0, 5.0)
COP_AT_7, COP_A_C, COP_RANGE = 3.2, 0.08, (1.5, 5.0)
WARM_MONTHS, COLD_MONTHS = (5, 6, 7, 8, 9), (11, 12, 1, 2, 3)


def season_of(outage: Outage, site: Site) -> Season:
    """The season an outage begins in: warm from May to September, cold from November to March; the other way round
    south of the equator."""
    month = outage.start.month
    warm, cold = (WARM_MONTHS, COLD_MONTHS) if site.latitude >= 0 else (COLD_MONTHS, WARM_MONTHS)
    return "warm" if month in warm else "cold" if month in cold else "any"


def weather_share(load: Load, outdoors_c: float) -> float:
    """Share of the design need at an outdoor temperature: 0 at the balance point, 1 at the design one, beyond it
    more."""
    use = load.use
    if use.design_c == use.balance_c:
        return 1.0
    return max((outdoors_c - use.balance_c) / (use.design_c - use.balance_c), 0.0)


def cop(outdoors_c: float) -> float:
    """Heat over electricity of a heat pump: 3.2 at 7 °C, 0.08 less a degree colder; between 1.5 and 5."""
    return min(max(COP_AT_7 + COP_A_C * (outdoors_c - 7), COP_RANGE[0]), COP_RANGE[1])


def weather_average_w(load: Load, outdoors_c: float) -> float:
    """Mean W of a weather-driven load: duty is linear in the outdoor temperature, capped at 1.

    A heat pump's W are its heat over the COP, with a tenth more for defrost from -5 to 5 °C; what it draws at rest
    (its crankcase heater) comes on top.
    """
    share = weather_share(load, outdoors_c)
    if not load.use.heat_pump:
        return load.rest_w + (load.run_w - load.rest_w) * min(share * load.use.design_duty, 1.0)
    active = (load.run_w - load.rest_w) * load.use.design_duty * share * cop(load.use.design_c) / cop(outdoors_c)
    if DEFROST_C[0] <= outdoors_c <= DEFROST_C[1]:
        active *= 1 + DEFROST_PART
    return load.rest_w + min(active, load.run_w - load.rest_w)


def room_c(load: Load, outage: Outage) -> float:
    """°C of the room a load stands in."""
    return outage.garage_c if "garage" in load.room.lower() else outage.indoors_c


def as_used(load: Load, plan: Plan, outage: Outage, site: Site) -> Load:
    """A load as it is used in an outage: in the setting the plan says or the season fits, at its weather and room."""
    chosen = load.settings.get(plan.settings.get(load.id, ""))
    if chosen is None and load.id not in plan.settings:
        season = season_of(outage, site)
        chosen = next((s for s in load.settings.values() if season != "any" and s.season == season), None)
    if chosen is not None:
        load = replace(load, **figures_of(chosen))
    if load.use.kind == "weather":
        return replace(load, average_w=weather_average_w(load, outage.outdoors_c))
    if load.use.kind != "cycling" or load.run_w <= load.rest_w:
        return load
    span = load.run_w - load.rest_w
    duty = (load.average_w - load.rest_w) / span
    stormy = outage.share_of("storm") if load.use.in_storms else 0.0
    if stormy > 0:
        duty += stormy * (max(STORM_FACTOR * duty, STORM_DUTY) - duty)
    elif load.kind == "compressor" and load.purpose == "food":
        measured = ROOM_BASE_C if load.measured_c is None else load.measured_c
        warmer = max(room_c(load, outage) - measured, 0.0)
        if warmer == 0:
            return load
        duty *= 1 + ROOM_PART_A_C * warmer
    else:
        return load
    return replace(load, average_w=load.rest_w + span * min(duty, 1.0))


def as_learnt(load: Load, scale: float) -> Load:
    """A load that uses so many times the energy that was entered. Its running watts stay: an outage shows how much
    was used, not that an appliance draws more at once. One that cycles never averages more than it draws running."""
    if scale == 1.0:
        return load
    average = scale * load.average_w
    if load.use.kind in ("cycling", "weather"):
        return replace(load, average_w=min(max(average, load.rest_w), max(load.run_w, load.average_w)))
    return replace(load, average_w=average)


def in_outage(home: Home, plan: Plan, outage: Outage) -> Home:
    """The home with its loads as they are used in an outage, and as outages of that season have shown them to draw."""
    learnt = home.learnt.get(season_of(outage, home.site))
    scale = 1.0 if learnt is None else learnt.scale
    used = {k: as_learnt(as_used(load, plan, outage, home.site), scale) for k, load in home.loads.items()}
    if all(used[k] is load for k, load in home.loads.items()):
        return home
    return replace(home, loads=used)
