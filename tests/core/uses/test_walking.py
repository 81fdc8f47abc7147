"""The way from one thing to what hangs on it."""

from __future__ import annotations

from collections.abc import Sequence

from tallyman.core.uses import Kind, Link, Thing, walk

HOST, ONE, TWO = Thing("host", "1"), Thing("robot", "1"), Thing("robot", "2")
LETTERS, START = Thing("routine", "7"), Thing("start", "3")
LINKS = [
    Link(HOST, ONE, "works on it"),
    Link(HOST, TWO, "works on it"),
    Link(ONE, LETTERS, "may be run by it"),
    Link(TWO, LETTERS, "may be run by it"),
    Link(LETTERS, START, "starts it"),
]


def below(links: Sequence[Link], asked: list[tuple[Kind, tuple[str, ...]]]):
    def look(kind: Kind, keys: Sequence[str]) -> list[Link]:
        asked.append((kind, tuple(keys)))
        return [one for one in links if one.upper.kind == kind and one.upper.key in keys]

    return look


def test_everything_is_met_once_the_nearest_first_and_each_kind_is_asked_once_a_step() -> None:
    asked: list[tuple[Kind, tuple[str, ...]]] = []
    found = walk(HOST, below(LINKS, asked), 100)
    assert [(one.thing, one.upper, one.depth) for one in found.hanging] == [
        (ONE, HOST, 1),
        (TWO, HOST, 1),
        (LETTERS, ONE, 2),
        (START, LETTERS, 3),
    ]
    assert found.links == LINKS
    assert not found.cut
    assert asked == [("host", ("1",)), ("robot", ("1", "2")), ("routine", ("7",)), ("start", ("3",))]


def test_a_circle_ends_and_nothing_is_drawn_backwards() -> None:
    idea = Thing("idea", "5")
    circle = [Link(LETTERS, idea, "has its units counted by it"), Link(idea, LETTERS, "counts for it")]
    found = walk(LETTERS, below(circle, []), 100)
    assert [one.thing for one in found.hanging] == [idea]
    assert found.links == circle[:1]


def test_too_much_ends_after_a_step_and_says_so() -> None:
    found = walk(HOST, below(LINKS, []), 1)
    assert [one.thing for one in found.hanging] == [ONE, TWO]
    assert found.cut
