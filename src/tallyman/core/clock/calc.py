"""`calc clock`: the times, the sentence and the notes of one expression (rules §6)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, time
from itertools import islice
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from tallyman.core.clock.fields import Expression, parse
from tallyman.core.clock.reading import reading
from tallyman.core.clock.times import Fired, OnClosed, Window, starts
from tallyman.core.faults import Fault, InputFaults, unknown_word
from tallyman.core.workdays import Calendar, read_calendar

MOST_TIMES = 1000


@dataclass(frozen=True)
class Schedule:
    """An expression with its zone, calendar, move and window: all that decides its times."""

    expression: Expression
    zone_name: str
    calendar: Calendar | None
    on_closed: OnClosed
    window: Window | None

    def after(self, when: datetime) -> Iterator[Fired]:
        """Every start strictly later than that instant, in order."""
        zone = ZoneInfo(self.zone_name)
        return starts(self.expression, zone, when, self.calendar, self.on_closed, self.window)

    @property
    def sentence(self) -> str:
        """The reading, zone included."""
        kept = self.on_closed if self.calendar is not None else None
        return reading(self.expression, self.zone_name, kept, self.window)


def instant(text: Any, field: str, faults: list[Fault]) -> datetime:
    """An ISO instant with its zone as aware UTC; a fault if there is none."""
    try:
        found = datetime.fromisoformat(str(text).replace("Z", "+00:00"))
        if found.tzinfo is None:
            raise ValueError
        return found.astimezone(UTC)
    except (ValueError, OverflowError):
        message = "not an instant with its zone; give one such as 2026-03-29T01:00:00Z"
        faults.append(Fault(field, text, message))
        return datetime(2000, 1, 1, tzinfo=UTC)


def zone_fault(name: Any, field: str) -> Fault | None:
    """A fault if there is no such time zone."""
    try:
        ZoneInfo(str(name))
    except (ZoneInfoNotFoundError, ValueError, OSError):
        return Fault(field, name, "no such zone; give an IANA name such as Europe/Lisbon")
    return None


def _window(given: Any, faults: list[Fault]) -> Window | None:
    if given is None:
        return None
    ends = []
    for name in ("from", "to"):
        text = given.get(name) if isinstance(given, dict) else given
        try:
            ends.append(time.fromisoformat(str(text)))
        except ValueError:
            faults.append(Fault(f"window.{name}", text, "give a wall time such as 08:30"))
    if len(ends) == 2 and ends[0] == ends[1]:
        faults.append(Fault("window", given, "from and to are the same, so it is never open"))
    return Window(*ends) if len(ends) == 2 else None


def read_schedule(given: dict[str, Any]) -> Schedule:
    """Checks everything that decides the times; raises InputFaults with every fault."""
    faults: list[Fault] = []
    expression: Expression | None = None
    try:
        expression = parse(given.get("expr", ""))
    except InputFaults as error:
        faults += error.faults
    zone = given.get("tz", "UTC")
    wrong_zone = zone_fault(zone, "tz")
    if wrong_zone:
        faults.append(wrong_zone)
    dialect = given.get("dialect", "five-field")
    if dialect != "five-field":
        faults.append(unknown_word("dialect", dialect, ["five-field"]))
    on_closed = given.get("on_closed", "skip")
    if on_closed not in ("skip", "next", "previous"):
        faults.append(unknown_word("on_closed", on_closed, ["skip", "next", "previous"]))
    given_calendar = given.get("calendar")
    calendar = None
    if given_calendar is not None:
        calendar = read_calendar(given_calendar, faults, "calendar.")
    window = _window(given.get("window"), faults)
    if faults or expression is None:
        raise InputFaults(faults)
    return Schedule(expression, str(zone), calendar, on_closed, window)


def _notes(fired: list[Fired]) -> list[str]:
    notes = []
    for one in fired:
        if len(one.nominal) > 1:
            names = ", ".join(_text(at) for at in one.nominal)
            notes.append(f"{_text(one.at)} stands for {names}, which fall together")
        elif one.nominal and one.nominal[0] != one.at:
            notes.append(f"{_text(one.at)} was moved from {_text(one.nominal[0])}, a closed day")
    return notes


def _text(at: datetime) -> str:
    return at.strftime("%Y-%m-%dT%H:%M:%SZ")


def clock(given: dict[str, Any]) -> dict[str, Any]:
    """`calc clock`: the next times strictly after `from`, the reading, and notes on merges."""
    if not isinstance(given, dict):
        raise InputFaults([Fault("input", given, "give one JSON object")])
    faults: list[Fault] = []
    after = instant(given.get("from"), "from", faults)
    count = given.get("count")
    if not isinstance(count, int) or isinstance(count, bool) or not 1 <= count <= MOST_TIMES:
        faults.append(Fault("count", count, f"give a whole number, 1 to {MOST_TIMES}"))
        count = 1
    try:
        schedule = read_schedule(given)
    except InputFaults as error:
        raise InputFaults(faults + error.faults) from None
    if faults:
        raise InputFaults(faults)
    fired = list(islice(schedule.after(after), count))
    if not fired:
        message = "never fires: closed days or the window leave no time for it"
        raise InputFaults([Fault("expr", given.get("expr"), message)])
    return {
        "times": [_text(one.at) for one in fired],
        "reading": schedule.sentence,
        "notes": _notes(fired),
    }
