"""The owner of the work: confirms, or says who is to be asked instead."""

from __future__ import annotations

import pytest

from tallyman.errors import Forbidden, InputFaults, Refused
from tallyman.services.ideas import owners, page
from tests.world import World


def told(world: World, name: str) -> list[str]:
    world.settle()
    rows = world.rows(
        "SELECT text FROM notification WHERE person_id = %(p)s ORDER BY id", p=world.number(name)
    )
    return [row["text"] for row in rows]


def test_a_named_owner_says_whom_to_ask_and_they_are_asked(world: World) -> None:
    idea = world.noted()
    corin, jonas = world.ctx("Corin Dahl"), world.ctx("Jonas Lindqvist")
    owners.not_mine(corin, idea, jonas.actor.person_id, "That is done in the workshop")
    seen = page.one(world.ctx("Tom Okafor"), idea)
    assert (seen.owner, seen.owner_confirmed_at) == ("Jonas Lindqvist", None)
    answer = next(one for one in seen.answers if one.key == "owner")
    assert (answer.by, answer.remark) == ("Corin Dahl", "That is done in the workshop")
    assert any("Corin Dahl named you as work owner" in one for one in told(world, "Jonas Lindqvist"))
    assert any("ask Jonas Lindqvist: That is done in the workshop" in one for one in told(world, "Ada Pell"))
    with pytest.raises(Forbidden):
        owners.confirm(corin, idea)
    owners.confirm(jonas, idea)
    with pytest.raises(Refused, match="confirmed already"):
        owners.not_mine(jonas, idea, None, "after all")


def test_whom_to_ask_may_be_unknown_but_not_why(world: World) -> None:
    idea = world.noted()
    corin = world.ctx("Corin Dahl")
    with pytest.raises(InputFaults) as refused:
        owners.not_mine(corin, idea, corin.actor.person_id, " ")
    assert [one.field for one in refused.value.faults] == ["why", "person"]
    with pytest.raises(InputFaults, match="no such person"):
        owners.not_mine(corin, idea, 999_999, "not ours")
    owners.not_mine(corin, idea, None, "not ours")
    assert page.one(world.ctx("Tom Okafor"), idea).owner is None
    assert any("does not own the work of" in one for one in told(world, "Ada Pell"))
