"""`calc clock`: the times, the sentence and the notes of one expression (rules §6)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from itertools import islice
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from tallyman.core.faults import Fault, InputFaults, unknown_word
from tallyman.core.house import Calendar, read_calendar
from tallyman.core.starts.forms import Form, from_dict
from tallyman.core.starts.reading import reading
from tallyman.core.starts.times import Dropped, Fired, OnClosed, Window, dropped, starts

MOST_TIMES = 1000
DAYS_LOOKED_AT = 367


@dataclass(frozen=True)
class Schedule:
    """A form with its zone, calendar, move and window: all that decides its times."""

    form: Form
    zone_name: str
    calendar: Calendar | None
    on_closed: OnClosed
    window: Window | None

    def after(self, when: datetime) -> Iterator[Fired]:
        """Every start strictly later than that instant, in order."""
        zone = ZoneInfo(self.zone_name)
        return starts(self.form, zone, when, self.calendar, self.on_closed, self.window)

    def dropped(self, since: datetime, until: datetime) -> Iterator[Dropped]:
        """Nominal times in since < t ≤ until at which nothing starts, each with the reason."""
        zone = ZoneInfo(self.zone_name)
        return dropped(self.form, zone, since, until, self.calendar, self.on_closed, self.window)

    @property
    def sentence(self) -> str:
        """The reading, zone included."""
        kept = self.on_closed if self.calendar is not None else None
        return reading(self.form, self.zone_name, kept, self.window)


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
    form = from_dict(given, faults)
    zone = given.get("tz", "UTC")
    wrong_zone = zone_fault(zone, "tz")
    if wrong_zone:
        faults.append(wrong_zone)
    on_closed = given.get("on_closed", "skip")
    if on_closed not in ("skip", "next", "previous"):
        faults.append(unknown_word("on_closed", on_closed, ["skip", "next", "previous"]))
    given_calendar = given.get("calendar")
    calendar = None
    if given_calendar is not None:
        calendar = read_calendar(given_calendar, faults, "calendar.")
    window = _window(given.get("window"), faults)
    if faults or form is None:
        raise InputFaults(faults)
    return Schedule(form, str(zone), calendar, on_closed, window)


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


def _field_of(given: dict[str, Any]) -> str:
    """The field that says when it starts."""
    return next((name for name in ("every_minutes", "once") if given.get(name) is not None), "expr")


def _check_open(calendar: Calendar, day: date) -> None:
    """Raises InputFaults if every day of the 366 from that one on is closed."""
    if not any(calendar.is_open(day + timedelta(days=n)) for n in range(DAYS_LOOKED_AT)):
        message = "never fires: all days are closed for 366 days; open some day"
        raise InputFaults([Fault("calendar", None, message)])


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
    if schedule.calendar is not None:
        _check_open(schedule.calendar, after.astimezone(ZoneInfo(schedule.zone_name)).date())
    fired = list(islice(schedule.after(after), count))
    if not fired:
        message = "never fires: closed days, the window, the years or its date leave no time for it"
        raise InputFaults([Fault(_field_of(given), given.get(_field_of(given)), message)])
    return {
        "kept": schedule.form.as_dict(),
        "times": [_text(one.at) for one in fired],
        "reading": schedule.sentence,
        "notes": _notes(fired),
    }
