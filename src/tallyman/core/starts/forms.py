"""The one form in which every start on the clock is kept: a code, an interval, or once (rules §6).

Each kind names the nominal starts of a local date; closed days, windows and merges come after, the
same for all. `text` and `from_dict` keep them as plain JSON, so one column holds them all.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Any, Protocol
from zoneinfo import ZoneInfo

from tallyman.core.faults import Fault, InputFaults, unknown_word
from tallyman.core.starts.fields import Expression, parse
from tallyman.core.starts.pasted import own_form

DIALECTS = ("five-field", "seconds-first")
MOST_MINUTES = 366 * 24 * 60
MOST_WEEKS = 52


@dataclass(frozen=True)
class Nominal:
    """A start before any move: its wall time, and the instants at which it happens that day."""

    wall: time
    at: tuple[datetime, ...]


class Form(Protocol):
    """What every kind of start can say of itself."""

    @property
    def wild(self) -> bool:
        """Whether it fires in every wall-clock minute that exists, both passes of a repeated one."""

    @property
    def last_day(self) -> date | None:
        """The last local date on which it can start, if there is one."""

    def on(self, day: date, zone: ZoneInfo) -> Iterator[Nominal]:
        """The nominal starts of a local date."""

    def as_dict(self) -> dict[str, Any]:
        """The form as plain JSON."""


def instants(wall: datetime, zone: ZoneInfo, wild: bool) -> list[datetime]:
    """The UTC instants at which a naive wall time fires in a zone.

    A wild form fires in both passes of a repeated time and never in a skipped one; a fixed one
    fires at the first pass, and at the first instant after the gap that swallows it.
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


@dataclass(frozen=True)
class Coded:
    """By the calendar: an expression, perhaps only in every nth week counted from a date's week."""

    expression: Expression
    years: str = ""
    weeks: int = 1
    weeks_from: date | None = None

    @property
    def wild(self) -> bool:
        """Whether a change of the clock repeats and swallows its times."""
        return self.expression.wild_clock

    @property
    def last_day(self) -> date | None:
        """The last local date on which it can start, or None."""
        return date(self.expression.years[-1], 12, 31) if self.expression.years else None

    def matches(self, day: date) -> bool:
        """Whether the date is one to start on."""
        if self.weeks > 1 and self.weeks_from is not None:
            first = self.weeks_from - timedelta(days=self.weeks_from.isoweekday() - 1)
            if day < first or (day - first).days // 7 % self.weeks:
                return False
        return self.expression.matches(day)

    def on(self, day: date, zone: ZoneInfo) -> Iterator[Nominal]:
        """The nominal starts of a local date."""
        if not self.matches(day):
            return
        for hour in self.expression.hours:
            for minute in self.expression.minutes:
                wall = time(hour, minute)
                at = tuple(instants(datetime.combine(day, wall), zone, self.wild))
                if at:
                    yield Nominal(wall, at)

    def as_dict(self) -> dict[str, Any]:
        """The form as plain JSON, which from_dict reads."""
        found: dict[str, Any] = {"expr": self.expression.text}
        if self.years:
            found["years"] = self.years
        if self.weeks > 1 and self.weeks_from is not None:
            found.update(weeks=self.weeks, weeks_from=self.weeks_from.isoformat())
        return found


@dataclass(frozen=True)
class Interval:
    """By elapsed time: every so many minutes from an anchor, whatever the wall clock does."""

    minutes: int
    anchor: datetime

    @property
    def wild(self) -> bool:
        """Whether a change of the clock repeats and swallows its times."""
        return True

    @property
    def last_day(self) -> date | None:
        """The last local date on which it can start, or None."""
        return None

    def on(self, day: date, zone: ZoneInfo) -> Iterator[Nominal]:
        """The nominal starts of a local date."""
        begins = datetime.combine(day, time(), zone).astimezone(UTC)
        ends = datetime.combine(day + timedelta(days=1), time(), zone).astimezone(UTC)
        step = timedelta(minutes=self.minutes)
        number = max(0, -((self.anchor - begins) // step))
        at = self.anchor + step * number
        while at < ends:
            if at >= begins:
                yield Nominal(at.astimezone(zone).time().replace(tzinfo=None), (at,))
            at += step

    def as_dict(self) -> dict[str, Any]:
        """The form as plain JSON, which from_dict reads."""
        return {"every_minutes": self.minutes, "anchor": self.anchor.strftime("%Y-%m-%dT%H:%M:%SZ")}


@dataclass(frozen=True)
class Once:
    """At one wall time of one date."""

    wall: datetime

    @property
    def wild(self) -> bool:
        """Whether a change of the clock repeats and swallows its times."""
        return False

    @property
    def last_day(self) -> date | None:
        """The last local date on which it can start, or None."""
        return self.wall.date()

    def on(self, day: date, zone: ZoneInfo) -> Iterator[Nominal]:
        """The nominal starts of a local date."""
        if day == self.wall.date():
            yield Nominal(self.wall.time(), tuple(instants(self.wall, zone, False)))

    def as_dict(self) -> dict[str, Any]:
        """The form as plain JSON, which from_dict reads."""
        return {"once": self.wall.strftime("%Y-%m-%dT%H:%M")}


def _whole(given: dict[str, Any], field: str, high: int, faults: list[Fault]) -> int:
    value = given.get(field)
    if isinstance(value, bool) or not isinstance(value, int) or not 1 <= value <= high:
        faults.append(Fault(field, value, f"give a whole number, 1 to {high}"))
        return 1
    return value


def _interval(given: dict[str, Any], faults: list[Fault]) -> Form | None:
    minutes = _whole(given, "every_minutes", MOST_MINUTES, faults)
    try:
        anchor = datetime.fromisoformat(str(given.get("anchor")).replace("Z", "+00:00"))
        if anchor.tzinfo is None:
            raise ValueError
    except ValueError:
        message = "not an instant with its zone; give one such as 2026-03-29T01:00:00Z"
        faults.append(Fault("anchor", given.get("anchor"), message))
        return None
    return Interval(minutes, anchor.astimezone(UTC).replace(second=0, microsecond=0))


def _once(given: dict[str, Any], faults: list[Fault]) -> Form | None:
    text = str(given["once"])
    try:
        wall = datetime.fromisoformat(text)
        if wall.tzinfo is not None or "T" not in text:
            raise ValueError
    except ValueError:
        faults.append(Fault("once", given["once"], "give a date and wall time such as 2026-12-01T08:30"))
        return None
    return Once(wall.replace(second=0, microsecond=0))


def _expression(given: dict[str, Any], faults: list[Fault]) -> tuple[Expression, str] | None:
    text, years = given.get("expr", ""), str(given.get("years") or "")
    dialect = given.get("dialect")
    if dialect is not None and dialect not in DIALECTS:
        faults.append(unknown_word("dialect", dialect, list(DIALECTS)))
        dialect = None
    try:
        if not isinstance(text, str):
            raise InputFaults([Fault("expr", text, "give a text such as 30 7 * * 1-5")])
        shown = text
        if dialect == "seconds-first" or (dialect is None and len(text.split()) in (6, 7)):
            shown, years = own_form(text)
        return parse(shown, years), years
    except InputFaults as error:
        # A translated code is refused as it was written.
        faults += [Fault(f.field, text if f.field == "expr" else f.value, f.message) for f in error.faults]
    return None


def _coded(given: dict[str, Any], faults: list[Fault]) -> Form | None:
    found = _expression(given, faults)
    weeks, since = 1, None
    if given.get("weeks") not in (None, 1):
        weeks = _whole(given, "weeks", MOST_WEEKS, faults)
        try:
            since = date.fromisoformat(str(given.get("weeks_from")))
        except ValueError:
            message = "give the date of a week that counts, such as 2026-01-05"
            faults.append(Fault("weeks_from", given.get("weeks_from"), message))
    return None if found is None else Coded(*found, weeks, since)


def from_dict(given: dict[str, Any], faults: list[Fault]) -> Form | None:
    """A form from its JSON; what is wrong is added to the faults."""
    if given.get("every_minutes") is not None:
        return _interval(given, faults)
    if given.get("once") is not None:
        return _once(given, faults)
    return _coded(given, faults)
