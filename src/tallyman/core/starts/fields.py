"""Five-field expressions: read strictly, every fault named with its field, value and mend.

Pasted codes of six or seven fields (rules §6) are translated in pasted.py.
"""

from __future__ import annotations

import calendar
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache

from tallyman.core.faults import Fault, InputFaults

MONTHS = ("JAN", "FEB", "MAR", "APR", "MAY", "JUN", "JUL", "AUG", "SEP", "OCT", "NOV", "DEC")
WEEKDAYS = ("SUN", "MON", "TUE", "WED", "THU", "FRI", "SAT")
SHORT_NAMES = {
    "@hourly": "0 * * * *",
    "@daily": "0 0 * * *",
    "@midnight": "0 0 * * *",
    "@weekly": "0 0 * * 0",
    "@monthly": "0 0 1 * *",
    "@yearly": "0 0 1 1 *",
    "@annually": "0 0 1 1 *",
}
LONGEST = 300


@dataclass(frozen=True)
class FieldSpec:
    """What one field may hold."""

    name: str
    low: int
    high: int
    words: tuple[str, ...] = ()
    first_word: int = 0
    top: int | None = None

    @property
    def last(self) -> int:
        """Where `*` and an open step end; Sunday as 7 is only another name for 0."""
        return self.high if self.top is None else self.top

    @property
    def allowed(self) -> str:
        """The allowed form, for people."""
        words = f" or {self.words[0]} to {self.words[-1]}" if self.words else ""
        return f"{self.low} to {self.high}{words}, lists 1,2, ranges 1-5, steps */2 or 1-9/2"


SPECS = (
    FieldSpec("minute", 0, 59),
    FieldSpec("hour", 0, 23),
    FieldSpec("day of month", 1, 31),
    FieldSpec("month", 1, 12, MONTHS, 1),
    FieldSpec("day of week", 0, 7, WEEKDAYS, 0, 6),
)
YEAR = FieldSpec("year", 1970, 2099)


@dataclass(frozen=True)
class Expression:
    """A read expression: plain values, and the special days of month and week.

    `weekdays` counts Sunday as 0. `nth_weekdays` holds (weekday, n), `last_weekdays` weekdays.
    """

    text: str
    minutes: tuple[int, ...]
    hours: tuple[int, ...]
    days: tuple[int, ...]
    months: tuple[int, ...]
    weekdays: tuple[int, ...]
    last_day: bool
    last_workday: bool
    nearest: tuple[int, ...]
    nth_weekdays: tuple[tuple[int, int], ...]
    last_weekdays: tuple[int, ...]
    wild_clock: bool
    open_days: bool
    open_weekdays: bool
    years: tuple[int, ...] = ()

    def day_of_month_matches(self, day: date) -> bool:
        """Whether the day-of-month field takes that date."""
        length = calendar.monthrange(day.year, day.month)[1]
        if day.day in self.days or (self.last_day and day.day == length):
            return True
        if self.last_workday and day == _last_workday(day.year, day.month):
            return True
        return any(n <= length and day == nearest_weekday(day.year, day.month, n) for n in self.nearest)

    def day_of_week_matches(self, day: date) -> bool:
        """Whether the day-of-week field takes that date."""
        weekday = day.isoweekday() % 7
        if weekday in self.weekdays or (weekday, (day.day - 1) // 7 + 1) in self.nth_weekdays:
            return True
        length = calendar.monthrange(day.year, day.month)[1]
        return weekday in self.last_weekdays and day.day + 7 > length

    def matches(self, day: date) -> bool:
        """Whether that date is one to start on: either day field if both are restricted, else both."""
        if day.month not in self.months or (self.years and day.year not in self.years):
            return False
        if not self.open_days and not self.open_weekdays:
            return self.day_of_month_matches(day) or self.day_of_week_matches(day)
        return self.day_of_month_matches(day) and self.day_of_week_matches(day)


def nearest_weekday(year: int, month: int, day: int) -> date:
    """The weekday (Monday to Friday) nearest to that day, never leaving its month."""
    wanted = date(year, month, day)
    length = calendar.monthrange(year, month)[1]
    if wanted.isoweekday() == 6:
        return wanted + timedelta(days=-1 if day > 1 else 2)
    if wanted.isoweekday() == 7:
        return wanted + timedelta(days=1 if day < length else -2)
    return wanted


def _last_workday(year: int, month: int) -> date:
    last = date(year, month, calendar.monthrange(year, month)[1])
    return last - timedelta(days=max(0, last.isoweekday() - 5))


class FieldText:
    """Reads one field; gathers its faults."""

    def __init__(self, spec: FieldSpec, text: str) -> None:
        self.spec = spec
        self.text = text
        self.faults: list[Fault] = []
        self.values: set[int] = set()
        self.last_day = self.last_workday = False
        self.nearest: set[int] = set()
        self.nth: set[tuple[int, int]] = set()
        self.last_weekdays: set[int] = set()
        for item in text.split(","):
            self._item(item.upper())

    def _refuse(self, value: str, message: str) -> None:
        self.faults.append(Fault(self.spec.name, value, f"{message}; allowed: {self.spec.allowed}"))

    def _number(self, text: str, value: str) -> int | None:
        if text in self.spec.words:
            return self.spec.words.index(text) + self.spec.first_word
        if not (text.isascii() and text.isdigit()) or len(text) > 4:
            self._refuse(value, f"{text or 'nothing'} is no number or name of this field")
            return None
        number = int(text)
        if not self.spec.low <= number <= self.spec.high:
            self._refuse(value, f"{number} is out of range")
            return None
        return number

    def _item(self, item: str) -> None:
        if not item:
            self._refuse(self.text, "an empty item stands in the list")
            return
        if self._special(item):
            return
        body, slash, step_text = item.partition("/")
        step = 1
        if slash:
            if not (step_text.isascii() and step_text.isdigit()) or not 1 <= int(step_text) <= 99:
                self._refuse(item, "the step must be a whole number from 1")
                return
            step = int(step_text)
        span = self._span(body, item, bool(slash))
        if span is not None:
            self.values.update(range(span[0], span[1] + 1, step))

    def _span(self, body: str, item: str, stepped: bool) -> tuple[int, int] | None:
        top = self.spec.last
        if body == "*":
            return self.spec.low, top
        first, dash, last = body.partition("-")
        start = self._number(first, item)
        if start is None:
            return None
        if not dash:
            return start, top if stepped and start <= top else start
        end = self._number(last, item)
        if end is None:
            return None
        if end < start:
            self._refuse(item, "the range falls; write the smaller end first")
            return None
        return start, end

    def _special(self, item: str) -> bool:
        if self.spec.name == "day of month":
            return self._special_day(item)
        if self.spec.name == "day of week":
            return self._special_weekday(item)
        return False

    def _special_day(self, item: str) -> bool:
        if item == "L":
            self.last_day = True
        elif item == "LW":
            self.last_workday = True
        elif item.endswith("W"):
            number = self._number(item[:-1], item)
            if number is not None:
                self.nearest.add(number)
        else:
            return False
        return True

    def _special_weekday(self, item: str) -> bool:
        if item.endswith("L") and len(item) > 1:
            number = self._number(item[:-1], item)
            if number is not None:
                self.last_weekdays.add(number % 7)
            return True
        body, hash_mark, nth = item.partition("#")
        if not hash_mark:
            return False
        if nth not in ("1", "2", "3", "4", "5"):
            self._refuse(item, "a month has no such weekday; give #1 to #5")
            return True
        span = self._span(body, item, False) if body != "*" else None
        if body == "*":
            self._refuse(item, "name the weekday before #")
        if span is not None:
            self.nth.update((day % 7, int(nth)) for day in range(span[0], span[1] + 1))
        return True


@lru_cache(maxsize=4096)
def parse(text: str, years: str = "") -> Expression:
    """Reads a five-field expression or a short name such as @daily, perhaps only in some years.

    Raises InputFaults naming each field, its value and the allowed form.
    """
    shown = text if isinstance(text, str) else str(text)
    body = shown.strip()
    if body.startswith("@"):
        if body.lower() not in SHORT_NAMES:
            raise InputFaults([Fault("expr", text, f"allowed: {', '.join(SHORT_NAMES)}")])
        body = SHORT_NAMES[body.lower()]
    parts = body.split()
    if len(parts) != 5 or len(body) > LONGEST:
        message = (
            f"{len(parts)} fields; give five: minute, hour, day of month, month, day of week, "
            "such as 30 7 * * 1-5; or six or seven with the seconds first"
        )
        raise InputFaults([Fault("expr", text, message)])
    fields = [FieldText(spec, part) for spec, part in zip(SPECS, parts, strict=True)]
    faults = [fault for field in fields for fault in field.faults]
    in_years = FieldText(YEAR, years) if years not in ("", "*") else None
    faults += in_years.faults if in_years else []
    if faults:
        raise InputFaults(faults)
    minute, hour, day, month, weekday = fields
    found = Expression(
        body,
        tuple(sorted(minute.values)),
        tuple(sorted(hour.values)),
        tuple(sorted(day.values)),
        tuple(sorted(month.values)),
        tuple(sorted({value % 7 for value in weekday.values})),
        day.last_day,
        day.last_workday,
        tuple(sorted(day.nearest)),
        tuple(sorted(weekday.nth)),
        tuple(sorted(weekday.last_weekdays)),
        minute.text.startswith("*") or hour.text.startswith("*"),
        day.text.startswith("*"),
        weekday.text.startswith("*"),
        tuple(sorted(in_years.values)) if in_years else (),
    )
    if not _ever_matches(found):
        raise InputFaults([Fault("expr", text, "no such date ever comes; choose one that exists")])
    return found


def _ever_matches(found: Expression) -> bool:
    """Whether any date of 45 years matches, within which each one there is comes again."""
    for year in found.years or range(2000, 2045):
        for month in found.months:
            length = calendar.monthrange(year, month)[1]
            if any(found.matches(date(year, month, day)) for day in range(1, length + 1)):
                return True
    return False
