"""How a load's figure is known, and how uncertain that leaves it."""

from __future__ import annotations

import math
from typing import Literal

Evidence = Literal["guess", "label", "metered", "logged"]

# One sigma of the average, as a share of it. Planning defaults until readings of their own come in.
DEFAULT_SPREAD: dict[Evidence, float] = {"guess": 0.40, "label": 0.25, "metered": 0.08, "logged": 0.05}
HEATER_LABEL_SPREAD = 0.08  # a plain heater draws what its label says; planning default
LEAST_SPREAD = 0.03  # no figure is better known than this; planning default
TARGET_SPREAD = 0.08  # what a full day on a plug-in meter gives
Z_9_IN_10 = 1.2815515655446004  # the standard normal's 0.9 quantile


def spread_of(evidence: Evidence, *, plain_heater: bool = False, stated: float | None = None) -> float:
    """Relative one-sigma uncertainty of an average, 0.03 or more."""
    if stated is not None:
        return max(stated, LEAST_SPREAD)
    if evidence == "label" and plain_heater:
        return HEATER_LABEL_SPREAD
    return DEFAULT_SPREAD[evidence]


def spread_of_range(low: float, usual: float, high: float) -> float:
    """Relative one sigma of a low · usual · high guess: (high - low) / 2.56 over usual."""
    return max((high - low) / 2.56 / usual, LEAST_SPREAD) if usual > 0 else LEAST_SPREAD


def lognormal_sigma(relative: float) -> float:
    """The log-space sigma of a lognormal whose relative standard deviation is given."""
    return math.sqrt(math.log1p(relative * relative))
