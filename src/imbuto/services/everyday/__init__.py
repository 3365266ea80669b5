"""Ordinary days: the year, what it costs, how ready it leaves the house, what is worth it."""
