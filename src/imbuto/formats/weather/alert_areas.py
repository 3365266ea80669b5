"""Tell whether a home lies in the areas of an alert (Common Alerting Protocol 1.2: polygons and circles)."""

from __future__ import annotations

import math
from collections.abc import Sequence

import shapely

from imbuto.core.basics.errors import InvalidValue

KM_PER_DEGREE = 111.2
NEAR_KM = 20.0  # a home is often entered as its town; planning default
MOST_CORNERS = 20_000
Place = tuple[float, float]


def distance_km(home: Place, polygons: Sequence[str], circles: Sequence[str]) -> float | None:
    """Give the distance from a home to the nearest of these areas, km; 0 inside one, None where there is none.

    home: latitude and longitude, degrees
    polygons: each as ``38.5,-120.1 38.7,-119.9 …``, closed
    circles: each as ``38.5,-120.1 25``, with its radius in km
    Raises InvalidValue for one that can't be read.
    """
    away = [_from_polygon(home, text) for text in polygons] + [_from_circle(home, text) for text in circles]
    return min(away, default=None)


def is_near(distance: float | None) -> bool:
    """Tell whether a home may lie in an area at that distance, km; one that has no shape may be anywhere."""
    return distance is None or distance <= NEAR_KM


def _from_polygon(home: Place, text: str) -> float:
    corners = [_plane(home, _pair("polygon", corner, text)) for corner in text.split()]
    if not 4 <= len(corners) <= MOST_CORNERS or corners[0] != corners[-1]:
        raise InvalidValue("polygon", text[:80], "an area needs at least four corners, and ends where it starts")
    return float(shapely.make_valid(shapely.Polygon(corners)).distance(shapely.Point(0, 0)))


def _from_circle(home: Place, text: str) -> float:
    center, _, radius = text.strip().partition(" ")
    km = _number("circle", radius, text)
    if not 0 <= km <= 20_000:
        raise InvalidValue("circle", text[:80], "enter a radius of 0 to 20,000 km")
    return max(math.hypot(*_plane(home, _pair("circle", center, text))) - km, 0.0)


def _pair(field: str, corner: str, text: str) -> Place:
    latitude, comma, longitude = corner.partition(",")
    found = _number(field, latitude, text), _number(field, longitude, text)
    if not comma or abs(found[0]) > 90 or abs(found[1]) > 180:
        raise InvalidValue(field, text[:80], "enter corners as latitude,longitude in degrees")
    return found


def _number(field: str, word: str, text: str) -> float:
    try:
        found = float(word)
    except ValueError:
        found = math.nan
    if not math.isfinite(found):
        raise InvalidValue(field, text[:80], "enter corners as latitude,longitude in degrees")
    return found


def _plane(home: Place, at: Place) -> tuple[float, float]:
    """East and north of the home, km, on a plane that touches the earth there."""
    east = (at[1] - home[1] + 180) % 360 - 180
    return east * math.cos(math.radians(home[0])) * KM_PER_DEGREE, (at[0] - home[0]) * KM_PER_DEGREE
