"""Light on a plane and what panels make of it, beside pvlib called directly."""

import subprocess
import sys
import warnings
from datetime import datetime

import numpy as np
import pandas as pd
import pytest
from pvlib.clearsky import lookup_linke_turbidity
from pvlib.irradiance import get_extra_radiation, get_total_irradiance
from pvlib.location import Location

from imbuto.core.basics.clock import grid
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.home.home import Site
from imbuto.core.light.sky_model import on_plane
from imbuto.core.light.solar_light import day_of, panels_w, plane_w_m2, sky
from imbuto.core.plan.sources import Shade
from imbuto.core.run.battery_temperature import charge_factor
from imbuto.core.run.nights import nights

COAST = Site(latitude=44.6, longitude=-124.0, elevation_m=18, time_zone="America/Los_Angeles", climate="mild")
SOUTH = Site(latitude=-33.4, longitude=18.5, elevation_m=100, time_zone="Africa/Johannesburg", climate="hot_summer")


def day(site: Site, when: datetime):
    """One day in five-minute steps."""
    return grid(when, site.time_zone, 24)


@pytest.mark.parametrize("site", [COAST, SOUTH])
@pytest.mark.parametrize(("tilt", "azimuth"), [(0, 180), (30, 180), (60, 270)])
def test_a_clear_day_is_what_pvlib_says(site, tilt, azimuth):
    steps = day(site, datetime(2026, 6, 20))
    ours = plane_w_m2(site, steps, "clear", tilt, azimuth).sum() * steps.step_h
    place = Location(site.latitude, site.longitude, "UTC", site.elevation_m)
    first = pd.Timestamp(steps.start).tz_convert("UTC") + pd.Timedelta("150s")
    times = pd.date_range(first, periods=288, freq="5min")
    with np.errstate(all="ignore"), warnings.catch_warnings():
        warnings.simplefilter("ignore")  # pvlib asks pandas for a name that is on its way out
        turbidity = lookup_linke_turbidity(times, site.latitude, site.longitude)
        sky = place.get_clearsky(times, linke_turbidity=turbidity)
    sun = place.get_solarposition(times)
    theirs = (
        get_total_irradiance(
            tilt,
            azimuth,
            sun["apparent_zenith"],
            sun["azimuth"],
            sky["dni"],
            sky["ghi"],
            sky["dhi"],
            dni_extra=np.asarray(get_extra_radiation(times.day_of_year.to_numpy())),
            model="haydavies",
            albedo=0.2,
        )["poa_global"]
        .fillna(0)
        .sum()
        / 12
    )
    assert ours == pytest.approx(theirs, rel=0.01)
    assert ours > 300  # of a whole day, even facing away from the winter sun


def test_an_overcast_november_day_gives_less_than_a_fifth_of_a_clear_one():
    steps = day(COAST, datetime(2026, 11, 24))
    clear, dull = (plane_w_m2(COAST, steps, w, 45, 180).sum() for w in ("clear", "overcast"))
    assert 0 < dull < clear / 5


def test_light_is_nought_at_night_and_shade_takes_only_the_direct_part():
    steps = day(COAST, datetime(2026, 11, 24))
    open_ = plane_w_m2(COAST, steps, "clear", 45, 180)
    assert open_[steps.hour < 6].max() == 0
    noon = (steps.hour >= 11) & (steps.hour < 13)
    shaded = plane_w_m2(COAST, steps, "clear", 45, 180, (Shade(from_h=11, to_h=13),))
    assert 0 < shaded[noon].max() < 0.3 * open_[noon].min()
    np.testing.assert_array_equal(shaded[~noon], open_[~noon])
    summer = plane_w_m2(COAST, steps, "clear", 45, 180, (Shade(from_h=11, to_h=13, months=(6, 7)),))
    np.testing.assert_array_equal(summer, open_)


def test_warm_cells_give_less_and_never_the_labels_watts():
    panel = shipped().panels["slate"]
    light = np.array([1000.0])
    cool, warm = (panels_w(panel, 2, light, air)[0] for air in (0.0, 35.0))
    # cell = air + 25 / 800 x 1000 = 31.25 above it; 860 W x 0.86 x (1 - 0.0032 x (cell - 25))
    assert cool == pytest.approx(860 * 0.86 * (1 - 0.0032 * 6.25))
    assert warm == pytest.approx(860 * 0.86 * (1 - 0.0032 * 41.25))


@pytest.mark.parametrize(
    ("cell_c", "heater", "share"),
    [(20, False, 1), (15, False, 1), (7.5, False, 0.6), (0, False, 0.2), (-1, False, 0), (-1, True, 1), (46, True, 0)],
)
def test_cold_cells_charge_slowly_or_not_at_all(cell_c, heater, share):
    assert charge_factor(cell_c, 0, 45, heater=heater) == pytest.approx(share)


def test_a_day_of_25_hours_is_one_day():
    back = grid(datetime(2026, 10, 31, 12), "America/Los_Angeles", 48)
    days = day_of(back)
    assert days.max() == 2  # the 31st, the 1st with its 25 hours, and the 2nd
    assert int((days == 1).sum()) * back.step_h == pytest.approx(25)


def test_threads_that_meet_while_the_library_loads_all_get_their_sun():
    script = """
import threading
from concurrent.futures import ThreadPoolExecutor
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.home.home import Site
from imbuto.core.basics.clock import grid
from imbuto.core.light.solar_light import panels_w, plane_w_m2
from imbuto.core.light.sky_model import warm_up
from datetime import datetime
import numpy as np
site = Site(latitude=44.6, longitude=-124.0, elevation_m=18, time_zone="America/Los_Angeles", climate="mild")
steps = grid(datetime(2026, 6, 1), site.time_zone, 24)
panel = next(iter(shipped().panels.values()))
jobs = [warm_up, lambda: plane_w_m2(site, steps, "clear", 30, 180), lambda: panels_w(panel, 1, np.ones(3), 20)]
together = threading.Barrier(len(jobs))
def one(job):
    together.wait()
    job()
with ThreadPoolExecutor(len(jobs)) as pool:
    list(pool.map(one, jobs))
print("fine")
"""
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=False)
    assert done.stdout == "fine\n", done.stderr


@pytest.mark.parametrize("start", [datetime(2026, 1, 10, 12), datetime(2026, 6, 21, 0), datetime(2026, 9, 1, 18)])
def test_nights_and_light_are_of_one_sun(start):
    """It is night while the sun is under the horizon by the positions that light is reckoned from, to three minutes."""
    site = Site(latitude=45, longitude=-123, time_zone="America/Los_Angeles")
    steps = grid(start, site.time_zone, 72, 1 / 60)
    zenith = sky(site, steps, "clear").zenith
    down = zenith > 90.0  # apparent: with what the air bends; a rim of the disc is up a little longer
    hour = (np.arange(steps.n) + 0.5) * steps.step_h
    dark = np.zeros(steps.n, dtype=bool)
    for a, b in nights(site, steps):
        dark |= (hour >= a) & (hour < b)
    edges = np.abs(np.diff(down.astype(int))).sum()
    assert (down != dark).sum() * steps.step_h <= 3 / 60 * edges


def test_light_on_a_plane_is_what_the_library_says():
    rng = np.random.default_rng(5)
    steps = grid(datetime(2026, 6, 20), "America/Los_Angeles", 72, 0.25)
    for _ in range(40):
        site = Site(time_zone="America/Los_Angeles", latitude=float(rng.uniform(-60, 60)), longitude=-120.0)
        s = sky(site, steps, str(rng.choice(["clear", "broken", "overcast"])))  # type: ignore[arg-type]
        tilt, azimuth = float(rng.uniform(0, 90)), float(rng.uniform(0, 360))
        known = get_total_irradiance(
            tilt, azimuth, s.zenith, s.azimuth, s.dni, s.ghi, s.dhi, dni_extra=s.extra, albedo=0.2, model="haydavies"
        )
        direct, diffuse = on_plane(s, tilt, azimuth, 0.2)
        assert direct == pytest.approx(np.nan_to_num(known["poa_direct"]), abs=1e-9)
        assert diffuse == pytest.approx(np.nan_to_num(known["poa_diffuse"]), abs=1e-9)
