"""Closed days: public holidays from a library, and whole days as iCalendar (RFC 5545) in and out."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date, datetime, timedelta
from functools import cache
from typing import Any

from tallyman.core.faults import Fault, InputFaults

MOST_DAYS = 2_000
LONGEST_NAME = 80
LONGEST_STAY = 60
LANGUAGES = ("en_US", "en_GB", "en")


@cache
def _known() -> dict[str, tuple[str, tuple[str, ...]]]:
    """Country codes with name and regions."""
    import holidays
    from holidays.registry import COUNTRIES

    regions = holidays.list_supported_countries()
    found = {}
    for name, code, *_ in COUNTRIES.values():
        if code in regions:
            found[code] = (re.sub(r"(?<=[a-z])(?=[A-Z])", " ", name), tuple(regions[code]))
    return found


def countries() -> list[dict[str, Any]]:
    """Countries whose public holidays are known, by name."""
    rows = [{"code": code, "name": name, "regions": list(parts)} for code, (name, parts) in _known().items()]
    return sorted(rows, key=lambda row: str(row["name"]))


def holidays_of(country: str, region: str, year: int) -> list[tuple[date, str]]:
    """The public holidays of a country or one of its regions. Raises InputFaults for one not known."""
    import holidays

    if country not in _known():
        raise InputFaults([Fault("country", country, "no such country; choose one of the list")])
    if region and region not in _known()[country][1]:
        raise InputFaults([Fault("region", region, "no such region of this country; choose one of the list")])
    there = holidays.country_holidays(country, subdiv=region or None)
    spoken = next((one for one in LANGUAGES if one in there.supported_languages), None)
    found = holidays.country_holidays(country, subdiv=region or None, years=year, language=spoken)
    return [(day, name[:LONGEST_NAME]) for day, name in sorted(found.items()) if day.year == year]


def as_calendar(name: str, days: Iterable[tuple[date, str]], made_at: datetime) -> bytes:
    """Whole days as an iCalendar file."""
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Tallyman//Closed days//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for day, words in days:
        entry = Event()
        entry.add("uid", f"closed-{day.isoformat()}@tallyman")
        entry.add("dtstamp", made_at)
        entry.add("summary", words)
        entry.add("dtstart", day)
        entry.add("dtend", day + timedelta(days=1))
        entry.add("transp", "TRANSPARENT")
        calendar.add_component(entry)
    return bytes(calendar.to_ical())


class NotReadable(ValueError):
    """No iCalendar file; the message says what would do."""


def read_calendar(data: bytes) -> list[dict[str, Any]]:
    """The whole days of an iCalendar file, each once. Raises NotReadable."""
    from icalendar import Calendar

    try:
        calendar = Calendar.from_ical(data)
    except ValueError:
        raise NotReadable("is no iCalendar file; a program for calendars saves one as .ics") from None
    found: dict[date, str] = {}
    for entry in calendar.walk("VEVENT"):
        start, end = entry.get("dtstart"), entry.get("dtend")
        if start is None or isinstance(start.dt, datetime):
            continue
        last = (
            end.dt if end is not None and not isinstance(end.dt, datetime) else start.dt + timedelta(days=1)
        )
        for n in range(max(1, min((last - start.dt).days, LONGEST_STAY))):
            found.setdefault(
                start.dt + timedelta(days=n), str(entry.get("summary") or "Closed")[:LONGEST_NAME]
            )
    if len(found) > MOST_DAYS:
        raise NotReadable(f"names {len(found):,} days; at most {MOST_DAYS:,}")
    if not found:
        raise NotReadable("names no whole day; entries with a time of day are no closed days")
    return [
        {"day": day.isoformat(), "name": name, "weekend": day.isoweekday() in (6, 7)}
        for day, name in sorted(found.items())
    ]
