"""A run that gives no sign for longer than its routine usually does is called stalled, and told of once."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.services import runs
from tallyman.services.robots import host_tokens
from tallyman.services.runs import dispatch, reports, stalling
from tallyman.services.runs import page as run_page
from tallyman.services.runs.answers import HeartbeatAnswer
from tallyman.services.today import desk
from tests.world import World

MINUTE = timedelta(minutes=1)


@pytest.fixture
def working(world: World) -> World:
    world.host = world.machine()
    world.number = world.routine()
    world.start(world.number)
    world.work = world.take(world.host)
    return world


def beat(world: World, later: timedelta, quiet: timedelta) -> HeartbeatAnswer:
    host = host_tokens.host_of(world.program(later), world.token)
    held = [(world.work.run, world.work.fence)]
    said = {world.work.run: int(quiet.total_seconds())}
    return dispatch.heartbeat(world.program(later), host, dispatch.Beat(world.now + later, held, quiet=said))


def stalled(world: World, later: timedelta) -> bool:
    return run_page.one(world.ctx("Sol Marin", later), world.work.run).stalled is not None


def stalling_now(world: World, later: timedelta) -> list[str]:
    """What stands on Today as stalled."""
    wrong = desk.view(world.ctx("Sol Marin", later)).wrong
    return [one.title for one in wrong if one.state == "stalled"]


def test_what_no_good_run_told_yet_may_be_silent_for_ten_minutes(working: World) -> None:
    beat(working, 9 * MINUTE, 9 * MINUTE)
    assert not stalled(working, 9 * MINUTE)
    beat(working, 11 * MINUTE, 11 * MINUTE)
    found = run_page.one(working.ctx("Sol Marin", 11 * MINUTE), working.work.run).stalled
    assert found is not None and found.since == working.now
    assert (found.bound_seconds, found.working.outcome) == (600, "600")


def test_it_is_told_once_and_stands_on_today_until_it_goes_on(working: World) -> None:
    for minutes in (11, 12, 13):
        beat(working, minutes * MINUTE, minutes * MINUTE)
    working.settle(13 * MINUTE)
    told = working.rows("SELECT text FROM notification WHERE text LIKE '%%is stalled%%'")
    assert {row["text"] for row in told} == {
        f"R-{working.work.run} of Count rows is stalled: no sign for 11 min, and 10 min is what it may have"
    }
    assert stalling_now(working, 13 * MINUTE) == [f"R-{working.work.run} Count rows"]
    beat(working, 14 * MINUTE, timedelta(seconds=3))
    assert not stalled(working, 14 * MINUTE)
    assert stalling_now(working, 14 * MINUTE) == []
    acts = working.rows("SELECT action FROM audit WHERE action IN ('run stalled', 'run goes on') ORDER BY id")
    assert [row["action"] for row in acts] == ["run stalled", "run goes on"]


def test_a_routine_that_is_usually_lively_stalls_sooner(working: World) -> None:
    for n in range(5):
        outcome = reports.Outcome("done", True, longest_quiet=70 + n)
        reports.outcome(working.program(), working.host, working.work.run, working.work.fence, outcome)
        working.start(working.number, f"again {n}")
        working.work = working.take(working.host)
    bound = working.db.transact(lambda tx: stalling.bound_of(tx, working.number))
    assert (bound.usual, bound.runs, bound.after) == (74, 5, timedelta(seconds=148))
    beat(working, MINUTE, timedelta(seconds=147))
    assert not stalled(working, MINUTE)
    beat(working, 2 * MINUTE, timedelta(seconds=149))
    assert stalled(working, 2 * MINUTE)


def test_one_that_ended_or_began_anew_is_not_stalled(working: World) -> None:
    beat(working, 11 * MINUTE, 11 * MINUTE)
    runs.cancel(working.ctx("Sol Marin", 11 * MINUTE), working.work.run)
    ended = reports.Outcome("cancelled", reason="asked")
    reports.outcome(working.program(12 * MINUTE), working.host, working.work.run, working.work.fence, ended)
    assert not stalled(working, 12 * MINUTE)
    assert stalling_now(working, 12 * MINUTE) == []
