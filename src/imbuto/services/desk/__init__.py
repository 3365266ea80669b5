"""Homes, edits and what every place shares."""
