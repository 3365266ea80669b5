"""Planning defaults are on a page of the guide, so that none changes unseen."""

from __future__ import annotations

from bench.planning_defaults import PAGE, page


def test_the_page_has_every_default_as_the_code_has_it():
    assert PAGE.read_text() == page(), "make defaults, and say in CHANGELOG which figure changed and why"


def test_it_has_what_the_design_names():
    """The ranges of starts, what a station delivers, and what an outlet gives, as the design has them."""
    made = page()
    for row in (
        "| `DELIVERABLE` | `0.97` |",
        "'pump': (5, 7, 10)",
        "'compressor': (6, 9, 14)",
        "120: 1440.0, 230: 2300.0",
    ):
        assert row in made, row
