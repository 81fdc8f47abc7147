"""What is asked for twice, at once or again, is done once; what is another thing is refused under an old key."""

from __future__ import annotations

import threading
from typing import Any

import pytest

from tallyman.errors import InputFaults
from tallyman.services import access, runs
from tallyman.services.ideas import drafts, talk
from tests.world import World


def at_once(work: Any, times: int = 10) -> list[Any]:
    found: list[Any] = []
    gate = threading.Barrier(times)

    def one() -> None:
        gate.wait()
        found.append(work())

    threads = [threading.Thread(target=one) for _ in range(times)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return found


def test_ten_equal_comments_at_once_are_one(world: World) -> None:
    idea = world.noted()
    ada = world.ctx("Ada Pell")
    assert len(set(at_once(lambda: talk.say(ada, idea, "How many a week?", [])))) == 1
    assert world.row("SELECT COUNT(*) AS n FROM idea_comment")["n"] == 1
    # Another spelling is another comment.
    talk.say(ada, idea, "how many a week?", [])
    assert world.row("SELECT COUNT(*) AS n FROM idea_comment")["n"] == 2


def test_ten_equal_requests_for_access_at_once_are_one(world: World) -> None:
    world.machine()
    bela = world.stranger("Jaro Senn")
    assert len(set(at_once(lambda: access.ask(bela, "run.see", world.area, "to watch")))) == 1
    assert world.row("SELECT COUNT(*) AS n FROM access_request")["n"] == 1


def test_ten_equal_starts_at_once_are_one_run(world: World) -> None:
    world.machine()
    routine = world.routine()
    sol = world.ctx("Sol Marin")
    found = at_once(lambda: runs.start(sol, routine, "same"))
    assert len(set(found)) == 1


def test_a_key_belongs_to_what_was_asked_for(world: World) -> None:
    world.machine()
    release = world.release()
    one, other = world.routine(release=release), world.routine("Another", release)
    sol = world.ctx("Sol Marin")
    first = runs.start(sol, one, "k")
    assert runs.start(sol, one, "k") == first
    with pytest.raises(InputFaults, match="was sent with something else before"):
        runs.start(sol, other, "k")
    # Keys are compared to the letter.
    assert runs.start(sol, one, "K") != first
    assert runs.start(sol, one, "k ") != first


def test_a_key_belongs_to_its_words(world: World) -> None:
    ada = world.ctx("Ada Pell")
    drafts.start(ada, "k", "full")
    with pytest.raises(InputFaults, match="was sent with something else before"):
        drafts.start(ada, "k", "short")


def test_a_key_belongs_to_its_person(world: World) -> None:
    first = drafts.start(world.ctx("Ada Pell"), "k")
    assert drafts.start(world.ctx("Tom Okafor"), "k") != first
