"""The register of limits: every limit that is ever given has a row, a page in the guide and an answer that exists."""

import re
from pathlib import Path

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.advice.moves.plan_moves import ANSWERS
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.limits.limit_registry import by_family, rows
from imbuto.formats import planfile
from imbuto.services.desk.demo import DEMO_HOMES, demo_file
from tests.support import random_plan

GUIDE = Path(__file__).parents[3] / "docs" / "guide"
SOURCE = Path(__file__).parents[3] / "src" / "imbuto" / "core"


def test_every_limit_given_is_of_a_family_with_a_row():
    given = set()
    for name in DEMO_HOMES:
        demo = planfile.read(demo_file(name), "demo")
        for plan in demo.plans:
            for outage in demo.outages:
                given |= {x.family for x in judge(demo.home, plan, outage, demo.catalogue, with_moves=False).limits}
    for seed in range(60):
        home, plan, outage = random_plan(seed)
        given |= {x.family for x in judge(home, plan, outage, shipped(), with_moves=False).limits}
    assert len(given) > 15
    assert given <= set(by_family())


def test_every_family_that_stands_in_the_code_has_a_row():
    written = {
        f
        for p in SOURCE.rglob("*.py")
        for f in re.findall(r'\bfamily="([a-z_0-9]+)"', p.read_text())
        if "limits" in str(p)
    }
    assert written - set(by_family()) == set()


@pytest.mark.parametrize("row", rows(), ids=lambda r: f"{r.number}-{r.families[0]}")
def test_a_row_has_its_page_and_answers_that_exist(row):
    page = f"limits/{row.number:02d}-{row.page}.md"
    assert (GUIDE / page).is_file()
    assert page in (GUIDE / "limits.md").read_text()
    assert set(row.answers) <= set(ANSWERS)
