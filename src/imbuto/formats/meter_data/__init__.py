"""Meter data in: CSV of many shapes and Green Button XML."""
