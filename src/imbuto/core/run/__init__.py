"""The only place where energy flows: stores, the march, runs and bands."""
