"""Errors, units, evidence, clock and tables: what everything else stands on."""
