"""How near a name is to what was typed."""

from __future__ import annotations

import pytest

from tallyman.core.search import COMMANDS, RULES, SECTIONS, Found, alike, index_of, nearest, open_to


def idea(number: int, name: str, more: str = "noted", written: bool = False) -> Found:
    return Found("idea", number, f"I-{number}", name, more, f"/ideas/{number}", written)


IDEAS = [
    idea(104, "Meter readings from letters"),
    idea(107, "Chasing late meter readings"),
    idea(110, "Refunds by bank transfer"),
    idea(111, "Chlorine report to the council", written=True),
]


def names(typed: str, found: list[Found] = IDEAS) -> list[int]:
    return [one.id for one in nearest(typed, found, 10).rows]


@pytest.mark.parametrize("typed", ["I-104", "i-104", "i104", " I 104 "])
def test_a_number_is_found_as_people_write_it(typed: str) -> None:
    assert names(typed)[0] == 104


def test_the_whole_name_stands_before_its_beginning_and_that_before_words_anywhere() -> None:
    found = [
        idea(1, "Meter readings"),
        idea(2, "Meter readings from letters"),
        idea(3, "Late meter readings"),
    ]
    assert names("meter readings", found) == [1, 2, 3]


@pytest.mark.parametrize("typed", ["readings meter", "mete read", "late meter"])
def test_every_word_counts_from_its_beginning_in_any_order(typed: str) -> None:
    assert 107 in names(typed)


def test_a_word_that_is_nowhere_finds_nothing() -> None:
    near = nearest("meter invoices", IDEAS[:3], 10)
    assert (near.rows, near.of_all) == ([], 0)


@pytest.mark.parametrize("typed", ["refnuds", "refunds bnak", "redunds", "refund"])
def test_a_misspelt_word_is_found(typed: str) -> None:
    assert names(typed, IDEAS[:3])[0] == 110


def test_short_words_are_taken_as_typed() -> None:
    assert names("bam", [idea(1, "The bag")]) == []


def test_what_is_said_about_something_finds_it_after_what_it_is_called() -> None:
    found = [
        Found("routine", 1, "", "Letters", "Metering", ""),
        Found("routine", 2, "", "Metering", "North", ""),
    ]
    assert names("metering", found) == [2, 1]


def test_what_is_written_about_an_idea_finds_it_behind_all_that_is_called_so() -> None:
    found = [idea(1, "Chlorine report", written=True), idea(2, "Meter readings", written=True)]
    assert names("meter", found) == [2, 1]


def test_says_how_many_are_near_and_whether_any_is_so_by_the_letter() -> None:
    many = [idea(n, f"Meter route {n}") for n in range(1, 31)]
    near = nearest("meter", many, 5)
    assert (len(near.rows), near.of_all, near.by_letter) == (5, 30, True)
    assert not nearest("metre", many, 5).by_letter


def test_the_same_thing_is_found_once() -> None:
    assert names("I-104", [IDEAS[0], IDEAS[0]]) == [104]


@pytest.mark.parametrize("typed", ["", "  ", "–", "…"])
def test_no_word_finds_nothing(typed: str) -> None:
    assert names(typed) == []


def test_places_are_open_to_whoever_holds_one_of_their_permissions() -> None:
    mine = [one.name for one in open_to(SECTIONS, lambda name: name == "value.see")]
    assert mine == ["Today", "Ideas", "Portfolio", "Value", "Self-service"]


def test_every_place_has_a_page_of_its_own_and_says_what_it_is_for() -> None:
    for places in (SECTIONS, RULES, COMMANDS):
        assert len({one.name for one in places}) == len(places)
        assert all(one.words and one.link.startswith("/") for one in places)


@pytest.mark.parametrize(
    ("typed", "name"),
    [
        ("holidays", "Calendar"),
        ("permissions", "Roles"),
        ("add host", "Add a host"),
        ("invit", "Invite somebody"),
    ],
)
def test_rules_and_commands_are_found_by_the_words_people_use(typed: str, name: str) -> None:
    all_of_them = [
        Found("command", n, "", one.name, one.words, one.link, other=one.other)
        for n, one in enumerate((*RULES, *COMMANDS))
    ]
    assert name in [one.name for one in nearest(typed, all_of_them, 3).rows]


@pytest.mark.parametrize("typed", ["refnuds", "refunds bnak", "redunds", "refu", "meter", "zeppelin", "bam"])
def test_many_names_are_looked_through_as_each_one_is(typed: str) -> None:
    many = IDEAS[:3]
    near = [one.id for one in many if nearest(typed, [one], 1).rows]
    assert alike(typed, index_of((one.id, one.name) for one in many)) == near
