"""Working-day plans: a phase follows the one before without counting days by hand (rules §4)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from tallyman.core.faults import Fault, InputFaults

MOST_DAYS = 5000
MOST_PHASES = 200


@dataclass(frozen=True)
class Calendar:
    """Which days are worked: ISO weekdays that are free, and single closed days."""

    weekend: frozenset[int] = frozenset({6, 7})
    closed: frozenset[date] = frozenset()

    def is_open(self, day: date) -> bool:
        """Whether that day is a working day."""
        return day.isoweekday() not in self.weekend and day not in self.closed

    def on_or_after(self, day: date) -> date:
        """The first working day from that day on; InputFaults if none comes within 366 days."""
        return self._seek(day, 1)

    def _seek(self, day: date, step: int) -> date:
        for _ in range(367):
            if self.is_open(day):
                return day
            day += timedelta(days=step)
        raise InputFaults([Fault("calendar", None, "all days are closed for 366 days; open some day")])

    def shifted(self, day: date, days: int) -> date:
        """That many working days later (or earlier, if negative) than a working day."""
        step = 1 if days >= 0 else -1
        for _ in range(abs(days)):
            day = self._seek(day + timedelta(days=step), step)
        return day


@dataclass(frozen=True)
class Phase:
    """A phase as wanted: its length and its lag, in working days; 0 days is a milestone."""

    name: str
    days: int
    lag: int = 0


@dataclass(frozen=True)
class Placed:
    """A phase as placed: its first and its last working day."""

    name: str
    start: date
    end: date


def plan(start: date, calendar: Calendar, phases: list[Phase]) -> list[Placed]:
    """Places each phase after the one before (rules §4)."""
    first = calendar.on_or_after(start)
    placed: list[Placed] = []
    previous_end: date | None = None
    for phase in phases:
        if phase.days == 0:
            at = placed[-1].end if placed else first
            placed.append(Placed(phase.name, at, at))
            continue
        after = start if previous_end is None else previous_end + timedelta(days=1)
        wanted = calendar.on_or_after(after)
        begin = max(calendar.shifted(wanted, phase.lag), first)
        previous_end = calendar.shifted(begin, phase.days - 1)
        placed.append(Placed(phase.name, begin, previous_end))
    return placed


def read_calendar(given: Any, faults: list[Fault], prefix: str = "") -> Calendar:
    """A calendar from `weekend` (ISO weekdays) and `closed` (ISO dates); faults are gathered."""
    given = given or {}
    if not isinstance(given, dict):
        faults.append(Fault(prefix.rstrip(".") or "calendar", given, "give a JSON object"))
        return Calendar()
    weekend, closed = given.get("weekend", [6, 7]), given.get("closed", [])
    if not isinstance(weekend, list) or not all(
        isinstance(day, int) and not isinstance(day, bool) and 1 <= day <= 7 for day in weekend
    ):
        faults.append(Fault(f"{prefix}weekend", weekend, "give ISO weekdays, 1 (Monday) to 7 (Sunday)"))
        weekend = [6, 7]
    elif len(set(weekend)) == 7:
        faults.append(Fault(f"{prefix}weekend", weekend, "every day is free; leave one to work on"))
        weekend = [6, 7]
    days: set[date] = set()
    if not isinstance(closed, list):
        faults.append(Fault(f"{prefix}closed", closed, "give a list of dates"))
        closed = []
    for index, text in enumerate(closed):
        try:
            days.add(date.fromisoformat(str(text)))
        except ValueError:
            faults.append(Fault(f"{prefix}closed[{index}]", text, "not a date; give one such as 2026-12-24"))
    return Calendar(frozenset(weekend), frozenset(days))


def _whole(row: dict[str, Any], name: str, field: str, low: int, faults: list[Fault]) -> int:
    value = row.get(name, 0 if name == "lag" else None)
    if isinstance(value, str) and value.strip().lstrip("-").isdigit():
        value = int(value)
    if isinstance(value, float) and value.is_integer():
        value = int(value)
    if not isinstance(value, int) or isinstance(value, bool) or not low <= value <= MOST_DAYS:
        message = f"give a whole number of working days, {low} to {MOST_DAYS}"
        faults.append(Fault(f"{field}.{name}", value, message))
        return 0
    return value


def workdays(given: dict[str, Any]) -> dict[str, Any]:
    """`calc workdays`: the dates of each phase, and the end of the last one."""
    if not isinstance(given, dict):
        raise InputFaults([Fault("input", given, "give one JSON object")])
    faults: list[Fault] = []
    start = date.min
    try:
        start = date.fromisoformat(str(given.get("start")))
    except ValueError:
        faults.append(Fault("start", given.get("start"), "not a date; give one such as 2026-04-20"))
    calendar = read_calendar(given, faults)
    rows = given.get("phases")
    if not isinstance(rows, list) or not rows or len(rows) > MOST_PHASES:
        faults.append(Fault("phases", rows, f"give 1 to {MOST_PHASES} phases"))
        rows = []
    phases = []
    for index, row in enumerate(rows):
        field = f"phases[{index}]"
        if not isinstance(row, dict):
            faults.append(Fault(field, row, "give name and days"))
            continue
        days = _whole(row, "days", field, 0, faults)
        lag = _whole(row, "lag", field, -MOST_DAYS, faults)
        phases.append(Phase(str(row.get("name", "")), days, lag))
    if faults:
        raise InputFaults(faults)
    placed = plan(start, calendar, phases)
    return {
        "phases": [
            {"name": one.name, "start": one.start.isoformat(), "end": one.end.isoformat()} for one in placed
        ],
        "end": placed[-1].end.isoformat(),
    }
