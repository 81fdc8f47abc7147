"""Runs that came to no good end are told of and can be started again; a silent host is said where its run is."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from tallyman.errors import Forbidden, Refused
from tallyman.services import runs
from tallyman.services.robots import hosts
from tests.world import World

MINUTE = timedelta(minutes=1)
Live = tuple[Any, int]


@pytest.fixture
def live(world: World) -> Live:
    """The host and the routine of an idea in service."""
    host, _, routine = world.live()
    return host, routine


def told(world: World, name: str = "Sol Marin") -> list[str]:
    world.settle(timedelta(days=2))
    return [
        row["text"]
        for row in world.rows(
            "SELECT n.text FROM notification n JOIN person p ON p.id = n.person_id "
            "WHERE p.name = %(n)s AND n.kind = 'trouble' ORDER BY n.id",
            n=name,
        )
    ]


def fail(world: World, live: Live, key: str, later: timedelta) -> int:
    host, routine = live
    world.start(routine, key, later)
    work = world.take(host, later)
    world.finish(host, work, "failed", later + MINUTE)
    return int(work.run)


def test_a_failed_run_is_told_at_once_and_by_mail_and_not_every_minute(world: World, live: Live) -> None:
    first = fail(world, live, "one", MINUTE)
    [text] = told(world)
    assert text.startswith(f"R-{first} of Count rows failed")
    mail = world.row("SELECT subject, body FROM mail WHERE kind = 'trouble' LIMIT 1")
    assert f"/runs/{first}" in mail["body"]
    fail(world, live, "two", 5 * MINUTE)
    assert len(told(world)) == 1
    later = fail(world, live, "three", 90 * MINUTE)
    texts = told(world)
    assert [text.split()[0] for text in texts] == [f"R-{first}", f"R-{later}"]
    assert "more of it" not in texts[0]
    assert "1 more of it came to no good end since" in texts[1]
    assert told(world, "Ada Pell") == []


def test_a_lost_run_and_a_silent_host_are_told_and_said_on_the_page(world: World, live: Live) -> None:
    host, routine = live
    run = world.start(routine, "lost", MINUTE)
    world.take(host, MINUTE)
    sol = world.ctx("Sol Marin", 3 * MINUTE)
    seen = runs.one(sol, run)
    assert seen.state == "running"
    assert seen.silent_since is not None
    hosts.tell_silent(world.program(3 * MINUTE))
    runs.lose_silent(world.program(60 * MINUTE))
    texts = told(world)
    assert any("was not heard from since" in text for text in texts)
    assert any(text.startswith(f"R-{run} of Count rows was lost") for text in texts)


def test_an_ended_run_is_started_again_once_with_its_inputs(world: World, live: Live) -> None:
    run = fail(world, live, "again", MINUTE)
    sol = world.ctx("Sol Marin", 3 * MINUTE)
    assert runs.one(sol, run).may.start_again
    made = runs.start_again(sol, run, "k")
    assert runs.start_again(sol, run, "k") == made
    new, old = runs.one(sol, made), runs.one(sol, run)
    assert (new.again_of, new.inputs, new.state, old.tried_again_as) == (run, old.inputs, "waiting", made)
    assert not old.may.start_again
    with pytest.raises(Refused, match="started again already"):
        runs.start_again(sol, run, "other")
    with pytest.raises(Refused, match="has not ended"):
        runs.start_again(sol, made, "other")
    with pytest.raises(Forbidden):
        runs.start_again(world.ctx("Mei Tanaka", 3 * MINUTE), made, "mine")
