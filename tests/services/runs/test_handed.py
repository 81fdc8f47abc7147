"""What a run hands over and how far it says it is, as the server takes it from its host."""

from __future__ import annotations

import hashlib
from typing import Any

import pytest

from tallyman.errors import Forbidden, NotFound
from tallyman.services import runs
from tallyman.services.runs import handed, reports, uploads
from tallyman.services.runs.reports import Handed, Outcome
from tallyman.store.records.robots import HostByToken
from tests.world import World

LETTERS = b"Dear street"
SOL = "Sol Marin"


def sent(world: World, host: HostByToken, data: bytes) -> str:
    digest = hashlib.sha256(data).hexdigest()
    uploads.begin(world.program(), host, digest, len(data))
    uploads.put(world.program(), host, digest, 0, data)
    return digest


def ended(world: World, host: HostByToken, *files: Handed, state: str = "done") -> int:
    world.start(world.routine())
    work = world.take(host)
    said = Outcome(state, files=files)
    reports.outcome(world.program(), host, work.run, work.fence, said)
    return work.run


def test_files_are_there_for_who_may_see_the_run(world: World) -> None:
    host = world.machine()
    digest = sent(world, host, LETTERS)
    run = ended(world, host, Handed("letters.txt", digest), Handed("../b\n.txt", digest))
    files = runs.one(world.ctx(SOL), run).files
    assert [(one.name, one.size) for one in files] == [("b .txt", 11), ("letters.txt", 11)]
    assert handed.file(world.ctx(SOL), run, files[1].id) == ("letters.txt", LETTERS)
    with pytest.raises(NotFound):
        handed.file(world.ctx(SOL), run, files[1].id + 99)
    with pytest.raises(Forbidden):
        handed.file(world.ctx("Ada Pell"), run, files[1].id)


def test_a_digest_that_the_host_did_not_send_is_no_file(world: World) -> None:
    host = world.machine()
    digest = hashlib.sha256(LETTERS).hexdigest()
    run = ended(world, host, Handed("letters.txt", digest))
    assert runs.one(world.ctx(SOL), run).files == []


def test_the_latest_of_a_name_is_kept_and_a_failed_run_keeps_its_files(world: World) -> None:
    host = world.machine()
    first, second = sent(world, host, b"first"), sent(world, host, b"second one")
    run = ended(world, host, Handed("a", first), Handed("a", second), state="failed")
    (file,) = runs.one(world.ctx(SOL), run).files
    assert handed.file(world.ctx(SOL), run, file.id) == ("a", b"second one")


def test_no_more_than_twenty_are_kept(world: World) -> None:
    host = world.machine()
    digest = sent(world, host, LETTERS)
    run = ended(world, host, *[Handed(f"letter {n:02}", digest) for n in range(25)])
    assert len(runs.one(world.ctx(SOL), run).files) == reports.MOST_FILES


@pytest.mark.parametrize(
    ("told", "shown"),
    [
        ({"done": 3, "of": 10, "words": "Weir Lane"}, (3, 10, "Weir Lane")),
        ({"done": 3}, (3, None, "")),
        ({"done": "three", "of": True, "words": None}, (None, None, "")),
        ({"done": -1, "of": 0, "words": "a\nb" * 200}, (None, None, ("a b" * 200)[:200])),
        ({"done": float("inf"), "of": 10**12, "words": ["x"]}, (None, None, "['x']")),
    ],
)
def test_how_far_it_says_it_is_is_shown_as_far_as_it_can_be(
    world: World, told: dict[str, Any], shown: tuple[object, ...]
) -> None:
    host = world.machine()
    world.start(world.routine())
    work = world.take(host)
    reports.report(world.program(), host, work.run, work.fence, 1, [], [], told)
    found = runs.one(world.ctx(SOL), work.run).progress
    assert found is not None and (found.done, found.of, found.words) == shown


def test_a_run_that_ended_is_not_said_to_be_further(world: World) -> None:
    host = world.machine()
    world.start(world.routine())
    work = world.take(host)
    world.finish(host, work)
    reports.report(world.program(), host, work.run, work.fence, 1, [], [], {"done": 1})
    assert runs.one(world.ctx(SOL), work.run).progress is None
