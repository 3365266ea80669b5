"""The plan that a new home begins with."""

from __future__ import annotations

from datetime import date

from imbuto.core.basics.errors import UnknownReference
from imbuto.core.home.home import Home
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.services.first_page.first_answers import OWN_ID, FirstHome, cords_plan, first_home
from imbuto.services.first_page.first_questions import Answers
from imbuto.services.first_page.tried_sizes import proposed, tried_size, tried_sizes


def first_answer(answers: Answers, today: date) -> tuple[Home, Plan, Outage]:
    """Make a home with those loads, a plan on cords, and the usual outage.

    The station is the one that is there, or the package chosen; else the smallest that fits and reaches the goal, or
    the one that lasts longest. Raises UnknownReference.
    """
    first = first_home(answers, today)
    return first.home, first_plan(first, answers), first.outage


def first_plan(first: FirstHome, answers: Answers) -> Plan:
    """Choose the station and put everything on its cords. Raises UnknownReference."""
    if answers.own is not None:
        return cords_plan(first, first.catalogue.stations[OWN_ID], 0, owned=True)
    if answers.buy is not None:
        station = first.catalogue.stations.get(answers.buy.station)
        if station is None or station.leg_volts != first.home.service.volts:
            raise UnknownReference("buy", answers.buy.station, "choose one of the packages shown")
        return tried_size(first, station, min(answers.buy.modules, station.max_modules)).plan
    sizes = tried_sizes(first)
    return sizes[proposed(sizes)].plan if sizes else Plan(id="cords", name="Cords only")
