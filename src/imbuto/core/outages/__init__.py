"""Before, during and after an outage: what to do, what a gauge teaches, tests."""
