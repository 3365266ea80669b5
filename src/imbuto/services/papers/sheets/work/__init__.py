"""Sheets for those who do the work: one a file, each ends with its kind in the register."""
