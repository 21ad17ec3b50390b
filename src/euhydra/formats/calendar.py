"""Timer settings as an iCalendar file (RFC 5545)."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import Any

PRODUCT = "-//Euhydra//Watering programme//EN"
BYDAY = ("MO", "TU", "WE", "TH", "FR", "SA", "SU")


@dataclass(frozen=True)
class CalendarEvent:
    """One thing to do or that happens, once or again and again until a day.

    uid : Names it for good, so that a newer file replaces the older.
    begins : The first time, by the garden's own clock; a day alone for what has no hour.
    lasts : None where it takes the day.
    every_days : Days from one to the next; 0 for once.
    weekdays : Monday 0; instead of every so many days.
    until : Last moment of the repetition.
    """

    uid: str
    summary: str
    about: str
    begins: datetime | date
    lasts: timedelta | None = None
    every_days: int = 0
    weekdays: tuple[int, ...] = ()
    until: datetime | None = None


def write(entries: Iterable[CalendarEvent], stamp: datetime) -> bytes:
    """The calendar. Times are floating: they mean the clock on the wall, wherever that is.

    Parameters
    ----------
    stamp : When it was made, with its zone.
    """
    from icalendar import Calendar, Event  # so late, for no other page needs it

    calendar = Calendar()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    for entry in entries:
        event = Event()
        event.add("uid", entry.uid)
        event.add("dtstamp", stamp.astimezone(UTC))
        event.add("summary", entry.summary)
        event.add("description", entry.about)
        event.add("dtstart", entry.begins)
        if entry.lasts is not None:
            event.add("duration", entry.lasts)
        rule = _rule(entry)
        if rule is not None:
            event.add("rrule", rule)
        calendar.add_component(event)
    text: bytes = calendar.to_ical()
    return text


def _rule(entry: CalendarEvent) -> dict[str, Any] | None:
    rule: dict[str, Any] = {"until": entry.until} if entry.until else {}
    if entry.weekdays:
        return rule | {"freq": "weekly", "byday": [BYDAY[day] for day in entry.weekdays]}
    if entry.every_days:
        return rule | {"freq": "daily", "interval": entry.every_days}
    return None
