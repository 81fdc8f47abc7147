"""The audit trail: what it says, its chain, and what a change to it looks like."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from tallyman.core.house import seals
from tallyman.errors import Forbidden
from tallyman.services import access, people
from tallyman.services.access import RoleGiven
from tallyman.services.house import trail
from tallyman.services.house.answers import Checked, Entry
from tests.conftest import Databases
from tests.world import World

LATER = timedelta(minutes=3)
HOLDER = "a" * 32


@pytest.fixture
def changed(world: World) -> World:
    """Some changes by two people."""
    lead = world.ctx("Ines Varga")
    role = access.add_role(lead, RoleGiven("Desk", "", frozenset({"run.see"})))
    access.change_role(lead, role, RoleGiven("Desk", "now", frozenset({"run.see", "idea.see"})), 1)
    people.set_away(world.ctx("Corin Dahl"), None, None, None)
    return world


def seal(world: World, later: timedelta = LATER, holder: str = HOLDER) -> int:
    return trail.seal_next(world.program(later), holder)


def page(world: World, **asked: Any) -> list[Entry]:
    return trail.page(world.ctx("Ines Varga"), trail.Asked(**asked), None, 50).rows


def test_a_change_stands_with_before_and_after(changed: World) -> None:
    row = page(changed, action="role changed")[0]
    assert row.who == "Ines Varga"
    assert row.after == {"with": ["idea.see"]}
    assert row.address == "-"


@pytest.mark.parametrize(
    ("asked", "count"),
    [
        ({"action": "role made"}, 1),
        ({"text": "Desk"}, 2),
        ({"text": "100%"}, 0),
        ({"obj": "role:0"}, 0),
    ],
)
def test_the_trail_is_filtered(changed: World, asked: dict[str, object], count: int) -> None:
    assert len(page(changed, **asked)) == count


def test_it_is_for_those_who_may(changed: World) -> None:
    with pytest.raises(Forbidden):
        trail.check(changed.ctx("Sol Marin"))


def test_young_entries_wait_and_each_is_sealed_once(changed: World) -> None:
    assert seal(changed, timedelta()) == 0
    assert seal(changed) == 3
    assert seal(changed) == 0
    assert trail.check(changed.ctx("Ines Varga")) == Checked(faults=[], seals=1, entries=3)
    people.set_away(changed.ctx("Corin Dahl", LATER), None, None, None)
    assert seal(changed, 2 * LATER) == 1
    first, second = trail.exported_seals(changed.ctx("Ines Varga"))
    assert second.previous == first.seal
    assert first.previous == seals.START
    assert all(row.sealed for row in page(changed))


def test_two_sealers_do_not_seal_the_same(changed: World) -> None:
    assert seal(changed) == 3
    people.set_away(changed.ctx("Corin Dahl", LATER), None, None, None)
    assert seal(changed, 2 * LATER, "b" * 32) == 0
    assert seal(changed, 2 * LATER + timedelta(minutes=5), "b" * 32) == 1


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ("UPDATE audit SET words = 'nothing' WHERE action = 'role made'", "what it says was changed"),
        ("UPDATE audit SET person_id = 1 WHERE action = 'role made'", "an entry was changed"),
        ("DELETE FROM audit WHERE action = 'role made'", "added or taken away"),
        ("UPDATE audit_seal SET root = REPEAT('0', 64)", "was changed"),
        ("UPDATE audit_seal SET previous = REPEAT('1', 64)", "does not follow"),
    ],
)
def test_a_change_to_the_trail_is_found(
    changed: World, databases: Databases, change: str, words: str
) -> None:
    seal(changed)
    databases.owner.transact(lambda tx: tx.execute(change))
    found = trail.check(changed.ctx("Ines Varga")).faults
    assert any(words in line for line in found), found


def test_what_an_entry_says_can_be_erased_and_the_chain_holds(changed: World, databases: Databases) -> None:
    seal(changed)
    databases.owner.transact(
        lambda tx: tx.execute(
            "UPDATE audit SET who = '(erased)', words = '(erased)', before_json = NULL, after_json = NULL, "
            "salt = NULL, address = '-', erased_at = '2026-04-01' WHERE action = 'role made'"
        )
    )
    assert trail.check(changed.ctx("Ines Varga")).faults == []


def test_the_application_cannot_change_what_stands(changed: World) -> None:
    seal(changed)
    for statement in ("UPDATE audit SET words = 'x'", "DELETE FROM audit", "DELETE FROM audit_seal"):
        with pytest.raises(Exception, match="denied"):
            changed.rows(statement)


def test_the_export_opens_as_text_in_a_spreadsheet(changed: World) -> None:
    lead = changed.ctx("Ines Varga")
    access.add_group(lead, "=1+1", "", "", [])
    text = trail.as_csv(lead, trail.Asked()).decode("utf-8-sig")
    assert text.startswith("number,time (UTC),who")
    assert "Made the group =1+1" in text
    assert len(text.splitlines()) == 5


def test_ranges_stand_for_their_numbers() -> None:
    assert seals.ranges([1, 2, 3, 7]) == [[1, 3], [7, 7]]
    assert seals.numbers_in([[1, 3], [7, 7]]) == [1, 2, 3, 7]
