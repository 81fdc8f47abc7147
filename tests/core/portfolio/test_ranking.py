from __future__ import annotations

from fractions import Fraction

from tallyman.core.portfolio import rank


def test_the_working_gives_worth_for_each_day() -> None:
    found = rank(7, Fraction(29_819), Fraction(29, 2))
    assert found.per_day == Fraction(59_638, 29)
    assert found.working.outcome == "2056.48"
    assert [(one.name, one.value) for one in found.working.inputs] == [
        ("Worth over three years", "29819.00"),
        ("Build effort", "14.5"),
    ]


def test_what_lacks_a_figure_stands_last_and_says_which() -> None:
    bare, unsized = rank(1, None, None), rank(2, Fraction(100), None)
    assert (bare.working.missing, unsized.working.missing) == (("worth", "build effort"), ("build effort",))
    poor, good, same = (
        rank(3, Fraction(-5), Fraction(1)),
        rank(4, Fraction(9), Fraction(2)),
        rank(5, Fraction(9), Fraction(2)),
    )
    found = sorted((unsized, same, poor, bare, good), key=lambda one: one.order)
    assert [one.number for one in found] == [4, 5, 3, 1, 2]


def test_no_effort_at_all_is_no_division() -> None:
    assert rank(1, Fraction(5), Fraction(0)).per_day is None
