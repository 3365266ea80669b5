"""The Hours place: a run in full."""
