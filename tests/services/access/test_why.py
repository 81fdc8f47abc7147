"""Why somebody may or may not do something: by which role, which part, and who could give it."""

from __future__ import annotations

import pytest

from tallyman.errors import Forbidden, InputFaults, NotFound
from tallyman.services import access
from tallyman.services.context import Ctx
from tallyman.services.house import areas
from tests.world import World


@pytest.fixture
def ines(world: World) -> Ctx:
    return world.ctx("Ines Varga")


def give(world: World, who: str, role: str, area: int | None) -> None:
    ines = world.ctx("Ines Varga")
    held = next(row.id for row in access.listed(ines) if row.name == role)
    access.give(ines, held, world.number(who), None, area)


def test_a_role_for_the_whole_company_is_named_as_the_reason(world: World, ines: Ctx) -> None:
    found = access.why(ines, world.number("Sol Marin"), "run.make")
    assert found.may
    assert [(one.role, one.where) for one in found.granted] == [("operator", "the whole company")]
    assert (found.object, found.parts) == ("anywhere", [])


def test_a_role_elsewhere_is_told_apart_from_one_that_grants(world: World, ines: Ctx) -> None:
    metering = areas.add_area(ines, "Metering", None)
    street = areas.add_area(ines, "Street works", None)
    give(world, "Ada Pell", "operator", metering)
    ada = world.number("Ada Pell")
    here = access.why(ines, ada, "robot.change", "area", metering)
    there = access.why(ines, ada, "robot.change", "area", street)
    assert here.may
    assert [one.where for one in here.granted] == ["the area Metering and those below it"]
    assert not there.may
    assert [one.where for one in there.elsewhere] == ["the area Metering and those below it"]
    assert "operator" in there.roles_with
    assert "Ines Varga" in there.givers


def test_a_part_in_an_idea_lets_it_be_seen_whatever_the_roles(world: World, ines: Ctx) -> None:
    idea = world.noted("Letters of the meter readers")
    nia = world.stranger("Nia Reyes")
    before = access.why(ines, world.number("Nia Reyes"), "idea.see", "idea", idea)
    world.db.transact(
        lambda tx: tx.execute(
            "UPDATE idea SET owner_id = %(who)s, expert_id = %(who)s WHERE id = %(idea)s",
            {"who": nia.actor.person_id, "idea": idea},
        )
    )
    after = access.why(ines, world.number("Nia Reyes"), "idea.see", "idea", idea)
    assert (before.may, before.parts) == (False, [])
    assert (after.may, after.parts) == (True, ["owns the work", "is its expert"])
    assert after.object.startswith(f"idea {idea} Letters of the meter readers")


def test_whoever_has_left_may_nothing_more(world: World, ines: Ctx) -> None:
    sol = world.number("Sol Marin")
    world.db.transact(
        lambda tx: tx.execute("UPDATE person SET state = 'left' WHERE id = %(id)s", {"id": sol})
    )
    found = access.why(ines, sol, "run.make")
    assert (found.may, found.state) == (False, "left")
    assert found.granted


def test_unknown_words_and_numbers_are_named(world: World, ines: Ctx) -> None:
    sol = world.number("Sol Marin")
    with pytest.raises(InputFaults, match="no such permission"):
        access.why(ines, sol, "run.fly")
    with pytest.raises(InputFaults, match="allowed: "):
        access.why(ines, sol, "run.make", "weather", 1)
    with pytest.raises(NotFound, match="no such person"):
        access.why(ines, 999_999, "run.make")
    with pytest.raises(NotFound, match="no idea 999999"):
        access.why(ines, sol, "idea.see", "idea", 999_999)
    with pytest.raises(Forbidden):
        access.why(world.stranger("Nia Reyes"), sol, "run.make")


def test_everybody_sees_their_own_access_and_only_some_that_of_others(world: World, ines: Ctx) -> None:
    nia = world.stranger("Nia Reyes")
    own = world.number("Nia Reyes")
    lines = access.of_person(nia, own).lines
    assert lines
    assert all(one.lacks or one.may for one in lines)
    with pytest.raises(Forbidden):
        access.of_person(nia, world.number("Sol Marin"))
    seen = access.of_person(ines, world.number("Sol Marin"))
    may = {one.permission: one.where for line in seen.lines for one in line.may}
    assert may["run.make"] == "the whole company"
    lacks = {one.permission for line in seen.lines for one in line.lacks}
    assert not lacks & set(may)


def test_a_role_in_an_area_reaches_what_lies_below_and_says_where(world: World, ines: Ctx) -> None:
    metering = areas.add_area(ines, "Metering", None)
    below = areas.add_area(ines, "Meter letters", metering)
    world.stranger("Nia Reyes")
    give(world, "Nia Reyes", "operator", metering)
    nia = world.number("Nia Reyes")
    assert access.why(ines, nia, "robot.change", "area", below).may
    may = {one.permission: one.where for line in access.of_person(ines, nia).lines for one in line.may}
    assert may["robot.change"] == "Meter letters, Metering"
    assert "Ines Varga" in access.givers(ines, below)
