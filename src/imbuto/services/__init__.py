"""Use cases: the only place where core, store and formats meet."""
