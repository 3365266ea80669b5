"""What a generator alone, or nothing at all, would cost and do in place of a plan."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from imbuto.core.basics.clock import FloatArray
from imbuto.core.equipment.equipment_units import OutputVolts
from imbuto.core.equipment.fuel import at_height, fuel_line
from imbuto.core.equipment.portable_generator import Generator


@dataclass(frozen=True, slots=True)
class GeneratorInstead:
    """The cheapest generator that carries the same loads by itself.

    hours_l: l for as many hours as the plan lasts; year_l, year_h: of the outages of a usual year
    """

    generator: Generator
    hours_l: float
    year_l: float
    year_h: float


def generator_instead(
    generators: Iterable[Generator],
    load_w: FloatArray,
    most_va: float,
    volts: OutputVolts,
    elevation_m: float,
    hours: float,
    outages_a_year: float,
    usual_h: float,
) -> GeneratorInstead | None:
    """The cheapest that carries the loads at the site's height; None where none does.

    load_w: AC W of the loads in each step of an outage, (n,)
    most_va: everything that may run at once
    volts: that the loads need; a generator for both legs also carries what needs one
    """
    fits = [
        x
        for x in generators
        if at_height(x.rated_va or x.running_w, elevation_m) >= most_va
        and (x.volts == volts or (x.volts, volts) == ("120/240", "120"))
        and x.price > 0
    ]
    if not fits or not len(load_w):
        return None
    best = min(fits, key=lambda x: x.price)
    still, each = fuel_line(best.running_w, best.half_l_h, best.full_l_h)
    an_hour = float(np.mean(still + each * load_w))
    year_h = outages_a_year * usual_h
    return GeneratorInstead(best, an_hour * hours, an_hour * year_h, year_h)
