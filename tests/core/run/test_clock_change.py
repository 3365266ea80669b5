"""Times across a clock change: an hour is an hour, whatever the clock shows."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from imbuto.core.basics.clock import grid, hours_between, later
from imbuto.core.home.home import Site
from imbuto.core.run.nights import nights

ZONE = "America/New_York"
# The evening before the clock goes back, and forward.
AUTUMN, SPRING = datetime(2026, 10, 31, 18), datetime(2026, 3, 7, 18)


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


@pytest.mark.parametrize("start", [AUTUMN, SPRING])
def test_the_sun_knows_no_clock(start):
    site = Site(time_zone=ZONE, latitude=42.0, longitude=-73.0)
    across = nights(site, grid(start, ZONE, 24.0))[0]
    plain = nights(site, grid(start - timedelta(days=3), ZONE, 24.0))[0]  # the same season, without a change
    assert across == pytest.approx(plain, abs=0.15)
