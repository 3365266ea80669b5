"""When it is night at a site."""

from __future__ import annotations

from datetime import datetime, time, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

from astral import Observer
from astral.sun import elevation, sunrise, sunset

from imbuto.core.basics.clock import Grid
from imbuto.core.home.home import Site


@lru_cache(maxsize=64)
def nights(site: Site, steps: Grid) -> tuple[tuple[float, float], ...]:
    """The nights of a run as elapsed hours (sunset, sunrise), clipped to the run, in order."""
    zone = ZoneInfo(site.time_zone)
    observer = Observer(site.latitude, site.longitude, site.elevation_m)
    first = steps.start.date() - timedelta(days=1)
    found = []
    for k in range(int(steps.hours / 24) + 3):
        day = first + timedelta(days=k)
        try:
            down = sunset(observer, day, zone)
            up = sunrise(observer, day + timedelta(days=1), zone)
        except ValueError:  # the sun does not cross the horizon that day
            noon = datetime.combine(day, time(12), zone)
            if elevation(observer, noon) > 0:
                continue
            down, up = noon, noon + timedelta(days=1)
        a, b = (max(0.0, steps.elapsed_h(m)) for m in (down, up))
        if a < steps.hours and b > 0:
            found.append((a, min(b, steps.hours)))
    return tuple(found)


def which_part(site: Site, steps: Grid, hour: float) -> str:
    """``night 2`` or ``day 1``: the part of the outage an elapsed hour lies in."""
    before = 0
    for down, up in nights(site, steps):
        if hour < down:
            break
        before += 1
        if hour < up:
            return f"night {before}"
    starts_in_night = any(down <= 0 for down, _ in nights(site, steps)[:1])
    return f"day {before if starts_in_night else before + 1}"
