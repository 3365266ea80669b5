"""Money by the check figure."""

import pytest

from imbuto.core.money import shifted


def test_shifting_six_kilowatt_hours_saves_what_the_check_figure_says():
    assert shifted(6, 0.48, 0.19, 0.86) == pytest.approx(1.554, abs=0.0005)
    assert shifted(6, 0.20, 0.19, 0.86) < 0  # not worth it: never made to look as if it were
