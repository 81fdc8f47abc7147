"""Calendars of work: a year of closed days, public holidays, iCalendar in and out."""

from __future__ import annotations

from datetime import date

import pytest

from tallyman.errors import Forbidden, InputFaults, NotFound
from tallyman.formats import closed_days
from tallyman.services.house import areas, calendars
from tests.conftest import NOW
from tests.world import World

CLOSED = [(date(2027, 1, 1), "First day"), (date(2027, 3, 15), "Stocktaking")]


def test_days_closed_count_in_the_year_and_in_its_months(world: World) -> None:
    ines = world.ctx("Ines Varga")
    before = calendars.year_of(ines, None, 2027)
    assert before.working_days == 261
    assert calendars.close_many(ines, None, CLOSED) == 2
    after = calendars.year_of(ines, None, 2027)
    assert after.working_days == 259
    assert [month - kept for month, kept in zip(before.months, after.months, strict=True)] == [
        1, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0,
    ]  # fmt: skip
    areas.open_day(ines, None, date(2027, 3, 15))
    assert calendars.year_of(ines, None, 2027).working_days == 260


def test_an_area_keeps_the_companys_days_and_adds_its_own(world: World) -> None:
    world.machine()
    ines, sol = world.ctx("Ines Varga"), world.ctx("Sol Marin")
    calendars.close_many(ines, None, CLOSED[:1])
    calendars.close_many(sol, world.area, CLOSED[1:])
    year = calendars.year_of(sol, world.area, 2027)
    assert [(row.name, row.own, row.of) for row in year.days] == [
        ("First day", False, "the company"),
        ("Stocktaking", True, "Metering"),
    ]
    assert year.working_days == 259
    assert calendars.year_of(ines, None, 2027).working_days == 260
    # Everybody sees the company's calendar; an area's asks for area.see.
    assert calendars.year_of(world.ctx("Ada Pell"), None, 2027).may_change is False
    with pytest.raises(Forbidden):
        calendars.year_of(world.ctx("Ada Pell"), world.area, 2027)
    with pytest.raises(NotFound):
        calendars.year_of(ines, 9_999, 2027)


def test_days_are_closed_all_or_none(world: World) -> None:
    ines = world.ctx("Ines Varga")
    with pytest.raises(InputFaults) as refused:
        calendars.close_many(ines, None, [*CLOSED, (date(2027, 5, 3), " ")])
    assert refused.value.faults[0].field == "days[2].name"
    assert calendars.year_of(ines, None, 2027).days == []
    with pytest.raises(Forbidden):
        calendars.close_many(world.ctx("Mei Tanaka"), None, CLOSED)


def test_public_holidays_say_which_fall_on_a_weekend(world: World) -> None:
    found = calendars.holidays(world.ctx("Ines Varga"), "PT", "", 2027)
    days = {row.day: row for row in found}
    assert date(2027, 1, 1) in days and len(found) >= 10
    assert all(row.weekend == (day.isoweekday() > 5) for day, row in days.items())
    codes = {row.code for row in calendars.countries(world.ctx("Ines Varga"))}
    assert {"PT", "DK", "CA"} <= codes


@pytest.mark.parametrize(("country", "region", "field"), [("XX", "", "country"), ("PT", "Nowhere", "region")])
def test_a_country_that_is_not_known_is_refused(world: World, country: str, region: str, field: str) -> None:
    with pytest.raises(InputFaults) as refused:
        calendars.holidays(world.ctx("Ines Varga"), country, region, 2027)
    assert refused.value.faults[0].field == field


def test_closed_days_go_out_as_icalendar_and_come_in_again(world: World) -> None:
    ines = world.ctx("Ines Varga")
    calendars.close_many(ines, None, CLOSED)
    found = calendars.read(ines, calendars.as_calendar(ines, None))
    assert [(row.day, row.name) for row in found] == CLOSED


def ics(*entries: str) -> bytes:
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//x//EN"]
    for n, entry in enumerate(entries):
        lines += ["BEGIN:VEVENT", f"UID:{n}", "DTSTAMP:20260101T000000Z", *entry.split("|"), "END:VEVENT"]
    return "\r\n".join([*lines, "END:VCALENDAR", ""]).encode()


def test_several_days_of_one_entry_are_closed_one_by_one() -> None:
    data = ics(
        "DTSTART;VALUE=DATE:20271227|DTEND;VALUE=DATE:20271230|SUMMARY:Between the years",
        "DTSTART:20270301T090000Z|DTEND:20270301T100000Z|SUMMARY:A meeting",
    )
    assert [row["day"] for row in closed_days.read_calendar(data)] == [
        "2027-12-27",
        "2027-12-28",
        "2027-12-29",
    ]


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"hello", "no iCalendar file"),
        (ics(), "names no whole day"),
        (ics("DTSTART:20270301T090000Z|SUMMARY:A meeting"), "names no whole day"),
    ],
)
def test_a_file_without_days_is_refused_in_words(world: World, data: bytes, words: str) -> None:
    with pytest.raises(InputFaults, match=words):
        calendars.read(world.ctx("Ines Varga"), data)
    with pytest.raises(InputFaults, match="too large"):
        calendars.read(world.ctx("Ines Varga"), b"x" * 600_000)


def test_a_year_out_of_reach_is_refused(world: World) -> None:
    with pytest.raises(InputFaults):
        calendars.year_of(world.ctx("Ines Varga"), None, 1999)
    assert calendars.year_of(world.ctx("Ines Varga"), None, NOW.year).today == NOW.date()
