"""Moments and days as documents hold them: of the home's own clock, in years that can be meant."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from annotated_types import Predicate

FIRST, LAST = 1900, 2200  # years; past them arithmetic on dates ends, and nothing of a home is meant


def is_local(at: datetime) -> bool:
    """Whether a moment is by the clock on the wall: without a zone, in a year that can be meant."""
    return at.tzinfo is None and FIRST <= at.year < LAST


def is_moment(at: datetime) -> bool:
    """Whether a moment, with its zone or by the wall clock, lies in a year that can be meant."""
    return FIRST <= at.year < LAST


def is_day(on: date) -> bool:
    """Whether a day lies in a year that can be meant."""
    return FIRST <= on.year < LAST


LocalTime = Annotated[datetime, Predicate(is_local)]
Moment = Annotated[datetime, Predicate(is_moment)]
Day = Annotated[date, Predicate(is_day)]
RULES = {
    "is_local": f"enter the local time without a time zone, in a year from {FIRST} to {LAST - 1}",
    "is_moment": f"give a moment in a year from {FIRST} to {LAST - 1}",
    "is_day": f"give a day in a year from {FIRST} to {LAST - 1}",
}


def rule_of(message: str) -> str:
    """What is wanted, where a validator's message names one of these; empty where it names none."""
    return next((rule for name, rule in RULES.items() if name in message), "")
