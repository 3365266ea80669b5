"""Settings of all tests."""

import pytest
from hypothesis import settings

from imbuto.core.run.compiled import compile_all

# No example fails for being slow: a busy machine is not a defect.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")


@pytest.fixture(scope="session", autouse=True)
def compiled() -> None:
    """Load what is compiled before anything is asked: a request waits for it only so long."""
    compile_all()
