"""The figures of the four bands of the funnel."""

from __future__ import annotations

from dataclasses import dataclass

from imbuto.core.advice.answer import Answer
from imbuto.core.advice.house_totals import chosen_day_wh
from imbuto.core.home.home import day_wh
from imbuto.services.desk.device_boards import boards


@dataclass(frozen=True, slots=True, kw_only=True)
class RailView:
    """Hold the figures of the four bands of the funnel.

    traced: circuits whose loads are known
    nominal_wh: of all stations
    continuous_w, leg_a, legs: of the first station
    """

    house_wh_day: float
    loads: int
    circuits: int
    traced: int
    slots: int
    chosen_wh_day: float
    places_used: int
    places: int
    place_word: str
    station: str | None
    nominal_wh: float
    continuous_w: float
    leg_a: float
    legs: int
    stations: int


def rail_view(answer: Answer) -> RailView:
    """The funnel rail's figures."""
    home, parts, there = answer.home, answer.system.parts, boards(answer)
    station = parts[0].station if parts else None
    return RailView(
        house_wh_day=day_wh(home),
        loads=len(home.loads),
        circuits=len(home.circuits),
        traced=sum(c.traced for c in home.circuits.values()),
        slots=home.service.slots,
        chosen_wh_day=chosen_day_wh(answer.wirings),
        places_used=sum(b.used for b in there),
        places=sum(b.places for b in there),
        place_word="outlets" if not answer.wirings[0].equipment.traits.wired else "slots",
        station=" and ".join(x.station.name for x in parts) or None,
        nominal_wh=sum(x.stored_wh for x in parts),
        continuous_w=station.continuous_w if station else 0.0,
        leg_a=station.leg_a if station else 0.0,
        legs=len(station.legs) if station else 0,
        stations=len(parts),
    )
