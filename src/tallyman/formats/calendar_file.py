"""Coming starts as an iCalendar file (RFC 5545): exact times, so that any calendar shows the same."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from tallyman.formats.sound import one_line


@dataclass(frozen=True)
class Event:
    """Something that happens at several times (aware, UTC), with its sentence."""

    key: str
    title: str
    sentence: str
    times: list[datetime]


def calendar_file(name: str, events: list[Event], made_at: datetime) -> bytes:
    """A calendar with one entry per event; its further times stand as recurrence dates.

    A rule could not say moved, merged or window-bound times, nor what a change of the clock does;
    the dates can.
    """
    from icalendar import Calendar
    from icalendar import Event as Entry

    calendar = Calendar()
    calendar.add("prodid", "-//Tallyman//Starts on the clock//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", one_line(name))
    for event in events:
        entry = Entry()
        entry.add("uid", f"{event.key}@tallyman")
        entry.add("dtstamp", made_at)
        # A line break in a name would begin a line of its own.
        entry.add("summary", one_line(event.title))
        entry.add("description", one_line(event.sentence))
        entry.add("dtstart", event.times[0])
        entry.add("dtend", event.times[0] + timedelta(minutes=5))
        if event.times[1:]:
            entry.add("rdate", event.times[1:])
        calendar.add_component(entry)
    return bytes(calendar.to_ical())
