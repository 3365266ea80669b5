"""Tests of a plan: what to try, in which order, and what a result teaches."""
