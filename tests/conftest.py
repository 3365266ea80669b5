"""Settings of all tests."""

from hypothesis import settings

# No example fails for being slow: a busy machine is not a defect.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
