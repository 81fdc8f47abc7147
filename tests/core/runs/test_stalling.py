"""After how much silence a run is called stalled, and how that comes about."""

from __future__ import annotations

from datetime import timedelta

import pytest

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


def test_its_working_gives_the_figure() -> None:
    working = stalling.bound([300, 40, 40, 40, 40]).working()
    usual, least = working.inputs
    assert (working.outcome, usual.value, least.value) == ("10.0", "5.0", "2")
    assert working.formula == "2 × usual silence, at least 2 min"
    assert stalling.bound([7]).working().note == "1 has so far"
