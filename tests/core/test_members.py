"""The vectorised balance against the plain one, member by member; energy conserved in each."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from imbuto.core.balance import Store, balance
from imbuto.core.members import balance_members


@settings(max_examples=60)
@given(
    st.integers(0, 2**32 - 1), st.sampled_from([1 / 12, 0.25, 1.0]), st.booleans(), st.booleans(), st.booleans(),
    st.sampled_from([0.0, 0.1, 0.5]), st.sampled_from([0.0, 0.4, 1.0]),
)  # fmt: skip
def test_every_member_is_what_the_plain_balance_gives(seed, step_h, sun, by_itself, taper, floor, charge_share):
    rng = np.random.default_rng(seed)
    n, m = 60, 7
    full = rng.uniform(300, 6000, m)
    start = rng.choice([1.0, 0.02, rng.uniform()], m)
    load = rng.uniform(0, 900, (n, m)) * (rng.random((n, m)) < 0.7)
    light = rng.uniform(0, 1500, (n, m)) * (rng.random((n, 1)) < 0.6) if sun else None
    common = {
        "floor": floor, "efficiency": 0.93, "idle_w": 21.0, "restarts_itself": by_itself, "taper": taper,
        "charge_share": charge_share,
    }  # fmt: skip
    found = balance_members(Store(nominal_wh=1, **common), full, start, load, step_h, light)
    for k in range(m):
        one = balance(
            Store(nominal_wh=float(full[k]), **common), float(start[k]), load[:, k].tolist(), step_h,
            solar_w=None if light is None else light[:, k].tolist(),
        )  # fmt: skip
        dark = np.inf if one.first_dark_h is None else one.first_dark_h
        assert found.first_dark_h[k] == pytest.approx(dark, abs=1e-7)
        np.testing.assert_allclose(found.charge[:, k], one.charge, atol=1e-7)
        assert found.served_wh[k] == pytest.approx(one.tally.served_wh, rel=1e-6, abs=1e-5)
        assert found.lost_wh[k] == pytest.approx(one.tally.lost_wh, rel=1e-6, abs=1e-5)


@settings(max_examples=40)
@given(st.integers(0, 2**32 - 1), st.booleans())
def test_energy_is_conserved_in_every_member(seed, by_itself):
    rng = np.random.default_rng(seed)
    n, m = 288, 40
    full, start = rng.uniform(300, 20_000, m), rng.uniform(0, 1, m)
    load, light = rng.uniform(0, 1200, (n, m)), rng.uniform(0, 1800, (n, m)) * (rng.random((n, 1)) < 0.4)
    found = balance_members(Store(nominal_wh=1, idle_w=30, restarts_itself=by_itself), full, start, load, 1 / 12, light)
    came = start * full + found.solar_wh
    went = found.charge[-1] * full + found.served_wh + found.lost_wh
    np.testing.assert_allclose(came, went, rtol=1e-6)
    assert (found.charge <= 1 + 1e-12).all()
    assert (found.charge >= 0).all()
