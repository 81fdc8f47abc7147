"""Reads the clock's sentences back and computes their times another way: minute by minute.

Nothing here uses the rules under test, so that a sentence and its expression prove one another.
"""

from __future__ import annotations

import calendar
import re
from collections import defaultdict
from collections.abc import Callable, Iterator
from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"]
MONTHS = list(calendar.month_name)[1:]
NTH = ["first", "second", "third", "fourth", "fifth"]
BOTH = ", in both passes of a repeated hour and not in a skipped one"
ONCE = ", once in a repeated hour and after a skipped one"
Days = Callable[[date], bool]


def numbers(text: str) -> set[int]:
    """`1, 3 and 5 to 9` as numbers; endings such as 1st are dropped."""
    found: set[int] = set()
    for part in re.split(r", | and ", re.sub(r"(\d)(st|nd|rd|th)", r"\1", text)):
        low, _, high = part.partition(" to ")
        found |= set(range(int(low), int(high or low) + 1))
    return found


def names(text: str) -> set[int]:
    """Weekday names as Monday = 0."""
    return {WEEKDAYS.index(name) for name in re.split(r", | and | or ", text)}


def last_of(day: date) -> int:
    return calendar.monthrange(day.year, day.month)[1]


def nearest(year: int, month: int, wanted: int) -> date | None:
    """The weekday nearest to a day, within its month, found by trying."""
    last = calendar.monthrange(year, month)[1]
    if wanted > last:
        return None
    open_days = [n for n in range(1, last + 1) if date(year, month, n).weekday() < 5]
    return date(year, month, min(open_days, key=lambda n: (abs(n - wanted), n)))


def weekday_part(text: str) -> Days:
    text = re.sub(r"^(every|a) ", "", text)
    if text.startswith("the last "):
        wanted = names(text.removeprefix("the last ").removesuffix(" of the month"))
        return lambda day: day.weekday() in wanted and day.day > last_of(day) - 7
    for n, word in enumerate(NTH):
        if text.startswith(f"the {word} "):
            wanted = names(text.removeprefix(f"the {word} ").removesuffix(" of the month"))
            return lambda day, n=n, wanted=wanted: (  # type: ignore[misc]
                day.weekday() in wanted and n * 7 < day.day <= n * 7 + 7
            )
    if " to " in text:
        low, high = (WEEKDAYS.index(name) for name in text.split(" to "))
        return lambda day: low <= day.weekday() <= high
    wanted = names(re.sub(r"\ba ", "", text))
    return lambda day: day.weekday() in wanted


def day_part(text: str) -> Days:
    if text == "the last day of the month":
        return lambda day: day.day == last_of(day)
    if text == "the last working day (Monday to Friday) of the month":
        return lambda day: day == nearest(day.year, day.month, last_of(day))
    if found := re.fullmatch(r"the weekday nearest to the (\d+)\w\w", text):
        wanted = int(found[1])
        return lambda day: day == nearest(day.year, day.month, wanted)
    wanted_days = numbers(text.removeprefix("the ").removesuffix(" of the month"))
    return lambda day: day.day in wanted_days


PART = re.compile(
    r"the last day of the month|the last working day \(Monday to Friday\) of the month"
    r"|the weekday nearest to the \d+\w\w|the [\dstndrh ,to]+?(?: and \d+\w\w)?(?: to \d+\w\w)? of the month"
    r"|the (?:last|first|second|third|fourth|fifth) [A-Z][A-Za-z, ]*?(?: and [A-Z]\w+)? of the month"
    r"|every [A-Z][a-z]+day(?:(?:, | and )[A-Z][a-z]+day)*|[A-Z][a-z]+day to [A-Z][a-z]+day"
)


def days_of(text: str) -> Days:
    """The dates that the day part of a sentence takes."""
    text = re.sub(r", in months that have (it|one)", "", text).removeprefix("on ")
    text = text[:1].lower() + text[1:] if text.startswith(("On ", "Every ")) else text
    text = text.removeprefix("on ")
    if text == "every day":
        return lambda day: True
    plain, _, condition = text.partition(", if that is ")
    parts = [
        weekday_part(part)
        if any(name in part for name in WEEKDAYS) and "working" not in part
        else day_part(part)
        for part in PART.findall(plain)
    ]
    assert parts, text
    others = (
        [weekday_part(part) for part in re.split(r" or (?=the |a (?!\w+ or ))", condition)]
        if condition
        else []
    )
    return lambda day: any(part(day) for part in parts) and (not others or any(part(day) for part in others))


def walls_of(text: str) -> set[time]:
    """The wall times that the clock part of a sentence names."""
    every = {time(h, m) for h in range(24) for m in range(60)}
    if found := re.fullmatch(
        r"every (?:(\d+) )?(minutes?|hours?)( on the hour)?(?: from (\d\d:\d\d) to (\d\d:\d\d))?(?: in (.*))?",
        text,
    ):
        step = int(found[1] or 1) * (60 if found[2].startswith("hour") else 1)
        low, high = time.fromisoformat(found[4] or "00:00"), time.fromisoformat(found[5] or "23:59")
        hours = hours_of(found[6]) if found[6] else set(range(24))
        return {
            t for t in every if (t.hour * 60 + t.minute) % step == 0 and low <= t <= high and t.hour in hours
        }
    if found := re.fullmatch(r"at (.*) minutes? past (.*)", text):
        minutes, hours = numbers(found[1]), hours_of(found[2])
        return {t for t in every if t.minute in minutes and t.hour in hours}
    assert text.startswith("at "), text
    return {time.fromisoformat(one) for one in re.split(r", | and ", text.removeprefix("at "))}


def hours_of(text: str) -> set[int]:
    if text == "every hour":
        return set(range(24))
    if found := re.fullmatch(r"every (\d+)\w\w hour from 00:00", text):
        return set(range(0, 24, int(found[1])))
    return numbers(text.removeprefix("the hours "))


CLOCK = r"\b(every (?:\d+ )?(?:minutes?|hours?)\b.*?|at \d.*?)"
SENTENCE = re.compile(
    r"^(?:(.*?)(?:, | )??)??" + CLOCK + r"(?:, in ((?:" + "|".join(MONTHS) + r").*?))?"
    r"(?:, (in \d{4}|in the years [\d, toand]+|every \d+ years from \d+ to \d+))?$"
)


class Told:
    """A sentence understood: which dates, which wall times, and whether clock changes repeat it."""

    def __init__(self, sentence: str) -> None:
        body, zone = re.fullmatch(r"(.*) \(([^()]*)\)", sentence).groups()  # type: ignore[union-attr]
        self.zone = ZoneInfo(zone)
        both, once = BOTH in body, ONCE in body
        body = body.replace(BOTH, "").replace(ONCE, "")
        body = body[:1].lower() + body[1:] if body.startswith(("Every ", "At ", "On ")) else body
        found = SENTENCE.match(body)
        assert found, body
        days, clock, months, years = found.groups()
        self.days = days_of((days or "every day").rstrip(", "))
        self.walls = walls_of(clock)
        self.months = {MONTHS.index(one) + 1 for one in re.split(r", | and ", months)} if months else None
        self.years = self._years(years)
        plain = clock.startswith("every ") and " from " not in clock and " in " not in clock
        self.repeats = both or (not once and (plain or clock.endswith("past every hour")))

    @staticmethod
    def _years(text: str | None) -> set[int] | None:
        if text is None:
            return None
        if found := re.fullmatch(r"every (\d+) years from (\d+) to (\d+)", text):
            return set(range(int(found[2]), int(found[3]) + 1, int(found[1])))
        return numbers(re.sub(r"in (the years )?", "", text))

    def takes(self, day: date) -> bool:
        """Whether the sentence names this date."""
        return (
            (self.months is None or day.month in self.months)
            and (self.years is None or day.year in self.years)
            and self.days(day)
        )

    def times(self, after: datetime, until: datetime) -> Iterator[datetime]:
        """Instants in after < t ≤ until, by looking at every minute there is."""
        found: set[datetime] = set()
        for day, minutes in table(self.zone, after, until).items():
            if self.takes(day):
                found |= {at for at, wall, kind in minutes if wall in self.walls and self._counts(kind)}
        yield from sorted(one for one in found if after < one <= until)

    def _counts(self, kind: str) -> bool:
        return kind == "plain" or (kind == "second" if self.repeats else kind == "skipped")


@lru_cache
def table(zone: ZoneInfo, after: datetime, until: datetime) -> dict[date, list[tuple[datetime, time, str]]]:
    """Every minute there is, by local date, and every wall time that a change of the clock skips.

    A minute is *plain*, the *second* of a repeated wall time, or stands for a *skipped* one.
    """
    found: dict[date, list[tuple[datetime, time, str]]] = defaultdict(list)
    seen: set[datetime] = set()
    at = after - timedelta(days=1)
    before = at.astimezone(zone).replace(tzinfo=None) - timedelta(minutes=1)
    while at <= until:
        wall = at.astimezone(zone).replace(tzinfo=None)
        missing = before + timedelta(minutes=1)
        while missing < wall:
            found[missing.date()].append((at, missing.time(), "skipped"))
            missing += timedelta(minutes=1)
        found[wall.date()].append((at, wall.time(), "second" if wall in seen else "plain"))
        seen.add(wall)
        before = wall
        at += timedelta(minutes=1)
    return found


def told(sentence: str, after: datetime, until: datetime) -> list[datetime]:
    """The times a sentence names."""
    return list(Told(sentence).times(after.astimezone(UTC), until.astimezone(UTC)))
