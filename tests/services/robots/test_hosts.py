"""Hosts and robots: seats, hours, accounts, tags and areas, and who may change which."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, Refused
from tallyman.services import access, robots
from tallyman.services.context import Ctx
from tallyman.services.house import areas
from tallyman.services.robots import hosts
from tallyman.services.robots.answers import Robot
from tallyman.services.robots.seats import MOST_SEATS
from tests.world import World, as_is


@pytest.fixture
def sol(world: World) -> Ctx:
    return world.ctx("Sol Marin")


@pytest.fixture
def host(world: World) -> int:
    return world.machine(seats=2, robots_=2).id


def robot(ctx: Ctx, name: str = "Dipper 1") -> Robot:
    return next(row for row in robots.view(ctx).robots if row.name == name)


def seats(world: World, host: int) -> int:
    return len(world.rows("SELECT n FROM slot WHERE kind = 'seat' AND owner_id = %(host)s", host=host))


def test_seats_come_and_go_one_by_one(world: World, sol: Ctx, host: int) -> None:
    for wanted in (5, 0, 3):
        robots.set_seats(sol, host, wanted)
        assert seats(world, host) == wanted
    told = [
        row["words"]
        for row in world.rows("SELECT words FROM audit WHERE action = 'seats changed' ORDER BY id")
    ]
    assert told == ["Weir: 2 → 5 seats", "Weir: 5 → 0 seats", "Weir: 0 → 3 seats"]


def test_a_seat_in_use_is_not_taken_away(world: World, sol: Ctx) -> None:
    held = world.machine(seats=2)
    world.start(world.routine())
    work = world.take(held)
    with pytest.raises(Refused, match="in use"):
        robots.set_seats(sol, held.id, 0)
    assert seats(world, held.id) == 2
    world.finish(held, work)
    robots.set_seats(world.ctx("Sol Marin", timedelta(minutes=3)), held.id, 0)
    assert seats(world, held.id) == 0


@pytest.mark.parametrize("wanted", [-1, MOST_SEATS + 1])
def test_seats_out_of_bounds_are_named(world: World, sol: Ctx, host: int, wanted: int) -> None:
    with pytest.raises(InputFaults) as told:
        robots.set_seats(sol, host, wanted)
    assert [(one.field, one.value) for one in told.value.faults] == [("seats", wanted)]
    assert seats(world, host) == 2


def test_hours_are_kept_with_their_zone_and_taken_off_again(world: World, sol: Ctx, host: int) -> None:
    hosts.set_hours(sol, host, "20:00", "06:00", "Europe/Lisbon")
    row = world.row("SELECT hours_from, hours_to, hours_zone FROM host WHERE id = %(id)s", id=host)
    assert tuple(row.values()) == ("20:00", "06:00", "Europe/Lisbon")
    hosts.set_hours(sol, host, None, None, "Europe/Lisbon")
    row = world.row("SELECT hours_from, hours_to, hours_zone FROM host WHERE id = %(id)s", id=host)
    assert tuple(row.values()) == (None, None, None)


@pytest.mark.parametrize(
    ("start", "end", "zone", "fields"),
    [
        ("08:00", None, "UTC", ["hours"]),
        ("08:00", "08:00", "UTC", ["hours"]),
        ("8 o'clock", "25:00", "UTC", ["from", "to"]),
        ("08:00", "18:00", "Europe/Merrowdale", ["zone"]),
    ],
)
def test_hours_that_are_none_are_named(
    sol: Ctx, host: int, start: str | None, end: str | None, zone: str, fields: list[str]
) -> None:
    with pytest.raises(InputFaults) as told:
        hosts.set_hours(sol, host, start, end, zone)
    assert [one.field for one in told.value.faults] == fields


def test_a_robot_s_tags_account_and_areas_change_together(world: World, sol: Ctx, host: int) -> None:
    other = areas.add_area(sol, "Street works", None)
    before = robot(sol)
    given = as_is(before, tags=["office", "mail"], area_ids=[other], account=" dipper ")
    robots.change_robot(sol, before.id, given, before.version)
    after = robot(sol)
    assert sorted(after.tags) == ["mail", "office"]
    assert [one.name for one in after.areas] == ["Street works"]
    assert after.account == "dipper"
    with pytest.raises(Conflict) as told:
        robots.change_robot(sol, before.id, as_is(before, tags=["paper"]), before.version)
    assert sorted(told.value.more["theirs"]["tags"]) == ["mail", "office"]
    assert told.value.more["yours"] == {"name": "Dipper 1", "tags": ["paper"]}


@pytest.mark.parametrize("account", ["two words", "x" * 33, "semi;colon"])
def test_an_account_that_no_system_knows_is_refused(sol: Ctx, host: int, account: str) -> None:
    with pytest.raises(InputFaults) as told:
        robots.add_robot(sol, robots.Given("Heron", host, [], [], account))
    assert [one.field for one in told.value.faults] == ["account"]


def test_a_robot_needs_a_host_and_areas_that_are_there(world: World, sol: Ctx, host: int) -> None:
    with pytest.raises(InputFaults, match="no such host"):
        robots.add_robot(sol, robots.Given("Heron", 404_404, [], []))
    with pytest.raises(InputFaults, match="no such area"):
        robots.add_robot(sol, robots.Given("Heron", host, [], [404_404]))
    assert [row.name for row in robots.view(sol).robots] == ["Dipper 1", "Dipper 2"]


def test_one_name_is_given_once(world: World, sol: Ctx, host: int) -> None:
    with pytest.raises(InputFaults) as told:
        robots.add_robot(sol, robots.Given("Dipper 1", host, [], []))
    assert [one.field for one in told.value.faults] == ["name"]
    with pytest.raises(InputFaults) as told:
        hosts.add_host(sol, "Weir", 1)
    assert [one.field for one in told.value.faults] == ["name"]


def test_a_code_is_read_however_it_is_typed(world: World, sol: Ctx, host: int) -> None:
    code = hosts.new_code(sol, host).code
    typed = f"  {code.lower().replace('-', ' ')} "
    assert robots.host_tokens.connect(world.program(), typed, 1, "robot", {})["host"] == "Weir"


def test_a_new_code_ends_the_one_before(world: World, sol: Ctx, host: int) -> None:
    first = hosts.new_code(sol, host)
    second = hosts.new_code(sol, host)
    assert first.code != second.code
    connect = robots.host_tokens.connect
    with pytest.raises(Exception, match="not known"):
        connect(world.program(), first.code, 1, "robot", {})
    assert connect(world.program(), second.code, 1, "robot", {})["host"] == "Weir"


def test_whoever_works_in_one_area_changes_only_robots_that_work_nowhere_else(
    world: World, sol: Ctx, host: int
) -> None:
    ines = world.ctx("Ines Varga")
    street = areas.add_area(sol, "Street works", None)
    both = robots.add_robot(sol, robots.Given("Heron", host, [], [world.area, street]))
    role = next(row.id for row in access.listed(ines) if row.name == "operator")
    nia = world.stranger("Nia Reyes")
    access.give(ines, role, nia.actor.person_id, None, street)
    nia = world.again("Nia Reyes")
    assert [row.name for row in robots.view(nia).robots] == ["Heron"]
    was = robot(sol, "Heron")
    version, given = was.version, as_is(was, tags=["paper"], area_ids=[street])
    with pytest.raises(Forbidden):
        robots.change_robot(nia, both, given, version)
    robots.change_robot(sol, both, as_is(was, area_ids=[street]), version)
    robots.change_robot(nia, both, given, version + 1)
    assert robot(sol, "Heron").tags == ["paper"]
    # Its host bears robots of the other area too.
    with pytest.raises(Forbidden):
        robots.set_seats(nia, host, 3)


@pytest.mark.parametrize("kind", ["host", "robot", "area"])
def test_what_one_may_not_see_is_told_apart_for_those_who_may(
    world: World, sol: Ctx, host: int, kind: str
) -> None:
    number = {"host": host, "robot": robot(sol).id, "area": world.area}[kind]
    robots.check_seen(sol, kind, number)
    with pytest.raises(NotFound):
        robots.check_seen(sol, kind, 404_404)
    with pytest.raises(Forbidden):
        robots.check_seen(world.stranger("Nia Reyes"), kind, number)
