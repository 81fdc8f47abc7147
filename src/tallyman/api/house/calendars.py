"""Calendars of work: closed days of a year, public holidays, iCalendar in and out."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import Field

from tallyman.api.common import MOST, In, Model, Number, SignedIn
from tallyman.services.house import calendars

router = APIRouter(prefix="/calendars", tags=["calendars"])
Area = Annotated[int | None, Query(ge=1, le=MOST)]


class ClosedOut(Model):
    """A closed day; `own`: of the calendar that is shown, not of one above it."""

    day: date
    name: str
    own: bool
    of: str


class HostHoursOut(Model):
    """A host with its seats and the hours a day that it works."""

    name: str
    seats: int
    hours: str


class YearOut(Model):
    """A year of a calendar, and what a robot can work by it."""

    year: int
    area: str | None
    days: list[ClosedOut]
    months: list[int]
    working_days: int
    weekend: list[int]
    hours_a_day: str | None
    hours_how: str
    hosts: list[HostHoursOut]
    may_change: bool
    years: list[int]
    today: date


class CountryOut(Model):
    """A country whose public holidays are known."""

    code: str
    name: str
    regions: list[str]


class HolidayOut(Model):
    """A day that could be closed."""

    day: date
    name: str
    weekend: bool


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


class Closed(Model):
    """How many days were closed."""

    closed: int


@router.get("/countries")
def countries(ctx: SignedIn) -> list[CountryOut]:
    """Countries whose public holidays are known."""
    return [CountryOut.model_validate(row) for row in calendars.countries(ctx)]


@router.get("/holidays")
def holidays(
    ctx: SignedIn,
    country: Annotated[str, Query(max_length=2)],
    year: int,
    region: Annotated[str, Query(max_length=40)] = "",
) -> list[HolidayOut]:
    """The public holidays of a country or region in a year."""
    return [HolidayOut.model_validate(row) for row in calendars.holidays(ctx, country, region, year)]


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
    return [HolidayOut.model_validate(row) for row in calendars.read(ctx, given.text.encode())]


@router.post("/closed-days")
def close_many(given: DaysIn, ctx: SignedIn) -> Closed:
    """Closes days, all in one step."""
    days = [(one.day, one.name) for one in given.days]
    return Closed(closed=calendars.close_many(ctx, given.area, days))


@router.get("/{year}")
def year_of(year: int, ctx: SignedIn, area: Area = None) -> YearOut:
    """A year of the company's calendar, or of an area's."""
    return YearOut.model_validate(calendars.year_of(ctx, area, year))
