"""Who sees a release: the company, an area or its maker alone; what changes when others come to see it."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tallyman.errors import Forbidden, InputFaults, NotFound, Refused
from tallyman.services.access import grants
from tallyman.services.context import Ctx
from tallyman.services.house import areas
from tallyman.services.search import everything
from tallyman.services.uses import view
from tallyman.services.workshop import (
    approving,
    differing,
    here,
    packages,
    placing,
    routines,
    sight,
    taking,
    withdrawing,
)
from tallyman.services.workshop.placing import To
from tallyman.store.records.access import AccessRoles
from tests.world import MANIFEST, World, package

JONAS, SOL, INES = "Jonas Lindqvist", "Sol Marin", "Ines Varga"
NUMBERLESS = MANIFEST.replace('version = "{version}"\n', "")


def kept(world: World, seen_by: str, area: int | None = None, code: str = "x = 1", **more: object) -> int:
    given = packages.Given("Counts more rows", seen_by=seen_by, area_id=area)
    data = package(code=code, manifest=NUMBERLESS)
    return packages.release(world.ctx(JONAS), data, replace(given, **more))


def version(world: World, release: int) -> str:
    return packages.one(world.ctx(JONAS), release).version


def of_area(world: World, name: str, role: str, area: int) -> Ctx:
    """Somebody new who holds a role for one area."""
    person = world.stranger(name).actor.person_id
    number = world.db.transact(
        lambda tx: next(row.id for row in tx.all(AccessRoles, "access.roles") if row.name == role)
    )
    grants.give(world.ctx(INES), number, person, None, area)
    return world.again(name)


@pytest.fixture
def works(world: World) -> World:
    """Two areas, one with another below it, and who works in each."""
    world.machine()
    world.works = areas.add_area(world.ctx(SOL), "Street works", None)
    world.hydrants = areas.add_area(world.ctx(SOL), "Hydrants", world.works)
    return world


def test_a_try_out_is_there_for_its_maker_alone(works: World) -> None:
    number = kept(works, "maker")
    jonas, sol = works.ctx(JONAS), works.ctx(SOL)
    assert version(works, number) == "try-out 1"
    assert [row.id for row in packages.listed(jonas)] == [number]
    assert packages.listed(sol) == []
    for use in (
        lambda ctx: packages.one(ctx, number),
        lambda ctx: differing.of(ctx, number, None),
        lambda ctx: differing.package(ctx, number),
        lambda ctx: approving.look(ctx, number),
        lambda ctx: placing.look(ctx, number, To("company")),
    ):
        use(jonas)
        with pytest.raises(NotFound):
            use(works.ctx(INES))
    with pytest.raises(NotFound):
        withdrawing.look_at(works.ctx(INES), number)
    told = sight.counted(sol, "count")
    assert (told.tryouts, told.areas) == (1, 0)
    assert sight.counted(sol, "letters").tryouts == 0
    assert sight.counted(jonas, "").tryouts == 0
    assert everything.find(sol, "count-rows", 12).rows == []
    assert [one.link for one in everything.find(jonas, "count-rows", 12).rows] == [
        f"/workshop/releases/{number}"
    ]


def test_a_try_out_has_no_number_and_is_set_up_nowhere(works: World) -> None:
    first, second = kept(works, "maker"), kept(works, "maker", code="x = 2")
    assert [version(works, one) for one in (first, second)] == ["try-out 1", "try-out 2"]
    with pytest.raises(InputFaults, match="no such release that you see"):
        works.routine(release=first)
    with pytest.raises(InputFaults, match="only its maker sees"):
        given = routines.Given("Counted anew", works.area, second, {}, [])
        routines.add(works.ctx(JONAS), given)
    with pytest.raises(InputFaults, match="only its maker sees") as refused:
        taking.of(works.ctx(JONAS), taking.Chosen(works.area, first))
    assert refused.value.faults[0].field == "release"
    with pytest.raises(InputFaults, match="no such release that you see"):
        taking.of(works.ctx(SOL), taking.Chosen(works.area, first))


def test_what_is_released_to_others_gets_its_number_by_what_changed(works: World) -> None:
    works.release("1.4.0")
    number = kept(works, "maker")
    jonas = works.ctx(JONAS)
    look = placing.look(jonas, number, To("company")).look
    assert look is not None
    assert [(one.number, one.enough) for one in look.numbers] == [
        ("1.4.1", True),
        ("1.5.0", True),
        ("2.0.0", True),
    ]
    with pytest.raises(InputFaults, match="say how much changed"):
        placing.move(jonas, number, To("company", note="More rows"))
    with pytest.raises(InputFaults, match="in a sentence"):
        placing.move(jonas, number, To("company", note=" ", says="fix"))
    assert version(works, number) == "try-out 1"
    placing.move(jonas, number, To("company", note="More rows", says="addition"))
    now = packages.one(works.ctx(SOL), number)
    assert (now.version, now.note, now.says, now.seen_by) == ("1.5.0", "More rows", "addition", "company")
    audit = works.row("SELECT words FROM audit WHERE action = 'release moved'")
    assert audit["words"] == "count-rows try-out 1 is seen by the company, as 1.5.0"
    # A number once given stays, whoever sees it; and the next try-out does not take an old name.
    placing.move(jonas, number, To("maker"))
    assert version(works, number) == "1.5.0"
    assert version(works, kept(works, "maker", code="x = 3")) == "try-out 2"


def test_an_area_s_release_is_seen_in_it_above_and_below_it(works: World) -> None:
    number = kept(works, "area", works.works)
    below = of_area(works, "Nia Brandt", "builder", works.hydrants)
    beside = of_area(works, "Omar Said", "builder", works.area)
    assert packages.one(below, number).area == "Street works"
    with pytest.raises(NotFound):
        packages.one(beside, number)
    assert (sight.counted(beside, "").tryouts, sight.counted(beside, "").areas) == (0, 1)
    with pytest.raises(InputFaults, match="seen by the area Street works alone"):
        works.routine(release=number)
    area, works.area = works.area, works.hydrants
    routine = works.routine("Hydrants counted", release=number)
    with pytest.raises(Refused, match="seen by the area Street works alone"):
        here.move(works.ctx(SOL), area, "routine", routine)


def test_who_gains_and_who_loses_sight_is_said_first(works: World) -> None:
    of_area(works, "Nia Brandt", "builder", works.hydrants)
    of_area(works, "Omar Said", "builder", works.area)
    number, jonas = works.release(), works.ctx(JONAS)
    to = To("area", works.works)
    look = placing.look(jonas, number, to)
    assert (look.gains, look.loses, look.look) == ([], ["Omar Said"], None)
    placing.move(jonas, number, to)
    back = placing.look(jonas, number, To("company"))
    assert (back.gains, back.loses) == (["Omar Said"], [])
    alone = placing.look(jonas, number, To("maker"))
    assert alone.gains == [] and {"Nia Brandt", SOL, INES} <= set(alone.loses) and JONAS not in alone.loses
    assert placing.look(jonas, number, to).against == ["the area Street works sees it already"]


def test_what_is_set_up_elsewhere_stands_against_it(works: World) -> None:
    number = works.release()
    works.routine(release=number)
    jonas = works.ctx(JONAS)
    to = To("area", works.works)
    told = ["Count rows is set up with it and would lose it; give it another release first"]
    assert placing.look(jonas, number, to).against == told
    with pytest.raises(Refused, match="Count rows"):
        placing.move(jonas, number, to)
    with pytest.raises(Refused, match="Count rows"):
        placing.move(jonas, number, To("maker"))
    placing.move(jonas, number, To("area", works.area))
    # The routine that has it goes on, and can be changed as it is.
    listed = {row.id: row for row in packages.listed(works.ctx(SOL))}
    assert (listed[number].seen_by, listed[number].area, listed[number].routines) == ("area", "Metering", 1)


def test_only_the_maker_and_who_may_withdraw_change_who_sees_it(works: World) -> None:
    number = works.release()
    assert packages.one(works.ctx(JONAS), number).may_move
    assert not packages.one(works.ctx(SOL), number).may_move
    for name in (SOL, "Mei Tanaka"):
        with pytest.raises(Forbidden):
            placing.move(works.ctx(name), number, To("area", works.area))
    for area in (None, 99999):
        with pytest.raises(InputFaults, match="no such area"):
            placing.move(works.ctx(JONAS), number, To("area", area))
        with pytest.raises(InputFaults, match="no such area"):
            kept(works, "area", area, code="x = 9")
    placing.move(works.ctx(INES), number, To("area", works.area))
    withdrawing.withdraw(works.ctx(INES), number, "It counts twice")
    with pytest.raises(Refused, match="withdrawn"):
        placing.move(works.ctx(INES), number, To("company"))


def test_a_release_is_found_wherever_it_lies(works: World) -> None:
    number = kept(works, "area", works.works)
    rows = here.find(works.ctx(SOL), works.area, "count-r").rows
    assert [(one.what, one.id, one.lies_in, one.is_here) for one in rows] == [
        ("release", number, "the area Street works", False)
    ]
    there = here.find(works.ctx(SOL), works.works, "count-r").rows
    assert [one.is_here for one in there] == [True]


def test_what_hangs_on_a_release_that_is_not_seen_is_not_named(works: World) -> None:
    works.release()
    kept(works, "maker", code="x = 4")
    package_id = works.row("SELECT id FROM package")["id"]
    assert "try-out 1" in str(view.of(works.ctx(JONAS), "package", str(package_id)))
    assert "try-out 1" not in str(view.of(works.ctx(SOL), "package", str(package_id)))
