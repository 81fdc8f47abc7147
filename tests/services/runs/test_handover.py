"""Between claim and begin: who takes a run and never says that it begins, loses nothing for anybody."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import NotFound
from tallyman.services import robots, runs, tally
from tallyman.services.robots import host_tokens
from tallyman.services.runs import dispatch, handover
from tallyman.services.runs.answers import HeartbeatAnswer, HeldOut
from tests.world import World

SECOND = timedelta(seconds=1)


@pytest.fixture
def handed(world: World) -> World:
    world.host = world.machine(robots_=2)
    world.number = world.routine()
    world.run = world.start(world.number)
    found = dispatch.take(world.program(), world.host, "a" * 32, begins=True)
    assert found is not None
    world.work = found
    return world


def row(world: World) -> dict[str, object]:
    return world.row(
        "SELECT state, fence, segment, started_at, host_id FROM run WHERE id = %(r)s", r=world.run
    )


def beat(world: World, later: timedelta = timedelta(), **more: object) -> HeartbeatAnswer:
    at = world.program(later)
    said = dispatch.Beat(at.now, [], **more)  # type: ignore[arg-type]
    return dispatch.heartbeat(at, world.host, said)


def test_a_claim_waits_until_its_runner_begins(handed: World) -> None:
    assert row(handed) | {"started_at": None} == {
        "state": "waiting",
        "fence": 1,
        "segment": 0,
        "started_at": None,
        "host_id": handed.host.id,
    }
    assert "begins it in a moment" in runs.one(handed.ctx("Sol Marin"), handed.run).waits_for
    assert handed.work.segment == 1
    # Its places are taken, so nobody else gets it meanwhile.
    assert dispatch.take(handed.program(), handed.host, "b" * 32, begins=True) is None
    handover.begin(handed.program(SECOND), handed.host, handed.run, 1)
    assert row(handed)["state"] == "running"
    assert tally.verify(handed.program(SECOND)) == []


def test_begun_twice_is_begun_once(handed: World) -> None:
    for second in (1, 2):
        handover.begin(handed.program(second * SECOND), handed.host, handed.run, 1)
    assert row(handed)["segment"] == 1
    assert len(handed.rows("SELECT n FROM run_segment")) == 1


def test_what_nobody_begins_waits_again_after_seconds_without_an_attempt_used(handed: World) -> None:
    assert handover.take_back_late(handed.program(9 * SECOND)) == 0
    assert handover.take_back_late(handed.program(11 * SECOND)) == 1
    assert handover.take_back_late(handed.program(11 * SECOND)) == 0
    assert row(handed) | {"fence": 1} == {
        "state": "waiting",
        "fence": 1,
        "segment": 0,
        "started_at": None,
        "host_id": None,
    }
    with pytest.raises(NotFound, match="taken back"):
        handover.begin(handed.program(12 * SECOND), handed.host, handed.run, 1)
    again = dispatch.take(handed.program(12 * SECOND), handed.host, "c" * 32, begins=True)
    assert again is not None
    assert (again.run, again.fence, again.segment) == (handed.run, 2, 1)
    assert handed.row("SELECT attempt FROM run")["attempt"] == 1
    assert tally.verify(handed.program(12 * SECOND)) == []


def test_one_that_cannot_be_taken_back_stops_no_other(handed: World, monkeypatch: pytest.MonkeyPatch) -> None:
    robots.set_seats(handed.ctx("Sol Marin"), handed.host.id, 2)
    other = handed.start(handed.routine("Another", handed.release("2.0.0")), "other")
    found = dispatch.take(handed.program(), handed.host, "b" * 32, begins=True)
    assert found is not None and found.run == other
    rightly = handover.take_back

    def stubborn(tx: object, ctx: object, run_id: int, *more: object) -> bool:
        if run_id == handed.run:
            raise ValueError("a row that nobody foresaw")
        return rightly(tx, ctx, run_id, *more)  # type: ignore[arg-type]

    monkeypatch.setattr(handover, "take_back", stubborn)
    assert handover.take_back_late(handed.program(11 * SECOND)) == 1
    assert handed.row("SELECT host_id FROM run WHERE id = %(r)s", r=other)["host_id"] is None


def test_the_same_ask_gets_the_same_claim_while_it_holds(handed: World) -> None:
    known = dispatch.asked(handed.program(SECOND), handed.host, "a" * 32)
    assert known == handed.work
    handover.take_back_late(handed.program(11 * SECOND))
    assert dispatch.asked(handed.program(11 * SECOND), handed.host, "a" * 32) is None


def test_a_restarted_runner_gives_back_at_once_what_it_knows_nothing_of(handed: World) -> None:
    beat(handed, SECOND, fresh=True)
    assert row(handed)["host_id"] is None
    assert dispatch.take(handed.program(SECOND), handed.host, "d" * 32, begins=True) is not None


def test_a_restarted_runner_loses_what_was_running_and_it_knows_nothing_of(handed: World) -> None:
    handover.begin(handed.program(SECOND), handed.host, handed.run, 1)
    beat(handed, 2 * SECOND, fresh=True)
    found = handed.row("SELECT state, reason FROM run")
    assert found["state"] == "lost"
    assert "started again and knows nothing of it" in found["reason"]
    assert tally.verify(handed.program(3 * SECOND)) == []


def test_a_restarted_runner_keeps_what_it_names(handed: World) -> None:
    handover.begin(handed.program(SECOND), handed.host, handed.run, 1)
    at = handed.program(2 * SECOND)
    answer = dispatch.heartbeat(at, handed.host, dispatch.Beat(at.now, [(handed.run, 1)], fresh=True))
    assert answer.kept == [HeldOut(handed.run, 1)]
    assert row(handed)["state"] == "running"


def test_a_host_that_leaves_gets_nothing_and_says_so(handed: World) -> None:
    beat(handed, SECOND, leaving=True)
    assert row(handed)["host_id"] is None
    assert dispatch.take(handed.program(SECOND), handed.host, "e" * 32, begins=True) is None
    assert "is leaving" in runs.one(handed.ctx("Sol Marin", SECOND), handed.run).waits_for
    beat(handed, 2 * SECOND, fresh=True)
    assert dispatch.take(handed.program(2 * SECOND), handed.host, "f" * 32, begins=True) is not None


def test_a_handed_run_can_be_cancelled_and_frees_its_places(handed: World) -> None:
    assert runs.cancel(handed.ctx("Sol Marin", SECOND), handed.run) == "cancelled"
    with pytest.raises(NotFound):
        handover.begin(handed.program(SECOND), handed.host, handed.run, 1)
    assert handed.rows("SELECT * FROM slot WHERE run_id IS NOT NULL") == []
    assert tally.verify(handed.program(SECOND)) == []


def test_a_runner_may_give_back_and_nobody_elses(handed: World) -> None:
    made = robots.add_host(handed.ctx("Sol Marin"), "Sluice", 1)
    token = host_tokens.connect(handed.program(), made.code, 1, "robot", {})["token"]
    other = host_tokens.host_of(handed.program(), token)
    handover.give_back(handed.program(SECOND), other, handed.run, 1)
    assert row(handed)["host_id"] == handed.host.id
    handover.give_back(handed.program(SECOND), handed.host, handed.run, 1)
    assert row(handed)["host_id"] is None
