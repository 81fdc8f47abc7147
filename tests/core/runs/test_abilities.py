"""What hosts can do, and what is asked of them."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tallyman.core.runs import (
    NOTHING_ASKED,
    Abilities,
    Asked,
    Asking,
    lacking,
    read_abilities,
    stranded,
    takers,
    working,
)
from tallyman.core.runs.facts import RobotFacts

WEIR = {
    "system": "Linux 6.1.0-18",
    "system_name": "Debian 12",
    "processors": "4",
    "memory_mb": "7880",
    "disk_mb": "52000",
    "screen": "none",
    "python": "3.11.7",
}


def test_a_host_reads_in_plain_words() -> None:
    found = read_abilities(WEIR, ["Sumhall", "Assayroom", "Sumhall"])
    assert found == Abilities("Debian 12", 4, 8, 51, "none", "3.11.7", ("Assayroom", "Sumhall"))
    assert found.words == [
        "Debian 12",
        "4 processors",
        "8 GB memory",
        "51 GB disk",
        "no screen",
        "Python 3.11.7",
        "Assayroom",
        "Sumhall",
    ]


def test_a_runner_of_the_release_before_says_less() -> None:
    found = read_abilities({"system": "Linux 6.1.0-18", "processors": "1", "memory_mb": "much"})
    assert found.words == ["Linux 6.1.0-18", "1 processor"]
    assert found.memory_gb is None


@pytest.mark.parametrize(
    ("asked", "lacks"),
    [
        (Asked(), []),
        (Asked(system="Debian"), []),
        (Asked(system="debian 12"), []),
        (Asked(system="Debian 1"), ["is Debian 12, not Debian 1"]),
        (Asked(system="Windows 11"), ["is Debian 12, not Windows 11"]),
        (Asked(processors=4, memory_gb=8, disk_gb=51), []),
        (Asked(processors=5), ["processors: 4 of 5"]),
        (Asked(memory_gb=16), ["memory: 8 GB of 16 GB"]),
        (Asked(screen=True), ["has no screen"]),
        (Asked(applications=("sumhall", "Culvertline")), ["has no Culvertline"]),
    ],
)
def test_what_a_host_lacks_is_named(asked: Asked, lacks: list[str]) -> None:
    assert lacking(asked, read_abilities(WEIR, ["Sumhall"])) == lacks


def test_what_a_host_does_not_say_is_lacking() -> None:
    asked = Asked("Debian", 2, 4, 10, True)
    assert lacking(asked, Abilities()) == [
        "does not say its system",
        "does not say its processors",
        "does not say its memory",
        "does not say its disk",
        "does not say whether it has a screen",
    ]


def test_nothing_asked_is_false() -> None:
    assert not NOTHING_ASKED
    assert Asked(screen=True)
    assert Asked("Debian 12", 2, 4, 10, True, ("Sumhall",)).words == [
        "Debian 12",
        "2 processors",
        "4 GB memory",
        "10 GB disk",
        "a screen",
        "Sumhall",
    ]


def test_a_routine_is_left_without_a_robot_when_the_only_able_host_goes() -> None:
    able = RobotFacts(1, "Otter", 1, "Weir", None, frozenset({5}), frozenset(), None, 1, 0)
    able = replace(able, abilities=read_abilities(WEIR))
    other = replace(able, robot_id=2, name="Grebe", abilities=Abilities())
    ask = Asking(7, frozenset({5}), frozenset(), Asked(memory_gb=8))
    assert stranded([ask], [able, other], frozenset({1})) == [7]
    assert stranded([ask], [able, other], frozenset({2})) == []


def test_how_many_can_take_it_shows_each_robot() -> None:
    able = RobotFacts(1, "Otter", 1, "Weir", None, frozenset({5}), frozenset({"letters"}), None, 1, 0)
    able = replace(able, abilities=read_abilities(WEIR))
    elsewhere = replace(able, robot_id=2, name="Grebe", area_ids=frozenset({6}), tags=frozenset())
    small = replace(able, robot_id=3, name="Dipper", abilities=Abilities(memory_gb=4))
    ask = Asking(7, frozenset({5}), frozenset({"letters"}), Asked(memory_gb=8))
    rows = takers(ask, "Metering", [able, elsewhere, small])
    assert [(row.name, row.lacks) for row in rows] == [
        ("Otter", ()),
        ("Dipper", ("Weir memory: 4 GB of 8 GB",)),
        ("Grebe", ("is not allowed in Metering", "has not the tags letters")),
    ]
    tree = working(rows)
    assert tree.outcome == "1"
    assert sum(int(part.value) for part in tree.parts) == int(tree.outcome or 0)
