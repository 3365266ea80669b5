"""Schools of sizing that want no run."""

import pytest

from imbuto.core.advice.sizing_methods import solar_schools


def test_the_simple_sun_schools_are_rated_watts_over_sun_hours():
    sim, year, worst = solar_schools(6_000, 0.6, 4.0, 1.0)
    assert sim.value == pytest.approx(10_000)
    assert year.value == pytest.approx(2_000)  # 6 kWh over 4 h x 0.75
    assert worst.value == pytest.approx(8_000)
    assert year.beside == "0.2 times what is needed"
