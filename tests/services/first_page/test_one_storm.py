"""One storm over several homes."""

from dataclasses import replace
from datetime import datetime

import pytest

from imbuto.core.basics.errors import NotFound
from imbuto.formats.documents import OUTAGE
from imbuto.services.first_page.one_storm import STORM_ID, SharedStorm, in_season, keep_storm, storm_answer
from tests.demo import demo_copy
from tests.support import OUTAGE as CASE

STORM = SharedStorm(name="Gale", start=datetime(2026, 12, 2, 18), hours=30, weather="storm")
HOMES = ("saltgrass-house", "via-dei-glicini")


@pytest.fixture
def planner(tmp_path):
    planner = demo_copy(tmp_path)
    yield planner
    planner.database.close()


def test_the_storm_says_the_same_before_it_is_kept_and_in_the_home_afterwards(planner):
    for home in HOMES:
        for plan in [p["id"] for p in planner.state(home).plans][:2]:
            before = storm_answer(planner, home, STORM, plan)
            keep_storm(planner, home, STORM, f"{home}-{plan}")
            after = storm_answer(planner, home, STORM, plan)
            assert (before.kept, after.kept) in (("", STORM_ID), (STORM_ID, STORM_ID))
            v = planner.verdict(home, plan, STORM_ID)
            assert before.says == after.says == v.headline.sentence
            assert (after.reaches, after.fits) == (v.reaches, v.fits)


def test_a_storm_is_kept_once_as_one_edit_in_the_place_of_the_one_before(planner):
    home = HOMES[0]
    before = planner.state(home).outages
    keep_storm(planner, home, STORM, "a")
    keep_storm(planner, home, replace(STORM, hours=12), "b")
    (kept,) = [OUTAGE.read(o) for o in planner.state(home).outages if o["id"] == STORM_ID]
    assert (kept.hours, kept.goal_hours, kept.weather) == (12, 12, "storm")
    assert not storm_answer(planner, home, STORM).kept  # another one is
    for turn in ("c", "d"):
        planner.undo(home, turn, None)
    assert planner.state(home).outages == before


def test_it_is_as_warm_as_the_homes_own_outage_nearest_in_the_year():
    june, december, january = (
        replace(CASE, id=str(m), start=datetime(2026, m, d)) for m, d in ((6, 1), (12, 20), (1, 3))
    )
    assert in_season([june, december, january], datetime(2027, 1, 1)).id == "1"
    assert in_season([june, december, january], datetime(2027, 12, 15)).id == "12"
    storm = replace(january, id=STORM_ID, outdoors_c=-30)
    assert in_season([storm, june], datetime(2027, 1, 1)).id == "6"
    assert in_season([storm], datetime(2027, 1, 1)).id == STORM_ID


def test_a_plan_that_is_not_there_is_refused(planner):
    with pytest.raises(NotFound, match="that plan"):
        storm_answer(planner, HOMES[0], STORM, "nowhere")
