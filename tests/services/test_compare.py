"""Plans by outages: each cell is what judging that pair says; money item by item; both ways of saying a difference."""

import re
from decimal import Decimal

import pytest

from imbuto.core.plan.itemised_costs import times
from imbuto.services.compare.plans_by_outage import compare
from tests.demo import demo_copy

HOME = "saltgrass-house"


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    return demo_copy(tmp_path_factory.mktemp("compare"))


def test_every_cell_is_what_judging_the_pair_says(planner):
    view = compare(planner, HOME, "ten-place")
    assert view.rows[0].plan == "ten-place"
    assert len(view.outages) == 4
    for row in view.rows:
        for cell in row.cells:
            v = planner.verdict(HOME, row.plan, cell.outage)
            assert (cell.state, cell.fits, cell.hours) == (v.state, v.fits, v.hours)
            assert cell.low_h == v.low_hours
            assert (cell.reaches, cell.headline) == (v.reaches, v.headline)
            assert not (cell.reaches and (cell.headline.missing or not v.fits))


def test_costs_add_up_and_what_is_there_costs_nothing(planner):
    rows = {r.plan: r for r in compare(planner, HOME, "cords-only").rows}
    ten = rows["ten-place"]
    assert [(c.name, c.count, c.price) for c in ten.costs[:2]] == [
        ("Hogshead", 1, Decimal(3850)),
        ("Stave 3", 2, Decimal(2900)),
    ]
    assert ten.price == sum(c.price for c in ten.costs)
    assert ten.per_kwh == round(1000 * ten.price / Decimal(12_400))
    panels = [c for c in rows["switched-panel"].costs if "Shed roof" in c.name]
    assert [(c.count, c.price) for c in panels] == [(8, Decimal(8 * 185))]
    ops = [{"doc": "switched-panel", "op": "replace", "path": "/arrays/shed-roof/owned", "value": True}]
    planner.edit(HOME, planner.rev(HOME), "own", "Shed roof there already", ops, None)
    after = next(r for r in compare(planner, HOME, "cords-only").rows if r.plan == "switched-panel")
    assert after.price == rows["switched-panel"].price - 8 * 185
    planner.undo(HOME, "u", None)


def test_the_plan_held_against_says_nothing_beside_itself(planner):
    view = compare(planner, HOME, "cords-only")
    first, *rest = view.rows
    assert (first.plan, first.beside) == ("cords-only", "")
    assert all(c.beside == "" for c in first.cells)
    assert first.price == 0  # it is built: all of it is there
    assert all(c.owned and c.price == 0 for c in first.costs)
    ten = next(r for r in compare(planner, HOME, "ten-place").rows if r.plan == "switched-panel")
    assert ten.beside.endswith(" times")
    assert re.fullmatch(r"\d+% (more|less)", ten.beside_more)
    assert rest
    assert "Carry and plug in" in first.hands


@pytest.mark.parametrize(
    ("a", "b", "text"),
    [(18, 10, "1.8 times"), (5, 10, "0.5 times"), (10, 10, "the same"), (10.3, 10, "3% more"), (1, 0, "")],
)
def test_a_difference_is_said_both_ways(a, b, text):
    assert times(a, b) == text
