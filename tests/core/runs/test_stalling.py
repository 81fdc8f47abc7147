"""After how much silence a run is called stalled, and how that comes about."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.core import proving
from tallyman.core.runs import stalling


@pytest.mark.parametrize(
    ("longest", "after", "usual", "runs"),
    [
        ([], timedelta(minutes=10), None, 0),
        ([900, 900, 900, 900], timedelta(minutes=10), None, 4),
        ([5, 3, 4, 2, 5], timedelta(minutes=2), 5, 5),
        ([300, 40, 40, 40, 40], timedelta(minutes=10), 300, 5),
        # Of more than twenty the latest count.
        ([61] * 20 + [9000], timedelta(seconds=122), 61, 20),
    ],
)
def test_the_bound_is_twice_the_longest_silence_of_good_runs(
    longest: list[int], after: timedelta, usual: int | None, runs: int
) -> None:
    found = stalling.bound(longest)
    assert (found.after, found.usual, found.runs) == (after, usual, runs)


@pytest.mark.parametrize("longest", [[], [7], [300, 40, 40, 40, 40], [5, 3, 4, 2, 5], [74] * 9])
def test_its_working_gives_the_figure(longest: list[int]) -> None:
    found = stalling.bound(longest)
    working = found.working()
    assert working.outcome == str(int(found.after.total_seconds()))
    assert proving.faults(working) == []


def test_its_working_says_why_less_than_the_least_does_not_count() -> None:
    working = stalling.bound([5, 3, 4, 2, 5]).working()
    assert (working.formula, working.note) == ("least silence", "2 × the usual silence of 5 s would be less")
    assert stalling.bound([7]).working().note.endswith("; 1 did so far")
