"""Calendars of work: closed days of a year, public holidays, iCalendar in and out."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import Query, Response
from pydantic import Field

from tallyman.api.common import MOST, In, Number, SignedIn
from tallyman.api.routing import Routes
from tallyman.services.house import calendars
from tallyman.services.house.answers import Closed, CountryOut, HolidayOut, YearOut

router = Routes(prefix="/calendars", tags=["calendars"])
Area = Annotated[int | None, Query(ge=1, le=MOST)]


class DayToClose(In):
    """A day to close."""

    day: date
    name: Annotated[str, Field(max_length=200)]


class DaysIn(In):
    """Days to close, of an area or (none) the company."""

    area: Number | None = None
    days: Annotated[list[DayToClose], Field(max_length=1000)]


class CalendarFileIn(In):
    """An iCalendar file's text."""

    text: Annotated[str, Field(max_length=1_000_000)]


@router.get("/countries")
def countries(ctx: SignedIn) -> list[CountryOut]:
    """Countries whose public holidays are known."""
    return calendars.countries(ctx)


@router.get("/holidays")
def holidays(
    ctx: SignedIn,
    country: Annotated[str, Query(max_length=2)],
    year: int,
    region: Annotated[str, Query(max_length=40)] = "",
) -> list[HolidayOut]:
    """The public holidays of a country or region in a year."""
    return calendars.holidays(ctx, country, region, year)


@router.get("/ical", response_class=Response)
def as_calendar(ctx: SignedIn, area: Area = None) -> Response:
    """All closed days as an iCalendar file."""
    heads = {"Content-Disposition": 'attachment; filename="closed-days.ics"'}
    return Response(
        calendars.as_calendar(ctx, area), media_type="text/calendar; charset=utf-8", headers=heads
    )


@router.post("/ical/look")
def read(given: CalendarFileIn, ctx: SignedIn) -> list[HolidayOut]:
    """The whole days that an iCalendar file names; nothing is closed."""
    return calendars.read(ctx, given.text.encode())


@router.post("/closed-days")
def close_many(given: DaysIn, ctx: SignedIn) -> Closed:
    """Closes days, all in one step."""
    days = [(one.day, one.name) for one in given.days]
    return Closed(closed=calendars.close_many(ctx, given.area, days))


@router.get("/{year}")
def year_of(year: int, ctx: SignedIn, area: Area = None) -> YearOut:
    """A year of the company's calendar, or of an area's."""
    return calendars.year_of(ctx, area, year)
