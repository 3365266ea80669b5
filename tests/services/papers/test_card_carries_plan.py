"""The card and the household sheet contain what the promised hours contain."""

from __future__ import annotations

import re

import pytest

from imbuto.core.outages.checkpoints import checkpoints, first_off
from imbuto.core.switching.running_acts import running_acts
from imbuto.formats import planfile
from imbuto.services.desk.demo import DEMO_HOMES, demo_file
from imbuto.services.papers.sheet_registry import page
from imbuto.services.papers.sheet_request import sheet_request
from tests.demo import demo_copy
from tests.support import text_of


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("carried"))
    yield planner
    planner.database.close()


@pytest.mark.parametrize("home", DEMO_HOMES)
def test_turns_generator_and_absences_are_on_the_card_and_for_the_household(planner, home):
    bundle = planfile.read(demo_file(home), "demo")
    outage = bundle.outages[0].id
    seen = 0
    for plan in bundle.plans:
        a = sheet_request(planner, home, plan.id, outage)
        card, sheet = (text_of(page(planner, home, plan.id, outage, kind)) for kind in ("run-card", "household"))
        for act in running_acts(a.parts):
            assert act in card, (plan.id, act)
            assert act in sheet, (plan.id, act)
        said = card.partition("During the outage (the hours")[2].partition("Through the day")[0]
        for part in a.parts:
            for item in part.fed:
                if item.feed.stance == "turns" and not item.assumed:
                    assert part.target_names[item.feed.id] in said, (plan.id, item.feed.id)
                    seen += 1
            if part.source.away is not None or part.source.after is not None:
                assert part.station.name in said
        if plan.engine is not None:
            assert f"{100 * plan.engine.start_at:.0f}%" in said
            assert f"{100 * plan.engine.stop_at:.0f}%" in said
            assert "Fuel available" in said
    assert seen > 3 or home != "saltgrass-house"


def test_the_day_on_the_card_is_the_run_itself_and_never_sheds_what_health_needs(planner):
    home, outage = "saltgrass-house", "november-windstorm"
    for plan in ("ten-place", "switched-panel", "two-panels"):
        for v in planner.answer_of(home, plan, outage).stations:
            assert v.run is not None
            points = checkpoints(v.run)
            for c in points:
                i = round(c.hours / v.run.steps.step_h)
                assert c.expected == pytest.approx(float(v.run.charge[i]), abs=1e-9)
                assert 0 <= c.least <= c.expected
            for name in first_off(v.part):
                feeds = [f for f in v.part.fed if v.part.target_names[f.feed.id] == name]
                assert all(f.load.purpose not in ("life", "house") for f in feeds), name
    card = text_of(page(planner, home, "ten-place", outage, "run-card"))
    assert re.search(r"4 h, such as \w+ 9:00 pm Hogshead \d+% \d+% _+ ?%", card)
    assert "If lower, switch off" in card
