"""What is shown of a run across a clock change goes by elapsed hours."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.outages.checkpoints import checkpoints
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file
from imbuto.services.desk.run_views import ticks
from tests.breadth import breadth
from tests.core.run.test_clock_change import AUTUMN, SPRING, ZONE, instant


@pytest.mark.parametrize(("start", "shift"), [(AUTUMN, 1), (SPRING, -1), (datetime(2026, 6, 1, 18), 0)])
def test_what_is_shown_of_a_run_goes_by_elapsed_hours(start, shift):
    """At noon the next day the clock says 18 h: 19 have gone by in autumn, 17 in spring."""
    bundle = planfile.read(demo_file("saltgrass-house"), "saltgrass-house")
    home = replace(bundle.home, site=replace(bundle.home.site, time_zone=ZONE, latitude=42.0, longitude=-73.0))
    seen = 0
    for plan in bundle.plans[: breadth(2, 9)]:
        run = judge(home, plan, replace(bundle.outages[0], start=start), shipped(), with_moves=False).run
        assert run is not None
        marks = [(t.h, t.label) for t in ticks(run, 24.0)]
        assert (18 + shift, "noon") in marks
        assert (6.0, f"{start + timedelta(days=1):%a}") in marks
        for check in checkpoints(run):
            assert instant(check.at) == instant(start) + timedelta(hours=check.hours)
            seen += 1
    assert seen > 3
