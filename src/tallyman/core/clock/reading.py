"""A plain sentence for every expression that is accepted (rules §6)."""

from __future__ import annotations

from collections.abc import Sequence

from tallyman.core.clock.fields import Expression
from tallyman.core.clock.times import OnClosed, Window

WEEKDAY_NAMES = ("Sunday", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday")
MONTH_NAMES = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
NTH = ("", "first", "second", "third", "fourth", "fifth")
ALL_WEEKDAYS = (0, 1, 2, 3, 4, 5, 6)
MOST_TIMES = 6


def listed(words: Sequence[str]) -> str:
    """`a`, `a and b`, `a, b and c`."""
    if len(words) < 2:
        return "".join(words)
    return f"{', '.join(words[:-1])} and {words[-1]}"


def ordinal(number: int) -> str:
    """1st, 2nd, 3rd, 4th, 11th, 21st."""
    suffix = "th" if 11 <= number % 100 <= 13 else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{suffix}"


def _runs(values: Sequence[int]) -> list[tuple[int, int]]:
    runs: list[tuple[int, int]] = []
    for value in values:
        if runs and runs[-1][1] == value - 1:
            runs[-1] = (runs[-1][0], value)
        else:
            runs.append((value, value))
    return runs


def _numbers(values: Sequence[int]) -> str:
    words = []
    for low, high in _runs(values):
        if high - low >= 2:
            words.append(f"{low} to {high}")
        else:
            words += [str(value) for value in range(low, high + 1)]
    return listed(words)


def _step(values: Sequence[int], size: int) -> int | None:
    """n if the values are exactly 0, n, 2n, … round a field whose size n divides."""
    if len(values) < 2 or values[0] != 0:
        return None
    step = values[1]
    return step if size % step == 0 and tuple(values) == tuple(range(0, size, step)) else None


def _hours(values: Sequence[int]) -> str:
    step = _step(values, 24)
    if step == 1:
        return "every hour"
    if step == 2:
        return "every second hour from 00:00"
    return f"the hours {_numbers(values)}" if len(values) > 1 else f"{values[0]:02}:00"


def _clock(found: Expression) -> str:
    minutes, hours = found.minutes, found.hours
    hour_step, minute_step = _step(hours, 24), _step(minutes, 60)
    if minutes == (0,) and hour_step is not None:
        return "every hour on the hour" if hour_step == 1 else f"every {hour_step} hours on the hour"
    if len(minutes) * len(hours) <= MOST_TIMES:
        times = [f"{hour:02}:{minute:02}" for hour in hours for minute in minutes]
        return f"at {listed(times)}"
    if minute_step is not None:
        often = "every minute" if minute_step == 1 else f"every {minute_step} minutes"
        if hour_step == 1:
            return often
        return f"{often} of {_hours(hours)}" if len(hours) > 1 else f"{often} from {_hours(hours)}"
    plural = "minute" if minutes == (1,) else "minutes"
    return f"at {_numbers(minutes)} {plural} past {_hours(hours)}"


def _weekday_parts(found: Expression) -> list[str]:
    parts = []
    if found.weekdays:
        monday_first = sorted((day or 7) for day in found.weekdays)
        runs = _runs(monday_first)
        if len(runs) == 1 and runs[0][1] - runs[0][0] >= 2:
            low, high = (WEEKDAY_NAMES[day % 7] for day in runs[0])
            parts.append(f"{low} to {high}")
        else:
            parts.append(f"every {listed([WEEKDAY_NAMES[day % 7] for day in monday_first])}")
    for nth in range(1, 6):
        names = [WEEKDAY_NAMES[day] for day in (1, 2, 3, 4, 5, 6, 0) if (day, nth) in found.nth_weekdays]
        if names:
            parts.append(f"the {NTH[nth]} {listed(names)} of the month")
    if found.last_weekdays:
        names = [WEEKDAY_NAMES[day] for day in (1, 2, 3, 4, 5, 6, 0) if day in found.last_weekdays]
        parts.append(f"the last {listed(names)} of the month")
    return parts


def _day_parts(found: Expression) -> list[str]:
    parts = []
    if found.days:
        names = []
        for low, high in _runs(found.days):
            if high - low >= 2:
                names.append(f"{ordinal(low)} to {ordinal(high)}")
            else:
                names += [ordinal(day) for day in range(low, high + 1)]
        rare = ", in months that have it" if max(found.days) > 28 else ""
        parts.append(f"the {listed(names)} of the month{rare}")
    if found.last_day:
        parts.append("the last day of the month")
    if found.last_workday:
        parts.append("the last working day (Monday to Friday) of the month")
    for day in found.nearest:
        rare = ", in months that have one" if day > 28 else ""
        parts.append(f"the weekday nearest to the {ordinal(day)}{rare}")
    return parts


def _on(parts: list[str]) -> str:
    """The days as words: `on the 1st of the month and every Tuesday`."""
    text = listed(parts)
    return f"on {text}" if parts and parts[0].startswith("the ") else text


def _days(found: Expression) -> str:
    all_days = found.days == tuple(range(1, 32))
    all_weekdays = found.weekdays == ALL_WEEKDAYS
    if not found.open_days and not found.open_weekdays:
        if all_days or all_weekdays:
            return "every day"
        return _on(_day_parts(found) + _weekday_parts(found))
    days = [] if all_days else _day_parts(found)
    weekdays = [] if all_weekdays else _weekday_parts(found)
    if days and weekdays:
        return f"{_on(days)}, if that is {_either(weekdays)}"
    return _on(days or weekdays) or "every day"


def _either(weekdays: list[str]) -> str:
    text = " or ".join(weekdays)
    return text.replace("every ", "a ").replace(" and ", " or ")


def reading(
    found: Expression,
    zone: str,
    on_closed: OnClosed | None = None,
    window: Window | None = None,
) -> str:
    """The sentence: days, months, times, window, closed days, zone.

    `on_closed` is None where no calendar is kept.
    """
    clock = _clock(found)
    days = _days(found)
    if days == "every day" and clock.startswith("every "):
        text = clock
    elif clock.startswith("at ") and not days.startswith("on "):
        text = f"{days} {clock}"
    else:
        text = f"{days}, {clock}"
    if len(found.months) < 12:
        text += f", in {listed([MONTH_NAMES[month - 1] for month in found.months])}"
    if window is not None:
        text += f", between {window.start:%H:%M} and {window.end:%H:%M}"
    if on_closed is not None:
        text += {
            "skip": ", not on closed days",
            "next": ", from a closed day moved to the next open one",
            "previous": ", from a closed day moved to the open day before",
        }[on_closed]
    return f"{text[0].upper()}{text[1:]} ({zone})"
