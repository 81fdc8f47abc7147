"""Calendars of work: a year's closed days of company or area, public holidays, iCalendar in and out."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta

from tallyman.core.exact import text_of
from tallyman.core.house.workdays import Calendar
from tallyman.core.rates import HostDay, hours_of
from tallyman.errors import Fault, InputFaults
from tallyman.formats import apart, closed_days
from tallyman.services.context import Ctx, calendar_of, company_day, company_of, in_transaction
from tallyman.services.house import areas
from tallyman.services.house.answers import ClosedOut, CountryOut, HolidayOut, HostHoursOut, YearOut
from tallyman.services.rates import costs
from tallyman.store.db import Tx
from tallyman.store.records.common import ClosedDay, CommonClosedDaysOf
from tallyman.store.records.house import Area, AreasTree
from tallyman.store.records.rates import CostsHostHours

FIRST_YEAR, LAST_YEAR = 2000, 2100
MOST_DAYS = 400
LARGEST = 500_000


def _check_year(year: int) -> None:
    if not FIRST_YEAR <= year <= LAST_YEAR:
        raise InputFaults([Fault("year", year, f"allowed: {FIRST_YEAR} to {LAST_YEAR}")])


def _area(tx: Tx, ctx: Ctx, area_id: int | None) -> Area | None:
    return None if area_id is None else areas.find_seen(tx, ctx, area_id)


def _may_see(ctx: Ctx, area_id: int | None) -> None:
    """Everybody sees on which days the company is closed; an area's own days ask for area.see."""
    ctx.require("idea.make" if area_id is None else "area.see")


@in_transaction
def year_of(tx: Tx, ctx: Ctx, area_id: int | None, year: int) -> YearOut:
    """The closed days of a year with where each comes from, working days by month, and a robot's time."""
    _may_see(ctx, area_id)
    _check_year(year)
    area = _area(tx, ctx, area_id)
    calendar = calendar_of(tx, area_id)
    days = [
        ClosedOut(day=row.day, name=row.name, own=area is None, of="the company")
        for row in tx.kept(ClosedDay, "common.closed_days")
    ]
    if area is not None:
        names = {row.id: row.name for row in tx.all(AreasTree, "areas.tree")}
        days += [
            ClosedOut(
                day=row.day,
                name=row.name,
                own=row.area_id == area_id,
                of=names.get(row.area_id, "an area above"),
            )
            for row in tx.all(CommonClosedDaysOf, "common.closed_days_of", area=area_id)
        ]
    months = [_open_days(calendar, year, month) for month in range(1, 13)]
    known = costs.robot_time(tx, area_id, date(year, 1, 1))
    hours = known.get("robot_hours_per_day")
    return YearOut(
        year=year,
        area=area.name if area else None,
        days=[row for row in days if row.day.year == year],
        months=months,
        working_days=sum(months),
        weekend=sorted(calendar.weekend),
        hours_a_day=hours.value if hours else None,
        hours_how=hours.source if hours else "",
        hosts=[_host(row) for row in tx.all(CostsHostHours, "costs.host_hours")],
        may_change=ctx.actor.may("house.change")
        if area is None
        else ctx.actor.may_at("area.change", area_id),
        years=sorted({row.day.year for row in days} | {year}),
        today=company_day(tx, ctx),
    )


def _host(row: CostsHostHours) -> HostHoursOut:
    day = HostDay(row.name, row.hours_from, row.hours_to, row.seats)
    return HostHoursOut(name=row.name, seats=row.seats, hours=text_of(hours_of(day), 1) or "0.0")


def _open_days(calendar: Calendar, year: int, month: int) -> int:
    first = date(year, month, 1)
    after = date(year + month // 12, month % 12 + 1, 1)
    return sum(calendar.is_open(first + timedelta(days=n)) for n in range((after - first).days))


def countries(ctx: Ctx) -> list[CountryOut]:
    """Countries whose public holidays are known, with their regions."""
    ctx.require("idea.make")
    return [CountryOut(**row) for row in closed_days.countries()]


def holidays(ctx: Ctx, country: str, region: str, year: int) -> list[HolidayOut]:
    """The public holidays of a year; each says whether it falls on a weekend."""
    ctx.require("idea.make")
    _check_year(year)
    found = closed_days.holidays_of(country, region, year)
    return [HolidayOut(day=day, name=name, weekend=day.isoweekday() in (6, 7)) for day, name in found]


def close_many(ctx: Ctx, area_id: int | None, days: Sequence[tuple[date, str]]) -> int:
    """Closes all the days given, in one step; gives how many. Raises InputFaults with every fault."""
    faults = [
        Fault(f"days[{n}].name", name[:40], f"say what day it is, in 1 to {areas.LONGEST_NAME} characters")
        for n, (_, name) in enumerate(days)
        if not 1 <= len(name.strip()) <= areas.LONGEST_NAME
    ]
    if not 1 <= len(days) <= MOST_DAYS:
        faults.append(Fault("days", len(days), f"give 1 to {MOST_DAYS} days"))
    if faults:
        raise InputFaults(faults)
    areas.change_days(ctx, area_id, [(day, name.strip()) for day, name in days])
    return len(days)


@in_transaction
def as_calendar(tx: Tx, ctx: Ctx, area_id: int | None) -> bytes:
    """All closed days of the company, or of an area with those above it, as an iCalendar file."""
    _may_see(ctx, area_id)
    area = _area(tx, ctx, area_id)
    days = {row.day: row.name for row in tx.all(ClosedDay, "common.closed_days")}
    if area_id is not None:
        days |= {
            row.day: row.name for row in tx.all(CommonClosedDaysOf, "common.closed_days_of", area=area_id)
        }
    name = f"Closed days, {area.name if area else company_of(tx).name}"
    return closed_days.as_calendar(name, sorted(days.items()), ctx.now)


def read(ctx: Ctx, data: bytes) -> list[HolidayOut]:
    """The whole days that an iCalendar file names, to be looked at before they are closed."""
    ctx.require("idea.make")
    if len(data) > LARGEST:
        size = f"{len(data) / 1_000_000:.1f} MB"
        raise InputFaults([Fault("file", size, f"too large; at most {LARGEST // 1000:,} kB")])
    answer = apart.run("closed days", data)
    return [
        HolidayOut(day=date.fromisoformat(row["day"]), name=row["name"], weekend=row["weekend"])
        for row in answer["days"]
    ]
