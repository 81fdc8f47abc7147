"""Which routines no robot could run once some robots are gone."""

from __future__ import annotations

from tallyman.core.runs import Asking, RobotFacts, stranded


def robot(number: int, areas: set[int], tags: set[str], busy: int | None = None) -> RobotFacts:
    return RobotFacts(number, f"R{number}", 1, "Weir", None, frozenset(areas), frozenset(tags), busy, 1, 0)


def asking(number: int, path: set[int], tags: set[str]) -> Asking:
    return Asking(number, frozenset(path), frozenset(tags))


def test_only_what_had_a_robot_and_has_none_left_is_stranded() -> None:
    robots = [robot(1, {1}, {"letters"}), robot(2, {1}, set()), robot(3, {9}, {"letters"})]
    asks = [
        asking(10, {1, 4}, {"letters"}),
        asking(11, {1}, set()),
        asking(12, {9}, {"letters"}),
        asking(13, {5}, set()),
    ]
    assert stranded(asks, robots, frozenset({1})) == [10]
    assert stranded(asks, robots, frozenset({1, 2})) == [10, 11]
    assert stranded(asks, robots, frozenset()) == []


def test_a_robot_that_is_busy_or_silent_still_counts_as_left() -> None:
    robots = [robot(1, {1}, set()), robot(2, {1}, set(), busy=77)]
    assert stranded([asking(10, {1}, set())], robots, frozenset({1})) == []
