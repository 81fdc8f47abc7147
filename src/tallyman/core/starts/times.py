"""The times of a form: zones, changes of the clock, closed days, windows (rules §6)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from tallyman.core.house import Calendar
from tallyman.core.starts.forms import Form, instants

OnClosed = Literal["skip", "next", "previous"]
# No zone moves its clock by more than a day; times closer together than this may swap order.
REORDER = timedelta(hours=50)
LAST_YEAR = 9990
# Every date there is comes again within 40 years: 29 February on a given weekday, over a century.
YEARS_SEARCHED = 45
FARTHEST_MOVE = 366


@dataclass(frozen=True)
class Window:
    """Local wall time within which starts are allowed: from ≤ t < to, over midnight if from > to."""

    start: time
    end: time

    def holds(self, wall: time) -> bool:
        """Whether that wall time lies inside."""
        if self.start <= self.end:
            return self.start <= wall < self.end
        return wall >= self.start or wall < self.end


@dataclass(frozen=True)
class Fired:
    """One start: its instant, and the nominal instants (before any move) that it stands for."""

    at: datetime
    nominal: tuple[datetime, ...]


@dataclass(frozen=True)
class Dropped:
    """A nominal time at which nothing starts, and why."""

    nominal: datetime
    why: str


def _sources(day: date, calendar: Calendar | None, on_closed: OnClosed) -> Iterator[date]:
    """The nominal dates whose starts happen on an open day: itself, and closed ones moved to it."""
    step = {"next": -1, "previous": 1}.get(on_closed)
    moved: list[date] = []
    if calendar is not None and step is not None:
        other = day + timedelta(days=step)
        while not calendar.is_open(other) and abs((other - day).days) < FARTHEST_MOVE:
            moved.append(other)
            other += timedelta(days=step)
    yield from sorted([day, *moved])


def _moved(form: Form, zone: ZoneInfo, source: date, day: date) -> Iterator[Fired]:
    """The starts of one nominal date as they happen on another: at the same wall times."""
    for nominal in form.on(source, zone):
        if source == day:
            yield from (Fired(at, (at,)) for at in nominal.at)
            continue
        there = instants(datetime.combine(day, nominal.wall), zone, form.wild)[: len(nominal.at)]
        for n, at in enumerate(there):
            last = n == len(there) - 1
            yield Fired(at, nominal.at[n:] if last else nominal.at[n : n + 1])


def _day_starts(
    form: Form,
    zone: ZoneInfo,
    day: date,
    calendar: Calendar | None,
    on_closed: OnClosed,
    window: Window | None,
) -> Iterator[Fired]:
    if calendar is not None and not calendar.is_open(day):
        return
    for source in _sources(day, calendar, on_closed):
        for fired in _moved(form, zone, source, day):
            if window is None or window.holds(fired.at.astimezone(zone).time()):
                yield fired


def starts(
    form: Form,
    zone: ZoneInfo,
    after: datetime,
    calendar: Calendar | None = None,
    on_closed: OnClosed = "skip",
    window: Window | None = None,
) -> Iterator[Fired]:
    """Every start strictly later than `after` (aware), in order, each instant once.

    Starts that fall together are one, carrying all their nominal times. Ends when the calendar does.
    """
    day = after.astimezone(zone).date() - timedelta(days=2)
    waiting: dict[datetime, Fired] = {}
    quiet_since = day.year
    ends = form.last_day + timedelta(days=FARTHEST_MOVE) if form.last_day else date.max
    while day.year < min(LAST_YEAR, quiet_since + YEARS_SEARCHED) and day <= ends:
        for fired in _day_starts(form, zone, day, calendar, on_closed, window):
            same = waiting.get(fired.at)
            nominal = fired.nominal if same is None else same.nominal + fired.nominal
            waiting[fired.at] = replace(fired, nominal=tuple(sorted(set(nominal))))
        day += timedelta(days=1)
        if not waiting:
            continue
        settled = datetime.combine(day, time(), UTC) - REORDER
        for at in sorted(at for at in waiting if at < settled):
            fired = waiting.pop(at)
            if at > after:
                quiet_since = day.year
                yield fired


def dropped(
    form: Form,
    zone: ZoneInfo,
    since: datetime,
    until: datetime,
    calendar: Calendar | None = None,
    on_closed: OnClosed = "skip",
    window: Window | None = None,
) -> Iterator[Dropped]:
    """Nominal times with since < t ≤ until at which nothing starts, each with the reason."""
    day = since.astimezone(zone).date()
    last = until.astimezone(zone).date()
    while day <= last:
        closed = calendar is not None and not calendar.is_open(day)
        for nominal in form.on(day, zone):
            for at in nominal.at:
                wall = nominal.wall if closed else at.astimezone(zone).time()
                why = ""
                if closed and on_closed == "skip":
                    why = f"{day} is a closed day"
                elif window is not None and not window.holds(wall):
                    why = f"outside the window {window.start:%H:%M} to {window.end:%H:%M}"
                if why and since < at <= until:
                    yield Dropped(at, why)
        day += timedelta(days=1)
