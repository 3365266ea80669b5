"""What a generator gives at a height, and burns at a load."""

from __future__ import annotations

DERATING = 0.035  # of an engine's power for each 300 m of height; planning default


def fuel_line(running_w: float, half_l_h: float, full_l_h: float) -> tuple[float, float]:
    """Fuel at no load, l/h, and for each Wh, from what half and full load take: a straight line, never below 0."""
    still = max(2 * half_l_h - full_l_h, 0.0)
    return still, (full_l_h - still) / running_w


def at_height(running_w: float, elevation_m: float) -> float:
    """An engine's W at a height in m: 3.5% less for each 300 m."""
    return running_w * max(1 - DERATING * max(elevation_m, 0.0) / 300, 0.0)
