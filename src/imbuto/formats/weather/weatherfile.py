"""Hourly weather files in: EPW, and TMY3 as CSV; read by pvlib, kept as what days of each month are like."""

from __future__ import annotations

import io
import warnings
from collections.abc import Sequence
from typing import Any

import numpy as np

from imbuto.core.basics.clock import FloatArray, grid
from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.home.home import Site, SkyMonth
from imbuto.core.light.sky_model import warm_up
from imbuto.core.light.solar_light import sky
from imbuto.core.plan.outage import Weather

LIKE: tuple[tuple[float, Weather], ...] = (
    (0.82, "clear"),
    (0.42, "broken"),
    (0.15, "overcast"),
)  # least share of a clear day
LEAST_DAYS = 300
MOST_BYTES = 20_000_000
WHAT = {"ghi": "sun", "temp_air": "air"}


def read(data: bytes, name: str) -> tuple[list[SkyMonth], float, float]:
    """What days of each month are like in a weather file, and the coldest and hottest air in it, °C. Raises
    UnreadableFile."""
    if len(data) > MOST_BYTES:
        raise UnreadableFile(
            name, len(data), f"the file has {len(data) / 1e6:.0f} MB; Imbuto can import {MOST_BYTES / 1e6:g} at most"
        )
    frame, meta = _parsed(data, name)
    ghi, air = _hourly(frame, "ghi", name), _hourly(frame, "temp_air", name)
    if len(frame) < 24 * LEAST_DAYS or not np.isfinite(ghi).all():
        raise UnreadableFile(name, len(frame), "choose a file with a whole year of hourly sun, without gaps")
    clear = _clear_wh(meta, frame.index, name)
    daily = ghi.groupby([frame.index.month, frame.index.day]).sum()
    ideal = clear.groupby([frame.index.month, frame.index.day]).sum()
    share = (daily / ideal.clip(lower=1)).clip(0, 1.3)
    months = [_month(m, share[share.index.get_level_values(0) == m].to_numpy()) for m in range(1, 13)]
    return months, round(float(air.min()), 1), round(float(air.max()), 1)


def _hourly(frame: Any, column: str, name: str) -> Any:
    """A column as numbers: the library leaves one as text when any cell of it is no figure."""
    try:
        return frame[column].astype(float)
    except (KeyError, ValueError, TypeError, OverflowError):
        raise UnreadableFile(name, None, f"its hours of {WHAT[column]} aren't all numbers") from None


def _parsed(data: bytes, name: str) -> tuple[Any, Any]:
    """The hours of a file, with sun and air, and where it was. pvlib is slow to load, and only wanted here."""
    warm_up()
    from pandas.errors import DtypeWarning
    from pvlib import iotools

    text = data.decode("utf-8", errors="replace")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", DtypeWarning)  # a column of numbers and words is refused by name later
            if text.upper().startswith("LOCATION"):
                frame, meta = iotools.read_epw(io.StringIO(text), coerce_year=2025)
            else:
                frame, meta = iotools.read_tmy3(io.StringIO(text), coerce_year=2025, map_variables=True)
    except (ValueError, KeyError, IndexError, TypeError, StopIteration, OverflowError):
        raise UnreadableFile(name, None, "it is neither an EPW nor a TMY3 weather file") from None
    return frame, meta


def _clear_wh(meta: dict[str, float], index: Any, name: str) -> Any:
    """Clear-sky light on the level in the same hours, by the same model as the arrays'. Raises UnreadableFile."""
    try:
        site = Site(
            latitude=float(meta["latitude"]), longitude=float(meta["longitude"]), elevation_m=float(meta["altitude"])
        )
    except (KeyError, ValueError, TypeError):
        raise UnreadableFile(name, None, "its first line doesn't say where it was measured") from None
    first = index[0].tz_convert("UTC").tz_localize(None).to_pydatetime()
    steps = grid(first, "UTC", len(index), 1.0)
    import pandas as pd

    return pd.Series(sky(site, steps, "clear").ghi, index=index)


def _month(month: int, shares: FloatArray) -> SkyMonth:
    likes = [_like(float(x)) for x in shares]
    return SkyMonth(
        month=month, clear=_part(likes, "clear"), broken=_part(likes, "broken"), overcast=_part(likes, "overcast")
    )


def _like(share: float) -> Weather:
    return next((weather for least, weather in LIKE if share >= least), "storm")


def _part(likes: Sequence[Weather], weather: Weather) -> float:
    return round(likes.count(weather) / max(len(likes), 1), 3)
