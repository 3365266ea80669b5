"""What sheets reveal is found in their own words, and the version for strangers holds none of it."""

from __future__ import annotations

import re

import pytest

from imbuto.services.desk.demo import DEMO_HOMES
from imbuto.services.papers.private_details import ABSENT, HEALTH, private_words
from imbuto.services.papers.sheet_registry import as_table, kinds, page, private
from tests.breadth import breadth
from tests.demo import demo_copy
from tests.support import text_of


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("private"))
    yield planner
    planner.database.close()


@pytest.mark.parametrize("home", DEMO_HOMES)
def test_the_version_for_strangers_holds_nothing_of_health_absence_or_anybody(planner, home):
    documents = planner.documents(planner.state(home))
    words = private_words(documents.home)
    outage = next(iter(documents.outages))
    for plan in list(documents.plans)[: breadth(1, 9)]:
        told = {v.id: v for v in private(planner, home, plan, outage)}
        assert {x for k in kinds() for x in told[k.id].left} <= {"prices"}
        for kind in kinds():
            plain = text_of(page(planner, home, plan, outage, kind.id))
            veiled = text_of(page(planner, home, plan, outage, kind.id, strangers=True))
            for w in words:
                assert w.words.casefold() not in veiled.casefold(), (plan, kind.id, w)
            assert not re.search(HEALTH, veiled, re.IGNORECASE), (plan, kind.id)
            assert not re.search(ABSENT, veiled, re.IGNORECASE), (plan, kind.id)
            names = [w for w in words if w.words.casefold() in plain.casefold()]
            shown = set(told[kind.id].reveals)
            assert ("phone numbers" in shown) == any(w.kind == "phones" for w in names), (plan, kind.id)
            assert ("devices for health" in shown) >= any(w.kind == "health" for w in names), (plan, kind.id)
            assert ("who is away" in shown) >= any(w.kind == "absence" for w in names), (plan, kind.id)


def test_what_is_done_stays_on_the_card_for_strangers(planner):
    """A neighbour who switches needs every lever, and none of the names."""
    card = text_of(page(planner, "saltgrass-house", "ten-place", "november-windstorm", "run-card", strangers=True))
    for lever in range(1, 11):
        assert f"Lever {lever}, " in card
    assert "Never on while on backup power" in card
    assert "Lever 4, circuit in slot" in card


def test_a_brief_for_electricians_tells_nothing_of_health(planner):
    told = {v.id: v for v in private(planner, "saltgrass-house", "ten-place", "november-windstorm")}
    assert "devices for health" not in told["brief"].reveals
    assert {"devices for health", "who is away", "phone numbers"} <= set(told["run-card"].reveals)
    table = as_table(planner, "saltgrass-house", "ten-place", "november-windstorm", "schedule", strangers=True)
    assert "oncentrator" not in table
