"""Sun and sky of a place by pvlib, which is large and slow to load, and light on a plane, which needs only the sky."""

from __future__ import annotations

from collections.abc import Sequence
from threading import Lock
from typing import Any, NamedTuple

import numpy as np

from imbuto.core.basics.clock import FloatArray

LEAST_COS_ZENITH = 0.01745  # a sun below 89° counts as there, so that its share stays bounded; as pvlib has it

_LOADING = Lock()


class Sky(NamedTuple):
    """Hold sun and light at each midpoint, shapes (n,).

    zenith, azimuth: of the sun, °
    ghi, dni, dhi: light on level ground, from the sun, from the sky, W/m²
    extra: light above the air, W/m²
    """

    zenith: FloatArray
    azimuth: FloatArray
    ghi: FloatArray
    dni: FloatArray
    dhi: FloatArray
    extra: FloatArray


def warm_up() -> None:
    """Load pvlib, which takes seconds, before anyone waits for it.

    One thread at a time: its modules import each other, and two threads meeting half way find them half made.
    """
    with _LOADING:
        import pvlib.iotools
        import pvlib.temperature  # noqa: F401


def skies_at(
    latitude: float, longitude: float, elevation_m: float, start: int, step_h: float, n: int, shares: Sequence[float]
) -> list[Sky]:
    """Return the sky over a place, once for each share of a clear sky's light, 1 for a clear one. start: seconds since
    1970."""
    warm_up()
    import pandas as pd
    from pvlib import atmosphere, clearsky, irradiance, solarposition

    first = np.datetime64(start, "s").astype("datetime64[ms]")
    half = round(step_h * 3_600_000)
    moments = first + (np.arange(n) * half + half // 2).astype("timedelta64[ms]")
    times = pd.DatetimeIndex(moments, tz="UTC")
    day = times.day_of_year.to_numpy()
    sun = solarposition.get_solarposition(times, latitude, longitude, altitude=elevation_m)
    zenith = sun["apparent_zenith"].to_numpy()
    extra = np.asarray(irradiance.get_extra_radiation(day))
    pressure = atmosphere.alt2pres(elevation_m)
    airmass = atmosphere.get_absolute_airmass(atmosphere.get_relative_airmass(zenith), pressure)
    turbidity = _turbidity(times, latitude, longitude)
    with np.errstate(divide="ignore", invalid="ignore"):  # with the sun on the horizon; set to 0 below
        clear: Any = clearsky.ineichen(zenith, airmass, turbidity, elevation_m, extra)
    ghi, dni, dhi = (np.nan_to_num(np.asarray(clear[k])) for k in ("ghi", "dni", "dhi"))
    azimuth, true_zenith = sun["azimuth"].to_numpy(), sun["zenith"].to_numpy()
    found = []
    for share in shares:
        if share >= 1:
            found.append(Sky(zenith, azimuth, ghi, dni, dhi, extra))
            continue
        parts = irradiance.erbs_driesse(ghi * share, true_zenith, day, dni_extra=extra)
        direct, diffuse = (np.nan_to_num(np.asarray(parts[k])) for k in ("dni", "dhi"))
        found.append(Sky(zenith, azimuth, ghi * share, direct, diffuse, extra))
    return found


def _turbidity(times: Any, latitude: float, longitude: float) -> FloatArray:
    """Linke turbidity at each time, shape (n,): the library's figures of the months, straight from the middle of one
    to the middle of the next, as the air doesn't change at the first of a month.

    The library can do so itself, by a call that pandas is about to drop.
    """
    import pandas as pd
    from pvlib import clearsky

    middles = pd.DatetimeIndex([f"2001-{month:02d}-15" for month in range(1, 13)], tz="UTC")
    of_month = clearsky.lookup_linke_turbidity(middles, latitude, longitude, interp_turbidity=False).to_numpy()
    found: FloatArray = np.interp(times.day_of_year, middles.day_of_year, of_month, period=365.0)
    return found


def on_plane(s: Sky, tilt: float, azimuth: float, albedo: float) -> tuple[FloatArray, FloatArray]:
    """Return the light on a plane from the sun and from all else, W/m², by Hay and Davies.

    Written out, since only the sky needs the library: turning a panel must not wait for it. Held to pvlib by a test.
    """
    tilted, high, round_ = np.radians(tilt), np.radians(s.zenith), np.radians(s.azimuth - azimuth)
    towards = np.clip(np.cos(tilted) * np.cos(high) + np.sin(tilted) * np.sin(high) * np.cos(round_), -1, 1)
    direct = np.maximum(s.dni * towards, 0.0)
    near_sun = s.dni / s.extra
    ratio = np.maximum(towards, 0.0) / np.maximum(np.cos(high), LEAST_COS_ZENITH)
    even = np.maximum(s.dhi * (1 - near_sun) * 0.5 * (1 + np.cos(tilted)), 0.0)
    from_sky = even + np.maximum(s.dhi * near_sun * ratio, 0.0)
    from_ground = s.ghi * albedo * (1 - np.cos(tilted)) * 0.5
    return np.nan_to_num(direct), np.nan_to_num(from_sky + from_ground)
