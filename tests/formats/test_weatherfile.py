"""A weather file made here, read back: EPW and TMY3 give the same days, and what is no weather file is refused."""

from datetime import datetime
from zoneinfo import ZoneInfo

import numpy as np
import pandas as pd
import pytest

from imbuto.core.basics.clock import grid
from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.home.home import Site
from imbuto.core.light.solar_light import sky
from imbuto.formats.weather.weatherfile import read
from imbuto.services.source.solar_views import take_weather
from tests.demo import demo_copy

PLACE = Site(latitude=44.6, longitude=-124.0, elevation_m=10)
CYCLE = (1.0, 0.6, 0.25, 0.05)  # of a clear day: one each of clear, broken, overcast, storm


def hours() -> pd.DataFrame:
    """A year of hours: four kinds of day in turn, air from -2 to 28 °C."""
    index = pd.date_range("2025-01-01", periods=8760, freq="h", tz="Etc/GMT+8")
    clear = sky(PLACE, grid(datetime(2025, 1, 1, 8), "UTC", 8760, 1.0), "clear").ghi
    share = np.array([CYCLE[(t.day_of_year - 1) % 4] for t in index])
    air = 13 + 15 * np.sin(2 * np.pi * (index.day_of_year.to_numpy() - 105) / 365)
    return pd.DataFrame({"ghi": clear * share, "air": air}, index=index)


def epw() -> bytes:
    head = ["LOCATION,Tidal flat,OR,USA,made up,000000,44.6,-124.0,-8.0,10.0", *["NOTE"] * 7]
    rows = []
    for t, r in hours().iterrows():
        cells = ["0"] * 35
        cells[:6] = ["2025", str(t.month), str(t.day), str(t.hour + 1), "0", "made"]
        cells[6], cells[13] = f"{r.air:.1f}", f"{r.ghi:.0f}"
        rows.append(",".join(cells))
    return "\n".join([*head, *rows]).encode()


@pytest.fixture(scope="module")
def file() -> bytes:
    return epw()


def test_days_of_each_month_are_told_from_hours_of_sun(file):
    months, low, high = read(file, "flat.epw")
    assert [m.month for m in months] == list(range(1, 13))
    for m in months:  # three of four kinds are counted, the storms are the rest
        assert m.clear == pytest.approx(0.25, abs=0.05)
        assert m.broken == pytest.approx(0.25, abs=0.05)
        assert m.overcast == pytest.approx(0.25, abs=0.05)
    assert (low, high) == (pytest.approx(-2, abs=0.1), pytest.approx(28, abs=0.1))


def test_what_is_no_weather_file_is_refused_with_a_sentence(file):
    with pytest.raises(UnreadableFile, match="neither an EPW nor a TMY3"):
        read(b"hello, world\n1,2,3\n", "hello.csv")
    with pytest.raises(UnreadableFile, match="whole year"):
        read(b"\n".join(file.split(b"\n")[:2000]), "short.epw")


def test_it_is_taken_into_the_site_in_one_edit_and_undone(tmp_path, file):
    planner = demo_copy(tmp_path)
    before = planner.state("saltgrass-house")
    took = take_weather(planner, "saltgrass-house", file, "flat.epw", "w1", ("switched-panel", "november-windstorm"))
    assert len(took.state.home["site"]["sky"]) == 12
    assert took.verdict is not None
    back = planner.undo("saltgrass-house", "w2", None)
    assert back.state.home["site"] == before.home["site"]
    assert ZoneInfo(back.state.home["site"]["time_zone"])
    planner.database.close()
