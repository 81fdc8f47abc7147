"""Where something is, and moving it to another area."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tallyman.errors import Forbidden, InputFaults, Refused
from tallyman.services import robots
from tallyman.services.context import Actor, Ctx
from tallyman.services.house import areas
from tallyman.services.starts import routine_page
from tallyman.services.workshop import here
from tests.world import World, as_is


@pytest.fixture
def sol(world: World) -> Ctx:
    world.host = world.machine()
    world.number = world.routine("Hydrant letters")
    world.other = areas.add_area(world.ctx("Sol Marin"), "Laboratory", None)
    return world.ctx("Sol Marin")


def robot(world: World, name: str) -> object:
    return next(one for one in robots.view(world.ctx("Sol Marin")).robots if one.name == name)


def test_anything_is_found_by_a_part_of_its_name_with_where_it_lies(world: World, sol: Ctx) -> None:
    found = here.find(sol, world.other, "DR")
    assert [(one.what, one.name, one.lies_in, one.may_move) for one in found.rows] == [
        ("routine", "Hydrant letters", "Metering", True)
    ]
    both = here.find(sol, world.area, "")
    assert {(one.what, one.name, one.is_here, one.may_move) for one in both.rows} == {
        ("routine", "Hydrant letters", True, False),
        ("robot", "Dipper 1", True, False),
    }


def test_a_routine_moves_and_its_page_says_so(world: World, sol: Ctx) -> None:
    before = routine_page.one(sol, world.number)
    here.move(sol, world.other, "routine", world.number)
    after = routine_page.one(sol, world.number)
    assert (after.area, after.version) == ("Laboratory", before.version + 1)
    words = world.row("SELECT words FROM audit WHERE action = 'routine moved'")["words"]
    assert words == "Moved Hydrant letters from Metering to Laboratory"
    with pytest.raises(Refused, match="lies in Laboratory already"):
        here.move(sol, world.other, "routine", world.number)


def test_a_robot_moves_and_whoever_had_it_open_looks_again(world: World, sol: Ctx) -> None:
    one = robot(world, "Dipper 1")
    here.move(sol, world.other, "robot", one.id)
    now = robot(world, "Dipper 1")
    assert [area.name for area in now.areas] == ["Laboratory"]
    assert now.version == one.version + 1
    robots.change_robot(sol, now.id, as_is(now, area_ids=[world.area, world.other]), now.version)
    (found,) = here.find(sol, world.other, "dipper").rows
    assert (found.lies_in, found.is_here, found.may_move) == ("Laboratory, Metering", False, True)
    here.move(sol, world.other, "robot", now.id)
    with pytest.raises(Refused, match="allowed there alone already"):
        here.move(sol, world.other, "robot", now.id)


def test_only_who_may_change_it_here_and_there_moves_it(world: World, sol: Ctx) -> None:
    for act in ("routine", "robot"):
        number = world.number if act == "routine" else robot(world, "Dipper 1").id
        with pytest.raises(Forbidden):
            here.move(world.ctx("Ada Pell"), world.other, act, number)
    looks = frozenset({"area.see", "routine.see", "robot.see"})
    reader = replace(world.program(), actor=Actor(None, "Reader", permissions=looks))
    assert [one.may_move for one in here.find(reader, world.other, "").rows] == [False, False]
    with pytest.raises(InputFaults):
        here.find(sol, 9999, "")


def test_what_is_not_shown_is_counted(world: World, sol: Ctx) -> None:
    for n in range(here.MOST):
        robots.add_robot(sol, robots.Given(f"Grebe {n}", world.host.id, [], [world.area]))
    found = here.find(sol, world.other, "")
    assert (len(found.rows), found.more) == (here.MOST, 2)
