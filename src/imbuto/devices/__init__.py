"""Instruments behind Protocols; the ones that ship are simulated."""
