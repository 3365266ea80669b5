"""Times across a clock change: an hour is an hour, whatever the clock shows."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from imbuto.core.advice.answer import judge
from imbuto.core.basics.clock import grid, hours_between, later
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.outages.checkpoints import checkpoints
from imbuto.core.run.nights import nights
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file
from imbuto.services.desk.run_views import ticks
from tests.breadth import breadth

ZONE = "America/New_York"
AUTUMN, SPRING = datetime(2026, 10, 31, 18), datetime(2026, 3, 7, 18)  # the evening before the clock goes back, forward


def instant(local: datetime) -> datetime:
    return local.replace(tzinfo=ZoneInfo(ZONE)).astimezone(UTC)


@given(
    st.datetimes(datetime(2026, 1, 1), datetime(2026, 12, 1)),
    st.floats(-72, 72).map(lambda h: round(h * 60) / 60),
)
def test_later_and_the_hours_between_are_each_others_inverse(at, hours):
    there = later(at, hours, ZONE)
    back = datetime.fromtimestamp(instant(at).timestamp(), ZoneInfo(ZONE)).replace(tzinfo=None)
    if back != at:  # an hour that the clock skips in spring is none that anybody notes
        return
    between = min((hours_between(at, there.replace(fold=f), ZONE) for f in (0, 1)), key=lambda h: abs(h - hours))
    assert between == pytest.approx(hours, abs=1e-6)


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
    down, up = nights(home.site, grid(start, ZONE, 24.0))[0]
    plain = nights(home.site, grid(start - timedelta(days=3), ZONE, 24.0))[0]  # the same season, without a change
    assert (down, up) == pytest.approx(plain, abs=0.15)  # the sun knows no clock
    assert seen > 3
