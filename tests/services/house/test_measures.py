"""Every answer is in the measures of the home it is of, whoever asked first."""

from __future__ import annotations

import contextvars

import pytest

from tests.demo import demo_copy


@pytest.fixture
def planner(tmp_path):
    planner = demo_copy(tmp_path)
    yield planner
    planner.database.close()


def test_what_is_known_already_is_said_in_the_measures_of_the_home_that_asks(planner):
    """A run that was worked out for one request is told anew to another, which has its own context."""
    via, salt = (
        ("via-dei-glicini", "cords-only", "summer-storm"),
        ("saltgrass-house", "ten-place", "november-windstorm"),
    )
    for _ in range(2):
        for home, plan, outage in (via, salt):
            told = contextvars.Context().run(planner.run, home, plan, outage)
            assert ("am" in told.dark_label) == (home == "saltgrass-house"), told.dark_label
