"""What a battery gives and takes at a temperature."""

from __future__ import annotations

import itertools
import math

COLD_POINTS = ((-20.0, 0.55), (-10.0, 0.75), (0.0, 0.88), (10.0, 0.95), (25.0, 1.00))
COLD_CHARGE, WARM_CHARGE_C = (
    0.2,
    15.0,
)  # a fifth of the rated charging power at 0 °C, all of it from 15 °C; planning default


def capacity_factor(cell_c: float) -> float:
    """Share of an LFP cell's 25 °C energy that can be drawn at a temperature in °C; linear between points.

    Planning default. Below -20 °C the last value holds, above 25 °C it is 1.
    """
    if cell_c <= COLD_POINTS[0][0]:
        return COLD_POINTS[0][1]
    for (c0, f0), (c1, f1) in itertools.pairwise(COLD_POINTS):
        if cell_c <= c1:
            return f0 + (f1 - f0) * (cell_c - c0) / (c1 - c0)
    return 1.0


def charge_factor(cell_c: float, least_c: float, most_c: float, *, heater: bool) -> float:
    """Share of its rated charging power a battery takes at most at a temperature in °C.

    None outside the maker's range, rising from 0.2 to 1 between 0 and 15 °C; all of it with a heater below, whose own
    draw is not counted. Planning default.
    """
    if cell_c > most_c or (cell_c < least_c and not heater):
        return 0.0
    if heater or cell_c >= WARM_CHARGE_C:
        return 1.0
    return COLD_CHARGE + (1 - COLD_CHARGE) * max(cell_c, 0.0) / WARM_CHARGE_C


def most_charge_w(factor: float, charger_w: float, solar_w: float) -> float:
    """W into the battery at most, at a charge factor: a share of the rated power, which is the greater of what the
    charger (AC W) and the solar inputs (DC W) bring; infinite where the factor leaves all, or neither is listed and
    the factor is not 0."""
    rated = max(0.92 * charger_w, 0.97 * solar_w)
    if factor >= 1 or (rated <= 0 < factor):
        return math.inf
    return factor * rated
