"""A plain sentence for every expression that is accepted (rules §6)."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from itertools import pairwise

from tallyman.core.starts.fields import Expression
from tallyman.core.starts.forms import Coded, Form, Interval, Once
from tallyman.core.starts.times import OnClosed, Window

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
NO_CHANGES = ("UTC", "Etc/UTC")


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


def _span(values: Sequence[int]) -> tuple[int, int] | None:
    """First and last if the values are at least three in one unbroken row."""
    runs = _runs(values)
    return runs[0] if len(runs) == 1 and len(values) >= 3 else None


def _past(hours: Sequence[int]) -> str:
    """The hours that minutes are counted from: `every hour`, `every 6th hour from 00:00`."""
    step = _step(hours, 24)
    if step == 1:
        return "every hour"
    if step is not None:
        return f"every {ordinal(step)} hour from 00:00"
    return f"the hours {_numbers(hours)}"


def _clock(found: Expression) -> str:
    """The times of a day."""
    minutes, hours = found.minutes, found.hours
    hour_step, minute_step = _step(hours, 24), _step(minutes, 60)
    if minutes == (0,) and hour_step is not None:
        return "every hour on the hour" if hour_step == 1 else f"every {hour_step} hours on the hour"
    if len(minutes) * len(hours) <= MOST_TIMES:
        times = [f"{hour:02}:{minute:02}" for hour in hours for minute in minutes]
        return f"at {listed(times)}"
    if minutes == (0,) and (span := _span(hours)):
        return f"every hour on the hour from {span[0]:02}:00 to {span[1]:02}:00"
    if minute_step is not None:
        often = "every minute" if minute_step == 1 else f"every {minute_step} minutes"
        if hour_step == 1:
            return often
        if len(hours) == 1:
            return f"{often} from {hours[0]:02}:00 to {hours[0]:02}:{minutes[-1]:02}"
        if span := _span(hours):
            return f"{often} from {span[0]:02}:00 to {span[1]:02}:{minutes[-1]:02}"
        return f"{often} in {_past(hours)}"
    unit = "minute" if minutes == (1,) else "minutes"
    return f"at {_numbers(minutes)} {unit} past {_past(hours)}"


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


def _years(years: Sequence[int]) -> str:
    """`in 2028`, `in the years 2026 to 2030`, `every 4 years from 2025 to 2097`."""
    steps = {late - early for early, late in pairwise(years)}
    if len(years) >= 3 and len(steps) == 1 and steps != {1}:
        return f"every {steps.pop()} years from {years[0]} to {years[-1]}"
    return f"in {years[0]}" if len(years) == 1 else f"in the years {_numbers(years)}"


def _coded(form: Coded) -> str:
    found = form.expression
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
    if form.weeks > 1 and form.weeks_from is not None:
        first = form.weeks_from - timedelta(days=form.weeks_from.isoweekday() - 1)
        text += f", every {ordinal(form.weeks)} week from that of {first}"
    if found.years:
        text += f", {_years(found.years)}"
    return text


def _at_changes(found: Expression, zone: str) -> str:
    """What happens when the clock changes, where that is not what the times suggest by themselves."""
    clock = _clock(found)
    plain = clock.startswith("every ") and " from " not in clock and " in " not in clock
    if zone in NO_CHANGES or found.wild_clock == (plain or clock.endswith("past every hour")):
        return ""
    if found.wild_clock:
        return ", in both passes of a repeated hour and not in a skipped one"
    return ", once in a repeated hour and after a skipped one"


def _interval(form: Interval) -> str:
    hours, minutes = divmod(form.minutes, 60)
    if minutes:
        often = "every minute" if form.minutes == 1 else f"every {form.minutes} minutes"
    else:
        often = "every hour" if hours == 1 else f"every {hours} hours"
    return f"{often} by elapsed time, counted from {form.anchor:%Y-%m-%d %H:%M} UTC"


def _form(form: Form) -> str:
    if isinstance(form, Coded):
        return _coded(form)
    if isinstance(form, Interval):
        return _interval(form)
    assert isinstance(form, Once)
    return f"once, on {form.wall:%Y-%m-%d} at {form.wall:%H:%M}"


def reading(
    form: Form,
    zone: str,
    on_closed: OnClosed | None = None,
    window: Window | None = None,
) -> str:
    """The sentence: days, months, times, weeks, years, window, closed days, zone.

    `on_closed` is None where no calendar is kept.
    """
    text = _form(form)
    if isinstance(form, Coded):
        text += _at_changes(form.expression, zone)
    if window is not None:
        text += f", between {window.start:%H:%M} and {window.end:%H:%M}"
    if on_closed is not None:
        text += {
            "skip": ", not on closed days",
            "next": ", from a closed day moved to the next open one",
            "previous": ", from a closed day moved to the open day before",
        }[on_closed]
    return f"{text[0].upper()}{text[1:]} ({zone})"
