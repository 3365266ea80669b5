"""What a place answers is what the bar, the rail and the other pages say of the pair."""

import re

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.advice.headline import headline
from imbuto.core.basics.units import kwh_text
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.home.home import Home, Service, Site
from imbuto.services.desk.place_answers import place_answers
from imbuto.services.desk.rail_figures import rail_view
from tests.demo import demo_copy
from tests.support import OUTAGE, plan_of

PAIRS = [
    (home, plan, outage)
    for home, plans, outages in (
        ("saltgrass-house", ("ten-place", "switched-panel", "cords-only", "two-panels"), ("november-windstorm",)),
        ("via-dei-glicini", ("cords-only",), ("evening-cut", "summer-storm")),
    )
    for plan in plans
    for outage in outages
]


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("places"))
    yield planner
    planner.database.close()


@pytest.mark.parametrize(("home", "plan", "outage"), PAIRS)
def test_a_place_says_what_the_bar_and_the_rail_say(planner, home, plan, outage):
    answer = planner.answer_of(home, plan, outage)
    rail, said = rail_view(answer), headline(answer)
    places = place_answers(answer, rail)
    assert set(places) == {"house", "chosen", "source", "hours"}
    assert kwh_text(rail.house_wh_day) in places["house"].words
    assert kwh_text(rail.chosen_wh_day) in places["chosen"].words
    assert kwh_text(rail.nominal_wh) in places["source"].words
    for part in (said.lead, said.life, said.missing, said.may.rstrip(".")):
        assert part in places["hours"].words
    assert said.goal[1:] in places["hours"].words
    assert ("reaches the goal" in places["source"].words) is answer.reaches
    assert ("everything fits" in places["chosen"].words) is (answer.fits and not said.may)
    for place in places.values():
        # Whole sentences, and a next act that leads somewhere.
        assert re.fullmatch(r"[A-Z0-9].*\.", place.words)
        assert "  " not in place.words
        assert bool(place.next) is bool(place.to)


def test_a_home_with_nothing_in_it_is_asked_what_has_to_run():
    home = Home(id="h", name="Home", service=Service(), site=Site(time_zone="UTC"))
    answer = judge(home, plan_of(), OUTAGE, shipped())
    places = place_answers(answer, rail_view(answer))
    assert places["house"].words == "No loads are entered yet. What has to keep running?"
    assert places["chosen"].words == "This plan powers nothing yet."
    assert "no station yet" in places["source"].words
    assert places["hours"].words.endswith(".")
