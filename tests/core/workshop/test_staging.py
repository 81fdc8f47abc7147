"""When a staged roll-out goes on, and when it goes back."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.workshop.staging import Trial

COUNTS = st.integers(0, 40)


def test_the_rest_follows_once_enough_ended_well() -> None:
    assert Trial(2, 0, 3, 0).verdict() == "wait"
    assert Trial(3, 0, 3, 0).verdict() == "on"


def test_one_more_bad_than_allowed_brings_it_back_even_if_enough_ended_well() -> None:
    assert Trial(0, 1, 3, 1).verdict() == "wait"
    assert Trial(9, 2, 3, 1).verdict() == "back"


def test_it_says_its_figures() -> None:
    assert Trial(2, 1, 5, 1).said() == "2 of 5 runs ended well, 1 failed or lost; it goes back at 2"


@given(COUNTS, COUNTS, st.integers(1, 40), COUNTS)
def test_a_further_good_run_never_brings_it_back_and_a_bad_one_never_on(
    good: int, bad: int, wanted: int, allowed: int
) -> None:
    now = Trial(good, bad, wanted, allowed).verdict()
    if now != "back":
        assert Trial(good + 1, bad, wanted, allowed).verdict() != "back"
    if now != "on":
        assert Trial(good, bad + 1, wanted, allowed).verdict() != "on"
