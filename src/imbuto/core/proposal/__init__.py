"""Proposing which circuits to back up."""
