"""Groups: who is in them by hand and by claim, and what a group must be rid of before it goes."""

from __future__ import annotations

import pytest

from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, Refused
from tallyman.services import access
from tallyman.services.context import Ctx
from tests.world import World


@pytest.fixture
def ines(world: World) -> Ctx:
    return world.ctx("Ines Varga")


def names(ctx: Ctx, group: int) -> list[str]:
    return sorted(one.name for one in access.one_group(ctx, group).people)


def test_a_group_keeps_who_was_named_once_each(world: World, ines: Ctx) -> None:
    ada, tom = world.number("Ada Pell"), world.number("Tom Okafor")
    made = access.add_group(ines, "  Night desk ", "who looks at night", "", [ada, tom, ada])
    page = access.one_group(ines, made)
    assert (page.name, page.about, page.claim) == ("Night desk", "who looks at night", None)
    assert names(ines, made) == ["Ada Pell", "Tom Okafor"]
    assert [(row.name, row.members) for row in access.groups(ines)] == [("Night desk", 2)]


def test_a_change_says_who_came_and_who_went(world: World, ines: Ctx) -> None:
    ada, tom, mei = (world.number(name) for name in ("Ada Pell", "Tom Okafor", "Mei Tanaka"))
    made = access.add_group(ines, "Night desk", "", "", [ada, tom])
    version = access.one_group(ines, made).version
    access.change_group(ines, made, "Night desk", "", "", [tom, mei], version)
    assert names(ines, made) == ["Mei Tanaka", "Tom Okafor"]
    told = world.rows("SELECT words, before_json, after_json FROM audit WHERE action = 'group changed'")
    assert [row["words"] for row in told] == ["Changed the group Night desk: 1 came, 1 went"]
    assert "Ada Pell" in told[0]["before_json"]
    assert "Mei Tanaka" in told[0]["after_json"]


def test_who_came_by_the_provider_s_claim_stays_when_the_list_by_hand_changes(
    world: World, ines: Ctx
) -> None:
    ada, tom = world.number("Ada Pell"), world.number("Tom Okafor")
    made = access.add_group(ines, "Night desk", "", "night-desk", [ada])
    world.db.transact(
        lambda tx: tx.write("access.join", group=made, person=tom, by_claim=True, now=world.now)
    )
    access.change_group(ines, made, "Night desk", "", "night-desk", [], access.one_group(ines, made).version)
    assert names(ines, made) == ["Tom Okafor"]


def test_a_second_change_of_the_same_version_is_told_both_texts(world: World, ines: Ctx) -> None:
    made = access.add_group(ines, "Night desk", "nights", "", [])
    version = access.one_group(ines, made).version
    access.change_group(ines, made, "Late desk", "nights", "", [], version)
    with pytest.raises(Conflict) as told:
        access.change_group(ines, made, "Early desk", "mornings", "", [], version)
    assert told.value.more["theirs"] == {"name": "Late desk", "about": "nights"}
    assert told.value.more["yours"] == {"name": "Early desk", "about": "mornings"}
    assert access.one_group(ines, made).name == "Late desk"


def test_two_groups_of_one_name_are_refused_when_made_and_when_renamed(world: World, ines: Ctx) -> None:
    access.add_group(ines, "Night desk", "", "", [])
    other = access.add_group(ines, "Day desk", "", "", [])
    with pytest.raises(InputFaults) as made:
        access.add_group(ines, "Night desk", "", "", [])
    with pytest.raises(InputFaults) as renamed:
        access.change_group(ines, other, "Night desk", "", "", [], access.one_group(ines, other).version)
    assert [one.field for told in (made, renamed) for one in told.value.faults] == ["name", "name"]


def test_every_fault_of_a_group_is_named_at_once(ines: Ctx) -> None:
    with pytest.raises(InputFaults) as told:
        access.add_group(ines, " ", "a" * 301, "c" * 121, [])
    assert [one.field for one in told.value.faults] == ["name", "about", "claim"]


@pytest.mark.parametrize("state", ["nobody", "left"])
def test_only_who_is_here_can_be_named(world: World, ines: Ctx, state: str) -> None:
    person = 999_999 if state == "nobody" else world.number("Corin Dahl")
    world.db.transact(
        lambda tx: tx.execute("UPDATE person SET state = 'left' WHERE id = %(id)s", {"id": person})
    )
    with pytest.raises(InputFaults, match="there is no such person"):
        access.add_group(ines, "Night desk", "", "", [person])
    assert access.groups(ines) == []


def test_a_group_that_holds_a_role_stays_until_the_role_is_taken_away(world: World, ines: Ctx) -> None:
    made = access.add_group(ines, "Night desk", "", "", [world.number("Ada Pell")])
    role = next(row.id for row in access.listed(ines) if row.name == "operator")
    given = access.give(ines, role, None, made, None).id
    with pytest.raises(Refused, match="Night desk holds operator"):
        access.retire_group(ines, made)
    access.take_away(ines, given)
    access.retire_group(ines, made)
    assert access.groups(ines) == []


def test_what_is_not_there_or_not_allowed_is_said(world: World, ines: Ctx) -> None:
    with pytest.raises(NotFound):
        access.one_group(ines, 404)
    with pytest.raises(NotFound):
        access.retire_group(ines, 404)
    nia = world.stranger("Nia Reyes")
    with pytest.raises(Forbidden):
        access.groups(nia)
    with pytest.raises(Forbidden):
        access.add_group(nia, "Night desk", "", "", [])
