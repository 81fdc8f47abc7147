"""Seats: how many of each kind are bought on a day, how many were used at once, and when they run short."""

from __future__ import annotations

import heapq
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from fractions import Fraction
from typing import get_args

from tallyman.core.exact import text_of
from tallyman.core.runs.words import SeatKind, SeatOfPeople
from tallyman.core.said import day_said
from tallyman.core.working import Part, Used, Working

KINDS: tuple[SeatKind, ...] = get_args(SeatKind)
# Those that belong to a host; the others belong to a person, or to a group whose members share them.
OF_HOSTS: tuple[SeatKind, ...] = ("unattended", "trial")
OF_PEOPLE: tuple[SeatOfPeople, ...] = get_args(SeatOfPeople)
WHAT_FOR: dict[SeatKind, str] = {
    "unattended": "a robot that works by itself, one run at a time",
    "attended": "a robot on a person's own computer, which asks that person first",
    "trial": "a robot's trial run there and back, so that it takes no room from work",
    "builder": "a builder's try-out of a release that nobody else sees yet",
}
# A lot whose end is so near is said to end soon, and those who can renew it are told once for each.
TOLD_BEFORE = (30, 7, 1)
# So many whole weeks are looked at for a trend, and so many it takes to see one.
WEEKS, LEAST_WEEKS = 12, 4
# What stands below a figure of none.
NONE = (Part("None", "0"),)
# A trend says nothing further ahead than it looks back.
FURTHEST_WEEKS = WEEKS


@dataclass(frozen=True)
class Lot:
    """Some seats of one kind, bought together: from a day to another, both included; without it, for good."""

    lot_id: int
    kind: SeatKind
    number: int
    first: date
    last: date | None

    def holds(self, day: date) -> bool:
        """Whether its seats are there on that day."""
        return self.first <= day and (self.last is None or day <= self.last)


def bought(lots: Iterable[Lot], kind: SeatKind, day: date) -> int:
    """How many seats of a kind are there on a day."""
    return sum(lot.number for lot in lots if lot.kind == kind and lot.holds(day))


@dataclass(frozen=True)
class Change:
    """From a day on there are more or fewer seats of a kind."""

    day: date
    before: int
    after: int


def changes(lots: Sequence[Lot], kind: SeatKind, today: date) -> list[Change]:
    """The coming days on which the number of seats changes, the nearest first."""
    own = [lot for lot in lots if lot.kind == kind]
    days = {lot.first for lot in own} | {lot.last + timedelta(days=1) for lot in own if lot.last is not None}
    found = []
    for day in sorted(one for one in days if one > today):
        before, after = bought(own, kind, day - timedelta(days=1)), bought(own, kind, day)
        if before != after:
            found.append(Change(day, before, after))
    return found


def first_short(lots: Sequence[Lot], kind: SeatKind, today: date, given: int) -> Change | None:
    """The first day from tomorrow on which fewer seats are there than are given."""
    return next((one for one in changes(lots, kind, today) if one.after < given <= one.before), None)


def told_now(last: date, today: date) -> int | None:
    """Which of the days before a lot's end has come: 30, 7 or 1; None before them and after the end."""
    left = (last - today).days
    return min((days for days in TOLD_BEFORE if days >= left), default=None) if left >= 0 else None


@dataclass(frozen=True)
class Use:
    """A seat in use from an instant to another; without an end, still."""

    begin: datetime
    end: datetime | None


@dataclass(frozen=True)
class Peak:
    """The most seats used at once, and since when first."""

    number: int
    at: datetime | None


def peak(uses: Iterable[Use], since: datetime, until: datetime) -> Peak:
    """The most seats used at once within since ≤ t < until; who ends as another begins gives it its place."""
    steps = []
    for use in uses:
        begin, end = max(use.begin, since), until if use.end is None else min(use.end, until)
        if begin < end:
            steps += [(begin, 1), (end, -1)]
    most, now, at = 0, 0, None
    for when, step in sorted(steps):
        now += step
        if now > most:
            most, at = now, when
    return Peak(most, at)


@dataclass(frozen=True)
class Start:
    """A start that is to come, and how long its run usually takes, in minutes."""

    at: datetime
    minutes: Fraction
    name: str

    @property
    def lasts(self) -> timedelta:
        """How long it takes, to the second."""
        return timedelta(seconds=round(self.minutes * 60))


@dataclass(frozen=True)
class Wait:
    """A start that finds no seat, and for how many minutes."""

    name: str
    at: datetime
    minutes: Fraction


def waits(starts: Iterable[Start], seats: int) -> list[Wait]:
    """Which coming starts find no seat at once, were seats all that they need: first come, first served.

    A seat that is given back is taken at the same instant. Without any seat, nothing is said: all wait.
    """
    if seats < 1:
        return []
    free_at: list[datetime] = []
    found = []
    for start in sorted(starts, key=lambda one: (one.at, one.name)):
        begin = start.at
        if len(free_at) >= seats:
            begin = max(begin, heapq.heappop(free_at))
        heapq.heappush(free_at, begin + start.lasts)
        if begin > start.at:
            found.append(Wait(start.name, start.at, Fraction((begin - start.at) // timedelta(seconds=1), 60)))
    return found


def wanted_at_once(starts: Iterable[Start], since: datetime, until: datetime) -> Peak:
    """How many coming starts would work at once if nothing held them up."""
    return peak([Use(one.at, one.at + one.lasts) for one in starts], since, until)


def in_weeks(weeks: int | None) -> str:
    """When, as a week from now."""
    return "this week" if not weeks else f"in {weeks} week{'s' if weeks > 1 else ''}"


@dataclass(frozen=True)
class Trend:
    """A straight line through the peaks of whole weeks: its value in the last of them, and how it rises."""

    weeks: tuple[tuple[date, int], ...]
    now: Fraction
    a_week: Fraction

    def weeks_to(self, seats: int) -> int | None:
        """After how many weeks the line is above so many seats; None if not as far ahead as it looks back."""
        for week in range(1, FURTHEST_WEEKS + 1):
            if self.now + self.a_week * week > seats:
                return week
        return None

    def working(self, seats: int) -> Working:
        """The line's value of this week, and its rise, from which the week of running short follows."""
        short = self.weeks_to(seats)
        said = f"above {seats} seats {in_weeks(short)}" if short else f"not above {seats} in {WEEKS} weeks"
        return Working(
            "seats used at once, in a week",
            text_of(self.now + self.a_week * (short or 0), 2),
            "seats",
            "of this week + a week × weeks",
            inputs=(
                Used("Of this week", text_of(self.now, 4), "seats", "straight line through the peaks"),
                Used("A week", text_of(self.a_week, 4), "seats", "its rise"),
                Used("Weeks", str(short or 0), "weeks", "until it is above the seats there are"),
            ),
            note=f"{said}; peaks by week: {', '.join(f'{day:%d %b} {most}' for day, most in self.weeks)}",
        )


def trend(weeks: Sequence[tuple[date, int]]) -> Trend | None:
    """The least-squares line through the peaks of whole weeks, the oldest first; None for too few of them."""
    if len(weeks) < LEAST_WEEKS:
        return None
    n = len(weeks)
    mean_x, mean_y = Fraction(n - 1, 2), Fraction(sum(most for _, most in weeks), n)
    across = sum(((x - mean_x) ** 2 for x in range(n)), Fraction(0))
    rise = sum(((x - mean_x) * (most - mean_y) for x, (_, most) in enumerate(weeks)), Fraction(0)) / across
    return Trend(tuple(weeks), mean_y + rise * (n - 1 - mean_x), rise)


def wanted_at(starts: Iterable[Start], at: datetime) -> Working:
    """Which coming starts would work at an instant, by name, and how many that is."""
    names: dict[str, int] = {}
    for start in starts:
        if start.at <= at < start.at + start.lasts:
            names[start.name] = names.get(start.name, 0) + 1
    parts = tuple(Part(name, str(count)) for name, count in sorted(names.items()))
    total = str(sum(names.values()))
    return Working("runs wanted at once", total, "runs", "the runs that would work then", parts or NONE)


def working_of_peak(most: int, day: date, at: str) -> Working:
    """The highest of the days shown: which day, and since when on it."""
    parts = (Part(day_said(day), str(most), f"first at {at}" if at else ""),)
    return Working("seats at peak", str(most), "seats", "the highest of the days shown", parts)


def working_of_number(lots: Sequence[Lot], kind: SeatKind, day: date) -> Working:
    """How many seats of a kind are there on a day, lot by lot."""
    own = [lot for lot in lots if lot.kind == kind and lot.holds(day)]
    parts = tuple(
        Part(
            f"Lot of {day_said(lot.first)}",
            str(lot.number),
            f"from {lot.first:%d %b %Y}" + (f" to {lot.last:%d %b %Y}" if lot.last else ", for good"),
        )
        for lot in own
    )
    number = str(bought(own, kind, day))
    return Working(f"{kind} seats there", number, "seats", "the lots of that day", parts or NONE)
