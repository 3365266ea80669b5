"""The joining diagram: what stands on it and where."""
