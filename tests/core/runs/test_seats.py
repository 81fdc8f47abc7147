"""Seats: bought by the day, used at once, and when they run short."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.proving import faults
from tallyman.core.runs.seats import (
    Lot,
    Peak,
    Start,
    Use,
    bought,
    changes,
    first_short,
    peak,
    told_now,
    trend,
    waits,
    wanted_at_once,
    working_of_number,
)

TODAY = date(2026, 3, 10)
NOON = datetime(2026, 3, 10, 12, tzinfo=UTC)
DAY = NOON + timedelta(days=1)
LOTS = [
    Lot(1, "unattended", 4, date(2025, 1, 1), None),
    Lot(2, "unattended", 2, date(2025, 6, 1), date(2026, 3, 31)),
    Lot(3, "unattended", 1, date(2026, 5, 1), None),
    Lot(4, "trial", 1, date(2025, 1, 1), None),
]


def at(minutes: int) -> datetime:
    return NOON + timedelta(minutes=minutes)


def test_seats_of_a_day_are_those_of_its_lots_both_ends_included() -> None:
    days = [date(2025, 5, 31), date(2025, 6, 1), date(2026, 3, 31), date(2026, 4, 1), date(2026, 5, 1)]
    assert [bought(LOTS, "unattended", day) for day in days] == [4, 6, 6, 4, 5]
    assert bought(LOTS, "builder", TODAY) == 0
    working = working_of_number(LOTS, "unattended", TODAY)
    assert (working.outcome, [part.value for part in working.parts], faults(working)) == ("6", ["4", "2"], [])


def test_coming_changes_and_the_first_day_with_fewer_than_are_given() -> None:
    found = [(one.day, one.before, one.after) for one in changes(LOTS, "unattended", TODAY)]
    assert found == [(date(2026, 4, 1), 6, 4), (date(2026, 5, 1), 4, 5)]
    short = first_short(LOTS, "unattended", TODAY, 5)
    assert short is not None and (short.day, short.after) == (date(2026, 4, 1), 4)
    assert first_short(LOTS, "unattended", TODAY, 4) is None
    renewed = [*LOTS, Lot(5, "unattended", 2, date(2026, 4, 1), None)]
    assert first_short(renewed, "unattended", TODAY, 6) is None, "a lot that follows is no change"


def test_the_end_of_a_lot_is_told_thrice() -> None:
    left = {31: None, 30: 30, 8: 30, 7: 7, 2: 7, 1: 1, 0: 1, -1: None}
    assert {days: told_now(TODAY + timedelta(days=days), TODAY) for days in left} == left


def test_the_most_at_once_and_when() -> None:
    uses = [Use(at(0), at(10)), Use(at(5), at(20)), Use(at(10), at(30)), Use(at(12), None)]
    assert peak(uses, NOON, DAY) == Peak(3, at(12))
    assert peak(uses[:3], NOON, DAY) == Peak(2, at(5)), "who ends makes room for who begins"
    assert peak(uses, at(25), at(26)) == Peak(2, at(25)), "what goes on counts from the beginning of the span"
    assert peak([], NOON, DAY) == Peak(0, None)


def test_who_waits_for_a_seat() -> None:
    starts = [Start(at(0), Fraction(10), "A"), Start(at(0), Fraction(4), "B"), Start(at(1), Fraction(5), "C")]
    assert wanted_at_once(starts, NOON, DAY) == Peak(3, at(1))
    assert [(one.name, one.minutes) for one in waits(starts, 2)] == [("C", Fraction(3))]
    assert waits(starts, 3) == waits(starts, 0) == []
    assert [(one.name, one.minutes) for one in waits(starts, 1)] == [("B", Fraction(10)), ("C", Fraction(13))]


@given(st.lists(st.tuples(st.integers(0, 90), st.integers(1, 40)), max_size=25), st.integers(1, 6))
def test_nobody_waits_with_as_many_seats_as_are_wanted_at_once(
    rows: list[tuple[int, int]], seats: int
) -> None:
    starts = [Start(at(begin), Fraction(lasts), f"{n}") for n, (begin, lasts) in enumerate(rows)]
    most = wanted_at_once(starts, NOON, DAY).number
    assert bool(waits(starts, seats)) == (seats < most)
    all_of = [sum(one.minutes for one in waits(starts, n)) for n in (seats, seats + 1)]
    assert all_of[1] <= all_of[0], "one seat more makes nobody wait longer in all"


def weeks(*peaks: int) -> list[tuple[date, int]]:
    return [(TODAY + timedelta(weeks=n), most) for n, most in enumerate(peaks)]


def test_a_trend_is_a_line_and_says_when_it_is_above_the_seats() -> None:
    assert trend(weeks(1, 2, 3)) is None
    line = trend(weeks(2, 3, 4, 5))
    assert line is not None and (line.now, line.a_week) == (Fraction(5), Fraction(1))
    assert (line.weeks_to(5), line.weeks_to(7), line.weeks_to(18)) == (1, 3, None)
    assert faults(line.working(7)) == [] and line.working(7).outcome == "8.00"
    level = trend(weeks(3, 3, 3, 3))
    assert level is not None and level.weeks_to(3) is None and faults(level.working(3)) == []
