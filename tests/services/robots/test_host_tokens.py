from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import NotSignedIn
from tallyman.services import robots
from tallyman.services.robots import HostByToken, host_tokens
from tallyman.services.runs import dispatch
from tests.world import World

HOUR = timedelta(hours=1)
MINE, OTHER = "machine one", "machine two"


@pytest.fixture
def bound(world: World) -> World:
    sol = world.ctx("Sol Marin")
    made = robots.add_host(sol, "Weir", 1)
    found = host_tokens.connect(world.program(), made.code, 1, "robot", {}, MINE)
    world.token = found["token"]
    return world


def used(world: World, machine: str = MINE, later: timedelta = timedelta(), token: str = "") -> HostByToken:
    return host_tokens.host_of(world.program(later), token or world.token, machine)


def test_a_token_works_on_its_machine_only_and_other_uses_are_told(bound: World) -> None:
    assert used(bound).name == "Weir"
    for machine in (OTHER, ""):
        with pytest.raises(NotSignedIn, match="given to another machine"):
            used(bound, machine)
    bound.settle(HOUR)
    told = [row["text"] for row in bound.rows("SELECT text FROM notification")]
    assert any("was used on another machine" in text for text in told)
    # Told once an hour, however often it is tried.
    assert bound.row("SELECT COUNT(*) AS n FROM audit WHERE action = 'host token refused'")["n"] == 1


def test_a_runner_of_the_release_before_is_bound_to_nothing(world: World) -> None:
    host = world.machine()
    assert host_tokens.host_of(world.program(), world.token, "").id == host.id


def beat(world: World, host: HostByToken, later: timedelta) -> str | None:
    at = world.program(later)
    return dispatch.heartbeat(at, host, dispatch.Beat(at.now, [])).token


def test_a_token_is_changed_every_day_and_both_work_until_the_new_one_is_used(bound: World) -> None:
    assert beat(bound, used(bound, later=HOUR), HOUR) is None
    new = beat(bound, used(bound, later=25 * HOUR), 25 * HOUR)
    assert new
    assert used(bound, later=25 * HOUR).name == "Weir"
    # The answer was lost: another is given, and the one that was lost works no more.
    newer = beat(bound, used(bound, later=26 * HOUR), 26 * HOUR)
    assert newer and newer != new
    with pytest.raises(NotSignedIn):
        used(bound, later=26 * HOUR, token=new)
    assert used(bound, later=26 * HOUR, token=newer).name == "Weir"
    with pytest.raises(NotSignedIn):
        used(bound, later=26 * HOUR)
    assert beat(bound, used(bound, later=27 * HOUR, token=newer), 27 * HOUR) is None


def test_where_and_when_a_token_was_used_is_seen(bound: World) -> None:
    used(bound, later=HOUR)
    row = next(one for one in robots.view(bound.ctx("Sol Marin", HOUR)).hosts if one.name == "Weir")
    assert row.used_at == bound.now + HOUR
    assert row.used_from == bound.program().actor.address
    assert row.bound is True


def test_a_new_code_ends_the_former_token(bound: World) -> None:
    made = robots.new_code(bound.ctx("Sol Marin"), bound.row("SELECT id FROM host")["id"])
    host_tokens.connect(bound.program(), made.code, 1, "robot", {}, OTHER)
    with pytest.raises(NotSignedIn):
        used(bound)
