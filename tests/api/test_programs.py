"""A program reaches what its token's scope says, and nothing that is its person's alone."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import timedelta

import pytest

from tallyman.services.people import tokens
from tests.access_world import Everybody, everybody, variants
from tests.conftest import Databases

# What anybody who is known here may read: names to choose from, one's own rights, open pages.
OPEN = (
    {("get", path) for path in ("/divisions", "/me", "/people")}
    | {
        # What a run's screen showed is seen like its log.
        ("get", f"/runs{path}")
        for path in ("", "/{number}", "/{number}/log", "/{number}/screen", "/{number}/files/{file}")
    }
    | {
        # Runs started together.
        ("get", "/run-groups/{number}"),
        # A table that it brings itself, as a file.
        ("post", "/pictures/{ending}"),
    }
)


@pytest.fixture(scope="module")
def all_of_them(databases: Databases, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Everybody]:
    with everybody(databases, tmp_path_factory.mktemp("keys") / "keys.json") as found:
        yield found


def test_a_token_for_runs_reaches_runs_and_nothing_of_its_person(all_of_them: Everybody) -> None:
    world = all_of_them.world
    ends = (world.now + timedelta(days=9)).date()
    token = tokens.make(world.ctx("Ines Varga"), "Watcher", ["run.see"], ends).token
    reached = set()
    for verb, path, own in variants():
        if "/runner/" in path or "/called/" in path or all_of_them.call(verb, path, "", None) != 401:
            continue
        number = all_of_them.own_idea(world.actors["Ines Varga"].person_id or 0) if own else None
        if all_of_them.call(verb, path, token, number) not in (401, 403, 404):
            reached.add((verb, path.removeprefix("/api/v1")))
    assert reached == OPEN
