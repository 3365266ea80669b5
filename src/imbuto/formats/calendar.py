"""Acts as an iCalendar file, each with an alarm, for the clock of any phone: an open standard."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from icalendar import Alarm, Calendar, Event

from imbuto.core.storm.acts import Act


def write(acts: Sequence[Act], home: str, zone: ZoneInfo, made: datetime) -> bytes:
    """acts: in the home's local time, written in UTC; home: its id, which with the act's own makes an identifier that stays, so that
    a file taken again moves the alarms instead of doubling them; made: with a zone."""
    calendar = Calendar()
    calendar.add("prodid", "-//Imbuto//Outage now//EN")
    calendar.add("version", "2.0")
    for act in acts:
        event, alarm = Event(), Alarm()
        at = act.at.replace(tzinfo=zone).astimezone(UTC)
        event.add("uid", f"{act.id}@{home}.imbuto")
        event.add("dtstamp", made.astimezone(UTC))
        event.add("dtstart", at)
        event.add("dtend", at + timedelta(minutes=15))
        event.add("summary", act.title)
        event.add("description", act.why)
        alarm.add("action", "DISPLAY")
        alarm.add("trigger", timedelta())
        alarm.add("description", act.title)
        event.add_component(alarm)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
