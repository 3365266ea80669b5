"""What size by hand: sums with one's own numbers, and the night list."""

from __future__ import annotations

import math
from dataclasses import dataclass

from imbuto.core.advice.answer import Answer
from imbuto.core.advice.by_hand import HandSum, KnownNumbers, NightSum, filled, hand_sums, night_in_words, night_sum
from imbuto.core.plan.entered.own_numbers import OwnNumbers
from imbuto.services.desk.planner import Planner
from imbuto.services.source.sizing_views import sun_on_plane


@dataclass(frozen=True, slots=True, kw_only=True)
class ByHandView:
    """Sums by hand.

    entered: numbers that somebody entered, as they are kept
    used: with what is known of the plan where nothing was entered
    night: the night list added up, None while it is empty; night_says: the same in a sentence
    """

    entered: OwnNumbers
    used: OwnNumbers
    sums: list[HandSum]
    night: NightSum | None
    night_says: str


def by_hand_view(planner: Planner, home_id: str, plan: str, outage: str) -> ByHandView:
    """Sums by hand for a plan in an outage. Raises NotFound."""
    answer = planner.answer_of(home_id, plan, outage)
    own = answer.plan.own_numbers or OwnNumbers()
    known = _known(answer, planner, home_id)
    night = None
    if own.night.loads:
        runs = [v.run for v in answer.stations if v.run is not None]
        night = night_sum(own.night, answer.home.loads, runs)
    return ByHandView(
        entered=own,
        used=filled(own, known),
        sums=list(hand_sums(own, known)),
        night=night,
        night_says=night_in_words(night) if night else "",
    )


def _known(answer: Answer, planner: Planner, home_id: str) -> KnownNumbers:
    day_wh = 24 * answer.average_w or None
    days = float(max(1, math.ceil(answer.outage.goal_hours / 24)))
    if answer.lead is None:
        return KnownNumbers(day_wh=day_wh, days=days)
    part = answer.lead.part
    station, sun = part.station, sun_on_plane(part, planner, home_id)
    return KnownNumbers(
        day_wh=day_wh,
        days=days,
        module_wh=station.module_wh or station.nominal_wh,
        most_modules=station.max_modules if station.module_wh else None,
        panel_w=sun.panel.w if sun else None,
        sun_hours=sun.hours[sun.worst] if sun else None,
        input_w=min(station.solar_w, station.input_ceiling_w or station.solar_w),
        continuous_w=station.continuous_w,
        station=station.name,
    )
