"""Settings of all tests."""

import pytest
from hypothesis import settings

from imbuto.core.basics.measures import IN_USE, Measures
from imbuto.core.run.compile_ahead import compile_all

# No example fails for being slow: a busy machine is not a defect.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")


@pytest.fixture(scope="session", autouse=True)
def compiled() -> None:
    """Load what is compiled before anything is asked: a request waits for it only so long."""
    compile_all()


@pytest.fixture(autouse=True)
def own_measures():
    """What one test speaks of is not in the measures of the home that the one before it spoke of."""
    token = IN_USE.set(Measures())
    yield
    IN_USE.reset(token)
