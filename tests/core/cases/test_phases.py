from __future__ import annotations

from fractions import Fraction

import pytest

from tallyman.core.cases.phases import split, working_days


@pytest.mark.parametrize(
    ("effort", "days"),
    [("14.5", ["3", "9", "2.5"]), ("1", ["0.5", "0.5"]), ("0.5", ["0.5"]), ("0", [])],
)
def test_the_phases_of_an_effort_add_up_to_it(effort: str, days: list[str]) -> None:
    found = split(Fraction(effort))
    assert [one for _, one in found] == [Fraction(one) for one in days]
    assert sum((one for _, one in found), Fraction(0)) == Fraction(effort)


@pytest.mark.parametrize(
    ("phase", "days"),
    [
        ({"days": "4", "person_days": "9"}, 4),
        ({"days": "", "person_days": "2.5"}, 3),
        ({"days": 0}, 0),
        ({}, 0),
    ],
)
def test_a_phase_takes_the_days_given_or_its_person_days(phase: dict[str, object], days: int) -> None:
    assert working_days(phase) == days
