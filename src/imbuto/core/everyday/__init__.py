"""Ordinary days: the grid is there."""
