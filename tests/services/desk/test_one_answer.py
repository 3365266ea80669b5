"""The same answer in every place: the first page, the bar, Compare, the sheets, the money and the command line."""

from __future__ import annotations

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.advice.headline import headline
from imbuto.core.everyday.ordinary_start import as_left
from imbuto.services.compare.estimate import as_text
from imbuto.services.compare.plans_by_outage import compare
from imbuto.services.desk.demo import DEMO_HOMES
from imbuto.services.everyday.worth.worth_it import worth
from imbuto.services.first_page.home_summary import front_view
from imbuto.services.papers.sheet_registry import page
from tests.demo import demo_copy
from tests.support import text_of


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    return demo_copy(tmp_path_factory.mktemp("one-answer"))


@pytest.mark.parametrize("home", DEMO_HOMES)
def test_every_place_says_the_same_of_a_pair(planner, home):
    documents = planner.documents(planner.state(home))
    plans, outages = documents.plans, documents.outages
    front = front_view(planner, home)
    cells = {
        (row.plan, cell.outage): cell.headline
        for row in compare(planner, home, next(iter(plans))).rows
        for cell in row.cells
    }
    for plan in plans.values():
        for outage in outages.values():
            begun = as_left(documents.home, plan, outage, documents.catalogue, outages.values())
            answer = judge(documents.home, plan, begun, documents.catalogue)
            said = headline(answer)
            view = planner.verdict(home, plan.id, outage.id)
            assert view.headline.sentence == said.sentence
            assert cells[plan.id, outage.id] == view.headline
            assert said.sentence in as_text(answer) or answer.run is None
            assert (view.hours, view.low_hours) == (answer.hours, answer.band.low_h if answer.band else None)
            if (plan.id, outage.id) == (front.plan, front.outage):
                assert front.says == said.sentence
            run = planner.run(home, plan.id, outage.id)
            if run is not None and len(plan.sources) == 1:
                assert run.dark_h == answer.hours
        outage = next(iter(outages.values()))
        view = planner.verdict(home, plan.id, outage.id)
        assert view.headline.sentence in text_of(page(planner, home, plan.id, outage.id, "hours"))
        assert view.headline.short in text_of(page(planner, home, plan.id, outage.id, "household"))
        if view.fits:  # the card has each station's own hours, the lowest of which are the plan's
            assert view.headline.figure in text_of(page(planner, home, plan.id, outage.id, "run-card"))
        rivals = {r.plan: r.hours for r in worth(planner, home, plan.id, outage.id).rivals}
        assert rivals[plan.id] == view.headline.short
