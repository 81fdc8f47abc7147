"""One row, one try: whatever it raises is counted, put off, and stuck in the end; the rest goes on."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from decimal import InvalidOperation

import pymysql
import pytest

from tallyman.errors import Away, Refused
from tallyman.services.upkeep import hitches
from tallyman.services.upkeep.hitches import Rows, Work
from tests.conftest import NOW
from tests.world import World

WORK = Work("files", "a test", most_tries=4)


class Mute(Exception):
    """An error that cannot say what it is."""

    def __str__(self) -> str:
        raise ValueError("no words")


ANYTHING = [
    TypeError("not a number"),
    AssertionError(),
    RecursionError("too deep"),
    MemoryError(),
    SystemExit(3),
    InvalidOperation(),
    UnicodeDecodeError("utf-8", b"\xff", 0, 1, "bad"),
    Refused("It may not be.", "Leave it."),
    pymysql.err.DataError(1406, "Data too long"),
    pymysql.err.ProgrammingError(1064, "You have an error"),
    ExceptionGroup("several", [ValueError("one"), KeyError("two")]),
    Mute(),
    ValueError("half a character \ud800, NUL \x00, and a\nbreak"),
    ValueError("long " * 400_000),
]


def raising(error: BaseException) -> Callable[[], int]:
    def act() -> int:
        raise error

    return act


@pytest.mark.parametrize("error", ANYTHING, ids=lambda one: type(one).__name__)
def test_whatever_a_row_raises_is_kept_with_it_and_the_next_is_done(
    world: World, error: BaseException
) -> None:
    turn = Rows(world.program(), WORK)
    tried = turn.go("1", raising(error), about="the first", obj="idea:1")
    assert (tried.failed, tried.stuck, tried.done) == (True, False, 0)
    assert turn.go("2", lambda: 1).done == 1
    row = world.row("SELECT work, row_key, object, about, tries, fault FROM hitch")
    assert (row["work"], row["row_key"], row["object"], row["tries"]) == ("files", "1", "idea:1", 1)
    assert 0 < len(row["fault"]) <= 500
    assert "\n" not in row["fault"]


def test_what_everything_needs_and_is_away_is_no_rows_fault(world: World) -> None:
    with pytest.raises(Away):
        Rows(world.program(), WORK).go("1", raising(Away("the database does not answer")))
    assert world.rows("SELECT id FROM hitch") == []


def test_the_pauses_grow_and_the_last_try_leaves_it_stuck(world: World) -> None:
    later, pauses = timedelta(), []
    for _ in range(WORK.most_tries):
        tried = Rows(world.program(later), WORK).go("1", raising(ValueError("no")))
        due = world.row("SELECT due_at FROM hitch")["due_at"]
        pauses.append(due - NOW - later)
        if not tried.stuck:
            later = due - NOW
    assert pauses[:-1] == [timedelta(seconds=n) for n in (2, 4, 8)]
    assert (tried.stuck, due) == (True, hitches.NEVER)


def test_two_engines_that_fail_at_one_row_count_one_try(world: World) -> None:
    for _ in range(2):
        Rows(world.program(), WORK).go("1", raising(ValueError("no")))
    assert world.row("SELECT tries FROM hitch")["tries"] == 1


def test_a_row_that_is_done_after_all_leaves_nothing_behind(world: World) -> None:
    Rows(world.program(), WORK).go("1", raising(ValueError("no")))
    assert Rows(world.program(timedelta(seconds=3)), WORK).go("1", lambda: 1).done == 1
    assert world.rows("SELECT id FROM hitch") == []


def test_a_row_that_another_engine_is_at_keeps_its_count(world: World) -> None:
    Rows(world.program(), WORK).go("1", raising(ValueError("no")))
    tried = Rows(world.program(timedelta(seconds=3)), WORK).go("1", lambda: None)
    assert (tried.nothing, tried.done) == (True, 0)
    assert world.row("SELECT tries FROM hitch")["tries"] == 1


def test_hitches_of_rows_that_are_gone_go_and_stuck_ones_stay(world: World) -> None:
    Rows(world.program(), WORK).go("gone", raising(ValueError("no")))
    last = Work("files", "a test", most_tries=1)
    Rows(world.program(), last).go("stuck", raising(ValueError("no")))
    ctx = world.program(timedelta(hours=2))
    ctx.db.transact(lambda tx: hitches.tidy(tx, ctx))
    assert [row["row_key"] for row in world.rows("SELECT row_key FROM hitch")] == ["stuck"]


def test_a_pause_is_never_longer_than_a_quarter_of_an_hour() -> None:
    assert hitches.pause(60) == hitches.LONGEST_PAUSE
