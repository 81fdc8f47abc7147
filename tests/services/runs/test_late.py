"""Lost runs: bounded attempts, what is told afterwards, outcomes that come late, robot time."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from tallyman.errors import Refused
from tallyman.services import runs, tally
from tallyman.services.runs import late, reports
from tests.world import World

MINUTE = timedelta(minutes=1)
DONE = reports.Outcome("done", True, "", {}, {"rows": "1000000000"})


@pytest.fixture
def lost(world: World) -> World:
    world.host, world.idea, world.number = world.live()
    world.run = world.start(world.number, "live")
    world.work = world.take(world.host)
    assert runs.lose_silent(world.program(16 * MINUTE)) == 1
    world.settle(17 * MINUTE)
    return world


def tell(world: World, later: timedelta, said: reports.Outcome = DONE) -> str:
    return reports.outcome(world.program(later), world.host, world.run, 1, said)


def posted(world: World, line: str) -> Any:
    rows = world.rows(
        "SELECT SUM(units) AS units, SUM(money) AS money FROM tally_entry WHERE run_id = %(r)s AND line = %(l)s",
        r=world.run,
        l=line,
    )
    return rows[0]


def test_an_outcome_within_half_an_hour_counts(lost: World) -> None:
    assert tell(lost, 40 * MINUTE, reports.Outcome("done", True, "", {}, {"rows": "7"})) == "done"
    lost.settle(41 * MINUTE)
    assert posted(lost, "time saved")["units"] == 7


def test_an_outcome_after_that_waits_for_a_person_and_posts_nothing(lost: World) -> None:
    assert tell(lost, 80 * MINUTE) == "lost"
    lost.settle(81 * MINUTE)
    assert posted(lost, "time saved")["units"] in (None, 0)
    told = [row["text"] for row in lost.rows("SELECT text FROM notification")]
    assert any("came late: does it count?" in text for text in told)
    shown = runs.one(lost.ctx("Sol Marin", 81 * MINUTE), lost.run)
    assert shown.late.state == "done"
    assert shown.may.decide_late


def test_a_person_lets_it_count_or_not(lost: World) -> None:
    tell(lost, 80 * MINUTE, reports.Outcome("done", True, "", {}, {"rows": "7"}))
    sol = lost.ctx("Sol Marin", 90 * MINUTE)
    assert late.decide(sol, lost.run, True) == "done"
    lost.settle(91 * MINUTE)
    assert posted(lost, "time saved")["units"] == 7
    # It belongs to the time when it was given up, and the robot's time ends with the lease.
    assert str(posted(lost, "robot time")["money"]) == "-1.500000"
    with pytest.raises(Refused, match="No late outcome"):
        late.decide(sol, lost.run, True)
    assert tally.verify(lost.program(92 * MINUTE)) == []


def test_what_is_not_to_count_stays_lost(lost: World) -> None:
    tell(lost, 80 * MINUTE)
    assert late.decide(lost.ctx("Sol Marin", 90 * MINUTE), lost.run, False) == "lost"
    assert (
        "let its late outcome not count"
        in lost.row("SELECT reason FROM run WHERE id = %(r)s", r=lost.run)["reason"]
    )
    assert tell(lost, 95 * MINUTE) == "lost"


def test_ended_runs_are_closed_to_reports(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    line = {"at": "2026-03-10T09:00:00+00:00", "level": "info", "text": "true"}
    step = {"n": 1, "name": "Count", "started_at": world.now}
    reports.report(world.program(), host, run, work.fence, 1, [line], [step])
    world.finish(host, work)
    forged = {**line, "text": "forged"}
    for seq in (1, 2):
        told = reports.report(
            world.program(3 * MINUTE), host, run, 1, seq, [forged], [{**step, "name": "Forged"}]
        )
        assert told is False
    shown = runs.log(world.ctx("Sol Marin"), run, 0).lines
    assert [one.text for one in shown] == ["true"]
    assert world.row("SELECT name FROM run_step")["name"] == "Count"
    # Nor can its outcome be told anew.
    assert reports.outcome(world.program(3 * MINUTE), host, run, 1, reports.Outcome("failed")) == "done"


def test_what_a_lost_run_tells_is_read_for_a_while_only(lost: World) -> None:
    line = {"at": "2026-03-10T09:00:00+00:00", "level": "info", "text": "late words"}
    for minutes, seq in ((30, 1), (60, 2)):
        reports.report(lost.program(minutes * MINUTE), lost.host, lost.run, 1, seq, [line], [])
    assert len(runs.log(lost.ctx("Sol Marin"), lost.run, 0).lines) == 1


def test_attempts_after_lost_are_bounded_with_growing_pauses_and_the_last_says_so(world: World) -> None:
    host = world.machine()
    world.start(world.routine(again_after_lost=True, most_attempts=3))
    now, dues = timedelta(), []
    for _ in range(3):
        world.take(host, now)
        now += 16 * MINUTE
        runs.lose_silent(world.program(now))
        rows = world.rows("SELECT due_at FROM run WHERE state = 'waiting'")
        dues += [row["due_at"] - (world.now + now) for row in rows]
        now += 10 * MINUTE
    assert dues == [MINUTE, 4 * MINUTE]
    rows = world.rows("SELECT state, attempt, reason FROM run ORDER BY id")
    assert [(row["state"], row["attempt"]) for row in rows] == [("lost", 1), ("lost", 2), ("lost", 3)]
    assert "attempt 2 of 3 follows" in rows[0]["reason"]
    assert "it was attempt 3 of 3, so it is not tried again by itself" in rows[2]["reason"]


@pytest.mark.parametrize(
    ("said", "words"),
    [
        (reports.Outcome("done", counts={f"c{n}": "1" for n in range(51)}), "more than 50 counts"),
        (reports.Outcome("done", counts={"rows": "-1"}), "allowed: 0 to 1,000,000,000"),
        (reports.Outcome("done", counts={"rows": "nan"}), "not a finite number"),
        (reports.Outcome("done", counts=["rows"]), "no names with numbers"),
        (reports.Outcome("done", outputs=[1]), "no names with values"),
        (reports.Outcome("done", outputs={"x": "y" * 1_100_000}), "larger than 1 MB"),
    ],
)
def test_an_outcome_that_cannot_be_taken_ends_the_run_and_says_why(
    world: World, said: reports.Outcome, words: str
) -> None:
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    assert reports.outcome(world.program(MINUTE), host, run, work.fence, said) == "failed"
    assert words in world.row("SELECT reason FROM run WHERE id = %(r)s", r=run)["reason"]
    assert world.rows("SELECT * FROM slot WHERE run_id IS NOT NULL") == []


def test_a_release_whose_schema_leads_nowhere_ends_its_run_all_the_same(world: World) -> None:
    """Kept before schemas were checked on arrival."""
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    schema = '{"type": "object", "properties": {"a": {"$ref": "#/$defs/none"}}}'
    world.db.transact(lambda tx: tx.execute("UPDATE package_release SET outputs_json = %(s)s", {"s": schema}))
    said = reports.Outcome("done", outputs={"a": 1})
    assert reports.outcome(world.program(MINUTE), host, run, work.fence, said) == "failed"
    assert "release a version without it" in world.row("SELECT reason FROM run")["reason"]
