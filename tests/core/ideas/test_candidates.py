"""Typical work to begin with: whole, of each kind, and narrowed as asked."""

from __future__ import annotations

from tallyman.core.ideas.candidates import CANDIDATES, KINDS, TOUCHES, fitting
from tallyman.core.ideas.questions import check_answer


def test_there_are_some_sixty_each_of_which_can_begin_an_idea() -> None:
    assert 55 <= len(CANDIDATES) <= 70
    assert len({one.key for one in CANDIDATES}) == len({one.title for one in CANDIDATES}) == len(CANDIDATES)
    for one in CANDIDATES:
        assert check_answer("title", one.title) == one.title
        assert check_answer("what", one.what) == one.what
        assert one.touches and set(one.touches) <= TOUCHES.keys()
        low, high = one.hours_a_year
        assert 0 < low < high


def test_every_kind_and_everything_touched_has_some() -> None:
    for kind in KINDS:
        assert len(fitting(kind, None)) >= 5, kind
    for word in TOUCHES:
        assert len(fitting(None, word)) >= 5, word


def test_they_are_narrowed_by_both_and_the_surest_come_first() -> None:
    found = fitting("field", "paper")
    assert found
    assert all(one.kind == "field" and "paper" in one.touches for one in found)
    hours = [one.hours_a_year[0] for one in fitting(None, None)]
    assert hours == sorted(hours, reverse=True)
