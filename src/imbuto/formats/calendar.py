"""Acts as an iCalendar file, each with an alarm, for the clock of any phone: an open standard."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING
from zoneinfo import ZoneInfo

from imbuto.core.outages.next_acts import NextAct

if TYPE_CHECKING:
    from icalendar import Calendar, Event

DAYS = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")
RULES: dict[str, dict[str, object]] = {
    "day": {"freq": "daily"},
    "week": {"freq": "weekly"},
    "month": {"freq": "monthly"},
    "half_year": {"freq": "monthly", "interval": 6},
    "year": {"freq": "yearly"},
}


@dataclass(frozen=True, slots=True)
class Recurring:
    """Something again and again.

    first: local time
    every: one of RULES, or once
    on: days of a weekly one, Monday 0
    """

    id: str
    title: str
    why: str
    first: datetime
    every: str
    on: tuple[int, ...] = ()


def recurring_events(rows: Sequence[Recurring], home: str, zone: ZoneInfo, made: datetime) -> bytes:
    """As events at the home's own clock, with an alarm each; home: what makes their identifiers stay."""
    calendar = _calendar("Everyday")
    for row in rows:
        event = _event(row.id, home, row.title, row.why, made)
        event.add("dtstart", row.first.replace(tzinfo=zone))
        event.add("dtend", (row.first + timedelta(minutes=15)).replace(tzinfo=zone))
        if row.every in RULES:
            event.add("rrule", RULES[row.every] | ({"byday": [DAYS[d] for d in row.on]} if row.on else {}))
        calendar.add_component(event)
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())


def _calendar(of: str) -> Calendar:
    from icalendar import Calendar  # slow to load, and wanted for a download only

    calendar = Calendar()
    calendar.add("prodid", f"-//Imbuto//{of}//EN")
    calendar.add("version", "2.0")
    return calendar


def _event(ident: str, home: str, title: str, why: str, made: datetime) -> Event:
    from icalendar import Alarm, Event

    event, alarm = Event(), Alarm()
    event.add("uid", f"{ident}@{home}.imbuto")
    event.add("dtstamp", made.astimezone(UTC))
    event.add("summary", title)
    event.add("description", why)
    alarm.add("action", "DISPLAY")
    alarm.add("trigger", timedelta())
    alarm.add("description", title)
    event.add_component(alarm)
    return event


def write(acts: Sequence[NextAct], home: str, zone: ZoneInfo, made: datetime) -> bytes:
    """acts: in the home's local time, written in UTC; home: its id, which with the act's own makes an identifier that
    stays, so that a file taken again moves the alarms instead of doubling them; made: with a zone."""
    calendar = _calendar("Outage now")
    for act in acts:
        event = _event(act.id, home, act.title, act.why, made)
        at = act.at.replace(tzinfo=zone).astimezone(UTC)
        event.add("dtstart", at)
        event.add("dtend", at + timedelta(minutes=15))
        calendar.add_component(event)
    return bytes(calendar.to_ical())
