"""Hosts and robots that go out of use: what hangs on them is seen first, and nothing that works is lost."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, NotSignedIn, Refused
from tallyman.services import robots, runs
from tallyman.services.context import Actor, Ctx
from tallyman.services.house import areas
from tallyman.services.robots import host_tokens
from tallyman.services.robots.answers import Robot
from tests.world import World, as_is

LATER = timedelta(minutes=4)


@pytest.fixture
def sol(world: World) -> Ctx:
    return world.ctx("Sol Marin")


def robot(ctx: Ctx, name: str = "Dipper 1") -> Robot:
    return next(row for row in robots.view(ctx).robots if row.name == name)


def keeper(world: World, *permissions: str) -> Ctx:
    """A program that holds some permissions for the whole company, and no others."""
    return replace(world.program(), actor=Actor(None, "Keeper", permissions=frozenset(permissions)))


def names(ctx: Ctx) -> set[str]:
    found = robots.view(ctx)
    return {row.name for row in found.hosts} | {row.name for row in found.robots}


def test_the_look_names_the_routines_that_no_robot_could_run(world: World, sol: Ctx) -> None:
    world.machine(robots_=2, tags=("letters",))
    world.routine("Letters", world.release(tags='"letters"'))
    world.routine("Meters", world.release("1.1.0"))
    one, two = robot(sol, "Dipper 1"), robot(sol, "Dipper 2")
    robots.change_robot(sol, two.id, as_is(two, tags=[]), two.version)
    look = robots.look_at_robot(sol, one.id)
    assert [(row.what, row.name) for row in look.hangs] == [("routine", "Letters")]
    assert look.against == []
    assert robots.look_at_robot(sol, two.id).hangs == []


def test_a_robot_at_work_is_not_retired_and_names_its_run(world: World, sol: Ctx) -> None:
    host = world.machine(robots_=1)
    world.start(world.routine())
    work = world.take(host)
    number = robot(sol).id
    assert robots.look_at_robot(sol, number).against == [
        f"Dipper 1 works on R-{work.run}: let that run end, or cancel it"
    ]
    with pytest.raises(Refused, match="cannot be retired yet"):
        robots.retire_robot(sol, number)
    world.finish(host, work)
    robots.retire_robot(world.ctx("Sol Marin", LATER), number)
    assert "Dipper 1" not in names(sol)
    with pytest.raises(NotFound):
        robots.retire_robot(sol, number)


def test_a_retired_robot_takes_no_work_and_leaves_its_name(world: World, sol: Ctx) -> None:
    host = world.machine(robots_=1)
    before = robot(sol)
    robots.retire_robot(sol, before.id)
    run = world.start(world.routine())
    assert runs.one(sol, run).state == "waiting"
    assert robots.add_robot(sol, robots.Given("Dipper 1", host.id, [], [world.area])) != before.id
    assert world.take(host).run == run


def test_a_host_goes_with_its_robots_seats_and_token(world: World, sol: Ctx) -> None:
    host = world.machine(seats=2, robots_=2)
    world.routine("Meters")
    look = robots.look_at_host(sol, host.id)
    assert [(row.what, row.name) for row in look.hangs] == [
        ("robot", "Dipper 1"),
        ("robot", "Dipper 2"),
        ("seats", "2 seats are given back"),
        ("routine", "Meters"),
    ]
    robots.retire_host(sol, host.id)
    assert names(sol) == set()
    assert world.rows("SELECT * FROM slot WHERE kind IN ('seat','robot')") == []
    with pytest.raises(NotSignedIn):
        host_tokens.host_of(world.program(), world.token)
    told = world.rows("SELECT action FROM audit WHERE action LIKE '%%retired' ORDER BY id")
    assert [row["action"] for row in told] == ["robot retired", "robot retired", "host retired"]
    assert robots.add_host(sol, "Weir", 1).id != host.id


def test_a_host_with_a_robot_at_work_stays_whole(world: World, sol: Ctx) -> None:
    host = world.machine(seats=2, robots_=2)
    world.start(world.routine())
    world.take(host)
    with pytest.raises(Refused, match="cannot be retired yet"):
        robots.retire_host(sol, host.id)
    assert names(sol) == {"Weir", "Dipper 1", "Dipper 2"}
    assert robots.view(sol).hosts[0].seats == 2


def test_routines_that_may_not_be_seen_are_only_counted(world: World, sol: Ctx) -> None:
    world.machine(robots_=1)
    apart = areas.add_area(sol, "Letters room", None)
    one = robot(sol)
    robots.change_robot(sol, one.id, as_is(one, area_ids=[world.area, apart]), one.version)
    world.routine("Meters")
    look = robots.look_at_robot(keeper(world, "robot.see", "robot.retire"), one.id)
    assert (look.hangs, look.unseen) == ([], 1)


def test_who_may_change_but_not_retire_is_told(world: World) -> None:
    host = world.machine(robots_=1)
    who = keeper(world, "robot.see", "robot.change")
    one = robot(who)
    assert (one.may_change, one.may_retire) == (True, False)
    for act in (robots.look_at_robot, robots.retire_robot):
        with pytest.raises(Forbidden):
            act(who, one.id)
    for act in (robots.look_at_host, robots.retire_host):
        with pytest.raises(Forbidden):
            act(who, host.id)


def test_a_robot_gets_another_name_and_host_while_it_is_free(world: World, sol: Ctx) -> None:
    host = world.machine(robots_=1)
    other = robots.add_host(sol, "Sluice", 1).id
    one = robot(sol)
    robots.change_robot(sol, one.id, as_is(one, name="Heron", host_id=other), one.version)
    moved = robot(sol, "Heron")
    assert (moved.id, moved.host) == (one.id, "Sluice")
    robots.change_robot(sol, one.id, as_is(moved, host_id=host.id), moved.version)
    world.start(world.routine())
    work = world.take(host)
    with pytest.raises(InputFaults, match=f"works on R-{work.run}"):
        robots.change_robot(sol, one.id, as_is(moved), moved.version + 1)
    with pytest.raises(Conflict):
        robots.change_robot(sol, one.id, as_is(one, name="Late"), one.version)


def test_a_host_is_renamed_but_not_like_another(world: World, sol: Ctx) -> None:
    host = world.machine()
    robots.add_host(sol, "Sluice", 1)
    robots.rename(sol, host.id, "Weir north")
    assert "Weir north" in names(sol)
    with pytest.raises(InputFaults, match="exists already"):
        robots.rename(sol, host.id, "Sluice")
