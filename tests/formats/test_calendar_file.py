from __future__ import annotations

from datetime import UTC, datetime

from icalendar import Calendar

from tallyman.formats.calendar_file import Event, calendar_file

AT = datetime(2026, 3, 10, 9, tzinfo=UTC)


def test_a_name_with_line_breaks_makes_no_line_of_its_own() -> None:
    name = "Count rows\r\nX-OTHER:1\nBEGIN:VALARM\x0b\x1f\u2028"
    made = calendar_file(name, [Event("a", name, name, [AT])], AT)
    read = Calendar.from_ical(made)
    assert [part.name for part in read.walk()] == ["VCALENDAR", "VEVENT"]
    assert "X-OTHER" not in read.walk("VEVENT")[0]
    assert "Count rows" in str(read.walk("VEVENT")[0]["summary"])
