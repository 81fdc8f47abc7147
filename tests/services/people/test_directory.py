"""Whom one can pick, and the list of everybody."""

from __future__ import annotations

import pytest

from tallyman.errors import Forbidden, NotFound
from tallyman.services import people
from tallyman.services.people.directory import PICKED_FROM
from tests.world import World


def many(world: World, number: int) -> None:
    """That many more people, in one stroke."""
    world.db.transact(
        lambda tx: tx.execute(
            "INSERT INTO person (name, email, password_hash, zone, state, made_at) "
            "WITH RECURSIVE n AS (SELECT 1 AS seq UNION ALL SELECT seq + 1 FROM n WHERE seq < %(number)s) "
            "SELECT CONCAT('Zora ', LPAD(seq, 4, '0')), CONCAT('zora.', seq, '@merrowdale.example'), '', 'UTC', "
            "IF(seq MOD 2, 'active', 'left'), NOW(6) FROM n",
            {"number": number},
        )
    )


def test_a_field_offers_the_first_by_name_and_says_that_there_are_more(world: World) -> None:
    lead = world.ctx("Ines Varga")
    few = people.directory(lead)
    assert [one.name for one in few.people] == sorted(one.name for one in few.people)
    assert not few.more
    many(world, 2 * PICKED_FROM)
    first = people.directory(lead)
    assert len(first.people) == PICKED_FROM
    assert first.more


def test_words_find_whoever_stands_beyond_the_first(world: World) -> None:
    many(world, 2 * PICKED_FROM)
    lead = world.ctx("Ines Varga")
    found = people.directory(lead, "zora 0099")
    assert [one.name for one in found.people] == ["Zora 0099"]
    assert not found.more
    assert [one.name for one in people.directory(lead, " ines.varga@ ").people] == ["Ines Varga"]
    assert people.directory(lead, "100 %").people == []


def test_who_is_chosen_stays_among_them_even_after_leaving(world: World) -> None:
    many(world, 2 * PICKED_FROM)
    left = world.row("SELECT id FROM person WHERE name = 'Zora 0100'")["id"]
    names = [one.name for one in people.directory(world.ctx("Ines Varga"), "ines", [left]).people]
    assert names == ["Zora 0100", "Ines Varga"]


def test_roles_are_shown_to_those_who_may_see_people(world: World) -> None:
    def roles(name: str) -> set[str | None]:
        return {one.roles for one in people.directory(world.ctx(name)).people}

    assert roles("Ada Pell") == {None}
    assert any(roles("Ines Varga"))


def test_everybody_comes_page_by_page_in_the_order_of_names(world: World) -> None:
    many(world, 130)
    lead = world.ctx("Ines Varga")
    names: list[str] = []
    after: str | None = None
    for _ in range(9):
        page = people.listed(lead, None, None, after, 40)
        assert len(page.rows) <= 40
        names += [row.name for row in page.rows]
        after = page.next
        if after is None:
            break
    assert after is None
    assert len(names) == len(set(names))
    assert sum(name.startswith("Zora") for name in names) == 65
    here = world.row("SELECT COUNT(*) AS n FROM person WHERE state IN ('active', 'invited')")["n"]
    assert len(names) == here == sum(page.counts.get(state, 0) for state in ("active", "invited"))
    assert page.counts["left"] == 65


def test_those_who_left_are_shown_when_they_are_asked_for(world: World) -> None:
    many(world, 4)
    lead = world.ctx("Ines Varga")
    assert [row.name for row in people.listed(lead, "left").rows] == ["Zora 0002", "Zora 0004"]
    assert [row.name for row in people.listed(lead, "left", "0004").rows] == ["Zora 0004"]


@pytest.mark.parametrize("words", ["lead", "Ines", "ines.varga@"])
def test_somebody_is_found_by_role_name_or_mail_address(world: World, words: str) -> None:
    assert "Ines Varga" in [row.name for row in people.listed(world.ctx("Ines Varga"), None, words).rows]


def test_signs_of_patterns_are_words_like_others(world: World) -> None:
    assert people.listed(world.ctx("Ines Varga"), None, "%").rows == []
    assert people.listed(world.ctx("Ines Varga"), None, "_nes").rows == []


def test_one_person_is_shown_as_in_the_list(world: World) -> None:
    lead = world.ctx("Ines Varga")
    number = world.number("Ada Pell")
    [row] = people.listed(lead, None, "Ada Pell").rows
    assert people.person_row(lead, number) == row
    with pytest.raises(NotFound):
        people.person_row(lead, 99_999)
    with pytest.raises(Forbidden):
        people.person_row(world.ctx("Ada Pell"), number)
    with pytest.raises(Forbidden):
        people.listed(world.ctx("Ada Pell"), None)


def test_what_is_taken_out_is_what_is_listed(world: World) -> None:
    many(world, 450)
    lead = world.ctx("Ines Varga")

    def lines(*given: str | None) -> list[str]:
        return people.as_csv(lead, *given).decode("utf-8-sig").splitlines()[1:]

    everybody = world.row("SELECT COUNT(*) AS n FROM person WHERE state <> 'erased'")["n"]
    assert len(lines()) == everybody
    assert len(lines("left")) == 225
    assert len(lines(None, "zora 001")) == 10
