"""The times of an expression: zones, changes of the clock, closed days, windows (rules §6)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from tallyman.core.clock.fields import Expression
from tallyman.core.workdays import Calendar

OnClosed = Literal["skip", "next", "previous"]
# No zone moves its clock by more than a day; times closer together than this may swap order.
REORDER = timedelta(hours=50)
LAST_YEAR = 9990
YEARS_SEARCHED = 400


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


def instants(wall: datetime, zone: ZoneInfo, wild: bool) -> list[datetime]:
    """The UTC instants at which a naive wall time fires in a zone.

    A wild expression fires in both passes of a repeated time and never in a skipped one; a fixed
    one fires at the first pass, and at the first instant after the gap that swallows it.
    """
    first = wall.replace(tzinfo=zone, fold=0).astimezone(UTC)
    second = wall.replace(tzinfo=zone, fold=1).astimezone(UTC)
    if first == second:
        return [first]
    if first < second:
        return [first, second] if wild else [first]
    return [] if wild else [_after_gap(second, first, zone)]


def _after_gap(low: datetime, high: datetime, zone: ZoneInfo) -> datetime:
    """The first instant after the gap; it lies between the two readings of the swallowed time."""
    offset = low.astimezone(zone).utcoffset()
    while high - low > timedelta(seconds=1):
        middle = low + (high - low) / 2
        middle = middle.replace(microsecond=0)
        if middle.astimezone(zone).utcoffset() == offset:
            low = middle
        else:
            high = middle
    return high


def _sources(day: date, calendar: Calendar | None, on_closed: OnClosed) -> Iterator[date]:
    """The nominal dates whose starts happen on an open day: itself, and closed ones moved to it."""
    step = {"next": -1, "previous": 1}.get(on_closed)
    moved: list[date] = []
    if calendar is not None and step is not None:
        other = day + timedelta(days=step)
        while not calendar.is_open(other) and abs((other - day).days) < 366:
            moved.append(other)
            other += timedelta(days=step)
    yield from sorted([day, *moved])


def _day_starts(
    found: Expression,
    zone: ZoneInfo,
    day: date,
    calendar: Calendar | None,
    on_closed: OnClosed,
    window: Window | None,
) -> Iterator[Fired]:
    if calendar is not None and not calendar.is_open(day):
        return
    sources = [one for one in _sources(day, calendar, on_closed) if found.matches(one)]
    if not sources:
        return
    for hour in found.hours:
        for minute in found.minutes:
            wall = time(hour, minute)
            nominal = tuple(
                instant
                for one in sources
                for instant in instants(datetime.combine(one, wall), zone, found.wild_clock)
            )
            for at in instants(datetime.combine(day, wall), zone, found.wild_clock):
                if window is None or window.holds(at.astimezone(zone).time()):
                    yield Fired(at, nominal if len(sources) > 1 or sources[0] != day else (at,))


def starts(
    found: Expression,
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
    while day.year < min(LAST_YEAR, quiet_since + YEARS_SEARCHED):
        for fired in _day_starts(found, zone, day, calendar, on_closed, window):
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
