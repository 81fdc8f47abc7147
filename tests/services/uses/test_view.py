"""What hangs on anything of the house, and what would stop if it went."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tallyman.core.proving import faults
from tallyman.core.uses import KINDS, Kind
from tallyman.errors import NotFound
from tallyman.services import robots, safe
from tallyman.services.context import Actor, Ctx
from tallyman.services.house import areas
from tallyman.services.robots import seat_lots
from tallyman.services.starts import triggers
from tallyman.services.uses import view
from tallyman.services.uses.answers import Uses
from tallyman.services.workshop import packages
from tests.world import MANIFEST, World, package

ASKING = 'secrets = ["billing-login"]\n' + MANIFEST


@pytest.fixture
def house(world: World) -> World:
    """Two robots on one host; a routine that starts each morning on working days, and asks for a secret."""
    world.host = world.machine(seats=2, robots_=2)
    world.kept = packages.release(
        world.ctx("Jonas Lindqvist"), package(manifest=ASKING), packages.Given("First")
    )
    world.letters = world.routine("Hydrant letters", release=world.kept)
    world.secret = safe.make(world.ctx("Ines Varga"), safe.Given("billing-login", "package", "reed-1-reed"))
    given = triggers.Given({"expr": "0 6 * * *"}, "UTC", on_closed="skip")
    world.trigger = triggers.add(world.ctx("Sol Marin"), world.letters, given)
    return world


def look(world: World, kind: Kind, key: object, ctx: Ctx | None = None) -> Uses:
    return view.of(ctx or world.ctx("Sol Marin"), kind, str(key))


def hangs(found: Uses) -> list[tuple[str, str, int]]:
    return [(one.thing.kind, one.thing.name, one.depth) for one in found.hanging]


def stands(found: Uses) -> list[tuple[str, str]]:
    return [(one.thing.kind, one.thing.name) for one in found.stands_on]


def test_on_a_host_hang_its_robots_what_they_run_and_what_starts_that(house: World) -> None:
    found = look(house, "host", house.host.id)
    assert hangs(found)[:3] == [
        ("robot", "Dipper 1", 1),
        ("robot", "Dipper 2", 1),
        ("routine", "Hydrant letters", 2),
    ]
    assert found.hanging[3].thing.name.startswith("Hydrant letters: ")
    assert found.hanging[2].by_way_of == found.hanging[0].thing
    assert [(one.upper, one.lower) for one in found.lines] == [(0, 1), (0, 2), (1, 3), (2, 3), (3, 4)]
    assert (found.unseen, found.cut, found.stops.unseen, found.stops.unread) == (0, False, 0, 0)


def test_without_its_only_host_a_routine_could_not_start_and_its_start_would_wait(house: World) -> None:
    found = look(house, "host", house.host.id).stops
    assert [(one.name, one.starts) for one in found.routines] == [("Hydrant letters", 1)]
    assert "no robot would be left" in found.routines[0].why
    assert found.routines[0].first_at is not None
    assert found.starts == 1
    assert faults(found.starts_working) == []
    # Without any seat that start waits for one as well.
    assert found.seat_waits == 1
    assert found.seat_waits_working is not None
    assert faults(found.seat_waits_working) == []


def test_one_of_two_robots_may_go_without_anything_stopping(house: World) -> None:
    one = house.row("SELECT id FROM robot WHERE name = 'Dipper 1'")["id"]
    found = look(house, "robot", one)
    assert ("routine", "Hydrant letters", 1) in hangs(found)
    assert (found.stops.routines, found.stops.starts, found.stops.seat_waits) == ([], 0, None)
    assert faults(found.stops.starts_working) == []
    assert stands(found) == [("host", "Weir"), ("area", "Metering")]


def test_a_routine_stands_on_its_release_area_secret_robots_and_closed_days(house: World) -> None:
    found = look(house, "routine", house.letters, house.ctx("Ines Varga"))
    assert stands(found) == [
        ("release", "count-rows 1.0.0"),
        ("area", "Metering"),
        ("secret", "billing-login"),
        ("robot", "Dipper 1"),
        ("robot", "Dipper 2"),
        ("calendar", "closed days of the company"),
    ]
    assert [one.name for one in found.stops.routines] == ["Hydrant letters"]


def test_a_package_reaches_by_its_release_what_runs_it(house: World) -> None:
    number = house.row("SELECT id FROM package")["id"]
    found = look(house, "package", number)
    assert [(kind, depth) for kind, _, depth in hangs(found)] == [
        ("release", 1),
        ("routine", 2),
        ("start", 3),
    ]
    assert found.stops.routines[0].why == "its package would be gone"
    of_release = look(house, "release", house.kept)
    assert hangs(of_release)[0] == ("routine", "Hydrant letters", 1)
    assert stands(of_release) == [("package", "count-rows")]


def test_a_secret_is_missed_by_whoever_asks_for_it_where_it_is_kept(house: World) -> None:
    ines = house.ctx("Ines Varga")
    assert [one.name for one in look(house, "secret", house.secret, ines).stops.routines] == [
        "Hydrant letters"
    ]
    other = areas.add_area(house.ctx("Sol Marin"), "Laboratory", None)
    safe.change(ines, house.secret, safe.Change(None, "", None, other), 1)
    found = look(house, "secret", house.secret, ines)
    assert (found.hanging, found.stops.routines, stands(found)) == ([], [], [("area", "Laboratory")])


def test_without_an_area_what_lies_there_and_what_only_its_robots_may_run_would_stop(house: World) -> None:
    sol = house.ctx("Sol Marin")
    below = areas.add_area(sol, "Readings", house.area)
    found = look(house, "area", house.area)
    assert ("area", "Readings", 1) in hangs(found)
    assert [one.why for one in found.stops.routines] == ["it lies here"]
    assert stands(look(house, "area", below)) == [("area", "Metering")]
    # However deep, and though a robot that is allowed further up leads there in fewer steps.
    deep = areas.add_area(sol, "Street by street", areas.add_area(sol, "Streets", below))
    here, house.area = house.area, deep
    house.routine("Street letters", release=house.kept)
    house.area = here
    assert {one.name: one.why for one in look(house, "area", house.area).stops.routines} == {
        "Hydrant letters": "it lies here",
        "Street letters": "it lies here",
    }
    # What lies elsewhere, and only a robot of here may run.
    top = areas.add_area(sol, "Laboratory", None)
    house.area = top
    house.routine("Pressure curves", release=house.kept)
    found = look(house, "area", top)
    assert [(one.name, one.why) for one in found.stops.routines] == [("Pressure curves", "it lies here")]


def test_what_is_meant_for_a_person_hangs_on_their_own_computer(house: World) -> None:
    mei = house.number("Mei Tanaka")
    seat_lots.give(house.ctx("Sol Marin"), "attended", "person", mei, 1)
    own = robots.own.connect(house.ctx("Mei Tanaka"), "Reedside")
    meant = house.routine("By eye", release=house.kept, attended="answer", attended_for=mei)
    found = look(house, "host", own.id)
    assert [(one.name, one.why) for one in found.stops.routines] == [
        ("By eye", "it is meant for the person whose own computer this is")
    ]
    assert str(meant) in [one.thing.key for one in found.hanging if one.thing.kind == "routine"]


def test_an_account_carries_the_robots_that_work_under_it(house: World) -> None:
    sol = house.ctx("Sol Marin")
    given = robots.Given("Heron 1", house.host.id, [], [house.area], account="svc-weir")
    number = robots.add_robot(sol, given)
    found = look(house, "account", f"{house.host.id}:svc-weir")
    assert hangs(found)[0] == ("robot", "Heron 1", 1)
    assert found.thing.name == "svc-weir on Weir"
    assert ("account", "svc-weir on Weir") in stands(look(house, "robot", number))
    assert stands(found) == [("host", "Weir")]


def test_closed_days_carry_the_starts_that_look_at_them(house: World) -> None:
    found = look(house, "calendar", 0)
    assert [kind for kind, _, _ in hangs(found)] == ["start"]
    assert "would start on them too" in found.stops.said
    assert hangs(look(house, "calendar", house.area))[0][0] == "start"


def test_an_idea_and_its_system_reach_the_routine_that_counts(world: World) -> None:
    _, idea, routine = world.live()
    found = look(world, "idea", idea)
    assert [(one.thing.kind, one.thing.key) for one in found.hanging] == [("routine", str(routine))]
    assert "count for nothing" in found.stops.said
    assert ("idea", f"I-{idea} Leak allowance claims", 1) in hangs(look(world, "routine", routine))


def test_what_the_reader_may_not_see_is_counted_and_never_named(house: World) -> None:
    sees = frozenset({"robot.see"})
    reader = replace(house.program(), actor=Actor(None, "Reader", permissions=sees))
    found = look(house, "host", house.host.id, reader)
    assert [kind for kind, _, _ in hangs(found)] == ["robot", "robot"]
    assert (found.unseen, found.stops.unseen, found.stops.routines) == (2, 1, [])
    assert found.stops.starts == 1
    assert "Hydrant" not in str(found)


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("key", ["404404", "x", "1:", "-1", "9" * 30])
def test_what_is_not_there_is_not_found(house: World, kind: Kind, key: str) -> None:
    with pytest.raises(NotFound):
        look(house, kind, key)


@pytest.mark.parametrize("kind", KINDS)
def test_nobody_without_a_permission_sees_anything(house: World, kind: Kind) -> None:
    ada = house.ctx("Ada Pell")
    stranger = replace(ada, actor=replace(ada.actor, permissions=frozenset(), reach=None))
    if kind != "calendar":
        with pytest.raises(NotFound):
            look(house, kind, f"{house.host.id}:svc" if kind == "account" else 1, stranger)
