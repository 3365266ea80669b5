"""The only place where energy flows: light, stores, the march, runs and bands."""
